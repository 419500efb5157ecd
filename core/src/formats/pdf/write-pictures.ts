import { bytesOfAddress } from '../picture/data-address.js';
import { pictureHead } from '../picture/head.js';
import { readPng } from '../picture/read-png.js';
import type { PdfObjects, PdfValue, Ref } from './objects.js';
import { name } from './objects.js';

/** Pictures of a file, each once: JPEG as it is, PNG unpacked, with its opacity as a mask (ISO 32000-2, 8.9.5 and 11.6.5.2). */
export class PictureWriter {
  private readonly refs = new Map<string, { resource: string; ref: Ref } | null>();
  constructor(private readonly objects: PdfObjects) {}

  /** The name of a picture; `null` for one that cannot be unpacked. */
  reference(data: string): string | null {
    const known = this.refs.get(data);
    if (known !== undefined) return known?.resource ?? null;
    const ref = this.written(data);
    const made = ref && { resource: `I${[...this.refs.values()].filter(Boolean).length + 1}`, ref };
    this.refs.set(data, made);
    return made?.resource ?? null;
  }

  private written(data: string): Ref | null {
    const held = bytesOfAddress(data);
    const head = held && pictureHead(held.bytes);
    if (!held || !head) return null;
    const base = {
      Type: name('XObject'),
      Subtype: name('Image'),
      Width: head.width,
      Height: head.height,
      BitsPerComponent: 8,
    };
    if (head.jpeg) {
      const { channels, marked } = head.jpeg;
      const space = channels === 1 ? 'DeviceGray' : channels === 4 ? 'DeviceCMYK' : 'DeviceRGB';
      // Programs that mark four channels store them turned round, which a PDF takes as they stand.
      const decode: Record<string, PdfValue> = channels === 4 && marked ? { Decode: [1, 0, 1, 0, 1, 0, 1, 0] } : {};
      return this.objects.stream(
        held.bytes,
        { ...base, ColorSpace: name(space), ...decode, Filter: name('DCTDecode') },
        true,
      );
    }
    const pixels = readPng(held.bytes);
    if (!pixels) return null;
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
      ? { SMask: this.objects.stream(alpha, { ...base, ColorSpace: name('DeviceGray') }) }
      : {};
    return this.objects.stream(colour, { ...base, ColorSpace: name(grey ? 'DeviceGray' : 'DeviceRGB'), ...mask });
  }

  get resources(): Record<string, Ref> {
    return Object.fromEntries([...this.refs.values()].flatMap((r) => (r ? [[r.resource, r.ref]] : [])));
  }
}
