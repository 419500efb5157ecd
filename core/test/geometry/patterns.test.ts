import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bulgeThrough, fitArcs } from '../../src/geometry/arc-fit.js';
import { draftingDashes, lengthDashes } from '../../src/geometry/dashes.js';
import { derivative, evaluate } from '../../src/geometry/nurbs.js';
import { patternFill } from '../../src/geometry/pattern-fill.js';

const square = (x: number, y: number, s: number): number[] => [x, y, x + s, y, x + s, y + s, x, y + s];
const lines = (angle: number, gap: number, dashes: number[] = [], base: [number, number] = [0, 0]) => ({
  angle,
  base,
  step: [-Math.sin(angle) * gap, Math.cos(angle) * gap] as const,
  dashes,
});
const totalOf = (s: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < s.length; i += 4) sum += Math.hypot(s[i + 2]! - s[i]!, s[i + 3]! - s[i + 1]!);
  return sum;
};

describe('the lines of a hatch pattern', () => {
  it('lie at their distance and end at the boundary', () => {
    const { segments } = patternFill([square(0.5, 0.5, 10)], [lines(0, 2)]);
    // y = 2, 4, 6, 8, 10, each 10 long.
    expect(segments.length / 4).toBe(5);
    expect(Array.from(segments.slice(0, 4))).toEqual([0.5, 2, 10.5, 2]);
  });
  it('a line that runs along an edge is drawn on one side of the shape, wherever that lies', () => {
    // The same plate of 9 × 6 with lines every 3, moved: 0, 3 and 6 upwards, of which the last runs along its upper edge.
    fc.assert(
      fc.property(
        fc.double({ min: -1e5, max: 1e5, noNaN: true }),
        fc.double({ min: -1e5, max: 1e5, noNaN: true }),
        (x, y) => {
          const plate = [x, y, x + 9, y, x + 9, y + 6, x, y + 6];
          const { segments } = patternFill([plate], [lines(0, 3, [], [x, y]), lines(Math.PI / 2, 3, [], [x, y])]);
          expect(segments.length / 4).toBe(2 + 3);
        },
      ),
    );
  });
  it('leave islands out', () => {
    const { segments } = patternFill([square(0, 0, 10), square(2, 2, 6)], [lines(0, 1, [], [0, 0.5])]);
    expect(totalOf(segments)).toBeCloseTo(10 * 10 - 6 * 6, 9);
  });
  it('total length times distance is the area, whatever the angle', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 179 }), fc.integer({ min: 3, max: 9 }), (degrees, s) => {
        const gap = 0.01;
        const { segments } = patternFill([square(-3, 1, s)], [lines((degrees * Math.PI) / 180, gap)]);
        expect(Math.abs(totalOf(segments) * gap - s * s)).toBeLessThan(0.02 * s * s);
      }),
      { numRuns: 25 },
    );
  });
  it('dashes stay in phase with the base point from line to line', () => {
    const family = { angle: 0, base: [0, 0] as const, step: [1, 1] as const, dashes: [2, -2] };
    const { segments } = patternFill([square(0, 0.5, 8)], [family]);
    // On y = 1 the pattern starts at x = 1: dashes 1 to 3, 5 to 7, and the end of the one before, -3 to -1, is outside.
    const first = Array.from({ length: segments.length / 4 }, (_, i) =>
      Array.from(segments.slice(4 * i, 4 * i + 4)),
    ).filter((s) => s[1] === 1);
    expect(first.map((s) => [s[0], s[2]])).toEqual([
      [1, 3],
      [5, 7],
    ]);
  });
  it('a dot is a dash of no length', () => {
    const { segments } = patternFill([square(0, -0.5, 4)], [{ ...lines(0, 10), dashes: [0, -1] }]);
    expect(Array.from(segments).filter((_, i) => i % 4 === 0)).toEqual([0, 1, 2, 3]);
  });
  it('absurdly dense ones are cut short and say so', () => {
    const made = patternFill([square(0, 0, 1e6)], [lines(0.3, 1e-6)]);
    expect(made.tooDense).toBe(true);
    expect(made.segments.length).toBeLessThan(5e5);
    expect(patternFill([square(0, 0, 1e4)], [lines(0, 1, [1e-3, -1e-3])]).tooDense).toBe(true);
  });
  it('a family without distance is one line', () => {
    const { segments } = patternFill([square(-1, -1, 2)], [{ angle: 0, base: [0, 0], step: [0, 0], dashes: [] }]);
    expect(Array.from(segments)).toEqual([-1, 0, 1, 0]);
  });
});

describe('dashes along a line', () => {
  const pieces = (fn: (put: (a: number, b: number, c: number, d: number) => void) => void): number[][] => {
    const out: number[][] = [];
    fn((a, b, c, d) => out.push([a, b, c, d]));
    return out;
  };
  const straight = (l: number): number[] => [0, 0, l, 0];
  it('begin and end with equal dashes at least half as long as the first', () => {
    fc.assert(
      fc.property(fc.integer({ min: 100, max: 9999 }), (tenth) => {
        const l = tenth / 10;
        const out = pieces((put) => draftingDashes(straight(l), [5, -2, 0, -2], 1e4, put));
        const long = out.filter((p) => p[2]! > p[0]!);
        expect(long[0]![0]).toBe(0);
        expect(long[long.length - 1]![2]).toBeCloseTo(l, 9);
        const [first, last] = [long[0]![2]!, l - long[long.length - 1]![0]!];
        expect(first).toBeCloseTo(last, 9);
        expect(first).toBeGreaterThanOrEqual(2.5 - 1e-9);
        for (const p of long.slice(1, -1)) expect(p[2]! - p[0]!).toBeCloseTo(5, 9);
      }),
    );
  });
  it('a line shorter than one round stays whole', () => {
    expect(pieces((put) => draftingDashes(straight(8), [5, -5], 1e4, put))).toEqual([[0, 0, 8, 0]]);
  });
  it('too many stay whole', () => {
    expect(pieces((put) => draftingDashes(straight(1e9), [1, -1], 1e4, put))).toEqual([[0, 0, 1e9, 0]]);
  });
  it('go round corners', () => {
    const out = pieces((put) => lengthDashes([0, 0, 3, 0, 3, 3], [2, 2], 0, 1e4, put));
    expect(out).toEqual([
      [0, 0, 2, 0],
      [3, 1, 3, 3],
    ]);
  });
  it('an offset starts within the pattern, an odd list is repeated', () => {
    expect(pieces((put) => lengthDashes(straight(6), [2, 1], 1, 1e4, put))).toEqual([
      [0, 0, 1, 0],
      [2, 0, 4, 0],
      [5, 0, 6, 0],
    ]);
    expect(pieces((put) => lengthDashes(straight(6), [2], 0, 1e4, put))).toEqual([
      [0, 0, 2, 0],
      [4, 0, 6, 0],
    ]);
  });
});

describe('arcs through a curve', () => {
  it('a half circle through its top has bulge 1', () => {
    expect(bulgeThrough([1, 0], [0, 1], [-1, 0])).toBeCloseTo(1, 12);
    expect(bulgeThrough([1, 0], [0, -1], [-1, 0])).toBeCloseTo(-1, 12);
    expect(bulgeThrough([0, 0], [1, 0], [2, 0])).toBe(0);
  });
  it('a circle is met exactly, an ellipse within the tolerance', () => {
    const circle = fitArcs((t) => [3 * Math.cos(t), 3 * Math.sin(t)], 0, 1.5, 1e-9);
    expect(circle.vertices.length).toBe(2);
    expect(circle.vertices[0]!.bulge).toBeCloseTo(Math.tan(1.5 / 4), 12);
    const ellipse = fitArcs((t) => [5 * Math.cos(t), 2 * Math.sin(t)], 0, Math.PI / 2, 1e-4);
    expect(ellipse.deviation).toBeLessThanOrEqual(1e-4);
    expect(ellipse.vertices.length).toBeLessThan(40);
  });
});

describe('the derivative of a spline', () => {
  it('is what small steps show, weights and all', () => {
    const curve = {
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 2, 2, 2, 2),
      points: Float64Array.of(0, 0, 0, 1, 4, 1, 3, 5, 2, 6, 1, 0, 7, 0, 1),
      weights: Float64Array.of(1, 2, 0.5, 1, 1),
    };
    for (const u of [0.1, 0.5, 0.999, 1.3, 1.9]) {
      const [a, b, d] = [
        [0, 0, 0],
        [0, 0, 0],
        [0, 0, 0],
      ] as number[][];
      const h = 1e-6;
      evaluate(curve, u - h, a!);
      evaluate(curve, u + h, b!);
      derivative(curve, u, d!);
      for (let i = 0; i < 3; i++) expect(Math.abs(d![i]! - (b![i]! - a![i]!) / (2 * h))).toBeLessThan(1e-7);
    }
  });
});
