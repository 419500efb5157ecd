import { describe, expect, it } from 'vitest';
import { boundsOf } from '../../src/drawing/bounds.js';
import { PART_RULES, findParts } from '../../src/parts/find.js';
import { laidOpen } from '../../src/parts/laid-open.js';
import { box, circle, drawn, line, placed, text } from '../steps/judge.js';

const told = (d: Parameters<typeof laidOpen>[0], rules = {}) =>
  laidOpen(d, findParts(d, { ...PART_RULES, ...rules })).map((o) => `${o.entity.kind} ${o.role} ${o.part ?? '–'}`);

describe('a drawing laid open by its parts', () => {
  it('says of each thing what it is to which part', () => {
    const d = drawn(box(0, 0, 40, 40), circle(20, 20, 5), line(5, 5, 9, 5), text('P1', 5, 30), line(0, 90, 9, 90));
    expect(told(d)).toEqual(['path outline 0', 'path hole 0', 'line mark 0', 'text label 0', 'line none –']);
    // An island too small to be a part is a mark.
    const small = drawn(box(0, 0, 40, 40), circle(20, 20, 9), circle(20, 20, 1));
    expect(told(small, { smallest: 10 })).toEqual(['path outline 0', 'path hole 0', 'circle mark 0']);
  });
  it('takes placed blocks apart, each place where it is', () => {
    const d = placed(
      [box(0, 0, 10, 10), circle(5, 5, 2), line(1, 1, 2, 1)],
      [{ at: [0, 0] }, { at: [30, 0], scale: [2, 2, 2] }],
    );
    expect(told(d)).toEqual([
      ...['path outline 0', 'path hole 0', 'line mark 0'],
      ...['path outline 1', 'path hole 1', 'line mark 1'],
    ]);
    const open = laidOpen(d, findParts(d));
    expect(boundsOf({ ...d, entities: open.slice(3).map((o) => o.entity) })).toMatchObject({
      minX: 30,
      maxX: 50,
      minY: 0,
      maxY: 20,
    });
    expect(open.map((o) => o.entity.id)).toEqual([1, 2, 3, 4, 5, 6]);
  });
});
