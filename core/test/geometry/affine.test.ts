import { expect, it } from 'vitest';
import fc from 'fast-check';
import {
  applyPoint,
  compose,
  inverse,
  planar,
  planarSimilarity,
  planeFrame,
  rotation,
  scaling,
  translation,
} from '../../src/geometry/affine.js';
import { dot, cross, length } from '../../src/geometry/vector.js';

const n = fc.double({ min: -100, max: 100, noNaN: true });

it('the inverse takes every point back', () => {
  fc.assert(
    fc.property(n, n, n, n, n, n, n, n, (a, b, c, d, e, f, x, y) => {
      fc.pre(Math.abs(a * d - b * c) > 1);
      const m = planar(a, b, c, d, e, f);
      const [px, py] = applyPoint(inverse(m), applyPoint(m, [x, y, 3]));
      expect(Math.hypot(px - x, py - y)).toBeLessThan(1e-6);
    }),
  );
  expect(() => inverse(scaling(0, 1, 1))).toThrow(RangeError);
});

it('composition does the inner map first', () => {
  const m = compose(translation(10, 0), rotation(Math.PI / 2));
  const [x, y] = applyPoint(m, [1, 0, 0]);
  expect(x).toBeCloseTo(10, 12);
  expect(y).toBeCloseTo(1, 12);
});

it('knows similarities from stretches', () => {
  expect(planarSimilarity(compose(rotation(0.7), scaling(3, 3, 3)))).toBeCloseTo(3, 12);
  expect(planarSimilarity(scaling(2, -2, 1))).toBe(2);
  expect(planarSimilarity(scaling(2, 3, 1))).toBeNull();
  expect(planarSimilarity(planar(1, 0, 0.5, 1, 0, 0))).toBeNull();
});

it('the arbitrary axis frame is square, right-handed and turns with its normal', () => {
  fc.assert(
    fc.property(n, n, n, (x, y, z) => {
      fc.pre(Math.hypot(x, y, z) > 1e-3);
      const m = planeFrame([x, y, z]);
      const [u, v, w] = [[m[0], m[1], m[2]], [m[3], m[4], m[5]], [m[6], m[7], m[8]]] as const; // prettier-ignore
      expect(dot(u, v)).toBeCloseTo(0, 9);
      expect(length(u)).toBeCloseTo(1, 9);
      expect(dot(cross(u, v), w)).toBeCloseTo(1, 9);
      expect(dot(w, [x, y, z])).toBeCloseTo(Math.hypot(x, y, z), 6);
    }),
  );
  // DXF reference: for N = (0, 0, −1) the x axis is Y × N = (−1, 0, 0).
  expect(
    planeFrame([0, 0, -1])
      .slice(0, 3)
      .map((v) => v + 0),
  ).toEqual([-1, 0, 0]);
  // For N = (1, 0, 0): Z × N = (0, 1, 0).
  expect(
    planeFrame([1, 0, 0])
      .slice(0, 3)
      .map((v) => v + 0),
  ).toEqual([0, 1, 0]);
});
