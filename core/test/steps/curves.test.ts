import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Kept, Polyline } from '../../src/index.js';
import { chordsOfArc, offOfStep } from '../../src/geometry/arc-chords.js';
import { cubicOff, cubicParts } from '../../src/geometry/arc-cubics.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { runsOf } from '../../src/drawing/courses.js';
import { nodeCount } from '../../src/geometry/path.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { apart, arc, chain, circle, cornersOf, drawn, kindsOf, lengthOfAll, line, placed, stepOn } from './judge.js';

const path = (data: string): never => ({ kind: 'path', path: parsePathData(data).path }) as never;
const ellipse = (a: number, b: number): never =>
  ({ kind: 'ellipse', centre: [5, 3, 0], major: [a, 0, 0], ratio: b / a, start: 0, end: 2 * Math.PI }) as never;
/** A quarter of radius 50 as the rational quadratic that it is exactly. */
const rational = (weight = Math.SQRT1_2): never =>
  ({
    kind: 'spline',
    degree: 2,
    knots: Float64Array.of(0, 0, 0, 1, 1, 1),
    points: Float64Array.of(50, 0, 0, 50, 50, 0, 0, 50, 0),
    weights: Float64Array.of(1, weight, 1),
    closed: false,
    periodic: false,
  }) as never;
const areaOf = (d: Drawing): number => Math.abs(areaOfPieces(runsOf(d.entities[0]!)![0]!.pieces));

describe('curves to chords', () => {
  const chords = (d: Drawing, params: Kept) => stepOn(d, 'curves-to-chords', params);
  it('a circle of radius 50: 0.1 asks for 50 chords, 0.0987 off; 0.01 for 158, 0.00988 off', () => {
    for (const [bound, n, off] of [
      [0.1, 50, 0.0987],
      [0.01, 158, 0.00988],
    ] as const) {
      const d = drawn(circle(0, 0, 50));
      const made = chords(d, { bound });
      expect(cornersOf(made.entities[0]).length / 2).toBe(n);
      expect(made.entities[0]).toMatchObject({ closed: true });
      expect(made.row('curves-as-chords')!.deviation!.value).toBeCloseTo(off, 4);
      expect(made.against).toEqual([]);
    }
    const d = drawn(circle(0, 0, 50));
    expect(apart(d, chords(d, { bound: 0.1 }).drawing)).toBeCloseTo(0.0987, 3);
  });
  it('touching from outside for a bolt’s hole, or half way: more than the area, less, or nearly the same', () => {
    const area = (side: string): number => areaOf(chords(drawn(circle(0, 0, 50)), { bound: 0.1, side }).drawing);
    expect(area('inscribed')).toBeLessThan(Math.PI * 2500);
    expect(area('circumscribed')).toBeGreaterThan(Math.PI * 2500);
    // Half way lies as far out as in, and is nearer in area than either: by x² (1/2 − 2/3) with x the half step.
    expect(Math.abs(area('half') - Math.PI * 2500)).toBeLessThan((Math.PI * 2500 - area('inscribed')) / 1.9);
    for (const side of ['circumscribed', 'half']) {
      const d = drawn(circle(0, 0, 50), arc(200, 0, 50, 20, 140));
      const made = chords(d, { bound: 0.1, side });
      expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.1 + 2e-4);
      expect(made.against).toEqual([]);
    }
  });
  it('the same chords whichever way the curve runs, and for two neighbours', () => {
    const bulge = Math.tan(Math.PI / 12);
    const d = drawn(
      chain([0, 0, 60, 20], false, { bulges: Float64Array.of(bulge, 0) }),
      chain([60, 20, 0, 0], false, { bulges: Float64Array.of(-bulge, 0) }),
    );
    const made = chords(d, { bound: 0.01 });
    const pairs = (i: number) =>
      cornersOf(made.entities[i])
        .join(' ')
        .match(/\S+ \S+/g)!;
    expect(pairs(1).reverse()).toEqual(pairs(0));
    const [a, b] = made.entities as unknown as { points: Float64Array }[];
    expect([...b!.points].sort()).toEqual([...a!.points].sort());
  });
  it('by the longest chord, and by the turn of each', () => {
    const corners = (params: Kept) => cornersOf(chords(drawn(circle(0, 0, 50)), params).entities[0]).length / 2;
    expect(corners({ by: 'angle', angle: 10 })).toBe(36);
    // 2·50·sin(π/n) ≤ 10: n ≥ π / asin 0.1 = 31.36.
    expect(corners({ by: 'longest', longest: 10 })).toBe(32);
  });
  it('free curves, ellipses and splines of any kind; straight ones are left alone', () => {
    const d = drawn(path('M0 0C10 40 60 40 80 0L90 0'), ellipse(60, 25), rational(), line(0, 0, 9, 9));
    const made = chords(d, { bound: 0.05 });
    expect(kindsOf(made.entities)).toBe('path polyline polyline line');
    expect(made.entities[3]).toBe(d.entities[3]);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.05 + 2e-4);
    expect(made.against).toEqual([]);
  });
  it('in a block at ten times the size there are more of them', () => {
    const made = chords(placed([circle(0, 0, 5)], [{ at: [0, 0] }, { at: [99, 0], scale: [10, 10, 10] }]), {
      bound: 0.1,
    });
    expect([...made.drawing.blocks.values()].map((b) => cornersOf(b.entities[0]).length / 2)).toEqual([
      chordsOfArc(5, 2 * Math.PI, { by: 'sagitta', bound: 0.1, longest: 1, angle: 1, side: 'inscribed' }),
      50,
    ]);
    expect(made.against).toEqual([]);
  });
  it('what was said of steps is what they come to', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 1e4, noNaN: true }),
        fc.double({ min: 1e-5, max: 0.2, noNaN: true }),
        fc.constantFrom('inscribed' as const, 'circumscribed' as const, 'half' as const),
        (r, part, side) => {
          const rules = { by: 'sagitta' as const, bound: r * part, longest: 1, angle: 1, side };
          const n = chordsOfArc(r, 2 * Math.PI, rules);
          expect(offOfStep(r, (2 * Math.PI) / n, side)).toBeLessThanOrEqual(r * part * (1 + 1e-6));
          if (n > 3) expect(offOfStep(r, (2 * Math.PI) / (n - 1), side)).toBeGreaterThan(r * part * (1 - 1e-6));
        },
      ),
    );
  });
});

describe('curves to Béziers', () => {
  const beziers = (d: Drawing, params: Kept = {}) => stepOn(d, 'curves-to-beziers', params);
  it('radius 50: off by 0.01363 in 4 pieces, 0.00357 in 5, 0.00119 in 6, 0.000473 in 7, 0.000212 in 8', () => {
    expect([4, 5, 6, 7, 8].map((n) => 50 * cubicOff((2 * Math.PI) / n))).toEqual(
      [0.01363, 0.00357, 0.00119, 0.000473, 0.000212].map((v) => expect.closeTo(v, 5) as number),
    );
    expect(cubicParts(50, 2 * Math.PI, 0.001)).toBe(7);
  });
  it('a bound of 0.001 asks for 7, with quarter points for 8', () => {
    const d = drawn(circle(0, 0, 50));
    const pieces = (params: Kept): number => {
      const e = beziers(d, { bound: 0.001, ...params }).entities[0] as unknown as { path: { cmds: Uint8Array } };
      return e.path.cmds.filter((c) => c === 3).length;
    };
    expect([pieces({ quarters: false }), pieces({ quarters: true })]).toEqual([7, 8]);
    const made = beziers(d, { bound: 0.001 });
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.001);
    expect(made.against).toEqual([]);
  });
  it('lines stay lines, or become cubics too; rounded corners keep their points', () => {
    const d = drawn(
      chain([0, 0, 40, 0, 50, 10, 50, 40], false, { bulges: Float64Array.of(0, Math.tan(Math.PI / 8), 0, 0) }),
      line(0, 9, 9, 9),
    );
    const made = beziers(d, { bound: 0.01 });
    expect([...(made.entities[0] as unknown as { path: { cmds: Uint8Array } }).path.cmds]).toEqual([0, 1, 3, 1]);
    expect(made.entities[1]).toBe(d.entities[1]);
    const all = beziers(d, { bound: 0.01, lines: true });
    expect(kindsOf(all.entities)).toBe('path path');
    expect([...(all.entities[0] as unknown as { path: { cmds: Uint8Array } }).path.cmds]).toEqual([0, 3, 3, 3]);
    expect(all.against).toEqual([]);
  });
  it('an exact rational arc is recognised rather than fitted', () => {
    const made = beziers(drawn(rational()), { bound: 0.02 });
    expect(nodeCount((made.entities[0] as unknown as { path: { cmds: Uint8Array; data: Float64Array } }).path)).toBe(2);
    expect(made.against).toEqual([]);
    const other = beziers(drawn(rational(0.9)), { bound: 0.02 });
    expect(other.entities).toMatchObject([{ kind: 'path' }]);
    expect(other.against).toEqual([]);
  });
});

describe('curves to arcs', () => {
  const arcs = (d: Drawing, bound: number) => stepOn(d, 'curves-to-arcs', { bound });
  const bulgesOf = (d: Drawing, i = 0): number => (d.entities[i] as unknown as { bulges: Float64Array }).bulges.length;
  it('an ellipse of 60 × 25 within 0.01, without a kink', () => {
    const d = drawn(ellipse(60, 25));
    const made = arcs(d, 0.01);
    expect(made.entities).toMatchObject([{ kind: 'polyline', closed: true }]);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.01 + 2e-4);
    const { pieces } = runsOf(made.entities[0]!)![0]!;
    pieces.forEach((p, i) => {
      const q = pieces[(i + 1) % pieces.length]!;
      if (p.kind !== 'arc' || q.kind !== 'arc') return;
      const [t, u] = [
        p.start + p.sweep + (Math.sign(p.sweep) * Math.PI) / 2,
        q.start + (Math.sign(q.sweep) * Math.PI) / 2,
      ];
      expect(Math.abs(Math.sin((t - u) / 2))).toBeLessThan(0.01);
    });
    expect(bulgesOf(made.drawing)).toBeLessThanOrEqual(48);
    expect(made.against).toEqual([]);
  });
  it('corners stay corners, straight and circular pieces stay as they are', () => {
    const d = drawn(path('M0 0C20 40 40 40 60 0L90 0A15 15 0 0 1 90 30C70 40 40 70 0 0'));
    const made = arcs(d, 0.02);
    expect(made.entities).toMatchObject([{ kind: 'path' }]);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.02 + 2e-4);
    expect(arcs(made.drawing, 0.02).entities).toBe(made.entities);
    expect(made.against).toEqual([]);
  });
  it('fewer for a wider bound', () => {
    const spline = {
      kind: 'spline',
      degree: 3,
      knots: Float64Array.of(0, 0, 0, 0, 1, 2, 2, 2, 2),
      points: Float64Array.of(0, 0, 0, 20, 50, 0, 50, -30, 0, 80, 40, 0, 100, 0, 0),
      closed: false,
      periodic: false,
    } as never;
    const counts = [1, 0.1, 0.01, 0.001].map((bound) => bulgesOf(arcs(drawn(spline), bound).drawing));
    expect(counts).toEqual([...counts].sort((a, b) => a - b));
    expect(counts[0]).toBeLessThan(12);
    expect(counts[3]).toBeLessThan(90);
  });
  it('any cubic within any bound', () => {
    const n = fc.integer({ min: -50, max: 50 });
    fc.assert(
      fc.property(fc.tuple(n, n, n, n, n, n), fc.constantFrom(1, 0.1, 0.01), ([a, b, c, e, f, g], bound) => {
        const d = drawn(path(`M0 0C${a} ${b} ${c} ${e} ${f} ${g}`));
        const made = arcs(d, bound);
        expect(made.against).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('only polylines', () => {
  const only = (d: Drawing, step = 'curves-to-arcs', more: Kept = {}) =>
    stepOn(d, step, { kinds: 'polylines', ...more });
  const d = drawn(
    line(0, 0, 9, 0, { layer: 'B' }),
    arc(20, 0, 5, 30, 300),
    circle(40, 0, 5),
    path('M0 20H10V30H0Z'),
    path('M20 20C30 40 40 0 50 20'),
    chain([0, 50, 9, 50, 9, 59]),
  );
  it('lines, arcs, circles and outlines are polylines with the same arcs, and polylines stay the very same', () => {
    const made = only(d);
    expect(new Set(made.entities.map((e) => e.kind))).toEqual(new Set(['polyline']));
    expect(made.entities[5]).toBe(d.entities[5]);
    expect(made.entities[0]).toMatchObject({ layer: 'B', closed: false });
    expect(made.entities.map((e) => (e as Polyline).closed)).toEqual([false, false, true, true, false, false]);
    // All but the free curve lie exactly where they lay.
    const exact = { ...d, entities: d.entities.filter((_, i) => i !== 4) };
    expect(lengthOfAll(only(exact).drawing)).toBeCloseTo(lengthOfAll(exact), 9);
    expect(made.against).toEqual([]);
    expect(only(made.drawing).drawing).toBe(made.drawing);
  });
  it('of chords alone where arcs are not known either', () => {
    const made = only(d, 'curves-to-chords', { bound: 0.01 });
    expect(made.entities.every((e) => e.kind === 'polyline' && !e.bulges?.some((b) => b !== 0))).toBe(true);
    expect(made.against).toEqual([]);
  });
  it('what has several outlines is told', () => {
    const ring = drawn(path('M0 0H10V10H0Z M2 2H8V8H2Z'));
    const made = only(ring);
    expect(made.drawing).toBe(ring);
    expect(made.reasons).toEqual(['no-polyline-holds-it']);
  });
});
