import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { IntakeDecisions } from '@scalaria/core';
import { NO_DECISIONS } from '@scalaria/core';
import { changeBetween, differenceInWords } from '../src/api/drawing-changes';

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

/** What the server makes of a change: fields set, fields taken back, all others as they are. */
function applied(before: IntakeDecisions, change: ReturnType<typeof changeBetween>): IntakeDecisions {
  const next: Record<string, unknown> = { ...before, ...change?.intake };
  for (const field of change?.unset ?? []) delete next[field];
  return next as unknown as IntakeDecisions;
}

describe('what is sent of a change', () => {
  it('takes one state to the other, whatever they are', () => {
    fc.assert(
      fc.property(decisions, decisions, (a, b) => {
        const change = changeBetween({ intake: a, steps: [] }, { intake: b });
        expect(applied(a, change)).toEqual(b);
      }),
    );
  });
  it('leaves alone what another window decided of other fields', () => {
    fc.assert(
      fc.property(decisions, fc.constantFrom('cm', 'in'), (a, unit) => {
        const change = changeBetween({ intake: a, steps: [] }, { intake: { ...a, unit } as IntakeDecisions });
        const other = { ...a, correction: 7, plane: 'flat' } as IntakeDecisions;
        expect(applied(other, change)).toEqual({ ...other, unit });
      }),
    );
  });
  it('is nothing when nothing changed, and only steps when only they did', () => {
    const steps = [{ id: 'a', step: 'shift-origin', on: true, params: {} }];
    const state = { intake: NO_DECISIONS, steps };
    expect(changeBetween(state, { intake: { ...NO_DECISIONS }, steps: [...steps] })).toBeNull();
    expect(changeBetween(state, { steps: [] })).toEqual({ steps: [] });
  });
  it('is told in words', () => {
    const shown = { intake: NO_DECISIONS, steps: [] };
    expect(differenceInWords(shown, shown)).toBe('');
    expect(differenceInWords(shown, { intake: { ...NO_DECISIONS, unit: 'cm' }, steps: [] })).toMatch(
      /Unit is now .*cm/,
    );
    expect(differenceInWords({ intake: { ...NO_DECISIONS, unit: 'cm' }, steps: [] }, shown)).toBe(
      'Unit is now undecided',
    );
    expect(differenceInWords(shown, { intake: NO_DECISIONS, steps: [{ id: 'a', step: 'join-ends', on: true, params: {} }] })).toBe('the steps are others now'); // prettier-ignore
  });
});
