import { bytesOfAddress } from '../picture/data-address.js';
import type { PictureHead } from '../picture/head.js';
import { pictureHead } from '../picture/head.js';
import type { Pixels } from '../picture/png.js';
import { readPixels } from '../picture/read-pixels.js';
import { readPng } from '../picture/read-png.js';
import { resampled } from '../picture/resampled.js';
import { JpegWriter } from '../picture/write-jpeg.js';
import type { PdfObjects, PdfValue, Ref } from './objects.js';
import { name } from './objects.js';

/** Of a JPEG that is made anew. */
const QUALITY = 90;

const base = ({ width, height }: { width: number; height: number }): Record<string, PdfValue> => ({
  Type: name('XObject'),
  Subtype: name('Image'),
  Width: width,
  Height: height,
  BitsPerComponent: 8,
});

/** Pictures of a file, each once: JPEG as it is, PNG unpacked, with its opacity as a mask (ISO 32000-2, 8.9.5 and 11.6.5.2). */
export class PictureWriter {
  private readonly refs = new Map<string, { resource: string; ref: Ref } | null>();
  constructor(private readonly objects: PdfObjects) {}

  /**
   * The name of a picture; `null` for one that cannot be unpacked. `most`: how many pixels it may have along each side; `onFewer` is told
   * where it had more.
   */
  reference(data: string, most?: readonly [number, number], onFewer?: () => void): string | null {
    const held = bytesOfAddress(data);
    const head = held && pictureHead(held.bytes);
    const isFewer = head && most && (most[0] < head.width || most[1] < head.height);
    if (isFewer) onFewer?.();
    const key = isFewer ? `${most.join()} ${data}` : data;
    const known = this.refs.get(key);
    if (known !== undefined) return known?.resource ?? null;
    const ref =
      !held || !head
        ? null
        : isFewer
          ? this.fewer(held.bytes, head.jpeg !== undefined, most)
          : this.written(held.bytes, head);
    const made = ref && { resource: `I${[...this.refs.values()].filter(Boolean).length + 1}`, ref };
    this.refs.set(key, made);
    return made?.resource ?? null;
  }

  /** In fewer pixels: what was a JPEG stays one. */
  private fewer(bytes: Uint8Array, isJpeg: boolean, [w, h]: readonly [number, number]): Ref | null {
    const whole = readPixels(bytes);
    if (!whole) return null;
    const pixels = resampled(whole, w, h);
    if (!isJpeg) return this.unpacked(pixels);
    const rgb = new Uint8Array(3 * pixels.width * pixels.height);
    for (let i = 0; i < pixels.width * pixels.height; i++)
      for (let c = 0; c < 3; c++) rgb[3 * i + c] = pixels.data[pixels.channels * i + (pixels.channels === 1 ? 0 : c)]!;
    const out = new JpegWriter(pixels.width, pixels.height, QUALITY, 0);
    out.rows(rgb);
    return this.objects.stream(
      out.finish(),
      { ...base(pixels), ColorSpace: name('DeviceRGB'), Filter: name('DCTDecode') },
      true,
    );
  }

  private written(bytes: Uint8Array, head: PictureHead): Ref | null {
    if (head.jpeg) {
      const { channels, marked } = head.jpeg;
      const space = channels === 1 ? 'DeviceGray' : channels === 4 ? 'DeviceCMYK' : 'DeviceRGB';
      // Programs that mark four channels store them turned round, which a PDF takes as they stand.
      const decode: Record<string, PdfValue> = channels === 4 && marked ? { Decode: [1, 0, 1, 0, 1, 0, 1, 0] } : {};
      return this.objects.stream(
        bytes,
        { ...base(head), ColorSpace: name(space), ...decode, Filter: name('DCTDecode') },
        true,
      );
    }
    const pixels = readPng(bytes);
    return pixels && this.unpacked(pixels);
  }

  private unpacked(pixels: Pixels): Ref {
    const n = pixels.width * pixels.height;
    const grey = pixels.channels === 1;
    const colour = new Uint8Array(n * (grey ? 1 : 3));
    const alpha = new Uint8Array(pixels.channels === 4 ? n : 0);
    for (let i = 0; i < n; i++) {
      if (grey) colour[i] = pixels.data[i]!;
      else for (let c = 0; c < 3; c++) colour[3 * i + c] = pixels.data[pixels.channels * i + c]!;
      if (pixels.channels === 4) alpha[i] = pixels.data[4 * i + 3]!;
    }
    const masked = alpha.some((a) => a < 255);
    const mask: Record<string, PdfValue> = masked
      ? { SMask: this.objects.stream(alpha, { ...base(pixels), ColorSpace: name('DeviceGray') }) }
      : {};
    return this.objects.stream(colour, {
      ...base(pixels),
      ColorSpace: name(grey ? 'DeviceGray' : 'DeviceRGB'),
      ...mask,
    });
  }

  get resources(): Record<string, Ref> {
    return Object.fromEntries([...this.refs.values()].flatMap((r) => (r ? [[r.resource, r.ref]] : [])));
  }
}
