import { powerOfTen } from '../../geometry/power-of-ten.js';
import type { EllipseArc2 } from '../../geometry/ellipses.js';
import { endpointToCentre } from '../../geometry/ellipses.js';
import { withCubics } from '../../geometry/arc-cubics.js';
import { pointAt } from '../../geometry/path-pieces.js';
import type { PathData } from '../../geometry/path.js';
import { CMD_LENGTH, Cmd } from '../../geometry/path.js';
import { ROUNDING, UNSEEN } from '../../geometry/tolerance.js';

const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9];
const ZEROS = ['', '0', '00', '000', '0000', '00000', '000000', '0000000', '00000000'];

/** `value` with at most `decimals` digits after the point and no needless ones. */
export function shortNumber(value: number, decimals: number): string {
  if (decimals <= 9 && value < 1e6 && value > -1e6) {
    // As a whole number of the last digit's steps; whole numbers are put into text fastest.
    const k = POWERS[decimals]!;
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

/** An ellipse of fewer steps of the last digit is bent by one of them. */
const COARSEST = 1000;

/** By so many steps of the last digit, of the lesser radius, half an ellipse may be smaller than it was. */
const MOST_STEPS = 8;

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
  const rounded = roundedTo(decimals);
  let [x, y, sx, sy] = [0, 0, 0, 0];
  let [ex, ey] = [0, 0];
  const text = isSmall(path.data, decimals) ? new ScaledWords(decimals) : new PlainWords(decimals);
  const put = (name: string, absolute: ArrayLike<number>, origins: readonly number[]): void =>
    text.put(name, absolute, origins);
  const to = (nx: number, ny: number, px: number, py: number): void => {
    [x, y] = [rounded(nx), rounded(ny)];
    [ex, ey] = [px, py];
  };
  let at = 0;
  for (const cmd of path.cmds) {
    const n = path.data.subarray(at, at + CMD_LENGTH[cmd]!);
    at += CMD_LENGTH[cmd]!;
    switch (cmd) {
      case Cmd.Close:
        text.close();
        [x, y, ex, ey] = [sx, sy, sx, sy];
        break;
      case Cmd.Move:
        put('M', [n[0]!, n[1]!], [x, y]);
        to(n[0]!, n[1]!, n[0]!, n[1]!);
        [sx, sy] = [x, y];
        break;
      case Cmd.Line:
        if (rounded(n[1]!) === y && rounded(n[0]!) !== x) put('H', [n[0]!], [x]);
        else if (rounded(n[0]!) === x && rounded(n[1]!) !== y) put('V', [n[1]!], [y]);
        else put('L', [n[0]!, n[1]!], [x, y]);
        to(n[0]!, n[1]!, n[0]!, n[1]!);
        break;
      case Cmd.Quad:
      case Cmd.Cubic:
        put(cmd === Cmd.Quad ? 'Q' : 'C', n, cmd === Cmd.Quad ? [x, y, x, y] : [x, y, x, y, x, y]);
        to(n[n.length - 2]!, n[n.length - 1]!, n[n.length - 2]!, n[n.length - 1]!);
        break;
      default: {
        const arc = endpointToCentre(ex, ey, n[0]!, n[1]!, n[2]!, n[3] !== 0, n[4] !== 0, n[5]!, n[6]!);
        const turn = n[0] === n[1] ? 0 : (n[2]! * 180) / Math.PI;
        const off = arc ? Math.abs(Math.abs(arc.sweep) - Math.PI) : Math.PI;
        const half =
          arc && off < UNSEEN ? halfTurnRadii([x, y], [rounded(n[5]!), rounded(n[6]!)], arc, turn, decimals) : null;
        if (half) put('A', [...half, turn, 0, n[4]!, n[5]!, n[6]!], [NaN, NaN, NaN, NaN, NaN, x, y]);
        else if (arc && off < HALF_TURN) {
          // Close to half a turn the last digit of a radius moves the centre far: two shorter arcs do not have that.
          const mid = pointAt({ kind: 'arc', ...arc, from: [ex, ey], to: [n[5]!, n[6]!] }, 0.5);
          put('A', [arc.rx, arc.ry, turn, 0, n[4]!, mid[0], mid[1]], [NaN, NaN, NaN, NaN, NaN, x, y]);
          to(mid[0], mid[1], mid[0], mid[1]);
          put('A', [arc.rx, arc.ry, turn, 0, n[4]!, n[5]!, n[6]!], [NaN, NaN, NaN, NaN, NaN, x, y]);
        } else put('A', [n[0]!, n[1]!, turn, n[3]!, n[4]!, n[5]!, n[6]!], [NaN, NaN, NaN, NaN, NaN, x, y]);
        to(n[5]!, n[6]!, n[5]!, n[6]!);
      }
    }
  }
  return inOnePiece(text.out);
}

/**
 * Radii, of so many digits, of half an ellipse between two points, turned by degrees: so small that they do not reach, for which the standard has them
 * scaled up until they just do (SVG 2, appendix B.2.5). Half a turn stays half a turn about the middle, whatever is rounded. `null`
 * where the last digit would bend the ellipse.
 */
function halfTurnRadii(
  from: readonly [number, number],
  to: readonly [number, number],
  { rx, ry }: EllipseArc2,
  turn: number,
  decimals: number,
): [number, number] | null {
  const step = powerOfTen(-decimals);
  if (rx !== ry && Math.min(rx, ry) < COARSEST * step) return null;
  // As it is written: a turn has as few digits.
  const rotation = (Number(shortNumber(turn, decimals)) * Math.PI) / 180;
  const [dx, dy] = [(to[0] - from[0]) / 2, (to[1] - from[1]) / 2];
  const [u, v] = [dx * Math.cos(rotation) + dy * Math.sin(rotation), dy * Math.cos(rotation) - dx * Math.sin(rotation)];
  // Rounded ends and a rounded turn can bring the ends of a flat ellipse nearer by more than a step of its radii: those follow.
  const reach = Math.min(1, Math.hypot(u / rx, v / ry));
  if ((1 - reach) * Math.min(rx, ry) > MOST_STEPS * step) return null;
  let [a, b] = [Math.floor((rx * reach) / step) * step, Math.floor((ry * reach) / step) * step];
  for (let tries = 0; tries < 3 && a > 0 && b > 0; tries++) {
    if ((u / a) ** 2 + (v / b) ** 2 > 1 + ROUNDING) return [a, b];
    [a, b] = [a - step, b - step];
  }
  return null;
}

/** Text that was put together letter by letter is a tree of its pieces until somebody looks into it; the tree takes many times the room. */
function inOnePiece(text: string): string {
  text.charCodeAt(0);
  return text;
}

/** Whether all numbers, and differences of two, are whole numbers of the last digit's steps that a double holds exactly. */
function isSmall(data: ArrayLike<number>, decimals: number): boolean {
  if (decimals > 9) return false;
  const most = Math.min(2 ** 51 / POWERS[decimals]!, 5e5);
  // Said so that what is no number is not small.
  for (let i = 0; i < data.length; i++) if (!(Math.abs(data[i]!) < most)) return false;
  return true;
}

/** Commands one after the other, each said in the shorter of its two ways. An origin that is no number is not taken off. */
interface CommandWords {
  out: string;
  put(name: string, absolute: ArrayLike<number>, origins: readonly number[]): void;
  close(): void;
}

/** A second move has to be said: numbers alone after a move are lines. */
const isImplied = (l: string, letter: string): boolean =>
  (l === letter && l !== 'M' && l !== 'm') || (letter === 'M' && l === 'L') || (letter === 'm' && l === 'l');

/** For numbers of any size: both ways are put into text and the shorter is kept. */
class PlainWords implements CommandWords {
  out = '';
  private letter = '';
  private tail = '';
  private readonly number: (v: number) => string;
  private readonly rounded: (v: number) => number;

  constructor(decimals: number) {
    this.number = (v) => shortNumber(v, decimals);
    this.rounded = roundedTo(decimals);
  }

  put(name: string, absolute: ArrayLike<number>, origins: readonly number[]): void {
    const say = (l: string, numbers: readonly number[]): { text: string; letter: string; tail: string } => {
      const implied = isImplied(l, this.letter);
      const list = numberList(numbers, this.number, implied ? this.tail : '');
      return { text: (implied ? '' : l) + list, letter: l, tail: lastNumber };
    };
    const all = Array.from(absolute);
    const a = say(name, all);
    const r = say(
      name.toLowerCase(),
      all.map((v, i) => (Number.isNaN(origins[i]) ? v : this.rounded(v) - origins[i]!)),
    );
    const best = r.text.length < a.text.length ? r : a;
    this.out += best.text;
    ({ letter: this.letter, tail: this.tail } = best);
  }

  close(): void {
    this.out += 'Z';
    this.letter = 'Z';
    this.tail = '';
  }
}

/**
 * For numbers that are small enough to be counted in steps of their last digit: how long each way would be is known
 * without putting it into text, so that only the shorter is.
 */
class ScaledWords implements CommandWords {
  out = '';
  private letter = '';
  /** Whether there is a number before, and whether it has a point: what parts the next from it. */
  private tail: 'none' | 'whole' | 'point' = 'none';
  private readonly k: number;
  private readonly absolute = new Float64Array(7);
  private readonly relative = new Float64Array(7);

  constructor(private readonly decimals: number) {
    this.k = POWERS[decimals]!;
  }

  put(name: string, absolute: ArrayLike<number>, origins: readonly number[]): void {
    const { k } = this;
    const n = absolute.length;
    for (let i = 0; i < n; i++) {
      const v = steps(absolute[i]!, k);
      // The radius of a flat arc may be very large.
      if (!(Math.abs(v) < 2 ** 51)) return this.putLarge(name, absolute);
      const origin = origins[i]!;
      this.absolute[i] = v;
      this.relative[i] = origin === origin ? v - steps(origin, k) : v;
    }
    const small = name.toLowerCase();
    if (this.length(small, this.relative, n) < this.length(name, this.absolute, n)) this.write(small, this.relative, n);
    else this.write(name, this.absolute, n);
  }

  private putLarge(name: string, absolute: ArrayLike<number>): void {
    this.out += name + numberList(Array.from(absolute), (v) => shortNumber(v, this.decimals));
    this.letter = name;
    this.tail = lastNumber.includes('.') ? 'point' : 'whole';
  }

  /** How many letters a command takes. */
  private length(l: string, numbers: Float64Array, n: number): number {
    const implied = isImplied(l, this.letter);
    let tail = implied ? this.tail : 'none';
    let letters = implied ? 0 : 1;
    for (let i = 0; i < n; i++) {
      const v = numbers[i]!;
      const size = Math.abs(v);
      const whole = size < this.k ? 0 : Math.floor(size / this.k);
      const part = size - whole * this.k;
      if (this.isParted(v, whole, tail)) letters++;
      letters += (v < 0 ? 1 : 0) + (whole > 0 ? digits(whole) : v === 0 ? 1 : 0);
      if (part > 0) letters += 1 + this.decimals - zerosAtEnd(part);
      tail = part > 0 ? 'point' : 'whole';
    }
    return letters;
  }

  /** A sign parts numbers, and so does a point where the number before has one already. */
  private isParted(v: number, whole: number, tail: 'none' | 'whole' | 'point'): boolean {
    return tail !== 'none' && v >= 0 && !(tail === 'point' && whole === 0 && v !== 0);
  }

  private write(l: string, numbers: Float64Array, n: number): void {
    const implied = isImplied(l, this.letter);
    let { out, tail } = this;
    if (!implied) {
      out += l;
      tail = 'none';
    }
    for (let i = 0; i < n; i++) {
      const v = numbers[i]!;
      const size = Math.abs(v);
      const whole = size < this.k ? 0 : Math.floor(size / this.k);
      let part = size - whole * this.k;
      if (this.isParted(v, whole, tail)) out += ' ';
      tail = part > 0 ? 'point' : 'whole';
      if (v < 0) out += '-';
      if (whole > 0 || v === 0) out += whole;
      if (part === 0) continue;
      const zeros = zerosAtEnd(part);
      part /= POWERS[zeros]!;
      out += LEADING[this.decimals - zeros - digits(part)]! + part;
    }
    this.out = out;
    this.letter = l;
    this.tail = tail;
  }

  close(): void {
    this.out += 'Z';
    this.letter = 'Z';
    this.tail = 'none';
  }
}

/** A number as so many steps of the last digit, halves away from zero. */
const steps = (v: number, k: number): number => (v < 0 ? -Math.round(-v * k) : Math.round(v * k));

/** Numbers as they will be read: rounded to so many decimals, beyond twelve as they are. */
function roundedTo(decimals: number): (v: number) => number {
  const k = powerOfTen(decimals);
  return (v) => (decimals > 12 ? v : steps(v, k) / k);
}

/** How many digits a whole number above zero has. */
function digits(n: number): number {
  let d = 1;
  for (let p = 10; n >= p; p *= 10) d++;
  return d;
}

/** How many noughts a whole number above zero ends with. */
function zerosAtEnd(n: number): number {
  let zeros = 0;
  for (; n % 10 === 0; n /= 10) zeros++;
  return zeros;
}

/** A point and the noughts after it. */
const LEADING = ['.', '.0', '.00', '.000', '.0000', '.00000', '.000000', '.0000000', '.00000000'];
