import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PlaceGrid } from '../../src/geometry/place-grid.js';

const found = (xs: number[], ys: number[], met: number, x: number, y: number): number[] => {
  const out: number[] = [];
  new PlaceGrid(xs, ys, met).near(x, y, (i) => void out.push(i));
  return out.sort((a, b) => a - b);
};

describe('places near a point', () => {
  it('are those that a look at every one of them finds', () => {
    const coordinate = fc.integer({ min: -40, max: 40 }).map((n) => n / 8);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate), { maxLength: 60 }),
        coordinate,
        coordinate,
        fc.constantFrom(0.1, 0.25, 1, 3),
        (list, x, y, met) => {
          const [xs, ys] = [list.map((p) => p[0]), list.map((p) => p[1])];
          const all = list.flatMap(([a, b], i) => (Math.hypot(a - x, b - y) <= met ? [i] : []));
          expect(found(xs, ys, met, x, y)).toEqual(all);
        },
      ),
    );
  });
  it('far from the origin too, where cells have numbers beyond 32 bits', () => {
    expect(found([1e9, 1e9 + 1e-3, 1e9 + 1], [0, 0, 0], 1e-2, 1e9, 0)).toEqual([0, 1]);
  });
  it('so far that single cells cannot be counted: it ends', () => {
    expect(found([1e300, 5], [1e300, 5], 1, 1e300, 1e300)).toEqual([0]);
  });
  it('a distance of nothing is refused; none are found among none', () => {
    expect(() => new PlaceGrid([], [], 0)).toThrow(RangeError);
    expect(found([], [], 1, 0, 0)).toEqual([]);
  });
});

it('groups hang together step by step; the lonely are in none', () => {
  const groups = new PlaceGrid([0, 0.9, 1.8, 5, 9, 9.5], [0, 0, 0, 0, 0, 0], 1).groups();
  expect(groups.map((g) => g.sort())).toEqual([
    [0, 1, 2],
    [4, 5],
  ]);
});
