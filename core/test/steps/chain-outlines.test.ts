import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Kept } from '../../src/index.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { runsOf } from '../../src/drawing/courses.js';
import { apart, arc, chain, circle, cornersOf, drawn, kindsOf, lengthOfAll, line, placed, stepOn } from './judge.js';

const chained = (d: Drawing, params: Kept = {}) => stepOn(d, 'chain-outlines', params);
/** A rectangle of 100 × 60 with quarter arcs of radius 8, in eight pieces that run anyhow. */
const rounded = () =>
  drawn(
    line(92, 0, 8, 0),
    arc(92, 8, 8, 270, 0),
    line(100, 8, 100, 52),
    arc(92, 52, 8, 0, 90),
    line(92, 60, 8, 60),
    arc(8, 52, 8, 90, 180),
    line(0, 8, 0, 52),
    arc(8, 8, 8, 180, 270),
  );
const areaOf = (d: Drawing, i = 0): number => areaOfPieces(runsOf(d.entities[i]!)![0]!.pieces);
/** A free curve of degree three by its four control points. */
const spline = (p: number[]): never =>
  ({
    kind: 'spline',
    degree: 3,
    knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
    points: Float64Array.from(p.flatMap((v, i) => (i % 2 ? [v, 0] : [v]))),
    closed: false,
    periodic: false,
  }) as never;

describe('a rounded rectangle of four lines and four arcs', () => {
  it('is one closed polyline of 8 corners: area 5945.06, length 306.27 as before', () => {
    const d = rounded();
    const made = chained(d);
    expect(made.entities).toMatchObject([{ kind: 'polyline', closed: true }]);
    expect(cornersOf(made.entities[0]).length / 2).toBe(8);
    expect(areaOf(made.drawing)).toBeCloseTo(6000 - (4 - Math.PI) * 64, 9);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(306.2655, 4);
    expect(Math.abs(lengthOfAll(made.drawing) - lengthOfAll(d))).toBeLessThan(1e-12 * 306 * 4);
    expect(made.against).toEqual([]);
    expect(apart(d, made.drawing)).toBeLessThan(1e-3);
  });
  it('begins at its lowest, then leftmost corner and runs anticlockwise, however its pieces come', () => {
    const one = chained(rounded()).entities[0];
    expect(cornersOf(one).slice(0, 4)).toEqual([8, 0, 92, 0]);
    const d = rounded();
    const mixed = { ...d, entities: [5, 2, 7, 0, 3, 1, 6, 4].map((i) => d.entities[i]!) };
    expect(cornersOf(chained(mixed).entities[0])).toEqual(cornersOf(one));
  });
});

describe('which way outlines run', () => {
  const box = (x: number, y: number, w: number) => [
    line(x, y, x + w, y),
    line(x + w, y, x + w, y + w),
    line(x + w, y + w, x, y + w),
    line(x, y + w, x, y),
  ];
  it('holes clockwise, islands in them anticlockwise, or the other way', () => {
    const d = drawn(...box(0, 0, 100), ...box(20, 20, 60), ...box(40, 40, 10));
    expect([0, 1, 2].map((i) => areaOf(chained(d).drawing, i))).toEqual([10000, -3600, 100]);
    expect([0, 1, 2].map((i) => areaOf(chained(d, { direction: 'turned' }).drawing, i))).toEqual([-10000, 3600, -100]);
  });
  it('an outline that was closed before counts', () => {
    const d = drawn(chain([-50, -50, 150, -50, 150, 150, -50, 150], true), ...box(0, 0, 100));
    expect(areaOf(chained(d).drawing, 1)).toBe(-10000);
  });
});

describe('what cannot be chained is told', () => {
  it('three ends in one point: the branch, with their number; going straightest goes on', () => {
    const d = drawn(line(0, 0, 50, 0), line(50, 0, 100, 1), line(50, 0, 50, 40));
    const stopped = chained(d);
    expect(stopped.entities).toBe(d.entities);
    expect(stopped.row('branch-of-ends')!.reason).toContain('3 ends');
    const on = chained(d, { branches: 'straightest' });
    expect(kindsOf(on.entities)).toBe('polyline line');
    expect(cornersOf(on.entities[0])).toEqual([0, 0, 50, 0, 100, 1]);
    const left = chained(d, { branches: 'leftmost' });
    expect(cornersOf(left.entities[0])).toEqual([0, 0, 50, 0, 50, 40]);
  });
  it('doubles have to be cleared first', () => {
    const d = drawn(line(0, 0, 50, 0), line(50, 0, 0, 0), line(50, 0, 50, 40));
    expect(chained(d).reasons).toContain('branch-of-doubles');
    const halves = drawn(arc(0, 0, 20, 0, 180), arc(0, 0, 20, 180, 0), line(20, 0, 60, 0));
    expect(chained(halves).reasons).not.toContain('branch-of-doubles');
  });
  it('pieces on two layers stay apart unless it is said whose counts', () => {
    const d = drawn(line(0, 0, 50, 0, { layer: 'A' }), line(50, 0, 50, 40, { layer: 'B' }));
    expect(chained(d).entities).toBe(d.entities);
    expect(chained(d, { together: 'first' }).entities).toMatchObject([{ layer: 'A' }]);
  });
});

describe('gaps, circles and free curves', () => {
  it('closes gaps up to the bound and says how far ends moved; none beyond it', () => {
    const d = drawn(line(0, 0, 50, 0), line(50.03, 0.04, 50, 40), line(50, 40, 0, 0));
    expect(chained(d, { met: 0.049 }).entities[0]).toMatchObject({ closed: false });
    const made = chained(d, { met: 0.05 });
    expect(made.entities).toMatchObject([{ kind: 'polyline', closed: true }]);
    expect(made.row('chained')!.deviation).toEqual({ value: 0.05, unit: 'mm' });
    expect(made.against).toEqual([]);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.05 + 1e-4);
  });
  it('two half circles are a circle, or stay a polyline of two', () => {
    const d = drawn(arc(5, 5, 20, 0, 180), arc(5, 5, 20, 180, 0));
    expect(chained(d).entities).toMatchObject([
      { kind: 'circle', centre: [expect.closeTo(5, 12), expect.closeTo(5, 12), 0] },
    ]);
    expect(chained(d, { circles: false }).entities).toMatchObject([{ kind: 'polyline', closed: true }]);
  });
  it('lines and a free curve are one exact path; a single one that meets itself is closed', () => {
    const d = drawn(spline([0, 0, 10, 30, 40, 30, 50, 0]), line(50, 0, 0, 0));
    const made = chained(d);
    expect(made.entities).toMatchObject([{ kind: 'path' }]);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(lengthOfAll(d), 9);
    expect(made.against).toEqual([]);
    const loop = chained(drawn(spline([0, 0, 60, 40, -60, 40, 0, 0])));
    expect(loop.entities).toMatchObject([{ kind: 'path' }]);
    expect(chained(loop.drawing).entities).toBe(loop.entities);
  });
  it('only what closes, when that is asked', () => {
    const d = drawn(
      line(0, 0, 50, 0),
      line(50, 0, 50, 40),
      line(200, 0, 220, 0),
      line(220, 0, 220, 9),
      line(220, 9, 200, 0),
    );
    const made = chained(d, { results: 'closed' });
    expect(kindsOf(made.entities)).toBe('line line polyline');
  });
});

it('far away, mirrored and in blocks', () => {
  const d = rounded();
  const far = { ...d, entities: d.entities.map((e) => shifted(e, 1e6)) } as Drawing;
  expect(areaOf(chained(far, { met: 1e-6 }).drawing)).toBeCloseTo(5945.0619, 3);
  const blocks = chained(
    placed(
      [line(0, 0, 9, 0), line(9, 0, 9, 9)],
      [{ at: [0, 0] }, { at: [5, 5], scale: [2, 2, 2] }, { at: [9, 0], scale: [-1, 1, 1] }],
    ),
  );
  expect(blocks.against).toEqual([]);
  expect(kindsOf(blocks.drawing.blocks.get('panel')!.entities)).toBe('polyline');
  const mirrored = drawn(arc(0, 0, 20, 0, 90, { normal: [0, 0, -1] }), line(-20, 0, -60, 0));
  const made = chained(mirrored, { met: 1e-6 });
  expect(kindsOf(made.entities)).toBe('polyline');
  expect(made.against).toEqual([]);
  expect(chained(drawn(circle(0, 0, 3))).entities).toHaveLength(1);
});
const shifted = (e: Drawing['entities'][number], by: number): Drawing['entities'][number] =>
  e.kind === 'line'
    ? { ...e, start: [e.start[0] + by, e.start[1] + by, 0], end: [e.end[0] + by, e.end[1] + by, 0] }
    : e.kind === 'arc'
      ? { ...e, centre: [e.centre[0] + by, e.centre[1] + by, 0] }
      : e;

it('any polygon cut into lines in any order comes back as it was', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 359 }), fc.integer({ min: 20, max: 90 })), {
        minLength: 3,
        maxLength: 12,
      }),
      fc.infiniteStream(fc.nat(1e6)),
      (list, dice) => {
        const corners = [...new Map(list.map(([a, r]) => [a, r]))]
          .sort((a, b) => a[0] - b[0])
          .map(([a, r]) => [r * Math.cos((a * Math.PI) / 180), r * Math.sin((a * Math.PI) / 180)]);
        if (corners.length < 3) return;
        const lines = corners.map((c, i) => {
          const n = corners[(i + 1) % corners.length]!;
          return dice.next().value! % 2 ? line(c[0]!, c[1]!, n[0]!, n[1]!) : line(n[0]!, n[1]!, c[0]!, c[1]!);
        });
        lines.sort(() => (dice.next().value! % 3) - 1);
        const made = chained(drawn(...lines));
        expect(made.entities).toMatchObject([{ kind: 'polyline', closed: true }]);
        expect(cornersOf(made.entities[0]).length).toBe(2 * corners.length);
        expect(made.against).toEqual([]);
      },
    ),
    { numRuns: 60 },
  );
});
