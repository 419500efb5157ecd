import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TooIntricate } from '../../src/geometry/crossings.js';
import { bulgePiece } from '../../src/geometry/bulge-piece.js';
import type { Piece } from '../../src/geometry/path-pieces.js';
import { endOf, piecesOf, startOf } from '../../src/geometry/path-pieces.js';
import type { BuiltRegions, RegionOptions, RegionSource } from '../../src/geometry/planar/regions.js';
import { buildRegions } from '../../src/geometry/planar/regions.js';
import { sketchPath } from '../../src/steps/example.js';

const ring = (owner: number, ...at: number[]): RegionSource => {
  const pieces: Piece[] = [];
  for (let i = 0; i < at.length; i += 2) {
    const j = (i + 2) % at.length;
    pieces.push({ kind: 'bezier', p: [at[i]!, at[i + 1]!, at[j]!, at[j + 1]!] });
  }
  return { owner, closed: true, pieces };
};
const box = (owner: number, x: number, y: number, w: number, h: number): RegionSource =>
  ring(owner, x, y, x + w, y, x + w, y + h, x, y + h);
const disc = (owner: number, x: number, y: number, r: number): RegionSource => ({
  owner,
  closed: true,
  pieces: [bulgePiece(x + r, y, x - r, y, 1), bulgePiece(x - r, y, x + r, y, 1)],
});
const loose = (owner: number, path: string): RegionSource => ({
  owner,
  closed: false,
  pieces: piecesOf(sketchPath(path), false)[0]!.pieces,
});
const build = (sources: RegionSource[], o: Partial<RegionOptions> = {}): BuiltRegions =>
  buildRegions(sources, { within: 1e-6, overlaps: 'upper', inner: 'regions', ...o });
const areas = (b: BuiltRegions): number[] => b.regions.map((r) => Number(r.area.toFixed(6)));
const euler = ({ counts: c }: BuiltRegions): number => c.points - c.edges + c.faces - c.components;

/** Where a ring has its points, as text to the last bit. */
const pointsOf = (pieces: readonly Piece[]): Set<string> => new Set(pieces.map((p) => startOf(p).join(',')));

describe('three neighbours with a gap of three thousandths', () => {
  // A 100 × 40; above it B from y = 40.003 and C from y = 40, each 50 wide up to 80.
  const three = [box(0, 0, 0, 100, 40), box(1, 0, 40.003, 50, 39.997), box(2, 50, 40, 50, 40)];
  const made = build(three, { within: 0.01 });
  it('share points and edges bit for bit; the first gets a fifth point', () => {
    expect(areas(made)).toEqual([4000, 2000, 2000]);
    expect(made.regions.map((r) => r.points)).toEqual([5, 4, 4]);
    expect(made.moved).toBeCloseTo(0.003, 9);
    const [a, b, c] = made.regions.map((r) => pointsOf(r.outer));
    expect([...a!].filter((p) => b!.has(p)).sort()).toEqual(['0,40', '50,40']);
    expect([...a!].filter((p) => c!.has(p)).sort()).toEqual(['100,40', '50,40']);
    expect([...b!].filter((p) => c!.has(p)).sort()).toEqual(['50,40', '50,80']);
  });
  it('know their neighbours, and points, edges and faces add up: 8 − 10 + 4 = 2', () => {
    expect(made.regions.map((r) => r.neighbours)).toEqual([
      [1, 2],
      [0, 2],
      [0, 1],
    ]);
    expect(made.counts).toEqual({ points: 8, edges: 10, faces: 4, components: 1, sound: true });
    expect(made.regions.map((r) => r.perimeter)).toEqual([280, 180, 180]);
  });
  it('are the same a million and more away', () => {
    const far = three.map((s): RegionSource => ({
      ...s,
      pieces: s.pieces.map((p) => ({ kind: 'bezier', p: (p as unknown as { p: number[] }).p.map((v) => v + 3e6) })),
    }));
    expect(areas(build(far, { within: 0.01 }))).toEqual([4000, 2000, 2000]);
  });
});

describe('what lies in several outlines', () => {
  // 10 × 10 and 8 × 8 that share 4 × 4.
  const two = [box(0, 0, 0, 10, 10), box(1, 6, 6, 8, 8)];
  it.each([
    ['upper', [84, 64]],
    ['lower', [100, 48]],
    ['smaller', [84, 64]],
  ] as const)('goes to the %s', (overlaps, expected) => {
    const made = build(two, { overlaps });
    expect(areas(made)).toEqual(expected);
    expect(made.overlaps).toBe(1);
    expect(made.dissolved).toBe(2);
    // An L has six; a square has two more where the L begins.
    expect(made.regions.map((r) => r.points)).toEqual([6, 6]);
  });
  it('is a region of its own where nobody is to have it', () => {
    const made = build(two, { overlaps: 'apart' });
    expect(areas(made).sort((a, b) => a - b)).toEqual([16, 48, 84]);
    expect(made.regions.filter((r) => r.contested)).toHaveLength(1);
    expect(made.dissolved).toBe(0);
  });
  it('is no overlap where one lies wholly in the other: the inner is a region, or a hole', () => {
    const nested = [disc(0, 0, 0, 50), disc(1, 0, 0, 40), disc(2, 0, 0, 30)];
    const [r50, r40, r30] = [2500, 1600, 900].map((n) => n * Math.PI);
    const regions = build(nested);
    expect(regions.overlaps).toBe(0);
    expect(regions.regions.map((r) => r.area)).toEqual(
      [r50! - r40!, r40! - r30!, r30!].map((a) => expect.closeTo(a, 8)),
    );
    expect(regions.regions[0]!.holes).toHaveLength(1);
    expect(regions.counts).toMatchObject({ components: 3, sound: true });
    const holes = build(nested, { inner: 'holes' });
    expect(holes.regions.map((r) => r.area)).toEqual([r50! - r40!, r30!].map((a) => expect.closeTo(a, 8)));
  });
  it('an outline drawn twice is one', () => {
    const made = build([box(0, 0, 0, 10, 10), box(1, 0, 0, 10, 10)]);
    expect(areas(made)).toEqual([100]);
  });
});

describe('loose curves', () => {
  it('hold regions wherever they close, and what dangles is told', () => {
    // A cross in a frame of four lines that run past their corners.
    const lines = ['M-1 0H11', 'M-1 10H11', 'M0 -1V11', 'M10 -1V11', 'M5 0V10', 'M0 5H14'].map((d, i) => loose(i, d));
    const made = build(lines);
    expect(areas(made)).toEqual([25, 25, 25, 25]);
    expect(made.regions.every((r) => r.owner === null)).toBe(true);
    // Two ends each of the four of the frame, and one of the last.
    expect(made.dangling).toHaveLength(9);
    expect(euler(made)).toBe(1);
  });
  it('divide an outline into arcs that both sides share', () => {
    const made = build([box(0, 0, 0, 10, 10), { owner: 1, closed: false, pieces: [bulgePiece(0, 5, 10, 5, 0.5)] }]);
    expect(made.regions.map((r) => r.owner)).toEqual([0, 0]);
    expect(made.regions[0]!.area + made.regions[1]!.area).toBeCloseTo(100, 9);
    const arcs = made.regions.map((r) => r.outer.find((p) => p.kind === 'arc') as Extract<Piece, { kind: 'arc' }>);
    expect(arcs[0]!.sweep).toBe(-arcs[1]!.sweep);
    expect([arcs[0]!.cx, arcs[0]!.cy, arcs[0]!.rx]).toEqual([arcs[1]!.cx, arcs[1]!.cy, arcs[1]!.rx]);
    expect([arcs[0]!.from, arcs[0]!.to]).toEqual([arcs[1]!.to, arcs[1]!.from]);
  });
  it('that leave a gap nobody drew leave no region', () => {
    // Four boxes round a square that belongs to none of them.
    const made = build([box(0, 0, 0, 20, 10), box(1, 0, 20, 20, 10), box(2, 0, 10, 5, 10), box(3, 15, 10, 5, 10)]);
    expect(areas(made)).toEqual([200, 200, 50, 50]);
  });
});

describe('the awkward', () => {
  it('three regions in one point, and outlines that touch in a point', () => {
    const made = build([ring(0, 0, 0, 10, 0, 5, 5), ring(1, 5, 5, 10, 10, 0, 10), ring(2, 5, 5, 10, 0, 10, 10)]);
    expect(areas(made)).toEqual([25, 25, 25]);
    expect(made.regions[0]!.neighbours).toEqual([2]);
  });
  it('circles that touch from outside and from inside, and lines that touch circles', () => {
    const made = build([disc(0, 0, 0, 10), disc(1, 20, 0, 10), disc(2, 5, 0, 5)]);
    expect(made.counts.sound).toBe(true);
    const inner = 25 * Math.PI;
    expect(made.regions.map((r) => r.area)).toEqual(
      [100 * Math.PI - inner, 100 * Math.PI, inner].map((a) => expect.closeTo(a, 6)),
    );
    const line = build([disc(0, 0, 0, 10), box(1, -20, 10, 40, 5)]);
    expect(line.regions.map((r) => r.area)).toEqual([expect.closeTo(100 * Math.PI, 6), expect.closeTo(200, 6)]);
  });
  it('slivers go to the neighbour they share most with, gaps as thin are closed', () => {
    // A gap of 0.5 between two of 10 × 10, whose ends lie 0.5 apart.
    const gap = build([box(0, 0, 0, 10, 10), box(1, 0, 10.5, 10, 10)], { within: 0.6 });
    expect(areas(gap)).toEqual([100, 105]);
    // The upper one leans: beyond the middle a wedge of 2.5 is left between them, 0.05 thick on the whole.
    const leaning = [box(0, 0, 0, 100, 10), ring(1, 0, 9.9, 100, 10.1, 100, 20, 0, 20), box(2, 100, 0, 10, 20)];
    const given = build(leaning, { within: 0.06 });
    expect(areas(given)).toEqual([997.5, 1002.5, 200]);
    expect(given.slivers).toBe(1);
    const left = build(leaning, { within: 0.04 });
    expect(areas(left)).toEqual([997.5, 1000, 200]);
    expect(left.slivers).toBe(0);
  });
  it('free curves: a wave between two regions is one curve for both', () => {
    const wave = 'M0 5C3 9 7 1 10 5';
    const made = build([box(0, 0, 0, 10, 10), loose(1, wave)]);
    expect(areas(made)).toEqual([50, 50]);
    const [a, b] = made.regions.map((r) => r.outer.find((p) => p.kind === 'bezier' && p.p.length === 8)!);
    expect(startOf(a!)).toEqual(endOf(b!));
    expect((a as unknown as { p: number[] }).p.slice(2, 4)).toEqual((b as unknown as { p: number[] }).p.slice(4, 6));
  });
});

it('of outlines that cross more often than the effort allows nothing is built; it can be stopped between', () => {
  const stars = Array.from({ length: 12 }, (_, k) =>
    ring(
      k,
      ...Array.from({ length: 80 }, (__, i) => [
        50 + 40 * Math.cos(i * 2.4 + k),
        50 + 40 * Math.sin(i * 2.4 + k),
      ]).flat(),
    ),
  );
  const o: RegionOptions = { within: 1e-6, overlaps: 'upper', inner: 'regions' };
  expect(() => buildRegions(stars, o, { left: 20_000, bridged: 0 })).toThrow(TooIntricate);
  const pause = (): never => {
    throw new Error('stopped');
  };
  expect(() => buildRegions(stars, o, { left: 1e9, bridged: 0, pause })).toThrow('stopped');
});

describe('laws', () => {
  const coordinate = fc.integer({ min: 0, max: 40 });
  const size = fc.integer({ min: 1, max: 20 });
  const boxes = fc.array(fc.tuple(coordinate, coordinate, size, size), { minLength: 1, maxLength: 7 });
  it('regions of boxes tile their union, whoever wins, and points, edges and faces add up', () => {
    fc.assert(
      fc.property(boxes, fc.constantFrom('upper', 'lower', 'smaller', 'apart'), (list, overlaps) => {
        const made = build(
          list.map(([x, y, w, h], i) => box(i, x, y, w, h)),
          { overlaps: overlaps as never },
        );
        // By counting cells of the grid.
        let union = 0;
        for (let x = 0; x < 60; x++)
          for (let y = 0; y < 60; y++)
            if (list.some(([a, b, w, h]) => x >= a && x < a + w && y >= b && y < b + h)) union++;
        expect(made.regions.reduce((sum, r) => sum + r.area, 0)).toBeCloseTo(union, 6);
        expect(euler(made)).toBe(1);
        for (const r of made.regions)
          for (const n of r.neighbours) expect(made.regions[n]!.neighbours).toContain(made.regions.indexOf(r));
      }),
      { numRuns: 120 },
    );
  });
  it('building again from what was built changes nothing', () => {
    fc.assert(
      fc.property(boxes, (list) => {
        const once = build(list.map(([x, y, w, h], i) => box(i, x, y, w, h)));
        const again = build(
          once.regions.flatMap((r, i) => [r.outer, ...r.holes].map((pieces) => ({ owner: i, closed: true, pieces }))),
        );
        expect(areas(again).sort()).toEqual(areas(once).sort());
        expect(again.dissolved).toBe(0);
        expect(again.moved).toBe(0);
      }),
      { numRuns: 60 },
    );
  });
  it('circles anywhere: what is in none, in one, in both adds up', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 19.5, noNaN: true }), (d) => {
        const r = 10;
        const made = build([disc(0, 0, 0, r), disc(1, d, 0, r)], { overlaps: 'apart' });
        // The lens of two circles of one radius.
        const lens = 2 * r * r * Math.acos(d / (2 * r)) - (d / 2) * Math.sqrt(4 * r * r - d * d);
        const sum = made.regions.reduce((s, q) => s + q.area, 0);
        expect(sum).toBeCloseTo(2 * Math.PI * r * r - lens, 6);
        expect(made.regions.find((q) => q.contested)!.area).toBeCloseTo(lens, 6);
      }),
      { numRuns: 60 },
    );
  });
});
