import type { Layer } from '../drawing/drawing.js';
import { layerKey, newLayer } from '../drawing/drawing.js';
import { hex } from '../drawing/palette.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { changeAll } from './all-entities.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

const ROW = p.group({
  title: 'Layer',
  params: {
    name: p.text({ title: 'Name', default: '', maxLength: 255, suggest: 'layers' }),
    colour: p.optional(p.colour({ title: 'Colour', default: '#000000' }), 'its own'),
    weight: p.optional(
      p.number({ title: 'Line weight', default: 0.25, atLeast: 0, atMost: 2.11, suffix: 'mm' }),
      'its own',
    ),
  },
});

export const AGREED_FIELDS = {
  layers: p.list({ title: 'Agreed layers, in their order', item: ROW, atMost: 1000 }),
  others: p.choice({
    title: 'Objects on any other layer',
    default: 'refuse',
    choices: { refuse: 'Stop here, with the layers named', one: 'Go onto one of them' },
  }),
  onto: p.text({ when: { others: 'one' }, title: 'That layer', default: '', maxLength: 255, suggest: 'layers' }),
};
/** The layers that a receiver and a sender agreed on. */
export type Agreed = Infer<typeof AGREED_FIELDS>;

/** Gives a drawing the layers that were agreed on: these, in this order, empty ones too, and no other. */
export const agreeLayers = defineStep({
  id: 'agree-layers',
  title: 'Agreed layers',
  summary:
    'The drawing gets the layers of a list, in its order, empty ones too; whatever lies on another stops here or goes onto one of them.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 40, 0, 'OUTLINE'),
      sketch.line(8, 0, 8, 20, 'HOLES'),
      sketch.line(32, 0, 32, 20, 'NOTES'),
    ]),
    params: {
      layers: [
        { name: 'HOLES', colour: '#c4512d', weight: null },
        { name: 'OUTLINE', colour: null, weight: null },
        { name: 'SMALL PARTS', colour: null, weight: null },
      ],
      others: 'one',
      onto: 'OUTLINE',
    },
  },
  params: AGREED_FIELDS,
  run(drawing, params, ctx) {
    const listed = params.layers.filter((l) => l.name.trim() !== '');
    if (listed.length === 0) return drawing;
    const own = new Map(drawing.layers.map((l) => [layerKey(drawing, l.name), l]));
    const agreed = new Map<string, Layer>();
    for (const row of listed) {
      const key = layerKey(drawing, row.name.trim());
      if (agreed.has(key)) throw new UserError('wrong-parameter', `the list has the layer ${row.name} twice`);
      agreed.set(key, asAgreed(own.get(key) ?? newLayer(row.name.trim()), row));
    }
    const onto = params.others === 'one' ? agreed.get(layerKey(drawing, params.onto.trim())) : undefined;
    if (params.others === 'one' && !onto)
      throw new UserError('wrong-parameter', `the layer for all others, “${params.onto}”, is not in the list`);
    const strange = new Map<string, number>();
    let n = 0;
    const made = changeAll(drawing, (e, block): Entity => {
      // Layer 0 in a block stands for whatever layer the block is placed on, and sheets are no part of what was agreed.
      if (e.sheet !== undefined || block?.sheet || (block && e.layer === '0')) return e;
      if (++n % 4096 === 0) checkStop(ctx);
      ctx.look();
      const to = (layer: string): string => {
        const found = agreed.get(layerKey(drawing, layer));
        if (found) return found.name;
        strange.set(layer, (strange.get(layer) ?? 0) + 1);
        return onto?.name ?? layer;
      };
      const layer = to(e.layer);
      const attributes =
        e.kind === 'insert'
          ? e.attributes.map((a) => (to(a.layer) === a.layer ? a : { ...a, layer: to(a.layer) }))
          : null;
      const moved = attributes && e.kind === 'insert' && attributes.some((a, i) => a !== e.attributes[i]);
      if (layer === e.layer && !moved) return e;
      const next = { ...e, layer, ...(moved && { attributes }) } as Entity;
      ctx.lineage.replace(e, [next], 'resorted');
      return next;
    });
    if (strange.size > 0 && !onto)
      throw new UserError('wrong-parameter', `objects lie on layers that are not agreed: ${counted(strange)}`);
    // The formats demand layer 0, and sheets keep the layers of what lies on them.
    const needed = new Set([
      ...(own.has('0') ? ['0'] : []),
      ...drawing.entities.flatMap((e) => (e.sheet === undefined ? [] : [layerKey(drawing, e.layer)])),
    ]);
    const kept = drawing.layers.filter((l) => {
      const key = layerKey(drawing, l.name);
      return needed.has(key) && !agreed.has(key);
    });
    const layers = [...kept, ...agreed.values()];
    const moved = [...strange.values()].reduce((sum, v) => sum + v, 0);
    const same = layers.length === drawing.layers.length && layers.every((l, i) => l === drawing.layers[i]);
    if (same && moved === 0) return drawing;
    tellChange(
      ctx,
      'layers',
      moved || layers.length,
      moved > 0
        ? because('others-onto-agreed', { layer: onto!.name, counts: counted(strange) })
        : because('layers-as-agreed', { count: agreed.size }),
    );
    return { ...made, layers };
  },
});

/** A layer as the list has it; the very same where it is so already. */
function asAgreed(layer: Layer, row: Agreed['layers'][number]): Layer {
  const name = row.name.trim();
  const paint =
    row.colour === null || (layer.paint.kind === 'rgb' && hex(layer.paint.rgb) === row.colour.toLowerCase())
      ? layer.paint
      : ({ kind: 'rgb', rgb: parseInt(row.colour.slice(1), 16) } as const);
  const weight = row.weight ?? layer.weight;
  return name === layer.name && paint === layer.paint && weight === layer.weight
    ? layer
    : { ...layer, name, paint, weight };
}

const counted = (of: ReadonlyMap<string, number>): string => {
  const list = [...of].map(([name, many]) => `${name} ${many}`);
  return list.length > 6 ? `${list.slice(0, 6).join(', ')} and ${list.length - 6} more` : list.join(', ');
};
