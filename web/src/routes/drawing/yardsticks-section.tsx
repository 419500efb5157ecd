import { useEffect, useMemo, useState } from 'react';
import type { UnitName, Yardstick, YardstickKind, YardstickPlace } from '@scalaria/core';
import {
  COMMON_UNITS,
  PLACES,
  YARDSTICK_KINDS,
  conversion,
  inOtherUnit,
  isUnitName,
  scaleSeen,
  sharpest,
  yardstickUnit,
} from '@scalaria/core';
import { Button } from '../../parts/button';
import { NumberField, Section, Select, TextField } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import type { HeldAfter } from '../../workers/yardsticks';
import { useDrawing } from './drawing-context';
import type { Measured, Tools } from './view/use-tools';

type Draft = Omit<Yardstick, 'id' | 'expected'> & { expected: number | string | null };

const GENERAL = (Object.keys(YARDSTICK_KINDS) as YardstickKind[]).filter((k) => PLACES[k] === 0);
const SHAPES: readonly YardstickKind[] = ['diameter', 'area', 'stroke', 'fill'];

/** A tenth of a millimetre, to one digit of the unit; a tenth of a degree; counts and colours exactly. */
function toleranceOf(what: YardstickKind, unit: UnitName): number {
  if (['outlines', 'holes', 'stroke', 'fill'].includes(what)) return 0;
  return what === 'angle' ? 0.1 : Number((0.1 * conversion('mm', unit)).toPrecision(1));
}

/** What could become a yardstick of what was measured last. */
const kindsOf = (m: Measured | null): readonly YardstickKind[] => {
  if (m?.tool === 'distance' && m.points.length === 2) return ['distance'];
  if (m?.tool === 'angle' && m.points.length === 3) return ['angle'];
  // Only what is closed is found again as a shape.
  if (m?.tool === 'curve' && m.at && m.curve?.area != null)
    return m.curve.round ? SHAPES : SHAPES.filter((k) => k !== 'diameter');
  return [];
};

/** Yardsticks as the drawing stands, and as they stood after each step. */
function useHeld(list: readonly Yardstick[], prepared: unknown): HeldAfter[] | null {
  const { drawing, free } = useDrawing();
  const { intake, steps } = drawing;
  const key = JSON.stringify([list, intake, steps]);
  const [told, setTold] = useState<{ key: string; along: HeldAfter[] } | null>(null);
  useEffect(() => {
    if (!free || list.length === 0) return;
    let live = true;
    free.yardsticksAlong(intake, steps, [...list]).then(
      (along) => live && setTold({ key, along }),
      () => {},
    );
    return () => {
      live = false;
    };
    // What is said of yardsticks follows from these.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [free, key, prepared]);
  return told?.key === key ? told.along : null;
}

/** Features of known size: set from what is measured, held against the drawing at every step. */
export function YardsticksSection({ tools, prepared, unit }: { tools: Tools; prepared: unknown; unit: string | null }) {
  const { drawing, setYardsticks, worker } = useDrawing();
  const list = drawing.yardsticks;
  const along = useHeld(list, prepared);
  const [draft, setDraft] = useState<Draft | null>(null);
  const best = useMemo(() => sharpest(list), [list]);
  const own = unit !== null && isUnitName(unit) ? unit : 'mm';
  const begin = async (what: YardstickKind): Promise<void> => {
    const { measured } = tools;
    const at = measured?.tool === 'curve' ? [measured.at!] : (measured?.points ?? []);
    const places = PLACES[what] === 0 ? [] : await worker?.yardstickPlaces(what, at.slice(0, PLACES[what]), own);
    if (!places) return;
    const base = {
      ...{ title: YARDSTICK_KINDS[what], what, unit: own, source: 'measured on the piece' },
      ...{ tolerance: toleranceOf(what, own), places: places as YardstickPlace[] },
    };
    const now = what === 'holes' || what === 'text' ? null : await worker?.measureYardstick({ ...base, id: 'draft' });
    setDraft({ ...base, expected: typeof now === 'number' ? Number(now.toPrecision(7)) : (now ?? null) });
  };
  const keep = (): void => {
    const { expected } = draft!;
    if (expected === null) return;
    setYardsticks([...list, { ...draft!, expected, id: crypto.randomUUID() }], `yardstick ${draft!.title}`);
    setDraft(null);
    tools.clearMeasured();
  };
  const last = along?.[along.length - 1];
  const fails = last?.held.filter((h) => h.state !== 'holds').length ?? 0;
  const offered = kindsOf(tools.measured);
  return (
    <Section
      title="Yardsticks"
      aside={
        <span className={`text-sm ${fails > 0 ? 'text-alarm' : 'text-quiet'}`}>
          {list.length === 0
            ? 'none'
            : !last
              ? 'measuring …'
              : fails === 0
                ? 'all hold'
                : `${fails} of ${list.length} not held`}
        </span>
      }
    >
      {list.length === 0 && !draft && (
        <p className="text-sm text-quiet">
          A feature of known size, measured again at every step, in each revision and in every file that is read back.
          The longest known length sees the smallest error of scale.
        </p>
      )}
      <ul aria-label="Yardsticks" className="divide-y divide-rule">
        {list.map((y, i) => (
          <YardstickLine
            key={y.id}
            yardstick={y}
            index={i}
            along={along}
            isBest={y === best && list.length > 1}
            onRemove={() =>
              setYardsticks(
                list.filter((o) => o.id !== y.id),
                `yardstick ${y.title} taken out`,
              )
            }
          />
        ))}
      </ul>
      {draft ? (
        <DraftForm draft={draft} onChange={setDraft} onKeep={keep} onLeave={() => setDraft(null)} />
      ) : (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          {offered.map((k) => (
            <Button key={k} onClick={() => void begin(k)}>
              Keep as: {YARDSTICK_KINDS[k].toLowerCase()}
            </Button>
          ))}
          {offered.length === 0 && (
            <>
              <Button onClick={() => tools.setTool('distance')}>Measure a length</Button>
              <Button onClick={() => tools.setTool('curve')}>Measure a shape</Button>
            </>
          )}
          <label>
            <span className="sr-only">A yardstick of the whole drawing</span>
            <select
              className="border border-ink/60 bg-sheet px-2 py-1"
              value=""
              onChange={(e) => e.target.value && void begin(e.target.value as YardstickKind)}
            >
              <option value="">Of the whole …</option>
              {GENERAL.map((k) => (
                <option key={k} value={k}>
                  {YARDSTICK_KINDS[k]}
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
    </Section>
  );
}

const MARK = { holds: '■', fails: '▲', undecided: '□' } as const;
const SAID = { holds: 'holds', fails: 'fails', undecided: 'undecided' } as const;

function YardstickLine({
  yardstick: y,
  index,
  along,
  isBest,
  onRemove,
}: {
  yardstick: Yardstick;
  index: number;
  along: HeldAfter[] | null;
  isBest: boolean;
  onRemove: () => void;
}) {
  const unit = yardstickUnit(y);
  const said = (v: number | string): string => {
    if (typeof v === 'string') return v;
    const other = inOtherUnit(v, y);
    const square = y.what === 'area' ? '²' : '';
    return `${plainNumber(v, 7)} ${unit}${other ? ` (${plainNumber(other.value, 5)} ${other.unit}${square})` : ''}`;
  };
  const now = along?.[along.length - 1]?.held[index];
  const first = along?.findIndex((a) => a.held[index]?.state !== 'holds') ?? -1;
  const sees = scaleSeen(y);
  return (
    <li className="py-1.5 text-sm" data-yardstick={now?.state ?? 'measuring'}>
      <div className="flex items-baseline gap-2">
        <span className="font-medium">{y.title}</span>
        {isBest && <span className="text-xs text-quiet">the sharpest</span>}
        <span className={`ml-auto ${now?.state === 'fails' ? 'text-alarm' : ''}`}>
          {now ? (
            <>
              <span aria-hidden>{MARK[now.state]}</span> {SAID[now.state]}
            </>
          ) : (
            'measuring …'
          )}
        </span>
      </div>
      <p className="num text-xs">
        {said(y.expected)}
        {typeof y.expected === 'number' && ` ± ${plainNumber(y.tolerance, 4)}`}
      </p>
      {now && now.state !== 'holds' && (
        <p className={`text-xs ${now.state === 'fails' ? 'text-alarm' : 'text-quiet'}`}>
          {now.measured === null
            ? now.why
            : `measures ${said(now.measured)}${now.off === null ? '' : `, off by ${plainNumber(now.off, 4)}`}`}
          {along && first >= 0 && `; since ${along[first]!.title}`}
        </p>
      )}
      <p className="flex items-baseline gap-2 text-xs text-quiet">
        <span className="min-w-0 truncate">
          {[sees === null ? '' : `sees ${plainNumber(sees * 1000, 2)} ‰ of scale`, y.source]
            .filter(Boolean)
            .join(' · ')}
        </span>
        <Button look="quiet" className="ml-auto shrink-0 text-xs" aria-label={`Take out ${y.title}`} onClick={onRemove}>
          Take out
        </Button>
      </p>
    </li>
  );
}

function DraftForm({
  draft,
  onChange,
  onKeep,
  onLeave,
}: {
  draft: Draft;
  onChange: (d: Draft) => void;
  onKeep: () => void;
  onLeave: () => void;
}) {
  const colour = draft.what === 'stroke' || draft.what === 'fill';
  const counts = draft.what === 'outlines' || draft.what === 'holes';
  return (
    <form
      aria-label="New yardstick"
      className="mt-2 border border-ink px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        onKeep();
      }}
    >
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
        <TextField
          label="Called"
          value={draft.title}
          width="w-full"
          live
          onChange={(title) => onChange({ ...draft, title })}
        />
        {draft.what === 'text' && (
          <TextField label="Words" value={draft.words ?? ''} live onChange={(words) => onChange({ ...draft, words })} />
        )}
        {draft.what === 'holes' && (
          <NumberField
            label="Diameter"
            unit={draft.unit}
            value={draft.diameter ?? null}
            above={0}
            onChange={(diameter) => onChange({ ...draft, diameter })}
          />
        )}
        {colour ? (
          <TextField
            label="Has to be"
            value={String(draft.expected ?? '')}
            width="w-24"
            live
            onChange={(expected) => onChange({ ...draft, expected })}
          />
        ) : (
          <>
            <NumberField
              label={draft.what === 'area' ? `Has to be, in ${draft.unit}²` : 'Has to be'}
              value={typeof draft.expected === 'number' ? draft.expected : null}
              onChange={(expected) => onChange({ ...draft, expected })}
            />
            {draft.what !== 'angle' && !counts && draft.places.length === 0 && (
              <Select
                label="Unit"
                value={draft.unit}
                options={COMMON_UNITS.map((u) => [u, u] as [UnitName, string])}
                onChange={(unit) => onChange({ ...draft, unit })}
              />
            )}
            <NumberField
              label="±"
              value={draft.tolerance}
              width="w-16"
              onChange={(tolerance) => onChange({ ...draft, tolerance: Math.abs(tolerance) })}
            />
          </>
        )}
        <TextField
          label="Known from"
          value={draft.source}
          width="w-full"
          live
          onChange={(source) => onChange({ ...draft, source })}
        />
      </div>
      <div className="mt-2 flex gap-3">
        <Button look="main" type="submit" disabled={draft.expected === null}>
          Keep the yardstick
        </Button>
        <Button look="quiet" onClick={onLeave}>
          Leave
        </Button>
      </div>
    </form>
  );
}
