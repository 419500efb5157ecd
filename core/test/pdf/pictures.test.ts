import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, proofOf, readBack, readSource, targetFor } from '../../src/index.js';
import { bytesOfAddress, dataAddress } from '../../src/formats/picture/data-address.js';
import { drawingOf, fonts, risks } from '../helpers.js';
import { hasPoppler, rasterOf } from '../poppler.js';
import { handmadePdf } from './handmade.js';
import { plainJpeg } from './jpeg.js';

const poppler = hasPoppler('nobody else sees the pictures of PDF files');

const png = (width: number, height: number, rgba: readonly number[]): Uint8Array => {
  const p = new PNG({ width, height });
  p.data.set(rgba);
  return PNG.sync.write(p);
};
/** A picture from (10, 10) on, each pixel so many mm wide and high. */
const placed = (bytes: Uint8Array, media: 'image/png' | 'image/jpeg', pixels: [number, number], mm: number): Drawing =>
  drawingOf([
    {
      kind: 'image',
      cover: false,
      at: [10, 10, 0],
      u: [mm, 0, 0],
      v: [0, mm, 0],
      pixels,
      data: dataAddress(media, bytes),
    } as never,
  ]);
const written = (drawing: Drawing) => {
  const prepared = prepare(drawing, { ...NO_DECISIONS, unit: 'mm' }, []);
  return { made: deliver(prepared.drawing, targetFor('pdf', { margin: 10 }), 'a', fonts()) };
};
/** The colour in the middle of a pixel of the picture on a page with a margin of 10 mm, as another reader draws it. */
const seen = (bytes: Uint8Array, xMm: number, yMm: number): number[] => {
  const page = rasterOf(bytes, 127);
  // 127 pixels to the inch are 5 to the mm.
  const at = 4 * (Math.round(5 * yMm) * page.width + Math.round(5 * xMm));
  return [...page.data.subarray(at, at + 3)];
};
const near = (rgb: readonly number[], within = 3): unknown =>
  rgb.map((v) => expect.toSatisfy((w: number) => Math.abs(w - v) <= within) as number);

// Red, green; see-through, blue.
const FOUR = png(2, 2, [255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 0, 0, 0, 0, 255, 255]);

describe('pictures written to a PDF', () => {
  // A drafting picture has the colour of its layer: nothing is drawn in it, here as there.
  it.each(['pdf', 'svg'] as const)('are proven, and missed where they are not there: %s', async (format) => {
    const drawing = placed(FOUR, 'image/png', [2, 2], 20);
    const prepared = prepare(drawing, { ...NO_DECISIONS, unit: 'mm' }, []);
    const made = deliver(prepared.drawing, targetFor(format), 'a', fonts());
    const { proof } = proofOf(drawing, prepared, made, await readBack(made.bytes, made.name), fonts());
    expect(risks(proof)).toEqual([]);
    const moved = prepare(placed(FOUR, 'image/png', [2, 2], 21), { ...NO_DECISIONS, unit: 'mm' }, []);
    const other = deliver(moved.drawing, targetFor(format), 'a', fonts());
    const failed = proofOf(drawing, prepared, made, await readBack(other.bytes, other.name), fonts()).proof;
    expect(failed.holds).toBe(false);
  });
  it('a PNG comes back in its place, pixel for pixel, what is clear too', async () => {
    const drawing = placed(FOUR, 'image/png', [2, 2], 20);
    const { made } = written(drawing);
    const back = (await readSource(made.bytes, made.name)).drawing;
    expect(back.entities).toHaveLength(1);
    const [e] = back.entities;
    const mm = 25.4 / 72;
    if (e?.kind !== 'image') throw new Error('no picture came back');
    expect([...e.at, ...e.u, ...e.v].map((v) => Number((v * mm).toFixed(3)))).toEqual([10, 10, 0, 20, 0, 0, 0, 20, 0]);
    const { data } = PNG.sync.read(Buffer.from(bytesOfAddress(e.data!)!.bytes));
    expect([...data]).toEqual([255, 0, 0, 255, 0, 255, 0, 255, data[8], data[9], data[10], 0, 0, 0, 255, 255]);
  });
  it.skipIf(!poppler)('a PNG, as another reader draws it', () => {
    const { made } = written(placed(FOUR, 'image/png', [2, 2], 20));
    expect(seen(made.bytes, 20, 20)).toEqual([255, 0, 0]);
    expect(seen(made.bytes, 40, 20)).toEqual([0, 255, 0]);
    expect(seen(made.bytes, 20, 40)).toEqual([255, 255, 255]);
    expect(seen(made.bytes, 40, 40)).toEqual([0, 0, 255]);
  });
  it.skipIf(!poppler).each([
    ['one channel', plainJpeg([64]), [64, 64, 64]],
    // ITU T.871: luminance 128 and no colour are grey.
    ['three channels', plainJpeg([128, 128, 128]), [128, 128, 128]],
  ])('a JPEG of %s goes out as it is', (_, jpeg, rgb) => {
    const { made } = written(placed(jpeg, 'image/jpeg', [8, 8], 5));
    expect(Buffer.from(made.bytes).includes(Buffer.from(jpeg))).toBe(true);
    expect(seen(made.bytes, 30, 30)).toEqual(near(rgb));
  });
  it.skipIf(!poppler)('four channels are ink as they stand, and turned round where a program has marked them', () => {
    const bare = written(placed(plainJpeg([0, 255, 255, 0]), 'image/jpeg', [8, 8], 5)).made;
    const marked = written(placed(plainJpeg([255, 0, 0, 255], true), 'image/jpeg', [8, 8], 5)).made;
    for (const { bytes } of [bare, marked]) {
      // No cyan, all magenta and yellow: a red, whatever the profile.
      const [r, g, b] = seen(bytes, 30, 30) as [number, number, number];
      expect(r).toBeGreaterThan(180);
      expect(Math.max(g, b)).toBeLessThan(80);
    }
  });
});

describe('what a page paints with', () => {
  // Eight pixels, drawn 80 points wide: the bits 1010 0000.
  const stencil = (more: string): Uint8Array =>
    handmadePdf([{ content: 'q 1 0 0 rg 80 0 0 10 10 20 cm /S Do Q', resources: '/XObject << /S 10 0 R >>' }], {
      objects: [
        `<< /Type /XObject /Subtype /Image /ImageMask true /Width 8 /Height 1 /BitsPerComponent 1 ${more} /Length 1 >>\nstream\n\xa0\nendstream`,
      ],
    });
  it.each([
    ['', [0, 255, 0, 255, 255, 255, 255, 255]],
    ['/Decode [1 0]', [255, 0, 255, 0, 0, 0, 0, 0]],
  ])('a stencil is clear where its bits say so %s', async (more, opacity) => {
    const [e] = (await readSource(stencil(more), 'a.pdf')).drawing.entities;
    if (e?.kind !== 'image') throw new Error('no picture');
    expect([e.at, e.u, e.v]).toEqual([
      [10, 20, 0],
      [10, 0, 0],
      [0, 10, 0],
    ]);
    const { data } = PNG.sync.read(Buffer.from(bytesOfAddress(e.data!)!.bytes));
    expect(Array.from({ length: 8 }, (_, i) => data[4 * i + 3])).toEqual(opacity);
    const inked = opacity.indexOf(255);
    expect([...data.subarray(4 * inked, 4 * inked + 3)]).toEqual([255, 0, 0]);
  });
  it('a shading between circles is a gradient out from the one to the other', async () => {
    const pdf = handmadePdf(
      [{ content: '/Pattern cs /P scn 60 10 80 80 re f', resources: '/Pattern << /P 10 0 R >>' }],
      {
        objects: [
          '<< /PatternType 2 /Shading << /ShadingType 3 /ColorSpace /DeviceRGB /Coords [100 50 0 100 50 40] /Extend [true true] /Function << /FunctionType 2 /Domain [0 1] /C0 [1 0 0] /C1 [0 0 1] /N 1 >> >> >>',
        ],
      },
    );
    const { fill } = (await readSource(pdf, 'a.pdf')).drawing.entities[0]!.look;
    if (fill.kind !== 'gradient') throw new Error('no gradient');
    expect(fill.form).toBe('radial');
    expect(fill.place!.map.map((v) => Number(v.toFixed(6)))).toEqual([40, 0, 0, 40, 100, 50]);
    expect(fill.stops[0]).toMatchObject({ offset: 0, rgb: 0xff0000 });
    expect(fill.stops[fill.stops.length - 1]).toMatchObject({ offset: 1, rgb: 0x0000ff });
  });
});
