import type { UnitName } from '../drawing/units.js';
import { isUnitName } from '../drawing/units.js';
import type { FormatEntry } from '../formats/catalogue.js';
import { FORMAT_CATALOGUE, formatEntry } from '../formats/catalogue.js';
import { OPTION_NAMES } from '../formats/write-options.js';
import { faultOf } from '../parameters/faults.js';
import type { Kept, KeptValue } from '../parameters/parameter.js';

/** What a file is written as. */
export interface Target {
  format: FormatEntry['id'];
  version: string;
  /** `null` keeps the unit of the prepared drawing. */
  unit: UnitName | null;
  /** A drawing whose unit nobody stated is written without one, its numbers as they are; not for SVG, which has a size. */
  unitless?: boolean;
  /** What the file is called, without its ending; by itself after its source. */
  name?: string;
  /** It is not written unless each of its parts has a number of its own; parts that are left out are not in it. */
  numbered?: boolean;
  /** The numbers of the parts that it holds alone. */
  parts?: readonly string[];
  /** What is asked of the format's writer (`FORMAT_CATALOGUE[format].options`); what is missing is the default. */
  options: Kept;
}

/** A target as it is asked for with nothing but its format. */
const targetOf = (format: FormatEntry['id']): Target => ({
  format,
  version: FORMAT_CATALOGUE[format].standard,
  unit: null,
  options: {},
});

export const DEFAULT_TARGETS = Object.fromEntries(
  Object.values(FORMAT_CATALOGUE).map(({ id }) => [id, targetOf(id)]),
) as Readonly<Record<FormatEntry['id'], Target>>;

/** A target as people and files before state it: options beside the rest, or among `options`. */
export type TargetGiven = Partial<Omit<Target, 'options'>> & { readonly [option: string]: unknown };

/**
 * A target in its present form. What was kept before options were declared lies flat: what the format knows is taken, what it
 * does not know had no effect and goes; colours were a table from one to the other.
 */
export function upgradedTarget<T extends TargetGiven>(given: T): T & { options: Kept } {
  const known = formatEntry(String(given.format))?.options;
  const rest: Record<string, unknown> = {};
  const options: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(given)) {
    if (name === 'options') Object.assign(options, value);
    else if (!OPTION_NAMES.includes(name)) rest[name] = value;
    else if (value !== undefined && (!known || name in known))
      options[name] = name === 'colours' ? rowsOf(value) : value;
  }
  return { ...rest, options } as T & { options: Kept };
}

const rowsOf = (colours: unknown): unknown =>
  typeof colours === 'object' && colours !== null && !Array.isArray(colours)
    ? Object.entries(colours).map(([from, to]) => ({ from, to: to as KeptValue }))
    : colours;

/** The target of a format with whatever is given beside. */
export const targetFor = (format: FormatEntry['id'], given: TargetGiven = {}): Target =>
  upgradedTarget({ ...DEFAULT_TARGETS[format], ...given, format });

/** What is wrong with a target, in words, or `null`. */
export function targetFault(t: Target): string | null {
  const format = formatEntry(t.format);
  if (!format) return `the format "${t.format}" cannot be written`;
  if (!format.versions.includes(t.version))
    return `${format.title} version "${t.version}" cannot be written; one of ${format.versions.join(', ')}`;
  if (t.unit !== null && !isUnitName(t.unit)) return `no unit is called "${String(t.unit)}"`;
  if (t.numbered !== undefined && typeof t.numbered !== 'boolean') return '"numbered" is true or false';
  if (t.parts !== undefined && !(Array.isArray(t.parts) && t.parts.every((n) => typeof n === 'string')))
    return '"parts" is a list of numbers of parts';
  const fault = faultOf(format.options, t.options);
  return fault && `${format.title}: ${fault}`;
}

/** The drawing that gives layers, linetypes and styles to what is written, by the name the target has for it. */
export const templateOf = (t: Target): string | null => {
  const named = t.options['template'];
  return typeof named === 'string' ? named : null;
};
