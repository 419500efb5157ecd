import fc from 'fast-check';
import { PNG } from 'pngjs';
import { decode } from 'jpeg-js';
import { describe, expect, test } from 'vitest';
import { DEFAULT_TARGETS, DRAFTING_DEFAULT, NO_DECISIONS, deliver, prepare } from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { JpegWriter } from '../../src/formats/picture/write-jpeg.js';
import { demoFile, fonts, read } from '../helpers.js';
import { hasPoppler, laidOver, rasterOf } from '../poppler.js';
import { block, drawingOf, lineDrawing, lines, pictured } from './drawn.js';

const exact = { size: 'resolution', marginIn: 'mm', margin: 0 } as const;

describe('what a picture shows', () => {
  test('a black cross of known place is found within half a pixel', () => {
    const [x, y] = [37.123, 61.789];
    const d = drawingOf([
      ...lines([x - 8, y, x + 8, y, x, y - 8, x, y + 8], 0.5),
      ...lines([0, 0, 100, 0, 0, 100, 100, 100], 0.13),
    ]);
    const { pixels, at, picture } = pictured(d, { ...exact, perInch: 200 });
    const { frame } = picture!;
    const dark = (px: number, py: number): number => 255 - at(px, py)[0]!;
    // The weighed middle of the ink along a row that crosses the upright alone, and along a column that crosses the other.
    const middle = (of: (i: number) => number, from: number, to: number): number => {
      let [sum, all] = [0, 0];
      for (let i = from; i < to; i++) {
        sum += (i + 0.5) * of(i);
        all += of(i);
      }
      return sum / all;
    };
    const row = Math.round((frame.top - (y + 5)) * frame.perUnit);
    const column = Math.round((x + 5 - frame.left) * frame.perUnit);
    const foundX = frame.left + middle((i) => dark(i, row), 0, pixels.width) / frame.perUnit;
    const top = Math.round((frame.top - (y + 7)) * frame.perUnit);
    const foundY =
      frame.top - middle((i) => dark(column, i), top, top + Math.round(14 * frame.perUnit)) / frame.perUnit;
    const half = 0.5 / frame.perUnit;
    expect(Math.abs(foundX - x)).toBeLessThan(half / 10);
    expect(Math.abs(foundY - y)).toBeLessThan(half / 10);
  });

  test('a clear ground has no opacity, a white one is white, and one in a colour is that', () => {
    const d = lineDrawing([0, 0, 10, 10]);
    const clear = pictured(d, { pixels: 64, ground: 'clear' });
    expect([clear.pixels.channels, clear.at(60, 60)]).toEqual([4, [0, 0, 0, 0]]);
    expect(pictured(d, { pixels: 64 }).at(60, 60)).toEqual([255, 255, 255]);
    expect(pictured(d, { pixels: 64, ground: 'colour', groundColour: '#123456' }).at(60, 60)).toEqual([
      0x12, 0x34, 0x56,
    ]);
  });

  test('half of a pixel is half as dark, and what lies over it is over it', () => {
    // One pixel to a millimetre: a block that ends in the middle of one.
    const d = drawingOf([block(0, 0, 10, 10, 0xff0000), block(2, 2, 5.5, 8, 0x0000ff)]);
    const { at, pixels } = pictured(d, { ...exact, perInch: 25.4 });
    expect([pixels.width, pixels.height]).toEqual([10, 10]);
    expect([at(0, 0), at(3, 5), at(5, 5), at(9, 9)]).toEqual([
      [255, 0, 0],
      [0, 0, 255],
      [128, 0, 128],
      [255, 0, 0],
    ]);
  });

  test('black only has no colour in it, and lines of the foreground are white on a dark ground', () => {
    const d = drawingOf([...lines([0, 0, 20, 15], 1, 0xff3300), block(5, 5, 9, 9, 0x33aa44)]);
    const { pixels } = pictured(d, { pixels: 200, ink: 'black' });
    const coloured = Array.from({ length: 200 * pixels.height }, (_, i) =>
      pixels.data.subarray(3 * i, 3 * i + 3),
    ).filter(([r, g, b]) => r !== g || g !== b);
    expect(coloured).toEqual([]);
    const seven = drawingOf([
      {
        ...lines([0, 5, 20, 5], 2)[0]!,
        look: { ...DRAFTING_DEFAULT, stroke: { kind: 'index', index: 7 }, width: { kind: 'paper', mm: 2 } },
      },
    ]);
    const dark = pictured(seven, {
      shows: 'box',
      corner: { x: 5, y: 0 },
      opposite: { x: 15, y: 10 },
      pixels: 100,
      margin: 0,
      ground: 'colour',
      groundColour: '#101820',
    });
    expect(dark.at(50, 50)).toEqual([255, 255, 255]);
    expect(dark.ledger.some((r) => r.code === 'foreground-white-on-dark')).toBe(true);
    const light = pictured(seven, {
      shows: 'box',
      corner: { x: 5, y: 0 },
      opposite: { x: 15, y: 10 },
      pixels: 100,
      margin: 0,
    });
    expect(light.at(50, 50)).toEqual([0, 0, 0]);
  });

  test('a line thinner than a pixel is one pixel wide, or as pale as it is thin; either way it is told', () => {
    const d = lineDrawing([0, 5, 20, 5], 0.1);
    const box = {
      shows: 'box',
      corner: { x: 0, y: 0 },
      opposite: { x: 20, y: 10 },
      size: 'resolution',
      perInch: 25.4,
      marginIn: 'mm',
      margin: 0,
    } as const;
    const seen = pictured(d, box);
    expect([seen.at(10, 4), seen.at(10, 5)]).toEqual([
      [128, 128, 128],
      [128, 128, 128],
    ]);
    expect(seen.ledger.find((r) => r.code === 'thin-lines-one-pixel')?.count).toBe(1);
    const pale = pictured(d, { ...box, widths: 'true' });
    expect([pale.at(10, 4), pale.at(10, 5)]).toEqual([
      [242, 242, 242],
      [242, 242, 242],
    ]);
    expect(pale.ledger.some((r) => r.code === 'thin-lines-one-pixel')).toBe(false);
  });

  test('what lies beyond it and what is out of sight is told and counted', () => {
    const d = drawingOf([...lines([0, 0, 10, 0, 0, 50, 10, 50, 0, 60, 10, 60]), block(1, 1, 2, 2)]);
    d.entities[3] = { ...d.entities[3]!, look: { ...d.entities[3]!.look, visible: false } };
    const { ledger } = pictured(d, { shows: 'box', corner: { x: -1, y: -1 }, opposite: { x: 12, y: 12 }, pixels: 100 });
    const count = (code: string): number | undefined => ledger.find((r) => r.code === code)?.count;
    expect([count('beyond-the-picture'), count('hidden-not-drawn')]).toEqual([2, 1]);
  });

  test('law: the same drawing is the same bytes, and a move of both drawing and window changes none', () => {
    fc.assert(
      fc.property(fc.integer({ min: -5000, max: 5000 }), fc.integer({ min: -5000, max: 5000 }), (dx, dy) => {
        const of = (x: number, y: number): Uint8Array =>
          pictured(drawingOf([...lines([x + 1, y + 2, x + 17, y + 9], 0.5), block(x, y, x + 3, y + 3, 0x8800aa)]), {
            shows: 'box',
            corner: { x: x - 1, y: y - 1 },
            opposite: { x: x + 19, y: y + 11 },
            pixels: 160,
          }).bytes;
        expect(Buffer.compare(of(0, 0), of(0, 0))).toBe(0);
        // Moved by whole millimetres, which are not whole pixels of it.
        const [a, b] = [PNG.sync.read(Buffer.from(of(0, 0))), PNG.sync.read(Buffer.from(of(dx, dy)))];
        expect(a.data.every((v, i) => Math.abs(v - b.data[i]!) <= 1)).toBe(true);
      }),
      { numRuns: 20 },
    );
  });

  test('where its bands meet nothing shows: all of it is as its parts are', () => {
    // Eight million pixels are drawn in four bands; the window about where two meet is drawn in one.
    const d = drawingOf([...lines([0, 0, 200, 400, 200, 0, 0, 400], 0.7), block(20, 90, 60, 330, 0x3366cc)]);
    const scale = { size: 'resolution', perInch: 254, marginIn: 'mm', margin: 0 } as const;
    const all = pictured(d, { ...scale, shows: 'box', corner: { x: 0, y: 0 }, opposite: { x: 200, y: 400 } });
    expect(all.pixels.height).toBe(4000);
    const part = pictured(d, { ...scale, shows: 'box', corner: { x: 0, y: 280 }, opposite: { x: 200, y: 320 } });
    let differ = 0;
    for (let y = 0; y < 400; y++)
      for (let x = 0; x < 2000; x++) {
        const [a, b] = [all.at(x, 800 + y), part.at(x, y)];
        if (a.some((v, k) => Math.abs(v - b[k]!) > 1)) differ++;
      }
    expect(differ).toBe(0);
  });
});

const poppler = hasPoppler('pictures were not held against it');

describe('as another program draws it', () => {
  test.skipIf(!poppler)('a sheet as PNG is what poppler draws of the same sheet as PDF', () => {
    const d = prepare(read(demoFile('kestrel-row-section.dxf')), NO_DECISIONS, []).drawing;
    const pdf = deliver(
      d,
      { ...DEFAULT_TARGETS.pdf, options: { pageSize: 'sheets', sheets: d.sheets[0]!.name } },
      'a',
      fonts(),
    );
    const { bytes } = pictured(d, { shows: 'sheet', size: 'resolution', perInch: 150 });
    const [ours, theirs] = [PNG.sync.read(Buffer.from(bytes)), rasterOf(pdf.bytes, 150)];
    expect(Math.abs(ours.width - theirs.width) + Math.abs(ours.height - theirs.height)).toBeLessThanOrEqual(2);
    const { inked, differs } = laidOver(ours, theirs, 0, 0);
    expect(inked).toBeGreaterThan(20_000);
    // Of all pixels of the page.
    expect(differs / (ours.width * ours.height)).toBeLessThan(0.005);
  });
});

describe('the files themselves', () => {
  test('law: a PNG holds the pixels that were put in, as another reader says', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.constantFrom(1, 3, 4),
        fc.integer(),
        (width, height, channels, seed) => {
          const data = Uint8Array.from(
            { length: width * height * channels },
            (_, i) => ((seed ^ (i * 2654435761)) >>> 11) & 255,
          );
          const png = PNG.sync.read(
            Buffer.from(packedPng({ width, height, channels: channels as 1 | 3 | 4, data }, 300)),
          );
          for (let i = 0; i < width * height; i++) {
            const own = [...data.subarray(channels * i, channels * (i + 1))];
            const rgba = channels === 1 ? [own[0], own[0], own[0], 255] : channels === 3 ? [...own, 255] : own;
            expect([...png.data.subarray(4 * i, 4 * i + 4)]).toEqual(rgba);
          }
        },
      ),
    );
  });

  test('a JPEG is near the pixels that were put in, as another reader says, and the nearer the better it is to be', () => {
    const [width, height] = [61, 45];
    const data = new Uint8Array(3 * width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) data.set([4 * x, 5 * y, 128 + 60 * Math.sin(x / 9 + y / 7)], 3 * (y * width + x));
    const off = (quality: number): { mean: number; bytes: number } => {
      const out = new JpegWriter(width, height, quality, 150);
      // In strips, as bands come.
      for (let y = 0; y < height; y += 16) out.rows(data.subarray(3 * width * y, 3 * width * Math.min(height, y + 16)));
      const bytes = out.finish();
      const back = decode(bytes, { useTArray: true, formatAsRGBA: false });
      expect([back.width, back.height]).toEqual([width, height]);
      return { mean: back.data.reduce((s, v, i) => s + Math.abs(v - data[i]!), 0) / data.length, bytes: bytes.length };
    };
    const [low, high, best] = [off(30), off(90), off(100)];
    expect(best.mean).toBeLessThan(0.8);
    expect(high.mean).toBeLessThan(2);
    expect(low.mean).toBeGreaterThan(high.mean);
    expect(low.bytes).toBeLessThan(high.bytes);
  });
});
