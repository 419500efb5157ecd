import { interpolate } from '../geometry/interpolate.js';
import type { Vec3 } from '../geometry/vector.js';
import { arrowHead } from './arrows.js';
import type { PartBase } from './arrows.js';
import { dimensionPicture } from './dimension-picture.js';
import { dimensionLook } from './dimension-style.js';
import type { Drawing } from './drawing.js';
import type { Entity, Leader } from './entity.js';

/** The name of the block that shows an entity, where it has one and the drawing holds it. */
export function pictureOf(e: Entity, drawing: Pick<Drawing, 'blocks'>): string | undefined {
  if (e.kind !== 'opaque' && e.kind !== 'dimension') return undefined;
  return e.picture !== undefined && drawing.blocks.has(e.picture.toLowerCase()) ? e.picture : undefined;
}

/**
 * The simple entities that show a compound one: a leader's line and arrowhead, a dimension without its picture block, a
 * record that is not understood but was decoded. Empty for kinds that show themselves. In the entity's own space.
 */
export function partsOf(e: Entity, drawing: Pick<Drawing, 'dimensionStyles' | 'blocks'>): Entity[] {
  if (e.kind === 'leader') return leaderParts(e, drawing);
  if (e.kind === 'dimension') return pictureOf(e, drawing) === undefined ? dimensionPicture(e, drawing) : [];
  if (e.kind === 'opaque') return e.drawn ?? [];
  return [];
}

function leaderParts(e: Leader, drawing: Pick<Drawing, 'dimensionStyles'>): Entity[] {
  const base: PartBase = { id: e.id, layer: e.layer, look: e.look };
  const p = e.points;
  const at = (i: number): Vec3 => [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!];
  const curve = e.curved && p.length > 6 ? interpolate(p) : null;
  const line: Entity = curve
    ? { kind: 'spline', ...base, ...curve, closed: false, periodic: false }
    : { kind: 'polyline', ...base, points: p, dim: 3, elevation: 0, closed: false };
  const head = e.arrow ? arrowHead(base, at(0), at(1), dimensionLook(drawing, e.style, e.extended).arrowSize) : null;
  return head ? [line, head] : [line];
}
