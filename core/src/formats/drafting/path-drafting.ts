import { bulgeOf } from '../../geometry/arcs.js';
import type { EllipseArc2 } from '../../geometry/ellipses.js';
import { ellipsePoint, endpointToCentre } from '../../geometry/ellipses.js';
import { quadraticAsCubic } from '../../geometry/beziers.js';
import type { PathData } from '../../geometry/path.js';
import { Cmd, visitPath } from '../../geometry/path.js';
import { COINCIDENT, isFullTurn, partsOfSweep } from '../../geometry/tolerance.js';

/** A subpath that drafting can hold as one polyline: x, y per vertex, and a bulge for each. */
export interface BulgePolyline {
  form: 'polyline';
  points: Float64Array;
  bulges: Float64Array;
  closed: boolean;
}

/** A subpath as one cubic NURBS: x, y, weight per control point; exact, its inner knots repeated three times. */
export interface CompositeSpline {
  form: 'spline';
  points: Float64Array;
  weights: Float64Array | null;
  knots: Float64Array;
  closed: boolean;
}

/** A subpath that is one elliptic arc or a whole ellipse. */
export interface SingleEllipse {
  form: 'ellipse';
  arc: EllipseArc2;
}

export type DraftingCurve = BulgePolyline | CompositeSpline | SingleEllipse;

type Piece =
  | { kind: 'line'; x: number; y: number }
  | { kind: 'arc'; arc: EllipseArc2; circular: boolean; x: number; y: number }
  | { kind: 'cubic'; c: readonly [number, number, number, number, number, number] };

interface Run {
  x: number;
  y: number;
  pieces: Piece[];
  closed: boolean;
}

/** The pieces of a single subpath, quadratics raised to cubics; `null` for a lone move. */
export function runOf(subpath: PathData): Run | null {
  const run: Run = { x: 0, y: 0, pieces: [], closed: false };
  visitPath(subpath, {
    move: (x, y) => {
      run.x = x;
      run.y = y;
    },
    close: () => {
      run.closed = true;
    },
    piece: (cmd, x0, y0, d, i) => {
      if (cmd === Cmd.Line) run.pieces.push({ kind: 'line', x: d[i]!, y: d[i + 1]! });
      else if (cmd === Cmd.Arc) {
        const arc = endpointToCentre(
          x0,
          y0,
          d[i]!,
          d[i + 1]!,
          d[i + 2]!,
          d[i + 3] !== 0,
          d[i + 4] !== 0,
          d[i + 5]!,
          d[i + 6]!,
        );
        const [x, y] = [d[i + 5]!, d[i + 6]!];
        if (!arc) run.pieces.push({ kind: 'line', x, y });
        else run.pieces.push({ kind: 'arc', arc, circular: Math.abs(arc.rx - arc.ry) <= COINCIDENT * arc.rx, x, y });
      } else if (cmd === Cmd.Cubic)
        run.pieces.push({ kind: 'cubic', c: [d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!, d[i + 4]!, d[i + 5]!] });
      else {
        const [x, y] = [d[i + 2], d[i + 3]];
        const q = quadraticAsCubic(x0, y0, d[i]!, d[i + 1]!, x!, y!);
        run.pieces.push({ kind: 'cubic', c: [...q, x!, y!] });
      }
    },
  });
  if (run.pieces.length === 0 && !run.closed) return null;
  return run;
}

const endOf = (p: Piece): [number, number] => (p.kind === 'cubic' ? [p.c[4], p.c[5]] : [p.x, p.y]);

/** The one drafting curve that equals the subpath; `null` when it draws nothing. */
export function draftingCurve(subpath: PathData): DraftingCurve | null {
  const run = runOf(subpath);
  if (!run) return null;
  const { pieces } = run;
  if (pieces.every((p) => p.kind === 'line' || (p.kind === 'arc' && p.circular))) return bulgePolyline(run);
  const ellipse = singleEllipse(run);
  if (ellipse) return ellipse;
  return compositeSpline(run);
}

/** One elliptic arc, or several of the same ellipse that follow each other (how a whole ellipse is written in SVG). */
function singleEllipse(run: Run): SingleEllipse | null {
  const [first, ...rest] = run.pieces;
  if (first?.kind !== 'arc') return null;
  let sweep = first.arc.sweep;
  const near = (a: number, b: number): boolean => Math.abs(a - b) <= COINCIDENT * (first.arc.rx + first.arc.ry);
  for (const p of rest) {
    if (p.kind !== 'arc') return null;
    const { arc } = p;
    const same =
      near(arc.cx, first.arc.cx) &&
      near(arc.cy, first.arc.cy) &&
      near(arc.rx, first.arc.rx) &&
      near(arc.ry, first.arc.ry);
    if (!same || arc.rotation !== first.arc.rotation || arc.sweep > 0 !== sweep > 0) return null;
    sweep += arc.sweep;
  }
  const whole = isFullTurn(sweep);
  if (run.closed && !whole) return null;
  if (!whole && Math.abs(sweep) > 2 * Math.PI) return null;
  return { form: 'ellipse', arc: { ...first.arc, sweep } };
}

function bulgePolyline(run: Run): BulgePolyline {
  const xy = [run.x, run.y];
  const bulges: number[] = [];
  for (const p of run.pieces) {
    bulges.push(p.kind === 'arc' ? bulgeOf(p.arc.sweep) : 0);
    xy.push(...endOf(p));
  }
  const n = xy.length / 2;
  const back = run.closed && n > 2 && xy[0] === xy[2 * n - 2] && xy[1] === xy[2 * n - 1];
  if (back) xy.length -= 2;
  else bulges.push(0);
  return { form: 'polyline', points: Float64Array.from(xy), bulges: Float64Array.from(bulges), closed: run.closed };
}

function compositeSpline(run: Run): CompositeSpline {
  // Homogeneous control points (x·w, y·w, w).
  const h: number[] = [run.x, run.y, 1];
  let [x, y] = [run.x, run.y];
  const cubic = (a: readonly number[], b: readonly number[], c: readonly number[]): void =>
    void h.push(...a, ...b, ...c);
  const lineTo = (x1: number, y1: number): void => {
    cubic([x + (x1 - x) / 3, y + (y1 - y) / 3, 1], [x + (2 * (x1 - x)) / 3, y + (2 * (y1 - y)) / 3, 1], [x1, y1, 1]);
  };
  for (const p of run.pieces) {
    if (p.kind === 'line') lineTo(p.x, p.y);
    else if (p.kind === 'cubic') cubic([p.c[0], p.c[1], 1], [p.c[2], p.c[3], 1], [p.c[4], p.c[5], 1]);
    else rationalArc(p.arc, p.x, p.y, cubic);
    [x, y] = endOf(p);
  }
  if (run.closed && (x !== run.x || y !== run.y)) lineTo(run.x, run.y);
  const n = h.length / 3;
  const points = new Float64Array(3 * n);
  const weights = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    weights[i] = h[3 * i + 2]!;
    points[3 * i] = h[3 * i]! / weights[i]!;
    points[3 * i + 1] = h[3 * i + 1]! / weights[i]!;
  }
  const segments = (n - 1) / 3;
  const knots: number[] = [0, 0, 0, 0];
  for (let s = 1; s < segments; s++) knots.push(s, s, s);
  knots.push(segments, segments, segments, segments);
  return {
    form: 'spline',
    points,
    weights: weights.some((w) => w !== 1) ? weights : null,
    knots: Float64Array.from(knots),
    closed: run.closed,
  };
}

/** The spline of degree 3 that an elliptic arc exactly is, its control points as x, y. */
export function arcSpline(arc: EllipseArc2): Pick<CompositeSpline, 'points' | 'weights' | 'knots'> {
  const [x, y] = ellipsePoint(arc, arc.start);
  const [x1, y1] = ellipsePoint(arc, arc.start + arc.sweep);
  const piece: Piece = { kind: 'arc', arc, circular: false, x: x1, y: y1 };
  const { points, weights, knots } = compositeSpline({ x, y, pieces: [piece], closed: false });
  return { points: points.filter((_, i) => i % 3 < 2), weights, knots };
}

/**
 * An elliptic arc as rational quadratics of at most a quarter turn (middle weight cos(θ/2), Piegl and Tiller §7.3),
 * each raised to degree 3 in homogeneous coordinates: (P0, (P0+2P1)/3, (2P1+P2)/3, P2).
 */
function rationalArc(
  arc: EllipseArc2,
  x: number,
  y: number,
  cubic: (a: readonly number[], b: readonly number[], c: readonly number[]) => void,
): void {
  const n = partsOfSweep(arc.sweep, Math.PI / 2);
  const d = arc.sweep / n;
  const w = Math.cos(d / 2);
  for (let i = 0; i < n; i++) {
    const t0 = arc.start + i * d;
    const p0 = ellipsePoint(arc, t0);
    const p1 = ellipsePoint(arc, t0 + d / 2, 1 / w);
    const p2 = i === n - 1 ? [x, y] : ellipsePoint(arc, t0 + d);
    const mid = [p1[0] * w, p1[1] * w, w];
    cubic(
      [(p0[0] + 2 * mid[0]!) / 3, (p0[1] + 2 * mid[1]!) / 3, (1 + 2 * w) / 3],
      [(2 * mid[0]! + p2[0]!) / 3, (2 * mid[1]! + p2[1]!) / 3, (2 * w + 1) / 3],
      [p2[0]!, p2[1]!, 1],
    );
  }
}
