import type { Nurbs } from './nurbs.js';
import { bezierPieces } from './nurbs.js';
import type { Piece } from './path-pieces.js';
import { COINCIDENT } from './tolerance.js';

/**
 * A rational quadratic curve as the circular arcs that it is (Piegl and Tiller, "The NURBS Book", §7.3: the middle weight is
 * the cosine of half the sweep, both legs are equally long), or straight lines; `null` where a piece of it is something else.
 */
export function arcsOfQuadratic(curve: Nurbs): Piece[] | null {
  if (curve.degree !== 2) return null;
  const out: Piece[] = [];
  for (const h of bezierPieces(curve)) {
    const [w0, w1, w2] = [h[3]!, h[7]!, h[11]!];
    const at = (i: number): [number, number] => [h[4 * i]! / h[4 * i + 3]!, h[4 * i + 1]! / h[4 * i + 3]!];
    if (!(w0 > 0 && w1 > 0 && w2 > 0)) return null;
    const [a, m, b] = [at(0), at(1), at(2)];
    const [ux, uy, vx, vy] = [m[0] - a[0], m[1] - a[1], b[0] - m[0], b[1] - m[1]];
    const [p, q] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
    if (p + q === 0) continue;
    const cross = ux * vy - uy * vx;
    if (Math.abs(cross) <= COINCIDENT * p * q) {
      out.push({ kind: 'bezier', p: [...a, ...b] });
      continue;
    }
    // In standard form both end weights are one.
    const w = w1 / Math.sqrt(w0 * w2);
    const sweep = Math.atan2(cross, ux * vx + uy * vy);
    if (Math.abs(p - q) > COINCIDENT * p || Math.abs(w - Math.cos(sweep / 2)) > COINCIDENT) return null;
    const radius = p / Math.tan(Math.abs(sweep) / 2);
    const side = Math.sign(sweep);
    const [cx, cy] = [a[0] - (uy / p) * radius * side, a[1] + (ux / p) * radius * side];
    const start = Math.atan2(a[1] - cy, a[0] - cx);
    out.push({ kind: 'arc', cx, cy, rx: radius, ry: radius, rotation: 0, start, sweep, from: a, to: b });
  }
  return out.length > 0 ? out : null;
}
