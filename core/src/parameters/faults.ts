import { KINDS } from '../drawing/kinds.js';
import { isUnitName } from '../drawing/units.js';
import type { Kept, KeptValue, Parameter, ParameterSet } from './parameter.js';
import { LATER_CONDITIONS, MOST_PICKED } from './parameter.js';

/** What is wrong with one value: where it stands (names and indices from outside in), and why, in words. */
export interface Fault {
  readonly path: readonly (string | number)[];
  readonly message: string;
}

const COLOUR = /^#[0-9a-f]{6}$/i;
/** Names and references are no longer than this; a list by itself says how long it may be. */
const NAME = 1000;

/**
 * All that is wrong with parameters, of which any may be missing: the one judge for the core, the server, the shell and the
 * page. Takes anything and never throws.
 */
export function faultsOf(set: ParameterSet, kept: unknown): Fault[] {
  if (!isRecord(kept)) return [{ path: [], message: 'parameters are an object' }];
  const faults: Fault[] = [];
  for (const [name, value] of Object.entries(kept)) {
    const one = Object.hasOwn(set, name) ? set[name] : undefined;
    if (!one) faults.push({ path: [name], message: `"${name}" is not a parameter` });
    else judge(one, value, [name], faults);
  }
  return faults;
}

/** The first thing wrong, in words, or `null`. */
export const faultOf = (set: ParameterSet, kept: unknown): string | null => faultsOf(set, kept)[0]?.message ?? null;

const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

const onlyHas = (v: Record<string, unknown>, names: readonly string[]): boolean =>
  Object.keys(v).length === names.length && names.every((n) => Object.hasOwn(v, n));

const isNumber = (v: unknown): v is number => typeof v === 'number' && Number.isFinite(v);
const isText = (v: unknown, longest: number): v is string => typeof v === 'string' && v.length <= longest;

/** Whether a kept length carries its unit. */
const isQuantity = (v: unknown): v is { value: number; unit: string } =>
  isRecord(v) &&
  onlyHas(v, ['value', 'unit']) &&
  isNumber(v['value']) &&
  typeof v['unit'] === 'string' &&
  isUnitName(v['unit']);

const isSize = (v: unknown): boolean => (isNumber(v) && v >= 0) || (isQuantity(v) && v.value >= 0);
const isPicked = (v: unknown, most: number): boolean =>
  Array.isArray(v) && v.length <= most && v.every((one) => isText(one, NAME));
const isLength = (v: unknown): boolean => isNumber(v) || isQuantity(v);

function judge(one: Parameter, value: unknown, path: Fault['path'], faults: Fault[]): void {
  const tell = (message: string): void => void faults.push({ path, message: `${one.title} ${message}` });
  switch (one.kind) {
    case 'length':
    case 'area':
    case 'angle':
    case 'number': {
      const measured = one.kind === 'length' || one.kind === 'area';
      const n = measured && isQuantity(value) ? value.value : value;
      if (!isNumber(n))
        return tell(`must be ${measured ? `${one.kind === 'area' ? 'an' : 'a'} ${one.kind}` : 'a number'}`);
      if (one.kind === 'number' && one.whole && !Number.isInteger(n)) return tell('must be a whole number');
      if (one.above !== undefined && n <= one.above) return tell(`must be above ${one.above}`);
      if (one.atLeast !== undefined && n < one.atLeast) return tell(`must be at least ${one.atLeast}`);
      if (one.atMost !== undefined && n > one.atMost) return tell(`must be at most ${one.atMost}`);
      return;
    }
    case 'yesNo':
      return typeof value === 'boolean' ? undefined : tell('must be yes or no');
    case 'text':
      return isText(value, one.maxLength) ? undefined : tell(`is a text of at most ${one.maxLength} characters`);
    case 'font':
      return isText(value, NAME) ? undefined : tell('is the name of a font');
    case 'choice':
      return typeof value === 'string' && Object.hasOwn(one.choices, value)
        ? undefined
        : tell(`must be one of ${Object.keys(one.choices).join(', ')}`);
    case 'colour':
      return isText(value, 7) && COLOUR.test(value) ? undefined : tell('is a colour written #rrggbb');
    case 'point':
      return isRecord(value) && onlyHas(value, ['x', 'y']) && isLength(value['x']) && isLength(value['y'])
        ? undefined
        : tell('is a point with x and y');
    case 'picked':
      if (!isPicked(value, one.atMost)) tell(`is at most ${one.atMost} objects picked in the drawing`);
      return;
    case 'layers':
      if (!isLayerChoice(value)) tell('is visible, all or chosen, with names');
      return;
    case 'selection':
      if (!isSelection(value))
        tell('is a rule of layers, kinds, colours, groups, sizes, an outline and picked objects');
      return;
    case 'drawing':
    case 'file':
      return value === null || isText(value, 4096) ? undefined : tell('is the name of a file');
    case 'list':
      if (!Array.isArray(value) || value.length > one.atMost) return tell(`is a list of at most ${one.atMost}`);
      value.forEach((v, i) => judge(one.item, v, [...path, i], faults));
      return;
    case 'chart':
      if (!Array.isArray(value) || value.length > one.atMost) return tell(`is a chart of at most ${one.atMost} rows`);
      value.forEach((row, i) => {
        if (!isRecord(row) || !onlyHas(row, ['from', 'to']) || !isText(row['from'], NAME) || !isText(row['to'], NAME))
          faults.push({ path: [...path, i], message: `${one.title}: a row has “from” and “to”` });
        else if (one.of === 'colour' && !(COLOUR.test(row['from']) && COLOUR.test(row['to'])))
          faults.push({
            path: [...path, i],
            message: `${one.title}: a colour is written #rrggbb, not "${row['from']}" or "${row['to']}"`,
          });
      });
      return;
    case 'group':
      if (!isRecord(value)) return tell('is a group of parameters');
      for (const f of faultsOf(one.params, value)) faults.push({ path: [...path, ...f.path], message: f.message });
      return;
    case 'optional':
      if (value !== null) judge(one.of, value, path, faults);
      return;
    default:
      return one satisfies never;
  }
}

const isLayerChoice = (v: unknown): boolean =>
  isRecord(v) &&
  onlyHas(v, ['mode', 'names']) &&
  ['visible', 'all', 'chosen'].includes(v['mode'] as string) &&
  Array.isArray(v['names']) &&
  v['names'].length <= 100000 &&
  v['names'].every((n) => typeof n === 'string');

const SELECTION_REQUIRED = ['layers', 'kinds', 'stroke', 'fill'];

const isSelection = (v: unknown): boolean =>
  isRecord(v) &&
  SELECTION_REQUIRED.every((n) => Object.hasOwn(v, n)) &&
  Object.keys(v).every((n) => SELECTION_REQUIRED.includes(n) || Object.hasOwn(LATER_CONDITIONS, n)) &&
  isText(v['layers'], 2000) &&
  isText(v['group'] ?? '', 2000) &&
  ['smallest', 'largest'].every((n) => v[n] === undefined || isSize(v[n])) &&
  isPicked(v['inside'] ?? [], 1) &&
  isPicked(v['only'] ?? [], MOST_PICKED) &&
  Array.isArray(v['kinds']) &&
  v['kinds'].every((k) => typeof k === 'string' && Object.hasOwn(KINDS, k)) &&
  [v['stroke'], v['fill']].every((c) => c === '' || (isText(c, 7) && COLOUR.test(c)));

/** `kept` without what is wrong in it: for settings that must not stop anybody. */
export function soundOf(set: ParameterSet, kept: Kept): Kept {
  const bad = new Set(faultsOf(set, kept).map((f) => f.path[0]));
  return Object.fromEntries(Object.entries(kept).filter(([name]) => !bad.has(name))) as Record<string, KeptValue>;
}
