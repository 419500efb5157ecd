import { afterEach, expect, it } from 'vitest';
import fc from 'fast-check';
import { Pile } from '../../src/scene/pile.js';

const buffers = ArrayBuffer.prototype as unknown as { transfer?: (this: ArrayBuffer, size: number) => ArrayBuffer };
const own = buffers.transfer;
afterEach(() => {
  if (own) buffers.transfer = own;
  else delete buffers.transfer;
});

/** As ES2024 has it for a size of nothing: what is given back is empty from then on. */
function detach(this: ArrayBuffer): ArrayBuffer {
  structuredClone(this, { transfer: [this] });
  return new ArrayBuffer(0);
}

it.each([
  ['where room can be given back at once', detach],
  ['where it cannot', undefined],
])('gives back what was put, in order, however much and in whatever portions, %s', (_, transfer) => {
  if (transfer) buffers.transfer = transfer;
  else delete buffers.transfer;
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
