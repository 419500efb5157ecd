import { parsePathData } from '../geometry/path-data.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import { scaling, translation, compose } from '../geometry/affine.js';
import type { StrokeFont, StrokeGlyph } from './stroke-font.js';

/** The family name of the lettering that ships with the application. */
export const SINGLE_LINE = 'Kestrel Line';

/** The lettering is drawn on a grid: capitals 9 high, small letters 6, tails down to −3; 1.5 of room on either side. */
const CAP = 9;
const SIDE = 1.5;
const LINE_CAPITAL = 0.7;
const GRID = LINE_CAPITAL / CAP;

const OVAL = 'M5 3A2.5 3 0 0 1 0 3A2.5 3 0 0 1 5 3Z';
const ROUND = 'M3.5 9A3.5 3.5 0 0 1 0 5.5V3.5A3.5 3.5 0 0 1 7 3.5V5.5A3.5 3.5 0 0 1 3.5 9Z';

/** Width on the grid and strokes (SVG path data, y upwards). */
const GLYPHS: Record<string, [number, string]> = {
  ' ': [1.5, ''],
  A: [6, 'M0 0L3 9L6 0M1 3H5'],
  B: [6, 'M0 0V9H3.5A2.25 2.25 0 0 0 3.5 4.5H0M3.5 4.5H3.75A2.25 2.25 0 0 0 3.75 0H0'],
  C: [6, 'M6 7.2A3.2 3.2 0 0 1 3 9A3 3 0 0 1 0 6V3A3 3 0 0 1 3 0A3.2 3.2 0 0 1 6 1.8'],
  D: [7, 'M0 0V9H2.5A4.5 4.5 0 0 0 2.5 0Z'],
  E: [5.5, 'M5.5 9H0V0H5.5M0 4.5H4.5'],
  F: [5.5, 'M5.5 9H0V0M0 4.5H4.5'],
  G: [
    6.5,
    'M6.2 7.2A3.25 3.25 0 0 1 3.25 9A3.25 3.25 0 0 1 0 5.75V3.25A3.25 3.25 0 0 1 3.25 0A3.25 3.25 0 0 1 6.5 3.25V4H3.8',
  ],
  H: [6, 'M0 0V9M6 0V9M0 4.5H6'],
  I: [0, 'M0 0V9'],
  J: [4, 'M4 9V2A2 2 0 0 0 0 2'],
  K: [6, 'M0 0V9M6 9L0 3.5M2.2 5.5L6 0'],
  L: [5, 'M0 9V0H5'],
  M: [7, 'M0 0V9L3.5 3L7 9V0'],
  N: [6, 'M0 0V9L6 0V9'],
  O: [7, ROUND],
  P: [6, 'M0 0V9H3.5A2.5 2.5 0 0 0 3.5 4H0'],
  Q: [7, ROUND + 'M4.5 2L7 -.8'],
  R: [6, 'M0 0V9H3.5A2.5 2.5 0 0 0 3.5 4H0M3 4L6 0'],
  S: [6, 'M5.8 7.4A2.4 2.4 0 0 1 3.6 9H2.3A2.2 2.2 0 0 1 2.3 4.6H3.6A2.3 2.3 0 0 0 3.6 0H2.2A2.4 2.4 0 0 0 0 1.6'],
  T: [6, 'M0 9H6M3 9V0'],
  U: [6, 'M0 9V3A3 3 0 0 1 6 3V9'],
  V: [6, 'M0 9L3 0L6 9'],
  W: [9, 'M0 9L2.25 0L4.5 7L6.75 0L9 9'],
  X: [6, 'M0 0L6 9M0 9L6 0'],
  Y: [6, 'M0 9L3 4.5L6 9M3 4.5V0'],
  Z: [6, 'M0 9H6L0 0H6'],
  a: [5, 'M5 6V0' + OVAL],
  b: [5, 'M0 9V0' + OVAL],
  c: [4.6, 'M4.6 4.6A2.5 3 0 0 1 0 3A2.5 3 0 0 1 4.6 1.4'],
  d: [5, 'M5 9V0' + OVAL],
  e: [5, 'M0 3H5A2.5 3 0 0 1 0 3A2.5 3 0 0 1 4.4 1'],
  f: [3, 'M3.2 8.9A1.7 1.7 0 0 1 1.2 7.2V0M0 6H3'],
  g: [5, OVAL + 'M5 6V-.5A2.5 2.5 0 0 0 .3 -1.8'],
  h: [5, 'M0 9V0M0 3.5A2.5 2.5 0 0 0 5 3.5V0'],
  i: [0, 'M0 0V6M0 8V8.6'],
  j: [1.5, 'M1.5 6V-1.3A1.7 1.7 0 0 0 0 -3M1.5 8V8.6'],
  k: [4.5, 'M0 9V0M4.5 6L0 2.3M1.6 3.6L4.5 0'],
  l: [1.5, 'M0 9V1.5A1.5 1.5 0 0 1 1.5 0'],
  m: [8, 'M0 6V0M0 4A2 2 0 0 0 4 4V0M4 4A2 2 0 0 0 8 4V0'],
  n: [5, 'M0 6V0M0 3.5A2.5 2.5 0 0 0 5 3.5V0'],
  o: [5, OVAL],
  p: [5, 'M0 6V-3' + OVAL],
  q: [5, 'M5 6V-3' + OVAL],
  r: [3, 'M0 6V0M0 3.5A2.5 2.5 0 0 0 2.5 6H3'],
  s: [4.5, 'M4.3 4.9A1.7 1.7 0 0 1 2.8 6H1.6A1.5 1.5 0 0 1 1.6 3H2.9A1.5 1.5 0 0 0 2.9 0H1.6A1.7 1.7 0 0 0 0 1.1'],
  t: [3, 'M1.2 8V1.6A1.6 1.6 0 0 0 3 0M0 6H3'],
  u: [5, 'M0 6V2.5A2.5 2.5 0 0 1 5 2.5M5 6V0'],
  v: [5, 'M0 6L2.5 0L5 6'],
  w: [8, 'M0 6L2 0L4 5L6 0L8 6'],
  x: [5, 'M0 0L5 6M0 6L5 0'],
  y: [5, 'M0 6L2.5 0M5 6L1.5 -3'],
  z: [5, 'M0 6H5L0 0H5'],
  '0': [5.5, 'M2.75 9A2.75 2.75 0 0 1 0 6.25V2.75A2.75 2.75 0 0 1 5.5 2.75V6.25A2.75 2.75 0 0 1 2.75 9Z'],
  '1': [5.5, 'M1 7L3 9V0'],
  '2': [5.5, 'M0 6.5A2.6 2.5 0 0 0 5.2 6.5C5.2 4.6 3.2 3.2 0 0H5.5'],
  '3': [
    5.5,
    'M.2 7.3A2.6 2.25 0 0 0 2.7 9A2.25 2.25 0 0 0 2.7 4.5H1.8M2.7 4.5H3A2.25 2.25 0 0 0 3 0H2.6A2.6 2.25 0 0 0 0 1.7',
  ],
  '4': [5.5, 'M4.2 0V9L0 2.8H5.5'],
  '5': [5.5, 'M5 9H.6L.2 5A2.9 2.7 0 0 0 2.6 5.6A2.8 2.8 0 0 0 2.6 0A2.8 2.8 0 0 0 0 1.5'],
  '6': [5.5, 'M4.8 8.6C1.8 8.6 0 6 0 2.75A2.75 2.75 0 0 1 5.5 2.75A2.75 2.75 0 0 1 0 2.75'],
  '7': [5.5, 'M0 9H5.5L1.8 0'],
  '8': [
    5.5,
    'M2.75 4.7A2.15 2.15 0 0 1 2.75 9A2.15 2.15 0 0 1 2.75 4.7A2.35 2.35 0 0 1 2.75 0A2.35 2.35 0 0 1 2.75 4.7Z',
  ],
  '9': [5.5, 'M.7 .4C3.7 .4 5.5 3 5.5 6.25A2.75 2.75 0 0 1 0 6.25A2.75 2.75 0 0 1 5.5 6.25'],
  '.': [0, 'M0 0V.4'],
  ',': [0.8, 'M.8 .5L0 -1.4'],
  ':': [0, 'M0 0V.4M0 4.6V5'],
  ';': [0.8, 'M.8 .5L0 -1.4M.6 4.6V5'],
  '!': [0, 'M0 0V.4M0 2.4V9'],
  '?': [4.6, 'M0 7A2.4 2.2 0 0 0 4.6 7C4.6 5 2.3 5 2.3 2.4M2.3 0V.4'],
  "'": [0, 'M0 9V6.8'],
  '"': [1.6, 'M0 9V6.8M1.6 9V6.8'],
  '(': [3, 'M3 10.5A8.5 8.5 0 0 1 3 -2.5'],
  ')': [3, 'M0 10.5A8.5 8.5 0 0 0 0 -2.5'],
  '[': [2, 'M2 10.5H0V-2.5H2'],
  ']': [2, 'M0 10.5H2V-2.5H0'],
  '{': [3, 'M3 10.5H2.4A1 1 0 0 1 1.4 9.5V5A1 1 0 0 0 .4 4H0H.4A1 1 0 0 0 1.4 3V-1.5A1 1 0 0 1 2.4 -2.5H3'],
  '}': [3, 'M0 10.5H.6A1 1 0 0 0 1.6 9.5V5A1 1 0 0 1 2.6 4H3H2.6A1 1 0 0 1 1.6 3V-1.5A1 1 0 0 0 .6 -2.5H0'],
  '+': [6, 'M0 4H6M3 1V7'],
  '-': [4, 'M0 4H4'],
  '–': [6, 'M0 4H6'],
  '—': [9, 'M0 4H9'],
  '−': [6, 'M0 4H6'],
  '=': [6, 'M0 2.8H6M0 5.2H6'],
  '/': [5, 'M0 -1L5 10'],
  '\\': [5, 'M0 10L5 -1'],
  '*': [4, 'M2 9V5M.3 8L3.7 6M.3 6L3.7 8'],
  '#': [6, 'M1 0L2 9M4 0L5 9M0 6H6M0 3H6'],
  '%': [
    8,
    'M0 0L8 9M3.4 7.3A1.7 1.7 0 0 1 0 7.3A1.7 1.7 0 0 1 3.4 7.3ZM8 1.7A1.7 1.7 0 0 1 4.6 1.7A1.7 1.7 0 0 1 8 1.7Z',
  ],
  '&': [6.5, 'M6.5 0L1.4 6A1.9 1.9 0 1 0 4.3 6.2L1.2 4A2.3 2.3 0 0 1 2.4 0C4.4 0 5.8 1.8 6.2 4'],
  '@': [9, 'M6.4 4.5A1.9 1.9 0 0 1 2.6 4.5A1.9 1.9 0 0 1 6.4 4.5V3.4A1.3 1.3 0 0 1 9 3.4V4.5A4.5 4.5 0 1 1 7 .7'],
  '<': [6, 'M6 7L0 4L6 1'],
  '>': [6, 'M0 7L6 4L0 1'],
  '^': [4, 'M0 6L2 9L4 6'],
  _: [6, 'M0 -2H6'],
  '`': [1.5, 'M0 9L1.5 7.4'],
  '|': [0, 'M0 10V-2'],
  '~': [6, 'M0 3.6C1.5 5.6 4.5 2 6 4.2'],
  $: [
    6,
    'M5.8 7.4A2.4 2.4 0 0 1 3.6 9H2.3A2.2 2.2 0 0 1 2.3 4.6H3.6A2.3 2.3 0 0 0 3.6 0H2.2A2.4 2.4 0 0 0 0 1.6M3 10.2V-1.2',
  ],
  '€': [6.5, 'M6.5 7.2A3.2 3.2 0 0 1 3.8 9A3 3 0 0 1 .8 6V3A3 3 0 0 1 3.8 0A3.2 3.2 0 0 1 6.5 1.8M0 5.2H4.6M0 3.8H4.2'],
  '£': [5.5, 'M5 7.2A2.1 2.1 0 0 0 1 6.8C1 5 2 3 0 0H5.5M0 4.2H4'],
  '°': [3, 'M3 7.5A1.5 1.5 0 0 1 0 7.5A1.5 1.5 0 0 1 3 7.5Z'],
  '±': [6, 'M0 5H6M3 2V8M0 0H6'],
  '×': [5, 'M0 1.5L5 6.5M0 6.5L5 1.5'],
  '÷': [6, 'M0 4H6M3 1V1.4M3 6.6V7'],
  '·': [0, 'M0 3.8V4.2'],
  '…': [6, 'M0 0V.4M3 0V.4M6 0V.4'],
  µ: [5, 'M0 6V-3M0 2.5A2.5 2.5 0 0 1 5 2.5M5 6V0'],
  Ø: [7, ROUND + 'M.5 -.5L6.5 9.5'],
  ø: [5, OVAL + 'M0 -.5L5 6.5'],
  ß: [5, 'M0 0V6.7A2.2 2.3 0 0 0 4.4 6.7A2 2 0 0 0 2.4 4.8H2.8A2.4 2.4 0 0 0 2.8 0H1.8'],
  Æ: [9, 'M0 0L4.5 9H9M4.5 9V0H9M4.5 4.5H8M1.5 3H4.5'],
  æ: [10, OVAL + 'M5 6V0M5 3H10A2.5 3 0 0 1 5 3A2.5 3 0 0 1 9.4 1'],
  Œ: [9.5, 'M4.5 9H3.5A3.5 3.5 0 0 1 0 5.5V3.5A3.5 3.5 0 0 1 3.5 0H9.5M9.5 9H4.5V0M4.5 4.5H8.5'],
  œ: [10, OVAL + 'M5 3H10A2.5 3 0 0 1 5 3A2.5 3 0 0 1 9.4 1'],
  Ł: [5, 'M0 9V0H5M-.9 3.4L2.6 5.8'],
  ł: [2, 'M1 9V1.5A1.5 1.5 0 0 1 2.5 0M-.4 3.6L2.4 5.6'],
  Đ: [7, 'M0 0V9H2.5A4.5 4.5 0 0 0 2.5 0ZM-1 4.5H3'],
  đ: [5, 'M5 9V0M3 7.6H6.4' + OVAL],
  ı: [0, 'M0 0V6'],
  ȷ: [1.5, 'M1.5 6V-1.3A1.7 1.7 0 0 0 0 -3'],
};

/** Characters that are drawn like others. */
const ALIKE: Record<string, string> = {
  '‘': "'",
  '’': "'",
  '“': '"',
  '”': '"',
  '‚': ',',
  '\u00a0': ' ',
  '∅': 'Ø',
  '⌀': 'Ø',
  μ: 'µ',
  '‐': '-',
  '‑': '-',
  '′': "'",
  '″': '"',
};

/** Marks over and under letters: strokes about x = 0 over a letter whose top is at 0. Those below start at the baseline. */
const MARKS: Record<string, [string, 'above' | 'below']> = {
  '\u0300': ['M-1 2L.4 .8', 'above'],
  '\u0301': ['M1 2L-.4 .8', 'above'],
  '\u0302': ['M-1.4 .8L0 2L1.4 .8', 'above'],
  '\u0303': ['M-1.6 1C-.8 2.2 .8 .4 1.6 1.6', 'above'],
  '\u0304': ['M-1.5 1.2H1.5', 'above'],
  '\u0306': ['M-1.4 2A1.4 1.3 0 0 1 1.4 2', 'above'],
  '\u0307': ['M0 1.2V1.6', 'above'],
  '\u0308': ['M-1.2 1.2V1.6M1.2 1.2V1.6', 'above'],
  '\u030a': ['M1 1.7A1 1 0 0 1 -1 1.7A1 1 0 0 1 1 1.7Z', 'above'],
  '\u030b': ['M-.2 2L-1.2 .8M1.4 2L.4 .8', 'above'],
  '\u030c': ['M-1.4 2L0 .8L1.4 2', 'above'],
  '\u0323': ['M0 -1.4V-1', 'below'],
  '\u0327': ['M0 0V-.8A.9 .9 0 0 1 -.6 -2.4', 'below'],
  '\u0328': ['M.8 0A1.2 1.2 0 0 0 1.6 -2.2', 'below'],
};

function drawn(char: string): { width: number; path: PathData } | null {
  const own = GLYPHS[ALIKE[char] ?? char];
  if (own) return { width: own[0], path: parsePathData(own[1]).path };
  // Small raised figures.
  const raised = '⁰¹²³⁴⁵⁶⁷⁸⁹'.indexOf(char);
  if (raised >= 0) {
    const [w, d] = GLYPHS[String(raised)]!;
    return {
      width: w * 0.6,
      path: transformPath(parsePathData(d).path, compose(translation(0, 4), scaling(0.6, 0.6, 1))),
    };
  }
  const [base, ...marks] = char.normalize('NFD');
  if (marks.length === 0 || !marks.every((m) => MARKS[m])) return null;
  const above = marks.some((m) => MARKS[m]![1] === 'above');
  const letter = drawn(above && base! === 'i' ? 'ı' : above && base! === 'j' ? 'ȷ' : base!);
  if (!letter) return null;
  let { path } = letter;
  let top = /[a-z]/.test(base!) && !/[bdfhklt]/.test(base!) ? 6 : CAP;
  for (const m of marks) {
    const [d, where] = MARKS[m]!;
    path = new PathBuilder()
      .append(path)
      .append(transformPath(parsePathData(d).path, translation(letter.width / 2, where === 'above' ? top : 0)))
      .build();
    if (where === 'above') top += 2;
  }
  return { width: letter.width, path };
}

const known = new Map<number, StrokeGlyph | null>();

/** The single-line lettering of the application: Latin letters with their marks, figures and signs, in open strokes. */
export const singleLine: StrokeFont = {
  family: SINGLE_LINE,
  capital: LINE_CAPITAL,
  glyph(codePoint) {
    const found = known.get(codePoint);
    if (found !== undefined) return found;
    const g = drawn(String.fromCodePoint(codePoint));
    const made = g && {
      advance: (g.width + 2 * SIDE) * GRID,
      path: transformPath(g.path, compose(scaling(GRID, GRID, 1), translation(SIDE, 0))),
    };
    known.set(codePoint, made);
    return made;
  },
};
