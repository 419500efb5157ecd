import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { addPiecesBounds, pieceLength } from '../../src/geometry/bezier-piece.js';
import { Box2 } from '../../src/geometry/box.js';
import type { Nurbs } from '../../src/geometry/nurbs.js';
import { bezierPieces, breakpoints, evaluate } from '../../src/geometry/nurbs.js';
import { integrate } from '../../src/geometry/quadrature.js';

/** Counts how often a function is asked. */
function counted(f: (t: number) => number): { f: (t: number) => number; asked: () => number } {
  let n = 0;
  return { f: (t) => (n++, f(t)), asked: () => n };
}

describe('integrals', () => {
  it('have the values known in closed form', () => {
    expect(integrate(Math.sin, 0, Math.PI)).toBeCloseTo(2, 13);
    expect(integrate((t) => 1 / (1 + t * t), 0, 1)).toBeCloseTo(Math.PI / 4, 13);
    // A cusp: ∫√|t| from -1 to 1 is 4/3.
    expect(integrate((t) => Math.sqrt(Math.abs(t)), -1, 1)).toBeCloseTo(4 / 3, 9);
  });
  it('end soon where there is nothing to agree on: no numbers, infinities, jumps, noise', () => {
    let seed = 1;
    const noise = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
    for (const f of [
      () => NaN,
      () => Infinity,
      (t: number) => (t < 0.3 ? 1e300 : -1e300),
      (t: number) => 1 + 1e-3 * noise() * t,
      (t: number) => (t === 0.5 ? NaN : 1),
    ]) {
      const c = counted(f);
      integrate(c.f, 0, 1);
      expect(c.asked()).toBeLessThan(30_000);
    }
  });
  it('stop at the noise of the numbers they are made of', () => {
    // A speed of 1e-17 beside coordinates of 100: below what a double of that size can say.
    let seed = 1;
    const c = counted(() => 1e-17 * ((seed = (seed * 48271) % 2147483647) / 2147483647));
    integrate(c.f, 0, 1, 1e-13);
    expect(c.asked()).toBeLessThan(100);
  });
});

/** Clamped curves of any degree with knots that are anyhow uneven, some of them repeated. */
const curves = fc
  .record({
    degree: fc.integer({ min: 1, max: 5 }),
    points: fc.array(
      fc.tuple(fc.double({ min: -100, max: 100, noNaN: true }), fc.double({ min: -100, max: 100, noNaN: true })),
      { minLength: 6, maxLength: 12 },
    ),
    steps: fc.array(fc.constantFrom(0, 0, 1, 0.25, 7), { minLength: 12, maxLength: 12 }),
    weights: fc.option(fc.array(fc.double({ min: 0.2, max: 5, noNaN: true }), { minLength: 12, maxLength: 12 }), {
      nil: undefined,
    }),
  })
  .map(({ degree, points, steps, weights }): Nurbs => {
    const n = points.length;
    const knots = new Array<number>(degree + 1).fill(0);
    // The first step is above zero, so that there is a range; none repeats more often than the degree.
    let [u, repeated] = [1, 1];
    for (let i = 0; i < n - degree - 1; i++) {
      const step = repeated >= degree ? 1 : steps[i]!;
      repeated = step === 0 ? repeated + 1 : 1;
      u += step;
      knots.push(u);
    }
    for (let i = 0; i <= degree; i++) knots.push(u + 1);
    return {
      degree,
      knots: Float64Array.from(knots),
      points: Float64Array.from(points.flatMap(([x, y]) => [x, y, 0])),
      ...(weights && { weights: Float64Array.from(weights.slice(0, n)) }),
    };
  });

describe('a curve in Bézier pieces', () => {
  it('is the curve: the same points at the same parameters', () => {
    fc.assert(
      fc.property(curves, fc.double({ min: 0, max: 1, noNaN: true }), (c, t) => {
        const breaks = breakpoints(c);
        const pieces = bezierPieces(c);
        expect(pieces.length).toBe(breaks.length - 1);
        pieces.forEach((h, i) => {
          const p = [0, 0, 0];
          evaluate(c, breaks[i]! + t * (breaks[i + 1]! - breaks[i]!), p);
          const q = at(h, t);
          expect(Math.hypot(p[0]! - q[0], p[1]! - q[1])).toBeLessThan(1e-9);
        });
      }),
      { numRuns: 200 },
    );
  });
  it('reaches as far as it turns near one end, where the other end lies as far out', () => {
    // x = 3(1−t)²t·a + 3(1−t)t²·b dips to −a²/(4(b−…)) near 0; its ends are both 0.
    const h = Float64Array.of(0, 0, 0, 1, -0.01, 1, 0, 1, 1, 2, 0, 1, 0, 3, 0, 1);
    const box = new Box2();
    addPiecesBounds([h], box);
    let least = 0;
    for (let k = 0; k <= 100_000; k++) least = Math.min(least, at(h, k / 100_000)[0]);
    expect(least).toBeLessThan(-7e-5);
    expect(box.minX).toBeCloseTo(least, 9);
  });
  it('reaches as far as its points do, no further, and is as long as many chords come to', () => {
    fc.assert(
      fc.property(curves, (c) => {
        const box = new Box2();
        const pieces = bezierPieces(c);
        addPiecesBounds(pieces, box);
        const seen = new Box2();
        let [chords, longest] = [0, 0];
        for (const h of pieces) {
          let from = at(h, 0);
          for (let k = 0; k <= 400; k++) {
            const to = at(h, k / 400);
            seen.add(...to);
            const step = Math.hypot(to[0] - from[0], to[1] - from[1]);
            chords += step;
            longest = Math.max(longest, step);
            from = to;
          }
        }
        for (const [a, b] of [
          [box.minX, seen.minX],
          [box.minY, seen.minY],
          [-box.maxX, -seen.maxX],
          [-box.maxY, -seen.maxY],
        ] as const) {
          expect(a).toBeLessThanOrEqual(b + 1e-9);
          // Nothing of the curve lies further from a point that was looked at than the longest step between two.
          expect(b - a).toBeLessThan(longest + 1e-9);
        }
        const length = pieces.reduce((sum, h) => sum + pieceLength(h, 1e-13), 0);
        expect(length).toBeGreaterThanOrEqual(chords * (1 - 1e-8) - 1e-9);
        expect(length - chords).toBeLessThanOrEqual(longest + chords * 1e-2);
      }),
      { numRuns: 100 },
    );
  });
});

/** De Casteljau, plainly, in the plane. */
function at(h: Float64Array, t: number): [number, number] {
  let d = Array.from({ length: h.length / 4 }, (_, i) => [h[4 * i]!, h[4 * i + 1]!, h[4 * i + 3]!]);
  while (d.length > 1) d = d.slice(1).map((p, i) => p.map((v, k) => (1 - t) * d[i]![k]! + t * v));
  const [x, y, w] = d[0]!;
  return [x! / w!, y! / w!];
}
