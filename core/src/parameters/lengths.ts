import type { SpaceUnit } from '../drawing/drawing.js';
import type { UnitName } from '../drawing/units.js';
import { conversion, isUnitName } from '../drawing/units.js';
import { UserError } from '../errors.js';
import type { Infer, Kept, KeptValue, Length, Parameter, ParameterSet } from './parameter.js';
import { EVERYTHING, defaultsOf } from './parameter.js';

/** How a kept measure is turned into another: `power` 1 for a length, 2 for an area. */
type MeasureMap = (measure: Length, title: string, power: 1 | 2) => KeptValue;

/**
 * Parameters as a machine takes them: what is missing filled in, every length and area counted in the unit of the drawing.
 * Throws `UserError` for one that carries a unit where the drawing has none to count it in.
 */
export function valuesOf<S extends ParameterSet>(set: S, kept: Kept, unit: SpaceUnit | null): Infer<S> {
  return withMeasures(set, { ...defaultsOf(set), ...kept }, (length, title, power) => {
    if (typeof length === 'number') return length;
    if (!unit || unit.unit === 'px')
      throw new UserError(
        'wrong-parameter',
        `${title} is given in ${length.unit}, but nobody has stated the unit of the drawing: decide on its unit, or give a number in its own`,
      );
    return length.value * (conversion(length.unit, unit.unit) / unit.factor) ** power;
  }) as unknown as Infer<S>;
}

/** The unit of a prepared drawing by its name: one coordinate is one of it. */
export const spaceUnitOf = (unit: string | null): SpaceUnit | null =>
  unit !== null && isUnitName(unit) ? { unit, factor: 1 } : null;

/** A length as it is kept, with the unit it was given in; without one where the drawing has none. */
export const lengthWithUnit = (value: number, unit: SpaceUnit | null): Length =>
  unit && unit.unit !== 'px' && unit.factor === 1 ? { value, unit: unit.unit } : value;

/** What a kept length says: its number, and its unit where it carries one. */
export const lengthParts = (kept: Length): { value: number; unit: UnitName | null } =>
  typeof kept === 'number' ? { value: kept, unit: null } : kept;

/** A copy with every length and area put through `map`, wherever it stands. What is missing stays missing. */
export function withMeasures(set: ParameterSet, kept: Kept, map: MeasureMap): Kept {
  const out: Record<string, KeptValue> = {};
  for (const [name, value] of Object.entries(kept)) {
    const one = set[name];
    out[name] = one ? under(one, value, map) : value;
  }
  return out;
}

function under(one: Parameter, value: KeptValue, map: MeasureMap): KeptValue {
  switch (one.kind) {
    case 'length':
      return map(value as Length, one.title, 1);
    case 'area':
      return map(value as Length, one.title, 2);
    case 'point': {
      const { x, y } = value as { x: Length; y: Length };
      return { x: map(x, one.title, 1), y: map(y, one.title, 1) };
    }
    case 'selection': {
      const whole = { ...EVERYTHING, ...(value as object) } as unknown as Record<string, KeptValue>;
      return {
        ...whole,
        smallest: map(whole['smallest'] as Length, `${one.title}: the smallest`, 1),
        largest: map(whole['largest'] as Length, `${one.title}: the largest`, 1),
      };
    }
    case 'list':
      return (value as readonly KeptValue[]).map((v) => under(one.item, v, map));
    case 'group':
      return withMeasures(one.params, { ...defaultsOf(one.params), ...(value as Kept) }, map);
    case 'optional':
      return value === null ? null : under(one.of, value, map);
    default:
      return value;
  }
}
