import type { Drawing } from '../drawing/drawing.js';
import { layerIndex, layerKey, newLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { hex } from '../drawing/palette.js';
import { paintRgb } from '../drawing/resolve.js';
import type { Step } from './step.js';

const RULES = ['path', 'stroke', 'fill', 'width'] as const;
type Rule = (typeof RULES)[number];

/** Puts every entity on a layer named after its group, colour or line width. */
export const sortByRule: Step = {
  id: 'sort-by-rule',
  title: 'Sort by rule',
  summary: 'Makes layers from what entities are: their whole group path, stroke or fill colour, or line width.',
  carries: ['layers'],
  on: 'definition',
  params: {
    type: 'object',
    properties: {
      by: {
        type: 'string',
        title: 'A layer for each',
        default: 'stroke',
        enum: RULES,
        titles: ['Group, with the groups around it', 'Stroke colour', 'Fill colour', 'Line width'],
      },
    },
    required: ['by'],
    additionalProperties: false,
  },
  run(drawing, params, ctx) {
    const rule = params['by'] as Rule;
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
      return { ...rest, layer: name, look } as Entity;
    };
    const entities = drawing.entities.map((e) => (e.sheet === undefined ? place(e) : e));
    for (const e of entities) if (e.sheet !== undefined && !layers.has(e.layer)) layers.set(e.layer, old.get(layerKey(drawing, e.layer)) ?? newLayer(e.layer)); // prettier-ignore
    for (const b of drawing.blocks.values())
      for (const e of b.entities)
        if (![...layers.keys()].some((n) => layerKey(drawing, n) === layerKey(drawing, e.layer)))
          layers.set(e.layer, old.get(layerKey(drawing, e.layer)) ?? newLayer(e.layer));
    ctx.ledger.add({
      carryOver: 'layers',
      action: 'changed',
      onPurpose: true,
      reason: `sorted onto ${layers.size} layers by ${TITLES[rule]}`,
      count: moved,
    });
    return { ...drawing, entities, layers: [...layers.values()] };
  },
};

const TITLES: Record<Rule, string> = {
  path: 'group path',
  stroke: 'stroke colour',
  fill: 'fill colour',
  width: 'line width',
};

function nameFor(e: Entity, rule: Rule, drawing: Drawing, layers: ReturnType<typeof layerIndex>): string | null {
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
    case 'width': {
      const w = e.look.width;
      if (w.kind === 'drawing') return `width ${Number(w.value.toPrecision(6))}`;
      const mm = w.kind === 'paper' ? w.mm : w.kind === 'byLayer' ? own?.weight : null;
      return mm === null || mm === undefined ? 'width standard' : `width ${mm} mm`;
    }
    case 'path': {
      const names: string[] = [];
      for (let n = e.node; n !== undefined && n !== null; n = drawing.nodes[n]?.parent ?? undefined)
        if (drawing.nodes[n]?.name) names.unshift(drawing.nodes[n].name);
      return names.length > 0 ? names.join(' / ') : null;
    }
  }
}
