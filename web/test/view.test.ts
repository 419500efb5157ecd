import { describe, expect, it } from 'vitest';
import { fileSize, plainNumber, typedNumber } from '../src/parts/numbers';
import { fit, roundLength, toScreen, toWorld, zoomAt } from '../src/viewport/view';
import { lengthIn, originOnSource, settledLength, sizeIn } from '../src/routes/drawing/take-in-math';
import type { Claims } from '@scalaria/core';
import { NO_DECISIONS } from '@scalaria/core';

const size = { width: 800, height: 600 };

describe('the view', () => {
  it('zooms with the point under the cursor held where it is, far from the origin too', () => {
    let v = { x: 5e6, y: 4e6, scale: 0.3 };
    const before = toWorld(v, size, 123, 456);
    for (let i = 0; i < 40; i++) v = zoomAt(v, size, 123, 456, 1.2);
    const after = toWorld(v, size, 123, 456);
    expect(Math.hypot(after[0] - before[0], after[1] - before[1])).toBeLessThan(1e-6);
  });
  it('turns y over, and world and screen are inverse', () => {
    const v = { x: 10, y: 20, scale: 2 };
    expect(toScreen(v, size, 10, 20)).toEqual([400, 300]);
    expect(toScreen(v, size, 10, 30)).toEqual([400, 280]);
    expect(toWorld(v, size, ...toScreen(v, size, -3, 7))).toEqual([-3, 7]);
  });
  it('fits a box with a margin, and a single line', () => {
    const v = fit({ minX: 0, minY: 0, maxX: 80, maxY: 10 }, size, 0);
    expect(v).toEqual({ x: 40, y: 5, scale: 10 });
    expect(fit({ minX: 0, minY: 5, maxX: 80, maxY: 5 }, size, 0).scale).toBe(7.5);
  });
  it('the scale bar takes 1, 2 or 5', () => {
    expect(roundLength({ x: 0, y: 0, scale: 0.07 }, 180)).toBe(2000);
    expect(roundLength({ x: 0, y: 0, scale: 30 }, 180)).toBe(5);
  });
});

it('numbers as people read and type them', () => {
  expect([0, 1234, 12345.678, -0.5, NaN].map((v) => plainNumber(v))).toEqual([
    '0',
    '1234',
    '12\u2009345.7',
    '−0.5',
    '–',
  ]);
  expect(['1 234,5', '−3', '.5', '1e3', '', '5mm', '1.2.3'].map(typedNumber)).toEqual([
    1234.5,
    -3,
    0.5,
    1000,
    null,
    null,
    null,
  ]);
  expect([12, 1500, 2_500_000].map(fileSize)).toEqual(['12 B', '1.5 kB', '2.5 MB']);
});

describe('taking in', () => {
  const claims = {
    format: 'dxf',
    unit: null,
    bounds: { minX: 0, minY: 0, maxX: 100, maxY: 50 },
    page: null,
  } as unknown as Claims;
  it('shows the size in each candidate unit, and a measured length in all of them', () => {
    expect(sizeIn(claims, NO_DECISIONS, 'in')).toEqual({ width: 100, height: 50 });
    expect(lengthIn(claims, NO_DECISIONS, 10, ['mm'])).toEqual([]);
    expect(lengthIn(claims, { ...NO_DECISIONS, unit: 'in', correction: 2 }, 10, ['mm', 'in'])).toEqual([
      ['mm', 508],
      ['in', 20],
    ]);
  });
  it('knows pixels once their size is decided', () => {
    const px = { ...claims, format: 'svg', unit: { unit: 'px', factor: 1 } } as Claims;
    expect(sizeIn(px, NO_DECISIONS, 'mm')).toBeNull();
    expect(sizeIn(px, { ...NO_DECISIONS, pxPerInch: 100 }, 'in')!.width).toBeCloseTo(1, 12);
    expect(settledLength(px, NO_DECISIONS).viewUnit).toBe('px');
  });
  it('finds the origin on the source, corrected or not', () => {
    const picked = {
      ...NO_DECISIONS,
      unit: 'mm' as const,
      correction: 2,
      origin: { mode: 'point' as const, x: 40, y: 20 },
    };
    expect(originOnSource(claims, picked)).toEqual([20, 10]);
    expect(originOnSource(claims, { ...picked, origin: { mode: 'centre', x: 0, y: 0 } })).toEqual([50, 25]);
  });
});
