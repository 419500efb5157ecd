import { deflateSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../src/index.js';
import {
  IDENTITY,
  Ledger,
  NO_DECISIONS,
  buildScene,
  bytesOfAddress,
  claimsOf,
  dataAddress,
  filesNamedBy,
  formatById,
  pictureHead,
  prepare,
  previewSvg,
  runChecks,
  transformDrawing,
  withPictures,
} from '../src/index.js';
import { demoFile, fonts, hop, read, risks, svg, textOf } from './helpers.js';

const be = (n: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => (n >>> (8 * (bytes - 1 - i))) & 255);
const chunk = (name: string, data: number[]): number[] => [
  ...be(data.length, 4),
  ...[...name].map((c) => c.charCodeAt(0)),
  ...data,
  0,
  0,
  0,
  0,
];
/** A PNG without a right checksum: nothing here looks at that. */
const png = (w: number, h: number, ...more: number[]): Uint8Array =>
  Uint8Array.of(
    0x89,
    0x50,
    0x4e,
    0x47,
    13,
    10,
    26,
    10,
    ...chunk('IHDR', [...be(w, 4), ...be(h, 4), 8, 2, 0, 0, 0]),
    ...more,
    ...chunk('IDAT', [...deflateSync(Uint8Array.of(0))]),
  );
/** Start, JFIF head, a table, a frame header. */
const jpeg = (w: number, h: number, unit: number, density: number): Uint8Array =>
  Uint8Array.of(
    0xff,
    0xd8,
    0xff,
    0xe0,
    ...be(16, 2),
    0x4a,
    0x46,
    0x49,
    0x46,
    0,
    1,
    2,
    unit,
    ...be(density, 2),
    ...be(density, 2),
    0,
    0,
    0xff,
    0xc4,
    ...be(4, 2),
    0,
    0,
    0xff,
    0xff,
    0xc2,
    ...be(17, 2),
    8,
    ...be(h, 2),
    ...be(w, 2),
    3,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
    0,
  );

describe('what the first bytes of a picture say', () => {
  it('size and resolution of a PNG: 5906 pixels per metre are 150 per inch', () => {
    const head = pictureHead(png(720, 420, ...chunk('pHYs', [...be(5906, 4), ...be(5906, 4), 1])));
    expect(head).toMatchObject({ media: 'image/png', width: 720, height: 420 });
    expect(head!.pxPerInch).toBeCloseTo(150, 1);
    expect(pictureHead(png(3, 2))!.pxPerInch).toBeNull();
    // Without a unit the numbers say only how square the pixels are.
    expect(pictureHead(png(3, 2, ...chunk('pHYs', [...be(2, 4), ...be(1, 4), 0])))!.pxPerInch).toBeNull();
  });
  it('size and resolution of a JPEG: per inch, or per centimetre', () => {
    expect(pictureHead(jpeg(640, 480, 1, 300))).toEqual({
      media: 'image/jpeg',
      width: 640,
      height: 480,
      pxPerInch: 300,
      turning: null,
      notFollowed: [],
      jpeg: { channels: 3, marked: false },
    });
    expect(pictureHead(jpeg(640, 480, 2, 100))!.pxPerInch).toBe(254);
    expect(pictureHead(jpeg(640, 480, 0, 1))!.pxPerInch).toBeNull();
  });
  it('of the sketch of the demo job: 720 × 420 at 150', () => {
    const head = pictureHead(demoFile('kestrel-row-sketch.png'))!;
    expect([head.width, head.height, Math.round(head.pxPerInch!)]).toEqual([720, 420, 150]);
  });
  it('nothing of what is cut off, empty or something else, wherever it ends', () => {
    for (const whole of [png(720, 420), jpeg(640, 480, 1, 300)])
      for (let n = 0; n < whole.length; n++) {
        const head = pictureHead(whole.subarray(0, n));
        if (head) expect([720, 640]).toContain(head.width);
      }
    expect(pictureHead(new TextEncoder().encode('<svg width="10" height="10"/>'))).toBeNull();
    expect(pictureHead(png(0, 5))).toBeNull();
  });
  it('addresses hold the bytes, whatever their number', () => {
    for (let n = 0; n < 8; n++) {
      const bytes = Uint8Array.from({ length: n }, (_, i) => 250 + i);
      const address = dataAddress('image/png', bytes);
      expect(address).toBe(`data:image/png;base64,${Buffer.from(bytes).toString('base64')}`);
      expect(bytesOfAddress(address)).toEqual({ media: 'image/png', bytes });
    }
    expect(bytesOfAddress('data:image/svg+xml,<svg/>')).toBeNull();
    expect(bytesOfAddress('data:image/png;base64,%%%')).toBeNull();
  });
});

describe('pictures of the job', () => {
  const sketch = { name: 'kestrel-row-sketch.png', data: dataAddress('image/png', demoFile('kestrel-row-sketch.png')) };
  const study = (): Drawing => read(demoFile('kestrel-row-sign-study.svg'), 'study.svg');
  const imageOf = (d: Drawing) => d.entities.find((e) => e.kind === 'image')!;

  it('are held where the drawing names them, capitals and folders aside, and the ledger says so', () => {
    const d = study();
    expect(filesNamedBy(d)).toEqual([
      { kind: 'picture', path: 'scans/Kestrel-Row-Sketch.PNG', name: 'Kestrel-Row-Sketch.PNG', places: 1 },
    ]);
    expect(claimsOf(d).pictures).toEqual(['Kestrel-Row-Sketch.PNG']);
    const ledger = new Ledger('intake');
    const held = withPictures(d, [{ name: 'other.png', data: 'data:x' }, sketch], ledger);
    expect(imageOf(held).data).toBe(sketch.data);
    expect(imageOf(d).data).toBeUndefined();
    expect(ledger.rows).toMatchObject([{ carryOver: 'links', action: 'kept', count: 1 }]);
    expect(filesNamedBy(held)).toEqual([]);
    const missing = (x: Drawing): number => runChecks(x).filter((f) => f.check === 'missing-files').length;
    expect([missing(d), missing(held)]).toEqual([1, 0]);
    // Nothing found: the drawing itself.
    expect(withPictures(d, [{ name: 'other.png', data: 'data:x' }], ledger)).toBe(d);
  });

  it('go into an SVG, which the proof finds whole; without them the frame goes', () => {
    const d = study();
    const { drawing } = prepare(d, NO_DECISIONS, [], { pictures: [sketch] });
    expect(risks(hop(drawing, { format: 'svg' }).proof)).toEqual([]);
    const written = (x: Drawing): string =>
      textOf(formatById('svg')!.write(x, { version: '1.1', unit: 'mm', fonts: fonts() }).bytes);
    // Cut short, lest a failure prints it all.
    expect(written(drawing).includes(sketch.data)).toBe(true);
    expect(written(d).includes('<image')).toBe(false);
  });

  it('lie in the scene where they lie in the drawing, turned and clipped as there', () => {
    const d = withPictures(study(), [sketch], new Ledger('intake'));
    const moved = transformDrawing(d, [0, 1, 0, -1, 0, 0, 0, 0, 1, 500, 0, 0]);
    const [p] = buildScene(moved, fonts()).pictures;
    const { origin } = buildScene(moved, fonts());
    expect(p).toMatchObject({ layer: imageOf(d).layer, owner: imageOf(d).id, opacity: 1 });
    // Each corner of the picture in the drawing, worked out from its pixels.
    const { at, u, v, pixels } = imageOf(moved);
    for (let i = 0; i < p!.inPicture.length / 2; i++) {
      const [across, down] = [p!.inPicture[2 * i]! * pixels[0], (1 - p!.inPicture[2 * i + 1]!) * pixels[1]];
      expect(p!.corners[3 * i]! + origin[0]).toBeCloseTo(at[0] + u[0] * across + v[0] * down, 3);
      expect(p!.corners[3 * i + 1]! + origin[1]).toBeCloseTo(at[1] + u[1] * across + v[1] * down, 3);
    }
    expect(new Set(p!.inPicture.map((x) => Math.round(x)))).toEqual(new Set([0, 1]));
  });

  it('of an SVG are no black areas in a DXF or a small picture', () => {
    const d = read(svg('<image width="9" height="9" href="a.png"/>'), 'x.svg');
    expect(claimsOf(d).colours).toEqual([]);
    // Its name is all that is written there.
    expect(previewSvg(d)).toContain('fill="none"');
    expect(previewSvg(d)).not.toContain('fill="#000000"');
    const { bytes } = formatById('dxf')!.write(transformDrawing(d, IDENTITY), {
      version: '2010',
      unit: 'mm',
      fonts: fonts(),
    });
    expect(textOf(bytes)).not.toContain('HATCH');
  });
});
