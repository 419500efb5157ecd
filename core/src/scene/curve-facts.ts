import { Box2 } from '../geometry/box.js';
import { areaOf } from '../drawing/area.js';
import { curvesOf } from '../drawing/curves.js';
import { flattenEntity } from '../drawing/flatten.js';
import { lengthOf } from '../drawing/measures.js';
import { fitCircle } from '../geometry/fit-circle.js';
import type { ItemIndex, OutOfSight } from './item-index.js';
import { toSegment } from './item-index.js';
import { UNSEEN } from '../geometry/tolerance.js';

/** What can be measured of the curve under a point; lengths in the drawing's unit. */
export interface CurveFacts {
  kind: string;
  length: number;
  area: number | null;
  /** The circle that the curve is, or whose arc lies under the point. */
  round: { x: number; y: number; radius: number } | null;
  /** The curve as chords, to be shown: x and y from, x and y to. */
  chords: number[];
}

/** How far a curve may lie from a circle, as a part of its radius, and still have one radius. */
const ROUND = UNSEEN;

/** Measures the curve nearest to a point within `reach`; parts of blocks count for themselves. `null` where none is. */
export function curveAt(items: ItemIndex, x: number, y: number, reach: number, out: OutOfSight): CurveFacts | null {
  let least = reach;
  let found: CurveFacts | null = null;
  items.pieces(items.meeting(Box2.of(x - reach, y - reach, x + reach, y + reach)), out, ({ entity: e, toWorld }) => {
    if (e.kind === 'text' || e.kind === 'richText') return;
    const chords: number[] = [];
    let [px, py] = [0, 0];
    let nearest = Infinity;
    flattenEntity(e, toWorld, reach / 20, {
      moveTo: (qx, qy) => void ([px, py] = [qx, qy]),
      lineTo: (qx, qy) => {
        nearest = Math.min(nearest, toSegment(x, y, px, py, qx, qy));
        chords.push(px, py, qx, qy);
        [px, py] = [qx, qy];
      },
    });
    if (nearest >= least) return;
    least = nearest;
    let round: CurveFacts['round'] = null;
    let closest = Infinity;
    curvesOf(e, toWorld, {
      move: () => {},
      line: () => {},
      cubic: () => {},
      nurbs: () => {},
      arc: (c, u, v, start, sweep) => {
        const [lu, lv] = [Math.hypot(u[0], u[1]), Math.hypot(v[0], v[1])];
        if (Math.abs(lu - lv) > ROUND * lu || Math.abs(u[0] * v[0] + u[1] * v[1]) > ROUND * lu * lu) return;
        // The distance from this arc: on its circle, if the direction lies within it.
        const away = Math.abs(Math.hypot(x - c[0], y - c[1]) - lu);
        const t = Math.atan2(v[0] * (x - c[0]) + v[1] * (y - c[1]), u[0] * (x - c[0]) + u[1] * (y - c[1]));
        const turn = 2 * Math.PI;
        const along = (((sweep >= 0 ? t - start : start - t) % turn) + turn) % turn;
        if (along > Math.abs(sweep) + 0.05 || away >= closest) return;
        closest = away;
        round = { x: c[0], y: c[1], radius: lu };
      },
    });
    if (!round && chords.length >= 32 && chords.length <= 40_000) {
      // A circle of chords or Béziers has a diameter too.
      const points = chords.flatMap((_, i) => (i % 4 === 0 ? [chords[i]!, chords[i + 1]!] : []));
      const fit = fitCircle(points);
      if (fit && fit.off <= 1e-3 * fit.radius) round = { x: fit.x, y: fit.y, radius: fit.radius };
    }
    found = { kind: e.kind, length: lengthOf(e, toWorld), area: areaOf(e, toWorld), round, chords };
  });
  return found;
}
