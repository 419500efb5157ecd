import type { FontBook } from './fonts.js';
import type { TextLine } from './layout.js';

/** Half as thick as a bar is, and where those under and over letters lie, in ems. */
const HALF = 0.03;
const UNDER = -0.12;
const OVER = 0.08;

/** A bar under, over or through letters: from the pen on, in ems. */
export interface LetterBar {
  readonly from: number;
  readonly to: number;
  readonly lower: number;
  readonly upper: number;
}

/** The bars of a line that is so many ems long: under it, over its capitals and through their middle. */
export function letterBars(line: TextLine, advance: number, fonts: FontBook): LetterBar[] {
  const heights: number[] = [];
  if (line.underline) heights.push(UNDER);
  if (line.overline) heights.push(fonts.capital(line.family) + OVER);
  if (line.strike) heights.push(fonts.capital(line.family) / 2);
  return heights.map((y) => ({ from: 0, to: advance, lower: y - HALF, upper: y + HALF }));
}
