import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { resolveRef } from '../drawing/entity-ref.js';
import { flattenEntity } from '../drawing/flatten.js';
import { entityToWorld } from '../drawing/curves.js';
import { namePattern } from '../drawing/name-pattern.js';
import { outlinePath } from '../drawing/outline-path.js';
import { hex } from '../drawing/palette.js';
import type { Visit } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { IDENTITY, applyPoint } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { transformPath } from '../geometry/path.js';
import { Region } from '../geometry/region.js';
import { CHORDS, COINCIDENT } from '../geometry/tolerance.js';
import type { Selection } from '../parameters/parameter.js';

/**
 * What a selection by rule takes of a drawing: entities of model space, of sheets and of blocks that meet every condition
 * given. Layers and colours count as they are seen: by layer, by block, and from layer 0 as the insert has them; an entity
 * of a block is taken when it is seen so in one insert at least, and so are sizes and places. Hidden ones count too. Without
 * conditions all are taken. What was picked and is not found takes nothing: `lostPicks` counts it.
 */
export function selectedBy(rule: Selection, drawing: Drawing): (e: Entity) => boolean {
  const { layers, kinds, stroke, fill, only } = rule;
  const ofKind = kinds.length === 0 ? null : new Set(kinds);
  const picked = only.length === 0 ? null : new Set(only.map((ref) => resolveRef(ref, drawing)));
  const grouped = groupTest(rule.group, drawing);
  const simply = (e: Entity): boolean => (!ofKind || ofKind.has(e.kind)) && (!picked || picked.has(e)) && grouped(e);
  const named = layers.trim() === '' ? null : namePattern(layers);
  const placed = placeTest(rule, drawing);
  if (!named && stroke === '' && fill === '' && !placed) return simply;
  const seen = (rgb: number | null, wanted: string): boolean => rgb !== null && hex(rgb) === wanted.toLowerCase();
  const taken = new Set<Entity>();
  const look = (sheet?: string): void =>
    walk(
      drawing,
      (v) => {
        const { entity, resolved: r } = v;
        if (taken.has(entity) || !simply(entity)) return;
        if (named && !named(r.layer)) return;
        if (stroke !== '' && !seen(r.stroke, stroke)) return;
        if (fill !== '' && !seen(r.fill, fill)) return;
        if (placed && !placed(v)) return;
        taken.add(entity);
      },
      { hidden: true, ...(sheet !== undefined && { sheet }) },
    );
  look();
  for (const sheet of new Set(drawing.entities.flatMap((e) => e.sheet ?? []))) look(sheet);
  return (e) => taken.has(e);
}

/** How many of the entities that a selection names one by one, or by the outline it asks for, the drawing does not have. */
export const lostPicks = (rule: Selection, drawing: Drawing): number =>
  [...rule.only, ...rule.inside].filter((ref) => resolveRef(ref, drawing) === null).length;

/** Whether an entity lies in a group whose name fits, or in one further in. */
function groupTest(pattern: string, { nodes }: Drawing): (e: Entity) => boolean {
  if (pattern.trim() === '') return () => true;
  const fits = namePattern(pattern);
  const known = nodes.map((): boolean | null => null);
  const within = (i: number): boolean => {
    const told = known[i];
    if (told !== null && told !== undefined) return told;
    const node = nodes[i]!;
    return (known[i] = fits(node.name) || (node.parent !== null && within(node.parent)));
  };
  return (e) => e.node !== undefined && within(e.node);
}

/** Whether what is seen has the size asked for and lies in the outline asked for; `null` where neither is asked. */
function placeTest(rule: Selection, drawing: Drawing): ((v: Visit) => boolean) | null {
  const { smallest, largest, inside } = rule;
  if (smallest === 0 && largest === 0 && inside.length === 0) return null;
  const region = inside.length > 0 ? regionOf(inside[0]!, drawing) : null;
  const outline = inside.length > 0 ? resolveRef(inside[0]!, drawing) : null;
  return (v) => {
    if (v.entity === outline) return false;
    const box = boxOf(v, drawing);
    const size = Math.max(box.width, box.height);
    if (size < smallest * (1 - COINCIDENT) || (largest > 0 && size > largest * (1 + COINCIDENT))) return false;
    if (inside.length === 0) return true;
    if (!region || box.empty) return false;
    const side = region.side(box);
    return side === 'in' || (side === 'across' && liesIn(v, box, region));
  };
}

function regionOf(ref: string, drawing: Drawing): Region | null {
  const outline = resolveRef(ref, drawing);
  const path = outline && outlinePath(outline);
  if (!path) return null;
  return new Region([{ path: transformPath(path, entityToWorld(outline, IDENTITY)), rule: 'evenodd' }]);
}

function boxOf({ entity, toWorld }: Visit, drawing: Drawing): Box2 {
  if (entity.kind === 'insert') return boundsOf({ ...drawing, entities: [{ ...entity, sheet: undefined } as Entity] });
  const box = new Box2();
  addEntityBounds(entity, toWorld, new BoundsSink(box));
  return box;
}

/** Whether the ends and the chords' corners of a curve lie in a region; of what has no curves, the place it hangs by. */
function liesIn({ entity, toWorld }: Visit, box: Box2, region: Region): boolean {
  let inside = true;
  let any = false;
  const look = (x: number, y: number): void => {
    any = true;
    inside &&= region.contains(x, y);
  };
  flattenEntity(entity, toWorld, Math.max(box.diagonal, region.box.diagonal) * CHORDS, { moveTo: look, lineTo: look });
  if (any) return inside;
  if (!('at' in entity)) return false;
  const p = applyPoint(entityToWorld(entity, toWorld), entity.at);
  return region.contains(p[0], p[1]);
}
