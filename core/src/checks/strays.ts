import { Box2 } from '../geometry/box.js';
import { surveyOf } from '../drawing/survey.js';
import type { Entity } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { AKind, lengthWords } from './words.js';

/** Finds what lies far outside all the rest: a point forgotten somewhere makes everything else tiny on the screen. */
export const strays = defineCheck({
  id: 'strays',
  title: 'Stray objects',
  summary:
    'A few objects far outside the drawing make it tiny when it is fitted to a frame, and turn up on other sheets.',
  carries: ['origin', 'scale'],
  params: {
    times: p.number({ title: 'Far is more than this many times the size of the rest', default: 1, above: 0 }),
    most: p.number({ title: 'A few are at most this part of all', default: 0.02, above: 0 }),
  }, // prettier-ignore
  run(drawing, params, work) {
    // A walk comes to all that is part of one entity before it goes on to the next.
    const entities: Entity[] = [];
    const boxes: Box2[] = [];
    let box = new Box2();
    let last: Entity | null = null;
    const settle = (): void => {
      // Of what shows nothing the box is used again.
      if (last === null || box.empty) return;
      entities.push(last);
      boxes.push(box);
      box = new Box2();
    };
    let n = 0;
    const survey = surveyOf(drawing);
    survey.each(({ top }, i) => {
      if (++n % 4096 === 0) checkStop(work);
      if (top !== last) settle();
      last = top;
      box.addBox(survey.box(i));
    });
    settle();
    const count = entities.length;
    if (count < 10) return [];
    const [xs, ys] = [new Float64Array(count), new Float64Array(count)];
    for (let i = 0; i < count; i++) {
      xs[i] = (boxes[i]!.minX + boxes[i]!.maxX) / 2;
      ys[i] = (boxes[i]!.minY + boxes[i]!.maxY) / 2;
    }
    // What the middle nine tenths span, each way.
    const most = params.most;
    const few = Math.max(1, Math.floor(count * Math.min(0.05, most)));
    const range = (middles: Float64Array): [number, number] => {
      const sorted = middles.slice().sort();
      return [sorted[few]!, sorted[count - 1 - few]!];
    };
    const [x, y] = [range(xs), range(ys)];
    const size = Math.hypot(x[1] - x[0], y[1] - y[0]);
    if (!(size > 0)) return [];
    const reach = params.times * size;
    const outside = (v: number, [lo, hi]: [number, number]): number => Math.max(lo - v, v - hi, 0);
    const far: { i: number; away: number }[] = [];
    for (let i = 0; i < count; i++) {
      const away = Math.hypot(outside(xs[i]!, x), outside(ys[i]!, y));
      if (away > reach) far.push({ i, away });
    }
    if (far.length === 0 || far.length > Math.max(1, count * most)) return [];
    return far.slice(0, 100).map(({ i, away }) => ({
      check: 'strays',
      severity: 'warning',
      message: `${AKind(entities[i]!.kind)} lies ${lengthWords(drawing, away)} away from all the rest`,
      at: { x: xs[i]!, y: ys[i]! },
      size: boxes[i]!.diagonal,
      span: size,
      layer: entities[i]!.layer,
      ids: [entities[i]!.id],
    }));
  },
});
