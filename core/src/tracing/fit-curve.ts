import type { Piece } from '../geometry/path-pieces.js';

type Point = readonly [number, number];

/** Rounds of moving the places of points along a curve nearer to where they lie. */
const ROUNDS = 4;
/** A curve is parted no further than to so few points. */
const FEWEST = 4;
/** The direction at a place where curves meet is that between points so far to either side of it. */
const SIDE = 3;

const at = (p: Float64Array, i: number): Point => [p[2 * i]!, p[2 * i + 1]!];
const unit = (x: number, y: number): Point => {
  const l = Math.hypot(x, y);
  return l > 0 ? [x / l, y / l] : [1, 0];
};

/**
 * Cubics through points from the first to the last, none of which lies further from them than `bound` (P. J. Schneider, "An Algorithm for
 * Automatically Fitting Digitized Curves", 1990). Directions at the ends are those given, or follow from the points.
 */
export function fitCubics(points: Float64Array, bound: number, ends: { start?: Point; end?: Point } = {}): Piece[] {
  const n = points.length / 2;
  if (n < 2) return [];
  const k = Math.min(SIDE, n - 1);
  const [p0, pk, pn, pm] = [at(points, 0), at(points, k), at(points, n - 1), at(points, n - 1 - k)];
  const start = ends.start ?? unit(pk[0] - p0[0], pk[1] - p0[1]);
  const end = ends.end ?? unit(pm[0] - pn[0], pm[1] - pn[1]);
  const out: Piece[] = [];
  part(points, 0, n - 1, start, end, bound, out);
  return out;
}

function part(p: Float64Array, from: number, to: number, start: Point, end: Point, bound: number, out: Piece[]): void {
  const [a, b] = [at(p, from), at(p, to)];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (to - from < 2) {
    out.push({ kind: 'bezier', p: [a[0], a[1], b[0], b[1]] });
    return;
  }
  const places = alongChords(p, from, to);
  let curve = fitted(p, from, to, places, start, end, length);
  let worst = farthest(p, from, to, places, curve);
  for (let r = 0; r < ROUNDS && worst.off > bound && worst.off < 8 * bound; r++) {
    for (let i = from + 1; i < to; i++) places[i - from] = nearer(curve, at(p, i), places[i - from]!);
    curve = fitted(p, from, to, places, start, end, length);
    worst = farthest(p, from, to, places, curve);
  }
  if (worst.off <= bound || to - from < FEWEST) {
    out.push({ kind: 'bezier', p: curve });
    return;
  }
  const split = Math.min(to - 1, Math.max(from + 1, worst.index));
  const side = Math.max(1, Math.min(SIDE, split - from, to - split));
  const [q, r] = [at(p, split - side), at(p, split + side)];
  const through = unit(q[0] - r[0], q[1] - r[1]);
  part(p, from, split, start, through, bound, out);
  part(p, split, to, [-through[0], -through[1]], end, bound, out);
}

/** How far along each point lies, by the chords, 0 to 1. */
function alongChords(p: Float64Array, from: number, to: number): Float64Array {
  const out = new Float64Array(to - from + 1);
  for (let i = from + 1; i <= to; i++)
    out[i - from] = out[i - from - 1]! + Math.hypot(p[2 * i]! - p[2 * i - 2]!, p[2 * i + 1]! - p[2 * i - 1]!);
  const total = out[to - from]! || 1;
  return out.map((v) => v / total);
}

/** The cubic of least squares with given ends and directions there. */
function fitted(
  p: Float64Array,
  from: number,
  to: number,
  places: Float64Array,
  start: Point,
  end: Point,
  length: number,
): number[] {
  const [a, b] = [at(p, from), at(p, to)];
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  for (let i = from; i <= to; i++) {
    const t = places[i - from]!;
    const s = 1 - t;
    const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    const [ux, uy, vx, vy] = [start[0] * b1, start[1] * b1, end[0] * b2, end[1] * b2];
    const rx = p[2 * i]! - a[0] * (b0 + b1) - b[0] * (b2 + b3);
    const ry = p[2 * i + 1]! - a[1] * (b0 + b1) - b[1] * (b2 + b3);
    c00 += ux * ux + uy * uy;
    c01 += ux * vx + uy * vy;
    c11 += vx * vx + vy * vy;
    x0 += ux * rx + uy * ry;
    x1 += vx * rx + vy * ry;
  }
  const det = c00 * c11 - c01 * c01;
  let [alpha, beta] = det > 1e-12 * c00 * c11 ? [(x0 * c11 - x1 * c01) / det, (c00 * x1 - c01 * x0) / det] : [0, 0];
  // Handles that point back or are none: a third of the way (Wu and Barsky).
  const least = 1e-3 * length;
  if (!(alpha > least) || !(beta > least) || alpha > 3 * length + 2 || beta > 3 * length + 2)
    [alpha, beta] = [length / 3, length / 3];
  return [
    a[0],
    a[1],
    a[0] + start[0] * alpha,
    a[1] + start[1] * alpha,
    b[0] + end[0] * beta,
    b[1] + end[1] * beta,
    b[0],
    b[1],
  ];
}

function on(c: readonly number[], t: number): Point {
  const s = 1 - t;
  const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
  return [b0 * c[0]! + b1 * c[2]! + b2 * c[4]! + b3 * c[6]!, b0 * c[1]! + b1 * c[3]! + b2 * c[5]! + b3 * c[7]!];
}

/** A place nearer to a point, by one step of Newton's. */
function nearer(c: readonly number[], q: Point, t: number): number {
  const s = 1 - t;
  const [x, y] = on(c, t);
  const d = (k: number): number =>
    3 * (s * s * (c[2 + k]! - c[k]!) + 2 * s * t * (c[4 + k]! - c[2 + k]!) + t * t * (c[6 + k]! - c[4 + k]!));
  const dd = (k: number): number =>
    6 * (s * (c[4 + k]! - 2 * c[2 + k]! + c[k]!) + t * (c[6 + k]! - 2 * c[4 + k]! + c[2 + k]!));
  const [dx, dy] = [d(0), d(1)];
  const top = (x - q[0]) * dx + (y - q[1]) * dy;
  const below = dx * dx + dy * dy + (x - q[0]) * dd(0) + (y - q[1]) * dd(1);
  return below === 0 ? t : Math.min(1, Math.max(0, t - top / below));
}

function farthest(
  p: Float64Array,
  from: number,
  to: number,
  places: Float64Array,
  c: readonly number[],
): { off: number; index: number } {
  let [off, index] = [0, (from + to) >> 1];
  for (let i = from + 1; i < to; i++) {
    const [x, y] = on(c, places[i - from]!);
    const d = Math.hypot(x - p[2 * i]!, y - p[2 * i + 1]!);
    if (d > off) [off, index] = [d, i];
  }
  return { off, index };
}
