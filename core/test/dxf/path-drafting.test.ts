import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { evaluate, nurbsFault } from '../../src/geometry/nurbs.js';
import { cubicAt } from '../../src/geometry/beziers.js';
import { fillLoops, splitSubpaths, subpaths, nodeCount } from '../../src/geometry/path.js';
import { draftingCurve } from '../../src/formats/drafting/path-drafting.js';
import { parsePathData } from '../../src/geometry/path-data.js';

const path = (d: string) => parsePathData(d).path;
const curve = (d: string) => draftingCurve(path(d));

/** A composite spline as a NURBS that can be evaluated. */
function nurbs(d: string) {
  const c = curve(d);
  if (c?.form !== 'spline') throw new Error(`${c?.form} instead of a spline`);
  const n = { degree: 3, knots: c.knots, points: c.points, ...(c.weights && { weights: c.weights }) };
  expect(nurbsFault(n)).toBeNull();
  return (u: number): number[] => {
    const p = [0, 0, 0];
    evaluate(n, u, p);
    return p;
  };
}

describe('lines and circular arcs become one polyline', () => {
  it('with bulges: a stadium', () => {
    const c = curve('M0 0H10A5 5 0 0 1 10 10H0A5 5 0 0 1 0 0Z');
    expect(c).toMatchObject({ form: 'polyline', closed: true });
    if (c?.form !== 'polyline') return;
    expect(Array.from(c.points)).toEqual([0, 0, 10, 0, 10, 10, 0, 10]);
    const bulges = Array.from(c.bulges);
    expect(bulges[0]).toBe(0);
    expect(bulges[1]).toBeCloseTo(1, 12);
    expect(bulges[3]).toBeCloseTo(1, 12);
  });
  it('a sweep flag of 0 turns the other way', () => {
    const c = curve('M0 0A5 5 0 0 0 10 0');
    expect(c?.form === 'polyline' && c.bulges[0]).toBeCloseTo(-1, 12);
  });
  it('an arc with a radius that is too small is half a circle', () => {
    const c = curve('M0 0A1 1 0 0 1 10 0');
    expect(c?.form === 'polyline' && c.bulges[0]).toBeCloseTo(1, 12);
  });
});

describe('elliptic arcs', () => {
  it('alone, or in halves of the same ellipse, become one ellipse', () => {
    const half = curve('M-4 0A4 2 0 0 1 4 0');
    expect(half?.form).toBe('ellipse');
    const whole = curve('M-4 0A4 2 0 0 1 4 0A4 2 0 0 1 -4 0Z');
    expect(whole?.form === 'ellipse' && Math.abs(whole.arc.sweep)).toBeCloseTo(2 * Math.PI, 9);
  });
  it('in company become an exact rational spline', () => {
    const at = nurbs('M4 0A4 2 0 0 1 -4 0L-10 0');
    // The first half of the parameters runs over the arc, two quarters of it.
    for (let i = 0; i <= 20; i++) {
      const [x, y] = at((2 * i) / 20);
      expect((x! / 4) ** 2 + (y! / 2) ** 2).toBeCloseTo(1, 12);
    }
    expect(at(3).map((v) => v + 0)).toEqual([-10, 0, 0]);
  });
});

it('cubics and quadratics become the spline that equals them', () => {
  const n = fc.integer({ min: -100, max: 100 });
  fc.assert(
    fc.property(
      fc.array(n, { minLength: 8, maxLength: 8 }),
      n,
      n,
      fc.double({ min: 0, max: 1, noNaN: true }),
      (c, qx, qy, t) => {
        const [x0, y0, x1, y1, x2, y2, x3, y3] = c as [number, number, number, number, number, number, number, number];
        const at = nurbs(`M${x0} ${y0}C${x1} ${y1} ${x2} ${y2} ${x3} ${y3}Q${qx} ${qy} ${x0} ${y0}`);
        expect(at(t)[0]).toBeCloseTo(cubicAt(x0, x1, x2, x3, t), 9);
        expect(at(t)[1]).toBeCloseTo(cubicAt(y0, y1, y2, y3, t), 9);
        const s = 1 - t;
        expect(at(1 + t)[0]).toBeCloseTo(s * s * x3 + 2 * s * t * qx + t * t * x0, 9);
      },
    ),
  );
});

describe('subpaths', () => {
  it('are taken apart; drawing after a close starts where the closed one began', () => {
    const parts = splitSubpaths(path('M0 0H5V5ZM10 10H12ZL0 0'));
    expect(parts.map((p) => Array.from(p.data))).toEqual([
      [0, 0, 5, 0, 5, 5],
      [10, 10, 12, 10],
      [10, 10, 0, 0],
    ]);
    expect(subpaths(path('M0 0H5ZM1 1H2'))).toEqual({ count: 2, closed: 1 });
    expect(nodeCount(path('M0 0H5V5Z'))).toBe(3);
  });
  it('a fill closes what is open and leaves out what has no area', () => {
    const loops = fillLoops(path('M0 0H5V5M10 10H20M30 30A5 5 0 0 1 40 30'));
    expect(loops.map((p) => p.cmds.length)).toEqual([4, 3]);
    expect(loops.every((p) => p.cmds.at(-1) === 5)).toBe(true);
  });
});
