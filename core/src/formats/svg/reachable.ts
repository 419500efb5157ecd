import type { Entity } from '../../drawing/entity.js';
import { isDrawable } from '../../geometry/magnitude.js';

/** Whether all places and sizes of an entity are numbers that can be drawn with. */
export function isReachable(e: Entity): boolean {
  switch (e.kind) {
    case 'path':
      return e.path.data.every(isDrawable);
    case 'polyline':
      return e.points.every(isDrawable);
    case 'line':
      return [...e.start, ...e.end].every(isDrawable);
    case 'circle':
      return [...e.centre, e.radius].every(isDrawable);
    case 'ellipse':
      return [...e.centre, ...e.major, e.ratio].every(isDrawable);
    case 'text':
      return [...e.at, e.size, e.rotation, e.widthFactor, e.spacing ?? 0].every(isDrawable);
    case 'image':
      return [...e.at, ...e.u, ...e.v, ...e.pixels].every(isDrawable);
    default:
      return true;
  }
}
