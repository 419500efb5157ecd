import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { bezierPieces, breakpoints, evaluate, nurbsFault } from '../../src/geometry/nurbs.js';
import { interpolate } from '../../src/geometry/interpolate.js';

const at = (c: Parameters<typeof evaluate>[0], u: number): number[] => {
  const p = [0, 0, 0];
  evaluate(c, u, p);
  return p;
};

/** A quarter of the unit circle as a rational quadratic (The NURBS Book, example 7.1). */
const quarter = {
  degree: 2,
  knots: Float64Array.of(0, 0, 0, 1, 1, 1),
  points: Float64Array.of(1, 0, 0, 1, 1, 0, 0, 1, 0),
  weights: Float64Array.of(1, Math.SQRT1_2, 1),
};

describe('evaluation', () => {
  it('of the rational quarter circle stays on the circle', () => {
    for (let i = 0; i <= 20; i++) {
      const [x, y] = at(quarter, i / 20);
      expect(Math.hypot(x!, y!)).toBeCloseTo(1, 14);
    }
    expect(at(quarter, 0.5)[0]).toBeCloseTo(Math.SQRT1_2, 14);
  });
  it('of a cubic without inner knots is the Bézier curve', () => {
    const c = {
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
      points: Float64Array.of(0, 0, 0, 1, 4, 0, 3, 4, 0, 5, 0, 0),
    };
    // (P0 + 3P1 + 3P2 + P3) / 8
    expect(at(c, 0.5)).toEqual([17 / 8, 3, 0]);
  });
});

describe('Bézier pieces', () => {
  it('meet the curve at every parameter', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5 }),
        fc.array(
          fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })),
          { minLength: 6, maxLength: 10 },
        ),
        fc.boolean(),
        (degree, pts, clamped) => {
          const n = pts.length;
          const knots = Float64Array.from({ length: n + degree + 1 }, (_, i) =>
            clamped ? Math.max(0, Math.min(n - degree, i - degree)) : i,
          );
          const c = { degree, knots, points: Float64Array.from(pts.flatMap(([x, y]) => [x, y, 0])) };
          expect(nurbsFault(c)).toBeNull();
          const breaks = breakpoints(c);
          const pieces = bezierPieces(c);
          expect(pieces.length).toBe(breaks.length - 1);
          pieces.forEach((h, i) => {
            for (const t of [0, 0.3, 1]) {
              const piece = {
                degree,
                knots: Float64Array.from({ length: 2 * degree + 2 }, (_, k) => (k <= degree ? 0 : 1)),
                points: Float64Array.from(
                  Array.from({ length: degree + 1 }, (_, k) => [
                    h[4 * k]! / h[4 * k + 3]!,
                    h[4 * k + 1]! / h[4 * k + 3]!,
                    0,
                  ]).flat(),
                ),
              };
              const u = breaks[i]! + t * (breaks[i + 1]! - breaks[i]!);
              const [x, y] = at(c, u);
              const [px, py] = at(piece, t);
              expect(Math.hypot(x! - px!, y! - py!)).toBeLessThan(1e-9);
            }
          });
        },
      ),
      { numRuns: 60 },
    );
  });
});

it('tells what is wrong with a curve', () => {
  expect(nurbsFault({ ...quarter, knots: Float64Array.of(0, 0, 1, 1) })).toMatch(/knots/);
  expect(nurbsFault({ ...quarter, knots: Float64Array.of(0, 0, 1, 0, 1, 1) })).toMatch(/decrease/);
  expect(nurbsFault({ ...quarter, degree: 0 })).toMatch(/degree/);
  expect(nurbsFault({ ...quarter, knots: Float64Array.of(1, 1, 1, 1, 1, 1) })).toMatch(/empty/);
});

describe('interpolation', () => {
  it('passes through its points and is straight through points in line', () => {
    const fit = Float64Array.of(0, 0, 0, 1, 1, 0, 4, 4, 0);
    const c = interpolate(fit)!;
    expect(nurbsFault(c)).toBeNull();
    const breaks = breakpoints(c);
    expect(at(c, breaks[1]!)).toEqual([1, 1, 0]);
    const [x, y] = at(c, 0.4 * breaks[2]!);
    expect(x).toBeCloseTo(y!, 12);
  });
  it('takes the given end direction', () => {
    const c = interpolate(Float64Array.of(0, 0, 0, 10, 0, 0), [0, 2, 0])!;
    // The second control point lies straight above the first.
    expect(c.points[3]).toBeCloseTo(0, 12);
    expect(c.points[4]).toBeGreaterThan(0);
  });
  it('has nothing to draw through a single point', () => {
    expect(interpolate(Float64Array.of(1, 1, 0, 1, 1, 0))).toBeNull();
  });
});
