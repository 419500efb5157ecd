import type { ChartRow, Kept, KeptValue, LayerChoice, Length, Parameter, Selection } from '@scalaria/core';
import { EVERYTHING, defaultsOf } from '@scalaria/core';
import type { ReactNode } from 'react';
import { Button } from '../parts/button';
import { Select, TextField, Tick } from '../parts/field';
import { ColourChart } from './colour-chart';
import { ChartField, ColourField, NamesField, PickedField, Remove, SelectionFields } from './compound-fields';
import type { FormHelp } from './form-help';
import { NameChart } from './name-chart';
import { MeasureField } from './number-fields';
import { ParameterForm } from './parameter-form';

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
    case 'area':
    case 'angle':
    case 'number':
      return <MeasureField of={of} value={value as Length} unit={unit} help={help} onChange={onChange} />;
    case 'yesNo':
      return (
        <Tick checked={value === true} onChange={onChange}>
          {of.title}
        </Tick>
      );
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
      const put =
        (axis: 'x' | 'y') =>
        (v: KeptValue): void =>
          onChange({ ...(at as unknown as Kept), [axis]: v });
      const axis = (name: 'x' | 'y'): Parameter & { kind: 'length' } => ({
        kind: 'length',
        title: `${of.title}, ${name}`,
        default: 0,
      });
      return (
        <div className="flex gap-x-4">
          <MeasureField of={axis('x')} value={at.x} unit={unit} help={help} onChange={put('x')} />
          <MeasureField of={axis('y')} value={at.y} unit={unit} help={help} onChange={put('y')} />
        </div>
      );
    }
    case 'picked':
      return (
        <PickedField
          name={name}
          title={of.title}
          value={value as readonly string[]}
          many={of.atMost > 1}
          help={help}
          onChange={onChange}
        />
      );
    case 'layers': {
      const now = value as unknown as LayerChoice;
      const set = (change: Partial<LayerChoice>): void => onChange({ ...now, ...change });
      return (
        <div className="flex gap-x-4">
          <Select label={of.title} value={now.mode} options={LAYER_MODES} onChange={(mode) => set({ mode })} />
          {now.mode === 'chosen' && (
            <NamesField label="Layers" value={now.names} onChange={(names) => set({ names })} />
          )}
        </div>
      );
    }
    case 'selection':
      return (
        <SelectionFields
          name={name}
          title={of.title}
          value={{ ...EVERYTHING, ...(value as object) } as Selection}
          unit={unit}
          help={help}
          onChange={onChange}
        />
      );
    case 'drawing':
    case 'file': {
      const offered = (of.kind === 'drawing' ? help.drawings : help.files) ?? [];
      const options = [['', 'none'] as const, ...offered];
      return (
        <Select
          label={of.title}
          value={String(value ?? '')}
          options={options}
          onChange={(v) => onChange(v === '' ? null : v)}
        />
      );
    }
    case 'list':
      return <ListField name={name} of={of} value={value} unit={unit} help={help} onChange={onChange} />;
    case 'chart':
      if (of.of === 'colour' && help.colours)
        return (
          <ColourChart
            title={of.title}
            colours={help.colours}
            rows={value as unknown as readonly ChartRow[]}
            onChange={(rows) => onChange(rows.map((r) => ({ ...r })))}
          />
        );
      if (of.suggest)
        return (
          <NameChart
            of={of}
            value={value as unknown as readonly ChartRow[]}
            names={
              (of.suggest === 'layers' ? help.layerCounts : undefined) ??
              (help[of.suggest] ?? []).map((name) => ({ name }))
            }
            {...(of.agreed && help.agreed && { agreed: help.agreed })}
            onChange={(rows) => onChange(rows.map((r) => ({ ...r })))}
          />
        );
      return <ChartField of={of} value={value as unknown as readonly ChartRow[]} onChange={onChange} />;
    case 'group': {
      const form = (
        <ParameterForm params={of.params} values={value as Kept} unit={unit} help={help} onChange={onChange} />
      );
      if (of.folded) return <Folded title={of.title} said={saidIn(of, value as Kept)} form={form} />;
      return (
        <fieldset>
          <legend className="text-xs text-quiet">{of.title}</legend>
          {form}
        </fieldset>
      );
    }
    case 'optional': {
      const inner = of.of;
      if (inner.kind === 'number' || inner.kind === 'length' || inner.kind === 'area' || inner.kind === 'angle')
        return (
          <MeasureField
            of={inner}
            none={of.none}
            value={value as Length | null}
            unit={unit}
            help={help}
            onChange={onChange}
          />
        );
      return (
        <div className="flex items-end gap-x-2">
          <Tick checked={value !== null} onChange={(on) => onChange(on ? (of.of.default as KeptValue) : null)}>
            {value === null ? of.title : <span className="sr-only">{of.title}</span>}
          </Tick>
          {value !== null && (
            <ParameterField name={name} of={of.of} value={value} unit={unit} help={help} onChange={onChange} />
          )}
        </div>
      );
    }
    default:
      return of satisfies never;
  }
}

/** How many members of a group differ from what they are by themselves. */
const saidIn = (of: Parameter & { kind: 'group' }, value: Kept): number => {
  const before = defaultsOf(of.params);
  return Object.keys(value).filter((name) => JSON.stringify(value[name]) !== JSON.stringify(before[name])).length;
};

/** A group that is folded away until somebody asks for it, and says how much is said in it. */
const Folded = ({ title, said, form }: { title: string; said: number; form: ReactNode }) => (
  <details>
    <summary className="cursor-pointer text-sm">
      {title} <span className="text-quiet">{said === 0 ? 'nothing said' : said}</span>
    </summary>
    <div role="group" aria-label={title} className="mt-1">
      {form}
    </div>
  </details>
);

const LAYER_MODES = [
  ['visible', 'those in sight'],
  ['all', 'all'],
  ['chosen', 'these'],
] as const;

/** Groups in a list are told apart by their place in it. */
const numbered = (item: Parameter, i: number): Parameter =>
  item.kind === 'group' ? { ...item, title: `${item.title} ${i + 1}` } : item;

const rowName = (item: Parameter): string => (item.kind === 'group' ? item.title.toLowerCase() : 'row');

function ListField({ name, of, value, unit, help, onChange }: FieldProps<Parameter & { kind: 'list' }>) {
  const rows = value as readonly KeptValue[];
  const put = (i: number, v: KeptValue): void => onChange(rows.map((r, k) => (k === i ? v : r)));
  return (
    <fieldset>
      <legend className="text-xs text-quiet">{of.title}</legend>
      {rows.map((row, i) => (
        <div
          key={i}
          className={of.item.kind === 'group' ? 'relative border-t border-rule py-2' : 'flex items-end gap-1'}
        >
          <ParameterField
            name={name}
            of={numbered(of.item, i)}
            value={row}
            unit={unit}
            help={help}
            onChange={(v) => put(i, v)}
          />
          <span className={of.item.kind === 'group' ? 'absolute right-0 top-1' : undefined}>
            <Remove what={`${rowName(of.item)} ${i + 1}`} onClick={() => onChange(rows.filter((_, k) => k !== i))} />
          </span>
        </div>
      ))}
      {rows.length < of.atMost && (
        <Button look="quiet" onClick={() => onChange([...rows, of.item.default as KeptValue])}>
          {rows.length === 0 && of.item.kind === 'group' ? `Add a ${rowName(of.item)}` : 'One more'}
        </Button>
      )}
    </fieldset>
  );
}
