import { fitCircle } from '../geometry/fit-circle.js';
import type { Piece } from '../geometry/path-pieces.js';
import type { Carrier } from './corners.js';
import { cornersOf, lineThrough } from './corners.js';
import { fitCubics } from './fit-curve.js';

type Point = readonly [number, number];

export interface CurveRules {
  /** How far curves may lie from the edge, in pixels. */
  readonly bound: number;
  /** Corners turn by more, in radians. */
  readonly corner: number;
  /** Circles, arcs and straights are made of what lies on such. */
  readonly recover: boolean;
}

/** Arcs turn by at least so much, and are no larger than so many times their chord. */
const LEAST_TURN = Math.PI / 12;
const FLATTEST = 20;
/** Points at the end of a chain that say where it leads. */
const END = 8;

/** The line that a chain leaves one of its ends by: of its first points, without that which lies next to the end. */
export function endLine(p: Float64Array, back: boolean): Carrier | null {
  const n = p.length / 2;
  if (n < 3) return null;
  const k = Math.min(END, n - 1);
  return back ? lineThrough(p, n - 1 - k, n - 2) : lineThrough(p, 1, k);
}

/** A closed chain as curves: a circle where it is one, else from corner to corner, or smooth all round. */
export function closedCurves(p: Float64Array, rules: CurveRules): Piece[] {
  const n = p.length / 2;
  const corners = cornersOf(p, true, rules.corner);
  if (corners.length === 0) {
    const circle = rules.recover && n >= 8 ? fitCircle(p) : null;
    if (circle && circle.off <= Math.max(rules.bound, 0.3)) return fullCircle(circle, p);
    return smoothRound(p, rules);
  }
  const out: Piece[] = [];
  corners.forEach((c, k) => {
    const next = corners[(k + 1) % corners.length]!;
    const count = (next.index - c.index + n) % n || n;
    const run = new Float64Array(2 * (count + 2));
    run.set([c.x, c.y]);
    for (let i = 0; i < count; i++) {
      const j = (c.index + i) % n;
      run[2 * i + 2] = p[2 * j]!;
      run[2 * i + 3] = p[2 * j + 1]!;
    }
    run.set([next.x, next.y], 2 * count + 2);
    out.push(...between(run, rules));
  });
  return out;
}

/** A chain between two places, as curves from one to the other. */
export function openCurves(p: Float64Array, start: Point, end: Point, rules: CurveRules): Piece[] {
  const n = p.length / 2;
  const stops = [
    { index: 0, x: start[0], y: start[1] },
    ...cornersOf(p, false, rules.corner),
    { index: n, x: end[0], y: end[1] },
  ];
  const out: Piece[] = [];
  for (let k = 0; k + 1 < stops.length; k++) {
    const [a, b] = [stops[k]!, stops[k + 1]!];
    const run = new Float64Array(2 * (b.index - a.index + 2));
    run.set([a.x, a.y]);
    run.set(p.subarray(2 * a.index, 2 * b.index), 2);
    run.set([b.x, b.y], run.length - 2);
    out.push(...between(run, rules));
  }
  return out;
}

/** Curves along points without a corner, from the first to the last. */
function between(run: Float64Array, { bound, recover }: CurveRules): Piece[] {
  const n = run.length / 2;
  const [ax, ay, bx, by] = [run[0]!, run[1]!, run[2 * n - 2]!, run[2 * n - 1]!];
  const length = Math.hypot(bx - ax, by - ay);
  if (length > 0 && farthestFromLine(run, ax, ay, (bx - ax) / length, (by - ay) / length) <= bound)
    return [{ kind: 'bezier', p: [ax, ay, bx, by] }];
  // Points next to a corner are mixed by both edges, and lie on neither.
  const inner = n > 8 ? without(run) : run;
  if (recover) {
    const arc = arcThrough(inner, bound);
    if (arc) return [arc];
  }
  const made = fitCubics(inner, bound);
  return made.length > 0 ? made : [{ kind: 'bezier', p: [ax, ay, bx, by] }];
}

function without(run: Float64Array): Float64Array {
  const out = new Float64Array(run.length - 4);
  out.set(run.subarray(0, 2));
  out.set(run.subarray(4, run.length - 4), 2);
  out.set(run.subarray(run.length - 2), out.length - 2);
  return out;
}

/** How far points lie off a straight, without those next to its ends. */
function farthestFromLine(run: Float64Array, x: number, y: number, dx: number, dy: number): number {
  const n = run.length / 2;
  const skip = n > 8 ? 2 : 1;
  let off = 0;
  for (let i = skip; i < n - skip; i++)
    off = Math.max(off, Math.abs((run[2 * i]! - x) * dy - (run[2 * i + 1]! - y) * dx));
  return off;
}

/** The arc between the ends that lies nearest to the points; `null` where none lies within the bound. */
function arcThrough(run: Float64Array, bound: number): Piece | null {
  const n = run.length / 2;
  const [ax, ay, bx, by] = [run[0]!, run[1]!, run[2 * n - 2]!, run[2 * n - 1]!];
  const chord = Math.hypot(bx - ax, by - ay);
  const circle = fitCircle(run);
  if (!circle || chord === 0 || n < 6) return null;
  // The centre moves onto the line that is as far from both ends.
  const [mx, my, ux, uy] = [(ax + bx) / 2, (ay + by) / 2, -(by - ay) / chord, (bx - ax) / chord];
  const along = (circle.x - mx) * ux + (circle.y - my) * uy;
  const [x, y] = [mx + along * ux, my + along * uy];
  const radius = Math.hypot(ax - x, ay - y);
  if (radius > FLATTEST * chord) return null;
  for (let i = 2; i < n - 2; i++)
    if (Math.abs(Math.hypot(run[2 * i]! - x, run[2 * i + 1]! - y) - radius) > bound) return null;
  const start = Math.atan2(ay - y, ax - x);
  let sweep = 0;
  for (let i = 1; i < n; i++) {
    const [px, py, qx, qy] = [run[2 * i - 2]! - x, run[2 * i - 1]! - y, run[2 * i]! - x, run[2 * i + 1]! - y];
    sweep += Math.atan2(px * qy - py * qx, px * qx + py * qy);
  }
  if (Math.abs(sweep) < LEAST_TURN || Math.abs(sweep) > 1.95 * Math.PI) return null;
  return arcPiece(x, y, radius, start, sweep, [ax, ay], [bx, by]);
}

const arcPiece = (
  x: number,
  y: number,
  radius: number,
  start: number,
  sweep: number,
  from: Point,
  to: Point,
): Piece => ({ kind: 'arc', cx: x, cy: y, rx: radius, ry: radius, rotation: 0, start, sweep, from, to });

/** A full circle, in two halves, the way that the points go. */
function fullCircle({ x, y, radius }: { x: number; y: number; radius: number }, p: Float64Array): Piece[] {
  let area = 0;
  const n = p.length / 2;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    area += p[2 * i]! * p[2 * j + 1]! - p[2 * j]! * p[2 * i + 1]!;
  }
  const sweep = area > 0 ? Math.PI : -Math.PI;
  const [right, left]: [Point, Point] = [
    [x + radius, y],
    [x - radius, y],
  ];
  return [arcPiece(x, y, radius, 0, sweep, right, left), arcPiece(x, y, radius, Math.PI, sweep, left, right)];
}

/** Smooth all round: begun where it bends the most, in the direction that it has there. */
function smoothRound(p: Float64Array, { bound }: CurveRules): Piece[] {
  const n = p.length / 2;
  const k = Math.min(4, n >> 2) || 1;
  let [most, begin] = [-1, 0];
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [(i - k + n) % n, i, (i + k) % n];
    const [ux, uy] = [p[2 * b]! - p[2 * a]!, p[2 * b + 1]! - p[2 * a + 1]!];
    const [vx, vy] = [p[2 * c]! - p[2 * b]!, p[2 * c + 1]! - p[2 * b + 1]!];
    const bend = Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
    if (bend > most) [most, begin] = [bend, i];
  }
  const run = new Float64Array(2 * (n + 1));
  for (let i = 0; i <= n; i++) {
    const j = (begin + i) % n;
    run[2 * i] = p[2 * j]!;
    run[2 * i + 1] = p[2 * j + 1]!;
  }
  const [a, c] = [(begin - k + n) % n, (begin + k) % n];
  const [dx, dy] = [p[2 * c]! - p[2 * a]!, p[2 * c + 1]! - p[2 * a + 1]!];
  const l = Math.hypot(dx, dy) || 1;
  return fitCubics(run, bound, { start: [dx / l, dy / l], end: [-dx / l, -dy / l] });
}
