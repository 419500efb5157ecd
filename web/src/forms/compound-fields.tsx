import type { ChartRow, KeptValue, Length, Parameter, Selection } from '@scalaria/core';
import { KINDS, takesEverything } from '@scalaria/core';
import { X } from 'lucide-react';
import { Button } from '../parts/button';
import { Select, TextField, Tick } from '../parts/field';
import type { FormHelp } from './form-help';
import { MeasureField } from './number-fields';

/** A colour to be chosen. */
export function ColourField({
  label,
  hideLabel,
  value,
  onChange,
}: {
  label: string;
  hideLabel?: boolean;
  value: string;
  onChange: (v: string) => void;
}) {
  return (
    <label className="block">
      <span className={hideLabel ? 'sr-only' : 'block text-xs text-quiet'}>{label}</span>
      <span className="flex items-center gap-2">
        <input
          type="color"
          className="h-8 w-10 border border-ink/60 bg-sheet"
          value={value || '#000000'}
          onChange={(e) => onChange(e.target.value)}
        />
        <span className="num">{value || 'any'}</span>
      </span>
    </label>
  );
}

/** Several names, apart by commas. */
export const NamesField = (o: { label: string; value: readonly string[]; onChange: (v: string[]) => void }) => (
  <TextField
    label={o.label}
    value={o.value.join(', ')}
    maxLength={20000}
    onChange={(v) =>
      o.onChange(
        v
          .split(',')
          .map((n) => n.trim())
          .filter(Boolean),
      )
    }
  />
);

interface PickedProps {
  name: string;
  title: string;
  value: readonly string[];
  many: boolean;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

/** What was picked in the drawing, in words, and a way to pick more. */
export function PickedField({ name, title, value, many, help, onChange }: PickedProps) {
  const waits = help.picking === name;
  const words = value.map((ref) => help.picked?.(ref) ?? 'picked');
  return (
    <div>
      <span className="block text-xs text-quiet">{title}</span>
      <span className="flex items-baseline gap-2">
        <Button look="plain" onClick={() => help.onPick?.(name)} aria-pressed={waits}>
          {waits ? 'Click a curve …' : 'Pick in the drawing'}
        </Button>
        {value.length === 0 && <span className="text-sm text-quiet">none picked</span>}
        {value.length > 0 && !many && (
          <span className="flex items-center gap-1 text-sm text-quiet">
            {words[0]} <Remove what={words[0]!} onClick={() => onChange([])} />
          </span>
        )}
      </span>
      {many && value.length > 0 && (
        <ul className="mt-1 text-sm text-quiet">
          {value.map((ref, i) => (
            <li key={ref} className="flex items-center gap-1">
              {words[i]} <Remove what={words[i]!} onClick={() => onChange(value.filter((v) => v !== ref))} />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Takes one of several away. */
export const Remove = ({ what, onClick }: { what: string; onClick: () => void }) => (
  <button type="button" className="p-0.5 hover:bg-wash" aria-label={`Remove ${what}`} onClick={onClick}>
    <X size={14} aria-hidden />
  </button>
);

interface ChartProps {
  of: Parameter & { kind: 'chart' };
  value: readonly ChartRow[];
  onChange: (v: KeptValue) => void;
}

/** Rows of a chart, the first that fits counting; a new row begins empty, or black for colours. */
export function ChartField({ of, value, onChange }: ChartProps) {
  const tell = (rows: readonly ChartRow[]): void => onChange(rows.map((r) => ({ ...r })));
  const put = (i: number, change: Partial<ChartRow>): void =>
    tell(value.map((r, k) => (k === i ? { ...r, ...change } : r)));
  const fresh = of.of === 'colour' ? { from: '#000000', to: '#000000' } : { from: '', to: '' };
  const cell = (row: ChartRow, i: number, side: 'from' | 'to') => {
    const label = `${of.columns[side === 'from' ? 0 : 1]}, row ${i + 1}`;
    return of.of === 'colour' ? (
      <ColourField label={label} value={row[side]} onChange={(v) => put(i, { [side]: v })} />
    ) : (
      <TextField label={label} value={row[side]} onChange={(v) => put(i, { [side]: v })} />
    );
  };
  return (
    <fieldset>
      <legend className="text-xs text-quiet">{of.title}</legend>
      {value.map((row, i) => (
        <div key={i} className="flex items-end gap-2">
          {cell(row, i, 'from')}
          {cell(row, i, 'to')}
          <Remove what={`row ${i + 1}`} onClick={() => tell(value.filter((_, k) => k !== i))} />
        </div>
      ))}
      {value.length < of.atMost && (
        <Button look="quiet" onClick={() => tell([...value, fresh])}>
          One more row
        </Button>
      )}
    </fieldset>
  );
}

interface SelectionProps {
  name: string;
  title: string;
  value: Selection;
  unit: string | null;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

/** The conditions of a selection by rule, folded while there is none. */
export function SelectionFields({ name, title, value, unit, help, onChange }: SelectionProps) {
  const set = (change: Partial<Selection>): void => onChange({ ...value, ...change });
  const everything = takesEverything(value);
  const size = (label: string, side: 'smallest' | 'largest') => (
    <MeasureField
      of={{ kind: 'length', title: label, default: 0, atLeast: 0, automatic: 'any' }}
      value={value[side] as Length}
      unit={unit}
      help={help}
      onChange={(v) => set({ [side]: v })}
    />
  );
  const picks = (label: string, side: 'only' | 'inside') => (
    <PickedField
      name={`${name}.${side}`}
      title={label}
      value={value[side]}
      many={side === 'only'}
      help={help}
      onChange={(v) => set({ [side]: v as readonly string[] })}
    />
  );
  const kinds = Object.entries(KINDS).map(([kind, traits]) => [kind, traits.words[1]] as const);
  const ink = (label: string, side: 'stroke' | 'fill') => (
    <div className="flex items-end gap-x-2">
      <Tick checked={value[side] !== ''} onChange={(on) => set({ [side]: on ? '#000000' : '' })}>
        {label}
      </Tick>
      {value[side] !== '' && (
        <ColourField label={`${label}: which`} hideLabel value={value[side]} onChange={(v) => set({ [side]: v })} />
      )}
    </div>
  );
  return (
    <details>
      <summary className="cursor-pointer text-sm">
        {title} <span className="text-quiet">{everything ? 'all of them' : 'by rule'}</span>
      </summary>
      <div role="group" aria-label={title} className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2">
        <TextField
          label="On layers named"
          value={value.layers}
          offers={help.layers ?? []}
          onChange={(layers) => set({ layers })}
        />
        <Select
          label="Kind"
          value=""
          options={[['', value.kinds.length === 0 ? 'any' : 'one more …'] as const, ...kinds]}
          onChange={(k) => k !== '' && set({ kinds: [...value.kinds.filter((x) => x !== k), k] as Selection['kinds'] })}
        />
        {value.kinds.map((k) => (
          <span key={k} className="flex items-center gap-1 text-sm">
            {KINDS[k].words[1]}{' '}
            <Remove what={KINDS[k].words[1]} onClick={() => set({ kinds: value.kinds.filter((x) => x !== k) })} />
          </span>
        ))}
        {ink('Of one stroke colour', 'stroke')}
        {ink('Of one fill colour', 'fill')}
        <TextField label="In groups named" value={value.group} onChange={(group) => set({ group })} />
        {size('Size from', 'smallest')}
        {size('Size up to', 'largest')}
        {picks('Within an outline', 'inside')}
        {picks('These alone', 'only')}
      </div>
    </details>
  );
}
