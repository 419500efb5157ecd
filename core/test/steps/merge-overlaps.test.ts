import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { CHECKS, runCheck } from '../../src/index.js';
import { apart, arc, chain, circle, drawn, kindsOf, lengthOfAll, line, placed, stepOn } from './judge.js';

const merge = (d: Drawing, params: Kept = {}) => stepOn(d, 'merge-overlaps', params);
const found = (d: Drawing) =>
  runCheck(
    CHECKS.find((c) => c.id === 'overlapping')!,
    d,
  );

describe('lines that run over each other', () => {
  it('x 0–60 and 40–100 become one of 0–100: 120 long before, 100 after, 20 of overlap', () => {
    const d = drawn(line(0, 0, 60, 0), line(40, 0, 100, 0));
    const made = merge(d);
    expect(made.entities).toMatchObject([{ kind: 'line', start: [0, 0, 0], end: [100, 0, 0] }]);
    expect([lengthOfAll(d), lengthOfAll(made.drawing)]).toEqual([120, 100]);
    expect(made.row('overlaps-merged')!.reason).toContain('20 mm');
    expect(made.against).toEqual([]);
    expect([found(d).length, found(made.drawing).length]).toEqual([1, 0]);
  });
  it('whichever way they run, a short one within a long one, several at once', () => {
    expect(merge(drawn(line(60, 0, 0, 0), line(40, 0, 100, 0))).entities).toHaveLength(1);
    expect(merge(drawn(line(0, 0, 100, 0), line(30, 0, 31, 0))).entities).toMatchObject([{ end: [100, 0, 0] }]);
    expect(merge(drawn(line(0, 0, 40, 30), line(80, 60, 20, 15), line(60, 45, 120, 90))).entities).toMatchObject([
      { kind: 'line' },
    ]);
  });
  it('those that only meet at their ends, cross, or part beyond the bound stay', () => {
    for (const d of [
      drawn(line(0, 0, 50, 0), line(50, 0, 100, 0)),
      drawn(line(0, 0, 100, 0), line(50, -50, 50, 50)),
      drawn(line(0, 0, 100, 0), line(50, 1, 150, 1)),
    ])
      expect(merge(d).entities).toBe(d.entities);
  });
  it('nearly parallel ones that cross within the bound are not bent onto each other', () => {
    // They part by 0.3 over 100 and cross in the middle: either end lies 0.15 from the other.
    const d = drawn(line(0, 0, 100, 0), line(0, -0.15, 100, 0.15));
    expect(merge(d, { within: 0.1 }).entities).toBe(d.entities);
    const made = merge(d, { within: 0.2 });
    expect(made.entities).toHaveLength(1);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.2);
    expect(made.row('overlaps-merged')!.deviation!.value).toBeCloseTo(0.15, 3);
    expect(made.against).toEqual([]);
  });
  it('layers and looks are kept apart unless it is said whose counts', () => {
    const d = drawn(line(0, 0, 60, 0, { layer: 'A' }), line(40, 0, 140, 0, { layer: 'B' }));
    expect(merge(d).entities).toBe(d.entities);
    expect(merge(d, { together: 'first' }).entities).toMatchObject([{ layer: 'A', end: [140, 0, 0] }]);
    expect(merge(d, { together: 'most' }).entities).toMatchObject([{ layer: 'B', end: [140, 0, 0] }]);
  });
  it('dashes that begin anew are told', () => {
    const d = drawn(line(0, 0, 60, 0), line(40, 0, 100, 0));
    const look = { ...d.entities[0]!.look, dash: { kind: 'lengths', lengths: [3, 1], offset: 0 } as const };
    expect(merge({ ...d, entities: d.entities.map((e) => ({ ...e, look })) }).reasons).toContain('dashes-begin-anew');
  });
});

describe('arcs that run over each other', () => {
  it('0–100° and 80–180° of radius 50 become a half: 174.53 before, 157.08 after', () => {
    const d = drawn(arc(0, 0, 50, 0, 100), arc(0, 0, 50, 80, 180));
    const made = merge(d);
    expect(made.entities).toMatchObject([{ kind: 'arc', radius: 50 }]);
    expect(lengthOfAll(d)).toBeCloseTo(174.533, 3);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(50 * Math.PI, 9);
    expect(made.against).toEqual([]);
  });
  it('0–200° and 180–380° are one circle of 314.16', () => {
    const made = merge(drawn(arc(0, 0, 50, 0, 200), arc(0, 0, 50, 180, 20)));
    expect(made.entities).toMatchObject([{ kind: 'circle', radius: 50 }]);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(314.159, 3);
    expect(made.against).toEqual([]);
  });
  it('one that runs past the start of the other, and one on a circle', () => {
    const made = merge(drawn(arc(0, 0, 50, 0, 100), arc(0, 0, 50, 330, 20)));
    expect(lengthOfAll(made.drawing)).toBeCloseTo((50 * 130 * Math.PI) / 180, 9);
    expect(merge(drawn(circle(0, 0, 50), arc(0, 0, 50, 330, 20))).entities).toMatchObject([{ kind: 'circle' }]);
  });
  it('centres nearer than the bound whose ends are not: kept', () => {
    // Of radius 500 about points 0.05 apart, but 0.08 different in radius: 0.13 apart in places.
    const d = drawn(arc(0, 0, 500, 0, 40), arc(0.05, 0, 500.08, 20, 60));
    expect(merge(d, { within: 0.1 }).entities).toBe(d.entities);
    expect(merge(d, { within: 0.14 }).entities).toHaveLength(1);
  });
});

describe('what lies on polylines', () => {
  const square = [0, 0, 100, 0, 100, 60, 0, 60];
  it('is taken away there; what stands out stays', () => {
    const d = drawn(chain([0, 0, 100, 0, 100, 60]), line(60, 0, 140, 0), line(100, 10, 100, 40));
    const made = merge(d);
    expect(kindsOf(made.entities)).toBe('polyline line');
    expect(made.entities[1]).toMatchObject({ start: [100, 0, 0], end: [140, 0, 0] });
    expect(made.against).toEqual([]);
    expect(found(made.drawing)).toEqual([]);
  });
  it('of closed outlines only when asked', () => {
    const d = drawn(chain(square, true), line(-20, 0, 120, 0));
    expect(merge(d).entities).toBe(d.entities);
    const made = merge(d, { closed: 'merged' });
    expect(made.entities.slice(1)).toMatchObject([
      { start: [-20, 0, 0], end: [0, 0, 0] },
      { start: [100, 0, 0], end: [120, 0, 0] },
    ]);
    expect(new Set(made.entities.map((e) => e.id)).size).toBe(3);
    expect(made.against).toEqual([]);
  });
});

it('far from the origin, mirrored, and in blocks at two scales', () => {
  const far = drawn(line(1e6, 2e6, 1e6 + 60, 2e6), line(1e6 + 40, 2e6, 1e6 + 100, 2e6));
  expect(merge(far).entities).toMatchObject([{ end: [1e6 + 100, 2e6, 0] }]);
  const mirrored = drawn(arc(0, 0, 50, 0, 100, { normal: [0, 0, -1] }), arc(0, 0, 50, 80, 180, { normal: [0, 0, -1] }));
  const made = merge(mirrored);
  expect(made.entities).toHaveLength(1);
  expect(apart(mirrored, made.drawing)).toBeLessThan(1e-3);
  expect(made.against).toEqual([]);
  const inner = [line(0, 0, 60, 0), line(40, 0.05, 100, 0.05)];
  // At ten times the size the two lie half a unit apart: beyond the bound there.
  const blocks = merge(placed(inner, [{ at: [0, 0] }, { at: [0, 50], scale: [10, 10, 10] }]), { within: 0.1 });
  expect([...blocks.drawing.blocks.values()].map((b) => [b.name, b.entities.length])).toEqual([
    ['PANEL', 1],
    ['PANEL-2', 2],
  ]);
  expect(blocks.row('block-copied-for-scale')!.count).toBe(1);
  expect(blocks.against).toEqual([]);
  const same = merge(placed(inner, [{ at: [0, 0] }, { at: [0, 50], rotation: 1 }]), { within: 0.1 });
  expect([...same.drawing.blocks.keys()]).toEqual(['panel']);
});
