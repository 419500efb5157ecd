import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { coordinatesText, parseCoordinates } from '../../src/formats/coordinates/parse.js';

const points = (text: string, choices = {}): number[][][] =>
  parseCoordinates(text, choices).outlines.map((o) => o.points.map((p) => [...p]));
/** The area of an outline of straight edges and bulges: a circular segment more for each bulge b, of the angle 4 · arctan b. */
function area(outline: readonly (readonly number[])[]): number {
  let sum = 0;
  outline.forEach(([x0, y0, b = 0], i) => {
    const [x1, y1] = outline[(i + 1) % outline.length]! as [number, number];
    sum += (x0! * y1 - x1 * y0!) / 2;
    const [angle, chord] = [4 * Math.atan(b), Math.hypot(x1 - x0!, y1 - y0!)];
    const r = b === 0 ? 0 : chord / 2 / Math.sin(angle / 2);
    sum += (r * r * (angle - Math.sin(angle))) / 2;
  });
  return Math.abs(sum);
}

describe('coordinates as text', () => {
  test('two points with a third number are not blamed while it may be a bulge', () => {
    const text = '50 0 1\n150 0 1\n';
    expect(parseCoordinates(text)).toMatchObject({ wrong: [], open: ['third'] });
    expect(parseCoordinates(text, { third: 'bulge' })).toMatchObject({ wrong: [], open: [] });
    expect(parseCoordinates(text, { third: 'height' }).wrong).toMatchObject([{ line: 1 }]);
  });

  test('four points are one outline of 1080, closed whether or not the first is said again', () => {
    const open = '-3 10\n3 10\n3 190\n-3 190\n';
    for (const text of [open, `${open}-3 10\n`]) {
      const read = parseCoordinates(text);
      expect([read.outlines.length, read.columns, read.wrong, read.open]).toEqual([1, 2, [], []]);
      expect(area(read.outlines[0]!.points)).toBe(1080);
    }
  });

  test.each([
    [
      '-3,5;10\n1;2\n3;4',
      [
        [-3.5, 10],
        [1, 2],
        [3, 4],
      ],
    ],
    [
      '-3,5 10\n1 2,25\n3 4',
      [
        [-3.5, 10],
        [1, 2.25],
        [3, 4],
      ],
    ],
    [
      '-3.5, 10\n1, 2\n3, 4',
      [
        [-3.5, 10],
        [1, 2],
        [3, 4],
      ],
    ],
    [
      '-3.5,10\n1,2\n3,4',
      [
        [-3.5, 10],
        [1, 2],
        [3, 4],
      ],
    ],
    [
      '-3,5\t10\n1\t2\n3\t4',
      [
        [-3.5, 10],
        [1, 2],
        [3, 4],
      ],
    ],
    [
      'x;y\n1e1;+2\n.5;4.\n# a note\n3;4 # another\n',
      [
        [10, 2],
        [0.5, 4],
        [3, 4],
      ],
    ],
    [
      '\uFEFF1;2;\r\n3;4;\r\n5;6;\r\n',
      [
        [1, 2],
        [3, 4],
        [5, 6],
      ],
    ],
  ])('%j', (text, want) => expect(points(text)).toEqual([want]));

  test('commas alone between four numbers are asked about, and read either way', () => {
    const text = '1,2,3,4\n5,0,6,0\n7,5,8,5';
    const read = parseCoordinates(text);
    expect([read.open, read.wrong]).toEqual([['decimal'], []]);
    expect(points(text, { decimal: 'comma' })).toEqual([
      [
        [1.2, 3.4],
        [5, 6],
        [7.5, 8.5],
      ],
    ]);
    const point = parseCoordinates(text, { decimal: 'point' });
    expect(point.wrong.map((w) => [w.line, w.reason])).toEqual(
      [1, 2, 3].map((l) => [l, 'there are 4 numbers, and three are the most']),
    );
  });

  test('two points that bulge are a circle of Ø 100', () => {
    const text = '0 0 1\n100 0 1';
    const asked = parseCoordinates(text);
    expect([asked.open, asked.third]).toEqual([['third'], null]);
    expect(asked.evidence).toContain('between −1 and 1');
    const read = parseCoordinates(text, { third: 'bulge' });
    expect([read.open, read.wrong]).toEqual([[], []]);
    expect(area(read.outlines[0]!.points)).toBeCloseTo(7853.98, 2);
    // As heights they are two points, which have no area.
    expect(parseCoordinates(text, { third: 'height' }).wrong[0]!.reason).toContain('no area');
  });

  test('a heading says what the third column is, numbers that are too large speak against bulges', () => {
    expect(parseCoordinates('x y bulge\n0 0 0\n1 0 0\n1 1 0').third).toBe('bulge');
    expect(parseCoordinates('X, Y, Z\n0,0,5\n1,0,5\n1,1,5').third).toBe('height');
    const read = parseCoordinates('0 0 12\n1 0 12\n1 1 12');
    expect([read.third, read.open, read.evidence]).toEqual([
      null,
      ['third'],
      'its numbers go up to 12, further than bulges do',
    ]);
  });

  test('a blank line begins the next outline, a comment alone does not', () => {
    expect(points('0 0\n9 0\n# still the same\n9 9\n\n\n2 2\n3 2\n3 3\n')).toHaveLength(2);
  });

  test('lines that cannot be read are told by number and reason, each', () => {
    const read = parseCoordinates('0;0\n1;two\n3\n4;5;6;7\n8;;9\n1,2.3;4\n1e60;0\n5;5\n9;0\n\n1;1\n');
    expect(read.wrong.map((w) => [w.line, w.reason])).toEqual([
      [2, '“two” is no number'],
      [3, 'there is one number, and x and y are two'],
      [4, 'there are 4 numbers, and three are the most'],
      [5, 'a number is missing between two separators'],
      [6, '“1,2.3” has a comma and a point'],
      [7, '“1e60” is beyond all bounds'],
      [11, 'an outline of one point has no area'],
    ]);
  });

  test('law: what is written reads back the same, number for number', () => {
    const value = fc.double({ min: -1e12, max: 1e12, noNaN: true }).map((v) => (v === 0 ? 0 : v));
    const bulge = fc.double({ min: -1, max: 1, noNaN: true }).map((v) => (v === 0 ? 0 : v));
    const outline = fc.array(fc.tuple(value, value, bulge), { minLength: 3, maxLength: 9 }).filter((p) => {
      const [a, b] = [p[0]!, p[p.length - 1]!];
      return a[0] !== b[0] || a[1] !== b[1];
    });
    fc.assert(
      fc.property(
        fc.array(outline, { minLength: 1, maxLength: 4 }),
        fc.constantFrom('bulge' as const, null),
        (outlines, third) => {
          const given = third ? outlines : outlines.map((o) => o.map(([x, y]) => [x, y]));
          const read = parseCoordinates(coordinatesText(given, third));
          expect([read.wrong, read.open, read.third]).toEqual([[], [], third]);
          expect(read.outlines.map((o) => o.points)).toEqual(given);
        },
      ),
    );
  });

  test('law: no text brings it down, and every line is a point, an end, a comment or told', () => {
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[-+0-9.,;\t ex#a]{0,24}$/), { maxLength: 12 }), (lines) => {
        const read = parseCoordinates(lines.join('\n'));
        if (read.open.includes('decimal')) return;
        const told = new Set(read.wrong.filter((w) => w.text !== '').map((w) => w.line));
        const held = read.outlines.reduce((n, o) => n + o.points.length, 0);
        const content = lines.filter((l) => l.replace(/#.*$/, '').trim() !== '').length;
        // A heading, and a first point that is said again, are neither.
        expect(held + told.size).toBeLessThanOrEqual(content);
        expect(held + told.size).toBeGreaterThanOrEqual(content - 1 - read.outlines.length);
      }),
    );
  });
});
