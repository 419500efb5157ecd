import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Kept } from '../../src/index.js';
import { adviceOn, plannedStep, runSteps, stepById } from '../../src/index.js';
import { RoundGrid } from '../../src/geometry/rounding.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { apart, arc, chain, circle, cornersOf, drawn, line, placed, stepOn } from './judge.js';
import { PLAIN_DIMENSION, PLAIN_TEXT } from '../sketches.js';

const round = (d: Drawing, decimals: number, more: Kept = {}) => stepOn(d, 'round-coordinates', { decimals, ...more });
const BUMPY = [0, 0, 10.04, 0.03, 20, 0.06, 30, 0.02, 40, 0];

describe('to decimals', () => {
  it('one decimal moves a point by 0.0707 at most in the plane, 0.0866 in space: said beforehand, then measured', () => {
    const grid = new RoundGrid(0.1);
    expect([grid.mostShift(2), grid.mostShift(3)].map((v) => v.toFixed(4))).toEqual(['0.0707', '0.0866']);
    const made = round(drawn(line(0.05, 0.05, 10.02, 3.14)), 1);
    expect(made.entities).toMatchObject([{ start: [0.1, 0.1, 0], end: [10, 3.1, 0] }]);
    expect(made.row('coordinates-rounded')!.reason).toContain('0.0707 mm');
    expect(made.row('coordinates-rounded')!.deviation!.value).toBeCloseTo(0.0707, 4);
    expect(made.against).toEqual([]);
  });
  it('clean decimals, the same on both sides of zero, whichever way the last digits lie', () => {
    const grid = new RoundGrid(0.1);
    expect([0.3 - 1e-17, 0.1 + 0.2, 1.15, -1.15, -0.04].map((v) => grid.of(v))).toEqual([0.3, 0.3, 1.2, -1.2, 0]);
    expect(new RoundGrid(1e-3).of(2.0005000001)).toBe(2.001);
  });
  it('of the unit of the receiver: two decimals of mm in a drawing of inches', () => {
    const d: Drawing = { ...drawn(line(0, 0, 1.00001, 0)), unit: { unit: 'in', factor: 1 } };
    const made = round(d, 2, { unit: 'mm' });
    expect((made.entities[0] as unknown as { end: number[] }).end[0]! * 25.4).toBeCloseTo(25.4, 9);
    const none: Drawing = { ...drawn(line(0, 0, 1, 0)), unit: null };
    expect(() => round(none, 2, { unit: 'mm' })).toThrow('decide on its unit');
  });
  it('sixteenths of an inch in millimetres', () => {
    const made = round(drawn(line(0, 0, 41, 0)), 0, { to: 'step', step: { value: 0.0625, unit: 'in' } });
    // 41 / 1.5875 = 25.83: 26 sixteenths are 41.275.
    expect((made.entities[0] as unknown as { end: number[] }).end[0]).toBeCloseTo(41.275, 12);
  });
});

describe('what becomes of shapes', () => {
  it('one point stays one: an arc keeps its sweep between its rounded ends, and a line that ends there still does', () => {
    const end = [10 * Math.cos(0.7) + 3, 10 * Math.sin(0.7) + 2] as const;
    const d = drawn(arc(3, 2, 10, (0.7 * 180) / Math.PI, 90), line(end[0], end[1], 30, 9));
    const made = round(d, 1);
    const [a, l] = made.entities as unknown as [
      { centre: number[]; radius: number; start: number; end: number },
      { start: number[] },
    ];
    expect(a.centre[0]! + a.radius * Math.cos(a.start)).toBeCloseTo(l.start[0]!, 12);
    expect(a.centre[1]! + a.radius * Math.sin(a.start)).toBeCloseTo(l.start[1]!, 12);
    expect(a.end - a.start).toBeCloseTo(Math.PI / 2 - 0.7, 12);
    expect(made.against).toEqual([]);
  });
  it('circles round centre and radius, bulges keep their angle, splines round their control points', () => {
    const spline = {
      kind: 'spline',
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
      points: Float64Array.of(0, 0, 0, 3.33, 9.01, 0, 7.7, 9, 0, 10.04, 0.04, 0),
      closed: false,
      periodic: false,
    } as never;
    const d = drawn(
      circle(1.04, 2.06, 5.55),
      chain([0.02, 0, 10, 0.01], false, { bulges: Float64Array.of(0.41, 0) }),
      spline,
    );
    const made = round(d, 1);
    expect(made.entities[0]).toMatchObject({ centre: [1, 2.1, 0], radius: 5.6 });
    expect(made.entities[1]).toMatchObject({ points: Float64Array.of(0, 0, 10, 0), bulges: Float64Array.of(0.41, 0) });
    expect([...(made.entities[2] as { points: Float64Array }).points]).toEqual([
      0, 0, 0, 3.3, 9, 0, 7.7, 9, 0, 10, 0, 0,
    ]);
    expect(made.against).toEqual([]);
  });
  it('points that fall together are one and counted; curves that lose their length are told', () => {
    const made = round(drawn(chain([0, 0, 10, 0, 10.01, 0.02, 10, 9], true), line(3, 3, 3.01, 3.02)), 1);
    expect(cornersOf(made.entities[0])).toEqual([0, 0, 10, 0, 10, 9]);
    expect(made.entities).toHaveLength(1);
    expect([made.row('points-fell-together')!.count, made.row('rounded-away')!.count]).toEqual([1, 1]);
    expect(made.against).toEqual([]);
  });
  it('a path keeps its arcs', () => {
    const d = drawn({ kind: 'path', path: parsePathData('M0.02 0.04A5 5 0 0 1 10.03 0.01L20.06 9.99Z').path } as never);
    const made = round(d, 1);
    expect([...(made.entities[0] as { path: { data: Float64Array } }).path.data].slice(-4)).toEqual([10, 0, 20.1, 10]);
    expect(made.against).toEqual([]);
  });
  it('dimensions follow their points; letters stay', () => {
    const dimension = {
      kind: 'dimension',
      form: 'aligned',
      points: { 10: [0, 9, 0], 11: [5, 9, 0], 13: [0.02, 0, 0], 14: [10.03, 0, 0] },
      override: '',
      style: 'STANDARD',
      ...PLAIN_DIMENSION,
      flags: 0,
    } as never;
    const text = {
      kind: 'text',
      text: 'Kestrel',
      at: [1.234, 5.678, 0],
      size: 2,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
    } as never;
    const made = round(drawn(line(0.02, 0, 10.03, 0), dimension, text), 1);
    expect(made.entities[1]).toMatchObject({ points: { 13: [0, 0, 0], 14: [10, 0, 0] } });
    expect(made.entities[2]).toMatchObject({ at: [1.234, 5.678, 0] });
    expect(made.against).toEqual([]);
  });
});

describe('order matters', () => {
  const plan = (...steps: [string, Kept][]) =>
    steps.map(([id, params], i) => plannedStep(stepById(id)!, `s${i}`, params));
  const thin: [string, Kept] = ['thin-points', { strength: 'bound', bound: 0.1 }];
  const needless: [string, Kept] = ['thin-points', { strength: 'redundant' }];
  const tenth: [string, Kept] = ['round-coordinates', { decimals: 1 }];
  it('thin at 0.1 and round to one decimal: two points; round first, and the kink keeps all five', () => {
    const d = drawn(chain(BUMPY));
    expect(cornersOf(runSteps(d, plan(thin, tenth, needless)).drawing.entities[0])).toEqual([0, 0, 40, 0]);
    expect(cornersOf(runSteps(d, plan(tenth, needless)).drawing.entities[0])).toEqual([
      0, 0, 10, 0, 20, 0.1, 30, 0, 40, 0,
    ]);
  });
  it('a step that stands before a thinning one says so', () => {
    expect([...adviceOn(plan(tenth, thin)).keys()]).toEqual(['s0']);
    expect(adviceOn(plan(thin, tenth, needless)).size).toBe(0);
    expect(adviceOn(plan(tenth, needless)).size).toBe(0);
    expect([...adviceOn(plan(['chain-outlines', {}], ['clear-doubles', {}])).keys()]).toEqual(['s0']);
  });
});

it('in a block at twice the size the grid is half as wide there', () => {
  const made = round(placed([line(0.04, 0, 3.33, 0)], [{ at: [0.03, 0], scale: [2, 2, 2] }]), 1);
  expect(made.drawing.blocks.get('panel')!.entities[0]).toMatchObject({
    start: [0.05, 0, 0],
    end: [expect.closeTo(3.35, 12), 0, 0],
  });
  expect(made.entities[0]).toMatchObject({ at: [0, 0, 0] });
  expect(made.against).toEqual([]);
});

it('no shape moves further than half the diagonal of a step, and twice is once', () => {
  const number = fc.double({ min: -500, max: 500, noNaN: true });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(number, number), { minLength: 2, maxLength: 9 }),
      fc.array(fc.double({ min: -0.9, max: 0.9, noNaN: true }), { minLength: 9, maxLength: 9 }),
      fc.integer({ min: 0, max: 3 }),
      (points, bulges, decimals) => {
        const d = drawn(
          chain(points.flat(), false, { bulges: Float64Array.from(points, (_, i) => bulges[i]!) }),
          arc(points[0]![0], points[0]![1], 7, points[1]![0], points[1]![0] + 200),
        );
        const made = round(d, decimals);
        expect(made.against).toEqual([]);
        expect(round(made.drawing, decimals).entities).toEqual(made.entities);
        const straight = drawn(chain(points.flat()));
        const off = round(straight, decimals);
        if (off.entities.length > 0)
          expect(apart(straight, off.drawing)).toBeLessThanOrEqual(new RoundGrid(10 ** -decimals).mostShift(2) + 1e-9);
      },
    ),
    { numRuns: 60 },
  );
});
