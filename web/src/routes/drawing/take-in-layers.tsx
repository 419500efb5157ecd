import { useEffect, useState } from 'react';
import { Eye, EyeOff } from 'lucide-react';
import type { Claims, IntakeDecisions } from '@scalaria/core';
import { INTAKE_FIELDS, isDrafting, namePattern } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Section, Select, TextField } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';

const MODES = [
  ['visible', 'Visible only'],
  ['all', 'All'],
  ['chosen', 'Chosen'],
] as const;

/** Which layers come along, and which are in view here. */
export function LayerSection({
  hidden,
  onHidden,
}: {
  hidden: ReadonlySet<string>;
  onHidden: (h: ReadonlySet<string>) => void;
}) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const { mode, names } = intake.layers;
  const visible = claims.layers.filter((l) => !l.off && !l.frozen).map((l) => l.name);
  const comes = new Set(mode === 'all' ? claims.layers.map((l) => l.name) : mode === 'visible' ? visible : names);
  const setMode = (m: (typeof MODES)[number][0]): void =>
    decide({ layers: { mode: m, names: m === 'chosen' ? [...comes] : [] } }, 'layers that come along');
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
  const only = (taken: boolean): void => {
    const names = claims.layers.map((l) => l.name).filter((n) => (taken ? fits(n) : comes.has(n) && !fits(n)));
    decide({ layers: { mode: 'chosen', names } }, taken ? `only layers like ${pattern}` : `no layers like ${pattern}`);
  };
  return (
    <Section
      title="Layers"
      aside={
        <span className="num text-sm text-quiet">
          {comes.size} of {claims.layers.length} come along
        </span>
      }
    >
      <div className="mb-2 flex border border-ink/60" role="radiogroup" aria-label="Which layers come along">
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
          {hiddenLayers.length === 1 ? 'holds' : 'hold'} {plainNumber(weight)} of {plainNumber(claims.entities)}{' '}
          entities ({plainNumber((100 * weight) / Math.max(1, claims.entities), 3)} %).
        </p>
      )}
      {claims.layers.length > 6 && (
        <div className="mb-2 flex flex-wrap items-end gap-x-3 gap-y-1">
          <TextField
            label="Names like (* stands for any letters)"
            value={pattern}
            onChange={setPattern}
            width="w-44"
            live
          />
          {pattern !== '' && (
            <>
              <Button onClick={() => only(true)} disabled={listed.length === 0}>
                Take only these {listed.length}
              </Button>
              <Button onClick={() => only(false)} disabled={listed.length === 0}>
                Leave these behind
              </Button>
            </>
          )}
        </div>
      )}
      <LayerTable layers={listed} comes={comes} hidden={hidden} onToggle={toggle} onLook={look} />
      {!isDrafting(claims) && <LayerRuleChoice />}
    </Section>
  );
}

/** The layers with what they hold; two things to say of each: whether it comes along, and whether it is in view here. */
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
    <table className="w-full text-sm">
      <thead className="text-left text-xs text-quiet">
        <tr>
          <th className="w-6 font-normal" title="comes along">
            <span className="sr-only">Comes along</span>
          </th>
          <th className="font-normal">Layer</th>
          <th className="font-normal">State</th>
          <th className="text-right font-normal">Entities</th>
          <th className="w-7 font-normal">
            <span className="sr-only">In view</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {layers.map((l) => (
          <tr key={l.name} className="border-t border-rule/70" data-layer={l.name}>
            <td>
              <input
                type="checkbox"
                className="accent-[var(--ink)]"
                checked={comes.has(l.name)}
                onChange={() => onToggle(l.name)}
                aria-label={`${l.name} comes along`}
              />
            </td>
            <td className="max-w-[130px] truncate" title={l.name}>
              {l.colour && (
                <span
                  className="mr-1.5 inline-block h-2 w-3.5 border border-ink/30"
                  style={{ background: l.colour }}
                  aria-hidden
                />
              )}
              {l.name}
            </td>
            <td className="text-quiet">
              {[l.frozen && 'frozen', l.off && 'off', l.locked && 'locked'].filter(Boolean).join(', ') || 'visible'}
            </td>
            <td className="num text-right">{plainNumber(l.count)}</td>
            <td className="text-right">
              <button
                type="button"
                className="p-0.5 hover:bg-wash"
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
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

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
        <ul className="mt-1 max-h-40 overflow-y-auto text-sm" aria-label="Layers by this rule">
          {layers.map((l) => (
            <li key={l.name} className="flex justify-between gap-2 border-t border-rule/70">
              <span className="truncate" title={l.name}>
                {l.name}
              </span>
              <span className="num text-quiet">{plainNumber(l.count)}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
