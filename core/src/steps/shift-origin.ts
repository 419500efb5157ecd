import { because } from '../drawing/reasons.js';
import { translation } from '../geometry/affine.js';
import { boundsOf } from '../drawing/bounds.js';
import { transformDrawing } from '../drawing/transform.js';
import { noteFollowers } from '../drawing/followers.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Moves everything so that a chosen point lies at (0, 0). */
export const shiftOrigin = defineStep({
  id: 'shift-origin',
  title: 'Shift origin',
  summary: 'Moves the whole drawing so that a chosen point becomes the origin.',
  carries: ['origin'],
  group: 'size',
  example: {
    drawing: exampleDrawing([sketch.chain([20, 10, 60, 10, 60, 35, 20, 35], true)]),
    params: { to: 'lowerLeft' },
  },
  params: {
    to: p.choice({
      title: 'New origin',
      default: 'point',
      choices: { point: 'A point', lowerLeft: 'Lower left of the drawing', centre: 'Centre of the drawing' },
    }),
    point: p.point({ when: { to: 'point' }, title: 'The point' }),
  },
  // The point was two numbers.
  migrations: [({ x = 0, y = 0, ...kept }) => ({ point: { x, y }, ...kept })],
  run(drawing, params, ctx) {
    let at: [number, number] = [params.point.x, params.point.y];
    if (params.to !== 'point') {
      const box = boundsOf(drawing, { hidden: true });
      if (box.empty) return drawing;
      at = params.to === 'centre' ? [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2] : [box.minX, box.minY];
    }
    if (at[0] === 0 && at[1] === 0) return drawing;
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    const words = at.map((v) => Number(v.toPrecision(9))).join(', ');
    ctx.ledger.add({
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: because('origin-shifted', { at: words, unit }),
    });
    const map = translation(-at[0], -at[1]);
    ctx.lineage.move(map);
    return transformDrawing(drawing, map, noteFollowers(ctx.ledger));
  },
});
