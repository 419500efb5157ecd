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

const angle = fc.double({ min: -4, max: 4, noNaN: true });
const stretch = fc
  .tuple(fc.double({ min: 0.1, max: 100, noNaN: true }), fc.boolean())
  .map(([v, minus]) => (minus ? -v : v));

/** Any map of the plane that flattens nothing: a turn, two stretches, another turn (its singular values), and a shift. */
const flattensNothing = fc
  .tuple(angle, stretch, stretch, angle, n, n)
  .map(([a, p, q, b, x, y]) =>
    compose(translation(x, y), compose(rotation(a), compose(scaling(p, q, 1), rotation(b)))),
  );

/** Directions of any length from a thousandth on, evenly about the ball. */
const normals = fc
  .tuple(
    fc.double({ min: -Math.PI, max: Math.PI, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: 1e-3, max: 170, noNaN: true }),
  )
  .map(([turn, z, long]): [number, number, number] => [
    long * Math.sqrt(1 - z * z) * Math.cos(turn),
    long * Math.sqrt(1 - z * z) * Math.sin(turn),
    long * z,
  ]);

it('the inverse takes every point back', () => {
  fc.assert(
    fc.property(flattensNothing, n, n, (m, x, y) => {
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
    fc.property(normals, ([x, y, z]) => {
      const m = planeFrame([x, y, z]);
      const [u, v, w] = [
        [m[0], m[1], m[2]],
        [m[3], m[4], m[5]],
        [m[6], m[7], m[8]],
      ] as const;
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
