import { crc32 } from 'node:zlib';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, Image, Renderer } from '../../src/index.js';
import { NO_DECISIONS, dataAddress, pictureHead, prepare, readDrawing } from '../../src/index.js';
import { asStored } from '../../src/formats/picture/as-stored.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { JpegWriter } from '../../src/formats/picture/write-jpeg.js';
import { hop, risks, svg } from '../helpers.js';
import { renderer } from '../witness/renderer.js';
import { ascii, exif, joined, orientation, segmented } from './exif.js';

let judge: Renderer;
beforeAll(async () => {
  judge = await renderer();
});

const [WIDE, HIGH] = [48, 32];
/** The colours of the four quarters of what a person is to see: upper left, upper right, lower left, lower right. */
const SEEN = [
  [220, 30, 30],
  [30, 160, 40],
  [30, 60, 200],
  [230, 200, 40],
] as const;

/**
 * How the tag numbers the ways a picture can be stored (Exif 2.32, table of tag 0x0112): where its first row and its first column are seen.
 */
const STORED: Record<number, readonly [row: string, column: string]> = {
  1: ['top', 'left'],
  2: ['top', 'right'],
  3: ['bottom', 'right'],
  4: ['bottom', 'left'],
  5: ['left', 'top'],
  6: ['right', 'top'],
  7: ['right', 'bottom'],
  8: ['left', 'bottom'],
};

/** The picture as it is stored so that it is seen as it should be: worked out from where row and column are seen alone. */
function stored(way: number): { width: number; height: number; data: Uint8Array } {
  const [row, column] = STORED[way]!;
  const upright = row === 'top' || row === 'bottom';
  const [width, height] = upright ? [WIDE, HIGH] : [HIGH, WIDE];
  const data = new Uint8Array(3 * width * height);
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      // How far the row and the column are from the edges that the first ones are seen at.
      const from = (edge: string, k: number): readonly [x: number | null, y: number | null] =>
        edge === 'left'
          ? [k, null]
          : edge === 'right'
            ? [WIDE - 1 - k, null]
            : [null, edge === 'top' ? k : HIGH - 1 - k];
      const [a, b] = [from(row, r), from(column, c)];
      const [x, y] = [a[0] ?? b[0]!, a[1] ?? b[1]!];
      data.set(SEEN[(x >= WIDE / 2 ? 1 : 0) + (y >= HIGH / 2 ? 2 : 0)]!, 3 * (r * width + c));
    }
  return { width, height, data };
}

function photo(way: number, little = true): Uint8Array {
  const { width, height, data } = stored(way);
  const out = new JpegWriter(width, height, 95, 254);
  out.rows(data);
  return segmented(out.finish(), 0xe1, exif(way, little));
}

function png(way: number): Uint8Array {
  const plain = packedPng({ ...stored(way), channels: 3 }, 254);
  const chunk = [...ascii('eXIf'), ...orientation(way, false)];
  const words = (v: number): number[] => [24, 16, 8, 0].map((k) => (v >>> k) & 255);
  const sum = words(crc32(Uint8Array.from(chunk)));
  return joined(plain.subarray(0, 33), words(chunk.length - 4), chunk, sum, plain.subarray(33));
}

/** The colours of the quarters of a drawing as an SVG of it shows them, to whole tens. */
function quarters(drawing: Drawing): number[][] {
  const { made, proof } = hop(drawing, { format: 'svg' });
  expect(risks(proof)).toEqual([]);
  const seen = judge.draw(made.bytes, false, { size: 480, larger: 1 })!;
  expect([seen.width, seen.height]).toEqual([480, 320]);
  return [
    [120, 80],
    [360, 80],
    [120, 240],
    [360, 240],
  ].map(([x, y]) => [0, 1, 2].map((k) => seen.pixels[4 * (y! * 480 + x!) + k]!));
}
const near = (got: number[][]): void =>
  got.forEach((c, i) => c.forEach((v, k) => expect(Math.abs(v - SEEN[i]![k]!), `quarter ${i}`).toBeLessThan(16)));

describe('a photo that says how it is to be shown', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('stored as way %i is seen upright, whoever looks', (way) => {
    for (const bytes of [photo(way), photo(way, false), png(way)]) {
      const { drawing, ledger } = readDrawing(bytes, 'photo.jpg');
      expect(ledger).toEqual([]);
      expect(drawing.page).toMatchObject({ x: 0, y: 0, width: WIDE, height: HIGH });
      const [image] = drawing.entities as [Image];
      // It lies turned, so it says so no more: nobody turns it twice.
      const held = Uint8Array.from(Buffer.from(image.data!.split(',')[1]!, 'base64'));
      expect(pictureHead(held)!.turning?.value ?? 1).toBe(1);
      near(quarters(drawing));
    }
  });

  it('is traced as it is seen', () => {
    const { drawing } = readDrawing(png(6), 'photo.png');
    const plan = [{ id: 't', step: 'trace-pictures', on: true, params: { by: 'colours', ground: 'none' } }];
    const made = prepare(drawing, NO_DECISIONS, plan).drawing;
    const corner = made.entities.find((e) => e.look.fill.kind === 'rgb' && e.look.fill.rgb === 0xdc1e1e);
    if (corner?.kind !== 'path') throw new Error('no red area');
    const xs = corner.path.data.filter((_, i) => i % 2 === 0);
    const ys = corner.path.data.filter((_, i) => i % 2 === 1);
    // The upper left quarter of 4.8 × 3.2 mm.
    const box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    box.forEach((v, i) => expect(v).toBeCloseTo([0, 1.6, 2.4, 3.2][i]!, 6));
  });

  it('says it no more in its own bytes, all others of which stay; a sum of a chunk is right again', () => {
    for (const bytes of [photo(6), png(8)]) {
      const out = asStored(bytes);
      expect(out).toHaveLength(bytes.length);
      const other = [...out].filter((b, i) => b !== bytes[i]).length;
      // The value, and the four bytes of the sum of the chunk that it stands in.
      expect(other).toBeLessThanOrEqual(5);
      expect(other).toBeGreaterThan(0);
    }
    const out = asStored(png(8));
    const at = Buffer.from(out).indexOf('eXIf');
    const length = new DataView(out.buffer).getUint32(at - 4);
    expect(new DataView(out.buffer).getUint32(at + 4 + length)).toBe(crc32(out.subarray(at, at + 4 + length)));
    const plain = photo(1);
    expect(asStored(plain)).toBe(plain);
  });

  it('that breaks off, leads out of its segment or says a number that is none, says nothing', () => {
    const whole = exif(6, true);
    const jpeg = photo(1);
    const turnedIn = (content: number[]): number => pictureHead(segmented(jpeg, 0xe1, content))!.turning?.value ?? 1;
    expect(turnedIn(whole)).toBe(6);
    for (let n = 6; n < whole.length - 4; n++) expect(turnedIn(whole.slice(0, n)), `${n} bytes`).toBe(1);
    const astray = exif(6, true);
    astray[13] = 0xff;
    expect(turnedIn(astray)).toBe(1);
    for (const no of [0, 9, 255]) expect(turnedIn(exif(no, false))).toBe(1);
  });

  it('and lies in a drawing is told: what shows the drawing may turn it', () => {
    const held = (bytes: Uint8Array) =>
      readDrawing(
        svg(`<image width="60" height="40" href="${dataAddress('image/jpeg', bytes)}"/>`),
        'a.svg',
      ).ledger.map((r) => r.code);
    expect(held(photo(6))).toEqual(['picture-turning-not-followed']);
    expect(held(photo(1))).toEqual([]);
  });
});
