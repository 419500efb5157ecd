import type { Appearance, Paint } from '../drawing/appearance.js';
import { meanOpacity, mixed } from '../drawing/appearance.js';
import type { Entity } from '../drawing/entity.js';
import { paintRgb } from '../drawing/resolve.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { changeLooks } from './looks.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

const GRADIENT: Paint = {
  kind: 'gradient',
  form: 'linear',
  id: 'g',
  rgb: 0x7b6d6b,
  stops: [
    { offset: 0, rgb: 0xe0b978, opacity: 1 },
    { offset: 1, rgb: 0x1c5470, opacity: 1 },
  ],
  place: { map: [24, 0, 0, 24, 0, 0], spread: 'pad' },
};

/** Makes plain colours of gradients, patterns and what is seen through. */
export const plainPaints = defineStep({
  id: 'plain-paints',
  title: 'Plain paints',
  summary: 'Gradients, fill patterns and transparency become plain colours, which every receiver has.',
  carries: ['colour'],
  group: 'look',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0H24V24H0Z', { fill: GRADIENT }),
      sketch.path('M32 0H56V24H32Z', { fill: { kind: 'rgb', rgb: 0x1c5470 }, opacity: 0.4 }),
    ]),
  },
  params: {
    gradients: p.choice({
      title: 'Gradients become',
      default: 'mean',
      choices: { mean: 'Their mean colour', first: 'Their first colour', last: 'Their last colour', keep: 'Stay' },
    }),
    seeThrough: p.choice({
      title: 'What is seen through',
      default: 'white',
      choices: { white: 'Becomes the colour it has on white', opaque: 'Becomes its full colour', keep: 'Stays' },
    }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const plain = (paint: Paint): { paint: Paint; opacity: number } => {
      if (paint.kind === 'pattern') return { paint: { kind: 'rgb', rgb: paint.rgb }, opacity: 1 };
      if (paint.kind !== 'gradient' || params.gradients === 'keep') return { paint, opacity: 1 };
      const stop =
        params.gradients === 'first' ? paint.stops[0] : params.gradients === 'last' ? paint.stops.at(-1) : undefined;
      return { paint: { kind: 'rgb', rgb: stop?.rgb ?? paint.rgb }, opacity: stop?.opacity ?? meanOpacity(paint) };
    };
    const onWhite = (paint: Paint, opacity: number): Paint => {
      const rgb = paintRgb(paint);
      if (
        params.seeThrough !== 'white' ||
        opacity >= 1 ||
        rgb === null ||
        (paint.kind !== 'rgb' && paint.kind !== 'index')
      )
        return paint;
      return { kind: 'rgb', rgb: mixed(0xffffff, rgb, opacity) };
    };
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look: Appearance, layer) => {
        const [fill, stroke] = [plain(look.fill), plain(look.stroke)];
        const [f, s] = [look.fillOpacity * fill.opacity, look.strokeOpacity * stroke.opacity];
        if (params.seeThrough === 'keep') {
          if (fill.paint === look.fill && stroke.paint === look.stroke) return look;
          return { ...look, fill: fill.paint, stroke: stroke.paint, fillOpacity: f, strokeOpacity: s };
        }
        const through =
          look.opacity * Math.min(look.fill.kind === 'none' ? 1 : f, look.stroke.kind === 'none' ? 1 : s) < 1;
        if (!through && fill.paint === look.fill && stroke.paint === look.stroke) return look;
        const own = (paint: Paint): Paint => (paint.kind === 'byLayer' && layer ? layer.paint : paint);
        const { opacityFrom: _o, ...rest } = look;
        return {
          ...rest,
          fill: onWhite(own(fill.paint), look.opacity * f),
          stroke: onWhite(own(stroke.paint), look.opacity * s),
          opacity: 1,
          fillOpacity: 1,
          strokeOpacity: 1,
        };
      },
    });
    let hatches = 0;
    const unhatched = (e: Entity): Entity => {
      if (params.gradients === 'keep' || e.kind !== 'hatch' || !e.gradient) return e;
      hatches++;
      const { gradient, ...rest } = e;
      const stops = gradient.stops;
      const rgb =
        params.gradients === 'last'
          ? stops.at(-1)!.rgb
          : params.gradients === 'first'
            ? stops[0]!.rgb
            : mixed(stops[0]!.rgb, stops.at(-1)!.rgb, 0.5);
      const to = { ...rest, solid: true, pattern: 'SOLID', look: { ...e.look, stroke: { kind: 'rgb' as const, rgb } } };
      ctx.lineage.replace(e, [to], 'repainted');
      return to;
    };
    const entities = made.drawing.entities.map(unhatched);
    const count = made.count + hatches;
    if (count === 0) return drawing;
    tellChange(ctx, 'colour', count, 'paints-made-plain');
    return hatches > 0 ? { ...made.drawing, entities } : made.drawing;
  },
});
