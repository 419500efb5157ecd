import type { Width } from '../drawing/appearance.js';
import type { Layer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { mmPerUnit } from '../drawing/units.js';
import { nearestWeight } from '../formats/drafting/weights.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { changeLooks } from './looks.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

const WIDE = exampleDrawing([
  sketch.path('M0 0H50', { width: { kind: 'paper', mm: 1.2 } }),
  sketch.path('M0 8H50', { width: { kind: 'paper', mm: 0.37 } }),
  sketch.path('M0 16H50', { width: { kind: 'drawing', value: 0.9 } }),
]);

/** Draws every line in one thin width. */
export const oneHairline = defineStep({
  id: 'one-hairline',
  title: 'One hairline',
  summary: 'Every line gets one width, as a cutter, a plotter or a simple picture wants it.',
  carries: ['colour'],
  group: 'look',
  example: { drawing: WIDE },
  params: {
    width: p.number({ title: 'Width', default: 0.13, atLeast: 0, atMost: 2.11, suffix: 'mm' }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const width: Width = { kind: 'paper', mm: params.width };
    const isIt = (w: Width): boolean => w.kind === 'paper' && w.mm === params.width;
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look) => (isIt(look.width) || look.stroke.kind === 'none' ? look : { ...look, width }),
      layer: (l) => (l.weight === params.width ? l : { ...l, weight: params.width }),
      alter: bare,
      code: 'rewidened',
    });
    const count = made.count + made.layers;
    tellChange(ctx, 'colour', count, because('one-width', { width: `${params.width} mm` }));
    return made.drawing;
  },
});

/** A polyline that has a width of its own, without it: the pen alone counts. */
function bare(e: Entity): { e: Entity; within: number } {
  if (e.kind !== 'polyline' || !e.widths) return { e, within: 0 };
  const { widths, ...rest } = e;
  return { e: rest, within: widths.reduce((most, w) => Math.max(most, w), 0) / 2 };
}

/** Brings widths to the nearest of the weights that drafting knows. */
export const snapWeights = defineStep({
  id: 'snap-weights',
  title: 'Snap weights',
  summary: 'Line widths become the nearest of the 24 weights that drafting knows, with the largest difference told.',
  carries: ['colour'],
  group: 'look',
  example: { drawing: WIDE },
  params: { which: p.selection({ title: 'Which objects' }) },
  run(drawing, params, ctx) {
    const perUnit = mmPerUnit(drawing.unit);
    let farthest = 0;
    const snapped = (mm: number): number => {
      const to = nearestWeight(mm) / 100;
      if (Math.abs(to - mm) > Math.abs(farthest)) farthest = to - mm;
      return to;
    };
    const widthOf = (w: Width): Width => {
      const mm = w.kind === 'paper' ? w.mm : w.kind === 'drawing' && perUnit !== null ? w.value * perUnit : null;
      if (mm === null) return w;
      const to = snapped(mm);
      return w.kind === 'paper' && w.mm === to ? w : { kind: 'paper', mm: to };
    };
    const layerOf = (l: Layer): Layer => {
      if (l.weight === null) return l;
      const to = snapped(l.weight);
      return to === l.weight ? l : { ...l, weight: to };
    };
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look) => {
        const width = widthOf(look.width);
        return width === look.width ? look : { ...look, width };
      },
      layer: layerOf,
      code: 'rewidened',
    });
    const count = made.count + made.layers;
    tellChange(
      ctx,
      'colour',
      count,
      because('weights-snapped', { difference: `${farthest > 0 ? '+' : ''}${farthest.toFixed(4)} mm` }),
    );
    return made.drawing;
  },
});
