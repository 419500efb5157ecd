import { endpointToCentre } from '../../geometry/ellipses.js';
import { withCubics } from '../../geometry/arc-cubics.js';
import { pointAt } from '../../geometry/path-pieces.js';
import type { PathData } from '../../geometry/path.js';
import { CMD_LENGTH, Cmd } from '../../geometry/path.js';

const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9];
const ZEROS = ['', '0', '00', '000', '0000', '00000', '000000', '0000000', '00000000'];

/** `value` with at most `decimals` digits after the point and no needless ones. */
export function shortNumber(value: number, decimals: number): string {
  if (decimals <= 9 && value < 1e6 && value > -1e6) {
    // As a whole number of the last digit's steps; whole numbers are put into text fastest.
    const k = POWERS[decimals];
    const n = Math.round(value < 0 ? -value * k : value * k);
    if (n === 0) return '0';
    let whole = 0;
    let part = n;
    if (n >= k) {
      whole = Math.floor(n / k);
      part = n - whole * k;
    }
    const sign = value < 0 ? '-' : '';
    if (part === 0) return sign + whole;
    let digits = decimals;
    while (part % 10 === 0) {
      part /= 10;
      digits--;
    }
    const text = String(part);
    return `${sign}${whole === 0 ? '' : whole}.${ZEROS[digits - text.length]}${text}`;
  }
  let text = value.toFixed(Math.min(20, decimals));
  if (text.includes('.')) text = text.replace(/\.?0+$/, '');
  if (text === '-0') return '0';
  if (text.startsWith('0.')) return text.slice(1);
  return text.startsWith('-0.') ? '-' + text.slice(2) : text;
}

/** How close to half a turn an arc is written as two, in radians. */
const HALF_TURN = 0.3;

/** The last number that `numberList` wrote, which decides how the next is parted from it. */
let lastNumber = '';

/** Numbers one after the other with no more between them than the grammar of path data asks for. */
export function numberList(numbers: readonly number[], number: (v: number) => string, before = ''): string {
  let out = '';
  let last = before;
  for (const n of numbers) {
    const t = number(n);
    // A sign parts numbers, and so does a point where the number before has one already.
    const parted = last === '' || t[0] === '-' || (t[0] === '.' && last.includes('.'));
    out += parted ? t : ' ' + t;
    last = t;
  }
  lastNumber = last;
  return out;
}

/**
 * Path data in few letters: each command absolute or relative, whichever is shorter, repeated letters left out, `H` and
 * `V` for straight lines along the axes. Relative steps are taken from the rounded point before, so that rounding does
 * not add up. With `cubics` elliptical arcs are written as Béziers.
 */
export function pathText(given: PathData, decimals: number, cubics = false): string {
  const path = cubics ? withCubics(given) : given;
  const number = (v: number): string => shortNumber(v, decimals);
  const k = 10 ** decimals;
  const rounded = (v: number): number => (decimals > 12 ? v : Math.round(v * k) / k);
  let [x, y, sx, sy] = [0, 0, 0, 0];
  let [ex, ey] = [0, 0];
  let out = '';
  let letter = '';
  let tail = '';
  const put = (name: string, absolute: readonly number[], origins: readonly number[]): void => {
    const say = (l: string, numbers: readonly number[]): { text: string; letter: string; tail: string } => {
      // A second move has to be said: numbers alone after a move are lines.
      const implied =
        (l === letter && l !== 'M' && l !== 'm') || (letter === 'M' && l === 'L') || (letter === 'm' && l === 'l');
      const list = numberList(numbers, number, implied ? tail : '');
      const gap = implied && tail !== '' && list[0] !== '-' && !(list[0] === '.' && tail.includes('.')) && list[0] !== ' ' ? ' ' : ''; // prettier-ignore
      return { text: (implied ? gap : l) + list, letter: l, tail: lastNumber };
    };
    const a = say(name, absolute);
    const r = say(name.toLowerCase(), absolute.map((v, i) => (Number.isNaN(origins[i]) ? v : rounded(v) - origins[i]))); // prettier-ignore
    const best = r.text.length < a.text.length ? r : a;
    out += best.text;
    ({ letter, tail } = best);
  };
  const to = (nx: number, ny: number, px: number, py: number): void => {
    [x, y] = [rounded(nx), rounded(ny)];
    [ex, ey] = [px, py];
  };
  let at = 0;
  for (const cmd of path.cmds) {
    const n = path.data.subarray(at, at + CMD_LENGTH[cmd]);
    at += CMD_LENGTH[cmd];
    switch (cmd) {
      case Cmd.Close:
        out += 'Z';
        letter = 'Z';
        tail = '';
        [x, y, ex, ey] = [sx, sy, sx, sy];
        break;
      case Cmd.Move:
        put('M', [n[0], n[1]], [x, y]);
        to(n[0], n[1], n[0], n[1]);
        [sx, sy] = [x, y];
        break;
      case Cmd.Line:
        if (rounded(n[1]) === y && rounded(n[0]) !== x) put('H', [n[0]], [x]);
        else if (rounded(n[0]) === x && rounded(n[1]) !== y) put('V', [n[1]], [y]);
        else put('L', [n[0], n[1]], [x, y]);
        to(n[0], n[1], n[0], n[1]);
        break;
      case Cmd.Quad:
      case Cmd.Cubic:
        put(cmd === Cmd.Quad ? 'Q' : 'C', Array.from(n), cmd === Cmd.Quad ? [x, y, x, y] : [x, y, x, y, x, y]);
        to(n[n.length - 2], n[n.length - 1], n[n.length - 2], n[n.length - 1]);
        break;
      default: {
        const arc = endpointToCentre(ex, ey, n[0], n[1], n[2], n[3] !== 0, n[4] !== 0, n[5], n[6]);
        const turn = n[0] === n[1] ? 0 : (n[2] * 180) / Math.PI;
        const off = arc ? Math.abs(Math.abs(arc.sweep) - Math.PI) : Math.PI;
        if (arc && off < HALF_TURN) {
          // Close to half a turn the last digit of a radius moves the centre far: two shorter arcs do not have that.
          const mid = pointAt({ kind: 'arc', ...arc, from: [ex, ey], to: [n[5], n[6]] }, 0.5);
          put('A', [arc.rx, arc.ry, turn, 0, n[4], mid[0], mid[1]], [NaN, NaN, NaN, NaN, NaN, x, y]);
          to(mid[0], mid[1], mid[0], mid[1]);
          put('A', [arc.rx, arc.ry, turn, 0, n[4], n[5], n[6]], [NaN, NaN, NaN, NaN, NaN, x, y]);
        } else put('A', [n[0], n[1], turn, n[3], n[4], n[5], n[6]], [NaN, NaN, NaN, NaN, NaN, x, y]);
        to(n[5], n[6], n[5], n[6]);
      }
    }
  }
  return out;
}
