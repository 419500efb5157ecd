import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isFullTurn, isParallel, isPerpendicular, isSame, partsOfSweep } from '../../src/geometry/tolerance.js';

const TAU = 2 * Math.PI;
const size = fc.double({ min: 1e-6, max: 1e6, noNaN: true });
const angle = fc.double({ min: -TAU, max: TAU, noNaN: true });

describe('how near is near', () => {
  it('numbers are the same to twelve digits, whatever their size and sign', () => {
    fc.assert(
      fc.property(size, fc.boolean(), (v, minus) => {
        const n = minus ? -v : v;
        expect(isSame(n, n * (1 + 4e-13))).toBe(true);
        expect(isSame(n, n * (1 + 4e-12))).toBe(false);
        expect(isSame(n, -n)).toBe(false);
      }),
    );
    expect([isSame(0, 0), isSame(0, 1e-300)]).toEqual([true, false]);
  });

  it('a full turn either way, and nothing else', () => {
    for (const t of [TAU, -TAU, TAU + 1e-10]) expect(isFullTurn(t)).toBe(true);
    for (const t of [0, Math.PI, TAU + 1e-8, 2 * TAU, -TAU + 1e-8]) expect(isFullTurn(t)).toBe(false);
  });

  it('a sweep falls into as few parts as none is larger than allowed, by rounding at most', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-3, max: TAU, noNaN: true }), fc.integer({ min: 1, max: 64 }), (most, n) => {
        // A whole number of the largest parts is not cut once more for a last digit.
        expect(partsOfSweep(n * most, most)).toBe(n);
        expect(partsOfSweep(-n * most * (1 + 1e-13), most)).toBe(n);
        expect(partsOfSweep((n - 0.5) * most, most)).toBe(n);
      }),
    );
    expect(partsOfSweep(0, 1)).toBe(1);
  });

  it('parallel and square hold for any length and either sense, and a thousandth of a degree is seen', () => {
    fc.assert(
      fc.property(angle, size, size, (a, k, l) => {
        const [ux, uy] = [k * Math.cos(a), k * Math.sin(a)];
        const at = (turn: number): [number, number] => [l * Math.cos(a + turn), l * Math.sin(a + turn)];
        for (const turn of [0, Math.PI]) expect(isParallel(ux, uy, ...at(turn))).toBe(true);
        for (const turn of [Math.PI / 2, -Math.PI / 2]) expect(isPerpendicular(ux, uy, ...at(turn))).toBe(true);
        const little = Math.PI / 180_000;
        expect(isParallel(ux, uy, ...at(little))).toBe(false);
        expect(isPerpendicular(ux, uy, ...at(Math.PI / 2 - little))).toBe(false);
      }),
    );
    // What has no length runs along everything.
    expect([isParallel(0, 0, 1, 2), isPerpendicular(3, 4, 0, 0)]).toEqual([true, true]);
  });
});
