import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CarrierIndex } from '../../src/geometry/carrier-index.js';
import type { Piece } from '../../src/geometry/path-pieces.js';

type Line = Extract<Piece, { kind: 'bezier' }>;
const line = (x0: number, y0: number, x1: number, y1: number): Line => ({ kind: 'bezier', p: [x0, y0, x1, y1] });

/** The same by asking every pair: both ends of the other lie near the line, and its box along the line meets it. */
function byHand(lines: readonly Line[], i: number, within: number): number[] {
  const [x0, y0, x1, y1] = lines[i]!.p;
  const l = Math.hypot(x1! - x0!, y1! - y0!);
  const [ux, uy] = [(x1! - x0!) / l, (y1! - y0!) / l];
  return lines.flatMap((q, k) => {
    const [a, b, c, d] = q.p as [number, number, number, number];
    const off = (x: number, y: number): number => Math.abs((x - x0!) * uy - (y - y0!) * ux);
    const along = [(a - x0!) * ux + (b - y0!) * uy, (c - x0!) * ux + (d - y0!) * uy];
    // Well within, so that a box seen a little aslant says the same.
    const meets = Math.max(...along) > within && Math.min(...along) < l - within;
    return off(a, b) <= within * 0.99 && off(c, d) <= within * 0.99 && meets ? [k] : [];
  });
}

describe('lines that may run over each other', () => {
  it('are all found, whatever way they run, among few and among crowds', () => {
    const within = 0.5;
    const one = fc.record({
      x: fc.integer({ min: -40, max: 40 }),
      y: fc.integer({ min: -3, max: 3 }),
      length: fc.constantFrom(0.7, 3, 12, 90),
      turn: fc.constantFrom(0, 0, 0, 90, 180, 45, 0.3, -0.3, 179.8),
    });
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 120 }), (list) => {
        const lines = list.map(({ x, y, length, turn }) => {
          const t = (turn * Math.PI) / 180;
          return line(x, y, x + length * Math.cos(t), y + length * Math.sin(t));
        });
        const index = new CarrierIndex(lines, within);
        lines.forEach((p, i) => {
          const found = index.near(p);
          expect(found).toEqual([...new Set(found)].sort((a, b) => a - b));
          expect(found).toEqual(expect.arrayContaining(byHand(lines, i, within)));
        });
      }),
      { numRuns: 60 },
    );
  });
  it('a chain of dashes on one line is found piece by piece, not all by all', () => {
    const dashes = Array.from({ length: 5000 }, (_, i) => line(3 * i, 0, 3 * i + 2, 0));
    const index = new CarrierIndex(dashes, 0.1);
    expect(index.near(line(300, 0, 306, 0))).toEqual([100, 101, 102]);
  });
});
