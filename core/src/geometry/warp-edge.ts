import type { Piece } from './path-pieces.js';
import { endOf, pointAt, startOf, tangentAt } from './path-pieces.js';
import { gaussSum } from './quadrature.js';
import { COINCIDENT } from './tolerance.js';

/** A place on an edge, and its derivative by `u`. */
export interface EdgePoint {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
}

/** An edge that art is stretched along: `u` runs from 0 to 1. */
export interface Edge {
  at(u: number): EdgePoint;
  /** Where it has corners, or is not smooth. */
  readonly breaks: readonly number[];
  /** No more of it than this, as a part of the whole, is to be described by one curve. */
  readonly grain: number;
}

/** The edge y = f(x) over an interval; `f` says the height and its derivative by `u`. */
export const graphEdge = (
  x0: number,
  x1: number,
  f: (u: number) => readonly [number, number],
  grain: number,
): Edge => ({
  at(u) {
    const [y, dy] = f(u);
    return { x: x0 + (x1 - x0) * u, y, dx: x1 - x0, dy };
  },
  breaks: [],
  grain,
});

/** A part of a circle as an edge, `from` its first direction and by so much turned, in radians. */
export const arcEdge = (cx: number, cy: number, radius: number, from: number, sweep: number): Edge => ({
  at(u) {
    const t = from + sweep * u;
    const [c, s] = [radius * Math.cos(t), radius * Math.sin(t)];
    return { x: cx + c, y: cy + s, dx: -s * sweep, dy: c * sweep };
  },
  breaks: [],
  grain: Math.min(0.5, Math.PI / 2 / Math.abs(sweep)),
});

/** Into how many parts a curved piece is cut for its length: five points of each say it to twelve digits. */
const PARTS = 32;

interface LengthPart {
  piece: Piece;
  t0: number;
  t1: number;
  /** Length up to its start. */
  before: number;
  length: number;
}

/** Pieces end to end as an edge by their length. `null` where they have none. */
export function edgeByLength(pieces: readonly Piece[]): Edge | null {
  const parts: LengthPart[] = [];
  const breaks: number[] = [];
  let sum = 0;
  pieces.forEach((piece, k) => {
    if (k > 0) breaks.push(sum);
    const n = piece.kind === 'bezier' && piece.p.length === 4 ? 1 : PARTS;
    for (let i = 0; i < n; i++) {
      const [t0, t1] = [i / n, (i + 1) / n];
      const length = gaussSum((t) => Math.hypot(...tangentAt(piece, t)), t0, t1);
      if (!(length > 0)) continue;
      parts.push({ piece, t0, t1, before: sum, length });
      sum += length;
    }
  });
  if (!(sum > 0)) return null;
  const at = (u: number): EdgePoint => {
    const s = u * sum;
    let [low, high] = [0, parts.length - 1];
    while (low < high) {
      const mid = (low + high + 1) >> 1;
      if (parts[mid]!.before <= s) low = mid;
      else high = mid - 1;
    }
    const { piece, t0, t1, before, length } = parts[low]!;
    const speed = (t: number): number => Math.hypot(...tangentAt(piece, t));
    let t = t0 + ((t1 - t0) * (s - before)) / length;
    // Newton's method for the parameter at which so much length lies behind.
    for (let i = 0; i < 6; i++) {
      const v = speed(t);
      const off = before + gaussSum(speed, t0, t) - s;
      if (!(v > 0) || Math.abs(off) <= 1e-15 * sum) break;
      t = Math.min(t1, Math.max(t0, t - off / v));
    }
    const [x, y] = u <= 0 ? startOf(pieces[0]!) : u >= 1 ? endOf(pieces[pieces.length - 1]!) : pointAt(piece, t);
    const [tx, ty] = tangentAt(piece, t);
    const v = Math.hypot(tx, ty);
    return v > 0 ? { x, y, dx: (tx / v) * sum, dy: (ty / v) * sum } : { x, y, dx: 0, dy: 0 };
  };
  return { at, breaks: breaks.map((b) => b / sum), grain: 0.5 / pieces.length };
}

/** Pieces end to end as an edge by x. `null` where they do not run from left to right throughout. */
export function edgeByX(pieces: readonly Piece[]): Edge | null {
  const [x0, x1] = [startOf(pieces[0]!)[0], endOf(pieces[pieces.length - 1]!)[0]];
  if (!(x1 > x0)) return null;
  const LOOKS = 65;
  for (const piece of pieces) {
    let last = startOf(piece)[0];
    for (let i = 1; i <= LOOKS; i++) {
      const x = i === LOOKS ? endOf(piece)[0] : pointAt(piece, i / LOOKS)[0];
      if (!(x > last)) return null;
      last = x;
    }
  }
  const at = (u: number): EdgePoint => {
    const x = x0 + (x1 - x0) * u;
    const piece = pieces.find((q) => endOf(q)[0] >= x) ?? pieces[pieces.length - 1]!;
    let [low, high] = [0, 1];
    for (let i = 0; i < 60; i++) {
      const mid = (low + high) / 2;
      if (pointAt(piece, mid)[0] < x) low = mid;
      else high = mid;
    }
    const t = (low + high) / 2;
    const [tx, ty] = tangentAt(piece, t);
    const y = u <= 0 ? startOf(pieces[0]!)[1] : u >= 1 ? endOf(pieces[pieces.length - 1]!)[1] : pointAt(piece, t)[1];
    return { x, y, dx: x1 - x0, dy: (ty / Math.max(tx, COINCIDENT * Math.abs(ty))) * (x1 - x0) };
  };
  return {
    at,
    breaks: pieces.slice(1).map((q) => (startOf(q)[0] - x0) / (x1 - x0)),
    grain: 0.5 / pieces.length,
  };
}
