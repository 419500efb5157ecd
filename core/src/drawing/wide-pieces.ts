import type { Affine } from '../geometry/affine.js';
import { largestScale } from '../geometry/affine.js';
import type { Polyline } from './entity.js';
import { flattenEntity } from './flatten.js';

/** Receives the four corners of a piece, in order round it. */
export type PieceOfWidth = (corners: readonly number[]) => void;

/**
 * A polyline with widths as four-cornered pieces along its chords, each as wide at either end as the polyline is there; `tolerance` is how far chords
 * may lie from its arcs, in the space that `toWorld` leads to.
 */
export function widePieces(e: Polyline, toWorld: Affine, tolerance: number, put: PieceOfWidth): void {
  const n = e.points.length / e.dim;
  const scale = largestScale(toWorld);
  for (let i = 0; i < n; i++) {
    const j = i + 1 < n ? i + 1 : e.closed ? 0 : -1;
    const [w0, w1] = [(e.widths![2 * i]! * scale) / 2, (e.widths![2 * i + 1]! * scale) / 2];
    if (j < 0 || (w0 === 0 && w1 === 0)) continue;
    const piece: Polyline = {
      ...e,
      closed: false,
      points: Float64Array.from([i, j].flatMap((k) => Array.from(e.points.subarray(e.dim * k, e.dim * k + e.dim)))),
      ...(e.bulges && { bulges: Float64Array.of(e.bulges[i]!, 0) }),
    };
    const p: number[] = [];
    flattenEntity(piece, toWorld, tolerance, {
      moveTo: (x, y) => void p.push(x, y),
      lineTo: (x, y) => void p.push(x, y),
    });
    const steps = p.length / 2 - 1;
    for (let k = 0; k < steps; k++) {
      const [x0, y0, x1, y1] = [p[2 * k]!, p[2 * k + 1]!, p[2 * k + 2]!, p[2 * k + 3]!];
      const l = Math.hypot(x1 - x0, y1 - y0);
      if (l === 0) continue;
      const [nx, ny] = [-(y1 - y0) / l, (x1 - x0) / l];
      const [a, b] = [w0 + ((w1 - w0) * k) / steps, w0 + ((w1 - w0) * (k + 1)) / steps];
      put([x0 + nx * a, y0 + ny * a, x1 + nx * b, y1 + ny * b, x1 - nx * b, y1 - ny * b, x0 - nx * a, y0 - ny * a]);
    }
  }
}
