import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { NearestPlaces } from '../../src/geometry/nearest-places.js';

/** The same by looking at every place. */
function byHand(xs: Float64Array, ys: Float64Array, i: number, apart: number, reach: number): number {
  let best = Infinity;
  let found = -1;
  for (let j = 0; j < xs.length; j++) {
    // Squares of whole numbers are exact, so that equally near is equal; their roots need not be.
    const d = (xs[j]! - xs[i]!) ** 2 + (ys[j]! - ys[i]!) ** 2;
    if (j === i || d <= apart ** 2 || d > reach ** 2 || d >= best) continue;
    best = d;
    found = j;
  }
  return found;
}
const places = (list: readonly (readonly [number, number])[]): [Float64Array, Float64Array] => [
  Float64Array.from(list, (p) => p[0]),
  Float64Array.from(list, (p) => p[1]),
];

describe('the nearest of many places', () => {
  it('is what looking at each of them finds, however they lie', () => {
    // Whole numbers on a small field, so that many are equally near and some coincide; and a stray far off.
    const n = fc.integer({ min: 0, max: 12 });
    const field = fc.array(fc.tuple(n, n), { minLength: 1, maxLength: 80 });
    fc.assert(
      fc.property(
        field,
        fc.boolean(),
        fc.double({ min: 0, max: 2, noNaN: true }),
        fc.double({ min: 0.5, max: 30, noNaN: true }),
        (list, stray, apart, reach) => {
          const [xs, ys] = places(stray ? [...list, [1e6, -3e5]] : list);
          const index = new NearestPlaces(xs, ys);
          for (let i = 0; i < xs.length; i++)
            expect(index.nearestTo(i, apart, reach)).toBe(byHand(xs, ys, i, apart, reach));
        },
      ),
    );
  });
  it('is found among thousands in a crowd beside a stray, and in a row', () => {
    const crowd = Array.from({ length: 3000 }, (_, i) => [Math.sin(i) * 2, Math.cos(i * 1.7) * 2] as const);
    for (const list of [[...crowd, [1e9, 1e9] as const], crowd.map(([x]) => [x, 7] as const)]) {
      const [xs, ys] = places(list);
      const index = new NearestPlaces(xs, ys);
      for (let i = 0; i < xs.length; i += 97) {
        const [got, want] = [index.nearestTo(i, 1e-9, 1), byHand(xs, ys, i, 1e-9, 1)];
        const away = (j: number): number => (j < 0 ? -1 : Math.hypot(xs[j]! - xs[i]!, ys[j]! - ys[i]!));
        expect(away(got)).toBe(away(want));
      }
    }
  });
  it('of one place, or of none near enough, is none', () => {
    expect(new NearestPlaces(...places([[5, 5]])).nearestTo(0, 0, 100)).toBe(-1);
    const index = new NearestPlaces(
      ...places([
        [0, 0],
        [3, 4],
      ]),
    );
    expect([index.nearestTo(0, 0, 4.9), index.nearestTo(0, 0, 5), index.nearestTo(0, 5, 9)]).toEqual([-1, 1, -1]);
  });
});
