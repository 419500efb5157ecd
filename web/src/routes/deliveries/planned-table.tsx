import { useMemo, useState } from 'react';
import type { SetPlanView } from '../../api/types';
import { ListBar } from '../../parts/list-tools';
import { LongTable } from '../../parts/long-table';
import { plainNumber } from '../../parts/numbers';

type Shown = 'all' | 'stops' | 'renamed' | 'left';
const SHOWN: Readonly<Record<Shown, string>> = {
  all: 'all files',
  stops: 'those that cannot be written',
  renamed: 'those whose name had to change',
  left: 'what goes into no file',
};

type Line = { readonly id: string; readonly first: string; readonly from: string; readonly why: string } & (
  { readonly what: 'left' } | { readonly what: 'file'; readonly file: SetPlanView['files'][number] }
);

/** Every file of a set with its name, where it comes from and why, and what goes into none. */
export function PlannedTable({
  plan,
  nameOf,
  without,
  onWithout,
}: {
  plan: SetPlanView;
  nameOf: ReadonlyMap<string, string>;
  /** Files that are left out by hand, by their keys. */
  without: ReadonlySet<string>;
  onWithout: (key: string, on: boolean) => void;
}) {
  const [sought, setSought] = useState('');
  const [shown, setShown] = useState<Shown>('all');
  const lines = useMemo(() => {
    const files = plan.files.map((file): Line => ({
      ...{ id: file.key, what: 'file', file, from: nameOf.get(file.source) ?? '' },
      first: file.name === '' ? 'no name' : `${file.name}${plan.ending}`,
      why: file.stop ?? file.why,
    }));
    const left = plan.leftOut.map((l, i): Line => ({
      ...{ id: `left ${i}`, what: 'left', first: l.what, from: nameOf.get(l.source) ?? '', why: l.why },
    }));
    return { files, left };
  }, [plan, nameOf]);
  const of = {
    all: lines.files,
    stops: lines.files.filter((l) => l.what === 'file' && l.file.stop !== null),
    renamed: lines.files.filter((l) => l.what === 'file' && l.file.asked !== null),
    left: lines.left,
  }[shown];
  const words = sought.trim().toLowerCase();
  const listed = of.filter((l) => `${l.first} ${l.from} ${l.why}`.toLowerCase().includes(words));
  const stops = plan.files.filter((f) => f.stop !== null).length;
  const objects = plan.files.reduce((n, f) => n + (f.objects ?? 0), 0);
  return (
    <>
      <ListBar
        of="files"
        sought={sought}
        onSeek={setSought}
        shown={shown}
        options={Object.entries(SHOWN) as [Shown, string][]}
        onShow={setShown}
      />
      <LongTable
        label="Files of the set"
        columns="grid-cols-[24px_minmax(180px,1.4fr)_minmax(140px,1fr)_minmax(160px,1.2fr)]"
        heads={[
          <span key="write" className="sr-only">
            Write it
          </span>,
          'File',
          'From',
          'Why',
        ]}
        rows={listed}
        keyOf={(l) => l.id}
        cells={(l) => {
          const stop = l.what === 'file' ? l.file.stop : null;
          return [
            l.what === 'file' && stop === null ? (
              <input
                type="checkbox"
                className="accent-[var(--ink)]"
                aria-label={`Write ${l.first}`}
                checked={!without.has(l.file.key)}
                onChange={(e) => onWithout(l.file.key, e.target.checked)}
              />
            ) : null,
            <span key="n" className={`num ${stop ? 'text-alarm' : ''}`} title={l.first}>
              {stop ? 'cannot be written' : l.first}
              {l.what === 'file' && l.file.asked !== null && (
                <span className="block font-sans text-xs text-quiet">
                  {l.file.clashes ? 'another file has that name' : 'not every system takes that name'}: {l.file.asked}
                </span>
              )}
            </span>,
            l.from,
            <span key="w" className={stop ? 'text-alarm' : 'text-quiet'} title={l.why}>
              {l.why}
            </span>,
          ];
        }}
      />
      <p className="num mt-2 text-sm" data-testid="sums">
        {plainNumber(plan.files.length)} files = {plainNumber(plan.files.length - stops - without.size)} to be written
        {stops > 0 && ` + ${stops} that cannot be`}
        {without.size > 0 && ` + ${without.size} left out by hand`}
        {objects > 0 && ` · ${plainNumber(objects)} objects in them`}
        {plan.leftOut.length > 0 && ` · ${plan.leftOut.length} left out`}
      </p>
    </>
  );
}
