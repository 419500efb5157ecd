import { because } from './reasons.js';
import type { Drawing } from './drawing.js';
import { layerIndex, layerKey, newLayer } from './drawing.js';
import type { Entity } from './entity.js';
import type { Ledger } from './ledger.js';
import type { Lineage } from './lineage.js';
import { groupPath } from './groups-around.js';
import { hex } from './palette.js';
import { paintRgb } from './resolve.js';

/** What entities are sorted onto layers by. */
export type LayerRule = 'path' | 'stroke' | 'fill' | 'class' | 'width';

/** Sorts by a rule and says so in the ledger; `onGoing` is called now and then, and may throw to stop it. */
export function sortLayers(
  drawing: Drawing,
  rule: LayerRule,
  ledger: Ledger,
  lineage: Lineage,
  onGoing: () => void = () => {},
): Drawing {
  const sorted = layersByRule(drawing, rule, lineage, onGoing);
  ledger.add({
    carryOver: 'layers',
    action: 'changed',
    onPurpose: true,
    reason: because('sorted-onto-layers', { count: sorted.drawing.layers.length, rule: RULE_WORDS[rule] }),
    count: sorted.moved,
  });
  return sorted.drawing;
}

/** A drawing whose layers are named after what its entities are; `moved` counts those that changed their layer. */
function layersByRule(
  drawing: Drawing,
  rule: LayerRule,
  lineage: Lineage,
  onGoing: () => void = () => {},
): { drawing: Drawing; moved: number } {
  const old = layerIndex(drawing);
  const layers = new Map<string, ReturnType<typeof newLayer>>();
  let moved = 0;
  const place = (e: Entity): Entity => {
    const name = nameFor(e, rule, drawing, old) ?? e.layer;
    if (!layers.has(name)) {
      const own = old.get(layerKey(drawing, e.layer));
      layers.set(name, { ...(own ?? newLayer(name)), name, key: undefined, rest: undefined });
    }
    if (name === e.layer) return e;
    moved++;
    // Colour that came from the old layer is stated on the entity now: the new layer may stand for several.
    const own = old.get(layerKey(drawing, e.layer))?.paint;
    const look =
      own && (e.look.stroke.kind === 'byLayer' || e.look.fill.kind === 'byLayer')
        ? {
            ...e.look,
            stroke: e.look.stroke.kind === 'byLayer' ? own : e.look.stroke,
            fill: e.look.fill.kind === 'byLayer' ? own : e.look.fill,
          }
        : e.look;
    const { node: _n, ...rest } = e;
    const placed = { ...rest, layer: name, look } as Entity;
    lineage.replace(e, [placed], 'resorted');
    return placed;
  };
  const entities = drawing.entities.map((e, i) => {
    if (i % 4096 === 0) onGoing();
    return e.sheet === undefined ? place(e) : e;
  });
  for (const e of entities)
    if (e.sheet !== undefined && !layers.has(e.layer))
      layers.set(e.layer, old.get(layerKey(drawing, e.layer)) ?? newLayer(e.layer));
  const keys = new Set([...layers.keys()].map((n) => layerKey(drawing, n)));
  for (const b of drawing.blocks.values())
    for (const e of b.entities)
      if (!keys.has(layerKey(drawing, e.layer)) && keys.add(layerKey(drawing, e.layer)))
        layers.set(e.layer, old.get(layerKey(drawing, e.layer)) ?? newLayer(e.layer));
  return { drawing: { ...drawing, entities, layers: [...layers.values()] }, moved };
}

/** The rule in words, to follow “by”. */
const RULE_WORDS: Record<LayerRule, string> = {
  path: 'group path',
  stroke: 'stroke colour',
  fill: 'fill colour',
  class: 'class',
  width: 'line width',
};

function nameFor(e: Entity, rule: LayerRule, drawing: Drawing, layers: ReturnType<typeof layerIndex>): string | null {
  const own = layers.get(layerKey(drawing, e.layer));
  const colour = (paint: Entity['look']['stroke']): string => {
    const rgb = paintRgb(paint.kind === 'byLayer' ? (own?.paint ?? paint) : paint);
    return rgb === null ? 'none' : hex(rgb);
  };
  switch (rule) {
    case 'stroke':
      return `stroke ${colour(e.look.stroke)}`;
    case 'fill':
      return `fill ${colour(e.look.fill)}`;
    case 'class':
      return e.classes === undefined ? null : `class ${e.classes.split(/\s+/).sort().join(' ')}`;
    case 'width': {
      const w = e.look.width;
      if (w.kind === 'drawing') return `width ${Number(w.value.toPrecision(6))}`;
      const mm = w.kind === 'paper' ? w.mm : w.kind === 'byLayer' ? own?.weight : null;
      return mm === null || mm === undefined ? 'width standard' : `width ${mm} mm`;
    }
    case 'path':
      return groupPath(drawing, e) || null;
  }
}
