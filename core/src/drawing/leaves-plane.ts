import type { Affine } from '../geometry/affine.js';
import { compose } from '../geometry/affine.js';
import type { Entity } from './entity.js';
import { lengthOf } from './measures.js';

/** Seen from above: heights go. */
const DOWN: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0];

/** A map of space as it is seen from above. */
export const fromAbove = (m: Affine): Affine => compose(DOWN, m);

/** Whether what an entity draws lies at more than one height, so that it is seen foreshortened from above. */
export function leavesPlane(e: Entity, toWorld: Affine): boolean {
  // A map that turns the plane out of itself takes everything along.
  if (toWorld[2] !== 0 || toWorld[5] !== 0) return true;
  const tilted = e.normal !== undefined && (e.normal[0] !== 0 || e.normal[1] !== 0);
  const uneven = (points: Float64Array): boolean => {
    for (let i = 5; i < points.length; i += 3) if (points[i] !== points[2]) return true;
    return false;
  };
  switch (e.kind) {
    case 'line':
      return e.start[2] !== e.end[2];
    case 'polyline':
      return e.dim === 3 ? uneven(e.points) : tilted;
    case 'spline':
    case 'mesh':
    case 'leader':
      return uneven(e.points);
    case 'face':
      return tilted || e.corners.some((c) => c[2] !== e.corners[0]![2]);
    case 'ray':
      return e.direction[2] !== 0;
    case 'image':
      return e.u[2] !== 0 || e.v[2] !== 0;
    case 'ellipse':
      return tilted || e.major[2] !== 0;
    default:
      return tilted;
  }
}

/** How much shorter an entity is drawn when it is seen from above, in the drawing's unit. */
export const foreshortening = (e: Entity, toWorld: Affine): number =>
  Math.max(0, lengthOf(e, toWorld) - lengthOf(e, fromAbove(toWorld)));
