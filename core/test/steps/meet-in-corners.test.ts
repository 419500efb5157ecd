import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { apart, arc, chain, cornersOf, drawn, line, placed, stepOn } from './judge.js';

const meet = (d: Drawing, params: Kept = {}) => stepOn(d, 'meet-in-corners', params);

describe('two ends that miss their corner', () => {
  it('(98, 0) and (100, 3) both go to (100, 0), by 2 and by 3; if 2.5 is the most, neither does', () => {
    const d = drawn(line(0, 0, 98, 0), line(100, 3, 100, 60));
    const made = meet(d, { farthest: 3 });
    expect(made.entities).toMatchObject([{ end: [100, 0, 0] }, { start: [100, 0, 0] }]);
    expect(made.row('corners-met')).toMatchObject({ count: 1, deviation: { value: 3, unit: 'mm' } });
    expect(made.against).toEqual([]);
    // The corner lies 2 from the nearer of the old ends.
    expect(apart(d, made.drawing)).toBeCloseTo(2, 6);
    expect(meet(d, { farthest: 2.5 }).entities).toBe(d.entities);
  });
  it('ends that overshoot are cut back', () => {
    const made = meet(drawn(line(0, 0, 102, 0), line(100, -3, 100, 60)), { farthest: 4 });
    expect(made.entities).toMatchObject([{ end: [100, 0, 0] }, { start: [100, 0, 0] }]);
    expect(made.against).toEqual([]);
  });
  it('an end that stands on another’s middle near its end: what stands over is cut', () => {
    const made = meet(drawn(line(0, 0, 102, 0), line(100, 0, 100, 60)), { farthest: 4 });
    expect(made.entities).toMatchObject([{ end: [100, 0, 0] }, { start: [100, 0, 0] }]);
  });
  it('the nearest pair first, each end once; parallel ends, met ends and other layers stay', () => {
    const d = drawn(line(0, 0, 98, 0), line(100, 1, 100, 60), line(101, 4, 101, 60));
    expect(meet(d, { farthest: 5 }).entities).toMatchObject([{ end: [100, 0, 0] }, {}, { start: [101, 4, 0] }]);
    for (const other of [
      drawn(line(0, 0, 50, 0), line(52, 0, 100, 0)),
      drawn(line(0, 0, 50, 0), line(50, 0, 50, 9)),
      drawn(line(0, 0, 49, 0, { layer: 'A' }), line(50, 1, 50, 9, { layer: 'B' })),
    ])
      expect(meet(other, { farthest: 5 }).entities).toBe(other.entities);
    expect(
      meet(drawn(line(0, 0, 49, 0, { layer: 'A' }), line(50, 1, 50, 9, { layer: 'B' })), {
        farthest: 5,
        together: 'first',
      }).entities,
    ).toMatchObject([{ end: [50, 0, 0], layer: 'A' }, { layer: 'B' }]);
  });
});

describe('arcs and polylines', () => {
  it('an arc is drawn out along its circle', () => {
    // A quarter of radius 10 about the origin that ends 10° short of a line along y = 0.
    const d = drawn(arc(0, 0, 10, 10, 90), line(12, 0, 40, 0));
    const made = meet(d, { farthest: 2.5 });
    expect(made.entities[0]).toMatchObject({ kind: 'arc', radius: 10 });
    expect(made.entities[1]).toMatchObject({ start: [expect.closeTo(10, 9), 0, 0] });
    expect((made.entities[0] as { start: number }).start).toBeCloseTo(0, 9);
    expect(made.row('corners-met')!.deviation!.value).toBeCloseTo(2, 2);
    expect(made.against).toEqual([]);
  });
  it('the ends of one polyline meet in a corner of it', () => {
    const made = meet(drawn(chain([98, 0, 0, 0, 0, 60, 100, 60, 100, 3])), { farthest: 3 });
    expect(cornersOf(made.entities[0])).toEqual([100, 0, 0, 0, 0, 60, 100, 60, 100, 0]);
    expect(made.against).toEqual([]);
  });
  it('free curves never are', () => {
    const path = {
      kind: 'spline',
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
      points: Float64Array.of(0, 0, 0, 30, 1, 0, 60, 1, 0, 98, 0, 0),
      closed: false,
      periodic: false,
    } as never;
    const d = drawn(path, line(100, 3, 100, 60));
    expect(meet(d, { farthest: 5 }).entities).toBe(d.entities);
  });
});

it('in blocks the farthest move is that of the drawing', () => {
  const inner = [line(0, 0, 98, 0), line(100, 3, 100, 60)];
  const made = meet(placed(inner, [{ at: [0, 0] }, { at: [300, 0], scale: [2, 2, 2] }]), { farthest: 4 });
  expect(
    [...made.drawing.blocks.values()].map((b) => b.entities[0]).map((e) => e?.kind === 'line' && e.end[0]),
  ).toEqual([100, 98]);
  expect(made.against).toEqual([]);
  const far = drawn(line(1e6, 1e6, 1e6 + 98, 1e6), line(1e6 + 100, 1e6 + 3, 1e6 + 100, 1e6 + 60));
  expect(meet(far, { farthest: 3 }).entities).toMatchObject([{ end: [1e6 + 100, 1e6, 0] }, {}]);
});
