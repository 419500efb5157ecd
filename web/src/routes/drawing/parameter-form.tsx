import type { ParameterSchema, Parameters } from '@scalaria/core';
import { Button } from '../../parts/button';
import { NumberField, Select, TextField } from '../../parts/field';

/** What a form asks of the page around it: names to offer, and an entity to be picked in the drawing. */
export interface FormHelp {
  fonts?: readonly string[];
  layers?: readonly string[];
  /** The parameter that waits for a click in the drawing. */
  picking?: string | null;
  onPick?: (name: string) => void;
  /** How what was picked is told of. */
  picked?: (ref: string) => string | null;
}

/** Lays out the form of a step or check from its schema. */
export function ParameterForm({
  schema,
  values,
  unit,
  onChange,
  help = {},
}: {
  schema: ParameterSchema;
  values: Parameters;
  unit: string | null;
  onChange: (v: Parameters) => void;
  help?: FormHelp;
}) {
  const asked = Object.entries(schema.properties).filter(([, p]) =>
    Object.entries(p.when ?? {}).every(([other, value]) => values[other] === value),
  );
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
      {asked.map(([name, p]) => (
        <div key={name}>
          {p.type === 'picked' ? (
            <div>
              <span className="block text-xs text-quiet">{p.title}</span>
              <span className="flex items-baseline gap-2">
                <Button look="plain" onClick={() => help.onPick?.(name)} aria-pressed={help.picking === name}>
                  {help.picking === name ? 'Click a curve …' : 'Pick in the drawing'}
                </Button>
                <span className="text-sm text-quiet">
                  {!values[name] ? 'none picked' : (help.picked?.(String(values[name])) ?? 'picked')}
                </span>
              </span>
            </div>
          ) : p.type === 'number' ? (
            <NumberField
              label={p.title}
              value={Number(values[name])}
              unit={p.unit === 'drawing' ? (unit ?? 'units') : p.unit === 'degrees' ? '°' : undefined}
              {...(p.exclusiveMinimum !== undefined && { above: p.exclusiveMinimum })}
              onChange={(v) => onChange({ ...values, [name]: v })}
            />
          ) : p.type === 'text' ? (
            <TextField
              label={p.title}
              value={String(values[name])}
              maxLength={p.maxLength}
              offers={(p.suggest && help[p.suggest]) ?? []}
              onChange={(v) => onChange({ ...values, [name]: v })}
            />
          ) : (
            <Select
              label={p.title}
              value={String(values[name])}
              options={p.enum.map((v, i) => [v, p.titles[i] ?? v] as const)}
              onChange={(v) => onChange({ ...values, [name]: v })}
            />
          )}
          {p.description && <p className="text-xs text-quiet">{p.description}</p>}
        </div>
      ))}
    </div>
  );
}
