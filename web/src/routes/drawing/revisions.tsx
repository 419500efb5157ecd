import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Difference } from '@scalaria/core';
import { useRevisions } from '../../api/hooks';
import { useAction } from '../../parts/actions';
import { Section, Select } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import type { Picture } from '../../viewport/renderer';
import type { Goal, Marked } from '../../viewport/viewport';
import { Viewport } from '../../viewport/viewport';
import type { What } from './difference-list';
import { ALL, DifferenceList, WORDS } from './difference-list';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { settledLength } from './take-in-math';
import { NewerFile } from './take-in-revision';
import { useComparison } from './use-comparison';
import { useSourceScene } from './use-scene';

const MOST_MARKS = 300;

/** Two revisions of the drawing: what is new, gone, moved and changed, listed and drawn in place. */
export function Revisions() {
  const { drawing } = useDrawing();
  const [query, setQuery] = useSearchParams();
  const { data: rows } = useRevisions(drawing.id);
  const earlier = rows?.filter((r) => r.number < drawing.revision) ?? [];
  const number = Number(query.get('with') ?? drawing.revision - 1);
  const row = earlier.find((r) => r.number === number);
  const [shown, setShown] = useState<ReadonlySet<What>>(new Set(ALL));
  const [chosen, setChosen] = useState<Difference | null>(null);
  const [goTo, setGoTo] = useState<Goal | null>(null);
  const { intake, claims } = drawing;
  const settled = settledLength(claims, intake);
  const unit = settled.viewUnit;
  const { view, fault } = useComparison(row, rows !== undefined, () => setChosen(null));

  const alone = useSourceScene();
  const pictures = useMemo<Picture[]>(() => {
    if (!view) return rows && !row && alone.scene ? [{ scene: alone.scene }] : [];
    const list: Picture[] = [
      { scene: view.same, tint: 'common' },
      { scene: view.old, tint: 'first' },
      { scene: view.now, tint: 'second' },
    ];
    // The first is what the view is fitted to.
    return list.filter((p) => p.scene.bounds !== null);
  }, [view, rows, row, alone.scene]);
  const listed = useMemo(() => view?.comparison.differences.filter((d) => shown.has(d.what)) ?? [], [view, shown]);
  const count = (what: What): number =>
    view?.comparison.differences.reduce(
      (n, d) => n + (d.what === what ? Math.max(d.before.length, d.after.length) : 0),
      0,
    ) ?? 0;
  const visit = (d: Difference): void => {
    setChosen(d);
    setGoTo({
      ...d.at,
      size: d.size * 3 || (view?.same.bounds ? (view.same.bounds.maxX - view.same.bounds.minX) / 20 : 1),
    });
  };
  const step = (by: number): void => {
    if (listed.length === 0) return;
    const at = chosen ? listed.indexOf(chosen) : -1;
    visit(listed[at < 0 && by < 0 ? listed.length - 1 : (at + by + listed.length) % listed.length]!);
  };
  useAction('Go to the next difference', ']', () => step(1));
  useAction('Go to the difference before', '[', () => step(-1));
  const marks = (m: Marked) => (
    <g>
      {listed.slice(0, MOST_MARKS).map((d, i) => {
        const [x, y] = m.screen(d.at.x, d.at.y);
        const on = d === chosen;
        return (
          <g key={i} transform={`translate(${x + 15} ${y - 15})`}>
            <rect
              x="-8"
              y="-8"
              width="16"
              height="16"
              fill="var(--paper)"
              stroke="var(--ink)"
              strokeWidth={on ? 2.5 : 1}
            />
            <text textAnchor="middle" dy="4" fontSize="11" fontWeight={on ? 700 : 500} fill="var(--ink)">
              {WORDS[d.what][1]}
            </text>
          </g>
        );
      })}
    </g>
  );
  const toggle = (what: What): void => {
    const next = new Set(shown);
    if (!next.delete(what)) next.add(what);
    setShown(next);
  };
  const { comparison, unit: units } = view ?? { comparison: null, unit: null };
  return (
    <Station
      ready={view !== null || fault !== null || (rows !== undefined && !row)}
      view={
        <>
          <Viewport
            pictures={pictures}
            unit={unit}
            marks={marks}
            goTo={goTo}
            label={`Revisions of ${drawing.name} laid over each other`}
          />
          {view && (
            <p className="absolute top-3 left-3 flex items-center gap-3 bg-sheet/85 px-2 text-xs">
              <Ink tint="bg-common" words="in both" />
              <Ink tint="bg-first" words={`as it was in revision ${number}`} />
              <Ink tint="bg-second" words={`as it is in revision ${drawing.revision}`} />
            </p>
          )}
        </>
      }
      book={
        <>
          <Section
            title={row ? `Revision ${drawing.revision} compared with ${number}` : `Revision ${drawing.revision}`}
            aside={
              earlier.length > 1 ? (
                <Select
                  label="Earlier revision"
                  hideLabel
                  value={String(number)}
                  options={earlier.map((r) => [String(r.number), `${r.number}: ${r.fileName}`] as const)}
                  onChange={(v) => setQuery({ with: v }, { replace: true })}
                />
              ) : undefined
            }
          >
            {rows && !row && (
              <>
                <p className="mb-2">
                  This is the first revision. Once a newer file of the drawing is taken in, both are compared here.
                </p>
                <NewerFile />
              </>
            )}
            {fault && <p className="text-alarm">The earlier revision cannot be compared: {fault}</p>}
            {row && !view && !fault && <p className="text-quiet">comparing …</p>}
            {comparison && (
              <>
                <p className="num" data-testid="comparison">
                  {plainNumber(comparison.same)} the same
                  {ALL.map((w) => `, ${plainNumber(count(w))} ${WORDS[w][0]}`)}
                </p>
                {units && units.before !== units.after && (
                  <p className="mt-1 border-l-2 border-alarm pl-2 text-sm">
                    The file now states {units.after ?? 'no unit'}; before it stated {units.before ?? 'none'}.
                  </p>
                )}
                {comparison.layers.added.length > 0 && (
                  <p className="mt-1 text-sm">New layers: {comparison.layers.added.join(', ')}</p>
                )}
                {comparison.layers.gone.length > 0 && (
                  <p className="mt-1 text-sm">Layers that are gone: {comparison.layers.gone.join(', ')}</p>
                )}
              </>
            )}
          </Section>
          {comparison && (
            <DifferenceList
              comparison={comparison}
              listed={listed}
              shown={shown}
              chosen={chosen}
              onToggle={toggle}
              onVisit={visit}
            />
          )}
        </>
      }
    />
  );
}

function Ink({ tint, words }: { tint: 'bg-common' | 'bg-first' | 'bg-second'; words: string }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className={`h-[3px] w-5 ${tint}`} aria-hidden /> {words}
    </span>
  );
}
