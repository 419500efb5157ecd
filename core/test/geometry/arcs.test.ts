import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { bulgeArc, bulgeOf, ccwSweep, chordCount } from '../../src/geometry/arcs.js';

describe('the arc of a bulge', () => {
  it('of 1 is a half turn about the middle of the chord', () => {
    const a = bulgeArc(0, 0, 10, 0, 1)!;
    expect([a.cx, a.cy, a.radius]).toEqual([5, 0, 5]);
    expect(a.sweep).toBeCloseTo(Math.PI, 14);
    // Counter-clockwise from (0,0) to (10,0) runs below the chord.
    expect(a.cy + a.radius * Math.sin(a.start + a.sweep / 2)).toBeCloseTo(-5, 12);
  });

  it('of tan 22.5° is a quarter turn: chord √2 r, centre where the square closes', () => {
    // From (10, 0) to (0, 10) about (0, 0).
    const a = bulgeArc(10, 0, 0, 10, Math.tan(Math.PI / 8))!;
    expect(a.cx).toBeCloseTo(0, 12);
    expect(a.cy).toBeCloseTo(0, 12);
    expect(a.radius).toBeCloseTo(10, 12);
    expect(a.start).toBeCloseTo(0, 12);
  });

  it('negative turns clockwise', () => {
    const a = bulgeArc(0, 0, 10, 0, -1)!;
    expect(a.sweep).toBeCloseTo(-Math.PI, 14);
  });

  it('is straight for bulge 0, an empty chord, and a radius beyond use', () => {
    expect(bulgeArc(0, 0, 1, 0, 0)).toBeNull();
    expect(bulgeArc(3, 3, 3, 3, 0.5)).toBeNull();
    expect(bulgeArc(0, 0, 1, 0, 1e-300)).toBeNull();
  });

  it('starts and ends at its vertices, whatever the bulge', () => {
    const n = fc.double({ min: -1e4, max: 1e4, noNaN: true });
    const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    const chord = fc
      .tuple(between(-Math.PI, Math.PI), between(1e-2, 1e4))
      .map(([a, l]) => [l * Math.cos(a), l * Math.sin(a)] as const);
    const bulge = fc.tuple(between(1e-4, 8), fc.boolean()).map(([b, minus]) => (minus ? -b : b));
    fc.assert(
      fc.property(n, n, chord, bulge, (x0, y0, [dx, dy], b) => {
        const [x1, y1] = [x0 + dx, y0 + dy];
        const a = bulgeArc(x0, y0, x1, y1, b)!;
        const size = Math.abs(a.cx) + Math.abs(a.cy) + a.radius;
        expect(Math.abs(a.cx + a.radius * Math.cos(a.start) - x0)).toBeLessThan(1e-9 * size);
        expect(Math.abs(a.cy + a.radius * Math.sin(a.start + a.sweep) - y1)).toBeLessThan(1e-9 * size);
        expect(bulgeOf(a.sweep)).toBeCloseTo(b, 9);
      }),
    );
  });
});

it('equal angles are a whole turn', () => {
  expect(ccwSweep(1, 1)).toBeCloseTo(2 * Math.PI, 14);
  expect(ccwSweep(0.5, 0.25)).toBeCloseTo(2 * Math.PI - 0.25, 14);
});

it('chords stay within the tolerance of their arc', () => {
  for (const tolerance of [1, 0.1, 1e-3, 1e-5]) {
    const n = chordCount(10, 2, tolerance);
    expect(10 * (1 - Math.cos(1 / n))).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
  }
  expect(chordCount(0, 1, 0.1)).toBe(1);
  expect(chordCount(1e9, 6, 1e-9)).toBe(4096);
});
