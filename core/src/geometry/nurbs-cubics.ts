import type { Nurbs } from './nurbs.js';
import { bezierPieces } from './nurbs.js';
import { cubicAt } from './beziers.js';
import { isSame } from './tolerance.js';

/** A piece of a curve that a path can hold: the numbers of a line, quadratic or cubic after its start. */
export interface BezierPiece {
  start: [number, number];
  numbers: number[];
}

/**
 * A NURBS curve as Bézier pieces in the plane. Exact where it is not rational and of degree 3 or less; otherwise by
 * cubics that share end points and tangents, halved until none strays further than `tolerance` at three inner points.
 * `deviation` is the largest distance met.
 */
export function cubicPieces(curve: Nurbs, tolerance: number): { pieces: BezierPiece[]; deviation: number } {
  const pieces: BezierPiece[] = [];
  let deviation = 0;
  for (const h of bezierPieces(curve)) {
    const weights = Array.from({ length: curve.degree + 1 }, (_, i) => h[4 * i + 3]!);
    const rational = weights.some((w) => !isSame(w, weights[0]!));
    if (!rational && curve.degree <= 3) {
      const w = weights[0]!;
      const xy = weights.flatMap((_, i) => [h[4 * i]! / w, h[4 * i + 1]! / w]);
      pieces.push({ start: [xy[0]!, xy[1]!], numbers: xy.slice(2) });
    } else deviation = Math.max(deviation, approximate(h, 0, 1, tolerance, pieces, 0));
  }
  return { pieces, deviation };
}

/** Point and derivative of a homogeneous Bézier piece at `t`. */
function pointAndDerivative(h: Float64Array, t: number): [number, number, number, number] {
  let d = Array.from({ length: h.length / 4 }, (_, i) => [h[4 * i]!, h[4 * i + 1]!, h[4 * i + 3]!]);
  const degree = d.length - 1;
  let before = d;
  while (d.length > 1) {
    before = d;
    d = d.slice(1).map((p, i) => p.map((v, k) => (1 - t) * before[i]![k]! + t * v));
  }
  const [X, Y, W] = d[0]!;
  const derivative = (k: number): number => degree * (before[1]![k]! - before[0]![k]!);
  const [dX, dY, dW] = [derivative(0), derivative(1), derivative(2)];
  return [X! / W!, Y! / W!, (dX * W! - X! * dW) / (W! * W!), (dY * W! - Y! * dW) / (W! * W!)];
}

function approximate(
  h: Float64Array,
  t0: number,
  t1: number,
  tolerance: number,
  out: BezierPiece[],
  depth: number,
): number {
  const [x0, y0, dx0, dy0] = pointAndDerivative(h, t0);
  const [x3, y3, dx3, dy3] = pointAndDerivative(h, t1);
  const k = (t1 - t0) / 3;
  const [x1, y1, x2, y2] = [x0 + k * dx0, y0 + k * dy0, x3 - k * dx3, y3 - k * dy3];
  let worst = 0;
  for (const s of [0.25, 0.5, 0.75]) {
    const [px, py] = pointAndDerivative(h, t0 + s * (t1 - t0));
    worst = Math.max(worst, Math.hypot(px - cubicAt(x0, x1, x2, x3, s), py - cubicAt(y0, y1, y2, y3, s)));
  }
  if (worst <= tolerance || depth >= 16) {
    out.push({ start: [x0, y0], numbers: [x1, y1, x2, y2, x3, y3] });
    return worst;
  }
  const mid = (t0 + t1) / 2;
  return Math.max(
    approximate(h, t0, mid, tolerance, out, depth + 1),
    approximate(h, mid, t1, tolerance, out, depth + 1),
  );
}
