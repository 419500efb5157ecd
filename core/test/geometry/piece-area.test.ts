import { expect, it } from 'vitest';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { momentsOf } from '../../src/geometry/planar/moments.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { piecesOf } from '../../src/geometry/path-pieces.js';
import { containersOf } from '../../src/geometry/nesting.js';

it('the area of closed pieces is that of Green’s theorem by quadrature, whatever their kind', () => {
  for (const data of [
    'M0 0H10V5H0Z',
    'M0 0Q10 0 10 10T0 20Z',
    'M1 1C9 2 12 9 4 14S-6 4 1 1Z',
    'M0 0A9 4 20 0 1 12 3A9 9 0 1 0 0 0Z',
    'M0 0A5 5 0 0 0 10 0Q3 20 0 0Z',
  ]) {
    const { path } = parsePathData(data);
    expect(areaOfPieces(piecesOf(path, true)[0]!.pieces)).toBeCloseTo(momentsOf(path).area, 9);
  }
  // A parabola over its chord encloses two thirds of the rectangle about it: chord 12, rise 3.
  expect(Math.abs(areaOfPieces(piecesOf(parsePathData('M0 0Q6 6 12 0Z').path, true)[0]!.pieces))).toBeCloseTo(24, 12);
});

it('what lies in what, the smallest first', () => {
  const pieces = (data: string) => piecesOf(parsePathData(data).path, true)[0]!.pieces;
  const list = ['M0 0H90V90H0Z', 'M10 10H50V50H10Z', 'M20 20H30V30H20Z', 'M60 60H70V70H60Z', 'M200 0H210V10H200Z'];
  expect(containersOf(list.map(pieces))).toEqual([[], [0], [1, 0], [0], []]);
});
