import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PicturePlace } from '../../src/index.js';
import {
  placedByCorners,
  placedByDistance,
  placedByPairs,
  placedBySize,
  placedByWorldFile,
  sizeOfPlace,
} from '../../src/index.js';

const scan: readonly [number, number] = [3508, 2480];
const p = (x: number, y: number) => ({ x, y });
const near = (a: { x: number; y: number }, b: { x: number; y: number }, within = 9): void => {
  expect(a.x).toBeCloseTo(b.x, within);
  expect(a.y).toBeCloseTo(b.y, within);
};

describe('where a picture lies', () => {
  it('two points 1181.1 px apart that are 100 mm apart make an A4 of 3508 × 2480 px', () => {
    const before = placedBySize(p(0, 0), scan, 1);
    const made = placedByDistance(before, p(500, 700), p(500 + 1181.1, 700), 100)!;
    const { perPixel, size } = sizeOfPlace(made, scan);
    expect(perPixel[0]).toBeCloseTo(0.084667, 6);
    expect([Number(size[0].toFixed(1)), Number(size[1].toFixed(1))]).toEqual([297, 210]);
    // The first point stays: it was 500 px to the right and 700 px up.
    near(p(made.at.x + 500 * perPixel[0], made.at.y + 700 * perPixel[1]), p(500, 700));
    expect(placedByDistance(before, p(1, 1), p(1, 1), 100)).toBeNull();
    expect(placedByDistance(before, p(1, 1), p(2, 1), 0)).toBeNull();
  });
  it('a world file says the centre of the first pixel', () => {
    const made = placedByWorldFile([0.5, 0, 0, -0.5, 10.25, 99.75], [20, 40]);
    expect(made).toEqual({ at: p(10, 80), right: p(20, 80), up: p(10, 100) });
    // Turned by a quarter: to the right is up in the drawing, downwards is to the right.
    const turned = placedByWorldFile([0, 2, 2, 0, 0, 0], [10, 5]);
    expect(turned).toEqual({ at: p(9, -1), right: p(9, 19), up: p(-1, -1) });
  });
  it('four corners are met exactly where they can be, and as nearly as can be where they cannot', () => {
    const exact = placedByCorners([p(1, 1), p(11, 3), p(10, 8), p(0, 6)]);
    expect(exact.off).toBeCloseTo(0, 12);
    near(exact.place.at, p(1, 1));
    near(exact.place.right, p(11, 3));
    near(exact.place.up, p(0, 6));
    // One corner off by 4 along x: each is missed by a quarter of it.
    const bent = placedByCorners([p(0, 0), p(10, 0), p(14, 10), p(0, 10)]);
    expect(bent.off).toBeCloseTo(1, 12);
  });
  it('law: two points of it come to lie on the two they were laid onto, and it keeps its form', () => {
    const at = fc.record({ x: fc.integer({ min: -1000, max: 1000 }), y: fc.integer({ min: -1000, max: 1000 }) });
    fc.assert(
      fc.property(at, at, at, at, (a, b, to, till) => {
        fc.pre((a.x !== b.x || a.y !== b.y) && (to.x !== till.x || to.y !== till.y));
        const before: PicturePlace = { at: a, right: b, up: p(a.x - (b.y - a.y) / 2, a.y + (b.x - a.x) / 2) };
        const made = placedByPairs(before, [a, b], [to, till])!;
        near(made.at, to, 6);
        near(made.right, till, 6);
        // Square to its base, and half as high as it is wide, as it was.
        near(made.up, p(to.x - (till.y - to.y) / 2, to.y + (till.x - to.x) / 2), 6);
      }),
    );
    expect(placedByPairs(placedBySize(p(0, 0), scan, 1), [p(1, 1), p(1, 1)], [p(0, 0), p(1, 0)])).toBeNull();
  });
});
