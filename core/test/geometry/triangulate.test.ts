import { expect, it } from 'vitest';
import { triangulate } from '../../src/geometry/triangulate.js';

const area = (t: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < t.length; i += 6) {
    sum += Math.abs((t[i + 2]! - t[i]!) * (t[i + 5]! - t[i + 1]!) - (t[i + 4]! - t[i]!) * (t[i + 3]! - t[i + 1]!)) / 2;
  }
  return sum;
};
const square = (x: number, y: number, s: number): number[] => [x, y, x + s, y, x + s, y + s, x, y + s];

it('a hole is left out by the odd-even rule, and filled by the nonzero rule when it turns alike', () => {
  expect(area(triangulate([square(0, 0, 10), square(2, 2, 4)], 'evenodd'))).toBeCloseTo(84, 4);
  expect(area(triangulate([square(0, 0, 10), square(2, 2, 4)], 'nonzero'))).toBeCloseTo(100, 4);
  const turned = [2, 2, 2, 6, 6, 6, 6, 2];
  expect(area(triangulate([square(0, 0, 10), turned], 'nonzero'))).toBeCloseTo(84, 4);
});

it('a bow tie has the area of its two triangles', () => {
  expect(area(triangulate([[0, 0, 10, 10, 10, 0, 0, 10]], 'evenodd'))).toBeCloseTo(50, 3);
});

it('an island in a hole is filled', () => {
  expect(area(triangulate([square(0, 0, 10), square(1, 1, 8), square(4, 4, 2)], 'evenodd'))).toBeCloseTo(
    100 - 64 + 4,
    4,
  );
});

it('nothing comes of nothing', () => {
  expect(triangulate([[1, 1, 2, 2]], 'nonzero').length).toBe(0);
  expect(triangulate([[5, 5, 5, 5, 5, 5]], 'nonzero').length).toBe(0);
});
