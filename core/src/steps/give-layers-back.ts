import type { Appearance } from '../drawing/appearance.js';
import { BY_LAYER } from '../drawing/appearance.js';
import type { Layer } from '../drawing/drawing.js';
import { layerKey, newLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { refOf, resolveRef } from '../drawing/entity-ref.js';
import { because } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** So many objects can be given their layers back one by one. */
export const MOST_GIVEN_BACK = 20_000;

const LOOK = {
  colour: p.optional(p.colour({ title: 'Colour', default: '#000000' }), 'of the layer'),
  weight: p.optional(p.number({ title: 'Line weight', default: 0.25, atLeast: 0, suffix: 'mm' }), 'of the layer'),
  linetype: p.text({ title: 'Linetype', description: 'empty for that of the layer', default: '', maxLength: 255 }),
};

const EXAMPLE = exampleDrawing([
  { ...sketch.line(0, 0, 40, 0, 'ALL'), key: '1A' },
  { ...sketch.line(8, 0, 8, 20, 'ALL'), key: '1B' },
  { ...sketch.line(32, 0, 32, 20, 'ALL'), key: '1C' },
]);

export const GIVE_BACK_FIELDS = {
  objects: p.list({
    title: 'Objects, by the layer that they were on',
    atMost: 2000,
    item: p.group({
      title: 'Layer',
      params: {
        layer: p.text({ title: 'Layer', default: '', maxLength: 255 }),
        ...LOOK,
        picked: p.picked({ title: 'Objects', atMost: MOST_GIVEN_BACK }),
      },
    }),
  }),
  layers: p.list({
    title: 'Layers, as they looked',
    atMost: 2000,
    item: p.group({
      title: 'Layer',
      params: { name: p.text({ title: 'Name', default: '', maxLength: 255 }), ...LOOK },
    }),
  }),
  chart: p.chart({
    title: 'What is new, by its layer',
    of: 'text',
    columns: ['Layer', 'Becomes'],
    atMost: 2000,
    suggest: 'layers',
  }),
};
export type GivenBack = Infer<typeof GIVE_BACK_FIELDS>;

/** Puts objects of a file that came back onto the layers that they were on before it left. */
export const giveLayersBack = defineStep({
  id: 'give-layers-back',
  title: 'Give layers back',
  summary:
    'Objects of a file that came back go onto the layers that they left, with the look they had; what is new goes by a chart.',
  carries: ['layers'],
  group: 'layers',
  ofOneDrawing: true,
  example: {
    drawing: EXAMPLE,
    params: {
      objects: [
        {
          ...{ layer: 'POSTS', colour: null, weight: null, linetype: '' },
          picked: EXAMPLE()
            .entities.slice(1)
            .map((e) => refOf(e, EXAMPLE())),
        },
      ],
    },
  },
  params: GIVE_BACK_FIELDS,
  run(drawing, params, ctx) {
    const to = new Map<Entity, GivenBack['objects'][number]>();
    let lost = 0;
    for (const group of params.objects) {
      checkStop(ctx);
      for (const ref of group.picked) {
        const e = resolveRef(ref, drawing);
        if (e && !to.has(e)) to.set(e, group);
        else lost++;
      }
    }
    const chart = new Map(params.chart.map((r) => [layerKey(drawing, r.from), r.to]));
    const layers = new Map(drawing.layers.map((l): [string, Layer] => [layerKey(drawing, l.name), l]));
    const looks = new Map(params.layers.map((l) => [layerKey(drawing, l.name), l]));
    const need = (name: string): void => {
      const key = layerKey(drawing, name);
      if (!layers.has(key)) layers.set(key, looked(newLayer(name), looks.get(key)));
    };
    let [count, charted] = [0, 0];
    const entities = drawing.entities.map((e): Entity => {
      if (e.sheet !== undefined) return e;
      ctx.look();
      const group = to.get(e);
      const name = group ? group.layer : chart.get(layerKey(drawing, e.layer));
      if (name === undefined || name === '') return e;
      need(name);
      const look = group ? lookBack(e.look, group) : e.look;
      if (name === e.layer && look === e.look) return e;
      if (group) count++;
      else charted++;
      const made = { ...e, layer: name, look } as Entity;
      ctx.lineage.replace(e, [made], 'resorted');
      return made;
    });
    if (lost > 0) ctx.leave(because('picks-open', { count: lost }));
    if (count + charted === 0) return drawing;
    tellChange(ctx, 'layers', count + charted, because('layers-given-back', { count, charted }));
    return { ...drawing, entities, layers: [...layers.values()] };
  },
});

type Look = Pick<GivenBack['layers'][number], 'colour' | 'weight' | 'linetype'>;
const rgb = (colour: string): Layer['paint'] => ({ kind: 'rgb', rgb: parseInt(colour.slice(1), 16) });

const looked = (layer: Layer, look: Look | undefined): Layer =>
  look
    ? {
        ...layer,
        ...(look.colour !== null && { paint: rgb(look.colour) }),
        ...(look.weight !== null && { weight: look.weight }),
        ...(look.linetype !== '' && { linetype: look.linetype }),
      }
    : layer;

/** The look that an object had: its own words, or what its layer says. */
function lookBack(now: Appearance, look: Look): Appearance {
  const stroke = look.colour === null ? BY_LAYER : rgb(look.colour);
  const width = look.weight === null ? ({ kind: 'byLayer' } as const) : ({ kind: 'paper', mm: look.weight } as const);
  const name = look.linetype === '' ? 'ByLayer' : look.linetype;
  const dash = now.dash.kind === 'linetype' ? { ...now.dash, name } : now.dash;
  const made = { ...now, stroke: now.stroke.kind === 'none' ? now.stroke : stroke, width, dash };
  return JSON.stringify(made) === JSON.stringify(now) ? now : made;
}
