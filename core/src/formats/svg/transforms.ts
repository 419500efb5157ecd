import type { Affine } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import { IDENTITY, compose, planar, rotation, scaling, translation } from '../../geometry/affine.js';
import { parseLength } from './lengths.js';
import { wordTable } from '../../drawing/word-table.js';

const NAME_BEFORE = /([a-zA-Z]+)\s*$/;
/** A number and the unit that the `transform` property may give it; bare numbers are pixels or degrees, or factors, of which parts. */
const VALUE = /([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)([a-zA-Z]+|%)?/g;
const UNITS = wordTable<number>({
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  pt: 4 / 3,
  pc: 16,
  '%': 0.01,
  deg: 1,
  grad: 0.9,
  rad: 180 / Math.PI,
  turn: 360,
});
const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g;

/** A `transform` attribute or property; angles in degrees unless a unit says otherwise. `null` when it makes no sense. */
export function parseTransform(text: string | undefined): Affine | null {
  if (!text || text.trim() === 'none') return IDENTITY;
  let m: Affine = IDENTITY;
  let any = false;
  for (const [name, list] of callsOf(text)) {
    const v = [...list.matchAll(VALUE)].map((x) => Number(x[1]) * (UNITS[(x[2] ?? '').toLowerCase()] ?? 1));
    const next = single(name.toLowerCase(), v);
    if (!next) return null;
    m = compose(m, next);
    any = true;
  }
  return any && m.every(Number.isFinite) ? m : null;
}

/**
 * The properties `translate`, `rotate` and `scale`, which come before `transform` (CSS Transforms 2 §5): lengths and parts of the
 * viewport, an angle about the z axis, factors.
 */
export function properTransforms(
  get: (name: string) => string | undefined,
  { viewport, em }: { viewport: { width: number; height: number }; em: number },
): Affine {
  const words = (name: string): string[] => {
    const text = get(name)?.trim();
    return !text || text === 'none' ? [] : text.split(/\s+/);
  };
  let m = IDENTITY;
  const [x, y] = words('translate');
  if (x !== undefined) {
    const along = (word: string | undefined, percentOf: number): number => parseLength(word, { percentOf, em }) ?? 0;
    m = compose(m, translation(along(x, viewport.width), along(y, viewport.height)));
  }
  const turn = words('rotate').filter((w) => w !== 'z' && !/^[+]?[01]$/.test(w));
  const angle = turn.length === 1 ? /^([+-]?[\d.]+(?:e[+-]?\d+)?)(deg|grad|rad|turn)$/i.exec(turn[0]!) : null;
  if (angle) m = compose(m, rotation((Number(angle[1]) * UNITS[angle[2]!.toLowerCase()]! * Math.PI) / 180));
  const factors = words('scale').map((w) => (w.endsWith('%') ? Number(w.slice(0, -1)) / 100 : Number(w)));
  if (factors.length > 0) m = compose(m, scaling(factors[0]!, factors[1] ?? factors[0]!, 1));
  return m.every(Number.isFinite) ? m : IDENTITY;
}

/** The calls `name(list)` of a text, in order, in one pass: a name without its closing bracket ends it. */
function* callsOf(text: string): Generator<[string, string]> {
  let at = 0;
  for (;;) {
    const open = text.indexOf('(', at);
    const close = open < 0 ? -1 : text.indexOf(')', open);
    if (close < 0) return;
    // Of a long stretch before the bracket only its end can be a name.
    const name = NAME_BEFORE.exec(text.slice(Math.max(at, open - 64), open));
    if (name) yield [name[1]!, text.slice(open + 1, close)];
    at = close + 1;
  }
}

function single(name: string, v: number[]): Affine | null {
  const rad = (d: number): number => (d * Math.PI) / 180;
  switch (name) {
    case 'matrix':
      return v.length === 6 ? planar(v[0]!, v[1]!, v[2]!, v[3]!, v[4]!, v[5]!) : null;
    case 'translate':
      return v.length >= 1 ? translation(v[0]!, v[1] ?? 0) : null;
    case 'translatex':
      return translation(v[0] ?? 0, 0);
    case 'translatey':
      return translation(0, v[0] ?? 0);
    case 'scale':
      return v.length >= 1 ? scaling(v[0]!, v[1]! ?? v[0]!, 1) : null;
    case 'rotate': {
      if (v.length === 0) return null;
      const r = rotation(rad(v[0]!));
      return v.length >= 3 ? compose(translation(v[1]!, v[2]!), compose(r, translation(-v[1]!, -v[2]!))) : r;
    }
    case 'scalex':
      return scaling(v[0] ?? 1, 1, 1);
    case 'scaley':
      return scaling(1, v[0] ?? 1, 1);
    case 'skew':
      return planar(1, Math.tan(rad(v[1] ?? 0)), Math.tan(rad(v[0] ?? 0)), 1, 0, 0);
    case 'skewx':
      return planar(1, 0, Math.tan(rad(v[0] ?? 0)), 1, 0, 0);
    case 'skewy':
      return planar(1, Math.tan(rad(v[0] ?? 0)), 0, 1, 0, 0);
    default:
      return null;
  }
}

/**
 * The point of `transform-origin` in user space, words and percentages counting in `frame` (CSS Transforms 1 §4). Lengths
 * count from the frame's corner.
 */
export function transformOrigin(text: string, frame: Box2, em: number): [number, number] {
  const words = text.trim().split(/\s+/).slice(0, 2);
  if (words.length === 2 && (/^(top|bottom)$/.test(words[0]!) || /^(left|right)$/.test(words[1]!))) words.reverse();
  const WORDS = wordTable<string>({ left: '0%', top: '0%', center: '50%', right: '100%', bottom: '100%' });
  const along = (word: string | undefined, size: number): number =>
    parseLength(WORDS[word ?? 'center'] ?? word, { percentOf: size, em }) ?? 0;
  if (words.length === 1 && /^(top|bottom)$/.test(words[0]!)) words.unshift('center');
  return [frame.minX + along(words[0], frame.width), frame.minY + along(words[1], frame.height)];
}

/**
 * The map of a `viewBox` onto a viewport by `preserveAspectRatio` (SVG 2 §8.2): the box (x, y, w, h) into the rectangle
 * (0, 0, width, height).
 */
export function viewBoxMap(
  box: { x: number; y: number; width: number; height: number },
  width: number,
  height: number,
  preserve: string | undefined,
): Affine {
  const [align = 'xMidYMid', how = 'meet'] = (preserve ?? '')
    .trim()
    .split(/\s+/)
    .filter((w) => w !== 'defer' && w !== '');
  let kx = width / box.width;
  let ky = height / box.height;
  if (align !== 'none') kx = ky = how === 'slice' ? Math.max(kx, ky) : Math.min(kx, ky);
  const part = (axis: 'x' | 'y'): number => {
    const word = new RegExp(`${axis}(Min|Mid|Max)`, 'i').exec(align)?.[1]?.toLowerCase() ?? 'mid';
    return word === 'min' ? 0 : word === 'max' ? 1 : 0.5;
  };
  const tx = align === 'none' ? 0 : (width - box.width * kx) * part('x');
  const ty = align === 'none' ? 0 : (height - box.height * ky) * part('y');
  return planar(kx, 0, 0, ky, tx - box.x * kx, ty - box.y * ky);
}

export function parseViewBox(text: string | undefined): { x: number; y: number; width: number; height: number } | null {
  const v = (text?.match(NUMBER) ?? []).map(Number);
  return v.length === 4 && v[2]! > 0 && v[3]! > 0 ? { x: v[0]!, y: v[1]!, width: v[2]!, height: v[3]! } : null;
}
