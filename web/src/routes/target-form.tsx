import type { Kept, ParameterSet, Target, UnitName } from '@scalaria/core';
import { COMMON_UNITS, DEFAULT_TARGETS, FORMAT_CATALOGUE, traitsOf } from '@scalaria/core';
import type { FormHelp } from '../forms/parameter-form';
import { ParameterForm } from '../forms/parameter-form';
import { Select } from '../parts/field';

/** What an option of a writer touches, where it is not what its format is made of. */
const TOUCHES: Readonly<Record<string, string>> = {
  ground: 'Looks',
  groundColour: 'Looks',
  widths: 'Looks',
  ink: 'Looks',
  style: 'Looks',
  hairline: 'Looks',
  colours: 'Looks',
  decimals: 'Page and numbers',
  page: 'Page and numbers',
  binary: 'Page and numbers',
  template: 'Page and numbers',
};

/** The options of a format, by what they touch where they are many. */
function OptionForm({
  options,
  rest: others,
  values,
  ...rest
}: {
  options: ParameterSet;
  /** What the options touch that are not named. */
  rest: string;
  values: Kept;
  unit: string | null;
  help: FormHelp;
  onChange: (options: Kept) => void;
}) {
  const groups = new Map<string, ParameterSet>();
  for (const [name, one] of Object.entries(options)) {
    const group = Object.keys(options).length > 5 ? (TOUCHES[name] ?? others) : '';
    groups.set(group, { ...groups.get(group), [name]: one });
  }
  return [...groups].map(([group, params]) => (
    <div key={group} className="mt-2">
      {group !== '' && <h3 className="mb-0.5 text-sm font-medium">{group}</h3>}
      <ParameterForm params={params} values={values} {...rest} />
    </div>
  ));
}

/** The options that are the very same ones in another format stay as they were chosen; those that only go by the same name do not. */
function shared(format: Target['format'], target: Target): Target['options'] {
  const [own, next]: ParameterSet[] = [FORMAT_CATALOGUE[target.format].options, FORMAT_CATALOGUE[format].options];
  return Object.fromEntries(Object.entries(target.options).filter(([name]) => own![name] === next![name]));
}

/** What files are written as: format, version, unit, and what is asked of the format's writer. */
export function TargetForm({
  target,
  unit,
  help,
  onChange,
}: {
  target: Target;
  /** The unit of the prepared drawing, where there is one. */
  unit: string | null;
  help: FormHelp;
  onChange: (target: Target) => void;
}) {
  const format = FORMAT_CATALOGUE[target.format];
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Select
          label="Format"
          value={target.format}
          options={Object.values(FORMAT_CATALOGUE).map((f) => [f.id, f.title] as const)}
          onChange={(f) =>
            onChange({
              ...DEFAULT_TARGETS[f],
              unit: target.unit,
              ...(target.numbered && { numbered: true }),
              options: shared(f, target),
            })
          }
        />
        <Select
          label="Version"
          value={target.version}
          options={format.versions.map((v) => [v, v] as const)}
          onChange={(version) => onChange({ ...target, version })}
        />
        <Select
          label="Unit"
          value={target.unit ?? ''}
          options={[
            ['', unit ? `as prepared: ${unit}` : 'as prepared'],
            ...COMMON_UNITS.map((u) => [u, u] as [string, string]),
          ]}
          onChange={(u) => onChange({ ...target, unit: (u || null) as UnitName | null })}
        />
      </div>
      <OptionForm
        options={format.options}
        rest={traitsOf(target.format).pixels ? 'Picture' : 'Shapes'}
        values={target.options}
        unit={target.unit ?? unit}
        help={help}
        onChange={(options) => onChange({ ...target, options })}
      />
    </>
  );
}
