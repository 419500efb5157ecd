import type { Kept, KeptValue, Parameter, ParameterSet } from '@scalaria/core';
import { FORMAT_CATALOGUE, INTAKE_FIELDS } from '@scalaria/core';
import { WrongUsage } from './wrong-usage.js';

/*
 * The flags of what can be decided on taking in and asked of the writers, made from what decisions and formats say of
 * themselves: `fittedLines` is written fitted-lines, and of a chart a flag is given once for each row.
 */

const kebab = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
const inner = (one: Parameter): Parameter => (one.kind === 'optional' ? inner(one.of) : one);

interface Flag {
  flag: string;
  of: Parameter;
  /** Where its value goes: a field, or a field of a group. */
  path: readonly string[];
  /** Titles of the formats that know it; `null` for what is decided on taking in. */
  formats: string[] | null;
}

/** Every option of every format once. */
const OPTION_FLAGS: readonly Flag[] = (() => {
  const all = new Map<string, Flag & { formats: string[] }>();
  for (const { title, options } of Object.values(FORMAT_CATALOGUE))
    for (const [name, one] of Object.entries(options as ParameterSet)) {
      const of = inner(one);
      const flag = kebab(of.kind === 'chart' ? name.replace(/s$/, '') : name);
      const known = all.get(name) ?? { flag, of, path: [name], formats: [] };
      known.formats.push(title);
      all.set(name, known);
    }
  return [...all.values()];
})();

/** What `arguments.ts` reads by itself, since the line says it otherwise than the fields do. */
const BY_HAND: readonly string[] = ['unit', 'layers', 'window', 'origin'];

/** The decisions of taking in that one value says; those on art go by their own names, others by their group’s too. */
const INTAKE_FLAGS: readonly Flag[] = Object.entries(INTAKE_FIELDS as ParameterSet).flatMap(([name, field]): Flag[] => {
  if (BY_HAND.includes(name)) return [];
  const of = inner(field);
  if (of.kind !== 'group') return [{ flag: kebab(name), of, path: [name], formats: null }];
  return Object.entries(of.params).map(([member, one]) => ({
    flag: kebab(name === 'art' ? member : `${name}-${member}`),
    of: inner(one),
    path: [name, member],
    formats: null,
  }));
});

/** What `parseArgs` is to look for. */
export const flagConfig = Object.fromEntries(
  [...INTAKE_FLAGS, ...OPTION_FLAGS].map(({ flag, of }) => [
    flag,
    { type: of.kind === 'yesNo' ? ('boolean' as const) : ('string' as const), multiple: of.kind === 'chart' },
  ]),
);

/** The options of writing that were given, by their own names. Throws `WrongUsage`. */
export const readOptions = (given: Readonly<Record<string, unknown>>): Kept => readFlags(OPTION_FLAGS, given);

/** The decisions that were given, as fields of intake. Throws `WrongUsage`. */
export const readDecisions = (given: Readonly<Record<string, unknown>>): Kept => readFlags(INTAKE_FLAGS, given);

function readFlags(flags: readonly Flag[], given: Readonly<Record<string, unknown>>): Kept {
  const out: Record<string, KeptValue> = {};
  for (const { flag, of, path } of flags) {
    if (given[flag] === undefined) continue;
    const value = readFlag(flag, of, given[flag]);
    const [name, member] = path as [string, string?];
    out[name] = member === undefined ? value : { ...(out[name] as Kept | undefined), [member]: value };
  }
  return out;
}

function readFlag(flag: string, of: Parameter, value: unknown): KeptValue {
  switch (of.kind) {
    case 'yesNo':
      return value === true;
    case 'number':
    case 'length':
    case 'angle':
      return numberOf(flag, String(value));
    case 'choice': {
      const chosen = Object.keys(of.choices).find((c) => kebab(c) === value);
      if (chosen === undefined)
        throw new WrongUsage(`--${flag} is one of ${Object.keys(of.choices).map(kebab).join(', ')}`);
      return chosen;
    }
    case 'chart':
      return pairsOf(flag, value as string[]).map(([from, to]) => ({ from, to }));
    case 'point':
      return pointOf(flag, String(value));
    default:
      return String(value);
  }
}

/** A place as `X,Y`. Throws `WrongUsage`. */
function pointOf(flag: string, value: string): { x: number; y: number } {
  const parts = value.split(',');
  const [x, y] = parts.map((v) => (v.trim() === '' ? NaN : Number(v))) as [number, number];
  if (parts.length !== 2 || !Number.isFinite(x) || !Number.isFinite(y))
    throw new WrongUsage(`--${flag} is given as X,Y, not "${value}"`);
  return { x, y };
}

/** A number that is not below zero. Throws `WrongUsage`. */
export function numberOf(flag: string, value: string): number {
  const n = Number(value);
  if (!Number.isFinite(n) || n < 0 || value.trim() === '')
    throw new WrongUsage(`--${flag} needs a number, not "${value}"`);
  return n;
}

/** `A=B`, given as often as there are pairs. Throws `WrongUsage`. */
export const pairsOf = (flag: string, given: readonly string[]): [string, string][] =>
  given.map((g) => {
    const at = g.indexOf('=');
    if (at < 1 || at === g.length - 1) throw new WrongUsage(`--${flag} is given as A=B, not "${g}"`);
    return [g.slice(0, at), g.slice(at + 1)];
  });

/** Throws `WrongUsage` for an option that the format does not have. */
export function refuseForeign(options: Kept, format: { title: string; options: ParameterSet }): void {
  for (const { path, flag, formats } of OPTION_FLAGS)
    if (path[0]! in options && !(path[0]! in format.options))
      throw new WrongUsage(`--${flag} is for ${formats!.join(' and ')}`);
}

/** Lines of the help, one for each flag: of taking in, and of what is written. */
export const intakeHelp = (): string => INTAKE_FLAGS.map(helpOf).join('\n');
export const optionHelp = (): string => OPTION_FLAGS.map(helpOf).join('\n');

const VALUES: { readonly [K in Parameter['kind']]?: string } = {
  yesNo: '',
  choice: ' X',
  number: ' N',
  length: ' N',
  angle: ' N',
  drawing: ' FILE',
  chart: ' A=B',
  point: ' X,Y',
  colour: ' COLOUR',
};

function helpOf({ flag, of, formats }: Flag): string {
  const description = of.description === undefined ? '' : `: ${of.description}`;
  const choices = of.kind === 'choice' ? Object.entries(of.choices) : [];
  // A choice whose names say all by themselves is listed by them.
  const listed =
    choices.length > 8 ? choices.map(([c]) => kebab(c)) : choices.map(([c, words]) => `${words} (${kebab(c)})`);
  const counted =
    of.kind === 'length' || of.kind === 'point'
      ? ', in the unit of the file'
      : of.kind === 'number' && of.suffix
        ? `, in ${of.suffix}`
        : '';
  const more = of.kind === 'chart' ? '; may be given more than once' : '';
  const only = formats && formats.length < Object.keys(FORMAT_CATALOGUE).length ? ` [${formats.join(', ')}]` : '';
  const words = listed.length > 0 ? `: ${listed.join(', ')}` : '';
  return wrapped(`--${flag}${VALUES[of.kind] ?? ' TEXT'}`, `${of.title}${description}${words}${counted}${more}${only}`);
}

/** A flag, and what it is about beside it in lines of about a hundred letters. */
function wrapped(flag: string, words: string): string {
  const indent = ' '.repeat(25);
  const lines = [''];
  for (const word of words.split(' ')) {
    const last = lines[lines.length - 1]!;
    if (last.length + word.length > 88) lines.push(word);
    else lines[lines.length - 1] = last === '' ? word : `${last} ${word}`;
  }
  return `      ${flag.padEnd(18)} ${lines.join(`\n${indent}`)}`;
}
