import { expect, it } from 'vitest';
import { PALETTE, exactIndex, nearestIndex } from '../../src/index.js';

it('has the published colours at a few places', () => {
  // Independent list: DXF_DEFAULT_COLORS of python3-ezdxf 0.18.
  const known: [number, number][] = [
    [1, 0xff0000],
    [8, 0x808080],
    [11, 0xff7f7f],
    [12, 0xa50000],
    [13, 0xa55252],
    [21, 0xff9f7f],
    [23, 0xa56752],
    [26, 0x4c1300],
    [31, 0xffbf7f],
    [43, 0xa59152],
    [51, 0xffff7f],
    [58, 0x262600],
  ];
  for (const [i, rgb] of known) expect(PALETTE[i]!.toString(16), `index ${i}`).toBe(rgb.toString(16));
  expect(PALETTE.length).toBe(256);
});

it('takes black for the foreground and white for white', () => {
  expect(exactIndex(0x000000)).toBe(7);
  expect(exactIndex(0xffffff)).toBe(255);
  expect(exactIndex(0x123456)).toBeNull();
  expect(nearestIndex(0xfe0101)).toBe(1);
});
