import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Affine } from '../../src/geometry/affine.js';
import type { PathData } from '../../src/geometry/path.js';
import { Cmd, PathBuilder, transformPath } from '../../src/geometry/path.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { piecesOf } from '../../src/geometry/path-pieces.js';
import { lengthOfPath, momentsOf } from '../../src/geometry/planar/moments.js';
import { offset } from '../../src/geometry/planar/offset.js';
import type { Combination, Filled } from '../../src/geometry/planar/shapes.js';
import { combined, pathOfShape, shapesOf, simplified } from '../../src/geometry/planar/shapes.js';

const path = (d: string): PathData => parsePathData(d).path;
const filled = (d: string | PathData, rule: Filled['rule'] = 'nonzero'): Filled => ({
  path: typeof d === 'string' ? path(d) : d,
  rule,
});
const box = (x: number, y: number, w: number, h: number): string => `M${x} ${y}h${w}v${h}h${-w}z`;
const disc = (x: number, y: number, r: number): string =>
  `M${x + r} ${y}A${r} ${r} 0 0 1 ${x - r} ${y}A${r} ${r} 0 0 1 ${x + r} ${y}z`;
const area = (p: PathData): number => momentsOf(p).area;
const close = (got: number, expected: number, part = 1e-9, size = 1): void =>
  expect(Math.abs(got - expected)).toBeLessThanOrEqual(part * Math.max(size, Math.abs(expected)));

const coordinate = fc.integer({ min: -200, max: 200 });
/** A rectangle whose corners stand on whole numbers, so that edges often run along each other. */
const aBox = fc
  .tuple(coordinate, coordinate, fc.integer({ min: 1, max: 150 }), fc.integer({ min: 1, max: 150 }))
  .map(([x, y, w, h]) => ({ d: box(x, y, w, h), area: w * h }));
const aDisc = fc
  .tuple(coordinate, coordinate, fc.integer({ min: 1, max: 120 }))
  .map(([x, y, r]) => ({ d: disc(x, y, r), area: Math.PI * r * r }));
/** Through points of a circle in order: convex, counter-clockwise. */
const convex = fc
  .uniqueArray(fc.integer({ min: 0, max: 71 }), { minLength: 3, maxLength: 9 })
  .map((steps) => steps.sort((a, b) => a - b).map((s) => (s * Math.PI) / 36))
  .map((angles) => {
    const b = new PathBuilder();
    angles.forEach((a, i) =>
      i === 0 ? b.moveTo(90 * Math.cos(a), 90 * Math.sin(a)) : b.lineTo(90 * Math.cos(a), 90 * Math.sin(a)),
    );
    return b.close().build();
  });
const curved = fc
  .array(fc.tuple(coordinate, coordinate), { minLength: 6, maxLength: 6 })
  .map((p) =>
    path(
      `M${p[0]!.join(' ')}C${p[1]!.join(' ')} ${p[2]!.join(' ')} ${p[3]!.join(' ')}Q${p[4]!.join(' ')} ${p[5]!.join(' ')}A700 500 20 0 1 ${p[0]!.join(' ')}z`,
    ),
  );

describe('moments', () => {
  it('are those of the formulas', () => {
    const r = momentsOf(path(box(10, 20, 100, 60)));
    close(r.area, 6000);
    close(r.x, 60);
    close(r.y, 50);
    close(r.ixx, (100 * 60 ** 3) / 12);
    close(r.iyy, (60 * 100 ** 3) / 12);
    close(r.ixy, 0, 1e-12, 6000 * 100 * 60);
    const c = momentsOf(path(disc(30, -40, 25)));
    close(c.area, Math.PI * 625);
    close(c.ixx, (Math.PI * 25 ** 4) / 4);
    close(c.iyy, (Math.PI * 25 ** 4) / 4);
    // A quarter disc: Ixy about its centre r⁴/8, centroid at 4r/3π.
    const q = momentsOf(path('M0 0H10A10 10 0 0 1 0 10z'));
    close(q.x, 40 / (3 * Math.PI));
    close(q.ixy + q.area * q.x * q.y, 10 ** 4 / 8);
    close(q.ixx + q.area * q.y * q.y, (Math.PI * 10 ** 4) / 16);
    // A right triangle: Ixy about its centroid −b²h²/72.
    close(momentsOf(path('M0 0H12L0 9z')).ixy, -(144 * 81) / 72);
    // A half ellipse of half axes 8 and 3: Iyy π a³ b/8.
    close(momentsOf(path('M8 0A8 3 0 0 1 -8 0z')).iyy, (Math.PI * 512 * 3) / 8);
  });

  it('a tee and a hollow section as worked by hand', () => {
    // Flange 100 × 10 on a web 8 × 90: area 1720, centroid 74.070 above the foot, Ix 1,540,845.0, Iy 837,173.3.
    const tee = momentsOf(path('M46 0H54V90H100V100H0V90H46z'));
    expect(tee.area).toBeCloseTo(1720, 9);
    expect(tee.y).toBeCloseTo(74.07, 3);
    expect(tee.ixx).toBeCloseTo(1_540_845, 0);
    expect(tee.iyy).toBeCloseTo(837_173.3, 1);
    // 100 × 60 × 4, radii 8 outside and 4 inside.
    const round = (x: number, y: number, w: number, h: number, r: number): string =>
      `M${x + r} ${y}h${w - 2 * r}a${r} ${r} 0 0 1 ${r} ${r}v${h - 2 * r}a${r} ${r} 0 0 1 ${-r} ${r}h${2 * r - w}a${r} ${r} 0 0 1 ${-r} ${-r}v${2 * r - h}a${r} ${r} 0 0 1 ${r} ${-r}z`;
    const hollow = momentsOf(simplified(filled(round(0, 0, 100, 60, 8) + round(4, 4, 92, 52, 4), 'evenodd')));
    expect(hollow.area).toBeCloseTo(1174.796, 3);
    expect(hollow.iyy).toBeCloseTo(1_525_810.2, 1);
    expect(hollow.ixx).toBeCloseTo(686_817.4, 1);
  });

  it('keep their digits a million units away from the origin', () => {
    const [near, far] = [momentsOf(path(disc(0, 0, 3))), momentsOf(path(disc(1e6, -1e6, 3)))];
    // Coordinates there hold 1e-10 of a unit.
    close(far.area, near.area, 1e-9);
    close(far.ixx, near.ixx, 1e-8);
  });

  it('follow a map of the plane: areas by its determinant, the centroid as a point, moments by the square of the map', () => {
    fc.assert(
      fc.property(
        curved,
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        coordinate,
        (p, turn, k, shift) => {
          const [c, s] = [k * Math.cos(turn), k * Math.sin(turn)];
          const m: Affine = [c, s, 0, -s, c, 0, 0, 0, k, shift, -2 * shift, 0];
          const [a, b] = [momentsOf(p), momentsOf(transformPath(p, m))];
          if (Math.abs(a.area) < 50) return;
          close(b.area, a.area * k * k, 1e-9, 1e4);
          // Of a small area the centroid hangs on the last digits: it is held by its first moment.
          close(b.x * b.area, (c * a.x - s * a.y + shift) * b.area, 1e-9, 1e7);
          close(b.ixx + b.iyy, k ** 4 * (a.ixx + a.iyy), 1e-8, 1e10 / Math.abs(a.area));
        },
      ),
    );
  });

  it('lengths: lines and circles exact, an ellipse as Ramanujan’s second formula', () => {
    expect(lengthOfPath(path(`${box(0, 0, 30, 40)}M0 0L3 4`))).toBe(145);
    close(lengthOfPath(path(disc(0, 0, 7))), 14 * Math.PI, 1e-12);
    const [a, b] = [10, 6];
    const h = ((a - b) / (a + b)) ** 2;
    close(
      lengthOfPath(path('M10 0A10 6 0 0 1 -10 0A10 6 0 0 1 10 0z')),
      Math.PI * (a + b) * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h))),
      1e-7,
    );
  });
});

describe('areas put together', () => {
  it('boxes that share edges and corners', () => {
    const pair = (how: Combination, b: string): PathData => combined(filled(box(0, 0, 10, 10)), filled(b), how);
    for (const [b, union, intersection, difference] of [
      [box(10, 0, 10, 10), 200, 0, 100],
      [box(0, 0, 10, 10), 100, 100, 0],
      [box(5, 0, 10, 10), 150, 50, 50],
      [box(2, 2, 4, 4), 100, 16, 84],
      [box(0, 0, 4, 4), 100, 16, 84],
      [box(10, 10, 5, 5), 125, 0, 100],
      [box(20, 20, 5, 5), 125, 0, 100],
    ] as const) {
      close(area(pair('union', b)), union);
      close(area(pair('intersection', b)), intersection);
      close(area(pair('difference', b)), difference);
      close(area(pair('exclusion', b)), union - intersection);
    }
    // Side by side they become one outline of four corners and what their corners left.
    expect(piecesOf(pair('union', box(10, 0, 10, 10)), true)).toHaveLength(1);
  });

  it('arcs stay arcs of their circle, and a shared half circle is counted once', () => {
    const lens = combined(filled(disc(0, 0, 5)), filled(disc(6, 0, 5)), 'intersection');
    close(area(lens), 50 * Math.acos(0.6) - 3 * Math.sqrt(64));
    for (const { pieces } of piecesOf(lens, true))
      for (const p of pieces) {
        expect(p.kind).toBe('arc');
        if (p.kind === 'arc') close(p.rx, 5);
      }
    const half = 'M5 0A5 5 0 0 1 -5 0z';
    close(area(combined(filled(disc(0, 0, 5)), filled(half), 'union')), 25 * Math.PI);
    close(area(combined(filled(disc(0, 0, 5)), filled(half), 'difference')), 12.5 * Math.PI);
    close(area(combined(filled(disc(0, 0, 5)), filled(disc(0, 0, 5)), 'exclusion')), 0);
  });

  it('|A ∪ B| + |A ∩ B| = |A| + |B|, and what is cut off is the rest', () => {
    fc.assert(
      fc.property(fc.oneof(aBox, aDisc), fc.oneof(aBox, aDisc), (a, b) => {
        const of = (how: Combination): number => area(combined(filled(a.d), filled(b.d), how));
        const both = of('intersection');
        close(of('union') + both, a.area + b.area, 1e-7);
        close(of('difference') + both, a.area, 1e-7);
        close(of('exclusion'), a.area + b.area - 2 * both, 1e-7);
      }),
    );
  });

  it('what crosses itself is taken apart by its rule', () => {
    // A five-pointed star in one stroke: its core is filled by one rule and empty by the other.
    const star = Array.from({ length: 5 }, (_, i) => [
      Math.sin((i * 4 * Math.PI) / 5),
      Math.cos((i * 4 * Math.PI) / 5),
    ]);
    const d = `M${star.map(([x, y]) => `${100 * x!} ${100 * y!}`).join('L')}z`;
    // Points at radius 1, inner corners at radius φ⁻²; ten triangles from the centre, and a pentagon inside.
    const inner = 100 / ((1 + Math.sqrt(5)) / 2) ** 2;
    const whole = 5 * 100 * inner * Math.sin(Math.PI / 5);
    const core = 2.5 * inner * inner * Math.sin((2 * Math.PI) / 5);
    close(area(simplified(filled(d))), whole);
    close(area(simplified(filled(d, 'evenodd'))), whole - core);
    expect(shapesOf(filled(d, 'evenodd'))).toHaveLength(5);
    expect(shapesOf(filled(d))).toHaveLength(1);
  });

  it('rings within rings are shapes with their own holes', () => {
    const rings = [50, 40, 30, 20].map((r) => disc(0, 0, r)).join('') + disc(200, 0, 10);
    const shapes = shapesOf(filled(rings, 'evenodd'));
    expect(
      shapes.map((s) => [Math.round(area(s.outer) / Math.PI), s.holes.map((h) => Math.round(area(h) / Math.PI))]),
    ).toEqual([
      [100, []],
      [900, [-400]],
      [2500, [-1600]],
    ]);
    close(
      shapes.reduce((n, s) => n + area(pathOfShape(s)), 0),
      Math.PI * (2500 - 1600 + 900 - 400 + 100),
    );
  });

  it('simplifying twice changes nothing', () => {
    fc.assert(
      fc.property(curved, fc.constantFrom('nonzero' as const, 'evenodd' as const), (p, rule) => {
        const once = simplified({ path: p, rule });
        close(area(simplified({ path: once, rule: 'nonzero' })), area(once), 1e-5);
      }),
      { numRuns: 40 },
    );
  });
});

describe('areas grown and shrunk', () => {
  const round = { join: 'round', tolerance: 1e-4 } as const;

  it('a box: mitred, bevelled, rounded, shrunk, gone', () => {
    const grown = (d: number, join: 'round' | 'mitre' | 'bevel'): number =>
      area(offset(filled(box(0, 0, 100, 60)), d, { join, tolerance: 1e-4 }));
    close(grown(2, 'mitre'), 104 * 64);
    close(grown(-2, 'mitre'), 96 * 56);
    close(grown(2, 'round'), 6000 + 320 * 2 + Math.PI * 4);
    close(grown(2, 'bevel'), 6000 + 320 * 2 + 4 * 2);
    close(grown(-30, 'round'), 0);
    close(grown(-100, 'round'), 0);
    close(grown(0, 'round'), 6000);
  });

  it('a ring: its hole shrinks and vanishes, circles stay circles', () => {
    const ring = filled(disc(0, 0, 50) + disc(0, 0, 20), 'evenodd');
    close(area(offset(ring, 5, round)), Math.PI * (55 ** 2 - 15 ** 2));
    close(area(offset(ring, -5, round)), Math.PI * (45 ** 2 - 25 ** 2));
    close(area(offset(ring, 25, round)), Math.PI * 75 ** 2);
    close(area(offset(ring, -16, round)), 0);
    for (const { pieces } of piecesOf(offset(ring, 5, round), true))
      for (const p of pieces) if (p.kind === 'arc') expect([55, 15].some((r) => Math.abs(r - p.rx) < 1e-9)).toBe(true);
  });

  it('what is thin in the middle splits', () => {
    // Two boxes of 40 with a neck 6 high between them.
    const dumbbell = filled('M0 0H40V17H80V0H120V40H80V23H40V40H0z');
    expect(shapesOf({ path: offset(dumbbell, -2, round), rule: 'nonzero' })).toHaveLength(1);
    const parted = shapesOf({ path: offset(dumbbell, -4, round), rule: 'nonzero' });
    expect(parted).toHaveLength(2);
    // Each box less 4 on all sides, and what reaches into the neck between arcs of 4 round its corners.
    const intoNeck = 24 - 3 * Math.sqrt(7) - 16 * Math.asin(0.75);
    close(area(pathOfShape(parted[0]!)), 32 * 32 + intoNeck);
  });

  it('a convex outline grows by P·d + π·d² (Steiner), and shrinking by as much brings it back', () => {
    fc.assert(
      fc.property(convex, fc.double({ min: 0.5, max: 60, noNaN: true }), (p, d) => {
        const grown = offset({ path: p, rule: 'nonzero' }, d, round);
        close(area(grown), area(p) + lengthOfPath(p) * d + Math.PI * d * d, 1e-7);
        close(area(offset({ path: grown, rule: 'nonzero' }, -d, round)), area(p), 1e-5);
      }),
    );
  });

  it('a Bézier outline is followed within the bound', () => {
    // Four cubics for a circle lie up to 2.73e-4 of the radius outside it.
    const k = 50 * 0.5522847498;
    const four = `M50 0C50 ${k} ${k} 50 0 50S-50 ${k} -50 0S${-k} -50 0 -50S50 ${-k} 50 0z`;
    const grown = offset(filled(four), 10, { join: 'round', tolerance: 1e-3 });
    close(Math.sqrt(area(grown) / Math.PI), Math.sqrt(7856.18 / Math.PI) + 10, 2e-5);
    expect([...grown.cmds].some((c) => c === Cmd.Arc)).toBe(true);
  });
});
