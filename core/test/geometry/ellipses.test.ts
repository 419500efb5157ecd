import { describe, expect, it } from 'vitest';
import { endpointToCentre, mapEllipse, principalAxes } from '../../src/geometry/ellipses.js';

describe('an SVG arc command in centre form', () => {
  it('finds the centre of a quarter circle', () => {
    const e = endpointToCentre(10, 0, 10, 10, 0, false, true, 0, 10)!;
    expect(e.cx).toBeCloseTo(0, 12);
    expect(e.cy).toBeCloseTo(0, 12);
    expect(e.sweep).toBeCloseTo(Math.PI / 2, 12);
  });
  it('takes the long way round with the large flag', () => {
    const e = endpointToCentre(10, 0, 10, 10, 0, true, true, 0, 10)!;
    expect(e.cx).toBeCloseTo(10, 12);
    expect(e.cy).toBeCloseTo(10, 12);
    expect(e.sweep).toBeCloseTo(1.5 * Math.PI, 12);
  });
  it('scales radii that are too small up to half the chord', () => {
    const e = endpointToCentre(0, 0, 1, 1, 0, false, true, 10, 0)!;
    expect(e.rx).toBeCloseTo(5, 12);
    expect(e.cx).toBeCloseTo(5, 12);
  });
  it('is nothing for equal ends and a line for a zero radius', () => {
    expect(endpointToCentre(1, 1, 5, 5, 0, false, true, 1, 1)).toBeNull();
    expect(endpointToCentre(0, 0, 0, 5, 0, false, true, 1, 1)).toBeNull();
  });
});

it('the image of a circle under unequal scale has the scales as half axes', () => {
  const e = mapEllipse(3, 0, 0, 0.5, 2, 2, 0);
  expect([e.rx, e.ry]).toEqual([6, 1]);
  expect(e.rotation % Math.PI).toBeCloseTo(0, 12);
});

it('conjugate half diameters give principal axes: u=(2,0), v=(2,1)', () => {
  // The singular values of [[2,2],[0,1]]: squares are the roots of s² − 9 s + 4 = 0.
  const { rx, ry } = principalAxes(2, 0, 2, 1);
  expect(rx * rx).toBeCloseTo((9 + Math.sqrt(65)) / 2, 12);
  expect(ry * ry).toBeCloseTo((9 - Math.sqrt(65)) / 2, 12);
});
