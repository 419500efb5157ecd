import { describe, expect, test } from 'vitest';
import { DEFAULT_TARGETS, deliver, pictureHead, readWorldFile } from '../../src/index.js';
import { frameAround } from '../../src/formats/picture/frame.js';
import { windowOf } from '../../src/formats/picture/made.js';
import { worldFile } from '../../src/formats/picture/place-files.js';
import { Box2 } from '../../src/geometry/box.js';
import { fonts, lineDrawing } from './drawn.js';

const sheet = Box2.of(1000, 500, 1420, 797);
const at = (pxPerInch: number, margin = 0) =>
  ({ size: 'resolution', perInch: pxPerInch, marginIn: 'mm', margin }) as const;

describe('the whole pixels of a picture', () => {
  test('the window grows to them, so that the scale is exact', () => {
    const f = frameAround(sheet, 1, at(150));
    expect([f.width, f.height]).toEqual([2481, 1754]);
    const w = windowOf(f);
    expect(w.width).toBeCloseTo(420.116, 3);
    expect(w.height).toBeCloseTo(297.011, 3);
    expect([w.minX, w.maxY]).toEqual([1000, 797]);
    expect(1 / f.perUnit).toBeCloseTo(0.169333, 6);
  });

  test('its place, as a world file: the centre of the first pixel', () => {
    const w = worldFile(frameAround(sheet, 1, at(150)));
    [0.169333, 0, 0, -0.169333].forEach((v, i) => expect(w[i]).toBeCloseTo(v, 6));
    expect(w[4]).toBeCloseTo(1000.0847, 4);
    expect(w[5]).toBeCloseTo(796.9153, 4);
    expect(readWorldFile(`${w.join('\r\n')}\r\n`)).toEqual(w);
    expect(readWorldFile('1\n0\n0\n-1\n5')).toBeNull();
    expect(readWorldFile('{"unit": "mm"}')).toBeNull();
  });

  test('a margin is of whole pixels too: 10 mm at 150 are 60', () => {
    const bare = frameAround(sheet, 1, at(150));
    const f = frameAround(sheet, 1, at(150, 10));
    expect([f.width - bare.width, f.height - bare.height]).toEqual([120, 120]);
    expect(f.left).toBeCloseTo(1000 - (60 * 25.4) / 150, 9);
  });

  test('a number of pixels is that number, with its margin in percent', () => {
    const f = frameAround(sheet, 1, { size: 'pixels', pixels: 1000, marginIn: 'percent', margin: 5 });
    expect(f.width).toBe(1000);
    // 5 % of 420 on either side of 420: 21 of 462, so 45 of 1000.
    expect((1000 - f.left * 0 - 420 * f.perUnit) / 2).toBeCloseTo(45, 0);
    // In inches the same picture has the same pixels.
    const inches = frameAround(Box2.of(0, 0, 420 / 25.4, 297 / 25.4), 25.4, at(150));
    expect([inches.width, inches.height]).toEqual([2481, 1754]);
  });

  test('what comes out even stays: 100 mm at 254 to the inch are 1000 pixels', () =>
    expect(frameAround(Box2.of(0, 0, 100, 100), 1, at(254)).width).toBe(1000));

  test('A0 at 300 is drawn, and one larger than a picture may be is refused with what could be had', () => {
    const a0 = frameAround(Box2.of(0, 0, 841, 594), 1, at(300));
    expect([a0.width, a0.height]).toEqual([9934, 7016]);
    expect((a0.width * a0.height) / 1e6).toBeCloseTo(69.7, 1);
    const large = (): unknown => frameAround(Box2.of(0, 0, 9000, 4000), 1, at(150));
    expect(large).toThrow(/53150 × 23623 pixels, 1255\.6 million.*Ask for up to \d+(\.\d+)? pixels per inch/);
    const most = Number(/up to ([\d.]+) pixels/.exec(String(catching(large)))![1]);
    expect(() => frameAround(Box2.of(0, 0, 9000, 4000), 1, at(most))).not.toThrow();
  });
});

const catching = (run: () => unknown): unknown => {
  try {
    return run();
  } catch (e) {
    return (e as Error).message;
  }
};

describe('the resolution that a file can state', () => {
  const made = (format: 'png' | 'jpeg', pxPerInch: number) =>
    deliver(lineDrawing([0, 0, 20, 10]), { ...DEFAULT_TARGETS[format], options: at(pxPerInch) }, 'a', fonts());

  test('a PNG counts whole pixels to the metre: 150 is 5906 of them, and a row says so', () => {
    const { bytes, ledger, beside } = made('png', 150);
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    const chunk = Buffer.from(bytes).indexOf('pHYs');
    expect([view.getUint32(chunk + 4), view.getUint32(chunk + 8), bytes[chunk + 12]]).toEqual([5906, 5906, 1]);
    expect(pictureHead(bytes)!.pxPerInch).toBeCloseTo(150.0124, 4);
    expect(ledger.find((r) => r.code === 'picture-resolution-rounded')?.reason).toContain('150.0124');
    expect(beside.map((b) => b.ending)).toEqual(['pgw', 'png.json']);
    expect(JSON.parse(beside[1]!.text)).toMatchObject({ unit: 'mm', pixelsPerInch: 150 });
  });

  test('a JPEG holds 150 exactly, and states nothing where nothing is near', () => {
    const exact = made('jpeg', 150);
    expect(pictureHead(exact.bytes)!.pxPerInch).toBe(150);
    expect(exact.ledger.some((r) => r.carryOver === 'scale')).toBe(false);
    const coarse = made('jpeg', 1.4);
    expect(pictureHead(coarse.bytes)!.pxPerInch).toBeNull();
    expect(coarse.ledger.some((r) => r.code === 'picture-without-resolution')).toBe(true);
  });
});
