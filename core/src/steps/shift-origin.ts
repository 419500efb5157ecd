import { translation } from '../geometry/affine.js';
import { boundsOf } from '../drawing/bounds.js';
import { transformDrawing } from '../drawing/transform.js';
import { noteFollowers } from '../drawing/followers.js';
import type { Step } from './step.js';

const PLACES = ['point', 'lowerLeft', 'centre'] as const;

/** Moves everything so that a chosen point lies at (0, 0). */
export const shiftOrigin: Step = {
  id: 'shift-origin',
  title: 'Shift origin',
  summary: 'Moves the whole drawing so that a chosen point becomes the origin.',
  carries: ['origin'],
  on: 'whole',
  params: {
    type: 'object',
    properties: {
      to: {
        type: 'string',
        title: 'New origin',
        default: 'point',
        enum: PLACES,
        titles: ['A point', 'Lower left of what is drawn', 'Centre of what is drawn'],
      },
      x: { type: 'number', title: 'x of the point', default: 0, unit: 'drawing' },
      y: { type: 'number', title: 'y of the point', default: 0, unit: 'drawing' },
    },
    required: ['to'],
    additionalProperties: false,
  },
  run(drawing, params, ctx) {
    let at: [number, number] = [Number(params['x'] ?? 0), Number(params['y'] ?? 0)];
    if (params['to'] !== 'point') {
      const box = boundsOf(drawing, { hidden: true });
      if (box.empty) return drawing;
      at = params['to'] === 'centre' ? [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2] : [box.minX, box.minY];
    }
    if (at[0] === 0 && at[1] === 0) return drawing;
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    const words = at.map((v) => Number(v.toPrecision(9))).join(', ');
    ctx.ledger.add({
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: `origin shifted to ${words}${unit}`,
    });
    const map = translation(-at[0], -at[1]);
    ctx.lineage.move(map);
    return transformDrawing(drawing, map, noteFollowers(ctx.ledger));
  },
};
