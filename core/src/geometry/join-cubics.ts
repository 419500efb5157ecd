import type { Piece } from './path-pieces.js';
import { endOf, pointAt, startOf, tangentAt } from './path-pieces.js';

type Point = readonly [number, number];

/** A joint that turns by no more than this (cosine of half a degree) is smooth. */
const SMOOTH = Math.cos(Math.PI / 360);
/** In how many places of each old piece the new one is looked at, and the other way. */
const LOOKS = 12;
/** So many pieces become one at most. */
const MOST_JOINED = 64;

const isCubic = (p: Piece): boolean => p.kind === 'bezier' && p.p.length === 8;

/**
 * Cubics that follow each other smoothly as fewer, none further from the old ones than `bound` nor the old ones from it,
 * looked at in twelve places of each. `stays(x, y)` says of joints that they stay. Ends, and tangents there, stay as they are.
 */
export function joinedCubics(
  pieces: readonly Piece[],
  bound: number,
  stays: (x: number, y: number) => boolean,
): { pieces: Piece[]; off: number } {
  const out: Piece[] = [];
  let off = 0;
  for (let i = 0; i < pieces.length;) {
    let end = i + 1;
    while (end < pieces.length && end - i < MOST_JOINED && goesSmoothly(pieces[end - 1]!, pieces[end]!, stays)) end++;
    // The longest run that one cubic stands for: doubled while it fits, then halved back.
    let best = { to: i + 1, piece: pieces[i]!, off: 0 };
    let [low, high] = [i + 1, end];
    for (let step = 1; low < high; step *= 2) {
      const to = Math.min(low + step, high);
      const made = fitted(pieces.slice(i, to), bound);
      if (made) {
        best = { to, ...made };
        low = to;
      } else {
        high = to - 1;
        step = 0.5;
      }
    }
    out.push(best.piece);
    off = Math.max(off, best.off);
    i = best.to;
  }
  return { pieces: out, off };
}

function goesSmoothly(a: Piece, b: Piece, stays: (x: number, y: number) => boolean): boolean {
  if (!isCubic(a) || !isCubic(b) || stays(...endOf(a))) return false;
  const [u, v] = [unit(tangentAt(a, 1)), unit(tangentAt(b, 0))];
  return u !== null && v !== null && u[0] * v[0] + u[1] * v[1] >= SMOOTH;
}

function unit([x, y]: Point): Point | null {
  const l = Math.hypot(x, y);
  return l > 0 ? [x / l, y / l] : null;
}

/**
 * One cubic for several, with their ends and the tangents there: the lengths of both handles by least squares over points of
 * the old ones (P. J. Schneider, "An Algorithm for Automatically Fitting Digitized Curves", Graphics Gems, 1990), their
 * parameters improved by Newton steps. `null` where it strays further than `bound`.
 */
function fitted(pieces: readonly Piece[], bound: number): { piece: Piece; off: number } | null {
  const [a, b] = [startOf(pieces[0]!), endOf(pieces[pieces.length - 1]!)];
  const [u, v] = [unit(tangentAt(pieces[0]!, 0)), unit(tangentAt(pieces[pieces.length - 1]!, 1))];
  if (!u || !v) return null;
  const places: Point[] = pieces.flatMap((p) => Array.from({ length: LOOKS }, (_, k) => pointAt(p, k / LOOKS)));
  places.push(b);
  const whole = wholeOf(pieces);
  if (whole) {
    const off = farthest(pieces, whole, places, lengthParameters(places));
    if (off <= bound) return { piece: whole, off };
  }
  let t = lengthParameters(places);
  let piece: Piece | null = null;
  for (let round = 0; round < 8; round++) {
    piece = solved(a, b, u, [-v[0], -v[1]], places, t);
    if (!piece) return null;
    t = improved(piece, places, t);
  }
  const off = farthest(pieces, piece!, places, t);
  return off <= bound ? { piece: piece!, off } : null;
}

/** The cubic that was cut into these, if it was: at each joint the handles say in what ratio (de Casteljau). */
function wholeOf(pieces: readonly Piece[]): Piece | null {
  let p = [...(pieces[0] as Extract<Piece, { kind: 'bezier' }>).p];
  for (const next of pieces.slice(1)) {
    const q = (next as Extract<Piece, { kind: 'bezier' }>).p;
    const [a, b] = [Math.hypot(p[6]! - p[4]!, p[7]! - p[5]!), Math.hypot(q[2]! - q[0]!, q[3]! - q[1]!)];
    const t = a / (a + b);
    if (!(t > 0 && t < 1)) return null;
    p = [
      p[0]!,
      p[1]!,
      p[0]! + (p[2]! - p[0]!) / t,
      p[1]! + (p[3]! - p[1]!) / t,
      q[6]! + (q[4]! - q[6]!) / (1 - t),
      q[7]! + (q[5]! - q[7]!) / (1 - t),
      q[6]!,
      q[7]!,
    ];
  }
  return { kind: 'bezier', p };
}

function lengthParameters(places: readonly Point[]): number[] {
  const sums = [0];
  for (let i = 1; i < places.length; i++)
    sums.push(sums[i - 1]! + Math.hypot(places[i]![0] - places[i - 1]![0], places[i]![1] - places[i - 1]![1]));
  const all = sums[sums.length - 1]! || 1;
  return sums.map((s) => s / all);
}

function solved(a: Point, b: Point, u: Point, v: Point, places: readonly Point[], t: readonly number[]): Piece | null {
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  places.forEach(([px, py], i) => {
    const s = t[i]!;
    const r = 1 - s;
    const [b0, b1, b2, b3] = [r * r * r, 3 * s * r * r, 3 * s * s * r, s * s * s];
    const [ux, uy, vx, vy] = [u[0] * b1, u[1] * b1, v[0] * b2, v[1] * b2];
    const [dx, dy] = [px - a[0] * (b0 + b1) - b[0] * (b2 + b3), py - a[1] * (b0 + b1) - b[1] * (b2 + b3)];
    c00 += ux * ux + uy * uy;
    c01 += ux * vx + uy * vy;
    c11 += vx * vx + vy * vy;
    x0 += ux * dx + uy * dy;
    x1 += vx * dx + vy * dy;
  });
  const det = c00 * c11 - c01 * c01;
  if (!(Math.abs(det) > 1e-14 * c00 * c11)) return null;
  const [p, q] = [(x0 * c11 - x1 * c01) / det, (c00 * x1 - c01 * x0) / det];
  if (!(p > 0) || !(q > 0)) return null;
  return { kind: 'bezier', p: [...a, a[0] + u[0] * p, a[1] + u[1] * p, b[0] + v[0] * q, b[1] + v[1] * q, ...b] };
}

/** Parameters at which a cubic comes nearest to places, by one Newton step each. */
function improved(piece: Piece, places: readonly Point[], t: readonly number[]): number[] {
  const p = (piece as Extract<Piece, { kind: 'bezier' }>).p;
  return t.map((s, i) => {
    if (i === 0 || i === t.length - 1) return s;
    const [x, y] = pointAt(piece, s);
    const [dx, dy] = tangentAt(piece, s);
    const second = (k: number): number =>
      6 * ((1 - s) * (p[4 + k]! - 2 * p[2 + k]! + p[k]!) + s * (p[6 + k]! - 2 * p[4 + k]! + p[2 + k]!));
    const [ex, ey] = [x - places[i]![0], y - places[i]![1]];
    const slope = dx * dx + dy * dy + ex * second(0) + ey * second(1);
    const next = slope === 0 ? s : s - (ex * dx + ey * dy) / slope;
    return next > 0 && next < 1 ? next : s;
  });
}

/**
 * The largest distance between old pieces and the one that stands for them, both ways: from places of the old ones to the
 * nearest point of the new, and from as many of the new to the nearest of the old, each found by Newton steps.
 */
function farthest(pieces: readonly Piece[], piece: Piece, places: readonly Point[], t: readonly number[]): number {
  let near = t;
  for (let round = 0; round < 4; round++) near = improved(piece, places, near);
  let off = 0;
  places.forEach((p, i) => {
    const [x, y] = pointAt(piece, near[i]!);
    off = Math.max(off, Math.hypot(x - p[0], y - p[1]));
  });
  const n = places.length - 1;
  for (let k = 1; k < n; k++) {
    const at = pointAt(piece, k / n);
    let best = 0;
    let least = Infinity;
    places.forEach(([x, y], i) => {
      const d = (x - at[0]) ** 2 + (y - at[1]) ** 2;
      if (d < least) [least, best] = [d, i];
    });
    const own = Math.min(pieces.length - 1, Math.floor(best / LOOKS));
    const tries = [own - 1, own].filter((i) => i >= 0).map((i) => toPiece(pieces[i]!, at, (best - i * LOOKS) / LOOKS));
    off = Math.max(off, Math.min(...tries));
  }
  return off;
}

/** The distance of a place from a piece, searched from a parameter on. */
function toPiece(piece: Piece, at: Point, from: number): number {
  let t = [Math.max(0, Math.min(1, from))];
  const put = (s: number): number => {
    const [x, y] = pointAt(piece, s);
    return Math.hypot(x - at[0], y - at[1]);
  };
  let best = put(t[0]!);
  for (let round = 0; round < 6; round++) {
    // The middle of three: ends are not improved.
    t = [improved(piece, [at, at, at], [0, t[0]!, 1])[1]!];
    best = Math.min(best, put(t[0]!));
  }
  return best;
}
