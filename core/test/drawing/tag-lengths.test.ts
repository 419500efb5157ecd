import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Affine } from '../../src/index.js';
import { IDENTITY, compose, inverse, rotation, scaling, translation } from '../../src/index.js';
import { movedExtended, movedRest } from '../../src/drawing/tag-lengths.js';

const tags = (...list: (string | number)[]): string => list.join('\n') + '\n';
/** Codes with their numbers, rounded to what counts. */
const said = (text: string): (string | number)[][] => {
  const lines = text.split('\n');
  const out: (string | number)[][] = [];
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const n = Number(lines[i + 1]);
    out.push([Number(lines[i]), Number.isFinite(n) ? Number(n.toFixed(9)) + 0 : lines[i + 1]!]);
  }
  return out;
};
/** Twice as large, a quarter turn to the left, then 100 to the right. */
const QUARTER: Affine = [0, 2, 0, -2, 0, 0, 0, 0, 2, 100, 0, 0];

describe('tags that the model has no word for, under a map', () => {
  it('lengths grow by their subclass; what means something else under the same code stays', () => {
    const rest = tags(
      100,
      'AcDbMText',
      42,
      10,
      43,
      5,
      44,
      1.5,
      100,
      'AcDbRadialDimension',
      40,
      3,
      100,
      'AcDbOther',
      40,
      3,
    );
    expect(said(movedRest(rest, scaling(2, 2, 2), 2, false))).toEqual([
      [100, 'AcDbMText'],
      [42, 20],
      [43, 10],
      [44, 1.5],
      [100, 'AcDbRadialDimension'],
      [40, 6],
      [100, 'AcDbOther'],
      [40, 3],
    ]);
    // A shift changes no length, and nothing at all.
    expect(movedRest(rest, translation(5, 5), 1, false)).toBe(rest);
  });

  it('columns go along: the direction turns, the place moves, widths and heights grow', () => {
    const rest = tags(
      100,
      'AcDbMText',
      101,
      'Embedded Object',
      70,
      1,
      10,
      1,
      20,
      0,
      30,
      0,
      11,
      5,
      21,
      6,
      31,
      0,
      40,
      70,
      41,
      0,
      44,
      30,
      45,
      4,
      46,
      12,
      46,
      9,
    );
    expect(said(movedRest(rest, QUARTER, 2, false))).toEqual([
      [100, 'AcDbMText'],
      [101, 'Embedded Object'],
      [70, 1],
      [10, 0],
      [20, 1],
      [30, 0],
      [11, 88],
      [21, 10],
      [31, 0],
      [40, 140],
      [41, 0],
      [44, 60],
      [45, 8],
      [46, 24],
      [46, 18],
    ]);
  });

  it('lines of an attribute go along: the place moves, the angle turns, the words stay', () => {
    const rest = tags(
      101,
      'Embedded Object',
      10,
      11,
      20,
      22,
      30,
      0,
      40,
      2.5,
      41,
      55,
      71,
      1,
      1,
      'one',
      7,
      'Standard',
      50,
      15,
    );
    expect(said(movedRest(rest, QUARTER, 2, false))).toEqual([
      [101, 'Embedded Object'],
      [10, 56],
      [20, 22],
      [30, 0],
      [40, 5],
      [41, 110],
      [71, 1],
      [1, 'one'],
      [7, 'Standard'],
      [50, 105],
    ]);
  });

  it('there and back again is where it was; under a mirror they are left out, since the text around them stays readable', () => {
    const rest = tags(101, 'Embedded Object', 70, 1, 10, 0.6, 20, 0.8, 30, 0, 11, 5, 21, 6, 31, 0, 40, 70, 44, 30);
    const n = fc.double({ min: -50, max: 50, noNaN: true });
    fc.assert(
      fc.property(
        n,
        n,
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        (x, y, turn, k) => {
          const m = compose(translation(x, y), compose(rotation(turn), scaling(k, k, k)));
          const back = movedRest(movedRest(rest, m, k, false), inverse(m)!, 1 / k, false);
          said(back).forEach(([code, value], i) => {
            const [wantCode, want] = said(rest)[i]!;
            expect(code).toBe(wantCode);
            if (typeof want === 'number') expect(value).toBeCloseTo(want, 6);
            else expect(value).toBe(want);
          });
        },
      ),
    );
    expect(movedRest(tags(100, 'AcDbMText', 44, 2) + rest, IDENTITY, 1, true)).toBe(tags(100, 'AcDbMText', 44, 2));
  });
});

describe('extended data under a map', () => {
  it('places, displacements, directions, distances and factors follow; plain points and numbers stay', () => {
    const data = tags(
      1001,
      'KR',
      1010,
      1,
      1020,
      2,
      1030,
      0,
      1011,
      5,
      1021,
      6,
      1031,
      0,
      1012,
      1,
      1022,
      0,
      1032,
      0,
      1013,
      1,
      1023,
      0,
      1033,
      0,
      1040,
      7,
      1041,
      7,
      1042,
      3,
    );
    expect(said(movedExtended(data, QUARTER, 2))).toEqual([
      [1001, 'KR'],
      [1010, 1],
      [1020, 2],
      [1030, 0],
      [1011, 88],
      [1021, 10],
      [1031, 0],
      [1012, 0],
      [1022, 2],
      [1032, 0],
      [1013, 0],
      [1023, 1],
      [1033, 0],
      [1040, 7],
      [1041, 14],
      [1042, 6],
    ]);
  });
  it('without any of these it is the same text, to the letter', () => {
    const data = '1001\r\nKR\r\n1000\r\n1011\r\n';
    expect(movedExtended(tags(1001, 'KR', 1000, 'a', 1040, 5), QUARTER, 2)).toBe(tags(1001, 'KR', 1000, 'a', 1040, 5));
    expect(said(movedExtended(data, QUARTER, 2).replace(/\r/g, ''))).toEqual([
      [1001, 'KR'],
      [1000, 1011],
    ]);
  });
});

it('leaders of every dimension that measures a radius or a diameter grow with the drawing', () => {
  for (const subclass of [
    'AcDbRadialDimension',
    'AcDbDiametricDimension',
    'AcDbArcDimension',
    'AcDbRadialDimensionLarge',
  ])
    expect(said(movedRest(tags(100, subclass, 40, 2.5, 51, 7), scaling(4, 4, 4), 4, false))).toEqual([
      [100, subclass],
      [40, 10],
      [51, 7],
    ]);
});
