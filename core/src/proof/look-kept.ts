import type { Paint } from '../drawing/appearance.js';
import { constantWidth, hasVaryingWidth } from '../drawing/constant-width.js';
import type { Entity } from '../drawing/entity.js';
import type { Descent, LineageCode } from '../drawing/lineage.js';

/** Changes of shape or place alone: colours, widths, dashes and layers stay as they were. */
const SHAPE_ALONE: ReadonlySet<LineageCode> = new Set([
  'ends-joined',
  'chained',
  'met-in-corner',
  'points-thinned',
  'anchor-rehung',
  'rounded',
  'arcs-recovered',
  'as-chords',
  'as-arcs',
  'as-beziers',
  'edges-shared',
  'overlap-merged',
  'warped',
]);

/**
 * What a change of shape alone made that is drawn otherwise, or lies on another layer, than everything it came of; `null` where
 * all is drawn as before. A polyline of one width and a curve drawn in that width are drawn alike.
 */
export function drawnOtherwise({ code, from, to }: Descent): Entity | null {
  // On a page things are as wide as their scale makes them; where they belong and what they are painted with stays.
  if (code === 'shown-on-page') return to.find((e) => !from.some((f) => sameLayer(f, e) && samePaints(f, e))) ?? null;
  if (!SHAPE_ALONE.has(code)) return null;
  return to.find((e) => !from.some((f) => f === e || (isAlike(f, e) && sameLayer(f, e)))) ?? null;
}

const sameLayer = (a: Entity, b: Entity): boolean =>
  a.layer === b.layer || a.layer.toLowerCase() === b.layer.toLowerCase();

function samePaints({ look: a }: Entity, { look: b }: Entity): boolean {
  const said = (p: Paint): string => JSON.stringify([p.kind, 'rgb' in p && p.rgb, 'index' in p && p.index]);
  return a.visible === b.visible && said(a.stroke) === said(b.stroke) && said(a.fill) === said(b.fill);
}

function isAlike(a: Entity, b: Entity): boolean {
  // Looks are shared: most that are alike are one.
  return (a.look === b.look && ownWidth(a) === ownWidth(b)) || asDrawn(a) === asDrawn(b);
}

/** The width that a polyline has of its own, if any. */
const ownWidth = (e: Entity): number | 'varying' | null =>
  e.kind !== 'polyline' ? null : hasVaryingWidth(e) ? 'varying' : constantWidth(e);

function asDrawn(e: Entity): string {
  const own = ownWidth(e);
  return JSON.stringify(own === null ? e.look : { ...e.look, width: { kind: 'drawing', value: own } });
}
