import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Flattener } from '../../src/drawing/flatten.js';
import type { Nurbs } from '../../src/geometry/nurbs.js';
import { domain, evaluate } from '../../src/geometry/nurbs.js';

/** The chords of a curve, as x, y, z of their ends in turn. */
function chordsOf(draw: (f: Flattener) => void, tolerance: number): number[][] {
  const points: number[][] = [];
  const take = (...p: number[]): void => void points.push(p);
  draw(new Flattener({ moveTo: take, lineTo: take }, tolerance));
  return points;
}

/** How far a place is from the nearest of the chords, worked out for each of them. */
function toChords(p: readonly number[], chords: readonly number[][]): number {
  let least = Infinity;
  for (let i = 1; i < chords.length; i++) {
    const [a, b] = [chords[i - 1]!, chords[i]!];
    const along = [0, 1, 2].map((k) => b[k]! - a[k]!);
    const whole = along.reduce((s, v) => s + v * v, 0);
    const t = whole === 0 ? 0 : along.reduce((s, v, k) => s + v * (p[k]! - a[k]!), 0) / whole;
    const at = Math.min(1, Math.max(0, t));
    least = Math.min(least, Math.hypot(...[0, 1, 2].map((k) => p[k]! - a[k]! - at * along[k]!)));
  }
  return least;
}

const spline = (points: number[], degree = 3, weights?: number[]): Nurbs => {
  const n = points.length / 3;
  const inner = Array.from({ length: n - degree - 1 }, (_, i) => i + 1);
  const knots = [...Array<number>(degree + 1).fill(0), ...inner, ...Array<number>(degree + 1).fill(inner.length + 1)];
  return { degree, knots, points: Float64Array.from(points), ...(weights && { weights }) } as unknown as Nurbs;
};

/** The largest distance between a curve, at so many places, and its chords. */
function off(curve: Nurbs, tolerance: number, places = 4000): number {
  const chords = chordsOf((f) => f.nurbs(curve), tolerance);
  const [from, to] = domain(curve);
  const p = [0, 0, 0];
  let most = 0;
  for (let i = 0; i <= places; i++) {
    evaluate(curve, from + ((to - from) * i) / places, p);
    most = Math.max(most, toChords(p, chords));
  }
  return most;
}

describe('curves as chords', () => {
  it('follow a hairpin between places that lie on the chord', () => {
    // It turns back within a hundredth of its parameter: a quarter, half and three quarters of the way lie on one line.
    const hairpin = spline([-9.625, -0.2, 0, 0.175, -0.15, 0, 8.95, -0.25, 0, -99.8, -0.075, 0]);
    for (const tolerance of [0.1, 0.01, 0.001]) expect(off(hairpin, tolerance, 20_000)).toBeLessThanOrEqual(tolerance);
  });

  it('are nowhere further from a spline than the tolerance, whatever its degree and its weights', () => {
    const n = fc.integer({ min: -400, max: 400 }).map((v) => v / 4);
    const curve = fc
      .record({
        degree: fc.integer({ min: 2, max: 5 }),
        more: fc.integer({ min: 1, max: 5 }),
        points: fc.array(fc.tuple(n, n, n), { minLength: 12, maxLength: 12 }),
        weights: fc.option(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 12, maxLength: 12 })),
      })
      .map(({ degree, more, points, weights }) => {
        const own = points.slice(0, degree + more);
        return spline(
          own.flat(),
          degree,
          weights?.slice(0, own.length).map((w) => w / 8),
        );
      });
    fc.assert(
      fc.property(curve, fc.constantFrom(1, 0.1), (c, tolerance) => {
        expect(off(c, tolerance, 600)).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
      }),
    );
  });

  it('end where the curve ends, and a spline of degree one is its own points', () => {
    const straight = spline([0, 0, 0, 5, 1, 0, 7, -3, 2], 1);
    expect(chordsOf((f) => f.nurbs(straight), 0.01)).toEqual([
      [0, 0, 0],
      [5, 1, 0],
      [7, -3, 2],
    ]);
  });
});
