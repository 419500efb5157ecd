import { describe, expect, it } from 'vitest';
import { Box2 } from '../../src/geometry/box.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { headOfAddress } from '../../src/formats/picture/address-head.js';
import { markerPlaces } from '../../src/formats/svg/read-markers.js';
import { parseTransform, transformOrigin } from '../../src/formats/svg/transforms.js';

describe('where markers stand', () => {
  const places = (d: string) =>
    markerPlaces(parsePathData(d).path).map((p) => [p.role, p.x, p.y, Math.round((p.angle * 180) / Math.PI)]);
  it('at the start, the corners and the end, half way between the directions there', () => {
    expect(places('M0 0H10V10')).toEqual([
      ['start', 0, 0, 0],
      ['mid', 10, 0, 45],
      ['end', 10, 10, 90],
    ]);
  });
  it('a closed path starts and ends half way between its last and its first direction', () => {
    expect(places('M0 0H10V20Z').map((p) => [p[0], p[3]])).toEqual([
      ['start', -58],
      ['mid', 45],
      ['mid', 167],
      ['end', -58],
    ]);
  });
  it('a curve whose handle lies on its end points where it goes', () => {
    expect(places('M0 0C0 0 10 0 10 10')[0]).toEqual(['start', 0, 0, 0]);
  });
});

describe('the size of a picture', () => {
  const data = (type: string, bytes: number[]): string =>
    `data:image/${type};base64,${btoa(String.fromCharCode(...bytes))}`;
  it('of a PNG from its header, of a JPEG from its frame, past other segments', () => {
    const png = [0x89, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, 0, 0, 1, 44, 0, 0, 0, 200];
    expect(headOfAddress(data('png', png))).toMatchObject({ width: 300, height: 200 });
    const jpeg = [0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 2, 0xff, 0xc2, 0, 17, 8, 0, 120, 0, 160, 3];
    expect(headOfAddress(data('jpeg', jpeg))).toMatchObject({ width: 160, height: 120 });
  });
  it('is not known where the bytes do not say', () => {
    expect(headOfAddress(data('jpeg', [0xff, 0xd8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]))).toBeNull();
    expect(headOfAddress('data:image/png,plain')).toBeNull();
    expect(headOfAddress('data:image/png;base64,!!!!')).toBeNull();
  });
});

describe('transforms of the style sheet', () => {
  it('take units for lengths and angles', () => {
    const m = parseTransform('translate(1in, 10mm) rotate(.25turn)')!;
    expect([m[9], m[10]]).toEqual([96, expect.closeTo(37.795, 3)]);
    expect([m[0], m[1]]).toEqual([expect.closeTo(0, 12), expect.closeTo(1, 12)]);
  });
  it('turn about words and percentages of a frame', () => {
    const frame = Box2.of(10, 20, 110, 60);
    expect(transformOrigin('center', frame, 16)).toEqual([60, 40]);
    expect(transformOrigin('bottom right', frame, 16)).toEqual([110, 60]);
    expect(transformOrigin('25% 4px', frame, 16)).toEqual([35, 24]);
  });
});
