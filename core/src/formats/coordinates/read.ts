import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { UnitName } from '../../drawing/units.js';
import { isUnitName } from '../../drawing/units.js';
import type { ReadWork, Reading } from '../format.js';
import { UnreadableFile } from '../format.js';
import type { ReadCoordinates } from './parse.js';
import { parseCoordinates } from './parse.js';

/** Longer texts are not read. */
const MOST_BYTES = 64 << 20;
/** So much of the beginning says what a file is. */
const HEAD = 4096;
/** So many wrong lines are named in a refusal. */
const NAMED = 3;

/** Whether bytes are text at all: none of their beginning is a sign that text does not hold. */
export const isText = (bytes: Uint8Array): boolean =>
  !/[\u0000-\u0008\u000e-\u001f\ufffd]/.test(decoded(bytes.subarray(0, HEAD)).replace(/\ufffd*$/, ''));

/** Whether bytes are text whose first line, after comments and a heading, holds two or three numbers and nothing else. */
export function isCoordinates(bytes: Uint8Array): boolean {
  if (!isText(bytes)) return false;
  const lines = decoded(bytes.subarray(0, HEAD))
    .split(/\r\n|\r|\n/)
    .map((l) => l.replace(/#.*$/, '').trim())
    .filter(Boolean);
  const first = lines.find((l) => /\d/.test(l)) ?? '';
  const before = lines.indexOf(first);
  return (
    before >= 0 && before <= 1 && /^[+-]?[\d.,]+(e[+-]?\d+)?([;,\s]+[+-]?[\d.,]+(e[+-]?\d+)?){1,5};?$/i.test(first)
  );
}

/** Text by its mark of order, else UTF-8. */
export function decoded(bytes: Uint8Array): string {
  const [a, b] = bytes;
  const encoding = a === 0xff && b === 0xfe ? 'utf-16le' : a === 0xfe && b === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(encoding).decode(bytes);
}

/** The unit that a comment states (`# unit: mm`); `null` where none does. */
export function unitInText(text: string): UnitName | null {
  const said = /^[ \t]*#[ \t]*unit[ \t]*[:=][ \t]*([a-z]+)[ \t]*$/im.exec(text)?.[1] ?? '';
  return isUnitName(said) ? said : null;
}

/**
 * Reads coordinates as text: each outline is a closed polyline, its third numbers bulges or heights. Throws `UnreadableFile`
 * where a line is wrong, or where what was not said has to be asked: nothing is taken in half.
 */
export function readCoordinates(bytes: Uint8Array, work?: ReadWork): Reading {
  if (bytes.length > MOST_BYTES)
    throw new UnreadableFile(
      `The text has ${Math.round(bytes.length / 1e6)} MB, and ${MOST_BYTES >> 20} MB are the most`,
      'its length',
      'Part it into several files.',
    );
  const text = decoded(bytes);
  const { decimal, third } = work ?? {};
  const read = parseCoordinates(text, { ...(decimal && { decimal }), ...(third && { third }) });
  refuse(read);
  const drawing = emptyDrawing('coordinates', '1');
  const unit = unitInText(text);
  if (unit) drawing.unit = { unit, factor: 1 };
  drawing.layers.push(newLayer('0'));
  const high = read.third === 'height';
  for (const { points } of read.outlines) {
    const bulges = read.third === 'bulge' ? points.map((p) => p[2] ?? 0) : [];
    drawing.entities.push({
      kind: 'polyline',
      id: drawing.nextId++,
      layer: '0',
      look: DRAFTING_DEFAULT,
      points: Float64Array.from(points.flatMap((p) => (high ? [p[0]!, p[1]!, p[2] ?? 0] : [p[0]!, p[1]!]))),
      dim: high ? 3 : 2,
      elevation: 0,
      closed: true,
      ...(bulges.some((b) => b !== 0) && { bulges: Float64Array.from(bulges) }),
    });
  }
  return { drawing, ledger: [] };
}

function refuse({ wrong, open, outlines, evidence }: ReadCoordinates): void {
  if (open.includes('decimal'))
    throw new UnreadableFile(
      'The commas can part numbers or stand before decimals',
      'all lines',
      'Say which sign comes before decimals, a point or a comma (--decimal in the shell).',
    );
  if (open.includes('third'))
    throw new UnreadableFile(
      `Each line has a third number, and no heading says what it is: ${evidence}`,
      'the third column',
      'Say whether it is a bulge or a height (--third in the shell).',
    );
  const [first] = wrong;
  if (first) {
    const more = wrong.length - NAMED;
    const named = wrong
      .slice(0, NAMED)
      .map((w) => `line ${w.line}: ${w.reason}`)
      .join('; ');
    throw new UnreadableFile(
      `${wrong.length === 1 ? 'A line' : `${wrong.length} lines`} cannot be read: ${named}${more > 0 ? `; and ${more} more` : ''}`,
      `line ${first.line}`,
      'Mend them and take the text in again: nothing is taken in half.',
    );
  }
  if (outlines.length === 0)
    throw new UnreadableFile('The text holds no coordinates', 'all lines', 'Each line needs x and y.');
}
