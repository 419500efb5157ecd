import type { Block, Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { Ledger } from '../../drawing/ledger.js';
import { partsOf, pictureOf } from '../../drawing/parts.js';

/**
 * A drawing in which every dimension has the block that shows it: readers take one without for broken. New ones are
 * drawn from the dimension's style; they lie on layer 0, so that they follow the layer of the dimension.
 */
export function withDimensionBlocks(drawing: Drawing, ledger: Ledger): Drawing {
  const made = new Map<string, Block>();
  let n = 0;
  const fresh = (): string => {
    for (;;) {
      const name = `*D${++n}`;
      if (!drawing.blocks.has(name.toLowerCase())) return name;
    }
  };
  const pictured = (e: Entity): Entity => {
    if (e.kind !== 'dimension' || pictureOf(e, drawing) !== undefined) return e;
    const name = fresh();
    const entities = partsOf(e, drawing).map((p): Entity => ({ ...p, layer: '0' }));
    made.set(name.toLowerCase(), { name, base: [0, 0, 0], entities });
    ledger.add({
      carryOver: 'text',
      action: 'changed',
      reason: 'dimension-picture-made',
      onPurpose: true,
      id: e.id,
    });
    return { ...e, picture: name };
  };
  const bare = (list: readonly Entity[]): boolean => {
    for (const e of list) if (e.kind === 'dimension' && pictureOf(e, drawing) === undefined) return true;
    return false;
  };
  if (!bare(drawing.entities) && ![...drawing.blocks.values()].some((b) => bare(b.entities))) return drawing;
  const entities = drawing.entities.map(pictured);
  const blocks = new Map<string, Block>();
  for (const [key, b] of drawing.blocks) {
    const inner = b.entities.map(pictured);
    blocks.set(key, inner.some((e, i) => e !== b.entities[i]) ? { ...b, entities: inner } : b);
  }
  for (const [key, b] of made) blocks.set(key, b);
  return { ...drawing, entities, blocks };
}
