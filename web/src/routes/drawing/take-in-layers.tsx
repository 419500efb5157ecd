import { useEffect, useState } from 'react';
import { Eye, EyeOff } from 'lucide-react';
import type { Claims, IntakeDecisions } from '@scalaria/core';
import { INTAKE_FIELDS, isDrafting, namePattern } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Select, TextField } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { LongList } from '../../parts/long-list';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';

const MODES = [
  ['visible', 'Visible only'],
  ['all', 'All'],
  ['chosen', 'Chosen'],
] as const;

interface Looking {
  /** Layers out of sight here; what is taken in does not change by it. */
  hidden: ReadonlySet<string>;
  onHidden: (h: ReadonlySet<string>) => void;
}

/** Which layers are taken in, and which are in view here. */
export function useLayerSection(looking: Looking): BookSection {
  const { claims, intake } = useDrawing().drawing;
  const taken = takenLayers(claims, intake).size;
  return {
    id: 'layers',
    title: 'Layers',
    said: `${plainNumber(taken)} of ${plainNumber(claims.layers.length)} taken in`,
    alarm: taken === 0 && claims.layers.length > 0,
    body: () => <Layers {...looking} />,
  };
}

/** The names of the layers that are taken in. */
function takenLayers(claims: Claims, intake: IntakeDecisions): Set<string> {
  const { mode, names } = intake.layers;
  if (mode === 'chosen') return new Set(names);
  return new Set(claims.layers.filter((l) => mode === 'all' || (!l.off && !l.frozen)).map((l) => l.name));
}

function Layers({ hidden, onHidden }: Looking) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const { mode } = intake.layers;
  const comes = takenLayers(claims, intake);
  const setMode = (m: (typeof MODES)[number][0]): void =>
    decide({ layers: { mode: m, names: m === 'chosen' ? [...comes] : [] } }, 'which layers are taken in');
  const toggle = (name: string): void => {
    const next = new Set(comes);
    if (!next.delete(name)) next.add(name);
    decide(
      { layers: { mode: 'chosen', names: claims.layers.map((l) => l.name).filter((n) => next.has(n)) } },
      `layer ${name}`,
    );
  };
  const look = (name: string): void => {
    const next = new Set(hidden);
    if (!next.delete(name)) next.add(name);
    onHidden(next);
  };
  const hiddenLayers = claims.layers.filter((l) => (l.off || l.frozen) && l.count > 0);
  const weight = hiddenLayers.reduce((n, l) => n + l.count, 0);
  const [pattern, setPattern] = useState('');
  const fits = namePattern(pattern);
  const listed = claims.layers.filter((l) => fits(l.name));
  const unseen = listed.filter((l) => l.off || l.frozen).length;
  const only = (taken: boolean): void => {
    const names = claims.layers.map((l) => l.name).filter((n) => (taken ? fits(n) : comes.has(n) && !fits(n)));
    decide({ layers: { mode: 'chosen', names } }, taken ? `only layers like ${pattern}` : `no layers like ${pattern}`);
  };
  return (
    <>
      <div className="mb-2 flex border border-ink/60" role="radiogroup" aria-label="Which layers are taken in">
        {MODES.map(([m, words]) => (
          <label
            key={m}
            className={`flex-1 cursor-pointer border-r border-ink/60 py-0.5 text-center text-sm last:border-r-0 has-focus-visible:outline-2 has-focus-visible:outline-act ${mode === m ? 'bg-ink text-paper' : 'hover:bg-wash'}`}
          >
            <input
              type="radio"
              name="layer-mode"
              className="sr-only"
              checked={mode === m}
              onChange={() => setMode(m)}
            />
            {words}
          </label>
        ))}
      </div>
      {hiddenLayers.length > 0 && (
        <p className="mb-2 text-sm text-quiet">
          {hiddenLayers.length === 1 ? '1 layer is' : `${hiddenLayers.length} layers are`} hidden and{' '}
          {hiddenLayers.length === 1 ? 'holds' : 'hold'} {plainNumber(weight)} of {plainNumber(claims.entities)} objects
          ({plainNumber((100 * weight) / Math.max(1, claims.entities), 3)} %).
        </p>
      )}
      {claims.layers.length > 6 && (
        <div className="mb-2 flex flex-wrap items-end gap-x-3 gap-y-1">
          <TextField label="Layer name (* = any characters)" value={pattern} onChange={setPattern} width="w-44" live />
          {pattern !== '' && (
            <>
              <Button onClick={() => only(true)} disabled={listed.length === 0}>
                Take only these {listed.length}
                {unseen > 0 && `, ${unseen} of them hidden`}
              </Button>
              <Button onClick={() => only(false)} disabled={listed.length === 0}>
                Leave these out
              </Button>
            </>
          )}
        </div>
      )}
      <LayerTable layers={listed} comes={comes} hidden={hidden} onToggle={toggle} onLook={look} />
      {!isDrafting(claims) && <LayerRuleChoice />}
    </>
  );
}

/** The layers with what they hold: of each, whether it is taken in, and whether it is in view here. */
function LayerTable({
  layers,
  comes,
  hidden,
  onToggle,
  onLook,
}: {
  layers: readonly Claims['layers'][number][];
  comes: ReadonlySet<string>;
  hidden: ReadonlySet<string>;
  onToggle: (name: string) => void;
  onLook: (name: string) => void;
}) {
  return (
    <div className="text-sm">
      <div className={`${COLUMNS} text-xs text-quiet`} aria-hidden>
        <span />
        <span>Layer</span>
        <span>State</span>
        <span className="text-right">Objects</span>
        <span />
      </div>
      <LongList label="Layers" rows={layers} keyOf={(l) => l.name} height={25} rowClass="border-t border-rule/70">
        {(l) => (
          <div className={COLUMNS} data-layer={l.name}>
            <input
              type="checkbox"
              className="accent-[var(--ink)]"
              checked={comes.has(l.name)}
              onChange={() => onToggle(l.name)}
              aria-label={`Take in ${l.name}`}
            />
            <span className="truncate" title={l.name}>
              {l.colour && (
                <span
                  className="mr-1.5 inline-block h-2 w-3.5 border border-ink/30"
                  style={{ background: l.colour }}
                  aria-hidden
                />
              )}
              {l.name}
            </span>
            <span className="text-quiet">
              {[l.frozen && 'frozen', l.off && 'off', l.locked && 'locked'].filter(Boolean).join(', ') || 'visible'}
            </span>
            <span className="num text-right">{plainNumber(l.count)}</span>
            <button
              type="button"
              className="justify-self-end p-0.5 hover:bg-wash"
              aria-pressed={!hidden.has(l.name)}
              aria-label={`${l.name} in view`}
              onClick={() => onLook(l.name)}
            >
              {hidden.has(l.name) ? (
                <EyeOff size={14} className="text-quiet" aria-hidden />
              ) : (
                <Eye size={14} aria-hidden />
              )}
            </button>
          </div>
        )}
      </LongList>
    </div>
  );
}

const COLUMNS = 'grid grid-cols-[20px_minmax(0,1fr)_84px_64px_26px] items-center gap-1 py-px';

type LayerFrom = NonNullable<IntakeDecisions['layersFrom']>;
const RULES = Object.entries(INTAKE_FIELDS.layersFrom.choices) as [LayerFrom, string][];

/** What the layers are made from, and which layers that gives. */
function LayerRuleChoice() {
  const { drawing, worker, decide } = useDrawing();
  const rule = drawing.intake.layersFrom ?? 'groups';
  const [layers, setLayers] = useState<{ name: string; count: number }[] | null>(null);
  const key = JSON.stringify(drawing.intake);
  useEffect(() => {
    setLayers(null);
    if (!worker || rule === 'groups') return;
    let live = true;
    worker.layersBy(drawing.intake).then(
      (l) => live && setLayers(l),
      () => {},
    );
    return () => {
      live = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, key, rule]);
  return (
    <div className="mt-3">
      <Select
        label="Layers are made from"
        value={rule}
        options={RULES}
        onChange={(layersFrom) => decide({ layersFrom }, 'what layers are made from')}
      />
      {layers && (
        <LongList
          label="Layers by this rule"
          rows={layers}
          keyOf={(l) => l.name}
          height={22}
          most="10rem"
          rowClass="border-t border-rule/70 text-sm"
        >
          {(l) => (
            <span className="flex justify-between gap-2">
              <span className="truncate" title={l.name}>
                {l.name}
              </span>
              <span className="num text-quiet">{plainNumber(l.count)}</span>
            </span>
          )}
        </LongList>
      )}
    </div>
  );
}
