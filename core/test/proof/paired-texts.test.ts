import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { MeasuredText } from '../../src/proof/measure.js';
import { pairedTexts } from '../../src/proof/paired-texts.js';

const text = fc.record({
  text: fc.constantFrom('A', 'B', 'Kestrel'),
  x: fc.integer({ min: 0, max: 50 }),
  y: fc.integer({ min: 0, max: 50 }),
  height: fc.integer({ min: 1, max: 4 }),
  ofDimension: fc.constant(false),
});
const shuffled = <T>(list: readonly T[]): T[] => list.map((_, i) => list[(i * 7 + 3) % list.length]!);

describe('pairing lines of text', () => {
  it('finds nothing moved in a list that only changed its order', () => {
    fc.assert(
      fc.property(fc.uniqueArray(text, { minLength: 1, maxLength: 60, selector: (t) => `${t.x} ${t.y}` }), (list) => {
        // Seven has no factor in common with the length, so that each is taken once.
        const have = list.length % 7 === 0 ? [...list].reverse() : shuffled(list);
        expect(pairedTexts(list, have, 1e-5)).toEqual({ missing: [], extra: 0, farthestMove: 0, tallest: 0 });
      }),
    );
  });

  it('counts what is gone and what is new, and measures the one that moved', () => {
    const at = (words: string, x: number, height = 2): MeasuredText => ({
      text: words,
      x,
      y: 0,
      height,
      ofDimension: false,
    });
    const found = pairedTexts(
      [at('A', 0), at('A', 10), at('B', 5), at('C', 7)],
      [at('A', 10), at('A', 3, 2.5), at('C', 7), at('D', 1)],
      1e-5,
    );
    expect(found).toEqual({ missing: ['B'], extra: 1, farthestMove: 3, tallest: 0.5 });
  });

  it('takes the nearest of those within reach, and each only once', () => {
    const at = (x: number): MeasuredText => ({ text: 'A', x, y: 0, height: 1, ofDimension: false });
    expect(pairedTexts([at(0), at(0.4)], [at(0.5), at(0.1)], 1).farthestMove).toBeCloseTo(0.1, 12);
  });

  it('pairs the same word said 60,000 times, apart or in one place', () => {
    const list = Array.from({ length: 60_000 }, (_, i) => ({
      text: 'x',
      x: i % 300,
      y: Math.floor(i / 300),
      height: 1,
      ofDimension: false,
    }));
    expect(pairedTexts(list, [...list].reverse(), 0.01)).toMatchObject({ missing: [], extra: 0, farthestMove: 0 });
    const stacked = list.map((t) => ({ ...t, x: 0, y: 0 }));
    expect(pairedTexts(stacked, stacked, 0.01)).toMatchObject({ missing: [], extra: 0, farthestMove: 0 });
  }, 20_000);
});
