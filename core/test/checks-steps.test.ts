import { describe, expect, it } from 'vitest';
import type { PlannedStep } from '../src/index.js';
import { CHECKS, STEPS, defaultsOf, faultOf, runChecks, runSteps, stepById } from '../src/index.js';
import { drawingOf, only } from './helpers.js';

const polyline = (points: number[], closed = false, layer = 'A'): never =>
  ({ kind: 'polyline', points: Float64Array.from(points), dim: 2, elevation: 0, closed, layer }) as never;
const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A'): never =>
  ({ kind: 'line', start: [x0, y0, 0], end: [x1, y1, 0], layer }) as never;

describe('open outlines', () => {
  it('finds the gap of an outline that nearly closes, with its place and size', () => {
    const [f, ...rest] = runChecks(drawingOf([polyline([0, 0, 100, 0, 100, 50, 0, 50, 0, 0.3])]));
    expect(rest).toEqual([]);
    expect(f).toMatchObject({ check: 'open-outlines', layer: 'A', ids: [1] });
    expect(f!.size).toBeCloseTo(0.3, 12);
    expect(f!.at).toEqual({ x: 0, y: 0.15 });
  });
  it('finds where two lines miss each other', () => {
    const found = runChecks(drawingOf([line(0, 0, 100, 0), line(100.4, 0.3, 100.4, 80)]));
    expect(found.map((f) => f.ids)).toEqual([[1, 2]]);
    expect(found[0]!.size).toBeCloseTo(0.5, 12);
  });
  it('is content with what closes: by flag, by meeting ends, through an arc', () => {
    const arc = { kind: 'arc', centre: [100, 25, 0], radius: 25, start: -Math.PI / 2, end: Math.PI / 2 } as never;
    expect(runChecks(drawingOf([polyline([0, 0, 100, 0, 100, 50], true)]))).toEqual([]);
    expect(runChecks(drawingOf([line(0, 0, 100, 0), arc, line(100, 50, 0, 50), line(0, 50, 0, 0)]))).toEqual([]);
  });
  it('does not join over layers, nor over gaps wider than asked', () => {
    expect(runChecks(drawingOf([line(0, 0, 100, 0), line(100.4, 0, 200, 0, 'B')]))).toEqual([]);
    const wide = drawingOf([line(0, 0, 100, 0), line(105, 0, 200, 0)]);
    expect(runChecks(wide)).toEqual([]);
    expect(runChecks(wide, { 'open-outlines': { widest: 6 } }).length).toBe(1);
  });
  it('does not take an end that another curve meets', () => {
    expect(runChecks(drawingOf([line(0, 0, 100, 0), line(100, 0, 100, 50), line(100.2, 0, 150, 20)]))).toEqual([]);
  });
});

describe('steps', () => {
  const d = drawingOf([line(10, 20, 30, 60)]);
  const plan = (step: string, params: PlannedStep['params'], on = true): PlannedStep => ({
    id: step,
    step,
    on,
    params,
  });
  it('shift the origin to a point or corner', () => {
    expect(only(runSteps(d, [plan('shift-origin', { to: 'point', x: 10, y: 20 })]).drawing, 'line').start).toEqual([
      0, 0, 0,
    ]);
    expect(only(runSteps(d, [plan('shift-origin', { to: 'centre' })]).drawing, 'line').end).toEqual([10, 20, 0]);
  });
  it('set the true size, in order with the others', () => {
    const both = [
      plan('set-true-size', { measured: 10, actual: 25 }),
      plan('shift-origin', { to: 'point', x: 25, y: 50 }),
    ];
    expect(only(runSteps(d, both).drawing, 'line').end).toEqual([50, 100, 0]);
    expect(only(runSteps(d, [...both].reverse()).drawing, 'line').end).toEqual([12.5, 25, 0]);
  });
  it('that are off do nothing, and each says in the ledger what it did', () => {
    const { drawing, ledger } = runSteps(d, [
      plan('set-true-size', { measured: 1, actual: 2 }, false),
      plan('shift-origin', { to: 'lowerLeft' }),
    ]);
    expect(only(drawing, 'line').end).toEqual([20, 40, 0]);
    expect(ledger.map((r) => [r.by, r.carryOver])).toEqual([['shift-origin', 'origin']]);
  });
  it('refuse parameters that make no sense', () => {
    expect(() => runSteps(d, [plan('set-true-size', { measured: 0, actual: 1 })])).toThrow(/above 0/);
    expect(() => runSteps(d, [plan('no-such', {})])).toThrow(/no step/);
    expect(() => runSteps(d, [plan('shift-origin', { to: 'moon' })])).toThrow(/one of/);
  });
});

it('every registered step and check has defaults that satisfy its own schema, and an id of its own', () => {
  for (const x of [...STEPS, ...CHECKS]) expect(faultOf(x.params, defaultsOf(x.params)), x.id).toBeNull();
  expect(new Set([...STEPS, ...CHECKS].map((x) => x.id)).size).toBe(STEPS.length + CHECKS.length);
  expect(stepById('shift-origin')!.title).toBe('Shift origin');
});
