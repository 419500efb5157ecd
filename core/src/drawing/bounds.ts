import { IDENTITY } from '../geometry/affine.js';
import type { Box2 } from '../geometry/box.js';
import { BlockReach } from './block-reach.js';
import { KINDS } from './kinds.js';
import type { Drawing } from './drawing.js';
import { layerKey } from './drawing.js';
import type { Entity, Insert } from './entity.js';
import { BoundsSink, addEntityBounds } from './measures.js';
import type { WalkOptions } from './resolve.js';
import { walk } from './resolve.js';

/** The extent of what is drawn in a space: curves exactly, text by its anchor points. Hidden content on request. */
export function boundsOf(drawing: Drawing, options: WalkOptions = {}): Box2 {
  const sink = new BoundsSink();
  // What draws itself needs no walk: only whether it is in sight.
  const shown = new Map<string, boolean>();
  for (const l of drawing.layers) {
    const key = layerKey(drawing, l.name);
    shown.set(key, !l.off && !l.frozen && !options.frozen?.has(key));
    shown.set(l.name, shown.get(key)!);
  }
  const compound: Entity[] = [];
  const inserts: Insert[] = [];
  for (const e of drawing.entities) {
    if (e.kind === 'insert' || KINDS[e.kind].shown === 'parts' || e.node !== undefined) {
      if (e.kind === 'insert') inserts.push(e);
      else compound.push(e);
      continue;
    }
    if (e.sheet !== options.sheet) continue;
    const inSight =
      options.hidden === true ||
      (e.look.visible && (shown.get(e.layer) ?? shown.get(layerKey(drawing, e.layer)) ?? true));
    if (inSight) addEntityBounds(e, IDENTITY, sink);
  }
  if (inserts.length > 0) {
    const reach = new BlockReach(drawing.blocks);
    for (const i of inserts) if (!reach.within(i, sink.box)) compound.push(i);
  }
  if (compound.length > 0)
    walk({ ...drawing, entities: compound }, ({ entity, toWorld }) => addEntityBounds(entity, toWorld, sink), options);
  return sink.box;
}
