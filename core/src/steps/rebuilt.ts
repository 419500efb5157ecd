import { constantWidth } from '../drawing/constant-width.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, levelOf, pathOfRun, runsOf } from '../drawing/courses.js';
import { derive } from '../drawing/derive.js';
import type { Entity, Polyline } from '../drawing/entity.js';
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
  const z = levelOf(e.points);
  if (z === null) return null;
  const { pieces, deviation } = cubicPieces(e, bound);
  const made = pieces.map(({ start, numbers }): Piece => ({ kind: 'bezier', p: [...start, ...numbers] }));
  return made.length === 0 ? null : { runs: [{ pieces: made, closed: false, z }], off: deviation };
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
  return made && asWide(e, made);
}

/**
 * What was made of an entity, as wide as that and dashed as it is: polylines alone have a width of their own, anything else is
 * drawn in it.
 */
export function asWide(from: Entity, made: Entity): Entity {
  if (from.kind !== 'polyline') return made;
  const width = constantWidth(from);
  if (made.kind !== 'polyline')
    return width === null ? made : { ...made, look: { ...made.look, width: { kind: 'drawing', value: width } } };
  return {
    ...made,
    ...(width !== null && { widths: new Float64Array((2 * made.points.length) / made.dim).fill(width) }),
    ...(from.dashThrough !== undefined && { dashThrough: from.dashThrough }),
  };
}

/** A polyline by some of its points, moved or not: `kept` says which they were, so that their widths and all else stay. */
export function polylineBy(
  e: Polyline,
  kept: ArrayLike<number>,
  made: Pick<Polyline, 'points'> & Partial<Pick<Polyline, 'dim' | 'elevation' | 'bulges'>>,
): Polyline {
  const { dim, elevation, closed, widths, dashThrough, rest } = e;
  const own = Float64Array.from({ length: 2 * kept.length }, (_, i) => widths?.[2 * kept[i >> 1]! + (i & 1)] ?? 0);
  return derive(e, 'whole', {
    kind: 'polyline',
    dim,
    elevation,
    closed,
    ...made,
    ...(widths && { widths: own }),
    ...(dashThrough !== undefined && { dashThrough }),
    // Tags of a record belong to it in two dimensions, or in three.
    ...(rest !== undefined && (made.dim ?? dim) === dim && { rest }),
  });
}
