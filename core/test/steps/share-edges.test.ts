import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { CHECKS, runCheck } from '../../src/index.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { runsOf } from '../../src/drawing/courses.js';
import { apart, chain, cornersOf, drawn, placed, stepOn } from './judge.js';

const share = (d: Drawing, within: number, more: Kept = {}) => stepOn(d, 'share-edges', { within, ...more });
const area = (d: Drawing, i: number): number => Math.abs(areaOfPieces(runsOf(d.entities[i]!)![0]!.pieces));
const points = (d: Drawing, i: number): string[] => {
  const { points: p } = d.entities[i] as unknown as { points: Float64Array };
  return Array.from({ length: p.length / 2 }, (_, k) => `${p[2 * k]} ${p[2 * k + 1]}`);
};
/** A of 100 × 40; above it B from y = 40.003 and C from y = 40, each 50 wide up to 80. */
const three = (x = 0) =>
  drawn(
    chain([x, 0, x + 100, 0, x + 100, 40, x, 40], true),
    chain([x, 40.003, x + 50, 40.003, x + 50, 80, x, 80], true),
    chain([x + 50, 40, x + 100, 40, x + 100, 80, x + 50, 80], true),
  );

describe('three areas of which one stands off by 0.003', () => {
  it('A gets a fifth point, B comes down; areas 4000, 2000, 2000; common points are the same bit for bit', () => {
    const d = three();
    expect(area(d, 1)).toBeCloseTo(1999.85, 9);
    const made = share(d, 0.01);
    expect([0, 1, 2].map((i) => area(made.drawing, i))).toEqual([4000, 2000, 2000]);
    expect(cornersOf(made.entities[0])).toEqual([0, 0, 100, 0, 100, 40, 50, 40, 0, 40]);
    const common = (i: number, k: number): string[] =>
      points(made.drawing, i).filter((q) => points(made.drawing, k).includes(q));
    expect([common(0, 1), common(0, 2), common(1, 2)]).toEqual([
      ['50 40', '0 40'],
      ['100 40', '50 40'],
      ['50 40', '50 80'],
    ]);
    expect(made.row('edges-shared')).toMatchObject({ args: { points: 1 }, deviation: { value: 0.003, unit: 'mm' } });
    expect(made.against).toEqual([]);
  });
  it('V − E + F = 1 + C: 8 − 10 + 4 = 2', () => {
    const made = share(three(), 0.01).drawing;
    const vertices = new Set([0, 1, 2].flatMap((i) => points(made, i)));
    const edges = new Set(
      [0, 1, 2].flatMap((i) => points(made, i).map((q, k, all) => [q, all[(k + 1) % all.length]!].sort().join('|'))),
    );
    expect([vertices.size, edges.size]).toEqual([8, 10]);
    expect(vertices.size - edges.size + 4).toBe(2);
  });
  it('nothing below the bound, the same far from the origin, once is enough', () => {
    const d = three();
    expect(share(d, 0.002).entities[1]).toBe(d.entities[1]);
    const far = share(three(1e6), 0.01);
    expect([0, 1, 2].map((i) => Math.round(area(far.drawing, i) * 1e4) / 1e4)).toEqual([4000, 2000, 2000]);
    expect(share(far.drawing, 0.01).entities).toBe(far.entities);
  });
  it('the check for shared edges finds nothing then', () => {
    const check = CHECKS.find((c) => c.id === 'unshared-points')!;
    expect(runCheck(check, three(), { met: 0.01 }).length).toBeGreaterThan(0);
    expect(runCheck(check, share(three(), 0.01).drawing, { met: 0.01 })).toEqual([]);
  });
});

it('an arc between two is one and the same arc, cut where a third begins', () => {
  // A quarter of radius 50 about the origin; inside it a pie, outside it two pieces that part at 45°.
  const c = 50 * Math.SQRT1_2;
  const [q, e] = [Math.tan(Math.PI / 8), Math.tan(Math.PI / 16)];
  const d = drawn(
    chain([0, 0, 50, 0, 0, 50], true, { bulges: Float64Array.of(0, q, 0) }),
    chain([c, c, 50, 0.001, 90, 0, 90, 90], true, { bulges: Float64Array.of(-e, 0, 0, 0) }),
    chain([0, 50, c, c, 90, 90, 0, 90], true, { bulges: Float64Array.of(-e, 0, 0, 0) }),
  );
  const made = share(d, 0.01);
  expect(cornersOf(made.entities[0]).length / 2).toBe(4);
  const bulges = made.entities.map((x) => [...(x as unknown as { bulges: Float64Array }).bulges]);
  expect(bulges[0]!.filter((b) => b !== 0)).toHaveLength(2);
  // The arcs of the pie, run the other way by its neighbours, have the very same bulge.
  const others = [...bulges[1]!, ...bulges[2]!]
    .filter((b) => b !== 0)
    .map((b) => -b)
    .sort();
  expect(bulges[0]!.filter((b) => b !== 0).sort()).toEqual(others);
  expect(apart(d, made.drawing)).toBeLessThan(0.01);
  expect(made.against).toEqual([]);
});

it('in a block at ten times the size the bound is a tenth there', () => {
  const inner = [chain([0, 0, 9, 0, 9, 4, 0, 4], true), chain([0, 4.003, 9, 4.003, 9, 8, 0, 8], true)];
  const made = share(placed(inner, [{ at: [0, 0] }, { at: [99, 0], scale: [10, 10, 10] }]), 0.01);
  expect([...made.drawing.blocks.values()].map((b) => cornersOf(b.entities[1])[1])).toEqual([4, 4.003]);
  expect(made.against).toEqual([]);
});
