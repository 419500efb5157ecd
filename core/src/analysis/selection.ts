import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { namePattern } from '../drawing/name-pattern.js';
import { hex } from '../drawing/palette.js';
import { walk } from '../drawing/resolve.js';
import type { Selection } from '../parameters/parameter.js';

/**
 * What a selection by rule takes of a drawing: entities of model space, of sheets and of blocks that meet every condition
 * given. Layers and colours count as they are seen: by layer, by block, and from layer 0 as the insert has them; an entity
 * of a block is taken when it is seen so in one insert at least. Hidden ones count too. Without conditions all are taken.
 */
export function selectedBy(rule: Selection, drawing: Drawing): (e: Entity) => boolean {
  const { layers, kinds, stroke, fill } = rule;
  const ofKind = kinds.length === 0 ? null : new Set(kinds);
  const named = layers.trim() === '' ? null : namePattern(layers);
  if (!named && stroke === '' && fill === '') return (e) => !ofKind || ofKind.has(e.kind);
  const seen = (rgb: number | null, wanted: string): boolean => rgb !== null && hex(rgb) === wanted.toLowerCase();
  const taken = new Set<Entity>();
  const look = (sheet?: string): void =>
    walk(
      drawing,
      ({ entity, resolved: r }) => {
        if (ofKind && !ofKind.has(entity.kind)) return;
        if (named && !named(r.layer)) return;
        if (stroke !== '' && !seen(r.stroke, stroke)) return;
        if (fill !== '' && !seen(r.fill, fill)) return;
        taken.add(entity);
      },
      { hidden: true, ...(sheet !== undefined && { sheet }) },
    );
  look();
  for (const sheet of new Set(drawing.entities.flatMap((e) => e.sheet ?? []))) look(sheet);
  return (e) => taken.has(e);
}
