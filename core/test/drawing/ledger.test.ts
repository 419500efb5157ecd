import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Ledger } from '../../src/index.js';

const entry = { carryOver: 'curves', action: 'approximated', reason: 'circles became chords' } as const;

describe('rows of the ledger', () => {
  it('keep the largest deviation of all that say the same, in whatever order it comes', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 1 }), (values) => {
        const ledger = new Ledger('write');
        for (const value of values) ledger.add({ ...entry, deviation: { value, unit: 'mm' } });
        expect(ledger.rows).toHaveLength(1);
        expect(ledger.rows[0]!.deviation).toEqual({ value: Math.max(...values), unit: 'mm' });
      }),
    );
  });
  it('know that a hundredth of a metre is more than nine millimetres, and less than half an inch', () => {
    const ledger = new Ledger('write');
    const told = (value: number, unit: string): unknown => {
      ledger.add({ ...entry, deviation: { value, unit } });
      return ledger.rows[0]!.deviation;
    };
    expect(told(9, 'mm')).toEqual({ value: 9, unit: 'mm' });
    expect(told(0.01, 'm')).toEqual({ value: 0.01, unit: 'm' });
    expect(told(9.9, 'mm')).toEqual({ value: 0.01, unit: 'm' });
    expect(told(0.5, 'in')).toEqual({ value: 0.5, unit: 'in' });
  });
  it('count what they stand for, with ids as ranges', () => {
    const ledger = new Ledger('write');
    for (const id of [1, 2, 3, 7, 8, 12]) ledger.add({ ...entry, id });
    expect(ledger.rows[0]).toMatchObject({ count: 6, ids: [[1, 3], [7, 8], [12, 12]] }); // prettier-ignore
  });
});
