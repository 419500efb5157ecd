import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import { surveyOf } from '../drawing/survey.js';

/** A layer, group or sheet with the objects in it. */
export interface Filled {
  readonly name: string;
  readonly objects: number;
}

/** All layers in their order, empty ones too, each with the objects that are seen on it in model space, blocks taken apart. */
export function objectsByLayer(drawing: Drawing): Filled[] {
  const counts = new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), { name: l.name, objects: 0 }]));
  surveyOf(drawing).each(({ entity, resolved }) => {
    if (entity.kind === 'insert') return;
    const key = layerKey(drawing, resolved.layer);
    const own = counts.get(key);
    if (own) own.objects++;
    else counts.set(key, { name: resolved.layer, objects: 1 });
  });
  return [...counts.values()];
}

/** How many objects a drawing shows in model space, blocks taken apart. */
export const objectsIn = (drawing: Drawing): number => objectsByLayer(drawing).reduce((n, l) => n + l.objects, 0);
