import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';

/**
 * A drawing with each of its entities, in model space, on sheets and in blocks, put through a change: another, the very same, or
 * `null` for none. Lists and blocks in which nothing changes stay the very same, so that nobody takes them for changed.
 */
export function changeAll(drawing: Drawing, change: (e: Entity, block: Block | null) => Entity | null): Drawing {
  const list = (entities: readonly Entity[], block: Block | null): Entity[] | null => {
    let any = false;
    const out: Entity[] = [];
    for (const e of entities) {
      const made = change(e, block);
      if (made !== e) any = true;
      if (made) out.push(made);
    }
    return any ? out : null;
  };
  const entities = list(drawing.entities, null);
  let blocks: Map<string, Block> | null = null;
  for (const [key, block] of drawing.blocks) {
    const own = list(block.entities, block);
    if (own) (blocks ??= new Map(drawing.blocks)).set(key, { ...block, entities: own });
  }
  return entities || blocks ? { ...drawing, ...(entities && { entities }), ...(blocks && { blocks }) } : drawing;
}
