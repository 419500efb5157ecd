import type { Kept, KeptValue, Parameter, ParameterSet } from '@scalaria/core';
import { FORMAT_CATALOGUE } from '@scalaria/core';
import { WrongUsage } from './wrong-usage.js';

/*
 * The flags of what can be asked of the writers, made from what the formats say of their options: `fittedLines` is written
 * fitted-lines, and of a chart a flag is given once for each row.
 */

const kebab = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
const inner = (one: Parameter): Parameter => (one.kind === 'optional' ? inner(one.of) : one);

interface Flag {
  name: string;
  flag: string;
  of: Parameter;
  /** Titles of the formats that know it. */
  formats: string[];
}

/** Every option of every format once. */
export const FLAGS: readonly Flag[] = (() => {
  const all = new Map<string, Flag>();
  for (const { title, options } of Object.values(FORMAT_CATALOGUE))
    for (const [name, one] of Object.entries(options as ParameterSet)) {
      const of = inner(one);
      const flag = kebab(of.kind === 'chart' ? name.replace(/s$/, '') : name);
      const known = all.get(name) ?? { name, flag, of, formats: [] };
      known.formats.push(title);
      all.set(name, known);
    }
  return [...all.values()];
})();

/** What `parseArgs` is to look for. */
export const flagConfig = Object.fromEntries(
  FLAGS.map(({ flag, of }) => [
    flag,
    { type: of.kind === 'yesNo' ? ('boolean' as const) : ('string' as const), multiple: of.kind === 'chart' },
  ]),
);

/** The options that were given, by their own names. Throws `WrongUsage`. */
export function readFlags(given: Readonly<Record<string, unknown>>): Kept {
  const out: Record<string, KeptValue> = {};
  for (const { name, flag, of } of FLAGS) {
    const value = given[flag];
    if (value !== undefined) out[name] = readFlag(flag, of, value);
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
      if (chosen === undefined) throw new WrongUsage(`--${flag} is one of ${Object.keys(of.choices).map(kebab).join(', ')}`); // prettier-ignore
      return chosen;
    }
    case 'chart':
      return pairsOf(flag, value as string[]).map(([from, to]) => ({ from, to }));
    default:
      return String(value);
  }
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
  for (const { name, flag, formats } of FLAGS)
    if (name in options && !(name in format.options)) throw new WrongUsage(`--${flag} is for ${formats.join(' and ')}`);
}

/** Lines of the help, one for each flag. */
export const flagHelp = (): string =>
  FLAGS.map(({ flag, of, formats }) => {
    const value = { yesNo: '', choice: ' X', number: ' N', length: ' N', angle: ' N', drawing: ' FILE', chart: ' A=B' }[of.kind as string] ?? ' TEXT'; // prettier-ignore
    const words = of.kind === 'choice' ? `: ${Object.entries(of.choices).map(([c, w]) => `${w} (${kebab(c)})`).join(', ')}` : ''; // prettier-ignore
    const counted = of.kind === 'length' ? ', in the unit of the file' : of.kind === 'number' && of.suffix ? `, in ${of.suffix}` : ''; // prettier-ignore
    const more = of.kind === 'chart' ? '; may be given more than once' : '';
    const of_ = formats.length < Object.keys(FORMAT_CATALOGUE).length ? ` [${formats.join(', ')}]` : '';
    return wrapped(
      `--${flag}${value}`,
      `${of.title}${of.description === undefined ? '' : `: ${of.description}`}${words}${counted}${more}${of_}`,
    );
  }).join('\n');

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
