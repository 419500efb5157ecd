import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Kept } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, dataAddress, deliver, prepare, proofOf, readBack } from '../../src/index.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { resampled } from '../../src/formats/picture/resampled.js';
import { JpegWriter } from '../../src/formats/picture/write-jpeg.js';
import { fonts, read, svg } from '../helpers.js';
import { hasPoppler } from '../poppler.js';

const [w, h] = [600, 300];
const rgb = Uint8Array.from({ length: 3 * w * h }, (_, i) => ((i % (3 * w)) / 3 < w / 2 ? 200 : 40));
const png = packedPng({ width: w, height: h, channels: 3, data: rgb }, 300);
const jpeg = (): Uint8Array => {
  const out = new JpegWriter(w, h, 90, 300);
  out.rows(rgb);
  return out.finish();
};

/** A picture of 50.8 × 25.4 mm (2 × 1 inches) as a PDF, proven; and what another program finds in it. */
async function written(bytes: Uint8Array, media: 'image/png' | 'image/jpeg', options: Kept) {
  const source = read(
    svg(
      `<image href="${dataAddress(media, bytes)}" width="50.8" height="25.4"/><image href="${dataAddress(media, bytes)}" y="40" width="25.4" height="12.7"/>`,
    ),
    'a.svg',
  );
  const prepared = prepare(source, NO_DECISIONS, []);
  const made = deliver(prepared.drawing, { ...DEFAULT_TARGETS.pdf, options }, 'a', fonts());
  const { proof } = proofOf(source, prepared, made, await readBack(made.bytes, 'a.pdf'), fonts());
  const file = join(mkdtempSync(join(tmpdir(), 'scalaria-pdf-')), 'a.pdf');
  writeFileSync(file, made.bytes);
  const lines = execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' }).trim().split('\n').slice(2);
  // Columns of pdfimages: page, number, type, width, height, …, encoding in the ninth, x-ppi in the thirteenth.
  const images = lines
    .map((l) => l.trim().split(/\s+/))
    .map((c) => ({ size: [Number(c[3]), Number(c[4])], as: c[8], perInch: Number(c[12]) }));
  return { made, proof, images };
}

const poppler = hasPoppler('nobody else counts the pixels of pictures in PDF files');

describe.skipIf(!poppler)('pictures in a PDF at a chosen number of pixels to the inch', () => {
  it('keep all they have unless it is asked for, each once', async () => {
    const { images, made } = await written(png, 'image/png', {});
    expect(images.map((i) => i.size)).toEqual([
      [600, 300],
      [600, 300],
    ]);
    expect(made.ledger.some((r) => r.code === 'pictures-in-fewer-pixels')).toBe(false);
  });
  it.each([
    ['image/png', png, 'image'],
    ['image/jpeg', jpeg(), 'jpeg'],
  ] as const)(
    '%s: 150 to the inch are 300 × 150 pixels on two inches, 150 × 75 on one, as another program says',
    async (media, bytes, as) => {
      const { images, made, proof } = await written(bytes, media, { picturesAt: 150 });
      expect(images).toEqual([
        { size: [300, 150], as, perInch: 150 },
        { size: [150, 75], as, perInch: 150 },
      ]);
      expect(made.ledger.find((r) => r.code === 'pictures-in-fewer-pixels')).toMatchObject({
        count: 2,
        onPurpose: true,
      });
      expect(proof.holds).toBe(true);
    },
  );
  it('never gain pixels', async () => {
    const { images } = await written(png, 'image/png', { picturesAt: 1200 });
    expect(images[0]!.size).toEqual([600, 300]);
  });
});

describe('fewer pixels', () => {
  it('are the mean of what they cover', () => {
    const two = resampled({ width: 3, height: 1, channels: 1, data: Uint8Array.of(0, 100, 200) }, 2, 1);
    // The middle one is shared by halves: (0 + 50) / 1.5 and (50 + 200) / 1.5.
    expect([...two.data]).toEqual([33, 167]);
  });
  it('clear pixels lend no colour', () => {
    const data = Uint8Array.of(255, 0, 0, 255, 0, 0, 255, 0);
    expect([...resampled({ width: 2, height: 1, channels: 4, data }, 1, 1).data]).toEqual([255, 0, 0, 128]);
  });
  it('law: the mean of all stays, but for rounding', () => {
    const size = fc.integer({ min: 1, max: 12 });
    fc.assert(
      fc.property(size, size, size, size, fc.integer({ min: 0, max: 1e6 }), (width, height, to, down, seed) => {
        fc.pre(to <= width && down <= height);
        const data = Uint8Array.from({ length: width * height }, (_, i) => (seed * (i + 7)) % 251);
        const mean = (d: Uint8Array): number => d.reduce((s, v) => s + v, 0) / d.length;
        const made = resampled({ width, height, channels: 1, data }, to, down);
        expect(Math.abs(mean(made.data) - mean(data))).toBeLessThan(0.51);
      }),
    );
  });
});
