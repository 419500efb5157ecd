import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Box2 } from '../../src/geometry/box.js';
import { Cmd, PathBuilder } from '../../src/geometry/path.js';
import type { PathData } from '../../src/geometry/path.js';
import { piecesOf, pointAt } from '../../src/geometry/path-pieces.js';
import { TooIntricate } from '../../src/geometry/crossings.js';
import { Region } from '../../src/geometry/region.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { often } from '../depth.js';

const path = (d: string): PathData => parsePathData(d).path;
const box = (x: number, y: number, w: number, h: number): PathData => path(`M${x} ${y}h${w}v${h}h${-w}z`);
const circle = (x: number, y: number, r: number): PathData =>
  new PathBuilder()
    .moveTo(x + r, y)
    .arcTo(r, r, 0, false, true, x - r, y)
    .arcTo(r, r, 0, false, true, x + r, y)
    .close()
    .build();
const region = (...paths: PathData[]): Region => new Region(paths.map((p) => ({ path: p, rule: 'nonzero' })));

/** Signed area by the shoelace rule over fine chords. */
function area(p: PathData, fineness = 4000): number {
  let sum = 0;
  for (const { pieces } of piecesOf(p, true))
    for (const piece of pieces) {
      const n = piece.kind === 'bezier' && piece.p.length === 4 ? 1 : fineness;
      for (let k = 0; k < n; k++) {
        const [a, b] = [pointAt(piece, k / n), pointAt(piece, (k + 1) / n)];
        sum += (a[0] * b[1] - b[0] * a[1]) / 2;
      }
    }
  return sum;
}
function length(p: PathData): number {
  let sum = 0;
  for (const { pieces } of piecesOf(p, false))
    for (const piece of pieces)
      for (let k = 0; k < 2000; k++)
        sum += Math.hypot(
          pointAt(piece, (k + 1) / 2000)[0] - pointAt(piece, k / 2000)[0],
          pointAt(piece, (k + 1) / 2000)[1] - pointAt(piece, k / 2000)[1],
        );
  return sum;
}

describe('what is filled, cut to an area', () => {
  it('a circle half out of a box: a half disc bounded by an arc of the same circle', () => {
    const cut = region(box(0, -10, 20, 20)).cutFill(circle(0, 0, 5), 'nonzero');
    expect(area(cut)).toBeCloseTo((Math.PI * 25) / 2, 4);
    const arcs = [...cut.cmds].filter((c) => c === Cmd.Arc).length;
    expect(arcs).toBeGreaterThan(0);
    expect([...cut.cmds].filter((c) => c === Cmd.Line || c === Cmd.Close).length).toBeGreaterThan(0);
    for (const { pieces } of piecesOf(cut, true))
      for (const p of pieces)
        if (p.kind === 'arc') expect([p.cx, p.cy, p.rx].map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([0, 0, 5]);
  });
  it('a lens of two circles has the area of the formula', () => {
    // Radii 5, centres 6 apart: 2r²·acos(d/2r) − d/2·√(4r²−d²).
    const lens = 50 * Math.acos(0.6) - 3 * Math.sqrt(100 - 36);
    expect(area(region(circle(6, 0, 5)).cutFill(circle(0, 0, 5), 'nonzero'))).toBeCloseTo(lens, 4);
  });
  it('keeps holes, whichever rule makes them', () => {
    const ring = path('M0 0h10v10h-10zM3 3h4v4h-4z');
    expect(Math.abs(area(region(box(5, -1, 20, 20)).cutFill(ring, 'evenodd')))).toBeCloseTo(50 - 8, 9);
    const turned = path('M0 0h10v10h-10zM3 3v4h4v-4z');
    expect(area(region(box(5, -1, 20, 20)).cutFill(turned, 'nonzero'))).toBeCloseTo(42, 9);
  });
  it('a box with a common edge, inside and outside of it', () => {
    expect(area(region(box(0, 0, 10, 10)).cutFill(box(0, 0, 4, 10), 'nonzero'))).toBeCloseTo(40, 9);
    expect(region(box(0, 0, 10, 10)).cutFill(box(10, 0, 4, 10), 'nonzero').cmds.length).toBe(0);
    expect(area(region(box(0, 0, 10, 10)).cutFill(box(0, 0, 10, 10), 'nonzero'))).toBeCloseTo(100, 9);
  });
  it('the union of two overlapping shapes is one area', () => {
    const r = region(box(0, 0, 6, 10), box(4, 0, 6, 10));
    expect(area(r.cutFill(box(-5, 2, 20, 3), 'nonzero'))).toBeCloseTo(30, 9);
    expect(r.cutLines(path('M-5 5H20'))).toEqual(path('M0 5H10'));
  });
  it('an area around everything gives back the whole', () => {
    const star = path('M0 3L1 -3L-3 1H3L-1 -3Z');
    expect(area(region(box(-9, -9, 18, 18)).cutFill(star, 'nonzero'))).toBeCloseTo(area(star), 9);
  });
  it('where outlines run along each other, not quite the same, nothing more is lost than lies between them', () => {
    // A vault of cubics, and the same with its corners moved by a little: as art has it that was copied and rounded.
    const vault = (a: number, b: number): PathData =>
      path(
        `M${64 + a} ${14.5 + b}c-73.8.39-58.67 84.68-58.67 84.68s8.29 14.6 8.28 14.31c-.27-11.78 4.45-32.63 7.79-41.5c1.68-4.48 6.33-7.08 11.04-6.23` +
          `c7.23 1.31 18.75 2.93 31.46 2.93h.28c12.71 0 24.23-1.62 31.46-2.93c4.71-.85 9.35 1.75 11.04 6.23c3.34 8.88 8.06 29.73 7.79 41.5` +
          `c-.01.29 8.28-14.31 8.28-14.31s${15.12 + a} ${-84.29 + b}-58.7-84.68z`,
      );
    const plain = Math.abs(area(vault(0, 0), 200));
    let refused = 0;
    const little = fc.tuple(
      fc.integer({ min: 1, max: 10 }),
      fc.constantFrom(0, 1e-9, 1e-7, 1e-6, 1e-5, 1e-4, 1e-3, 1e-2),
    );
    fc.assert(
      fc.property(little, little, fc.boolean(), ([m, u], [n, v], evenodd) => {
        const [a, b] = [m * u, -n * v];
        let cut: PathData;
        try {
          cut = region(vault(a, b)).cutFill(vault(0, 0), evenodd ? 'evenodd' : 'nonzero');
        } catch (e) {
          // Refused in time: what it clips is left whole, and said.
          expect(e).toBeInstanceOf(TooIntricate);
          refused++;
          return;
        }
        // Its outline is some 400 long.
        expect(Math.abs(Math.abs(area(cut, 200)) - plain)).toBeLessThan(
          400 * (Math.abs(a) + Math.abs(b)) + 400 * 1e-5 * 160,
        );
      }),
      { numRuns: 60 },
    );
    expect(refused).toBeLessThan(20);
  });

  it('is what counting points says, for random triangles and curves', () => {
    const at = fc.integer({ min: -40, max: 40 }).map((v) => v + 0.137);
    fc.assert(
      fc.property(
        fc.array(at, { minLength: 8, maxLength: 8 }),
        fc.array(at, { minLength: 6, maxLength: 6 }),
        fc.boolean(),
        (c, t, odd) => {
          const clip = path(`M${t[0]} ${t[1]}L${t[2]} ${t[3]}L${t[4]} ${t[5]}Z`);
          const shape = path(`M${c[0]} ${c[1]}C${c[2]} ${c[3]} ${c[4]} ${c[5]} ${c[6]} ${c[7]}Z`);
          const rule = odd ? ('evenodd' as const) : ('nonzero' as const);
          const r = region(clip);
          const cut = new Region([{ path: r.cutFill(shape, rule), rule }]);
          const whole = new Region([{ path: shape, rule }]);
          let wrong = 0;
          for (let x = -40; x <= 40; x += 2.3)
            for (let y = -40; y <= 40; y += 2.1)
              if (cut.contains(x, y) !== (whole.contains(x, y) && r.contains(x, y))) wrong++;
          // Single points may lie on a chord of one and not of the other.
          expect(wrong).toBeLessThanOrEqual(1);
        },
      ),
      { numRuns: often(300) },
    );
  });
});

describe('lines cut to an area', () => {
  it('stay parts of the same curve, as long as what lies inside', () => {
    const cut = region(box(-10, 0, 20, 20)).cutLines(circle(0, 0, 5));
    expect(length(cut)).toBeCloseTo(5 * Math.PI, 4);
    expect([...cut.cmds].filter((c) => c === Cmd.Move).length).toBe(1);
  });
  it('fall into pieces where the area has gaps', () => {
    const cut = region(box(0, 0, 2, 2), box(4, 0, 2, 2)).cutLines(path('M-1 1H7'));
    expect(cut).toEqual(path('M0 1H2M4 1H6'));
  });
  it('tell at once what is wholly in or out', () => {
    const r = region(circle(0, 0, 10));
    const at = (x: number, y: number, s: number): string => r.side(Box2.of(x, y, x + s, y + s));
    expect([at(-1, -1, 2), at(20, 20, 2), at(8, 0, 4), at(8, 8, 1)]).toEqual(['in', 'out', 'across', 'out']);
  });
});
