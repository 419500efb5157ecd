import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { IntakeDecisions } from '@scalaria/core';
import { NO_DECISIONS } from '@scalaria/core';
import { applied, changeBetween, clashInWords, differenceInWords, stillSo } from '../src/api/drawing-changes';

const decisions = fc.record(
  {
    unit: fc.constantFrom('mm', 'cm', null),
    pxPerInch: fc.constantFrom(72, 96, null),
    correction: fc.constantFrom(1, 2.5),
    layers: fc.constantFrom({ mode: 'visible', names: [] }, { mode: 'chosen', names: ['A'] }),
    origin: fc.constantFrom({ mode: 'keep', x: 0, y: 0 }, { mode: 'point', x: 3, y: 4 }),
    plane: fc.constantFrom('keep', 'flat'),
    encoding: fc.constantFrom('windows-1251', null),
    window: fc.constantFrom({ minX: 0, minY: 0, maxX: 9, maxY: 9, touching: true }, null),
  },
  { requiredKeys: ['unit', 'pxPerInch', 'correction', 'layers', 'origin'] },
) as fc.Arbitrary<IntakeDecisions>;

/** What becomes of decisions by a change, as the server and the page have it. */
const after = (before: IntakeDecisions, change: ReturnType<typeof changeBetween>): IntakeDecisions =>
  applied({ intake: before, steps: [], review: {}, yardsticks: [] }, change ?? {}).intake;

describe('what is sent of a change', () => {
  it('takes one state to the other, whatever they are', () => {
    fc.assert(
      fc.property(decisions, decisions, (a, b) => {
        const change = changeBetween({ intake: a, steps: [], review: {}, yardsticks: [] }, { intake: b });
        expect(after(a, change)).toEqual(b);
      }),
    );
  });
  it('leaves alone what another window decided of other fields', () => {
    fc.assert(
      fc.property(decisions, fc.constantFrom('cm', 'in'), (a, unit) => {
        const change = changeBetween(
          { intake: a, steps: [], review: {}, yardsticks: [] },
          { intake: { ...a, unit } as IntakeDecisions },
        );
        const other = { ...a, correction: 7, plane: 'flat' } as IntakeDecisions;
        expect(after(other, change)).toEqual({ ...other, unit });
      }),
    );
  });
  it('taken back gives what was before, and leaves alone what another window decided meanwhile', () => {
    fc.assert(
      fc.property(decisions, decisions, (a, b) => {
        const back = changeBetween({ intake: b, steps: [], review: {}, yardsticks: [] }, { intake: a });
        expect(after(b, back)).toEqual(a);
      }),
    );
    const back = changeBetween(
      { intake: { ...NO_DECISIONS, unit: 'cm' }, steps: [], review: {}, yardsticks: [] },
      { intake: NO_DECISIONS },
    );
    expect(after({ ...NO_DECISIONS, unit: 'cm', correction: 7 }, back)).toEqual({ ...NO_DECISIONS, correction: 7 });
  });
  it('is nothing when nothing changed, and only steps when only they did', () => {
    const steps = [{ id: 'a', step: 'shift-origin', on: true, params: {} }];
    const state = { intake: NO_DECISIONS, steps, review: {}, yardsticks: [] };
    expect(changeBetween(state, { intake: { ...NO_DECISIONS }, steps: [...steps] })).toBeNull();
    expect(changeBetween(state, { steps: [], review: {} })).toEqual({ steps: [] });
    expect(changeBetween(state, { review: { purpose: 'cut' } })).toEqual({ review: { purpose: 'cut' } });
  });
  it('is told in words', () => {
    const shown = { intake: NO_DECISIONS, steps: [], review: {}, yardsticks: [] };
    expect(differenceInWords(shown, shown)).toBe('');
    expect(
      differenceInWords(shown, { intake: { ...NO_DECISIONS, unit: 'cm' }, steps: [], review: {}, yardsticks: [] }),
    ).toMatch(/Unit is now .*cm/);
    expect(
      differenceInWords({ intake: { ...NO_DECISIONS, unit: 'cm' }, steps: [], review: {}, yardsticks: [] }, shown),
    ).toBe('Unit is now undecided');
    expect(
      differenceInWords(shown, {
        intake: NO_DECISIONS,
        steps: [{ id: 'a', step: 'join-ends', on: true, params: {} }],
        review: {},
        yardsticks: [],
      }),
    ).toBe('the steps are others now');
  });
});

it('the same plan in another order of fields is no change by another window', () => {
  const step = { id: 'a', step: 'shift-origin', on: true, params: { to: 'point', point: { x: 1, y: 2 } }, version: 2 };
  const stored = {
    on: true,
    id: 'a',
    step: 'shift-origin',
    params: { point: { y: 2, x: 1 }, to: 'point' },
    version: 2,
  };
  const shown = { intake: NO_DECISIONS, steps: [step], review: {}, yardsticks: [] };
  expect(differenceInWords(shown, { ...shown, steps: [stored] })).toBe('');
  expect(changeBetween(shown, { steps: [stored] })).toBeNull();
  expect(differenceInWords(shown, { ...shown, steps: [{ ...stored, on: false }] })).toBe('the steps are others now');
  expect(changeBetween(shown, { steps: [step, step] })?.steps).toHaveLength(2);
});

describe('a clash', () => {
  const state = { intake: NO_DECISIONS, steps: [], review: {}, yardsticks: [] };
  it('is told with both sides: what was asked for here, and what counts by the other window', () => {
    const counts = { ...state, intake: { ...NO_DECISIONS, unit: 'cm' as const } };
    expect(clashInWords({ intake: { unit: 'mm' } }, state, counts)).toBe('Unit: here mm, in the other window cm');
    // What both decided alike is no clash.
    expect(clashInWords({ intake: { unit: 'cm' } }, state, counts)).toBe('');
    const stepped = { ...state, steps: [{ id: 'a', step: 'join-ends', on: true, params: {} }] };
    expect(clashInWords({ steps: [] }, stepped, stepped)).toBe('Steps: here none; in the other window Join ends');
  });
  it('what still stands as it was set can be taken back, what another window changed since cannot', () => {
    const now = { ...state, intake: { ...NO_DECISIONS, unit: 'cm' as const } };
    expect(stillSo(now, { intake: { unit: 'cm' } })).toBe(true);
    expect(stillSo(now, { intake: { unit: 'mm' } })).toBe(false);
    expect(stillSo({ ...now, steps: [{ id: 'b', step: 'x', on: true, params: {} }] }, { intake: { unit: 'cm' } })).toBe(
      true,
    );
  });
});
