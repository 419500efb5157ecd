import type { ParameterSchema, Parameters } from '@scalaria/core';
import { NumberField, Select } from '../../parts/field';

/** Lays out the form of a step or check from its schema. */
export function ParameterForm({
  schema,
  values,
  unit,
  onChange,
}: {
  schema: ParameterSchema;
  values: Parameters;
  unit: string | null;
  onChange: (v: Parameters) => void;
}) {
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
      {Object.entries(schema.properties).map(([name, p]) => (
        <div key={name}>
          {p.type === 'number' ? (
            <NumberField
              label={p.title}
              value={Number(values[name])}
              unit={p.unit === 'drawing' ? (unit ?? 'units') : undefined}
              {...(p.exclusiveMinimum !== undefined && { above: p.exclusiveMinimum })}
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
