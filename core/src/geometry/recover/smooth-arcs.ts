import { fitCircle } from '../fit-circle.js';
import { MOST_TURN } from './run-arc.js';
import type { Piece } from '../path-pieces.js';
import { endOf, pointAt, startOf, tangentAt } from '../path-pieces.js';

/** In how many places each curve is looked at. */
const LOOKS = 16;

type ArcPiece = Extract<Piece, { kind: 'arc' }>;

/**
 * The arc that stands for free curves end to end, from the first start to the last end; `off` is how far the curves lie from it
 * at most. `null` where they lie further off than `within(radius)`, or turn back.
 */
export function arcOfCurves(
  pieces: readonly Piece[],
  within: (radius: number) => number,
): { arc: ArcPiece; off: number } | null {
  const [a, b] = [startOf(pieces[0]!), endOf(pieces[pieces.length - 1]!)];
  const points = pieces.flatMap((p) => Array.from({ length: LOOKS }, (_, k) => pointAt(p, k / LOOKS)));
  points.push(b as [number, number]);
  const fit = fitCircle(points.flat());
  if (!fit) return null;
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const chord = Math.hypot(dx, dy);
  let [cx, cy] = [fit.x, fit.y];
  if (chord > 0) {
    // The centre moves onto the line square to the chord, so that the arc goes through both ends.
    const h = ((fit.x - (a[0] + b[0]) / 2) * -dy + (fit.y - (a[1] + b[1]) / 2) * dx) / chord;
    [cx, cy] = [(a[0] + b[0]) / 2 - (dy / chord) * h, (a[1] + b[1]) / 2 + (dx / chord) * h];
  } else return null;
  const radius = Math.hypot(a[0] - cx, a[1] - cy);
  let off = 0;
  let turned = 0;
  for (let k = 0; k < points.length; k++) {
    const [x, y] = points[k]!;
    off = Math.max(off, Math.abs(Math.hypot(x - cx, y - cy) - radius));
    if (k === 0) continue;
    const [ux, uy, vx, vy] = [points[k - 1]![0] - cx, points[k - 1]![1] - cy, x - cx, y - cy];
    const step = Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    if (turned * step < 0) return null;
    turned += step;
  }
  if (off > within(radius) || Math.abs(turned) > 1.95 * Math.PI || turned === 0) return null;
  const start = Math.atan2(a[1] - cy, a[0] - cx);
  return {
    arc: { kind: 'arc', cx, cy, rx: radius, ry: radius, rotation: 0, start, sweep: turned, from: a, to: b },
    off,
  };
}

/** A straight line for a Bézier whose control points lie on it in order, no further beside it than `within`; `null` for others. */
export function straightOf(p: Piece, within: number): Piece | null {
  if (p.kind === 'arc' || p.p.length === 4) return null;
  const [x0, y0] = startOf(p);
  const [x1, y1] = endOf(p);
  const l = Math.hypot(x1 - x0, y1 - y0);
  if (!(l > 0)) return null;
  const [ux, uy] = [(x1 - x0) / l, (y1 - y0) / l];
  for (let k = 2; k < p.p.length - 2; k += 2) {
    const [dx, dy] = [p.p[k]! - x0, p.p[k + 1]! - y0];
    const along = dx * ux + dy * uy;
    if (Math.abs(dx * uy - dy * ux) > within || along < -within || along > l + within) return null;
  }
  return { kind: 'bezier', p: [x0, y0, x1, y1] };
}

/** A whole ellipse by its centre, half axes (the longer first) and the direction of the longer one. */
export interface FoundEllipse {
  x: number;
  y: number;
  a: number;
  b: number;
  turn: number;
  /** How far joints and curves lie off it, and the middles of chords. */
  off: number;
  chords: number;
}

/**
 * The ellipse behind closed free curves: centre and axes from their second moments, half axes from their joints, through which
 * curves that stand for an ellipse go. `moments`: area, centroid and central second moments of what they enclose.
 */
export function ellipseOfCurves(
  pieces: readonly Piece[],
  moments: { area: number; x: number; y: number; ixx: number; iyy: number; ixy: number },
  within: (a: number) => number,
): FoundEllipse | null {
  const { area, x, y, ixx, iyy, ixy } = moments;
  if (area === 0) return null;
  const sign = Math.sign(area);
  const [sxx, syy, sxy] = [(iyy * sign) / Math.abs(area), (ixx * sign) / Math.abs(area), (ixy * sign) / Math.abs(area)];
  const mean = (sxx + syy) / 2;
  const spread = Math.hypot((sxx - syy) / 2, sxy);
  // Of an ellipse the second moments over its area are a quarter of the squares of its half axes.
  let [a, b] = [2 * Math.sqrt(mean + spread), 2 * Math.sqrt(Math.max(0, mean - spread))];
  if (!(b > 0)) return null;
  const turn = Math.atan2(2 * sxy, sxx - syy) / 2;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const inAxes = ([px, py]: readonly [number, number]): [number, number] => [
    (px - x) * c + (py - y) * s,
    -(px - x) * s + (py - y) * c,
  ];
  const axes = throughJoints(pieces.map((p) => inAxes(startOf(p))));
  if (axes && Math.abs(axes[0] - a) <= 2 * within(a) && Math.abs(axes[1] - b) <= 2 * within(a)) [a, b] = axes;
  let off = 0;
  let turned = 0;
  let last: number | null = null;
  let chords = 0;
  for (const p of pieces) {
    // Chords are judged by their corners; how far they lie inside is told apart.
    const looks = isChord(p) ? 1 : LOOKS;
    if (isChord(p)) chords = Math.max(chords, awayFromEllipse(...inAxes(pointAt(p, 0.5)), a, b));
    for (let k = 0; k <= looks; k++) {
      const [u, v] = inAxes(pointAt(p, k / looks));
      off = Math.max(off, awayFromEllipse(u, v, a, b));
      const t = Math.atan2(v / b, u / a);
      const step = last === null ? 0 : Math.atan2(Math.sin(t - last), Math.cos(t - last));
      if (Math.abs(step) > MOST_TURN) return null;
      turned += step;
      last = t;
    }
  }
  if (off > within(a) || Math.abs(Math.abs(turned) - 2 * Math.PI) > 1e-6) return null;
  return { x, y, a, b, turn, off, chords };
}

const isChord = (p: Piece): boolean => p.kind === 'bezier' && p.p.length === 4;

/** Half axes of the ellipse through points given in its axes, by least squares in 1/a² and 1/b²; `null` where they do not say. */
function throughJoints(points: readonly (readonly [number, number])[]): [number, number] | null {
  let [uu, uv, vv, u1, v1] = [0, 0, 0, 0, 0];
  for (const [x, y] of points) {
    const [p, q] = [x * x, y * y];
    uu += p * p;
    uv += p * q;
    vv += q * q;
    u1 += p;
    v1 += q;
  }
  const det = uu * vv - uv * uv;
  if (!(det > 1e-6 * uu * vv)) return null;
  const [k, l] = [(u1 * vv - v1 * uv) / det, (uu * v1 - uv * u1) / det];
  return k > 0 && l > 0 ? [1 / Math.sqrt(k), 1 / Math.sqrt(l)] : null;
}

/** The distance of a point from an ellipse about the origin, to first order in it: (f − 1)·…/|∇f| (Sampson's distance). */
function awayFromEllipse(u: number, v: number, a: number, b: number): number {
  const f = (u * u) / (a * a) + (v * v) / (b * b) - 1;
  const slope = 2 * Math.hypot(u / (a * a), v / (b * b));
  return slope > 0 ? Math.abs(f) / slope : b;
}

/** Whether curves go on each other smoothly: the cosine between the end of the one and the start of the other. */
export function smoothness(a: Piece, b: Piece): number {
  const [ux, uy] = tangentAt(a, 1);
  const [vx, vy] = tangentAt(b, 0);
  return (ux * vx + uy * vy) / (Math.hypot(ux, uy) * Math.hypot(vx, vy) || 1);
}
