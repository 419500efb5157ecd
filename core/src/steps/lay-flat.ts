import { flattened } from '../drawing/flattened.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Lays everything onto the plane. */
export const layFlatStep = defineStep({
  id: 'lay-flat',
  title: 'Lay flat',
  summary: 'Everything is laid straight down onto the plane: heights become 0, what is tilted is seen from above.',
  carries: ['curves', 'scale'],
  group: 'size',
  example: {
    drawing: exampleDrawing([
      sketch.circle(12, 12, 12, { normal: [Math.SQRT1_2, 0, Math.SQRT1_2] }),
      { kind: 'line', start: [20, 0, 0], end: [50, 20, 15] },
    ]),
  },
  params: {},
  run(drawing, _params, ctx) {
    ctx.look(drawing.entities.length);
    return flattened(drawing, ctx.ledger, ctx.lineage);
  },
});
