import { cubicPieces } from '../geometry/nurbs-cubics.js';
import { nurbsFault } from '../geometry/nurbs.js';
import type { Piece } from '../geometry/path-pieces.js';
import { constantWidth } from './constant-width.js';
import type { Run } from './courses.js';
import { levelOf, runsOf } from './courses.js';
import type { Entity } from './entity.js';

/** The curves of an entity to be made otherwise, and how far they lie from it already, where they could not be had exactly. */
export interface Taken {
  runs: readonly Run[];
  off: number;
}

/**
 * The runs of an entity, polylines of one width among them; splines that are no Béziers (rational, or of a high degree) as
 * cubics within `bound`. `null` for what is not flat, and for kinds that are no curves.
 */
export function takenRuns(e: Entity, bound: number): Taken | null {
  const plain = e.kind === 'polyline' && constantWidth(e) !== null ? ({ ...e, widths: undefined } as Entity) : e;
  const runs = runsOf(plain);
  if (runs) return { runs, off: 0 };
  if (e.kind !== 'spline' || nurbsFault(e) !== null) return null;
  const z = levelOf(e.points);
  if (z === null) return null;
  const { pieces, deviation } = cubicPieces(e, bound);
  const made = pieces.map(({ start, numbers }): Piece => ({ kind: 'bezier', p: [...start, ...numbers] }));
  return made.length === 0 ? null : { runs: [{ pieces: made, closed: false, z }], off: deviation };
}
