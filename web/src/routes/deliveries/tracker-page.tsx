import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { costOf, isStale, moneyText, trackerCoverage, trackerCsv, trackerSums } from '@scalaria/core';
import { useJob } from '../../api/hooks';
import type { TrackedFile } from '../../api/types';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { Panes } from '../../parts/panes';
import { InlineSelect, ListBar } from '../../parts/list-tools';
import { LongTable } from '../../parts/long-table';
import { plainNumber } from '../../parts/numbers';
import { saveCsv } from '../../parts/save-text';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { DeliveryPages } from './pages';
import { StatesDialog } from './states-dialog';
import { TickedSection } from './tracker-ticked';
import { TrackerDialog } from './tracker-dialog';
import { useTracker } from './use-tracker';

const SUMS = { state: 'state', receiver: 'receiver', material: 'material' } as const;
type By = keyof typeof SUMS;

/** What became of each file of a job: to whom, in which state, of which revision, at what cost. */
export function TrackerPage() {
  const { job: id } = useParams();
  const job = useJob(id!);
  const { tracker, fault, say, remove, setStates } = useTracker(id!);
  const [sought, setSought] = useState('');
  const [state, setState] = useState('');
  const [ticks, setTicks] = useState<ReadonlySet<string>>(new Set());
  const [by, setBy] = useState<By>('state');
  const [dialog, setDialog] = useState<'table' | 'states' | null>(null);
  const rows = useMemo(() => tracker?.rows ?? [], [tracker]);
  const listed = useMemo(() => {
    const words = sought.trim().toLowerCase();
    return rows.filter(
      (r) =>
        (state === '' || (state === 'stale' ? isStale(r) : r.state === state.slice(1))) &&
        [r.number, r.file, r.holds, r.receiver, r.material, r.who, r.note].join(' ').toLowerCase().includes(words),
    );
  }, [rows, sought, state]);
  if (fault || job.error) return <NotFound what="job" />;
  const states = tracker?.states ?? [];
  const ticked = rows.filter((r) => ticks.has(r.id));
  const stale = rows.filter(isStale).length;
  const { groups, all } = trackerSums(listed, by, by === 'state' ? states : []);
  const coverage = trackerCoverage(tracker?.parts ?? [], rows, states);
  const nameOf = new Map(job.data?.drawings.map((d) => [d.id, d.name]));
  const files = rows.map((r) => ({ state: r.state, parts: r.drawings }));
  const inJob = trackerCoverage([...nameOf.keys()], files, states);
  const tick = (row: TrackedFile, on: boolean): void =>
    setTicks((old) => {
      const next = new Set(old);
      if (on) next.add(row.id);
      else next.delete(row.id);
      return next;
    });
  const allTicked = listed.length > 0 && listed.every((r) => ticks.has(r.id));
  return (
    <Frame crumbs={<span className="truncate text-ink">{job.data?.job.name}</span>}>
      <Panes
        book={
          <>
            {tracker && (
              <>
                <TickedSection rows={ticked} states={states} onSay={say} onRemove={remove} />
                <Section
                  title="Sums"
                  aside={
                    <InlineSelect
                      lead="by"
                      label="What the sums are by"
                      value={by}
                      options={Object.entries(SUMS) as [By, string][]}
                      onChange={setBy}
                    />
                  }
                >
                  <ul className="space-y-1.5 text-sm">
                    {groups.map((g) => (
                      <li key={g.name}>
                        <div className="flex justify-between gap-2">
                          <span className="truncate">{g.name || 'not said'}</span>
                          <span className="num shrink-0 text-quiet">
                            {g.files}
                            {g.cents > 0 && ` · ${moneyText(g.cents)}`}
                          </span>
                        </div>
                        <Bar part={all.files === 0 ? 0 : g.files / all.files} />
                      </li>
                    ))}
                    {groups.length === 0 && <li className="text-quiet">Nothing is shown.</li>}
                  </ul>
                </Section>
                {inJob.parts > 0 && (
                  <Section title="Drawings">
                    <p className="num text-sm" data-testid="drawings-covered">
                      {inJob.parts} in the job = {inJob.parts - inJob.missing.length} in a file + {inJob.missing.length}{' '}
                      in none
                    </p>
                    <Named title="In none" list={inJob.missing.map((d) => nameOf.get(d) ?? '')} />
                  </Section>
                )}
                {coverage.parts > 0 && (
                  <Section title="Parts">
                    <p className="num text-sm" data-testid="coverage">
                      {coverage.parts} in the list ={' '}
                      {[
                        ...coverage.byState.map((s) => `${s.parts} ${s.state}`),
                        ...(coverage.missing.length > 0 ? [`${coverage.missing.length} in no row`] : []),
                      ].join(' + ')}
                    </p>
                    <Named title="In no row" list={coverage.missing} />
                    <Named title="In several rows" list={coverage.twice} />
                  </Section>
                )}
                <Section
                  title="States"
                  aside={
                    <Button look="quiet" className="text-sm" onClick={() => setDialog('states')}>
                      Change
                    </Button>
                  }
                >
                  <p className="text-sm text-quiet">{states.join(' · ')}</p>
                </Section>
              </>
            )}
          </>
        }
      >
        <JobHead
          job={id!}
          aside={
            <span className="flex gap-2">
              <Button onClick={() => saveCsv(trackerCsv(listed), 'tracker.csv')} disabled={listed.length === 0}>
                Save as CSV
              </Button>
              <Button onClick={() => setDialog('table')}>Take a table in</Button>
              <Button look="main" onClick={() => void say([], 'A file is planned.', [{ file: 'planned' }])}>
                Plan a file
              </Button>
            </span>
          }
        />
        <DeliveryPages job={id!} />
        {tracker && rows.length === 0 ? (
          <Empty title="No file went out of this job yet.">
            Each file of a set, and each written by hand, gets its row here, and keeps it over revisions. A file can be
            planned before it is drawn.
          </Empty>
        ) : (
          <>
            <ListBar
              of="rows"
              sought={sought}
              onSeek={setSought}
              shown={state}
              options={[
                ['', 'all files'],
                ...states.map((s) => [`=${s}`, s] as [string, string]),
                ['stale', `of an older revision (${stale})`],
              ]}
              onShow={setState}
            >
              {ticked.length > 0 && (
                <Button look="quiet" onClick={() => setTicks(new Set())}>
                  Untick {ticked.length}
                </Button>
              )}
            </ListBar>
            <LongTable
              label="Tracker"
              columns="grid-cols-[22px_minmax(150px,1.5fr)_minmax(96px,0.8fr)_minmax(104px,0.8fr)_108px_minmax(88px,0.7fr)]"
              heads={[
                <input
                  key="all"
                  type="checkbox"
                  className="accent-[var(--ink)]"
                  aria-label="Tick all that are shown"
                  checked={allTicked}
                  onChange={(e) => setTicks(e.target.checked ? new Set(listed.map((r) => r.id)) : new Set())}
                />,
                'File, what is in it',
                'Receiver, revision',
                'Material',
                'Boards, cost',
                'State, who',
              ]}
              rows={listed}
              keyOf={(r) => r.id}
              row={48}
              cells={(r) => [
                <input
                  key="t"
                  type="checkbox"
                  className="accent-[var(--ink)]"
                  aria-label={`Tick ${r.file || 'a planned file'}`}
                  checked={ticks.has(r.id)}
                  onChange={(e) => tick(r, e.target.checked)}
                />,
                <Two
                  key="f"
                  first={
                    <>
                      {r.number !== '' && <span className="num text-quiet">{r.number} </span>}
                      {r.fileId && r.drawingId ? (
                        <Link className="num hover:underline" to={`/drawings/${r.drawingId}/prove/${r.fileId}`}>
                          {r.file}
                        </Link>
                      ) : (
                        <span className="num">{r.file || 'planned'}</span>
                      )}
                    </>
                  }
                  second={[r.holds, r.note].filter(Boolean).join(' · ')}
                />,
                <Two
                  key="r"
                  first={r.receiver || '–'}
                  second={
                    r.revision === null ? (
                      'not written yet'
                    ) : (
                      <span className={isStale(r) ? 'text-alarm' : ''}>
                        rev. {r.revision}
                        {isStale(r) && `, ${r.newest} is newer`}
                      </span>
                    )
                  }
                />,
                <Two
                  key="m"
                  first={r.material || '–'}
                  second={[r.thickness, r.thicknessTrue && `true ${r.thicknessTrue}`].filter(Boolean).join(', ')}
                />,
                <Two
                  key="c"
                  first={<span className="num">{r.boards === 0 ? '–' : moneyText(costOf(r))}</span>}
                  second={r.boards === 0 ? '' : `${r.boards} × ${moneyText(r.priceCents)}`}
                />,
                <Two key="s" first={r.state} second={[r.who, r.when].filter(Boolean).join(', ')} />,
              ]}
            />
            <p className="num mt-2 text-sm" data-testid="sums">
              {plainNumber(all.files)} files · {plainNumber(all.boards)} boards · cost {moneyText(all.cents)}
              {stale > 0 && ` · ${stale} of an older revision`}
              {listed.length < rows.length && ` · ${rows.length - listed.length} not shown`}
            </p>
          </>
        )}
      </Panes>
      {dialog === 'states' && (
        <StatesDialog
          states={states}
          onClose={() => setDialog(null)}
          onKeep={(next) => void setStates(next).then((done) => done && setDialog(null))}
        />
      )}
      {dialog === 'table' && (
        <TrackerDialog
          rows={rows}
          states={states}
          onClose={() => setDialog(null)}
          onTake={(changes, added) => {
            const byId = new Map(rows.map((r) => [r.id, r]));
            const n = changes.length + added.length;
            void say(
              changes.map(({ id: row, fields }) => ({ row: byId.get(row)!, fields })),
              n === 1 ? '1 row is changed.' : `${n} rows are changed.`,
              added,
            ).then((done) => done && setDialog(null));
          }}
        />
      )}
    </Frame>
  );
}

/** A part of a whole as a scale bar: ink and paper in turn. */
const Bar = ({ part }: { part: number }) => (
  <span className="mt-0.5 block h-1.5 w-full border border-ink/40" aria-hidden>
    <span
      className="block h-full bg-[repeating-linear-gradient(90deg,var(--ink)_0_14px,color-mix(in_srgb,var(--ink)_55%,transparent)_14px_28px)]"
      style={{ width: `${100 * part}%` }}
    />
  </span>
);

const Two = ({ first, second }: { first: React.ReactNode; second: React.ReactNode }) => (
  <span className="block min-w-0">
    <span className="block truncate">{first}</span>
    <span className="block truncate text-xs text-quiet">{second || '\u00a0'}</span>
  </span>
);

const Named = ({ title, list }: { title: string; list: readonly string[] }) =>
  list.length === 0 ? null : (
    <p className="mt-1 text-sm">
      {title}: <span className="num text-quiet">{list.slice(0, 30).join(', ')}</span>
      {list.length > 30 && ` and ${list.length - 30} more`}
    </p>
  );
