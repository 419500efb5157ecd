import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { farthest } from '../../src/proof/distance.js';

/** The plain way: every point against every chord. */
function plainly(from: Float64Array, to: Float64Array): number {
  const away = (x: number, y: number): number => {
    let best = Infinity;
    for (let i = 0; i < to.length; i += 4) {
      const [ax, ay, bx, by] = to.subarray(i, i + 4) as unknown as [number, number, number, number];
      const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
      const t = l2 === 0 ? 0 : Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2));
      best = Math.min(best, Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)));
    }
    return best;
  };
  let worst = 0;
  for (let i = 0; i < from.length; i += 4) {
    const [ax, ay, bx, by] = from.subarray(i, i + 4) as unknown as [number, number, number, number];
    worst = Math.max(worst, away(ax, ay), away((ax + bx) / 2, (ay + by) / 2), away(bx, by));
  }
  return worst;
}

const chord = fc.tuple(...[0, 1, 2, 3].map(() => fc.integer({ min: -1000, max: 1000 })));
const chords = (minLength: number): fc.Arbitrary<Float64Array> =>
  fc.array(chord, { minLength, maxLength: 900, size: 'max' }).map((list) => Float64Array.from(list.flat()));

describe('the largest distance from chords to chords', () => {
  it('is what comparing each point with each chord gives, whatever counts as near', () => {
    fc.assert(
      fc.property(chords(1), chords(1), fc.constantFrom(1e-6, 0.1, 1, 30, 1e4), (from, to, reach) => {
        const { distance } = farthest(from, to, reach);
        const plain = plainly(from, to);
        // What lies within a ten-thousandth of the reach is not looked at more closely.
        expect(Math.abs(distance - plain)).toBeLessThanOrEqual(Math.max(reach * 1e-4, 1e-9 * plain));
      }),
      { numRuns: 60 },
    );
  });

  it('finds one chord that was moved a little among many in another order', () => {
    fc.assert(
      fc.property(chords(40), fc.double({ min: 0.001, max: 0.9, noNaN: true }), fc.nat(), (from, by, pick) => {
        const order = Array.from({ length: from.length / 4 }, (_, i) => i).sort(
          (a, b) => ((a * 7919) % 101) - ((b * 7919) % 101),
        );
        const to = Float64Array.from(order.flatMap((i) => [...from.subarray(4 * i, 4 * i + 4)]));
        const k = 4 * (pick % (from.length / 4));
        to[k] = to[k]! + by;
        const { distance } = farthest(to, from, 1);
        expect(Math.abs(distance - plainly(to, from))).toBeLessThanOrEqual(1e-4);
      }),
      { numRuns: 30 },
    );
  });

  it('is Infinity where the other side has nothing', () => {
    expect(farthest(Float64Array.of(0, 0, 1, 1), new Float64Array(0), 1).distance).toBe(Infinity);
  });
});
