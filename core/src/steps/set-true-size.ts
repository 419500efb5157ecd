import { because } from '../drawing/reasons.js';
import { scaling } from '../geometry/affine.js';
import { transformDrawing } from '../drawing/transform.js';
import { noteFollowers } from '../drawing/followers.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Scales everything about the origin so that a measured length becomes its true one. */
export const setTrueSize = defineStep({
  id: 'set-true-size',
  title: 'Set true size',
  summary: 'Scales the whole drawing about its origin so that a length measured in it becomes the length it truly has.',
  carries: ['scale'],
  group: 'size',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 20, 0, 20, 12, 0, 12], true), sketch.circle(0, 0, 1)]),
    params: { measured: 20, actual: 40 },
  },
  params: {
    measured: p.length({ title: 'Measured length', default: 1, above: 0 }),
    actual: p.length({ title: 'True length', default: 1, above: 0 }),
  },
  run(drawing, params, ctx) {
    const k = params.actual / params.measured;
    if (k === 1) return drawing;
    ctx.ledger.add({
      carryOver: 'scale',
      action: 'changed',
      onPurpose: true,
      reason: because('scaled-to-true-length', { factor: k }),
    });
    const map = scaling(k, k, k);
    ctx.lineage.move(map);
    return transformDrawing(drawing, map, noteFollowers(ctx.ledger));
  },
});
