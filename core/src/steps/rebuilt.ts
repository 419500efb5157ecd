import { constantWidth } from '../drawing/constant-width.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, pathOfRun, runsOf } from '../drawing/courses.js';
import { derive } from '../drawing/derive.js';
import type { Entity } from '../drawing/entity.js';
import { cubicPieces } from '../geometry/nurbs-cubics.js';
import { nurbsFault } from '../geometry/nurbs.js';
import { joinedPaths } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';

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
  for (let i = 5; i < e.points.length; i += 3) if (e.points[i] !== e.points[2]) return null;
  const { pieces, deviation } = cubicPieces(e, bound);
  const made = pieces.map(({ start, numbers }): Piece => ({ kind: 'bezier', p: [...start, ...numbers] }));
  return made.length === 0 ? null : { runs: [{ pieces: made, closed: false, z: e.points[2] ?? 0 }], off: deviation };
}

/**
 * An entity of other runs: a path stays a path, one run of anything else becomes what says it most simply. `null` where no kind
 * holds it: free curves above or below the plane.
 */
export function rebuilt(e: Entity, runs: readonly Run[], circles = true): Entity | null {
  if (e.kind === 'path') {
    const flat = { kind: 'path', path: joinedPaths(runs.map(pathOfRun)), normal: undefined } as const;
    return derive(e, 'whole', { ...flat, ...(e.rest !== undefined && { rest: e.rest }) });
  }
  if (runs.length !== 1) return null;
  const made = entityOfRun(e, runs[0]!, 'whole', circles);
  const width = e.kind === 'polyline' ? constantWidth(e) : null;
  if (!made || width === null) return made;
  // Only polylines have a width of their own: anything else is drawn as wide.
  if (made.kind !== 'polyline') return { ...made, look: { ...made.look, width: { kind: 'drawing', value: width } } };
  const n = made.points.length / made.dim;
  const dashThrough = e.kind === 'polyline' ? e.dashThrough : undefined;
  return { ...made, widths: new Float64Array(2 * n).fill(width), ...(dashThrough !== undefined && { dashThrough }) };
}
