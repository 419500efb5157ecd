import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Kept } from '../../src/index.js';
import { CHECKS, plannedStep, runCheck, runStep, stepById, upgradedPlan, valuesOf } from '../../src/index.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { apart, chain, cornersOf, drawn, kindsOf, lengthOfAll, placed, stepOn } from './judge.js';

const recover = (d: Drawing, params: Kept = {}) => stepOn(d, 'recover-arcs', params);
const path = (data: string): never => ({ kind: 'path', path: parsePathData(data).path }) as never;
/** Corners on a circle about (x, y): `n` chords over so many degrees from some on; the last corner comes too. */
const onArc = (x: number, y: number, r: number, from: number, to: number, n: number): number[] =>
  Array.from({ length: n + 1 }, (_, i) => ((from + ((to - from) * i) / n) * Math.PI) / 180).flatMap((t) => [
    x + r * Math.cos(t),
    y + r * Math.sin(t),
  ]);
const ring = (n: number, r: number, x = 0, y = 0): number[] => onArc(x, y, r, 0, 360, n).slice(0, 2 * n);
/** A circle, or ellipse, of four cubics with the usual handles. */
const fourCubics = (a: number, b: number, k = 0.5522847498307936): string =>
  `M${a} 0C${a} ${k * b} ${k * a} ${b} 0 ${b}C${-k * a} ${b} ${-a} ${k * b} ${-a} 0C${-a} ${-k * b} ${-k * a} ${-b} 0 ${-b}C${k * a} ${-b} ${a} ${-k * b} ${a} 0Z`;
const told = (made: ReturnType<typeof recover>) => made.row('arcs-recovered')?.args;

describe('runs of chords', () => {
  it('a quarter of radius 50 in 8 chords: 9 points become 2; corners off 0, the curve 0.2408; 78.4137 long before, 78.5398 after', () => {
    const d = drawn(chain([80, -40, ...onArc(0, 0, 50, 0, 90, 8).slice(0), -40, 80]));
    const quarter = drawn(chain(onArc(0, 0, 50, 0, 90, 8)));
    const made = recover(quarter);
    expect(cornersOf(made.entities[0]).length / 2).toBe(2);
    expect((made.entities[0] as { bulges: Float64Array }).bulges[0]).toBeCloseTo(Math.tan(Math.PI / 8), 12);
    expect([lengthOfAll(quarter), lengthOfAll(made.drawing)].map((v) => v.toFixed(4))).toEqual(['78.4137', '78.5398']);
    expect(told(made)).toMatchObject({ arcs: 1, curve: '0.241 mm' });
    expect(made.row('arcs-recovered')!.deviation!.value).toBeCloseTo(
      50 * (1 - Math.cos((5.625 / 2 / 180) * Math.PI * 2)),
      2,
    );
    expect(apart(quarter, made.drawing)).toBeCloseTo(50 * (1 - Math.cos((5.625 * Math.PI) / 180)), 4);
    expect(made.against).toEqual([]);
    expect(recover(d).against).toEqual([]);
  });
  it('a bound on the curve counts what lies between the corners', () => {
    const d = drawn(chain(onArc(0, 0, 50, 0, 90, 8)));
    expect(recover(d, { bound: 0.24 }).entities).toBe(d.entities);
    expect(recover(d, { bound: 0.241 }).entities).not.toBe(d.entities);
  });
  it('a rounded rectangle whose corners are chords: 4 straights and 4 arcs without a kink', () => {
    const r = (x: number, y: number, from: number) => onArc(x, y, 8, from, from + 90, 6);
    const d = drawn(chain([...r(92, 8, 270), ...r(92, 52, 0), ...r(8, 52, 90), ...r(8, 8, 180)], true));
    const made = recover(d);
    const e = made.entities[0] as { bulges: Float64Array; points: Float64Array };
    expect(e.points.length / 2).toBe(8);
    expect([...e.bulges].filter((b) => Math.abs(b - Math.tan(Math.PI / 8)) < 1e-9)).toHaveLength(4);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(256 + 16 * Math.PI, 9);
    expect(made.against).toEqual([]);
  });
  it('an S of two arcs, one after the other, both ways round', () => {
    const s = [...onArc(0, 0, 20, 180, 90, 9), ...onArc(0, 40, 20, 270, 360, 9).slice(2)];
    const made = recover(drawn(chain(s)));
    expect([...(made.entities[0] as { bulges: Float64Array }).bulges].map((b) => Number(b.toFixed(6)))).toEqual([
      -0.414214, 0.414214, 0,
    ]);
    expect(made.against).toEqual([]);
  });
  it('what is nearly straight, screws up in space, winds in, or has too few corners stays', () => {
    const flat = onArc(0, -1e6, 1e6, 90.02, 89.98, 8);
    const screw = {
      kind: 'polyline',
      dim: 3,
      elevation: 0,
      closed: false,
      points: Float64Array.from(
        Array.from({ length: 20 }, (_, i) => [10 * Math.cos(i / 4), 10 * Math.sin(i / 4), i]).flat(),
      ),
    } as never;
    for (const e of [chain(flat), screw, chain(ring(8, 50), true), chain(onArc(0, 0, 50, 0, 10, 6))]) {
      const d = drawn(e);
      expect(recover(d).entities).toBe(d.entities);
    }
  });
  it('a spiral never becomes a circle, and no arc of it strays', () => {
    const d = drawn(
      chain(Array.from({ length: 60 }, (_, i) => [(10 + i) * Math.cos(i / 3), (10 + i) * Math.sin(i / 3)]).flat()),
    );
    const made = recover(d);
    expect(kindsOf(made.entities)).toBe('polyline');
    expect(made.against).toEqual([]);
    expect(recover(d, { tolerance: 0.1 }).entities).toBe(d.entities);
  });
  it('more than a whole turn comes in two arcs', () => {
    const made = recover(drawn(chain(onArc(0, 0, 30, 0, 540, 54))));
    const e = made.entities[0] as { bulges: Float64Array };
    expect(kindsOf(made.entities)).toBe('polyline');
    const sweeps = [...e.bulges].map((b) => 4 * Math.atan(b));
    expect(sweeps.reduce((a, b) => a + b, 0)).toBeCloseTo(3 * Math.PI, 6);
    expect(made.against).toEqual([]);
  });
});

describe('whole circles', () => {
  const radius = (made: ReturnType<typeof recover>): number => (made.entities[0] as { radius: number }).radius;
  it('64 chords of radius 50: 50 through the corners, 49.9598 of equal area, half way to 49.9398', () => {
    const d = drawn(chain(ring(64, 50), true));
    expect(radius(recover(d))).toBeCloseTo(50, 9);
    expect(radius(recover(d, { radius: 'area' }))).toBeCloseTo(49.9598, 4);
    expect(radius(recover(d, { radius: 'middle' }))).toBeCloseTo((50 + 49.9398) / 2, 3);
    for (const by of ['corners', 'area', 'middle']) expect(recover(d, { radius: by }).against).toEqual([]);
    expect(told(recover(d))).toMatchObject({ circles: 1, curve: '0.0602 mm' });
  });
  it('of four cubics: radius 50 again, off by 2.7253e-4 of it; handles of 0.5523 by 2.7607e-4', () => {
    const d = drawn(path(fourCubics(50, 50)));
    const made = recover(d, { tolerance: 0.3 });
    expect(made.entities).toMatchObject([{ kind: 'circle' }]);
    expect(radius(made)).toBeCloseTo(50, 9);
    expect(made.row('arcs-recovered')!.deviation!.value).toBeCloseTo(50 * 2.7253e-4, 4);
    expect(made.against).toEqual([]);
    const other = recover(drawn(path(fourCubics(50, 50, 0.5523))), { tolerance: 0.3 });
    expect(radius(other)).toBeCloseTo(50, 9);
    expect(other.row('arcs-recovered')!.deviation!.value).toBeCloseTo(50 * 2.7607e-4, 4);
  });
  it('a radius that was meant to be round becomes it', () => {
    expect(radius(recover(drawn(chain(ring(48, 12.4987), true)), { tidy: true }))).toBe(12.5);
    expect(radius(recover(drawn(chain(ring(48, 12.4987), true))))).toBeCloseTo(12.4987, 9);
  });
  it('the check that finds them is silent afterwards, and its mend touches nothing else', () => {
    const check = CHECKS.find((c) => c.id === 'hidden-circles')!;
    const d = drawn(chain(ring(36, 5), true), chain(onArc(100, 0, 50, 0, 90, 8)));
    expect(runCheck(check, d)).toHaveLength(1);
    const mended = runStep(
      d,
      plannedStep(stepById(check.mend!.step)!, 'm', check.mend!.params(valuesOf(check.params, {}, d.unit), d.unit, [])),
    );
    expect(runCheck(check, mended.drawing)).toEqual([]);
    expect(mended.drawing.entities[1]).toBe(d.entities[1]);
  });
});

describe('ellipses, straights and arcs of free curves', () => {
  it('60 × 25 of four cubics: ratio 0.41667, off by 0.0164 at most', () => {
    const d = drawn(path(fourCubics(60, 25)));
    const made = recover(d);
    expect(made.entities).toMatchObject([{ kind: 'ellipse', ratio: expect.closeTo(0.416667, 5) as number }]);
    expect(Math.hypot(...(made.entities[0] as unknown as { major: [number, number, number] }).major)).toBeCloseTo(
      60,
      6,
    );
    expect(made.row('arcs-recovered')!.deviation!.value).toBeLessThanOrEqual(60 * 2.7253e-4 + 1e-4);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(60 * 2.7253e-4 + 1e-3);
    expect(made.against).toEqual([]);
  });
  it('of 72 chords, turned and far away', () => {
    const at = (i: number): [number, number] => {
      const [u, v] = [60 * Math.cos((i * Math.PI) / 36), 25 * Math.sin((i * Math.PI) / 36)];
      return [1e6 + u * Math.cos(0.5) - v * Math.sin(0.5), 1e6 + u * Math.sin(0.5) + v * Math.cos(0.5)];
    };
    const made = recover(drawn(chain(Array.from({ length: 72 }, (_, i) => at(i)).flat(), true)));
    expect(made.entities).toMatchObject([{ kind: 'ellipse', ratio: expect.closeTo(25 / 60, 6) as number }]);
    expect(made.against).toEqual([]);
  });
  it('straight Béziers become lines, and those on a circle an arc', () => {
    const made = recover(drawn(path('M0 0C10 0 20 0 30 0C35.523 0 40 4.477 40 10L40 40')));
    const { cmds } = (made.entities[0] as { path: { cmds: Uint8Array } }).path;
    expect([...cmds]).toEqual([0, 1, 4, 1]);
    expect(told(made)).toMatchObject({ arcs: 1, straights: 1 });
    expect(made.against).toEqual([]);
    expect(kindsOf(recover(drawn(path('M0 0C10 0 20 0 30 0'))).entities)).toBe('line');
  });
  it('a spline that is an arc becomes one', () => {
    const k = 0.5522847498;
    const spline = {
      kind: 'spline',
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
      points: Float64Array.of(50, 0, 0, 50, 50 * k, 0, 50 * k, 50, 0, 0, 50, 0),
      closed: false,
      periodic: false,
    } as never;
    const made = recover(drawn(spline));
    expect(made.entities).toMatchObject([{ kind: 'arc' }]);
    expect((made.entities[0] as { radius: number }).radius).toBeCloseTo(50, 1);
    expect(made.against).toEqual([]);
  });
});

it('a step kept as “Recover circles” goes on recovering circles and nothing else', () => {
  const kept = { id: 'a', step: 'recover-circles', on: true, params: { tolerance: 1 } };
  const d = drawn(chain(ring(36, 5), true), chain(onArc(100, 0, 50, 0, 90, 8)));
  expect(upgradedPlan([kept])[0]).toMatchObject({
    step: 'recover-arcs',
    params: { tolerance: 1, arcs: false, ellipses: false, straights: false },
  });
  expect(kindsOf(runStep(d, kept).drawing.entities)).toBe('circle polyline');
});

it('in blocks at two scales, mirrored ones among them', () => {
  const made = recover(
    placed(
      [chain(ring(36, 5), true)],
      [{ at: [0, 0] }, { at: [30, 0], scale: [-1, 1, 1] }, { at: [60, 0], scale: [3, 3, 3] }],
    ),
  );
  expect([...made.drawing.blocks.values()].map((b) => kindsOf(b.entities))).toEqual(['circle', 'circle']);
  expect(made.against).toEqual([]);
});

it('any arc cut into chords comes back: its radius, its sweep, its place', () => {
  fc.assert(
    fc.property(
      fc.record({
        x: fc.integer({ min: -900, max: 900 }),
        y: fc.integer({ min: -900, max: 900 }),
        r: fc.integer({ min: 1, max: 400 }),
        from: fc.integer({ min: 0, max: 359 }),
        sweep: fc.integer({ min: 40, max: 330 }),
        n: fc.integer({ min: 5, max: 60 }),
      }),
      ({ x, y, r, from, sweep, n }) => {
        if (sweep / n > 29) return;
        const d = drawn(chain(onArc(x, y, r, from, from + sweep, n)));
        const made = recover(d);
        const e = made.entities[0] as { bulges: Float64Array; points: Float64Array };
        expect(e.points.length / 2).toBe(2);
        expect(4 * Math.atan(e.bulges[0]!)).toBeCloseTo((sweep * Math.PI) / 180, 6);
        expect(made.against).toEqual([]);
        expect(recover(made.drawing).entities).toEqual(made.entities);
      },
    ),
    { numRuns: 80 },
  );
});
