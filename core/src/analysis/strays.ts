import { Box2 } from '../geometry/box.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';

/** Something that lies far outside all the rest: how far, and its box. */
export interface Stray {
  entity: Entity;
  away: number;
  box: Box2;
}

/**
 * What lies further outside than `times` the size of the rest, if that is at most the part `most` of all objects; and that size.
 * Objects are those of model space, blocks as a whole.
 */
export function straysOf(
  drawing: Drawing,
  times: number,
  most: number,
  work?: Work,
): { strays: Stray[]; size: number } {
  const none = { strays: [], size: 0 };
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
  if (count < 10) return none;
  const [xs, ys] = [new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < count; i++) {
    xs[i] = (boxes[i]!.minX + boxes[i]!.maxX) / 2;
    ys[i] = (boxes[i]!.minY + boxes[i]!.maxY) / 2;
  }
  // What the middle nine tenths span, each way.
  const few = Math.max(1, Math.floor(count * Math.min(0.05, most)));
  const range = (middles: Float64Array): [number, number] => {
    const sorted = middles.slice().sort();
    return [sorted[few]!, sorted[count - 1 - few]!];
  };
  const [x, y] = [range(xs), range(ys)];
  const size = Math.hypot(x[1] - x[0], y[1] - y[0]);
  if (!(size > 0)) return none;
  const reach = times * size;
  const outside = (v: number, [lo, hi]: [number, number]): number => Math.max(lo - v, v - hi, 0);
  const far: { i: number; away: number }[] = [];
  for (let i = 0; i < count; i++) {
    const away = Math.hypot(outside(xs[i]!, x), outside(ys[i]!, y));
    if (away > reach) far.push({ i, away });
  }
  if (far.length === 0 || far.length > Math.max(1, count * most)) return none;
  return { strays: far.map(({ i, away }) => ({ entity: entities[i]!, away, box: boxes[i]! })), size };
}
