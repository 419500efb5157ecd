import { describe, expect, it } from 'vitest';
import type { Picture } from '../../src/index.js';
import { GROUND, differing } from '../../src/index.js';

const WIDTH = 40;
const HEIGHT = 30;

/** The bare ground with filled rectangles on it: x, y, width, height, grey. */
function picture(...rectangles: [number, number, number, number, number][]): Picture {
  const pixels = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++) pixels.set([...GROUND, 255], 4 * i);
  for (const [x0, y0, w, h, grey] of rectangles)
    for (let y = y0; y < y0 + h; y++)
      for (let x = x0; x < x0 + w; x++) pixels.set([grey, grey, grey, 255], 4 * (y * WIDTH + x));
  return { width: WIDTH, height: HEIGHT, pixels, span: [WIDTH, HEIGHT] };
}

describe('two pictures', () => {
  const square = picture([10, 10, 8, 8, 0]);

  it('that are alike differ nowhere, and only what is drawn counts as ink', () => {
    expect(differing(square, square)).toEqual({ inked: 64, other: 0, spots: [] });
    expect(differing(picture(), picture())).toEqual({ inked: 0, other: 0, spots: [] });
  });
  it('may lie a pixel apart', () => {
    expect(differing(square, picture([11, 10, 8, 8, 0])).other).toBe(0);
    expect(differing(square, picture([11, 11, 8, 8, 0])).other).toBe(0);
  });
  it('that lie three apart differ in what has nothing alike beside it', () => {
    // On either side: two columns of 8 that are black with no black near in the other, and one that is bare in the other
    // with nothing but black around it here, but for its ends, which have the ground beside them. Both
    // lie near enough to be one place.
    const { other, inked, spots } = differing(square, picture([13, 10, 8, 8, 0]));
    expect(other).toBe(2 * (8 + 8 + 6));
    expect(inked).toBe(11 * 8);
    expect(spots.map((s) => s.pixels)).toEqual([44]);
  });
  it('differ in a colour from 33 levels on', () => {
    expect(differing(picture([5, 5, 10, 10, 100]), picture([5, 5, 10, 10, 132])).other).toBe(0);
    expect(differing(picture([5, 5, 10, 10, 100]), picture([5, 5, 10, 10, 133])).other).toBe(100);
  });
  it('differ where white lies on the ground', () => {
    expect(differing(picture(), picture([5, 5, 10, 10, 255])).other).toBe(100);
  });
  it('are told place by place, the largest first', () => {
    const { spots } = differing(picture(), picture([2, 2, 3, 3, 0], [25, 15, 8, 10, 0]));
    expect(spots).toEqual([
      { x: 25, y: 15, width: 8, height: 10, pixels: 80 },
      { x: 2, y: 2, width: 3, height: 3, pixels: 9 },
    ]);
  });
  it('of two sizes are no pair', () => {
    expect(() => differing(square, { ...square, width: 20, height: 60 })).toThrow('different sizes');
  });
});
