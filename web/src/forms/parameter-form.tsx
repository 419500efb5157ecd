import type { Kept, KeptValue, Parameter, ParameterSet } from '@scalaria/core';
import { counts, defaultsOf } from '@scalaria/core';
import type { FormHelp } from './form-help';
import { ParameterField } from './parameter-field';

export type { FormHelp } from './form-help';

/** Lays out the form of a step, a check or a target from its parameters: those that count under the values of the others. */
export function ParameterForm({
  params,
  values,
  unit,
  onChange,
  help = {},
}: {
  params: ParameterSet;
  values: Kept;
  /** What lengths are counted in where they do not carry their own unit. */
  unit: string | null;
  onChange: (v: Kept) => void;
  help?: FormHelp;
}) {
  const all = { ...defaultsOf(params), ...values };
  const offered = (one: Parameter): boolean => one.kind !== 'drawing' || (help.drawings ?? []).length > 0;
  const asked = Object.entries(params).filter(
    ([, one]) => offered(one) && counts(one, (other) => all[other] ?? help.context?.[other]),
  );
  const told = (name: string) => (value: KeptValue) => onChange({ ...all, [name]: value });
  return (
    <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
      {asked.map(([name, one]) => (
        <div key={name} className={`max-w-full ${one.kind === 'yesNo' ? 'self-end pb-1' : ''}`}>
          <ParameterField name={name} of={one} value={all[name]!} unit={unit} help={help} onChange={told(name)} />
          {one.description && <p className="text-xs text-quiet">{one.description}</p>}
        </div>
      ))}
    </div>
  );
}
