import { describe, expect, it } from 'vitest';
import { coordinatesPreview, parseCoordinates } from '@scalaria/core';
import { whyNot } from '../src/routes/coordinates-dialog';
import { firstPlace } from '../src/routes/drawing/take-in-under';
import { isCoordinateText, jobAddress } from '../src/routes/uploads';

const read = (text: string, choices = {}) => {
  const r = parseCoordinates(text, choices);
  return {
    ...r,
    outlines: r.outlines.length,
    moreWrong: 0,
    unit: null,
    preview: coordinatesPreview(r.outlines, r.third),
  };
};

describe('coordinates before they are taken in', () => {
  it.each([
    ['', {}, /Paste or type/],
    ['1,2,3,4\n5,6,7,8\n9,1,2,3', {}, /before decimals/],
    ['0 0\n1 x\n2 2\n3 0', {}, /^A line cannot be read/],
    ['0 0\n1 x\n2 y\n3 0\n1 1\n2 2', {}, /^2 lines cannot be read/],
    ['0 0 1\n100 0 1', {}, /third number/],
    ['# nothing', {}, /no coordinates/],
  ])('%j waits for a word', (text, choices, why) => {
    expect(whyNot(read(text, choices), text === '', 'a.txt')).toMatch(why);
  });
  it('waits for nothing once all is said, but for a name', () => {
    expect(whyNot(read('0 0 1\n100 0 1', { third: 'bulge' }), false, 'a.txt')).toBeNull();
    expect(whyNot(read('0 0\n1 0\n1 1'), false, '  ')).toMatch(/name/);
    expect(whyNot(null, false, 'a.txt')).toMatch(/Being read/);
  });
  it('is seen as it is read: a circle of two points reaches as high as it is wide, y pointing down on the page', () => {
    const { preview } = read('0 0 1\n100 0 1', { third: 'bulge' });
    expect(preview.d).toBe('M0 0A50 50 0 0 0 100 0A50 50 0 0 0 0 0Z');
    expect([preview.box?.minY, preview.box?.maxY].map((v) => Math.round(v!))).toEqual([-50, 50]);
    expect(read('0 0\n4 0\n4 3').preview.d).toBe('M0 0L4 0L4 -3Z');
  });
  it('text is told by its ending, and what was said goes with the file', () => {
    expect(['a.CSV', 'b.xyz', 'c.txt', 'd.dxf', 'e.png'].map(isCoordinateText)).toEqual([
      true,
      true,
      true,
      false,
      false,
    ]);
    expect(jobAddress('j', 'a.csv', false, { third: 'bulge', unit: 'mm' })).toMatch(/name=a\.csv&third=bulge&unit=mm$/);
    expect(jobAddress('j', 'a.png', false, { unit: 'mm' })).toMatch(/pictures\?name=a\.png$/);
  });
});

describe('where a picture lies at first', () => {
  const bounds = { minX: 10, minY: 20, maxX: 410 };
  const picture = { width: 1200, height: 600, pxPerInch: 300 };
  it('as large as it says it is: 1200 px at 300 to the inch are 101.6 mm', () => {
    const made = firstPlace(picture, bounds, { unit: 'mm', scale: 1 });
    expect(made.at).toEqual({ x: 10, y: 20 });
    expect(made.right.x).toBeCloseTo(111.6, 9);
    expect(made.up.y).toBeCloseTo(70.8, 9);
    // One unit of the file is ten of the drawing: in the file it is a tenth.
    expect(firstPlace(picture, bounds, { unit: 'mm', scale: 10 }).right.x).toBeCloseTo(20.16, 9);
  });
  it('as wide as the drawing where it says nothing, or while the unit is open', () => {
    expect(firstPlace({ ...picture, pxPerInch: null }, bounds, { unit: 'mm', scale: 1 }).right.x).toBeCloseTo(410, 9);
    expect(firstPlace(picture, bounds, { unit: null, scale: 1 }).up.y).toBeCloseTo(220, 9);
    expect(firstPlace(picture, null, { unit: null, scale: 1 })).toMatchObject({ right: { x: 1200, y: 0 } });
  });
});
