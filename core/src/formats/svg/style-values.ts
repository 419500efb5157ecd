import { parseColour } from './colours.js';

/** A number or a percentage of one, from 0 to 1 (CSS Color 4, `<alpha-value>`). */
const alpha = (value: string): string | null => {
  const match = /^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(%?)$/i.exec(value);
  if (!match) return null;
  const n = Number(match[1]) / (match[2] === '%' ? 100 : 1);
  return String(Math.min(1, Math.max(0, n)));
};

/** `none`, a colour, a colour of the context, or a reference with what stands in for it (SVG 2, `<paint>`). */
const paint = (value: string): string | null =>
  /^(none|currentcolor|context-fill|context-stroke)$/i.test(value) ||
  /^url\(/i.test(value) ||
  parseColour(value) !== null
    ? value
    : null;

const oneOf =
  (...words: readonly string[]) =>
  (value: string): string | null => {
    const word = value.toLowerCase();
    return words.includes(word) ? word : null;
  };

/** What each property takes; those that are not listed take anything. */
const GRAMMAR: ReadonlyMap<string, (value: string) => string | null> = new Map([
  ...['opacity', 'fill-opacity', 'stroke-opacity', 'stop-opacity'].map((n) => [n, alpha] as const),
  ['fill', paint],
  ['stroke', paint],
  ['fill-rule', oneOf('nonzero', 'evenodd')],
  ['clip-rule', oneOf('nonzero', 'evenodd')],
  ['visibility', oneOf('visible', 'hidden', 'collapse')],
  ['stroke-linecap', oneOf('butt', 'round', 'square')],
  ['stroke-linejoin', oneOf('miter', 'miter-clip', 'round', 'bevel', 'arcs')],
  ['text-anchor', oneOf('start', 'middle', 'end')],
]);

/** A value in the one form in which it is kept, or `null` for what the property does not know. */
export function soundValue(name: string, value: string): string | null {
  const grammar = GRAMMAR.get(name);
  return grammar ? grammar(value.trim()) : value;
}
