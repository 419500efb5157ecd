import { expect, test } from 'vitest';
import type { Kept, PlannedStep } from '../../src/index.js';
import {
  STEPS,
  defaultsOf,
  faultOf,
  operationFault,
  plannedStep,
  runSteps,
  stepById,
  upgraded,
  upgradedPlan,
  versionOf,
} from '../../src/index.js';
import { drawingOf } from '../helpers.js';

const line = (x0: number, y0: number, x1: number, y1: number): never =>
  ({ kind: 'line', start: [x0, y0, 0], end: [x1, y1, 0], layer: 'A' }) as never;
const drawing = drawingOf;

const old = (step: string, params: Kept): PlannedStep => ({ id: 's', step, on: true, params });

test('plans of before run as they did: the point of an origin, the depth of blocks, the picked curve', () => {
  const plan = upgradedPlan([
    old('shift-origin', { to: 'point', x: 10, y: -2 }),
    old('break-up-blocks', { named: '*', deep: 'no' }),
    old('break-up-blocks', { named: 'A' }),
    old('lettering-on-curve', { text: 'Row', along: 'curve', curve: 'line/00000000/2F', x: 1, y: 2 }),
    old('lettering-on-curve', { text: 'Row', curve: 7 }),
    old('join-ends', { gap: 0.2 }),
  ]);
  expect(plan.map((s) => s.version ?? 1)).toEqual([2, 2, 2, 2, 2, 1]);
  expect(plan.map((s) => s.params)).toEqual([
    { to: 'point', point: { x: 10, y: -2 } },
    { named: '*', deep: false },
    { named: 'A' },
    { text: 'Row', along: 'curve', curve: ['line/00000000/2F'], centre: { x: 1, y: 2 } },
    { text: 'Row', curve: [], centre: { x: 0, y: 0 } },
    { gap: 0.2 },
  ]);
  for (const s of plan) expect(faultOf(stepById(s.step)!.params, s.params), s.step).toBeNull();
  const moved = runSteps(drawing([line(10, -2, 15, -2)]), [old('shift-origin', { to: 'point', x: 10, y: -2 })]);
  expect(moved.drawing.entities[0]).toMatchObject({ start: [0, 0, 0], end: [5, 0, 0] });
});

test('upgrading twice is upgrading once, and what is of today is left alone', () => {
  for (const step of STEPS) {
    const today = plannedStep(step, 'a');
    expect(today.version, step.id).toBe(versionOf(step));
    expect(upgradedPlan([today])[0]).toBe(today);
    // A migration that meets today's parameters under an old number does not spoil them.
    expect(upgraded(step, today.params, 1), step.id).toEqual(defaultsOf(step.params));
  }
});

test('a plan of a version to come is refused in words', () => {
  const step = stepById('shift-origin')!;
  expect(operationFault(step, {}, versionOf(step) + 1)).toMatch(/newer version of this program/);
  expect(() => runSteps(drawing([line(0, 0, 1, 0)]), [{ ...plannedStep(step, 'a'), version: 99 }])).toThrow(
    /newer version/,
  );
});

test('a length with a unit is the same length in any drawing', () => {
  const place = { to: 'point', point: { x: { value: 1, unit: 'in' }, y: 0 } };
  const of = (unit: 'mm' | 'cm'): number => {
    const d = { ...drawing([line(100, 0, 200, 0)]), unit: { unit, factor: 1 } };
    const moved = runSteps(d, [plannedStep(stepById('shift-origin')!, 'a', place)]).drawing.entities[0];
    return moved?.kind === 'line' ? moved.start[0] : NaN;
  };
  expect(of('mm')).toBeCloseTo(74.6, 12);
  expect(of('cm')).toBeCloseTo(97.46, 12);
});
