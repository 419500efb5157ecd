import { Box2 } from '../geometry/box.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { walk } from '../drawing/resolve.js';
import type { Entity } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import type { Check } from './check.js';
import { lengthWords } from './words.js';

/** Finds what lies far outside all the rest: a point forgotten somewhere makes everything else tiny on the screen. */
export const strays: Check = {
  id: 'strays',
  title: 'Stray objects',
  summary:
    'A few things far outside the drawing make it tiny when it is fitted to a frame, and turn up on other sheets.',
  carries: ['origin', 'scale'],
  params: {
    type: 'object',
    properties: {
      times: { type: 'number', title: 'Far is more than this many times the size of the rest', default: 1, exclusiveMinimum: 0 },
      most: { type: 'number', title: 'A few are at most this part of all', default: 0.02, exclusiveMinimum: 0 },
    },
    required: [],
    additionalProperties: false,
  }, // prettier-ignore
  run(drawing, params, work) {
    const boxes = new Map<Entity, Box2>();
    let n = 0;
    walk(drawing, ({ entity, toWorld, top }) => {
      if (++n % 4096 === 0) checkStop(work);
      let box = boxes.get(top);
      if (!box) boxes.set(top, (box = new Box2()));
      addEntityBounds(entity, toWorld, new BoundsSink(box));
    });
    const list = [...boxes].filter(([, b]) => !b.empty);
    if (list.length < 10) return [];
    const middle = (b: Box2): [number, number] => [(b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2];
    // What the middle nine tenths span, each way.
    const few = Math.max(1, Math.floor(list.length * Math.min(0.05, Number(params['most'] ?? 0.02))));
    const range = (k: 0 | 1): [number, number] => {
      const sorted = new Float64Array(list.length);
      for (let i = 0; i < list.length; i++) sorted[i] = middle(list[i][1])[k];
      sorted.sort();
      return [sorted[few], sorted[sorted.length - 1 - few]];
    };
    const [x, y] = [range(0), range(1)];
    const size = Math.hypot(x[1] - x[0], y[1] - y[0]);
    if (!(size > 0)) return [];
    const reach = Number(params['times'] ?? 1) * size;
    const outside = (v: number, [lo, hi]: [number, number]): number => Math.max(lo - v, v - hi, 0);
    const far = list
      .map(([e, b]) => ({ e, b, away: Math.hypot(outside(middle(b)[0], x), outside(middle(b)[1], y)) }))
      .filter((f) => f.away > reach);
    if (far.length === 0 || far.length > Math.max(1, list.length * Number(params['most'] ?? 0.02))) return [];
    return far.slice(0, 100).map(({ e, b, away }) => ({
      check: 'strays',
      severity: 'warning',
      message: `A ${e.kind} lies ${lengthWords(drawing, away)} away from all the rest`,
      at: { x: middle(b)[0], y: middle(b)[1] },
      size: b.diagonal,
      span: size,
      layer: e.layer,
      ids: [e.id],
    }));
  },
};
