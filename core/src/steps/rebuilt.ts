import { constantWidth } from '../drawing/constant-width.js';
import type { Run } from '../drawing/courses.js';
import { entityOfRun, pathOfRun } from '../drawing/courses.js';
import { derive } from '../drawing/derive.js';
import type { Entity, Polyline } from '../drawing/entity.js';
import { joinedPaths } from '../geometry/path.js';

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
