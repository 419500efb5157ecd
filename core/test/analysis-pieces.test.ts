import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { PieceKind, directionOf, distanceTo, piecesOfDrawing } from '../src/analysis/pieces.js';
import { drawingOf, dxf, read } from './helpers.js';

/** A quarter circle of radius 2 about (1, 1) from 0° to 90°, and a line from (0, 0) to (3, 4). */
const arcAndLine = () =>
  piecesOfDrawing(
    drawingOf([
      { kind: 'arc', centre: [1, 1, 0], radius: 2, start: 0, end: Math.PI / 2 },
      { kind: 'line', start: [0, 0, 0], end: [3, 4, 0] },
    ] as never),
  );
const near = (got: readonly number[] | null, want: readonly number[]): void => {
  got!.forEach((v, i) => expect(v).toBeCloseTo(want[i]!, 12));
};

describe('the pieces of a drawing', () => {
  it('are exact: an arc by its centre, radius and sweep, a line by its ends', () => {
    const p = arcAndLine();
    expect([...p.kind]).toEqual([PieceKind.arc, PieceKind.line]);
    near([...p.arcs.slice(0, 5)], [1, 1, 2, 0, Math.PI / 2]);
    near([...p.ends.slice(0, 4)], [3, 1, 1, 3]);
    expect(p.courses.map((c) => [c.closed, c.count])).toEqual([
      [false, 1],
      [false, 1],
    ]);
    // The box of the arc ends at its ends: it passes no other outermost point.
    const { minX, minY, maxX, maxY } = p.courses[0]!.box;
    near([minX, minY, maxX, maxY], [1, 1, 3, 3]);
  });

  it('know which way they set out and arrive', () => {
    const p = arcAndLine();
    near(directionOf(p, 0, false), [0, 1]);
    near(directionOf(p, 0, true), [-1, 0]);
    near(directionOf(p, 1, false), [0.6, 0.8]);
  });

  it('know how far a point is, and whether beside them or beyond an end', () => {
    const p = arcAndLine();
    const told = (i: number, x: number, y: number): [number, boolean] => {
      const { away, within } = distanceTo(p, i, x, y);
      return [Number(away.toFixed(12)), within];
    };
    // At 45° the circle is √2 and √2 from its centre.
    expect(told(0, 1 + Math.SQRT2, 1 + Math.SQRT2)).toEqual([0, true]);
    expect(told(0, 1, 1)[0]).toBe(2);
    // Below its beginning: nearest is that end, (3, 1).
    expect(told(0, 3, -1)).toEqual([2, false]);
    // (4, -3) is square to the line through its middle: 5 from (0, 0) along the other way.
    expect(told(1, 1.5 + 0.8, 2 - 0.6)).toEqual([1, true]);
    expect(told(1, 6, 8)).toEqual([5, false]);
  });

  it('of a closed polyline with a bulge close up; its arcs turn as they are drawn', () => {
    const p = piecesOfDrawing(
      read(dxf([0, 'LWPOLYLINE', 8, '0', 90, 3, 70, 1, 10, 0, 20, 0, 42, 1, 10, 4, 20, 0, 42, 0, 10, 2, 20, 6])),
    );
    const [course] = p.courses;
    expect([course!.closed, course!.count]).toEqual([true, 3]);
    // A bulge of 1 is half a circle to the right of the chord: it reaches down to y = -2.
    expect(course!.box.minY).toBeCloseTo(-2, 9);
    near([...p.arcs.slice(0, 3)], [2, 0, 2]);
    expect(p.arcs[4]).toBeCloseTo(Math.PI, 9);
  });

  it('are never farther from a point than their ends, and touch it where they pass', () => {
    const n = fc.double({ min: -20, max: 20, noNaN: true });
    const turn = fc.double({ min: 0, max: 6, noNaN: true });
    fc.assert(
      fc.property(
        n,
        n,
        fc.double({ min: 0.5, max: 9, noNaN: true }),
        turn,
        fc.double({ min: 0.1, max: 6, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        n,
        n,
        (cx, cy, r, start, sweep, t, x, y) => {
          const p = piecesOfDrawing(
            drawingOf([{ kind: 'arc', centre: [cx, cy, 0], radius: r, start, end: start + sweep }] as never),
          );
          const on = start + t * sweep;
          expect(distanceTo(p, 0, cx + r * Math.cos(on), cy + r * Math.sin(on)).away).toBeLessThan(1e-9);
          const ends = Math.min(Math.hypot(x - p.ends[0]!, y - p.ends[1]!), Math.hypot(x - p.ends[2]!, y - p.ends[3]!));
          expect(distanceTo(p, 0, x, y).away).toBeLessThanOrEqual(ends + 1e-9);
        },
      ),
    );
  });

  it('are gathered once for a drawing', () => {
    const d = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [3, 4, 0] }] as never);
    expect(piecesOfDrawing(d)).toBe(piecesOfDrawing(d));
  });
});
