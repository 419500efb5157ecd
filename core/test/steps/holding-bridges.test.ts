import { describe, expect, it } from 'vitest';
import { boundsOf } from '../../src/index.js';
import type { Drawing, Kept } from '../../src/index.js';
import { arc, chain, circle, drawn, lengthOfAll, line, placed, stepOn } from './judge.js';

const box = (w: number, h: number, more: object = {}): never => chain([0, 0, w, 0, w, h, 0, h], true, more);
const bridges = (d: Drawing, params: Kept = {}) => stepOn(d, 'holding-bridges', params);

describe('holding bridges', () => {
  it('600 × 400: two on long sides, one on short, 8 wide: six gaps, 1952 to cut', () => {
    const made = bridges(drawn(box(600, 400)));
    expect(made.entities).toHaveLength(6);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(1952, 9);
    expect(made.row('bridges-left')!.reason).toBe('6 holding bridges, 8 mm wide');
    expect(made.against).toEqual([]);
    expect(boundsOf(made.drawing).toJSON()).toMatchObject({ minX: 0, maxX: 600, minY: 0, maxY: 400 });
    expect(bridges(made.drawing).drawing).toBe(made.drawing);
  });
  it('lie evenly on their side: at a quarter and three quarters of the long ones', () => {
    const made = bridges(drawn(box(600, 400)), { as: 'points' });
    const points = made.entities.flatMap((e) => (e.kind === 'point' ? [[e.at[0], e.at[1], e.layer]] : []));
    expect(points).toEqual([
      [150, 0, 'BRIDGES'],
      [450, 0, 'BRIDGES'],
      [600, 200, 'BRIDGES'],
      [450, 400, 'BRIDGES'],
      [150, 400, 'BRIDGES'],
      [0, 200, 'BRIDGES'],
    ]);
    expect(made.drawing.layers.map((l) => l.name)).toContain('BRIDGES');
    expect(made.entities[0]).toBe(made.before.entities[0]);
    // The points are there: they are not made again.
    expect(bridges(made.drawing, { as: 'points' }).drawing).toBe(made.drawing);
  });
  it('keep away from corners, and what is too short for any is told', () => {
    expect(bridges(drawn(box(600, 60)), { each: 60, corner: 30 }).row('bridges-left')!.reason).toMatch(/^16 holding/);
    // Ten to a long side, of which the first and the last stand 26 from their corner; so does the one of a short side.
    const small = drawn(box(40, 30));
    const made = bridges(small);
    expect(made.drawing).toBe(small);
    expect(made.reasons).toEqual(['too-short-for-bridges']);
  });
  it('on circles evenly all round, arcs staying arcs of their centre', () => {
    const made = bridges(drawn(circle(10, 20, 100)), { each: 200, width: 5 });
    // 628 round: three of them.
    expect(made.entities).toHaveLength(3);
    for (const e of made.entities)
      expect(e).toMatchObject({
        kind: 'arc',
        radius: expect.closeTo(100, 6),
        centre: [expect.closeTo(10, 5), expect.closeTo(20, 5), 0],
      });
    expect(lengthOfAll(made.drawing)).toBeCloseTo(200 * Math.PI - 15, 6);
    expect(made.against).toEqual([]);
  });
  it('in blocks as wide as they are seen', () => {
    const made = bridges(placed([box(300, 200)], [{ at: [0, 0], scale: [2, 2, 2] }]));
    expect(lengthOfAll(made.drawing)).toBeCloseTo(1952, 6);
    expect(made.against).toEqual([]);
  });
  it('leaves open curves alone', () => {
    const d = drawn(line(0, 0, 900, 0), arc(0, 0, 500, 0, 90));
    expect(bridges(d).drawing).toBe(d);
  });
});
