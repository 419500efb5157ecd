import { expect, it } from 'vitest';
import fc from 'fast-check';
import { Pile } from '../../src/scene/pile.js';

it('gives back what was put, in order, however much and in whatever portions', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 40_000 }), { maxLength: 12 }), (portions) => {
      const pile = new Pile(Uint32Array);
      const wanted: number[] = [];
      let n = 0;
      for (const many of portions)
        // In threes, as corners come, so that a portion meets the end of a piece in all ways.
        for (let i = 0; i < many; i += 3) {
          pile.room(3);
          for (let k = 0; k < 3; k++) pile.now[pile.at++] = n;
          for (let k = 0; k < 3; k++) wanted.push(n);
          n++;
        }
      expect(pile.length).toBe(wanted.length);
      const all = pile.take();
      expect(all.length).toBe(wanted.length);
      expect(all.every((v, i) => v === wanted[i])).toBe(true);
      expect(pile.length).toBe(0);
    }),
    { numRuns: 30 },
  );
});
