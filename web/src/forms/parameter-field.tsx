import type { ChartRow, Kept, KeptValue, LayerChoice, Length, Parameter, Selection } from '@scalaria/core';
import { KINDS, faultOf, lengthParts } from '@scalaria/core';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../parts/button';
import { NumberField, Select, TextField, Tick } from '../parts/field';
import { ColourChart } from './colour-chart';
import { ParameterForm } from './parameter-form';

/** What a form asks of the page around it: names to offer, and an entity to be picked in the drawing. */
export interface FormHelp {
  fonts?: readonly string[];
  layers?: readonly string[];
  /** Drawings and files of the job, by id, with what they are called. */
  drawings?: readonly (readonly [string, string])[];
  files?: readonly (readonly [string, string])[];
  /** The colours of the drawing, for charts of colours. */
  colours?: readonly { hex: string; count: number }[];
  /** What else conditions may ask for, such as where the drawing came from. */
  context?: Readonly<Record<string, string>>;
  /** The parameter that waits for a click in the drawing. */
  picking?: string | null;
  onPick?: (name: string) => void;
  /** How what was picked is told of. */
  picked?: (ref: string) => string | null;
  /** How a length typed by a person is kept: as a plain number if nothing is said. */
  lengths?: (value: number) => Length;
}

interface FieldProps<P> {
  name: string;
  of: P;
  value: KeptValue;
  unit: string | null;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

/** The control of one parameter, whatever its kind. */
export function ParameterField({ name, of, value, unit, help, onChange }: FieldProps<Parameter>): ReactNode {
  switch (of.kind) {
    case 'length':
      return <LengthField label={of.title} value={value as Length} unit={unit} help={help} faultIn={(v) => faultOf({ it: of }, { it: v })} onChange={onChange} />; // prettier-ignore
    case 'angle':
    case 'number':
      return (
        <NumberField
          label={of.title}
          value={Number(value)}
          unit={of.kind === 'angle' ? '°' : of.suffix}
          faultIn={(v) => faultOf({ it: of }, { it: v })}
          onChange={onChange}
        />
      );
    case 'yesNo':
      return <Tick checked={value === true} onChange={onChange}>{of.title}</Tick>; // prettier-ignore
    case 'text':
    case 'font':
      return (
        <TextField
          label={of.title}
          value={String(value)}
          maxLength={of.kind === 'text' ? of.maxLength : 200}
          offers={(of.kind === 'font' ? help.fonts : of.suggest && help[of.suggest]) ?? []}
          onChange={onChange}
        />
      );
    case 'choice':
      return <Select label={of.title} value={String(value)} options={Object.entries(of.choices)} onChange={onChange} />;
    case 'colour':
      return <ColourField label={of.title} value={String(value)} onChange={onChange} />;
    case 'point': {
      const at = value as { x: Length; y: Length };
      const field = (axis: 'x' | 'y') => (
        <LengthField label={`${of.title}, ${axis}`} value={at[axis]} unit={unit} help={help} onChange={(v) => onChange({ x: at.x as KeptValue, y: at.y as KeptValue, [axis]: v })} />
      ); // prettier-ignore
      return <div className="flex gap-x-4">{field('x')}{field('y')}</div>; // prettier-ignore
    }
    case 'picked':
      return <PickedField name={name} title={of.title} value={value as readonly string[]} many={of.atMost > 1} help={help} onChange={onChange} />; // prettier-ignore
    case 'layers': {
      const now = value as unknown as LayerChoice;
      const set = (change: Partial<LayerChoice>): void => onChange({ ...now, ...change });
      return (
        <div className="flex gap-x-4">
          <Select label={of.title} value={now.mode} options={LAYER_MODES} onChange={(mode) => set({ mode })} />
          {now.mode === 'chosen' && <NamesField label="Layers" value={now.names} onChange={(names) => set({ names })} />}
        </div>
      ); // prettier-ignore
    }
    case 'selection':
      return <SelectionFields title={of.title} value={value as unknown as Selection} help={help} onChange={onChange} />;
    case 'drawing':
    case 'file': {
      const offered = (of.kind === 'drawing' ? help.drawings : help.files) ?? [];
      const options = [['', 'none'] as const, ...offered];
      return <Select label={of.title} value={String(value ?? '')} options={options} onChange={(v) => onChange(v === '' ? null : v)} />; // prettier-ignore
    }
    case 'list':
      return <ListField name={name} of={of} value={value} unit={unit} help={help} onChange={onChange} />;
    case 'chart':
      if (of.of === 'colour' && help.colours) return <ColourChart title={of.title} colours={help.colours} rows={value as unknown as readonly ChartRow[]} onChange={(rows) => onChange(rows.map((r) => ({ ...r })))} />; // prettier-ignore
      return <ChartField of={of} value={value as unknown as readonly ChartRow[]} onChange={onChange} />;
    case 'group':
      return (
        <fieldset>
          <legend className="text-xs text-quiet">{of.title}</legend>
          <ParameterForm params={of.params} values={value as Kept} unit={unit} help={help} onChange={onChange} />
        </fieldset>
      );
    case 'optional': {
      const inner = of.of;
      if (inner.kind === 'number' || inner.kind === 'length' || inner.kind === 'angle')
        return <OptionalNumber of={inner} none={of.none} value={value as Length | null} unit={unit} help={help} onChange={onChange} />; // prettier-ignore
      return (
        <div className="flex items-end gap-x-2">
          <Tick checked={value !== null} onChange={(on) => onChange(on ? (of.of.default as KeptValue) : null)}>
            {value === null ? of.title : <span className="sr-only">{of.title}</span>}
          </Tick>
          {value !== null && <ParameterField name={name} of={of.of} value={value} unit={unit} help={help} onChange={onChange} />}
        </div>
      ); // prettier-ignore
    }
    default:
      return of satisfies never;
  }
}

const LAYER_MODES = [
  ['visible', 'those in sight'],
  ['all', 'all'],
  ['chosen', 'these'],
] as const;

interface LengthProps {
  label: string;
  value: Length;
  unit: string | null;
  help: FormHelp;
  faultIn?: (v: number) => string | null;
  onChange: (v: KeptValue) => void;
}

/** A length: it stays in the unit in which it was given, whatever the drawing is counted in since. */
function LengthField({ label, value, unit, help, faultIn, onChange }: LengthProps) {
  const own = lengthParts(value);
  const kept = (v: number): Length => (own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v));
  return (
    <NumberField
      label={label}
      value={own.value}
      unit={own.unit ?? unit ?? 'units'}
      {...(faultIn && { faultIn })}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
}

interface OptionalNumberProps {
  of: Parameter & { kind: 'number' | 'length' | 'angle' };
  none: string;
  value: Length | null;
  unit: string | null;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

/** A number or length that may be left out: its field stands empty then. */
function OptionalNumber({ of, none, value, unit, help, onChange }: OptionalNumberProps) {
  const own = value === null ? { value: null, unit: null } : lengthParts(value);
  const kept = (v: number): Length =>
    of.kind !== 'length' ? v : own.unit ? { value: v, unit: own.unit } : (help.lengths?.(v) ?? v);
  const counted = of.kind === 'length' ? (own.unit ?? unit ?? 'units') : of.kind === 'angle' ? '°' : of.suffix;
  return (
    <NumberField
      label={of.title}
      value={own.value}
      unit={counted}
      none={none}
      faultIn={(v) => faultOf({ it: of }, { it: v })}
      onClear={() => onChange(null)}
      onChange={(v) => onChange(kept(v) as KeptValue)}
    />
  );
}

function ColourField({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  return (
    <label className="block">
      <span className="block text-xs text-quiet">{label}</span>
      <span className="flex items-center gap-2">
        <input type="color" className="h-8 w-10 border border-ink/60 bg-sheet" value={value || '#000000'} onChange={(e) => onChange(e.target.value)} />
        <span className="num">{value || 'any'}</span>
      </span>
    </label>
  ); // prettier-ignore
}

const NamesField = (o: { label: string; value: readonly string[]; onChange: (v: string[]) => void }) => (
  <TextField
    label={o.label}
    value={o.value.join(', ')}
    maxLength={20000}
    onChange={(v) => o.onChange(v.split(',').map((n) => n.trim()).filter(Boolean))}
  />
); // prettier-ignore

interface PickedProps {
  name: string;
  title: string;
  value: readonly string[];
  many: boolean;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

function PickedField({ name, title, value, many, help, onChange }: PickedProps) {
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
        {value.length > 0 && !many && <span className="text-sm text-quiet">{words[0]}</span>}
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

const Remove = ({ what, onClick }: { what: string; onClick: () => void }) => (
  <button type="button" className="p-0.5 hover:bg-wash" aria-label={`Remove ${what}`} onClick={onClick}>
    <X size={14} aria-hidden />
  </button>
);

function ListField({ name, of, value, unit, help, onChange }: FieldProps<Parameter & { kind: 'list' }>) {
  const rows = value as readonly KeptValue[];
  const put = (i: number, v: KeptValue): void => onChange(rows.map((r, k) => (k === i ? v : r)));
  return (
    <fieldset>
      <legend className="text-xs text-quiet">{of.title}</legend>
      {rows.map((row, i) => (
        <div key={i} className="flex items-end gap-1">
          <ParameterField name={name} of={of.item} value={row} unit={unit} help={help} onChange={(v) => put(i, v)} />
          <Remove what={`row ${i + 1}`} onClick={() => onChange(rows.filter((_, k) => k !== i))} />
        </div>
      ))}
      {rows.length < of.atMost && (
        <Button look="quiet" onClick={() => onChange([...rows, of.item.default as KeptValue])}>
          One more
        </Button>
      )}
    </fieldset>
  );
}

interface ChartProps {
  of: Parameter & { kind: 'chart' };
  value: readonly ChartRow[];
  onChange: (v: KeptValue) => void;
}

/** Rows of a chart, the first that fits counting; a new row begins empty, or black for colours. */
function ChartField({ of, value, onChange }: ChartProps) {
  const tell = (rows: readonly ChartRow[]): void => onChange(rows.map((r) => ({ ...r })));
  const put = (i: number, change: Partial<ChartRow>): void => tell(value.map((r, k) => (k === i ? { ...r, ...change } : r))); // prettier-ignore
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
  title: string;
  value: Selection;
  help: FormHelp;
  onChange: (v: KeptValue) => void;
}

function SelectionFields({ title, value, help, onChange }: SelectionProps) {
  const set = (change: Partial<Selection>): void => onChange({ ...value, ...change });
  const everything = value.layers === '' && value.kinds.length === 0 && value.stroke === '' && value.fill === '';
  const kinds = Object.entries(KINDS).map(([kind, traits]) => [kind, traits.words[1]] as const);
  const ink = (label: string, side: 'stroke' | 'fill') => (
    <div className="flex items-end gap-x-2">
      <Tick checked={value[side] !== ''} onChange={(on) => set({ [side]: on ? '#000000' : '' })}>
        {label}
      </Tick>
      {value[side] !== '' && <ColourField label="" value={value[side]} onChange={(v) => set({ [side]: v })} />}
    </div>
  );
  return (
    <details>
      <summary className="cursor-pointer text-sm">
        {title} <span className="text-quiet">{everything ? 'all of them' : 'by rule'}</span>
      </summary>
      <div role="group" aria-label={title} className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2">
        <TextField label="On layers named" value={value.layers} offers={help.layers ?? []} onChange={(layers) => set({ layers })} />
        <Select label="Kind" value="" options={[['', value.kinds.length === 0 ? 'any' : 'one more …'] as const, ...kinds]} onChange={(k) => k !== '' && set({ kinds: [...value.kinds.filter((x) => x !== k), k] as Selection['kinds'] })} />
        {value.kinds.map((k) => <span key={k} className="flex items-center gap-1 text-sm">{KINDS[k].words[1]} <Remove what={KINDS[k].words[1]} onClick={() => set({ kinds: value.kinds.filter((x) => x !== k) })} /></span>)}
        {ink('Of one stroke colour', 'stroke')}
        {ink('Of one fill colour', 'fill')}
      </div>
    </details>
  ); // prettier-ignore
}
