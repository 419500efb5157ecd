import { describe, expect, it } from 'vitest';
import { boundsOf, conversion, lengthOf } from '../../src/index.js';
import { drawingOf } from '../helpers.js';

describe('extents', () => {
  it('of an ellipse turned by 45°: half width √((a² + b²)/2)', () => {
    const h = Math.SQRT1_2;
    const d = drawingOf([
      {
        kind: 'ellipse',
        centre: [10, 20, 0],
        major: [5 * h, 5 * h, 0],
        ratio: 0.4,
        start: 0,
        end: 2 * Math.PI,
      } as never,
    ]);
    const b = boundsOf(d);
    const half = Math.sqrt((25 + 4) / 2);
    expect(b.minX).toBeCloseTo(10 - half, 10);
    expect(b.maxY).toBeCloseTo(20 + half, 10);
  });
  it('of an arc reach its quarter points only where it passes them', () => {
    const arc = (start: number, end: number) =>
      boundsOf(drawingOf([{ kind: 'arc', centre: [0, 0, 0], radius: 2, start, end } as never]));
    const a = arc(Math.PI / 4, (3 * Math.PI) / 4);
    expect(a.maxY).toBeCloseTo(2, 12);
    expect(a.minX).toBeCloseTo(-Math.SQRT2, 12);
    expect(a.minY).toBeCloseTo(Math.SQRT2, 12);
    expect(arc(0, Math.PI / 2).minX).toBeCloseTo(0, 12);
    expect(arc(1, 1).width).toBeCloseTo(4, 12);
  });
  it('of a bulge of 1 include the half circle', () => {
    const b = boundsOf(
      drawingOf([
        {
          kind: 'polyline',
          points: Float64Array.of(0, 0, 10, 0),
          dim: 2,
          elevation: 0,
          closed: false,
          bulges: Float64Array.of(1, 0),
        } as never,
      ]),
    );
    expect([b.minX, b.minY, b.maxX, b.maxY].map((v) => Number(v.toFixed(9)) + 0)).toEqual([0, -5, 10, 0]);
  });
  it('of a circle on a mirrored plane lie on the other side', () => {
    // Extrusion (0, 0, −1): x in the object system runs against x in space.
    const b = boundsOf(drawingOf([{ kind: 'circle', centre: [10, 3, 0], radius: 1, normal: [0, 0, -1] } as never]));
    expect([b.minX, b.maxX, b.minY]).toEqual([-11, -9, 2]);
  });
});

describe('length', () => {
  it('of circles, arcs and bulges in closed form', () => {
    const d = drawingOf([
      { kind: 'circle', centre: [0, 0, 0], radius: 3 } as never,
      { kind: 'arc', centre: [0, 0, 0], radius: 2, start: 0, end: 1.5 } as never,
      {
        kind: 'polyline',
        points: Float64Array.of(0, 0, 10, 0, 10, 5),
        dim: 2,
        elevation: 0,
        closed: false,
        bulges: Float64Array.of(1, 0, 0),
      } as never,
    ]);
    expect(lengthOf(d.entities[0]!)).toBeCloseTo(6 * Math.PI, 12);
    expect(lengthOf(d.entities[1]!)).toBeCloseTo(3, 12);
    expect(lengthOf(d.entities[2]!)).toBeCloseTo(5 * Math.PI + 5, 12);
  });
  it('of an ellipse 2:1 by quadrature: 9.688448220547675 for half axes 2 and 1', () => {
    const d = drawingOf([
      { kind: 'ellipse', centre: [0, 0, 0], major: [2, 0, 0], ratio: 0.5, start: 0, end: 2 * Math.PI } as never,
    ]);
    expect(lengthOf(d.entities[0]!)).toBeCloseTo(9.688448220547675, 9);
  });
});

it('units convert exactly', () => {
  expect(conversion('in', 'mm')).toBe(25.4);
  expect(conversion('ft', 'mm')).toBe(304.8);
  expect(conversion('ft-us', 'm')).toBeCloseTo(1200 / 3937, 16);
  expect(conversion('ft-us', 'm')).not.toBe(0.3048);
  expect(conversion('m', 'mm')).toBe(1000);
});
