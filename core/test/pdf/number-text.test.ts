import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { numberText } from '../../src/formats/pdf/objects.js';

describe('a number of a PDF', () => {
  it('is the nearest of so many decimals, in the fewest digits, never with an exponent or a minus before nothing', () => {
    const size = fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.integer({ min: -8, max: 14 }));
    fc.assert(
      fc.property(size, fc.integer({ min: 0, max: 10 }), ([v, tens], decimals) => {
        const value = v * 10 ** tens;
        const text = numberText(value, decimals);
        expect(text).toMatch(/^(0|-?(0|[1-9]\d*)(\.\d*[1-9])?)$/);
        expect(/\.(\d+)/.exec(text)?.[1]?.length ?? 0).toBeLessThanOrEqual(decimals);
        // Half a step, and what a double itself cannot say.
        expect(Math.abs(Number(text) - value)).toBeLessThanOrEqual(0.5 / 10 ** decimals + Math.abs(value) * 3e-16);
      }),
      { numRuns: 2000 },
    );
  });
  it('of known ones is as written by hand', () => {
    const hand: [number, string][] = [
      [0, '0'],
      [-0, '0'],
      [-0.000004, '0'],
      [0.000005, '0.00001'],
      [-0.5, '-0.5'],
      [595.2755905511812, '595.27559'],
      [1.1, '1.1'],
      [100, '100'],
      [1234567.000019, '1234567.00002'],
      [0.30000000000000004, '0.3'],
      [-99.999999, '-100'],
      [123456789012345, '123456789012345'],
    ];
    for (const [v, text] of hand) expect(numberText(v), String(v)).toBe(text);
    expect(numberText(2.5, 0)).toBe('3');
    expect(() => numberText(NaN)).toThrow();
    expect(() => numberText(Infinity)).toThrow();
  });
});
