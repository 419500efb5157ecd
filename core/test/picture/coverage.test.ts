import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { FillRule } from '../../src/geometry/raster/coverage.js';
import { Coverage } from '../../src/geometry/raster/coverage.js';
import type { Pen } from '../../src/geometry/raster/stroke.js';
import { dashedRuns, strokeEdges } from '../../src/geometry/raster/stroke.js';

/** What is covered of each pixel. */
function cover(size: number, rule: FillRule, draw: (c: Coverage) => void): Float64Array {
  const c = new Coverage(size, size);
  draw(c);
  const out = new Float64Array(size * size);
  c.sweep(rule, (y, from, to, part) => {
    for (let x = from; x < to; x++) out[y * size + x]! += part;
  });
  return out;
}
const sum = (a: Float64Array): number => a.reduce((n, v) => n + v, 0);
const ring = (c: Coverage, p: readonly (readonly [number, number])[]): void =>
  p.forEach(([x, y], i) => c.edge(x, y, ...p[(i + 1) % p.length]!));

/** The area of a polygon within a box, by cutting it at each side in turn (Sutherland and Hodgman). */
function areaWithin(polygon: readonly (readonly [number, number])[], size: number): number {
  let p = polygon.map(([x, y]) => [x, y] as [number, number]);
  for (const [axis, at, keepAbove] of [
    [0, 0, true],
    [0, size, false],
    [1, 0, true],
    [1, size, false],
  ] as const) {
    const inside = (q: [number, number]): boolean => (keepAbove ? q[axis] >= at : q[axis] <= at);
    p = p.flatMap((a, i) => {
      const b = p[(i + 1) % p.length]!;
      if (inside(a) && inside(b)) return [b];
      if (!inside(a) && !inside(b)) return [];
      const t = (at - a[axis]) / (b[axis] - a[axis]);
      const cut: [number, number] = [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
      return inside(b) ? [cut, b] : [cut];
    });
  }
  return Math.abs(p.reduce((s, [x, y], i) => s + x * p[(i + 1) % p.length]![1] - p[(i + 1) % p.length]![0] * y, 0) / 2);
}

describe('how far an area covers its pixels', () => {
  test('half a pixel is half covered, wherever its edge lies', () => {
    const a = cover(4, 'nonzero', (c) =>
      ring(c, [
        [1.5, 1],
        [2.25, 1],
        [2.25, 3],
        [1.5, 3],
      ]),
    );
    expect(Array.from(a.subarray(4, 8))).toEqual([0, 0.5, 0.25, 0]);
    // A diagonal leaves half of each pixel that it crosses from corner to corner.
    const d = cover(3, 'nonzero', (c) =>
      ring(c, [
        [0, 0],
        [3, 3],
        [0, 3],
      ]),
    );
    expect(Array.from(d)).toEqual([0.5, 0, 0, 1, 0.5, 0, 1, 1, 0.5]);
  });

  test('law: the parts of a convex shape add up to its area, those that lie outside left out', () => {
    const near = fc.double({ min: -20, max: 60, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(near, near),
        fc.double({ min: 3, max: 40, noNaN: true }),
        fc.integer({ min: 3, max: 9 }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.boolean(),
        ([x, y], r, n, turn, back) => {
          const p = Array.from({ length: n }, (_, i) => {
            const t = turn + ((back ? -1 : 1) * 2 * Math.PI * i) / n;
            return [x + r * Math.cos(t), y + r * Math.sin(t)] as const;
          });
          // Pixels that are covered by less than a 512th are left out: at most as many as the edges touch, which are √2 to a unit
          // of length and two at the ends of each; of a convex shape no more than 160 units lie in the window.
          const around = Math.min(160, 2 * n * r * Math.sin(Math.PI / n));
          const most = (Math.SQRT2 * around + 2 * n) / 512;
          expect(Math.abs(sum(cover(40, 'nonzero', (c) => ring(c, p))) - areaWithin(p, 40))).toBeLessThan(most);
        },
      ),
    );
  });

  test('a star that winds twice about its middle is filled there by one rule and not by the other', () => {
    const star = Array.from({ length: 5 }, (_, i) => {
      const t = (4 * Math.PI * i) / 5;
      return [20 + 18 * Math.sin(t), 20 - 18 * Math.cos(t)] as const;
    });
    const at = (rule: FillRule): number => cover(40, rule, (c) => ring(c, star))[20 * 40 + 20]!;
    expect([at('nonzero'), at('evenodd')]).toEqual([1, 0]);
    // The pentagon in the middle has a radius of 18 · cos 72° / cos 36°, and is all that differs.
    const r = (18 * Math.cos((72 * Math.PI) / 180)) / Math.cos((36 * Math.PI) / 180);
    const pentagon = 2.5 * r * r * Math.sin((72 * Math.PI) / 180);
    const [all, odd] = (['nonzero', 'evenodd'] as const).map((rule) => sum(cover(40, rule, (c) => ring(c, star))));
    // Its five corners are pixels that both cross.
    expect(Math.abs(all! - odd! - pentagon)).toBeLessThan(1);
  });
});

describe('the area that a pen draws', () => {
  const W = 4;
  const L = 20;
  const area = (points: number[], pen: Partial<Pen>, closed = false): number =>
    sum(
      cover(64, 'nonzero', (c) =>
        strokeEdges({ points, closed }, { width: W, cap: 'butt', join: 'miter', miter: 4, ...pen }, (a, b, x, y) =>
          c.edge(a, b, x, y),
        ),
      ),
    );
  const line = [10, 10, 10 + L, 10];
  const bent = [10, 10, 10 + L, 10, 10 + L, 10 + L];

  test.each([
    ['butt', L * W],
    ['square', L * W + W * W],
    ['round', L * W + Math.PI * (W / 2) ** 2],
  ] as const)('a line with %s ends', (cap, want) => expect(Math.abs(area(line, { cap }) - want)).toBeLessThan(0.1));

  test.each([
    // Two bars overlap in a square of half the width, and what stands out at the corner is that square, a part of it, or half.
    ['miter', 2 * L * W],
    ['bevel', 2 * L * W - (W / 2) ** 2 / 2],
    ['round', 2 * L * W - (W / 2) ** 2 + (Math.PI * (W / 2) ** 2) / 4],
  ] as const)('a corner that is %s', (join, want) => expect(Math.abs(area(bent, { join }) - want)).toBeLessThan(0.1));

  test('a point longer than its limit is cut off', () => {
    // A right angle is 1.414 widths long at its point.
    expect(area(bent, { miter: 1.4 })).toBeCloseTo(2 * L * W - (W / 2) ** 2 / 2, 1);
    expect(area(bent, { miter: 1.42 })).toBeCloseTo(2 * L * W, 1);
  });

  test('a closed square has four corners, and a dot is its ends alone', () => {
    const square = [10, 10, 30, 10, 30, 30, 10, 30];
    expect(area(square, {}, true)).toBeCloseTo(24 ** 2 - 16 ** 2, 1);
    expect(Math.abs(area([20, 20, 20, 20], { cap: 'round' }) - Math.PI * 4)).toBeLessThan(0.1);
    expect(area([20, 20, 20, 20], { cap: 'butt' })).toBe(0);
  });

  test('dashes run on round a corner, from wherever the pattern begins', () => {
    const runs = dashedRuns({ points: bent, closed: false }, [6, 4], 0);
    // 40 long: dashes from 0, 10, 20, 30; the one that begins at 16 … none; that of 20 to 26 lies past the corner.
    expect(runs.map((r) => r.points)).toEqual([
      [10, 10, 16, 10],
      [20, 10, 26, 10],
      [30, 10, 30, 10, 30, 16],
      [30, 20, 30, 26],
    ]);
    expect(dashedRuns({ points: line, closed: false }, [6, 4], 3).map((r) => r.points)).toEqual([
      [10, 10, 13, 10],
      [17, 10, 23, 10],
      [27, 10, 30, 10],
    ]);
    expect(dashedRuns({ points: bent, closed: false }, [25, 5], 0).map((r) => r.points)).toEqual([
      [10, 10, 30, 10, 30, 15],
      [30, 20, 30, 30],
    ]);
  });

  test('law: dashes are as long in all as their share of the line', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.5, max: 9, noNaN: true }), { minLength: 1, maxLength: 4 }),
        fc.double({ min: -30, max: 30, noNaN: true }),
        (lengths, offset) => {
          const list = lengths.length % 2 ? [...lengths, ...lengths] : lengths;
          const period = list.reduce((a, b) => a + b, 0);
          const on = list.filter((_, i) => i % 2 === 0).reduce((a, b) => a + b, 0);
          const rounds = 7;
          const runs = dashedRuns({ points: [0, 0, rounds * period, 0], closed: false }, lengths, offset);
          const total = runs.reduce((s, { points: p }) => s + p[p.length - 2]! - p[0]!, 0);
          expect(total).toBeCloseTo(rounds * on, 6);
        },
      ),
    );
  });
});
