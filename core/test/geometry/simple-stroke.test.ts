import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newEffort } from '../../src/geometry/crossings.js';
import { outlinesOf } from '../../src/geometry/outlines.js';
import type { Piece } from '../../src/geometry/path-pieces.js';
import { piecesOf } from '../../src/geometry/path-pieces.js';
import { momentsOf } from '../../src/geometry/planar/moments.js';
import { simpleStroke } from '../../src/geometry/planar/simple-stroke.js';
import type { StrokeOptions } from '../../src/geometry/planar/stroke-options.js';
import { strokeShape } from '../../src/geometry/planar/stroke-shape.js';
import { sketchPath } from '../../src/steps/example.js';

const pen = (more: Partial<StrokeOptions> = {}): StrokeOptions => ({
  width: 3,
  cap: 'butt',
  join: 'miter',
  miter: 4,
  tolerance: 0.001,
  dashes: [],
  dashOffset: 0,
  ...more,
});
const runOf = (d: string) => piecesOf(sketchPath(d), false)[0]!;
const area = (d: string, o: Partial<StrokeOptions> = {}): number | null => {
  const made = simpleStroke(runOf(d), pen(o));
  return made && momentsOf(made).area;
};
/** The same by pieces that are cut to each other, two runs never being taken for simple; `null` where they cannot be. */
function cut(run: { pieces: readonly Piece[]; closed: boolean }, o: StrokeOptions): number | null {
  try {
    return momentsOf(strokeShape([run, { pieces: [], closed: false }], o)).area;
  } catch {
    return null;
  }
}
/**
 * The area by what each corner adds and takes: strips of all lines, caps, and at each corner what the join adds on the outer side
 * less the kite that both strips cover on the inner.
 */
function byCorners(points: readonly (readonly [number, number])[], closed: boolean, o: StrokeOptions): number {
  const n = points.length;
  const half = o.width / 2;
  let sum = closed ? 0 : { butt: 0, square: o.width * o.width, round: Math.PI * half * half }[o.cap];
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [points[(i + n - 1) % n]!, points[i]!, points[(i + 1) % n]!];
    if (closed || i < n - 1) sum += o.width * Math.hypot(c[0] - b[0], c[1] - b[1]);
    if (!closed && (i === 0 || i === n - 1)) continue;
    const turn = Math.abs(
      Math.atan2(
        (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]),
        (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]),
      ),
    );
    const kite = half * half * Math.tan(turn / 2);
    const mitred = o.join === 'miter' && 1 / Math.cos(turn / 2) <= o.miter;
    sum += (mitred ? kite : o.join === 'round' ? (half * half * turn) / 2 : (half * half * Math.sin(turn)) / 2) - kite;
  }
  return sum;
}

describe('a pen that plainly covers nothing twice', () => {
  it('120 long and 3 wide: 360, 369, 360 + 2.25π', () => {
    expect(area('M0 0H120')).toBeCloseTo(360, 9);
    expect(area('M0 0H120', { cap: 'square' })).toBeCloseTo(369, 9);
    expect(area('M0 0H120', { cap: 'round' })).toBeCloseTo(360 + 2.25 * Math.PI, 9);
  });
  it('a closed 100 × 60, 4 wide: mitred 1280, round 1276.57, either way round', () => {
    for (const d of ['M0 0H100V60H0Z', 'M0 0V60H100V0Z']) {
      expect(area(d, { width: 4 })).toBeCloseTo(1280, 9);
      // The four corners of 2 × 2 as quarters of a disc.
      expect(area(d, { width: 4, join: 'round' })).toBeCloseTo(1280 - 16 + 4 * Math.PI, 9);
      expect(area(d, { width: 4, join: 'bevel' })).toBeCloseTo(1280 - 8, 9);
    }
  });
  it('circles and arcs have arcs of their centre on both sides', () => {
    const circle = 'M50 0A50 50 0 0 1 -50 0A50 50 0 0 1 50 0Z';
    expect(area(circle, { width: 4 })).toBeCloseTo(Math.PI * (52 ** 2 - 48 ** 2), 7);
    expect(area('M50 0A50 50 0 0 1 0 50', { width: 4 })).toBeCloseTo((Math.PI / 4) * (52 ** 2 - 48 ** 2), 8);
    const capped = (Math.PI / 4) * (52 ** 2 - 48 ** 2);
    expect(area('M0 50A50 50 0 0 0 50 0', { width: 4, cap: 'square' })).toBeCloseTo(capped + 16, 8);
    expect(area('M50 0A50 50 0 0 1 0 50', { width: 4, cap: 'round' })).toBeCloseTo(capped + 4 * Math.PI, 8);
  });
  it.each([
    ['lines that cross', 'M0 0H20V10H10V-10'],
    ['lines nearer than the pen is wide', 'M0 0H20V2H0'],
    ['a fold', 'M0 0H20L1 1'],
    ['corners nearer than the pen reaches', 'M0 0H20V1H40'],
    ['an arc tighter than the pen', 'M1 0A1 1 0 0 1 -1 0'],
    ['an arc whose ends nearly meet', 'M50 0A50 50 0 1 1 49.9 -1'],
    ['free curves', 'M0 0C10 10 20 -10 30 0'],
  ])('is not sure of %s', (_, d) => {
    expect(area(d)).toBeNull();
  });
  it('nor where the corner of a square end reaches what the pen itself does not', () => {
    // 2.29 apart, of a pen 2 wide; the corner of its end lies 1.41 off.
    const near = 'M44 0L28 43L40 34L39 20';
    expect(area(near, { width: 2, cap: 'square', join: 'bevel' })).toBeNull();
    expect(area(near, { width: 2, cap: 'butt', join: 'bevel' })).not.toBeNull();
  });
  const way = fc.array(fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 60 })), {
    minLength: 2,
    maxLength: 6,
  });
  const pens = fc.record({
    width: fc.constantFrom(0.5, 2, 6),
    cap: fc.constantFrom<StrokeOptions['cap']>('butt', 'round', 'square'),
    join: fc.constantFrom<StrokeOptions['join']>('miter', 'round', 'bevel'),
    miter: fc.constantFrom(1, 2, 10),
  });
  it('covers what its pieces cut to each other cover, wherever it is sure', () => {
    let sure = 0;
    fc.assert(
      fc.property(way, pens, fc.boolean(), (points, o, closed) => {
        const at = (i: number) => points[i % points.length]!;
        const count = closed ? points.length : points.length - 1;
        const pieces = Array.from({ length: count }, (_, i): Piece => ({
          kind: 'bezier',
          p: [...at(i), ...at(i + 1)],
        }));
        const made = simpleStroke({ pieces, closed }, pen(o));
        if (!made) return;
        sure++;
        const { area: own } = momentsOf(made);
        expect(own).toBeCloseTo(byCorners(points, closed, pen(o)), 6);
        const other = cut({ pieces, closed }, pen(o));
        // Slivers thinner than what cutting joins are lost there: the wedges of corners of less than three degrees.
        const way = closed ? [...points, points[0]!, points[1]!] : points;
        const turns = way.slice(1, -1).map((p, i) => {
          const [a, b] = [way[i]!, way[i + 2]!];
          return Math.abs(Math.sin(Math.atan2(b[1] - p[1], b[0] - p[0]) - Math.atan2(p[1] - a[1], p[0] - a[0])));
        });
        const lost = turns.filter((t) => t < 0.05).reduce((sum, t) => sum + 2 * (o.width / 2) ** 2 * t, 3e-5);
        if (other !== null) expect(Math.abs(own - other)).toBeLessThan(lost);
        // What overlapped itself would lose area when it is cut.
        const again = momentsOf(outlinesOf([[{ path: made, rule: 'nonzero' }]], ([within]) => within!, newEffort()));
        expect(Math.abs(again.area - own)).toBeLessThan(lost);
      }),
      { numRuns: 400 },
    );
    expect(sure).toBeGreaterThan(40);
  });
});
