import type { GeneralYardstick, UnitName, YardstickKind } from '@scalaria/core';
import { COMMON_UNITS, PLACES, YARDSTICK_KINDS } from '@scalaria/core';
import { X } from 'lucide-react';
import { Button } from '../../parts/button';
import { NumberField, Select, TextField } from '../../parts/field';

const GENERAL = (Object.keys(YARDSTICK_KINDS) as YardstickKind[]).filter((k) => PLACES[k] === 0);

/** What every drawing that a recipe is used on must measure. */
export function RecipeYardsticks({
  list,
  onChange,
}: {
  list: readonly GeneralYardstick[];
  onChange: (list: GeneralYardstick[]) => void;
}) {
  const set = (i: number, more: Partial<GeneralYardstick>): void =>
    onChange(list.with(i, { ...list[i]!, ...more }) as GeneralYardstick[]);
  return (
    <>
      {list.length === 0 && (
        <p className="text-sm text-quiet">None. A drawing’s own yardsticks are measured all the same.</p>
      )}
      <ul aria-label="Yardsticks of the recipe">
        {list.map((y, i) => (
          <li key={y.id} className="flex flex-wrap items-end gap-x-3 gap-y-1 border-b border-rule py-1.5">
            <TextField label="Called" value={y.title} width="w-36" onChange={(title) => set(i, { title })} />
            <Select
              label="Measures"
              value={y.what}
              options={GENERAL.map((k) => [k, YARDSTICK_KINDS[k]] as const)}
              onChange={(what) => set(i, { what })}
            />
            {y.what === 'holes' && (
              <NumberField
                label="Diameter"
                value={y.diameter ?? 0}
                above={0}
                width="w-20"
                onChange={(diameter) => set(i, { diameter })}
              />
            )}
            {y.what === 'text' && (
              <TextField label="Words" value={y.words ?? ''} width="w-32" onChange={(words) => set(i, { words })} />
            )}
            <NumberField
              label="Has to be"
              value={Number(y.expected)}
              width="w-20"
              onChange={(expected) => set(i, { expected })}
            />
            <Select
              label="Unit"
              value={y.unit}
              options={COMMON_UNITS.map((u) => [u, u] as [UnitName, string])}
              onChange={(unit) => set(i, { unit })}
            />
            <NumberField
              label="±"
              value={y.tolerance}
              width="w-16"
              onChange={(tolerance) => set(i, { tolerance: Math.abs(tolerance) })}
            />
            <TextField label="Known from" value={y.source} width="w-36" onChange={(source) => set(i, { source })} />
            <button
              type="button"
              className="mb-1 ml-auto p-1 hover:bg-wash"
              aria-label={`Take ${y.title} out`}
              onClick={() => onChange(list.filter((_, k) => k !== i))}
            >
              <X size={14} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <Button
        className="mt-2"
        onClick={() =>
          onChange([
            ...list,
            ...[
              {
                id: crypto.randomUUID(),
                title: 'Overall width',
                what: 'width' as const,
                expected: 100,
                unit: 'mm' as const,
                tolerance: 0.1,
                source: '',
              },
            ],
          ])
        }
      >
        Add a yardstick
      </Button>
    </>
  );
}
