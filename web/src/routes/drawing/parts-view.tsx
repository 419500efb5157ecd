import { useEffect, useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Kept, PartRole, Scene } from '@scalaria/core';
import { PART_FIELDS, PART_ROLES, lengthWithUnit, rolesCounted, spaceUnitOf } from '@scalaria/core';
import { ParameterForm } from '../../forms/parameter-form';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { LongList } from '../../parts/long-list';
import { plainNumber } from '../../parts/numbers';
import type { Picture } from '../../viewport/renderer';
import { useParts } from '../job-parts/use-parts';
import type { PartsView, SeenPart } from '../../workers/part-views';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { usePartsView } from './use-parts-view';
import { DrawingView } from './view/drawing-view';
import { MeasuredSection } from './view/measured-section';
import { OriginMark } from './view/marks';
import { useTools } from './view/use-tools';

const NO_LAYERS: ReadonlySet<string> = new Set();
const NO_RULES: Kept = {};

/** How each role is drawn and called. Outlines are drawn as they are. */
const ROLES: Record<PartRole, { one: string; many: string; tint?: NonNullable<Picture['tint']>; swatch: string }> = {
  outline: { one: 'outline', many: 'outlines', swatch: 'h-[3px] bg-ink' },
  hole: { one: 'hole', many: 'holes', tint: 'second', swatch: 'h-[3px] bg-second' },
  mark: { one: 'mark', many: 'marks', tint: 'first', swatch: 'h-0 border-t-2 border-dotted border-first' },
  label: { one: 'label', many: 'labels', tint: 'first', swatch: 'h-2.5 border border-first' },
  none: { one: 'in no part', many: 'in no part', tint: 'common', swatch: 'h-0 border-t-2 border-dashed border-common' },
};

const told = (role: PartRole, n: number): string => `${plainNumber(n)} ${n === 1 ? ROLES[role].one : ROLES[role].many}`;
const sizeOf = (p: SeenPart, unit: string): string =>
  `${plainNumber(p.length, 5)} × ${plainNumber(p.width, 5)} ${unit}`;
const picturesOf = (view: PartsView): Picture[] =>
  PART_ROLES.map((role) => {
    const { tint } = ROLES[role];
    return { scene: view.scenes[role], ...(tint && { tint }) };
  });

/** The parts of a drawing told apart in its picture, found live by the rules of the job. */
export function PartsInDrawing() {
  const { drawing } = useDrawing();
  const [query] = useSearchParams();
  const { parts, setRules, setListed } = useParts(drawing.jobId);
  const [turned, setTurned] = useState<Kept | null>(null);
  const rules = turned ?? parts?.rules;
  const { view, busy, fault } = usePartsView(rules);
  const tools = useTools(view, NO_LAYERS);
  const [chosen, setChosen] = useState<string | null>(query.get('part'));
  const pictures = useMemo(() => (view ? picturesOf(view) : null), [view]);
  const own = parts?.drawings.find((d) => d.id === drawing.id);
  const numbers = useMemo(() => new Map(own?.rows.map((r) => [r.key, r.number])), [own]);
  const part = view?.parts.find((p) => p.key === chosen) ?? null;
  const { selected, select, setGoTo } = tools;
  const unit = view?.unit ?? 'units';

  const choose = (p: SeenPart, go: boolean): void => {
    setChosen(p.key);
    select(p.ids);
    if (go) setGoTo({ ...p.box });
  };
  // The part that was asked for by the address is shown once it is found.
  const asked = query.get('part');
  useEffect(() => {
    const first = view?.parts.find((p) => p.key === asked);
    if (first) choose(first, true);
    // Asked for once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view === null, asked]);
  // A click on anything of a part chooses all of it.
  const only = selected.size === 1 ? [...selected][0]! : null;
  useEffect(() => {
    if (only === null || !view) return;
    const clicked = view.parts.find((p) => p.ids.includes(only));
    if (clicked) choose(clicked, false);
    else setChosen(null);
    // The parts that are in sight count.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [only, view]);

  const numberOf = (p: SeenPart): string => numbers.get(p.key) || '';
  const counts = useMemo(() => (view ? rolesCounted(Object.values(view.roles)) : null), [view]);
  const scene: Scene | null = view?.scenes.outline ?? null;
  return (
    <Station
      ready={view !== null || fault !== null}
      view={
        <DrawingView
          scene={scene}
          {...(pictures && { pictures })}
          unit={unit}
          tools={tools}
          stays="chosen"
          label={`Parts of ${drawing.name}`}
          marks={(m) => <OriginMark m={m} at={[0, 0]} />}
          over={
            view && (
              <ul
                className="absolute top-3 left-3 flex flex-wrap gap-x-4 bg-sheet/85 px-2 text-xs"
                aria-label="What is what"
              >
                {PART_ROLES.map((role) => (
                  <li key={role} className="flex items-center gap-1.5">
                    <span className={`w-5 ${ROLES[role].swatch}`} aria-hidden /> {told(role, counts?.[role] ?? 0)}
                  </li>
                ))}
              </ul>
            )
          }
        />
      }
      book={
        <>
          <MeasuredSection tools={tools} figures={{ unit, scale: 1 }} />
          <Section
            title="Parts"
            aside={
              <Link className="text-sm text-act hover:underline" to={`/jobs/${drawing.jobId}/parts`}>
                Parts of the job
              </Link>
            }
          >
            {fault && <p className="text-alarm">{fault}</p>}
            {view && (
              <p data-testid="found" role="status">
                {plainNumber(view.parts.reduce((n, p) => n + p.quantity, 0))} parts of {plainNumber(view.parts.length)}{' '}
                kinds{busy && ', found anew …'}
              </p>
            )}
            {own && !own.listed && (
              <p className="mt-1 flex items-baseline gap-2 text-sm text-quiet">
                They are not in the list of the job.
                <Button look="quiet" onClick={() => void setListed(drawing.id, true)}>
                  Put them there
                </Button>
              </p>
            )}
            {part && (
              <div className="mt-2 border-l-4 border-ink pl-2" data-testid="part">
                <p className="font-semibold">
                  {numberOf(part) === '' ? 'No number yet' : `Part ${numberOf(part)}`}
                  {part.name !== '' && ` · ${part.name}`}
                </p>
                <p className="num text-sm">
                  {sizeOf(part, unit)}, {plainNumber(part.quantity)} needed
                </p>
                <p className="num text-sm text-quiet">
                  {PART_ROLES.filter((r) => part.counts[r] > 0)
                    .map((r) => told(r, part.counts[r]))
                    .join(', ')}
                </p>
              </div>
            )}
            {view && (
              <div className="mt-2">
                <LongList
                  rows={view.parts}
                  keyOf={(p) => p.key}
                  height={30}
                  most="16rem"
                  label="Parts of this drawing"
                  rowClass="border-b border-rule"
                >
                  {(p) => (
                    <button
                      type="button"
                      data-part={p.key}
                      aria-pressed={p.key === chosen}
                      className={`flex w-full items-baseline gap-2 px-1 py-1 text-left text-sm ${p.key === chosen ? 'bg-wash font-semibold' : 'hover:bg-wash'}`}
                      onClick={() => choose(p, true)}
                    >
                      <span className={`num w-16 shrink-0 truncate ${numberOf(p) === '' ? 'text-alarm' : ''}`}>
                        {numberOf(p) || 'none'}
                      </span>
                      <span className="min-w-0 flex-1 truncate">{p.name || sizeOf(p, unit)}</span>
                      <span className="num text-quiet">{p.quantity > 1 && `× ${p.quantity}`}</span>
                    </button>
                  )}
                </LongList>
              </div>
            )}
          </Section>
          {view && view.findings.length > 0 && (
            <Section title={`In no part, or not plainly in one: ${plainNumber(view.findings.length)}`}>
              <LongList
                rows={view.findings}
                keyOf={(f, i) => `${i} ${f.code}`}
                height={30}
                most="14rem"
                label="What belongs to no part"
                rowClass="border-b border-rule"
              >
                {(f) => (
                  <button
                    type="button"
                    className="w-full px-1 py-1 text-left text-sm hover:bg-wash"
                    onClick={() => setGoTo({ x: f.x, y: f.y, size: Math.max(view.parts[0]?.length ?? 10, 1e-6) / 2 })}
                  >
                    <span className="capitalize">{f.kind}</span> on {f.layer}
                    {f.called !== '' && ` (${f.called})`}: {f.words}
                  </button>
                )}
              </LongList>
            </Section>
          )}
          <Section title="How parts are found">
            <ParameterForm
              params={PART_FIELDS}
              values={rules ?? NO_RULES}
              unit={unit}
              help={{
                layers: drawing.claims.layers.map((l) => l.name),
                lengths: (v) => lengthWithUnit(v, spaceUnitOf(unit)),
              }}
              onChange={setTurned}
            />
            {turned && (
              <div className="mt-3 flex gap-2">
                <Button look="main" onClick={() => void setRules(turned).then(() => setTurned(null))}>
                  Keep for the job
                </Button>
                <Button onClick={() => setTurned(null)}>Leave</Button>
              </div>
            )}
          </Section>
        </>
      }
    />
  );
}
