import { Zlib } from 'fflate';
import { joined } from '../joined.js';

/** What a picture is made of: 8 bits to a channel, rows from the top, left to right. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  /** 1 grey, 3 red green blue, 4 with opacity. */
  readonly channels: 1 | 3 | 4;
  readonly data: Uint8Array;
}

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const COLOUR_TYPE = { 1: 0, 3: 2, 4: 6 } as const;

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

/** The sum at the end of each chunk (W3C PNG, annex D). */
function crc(...parts: readonly Uint8Array[]): number {
  let c = 0xffffffff;
  for (const part of parts) for (const b of part) c = CRC[(c ^ b) & 0xff]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/** Puts the sum of the chunk right that a byte lies in, once that was changed. */
export function sumChunkAgain(png: Uint8Array, changed: number): void {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  for (let at = 8; at + 12 <= png.length;) {
    const end = at + 12 + view.getUint32(at);
    if (end > png.length) return;
    if (changed < end) return view.setUint32(end - 4, crc(png.subarray(at + 4, end - 4)));
    at = end;
  }
}

function chunk(name: string, data: Uint8Array): Uint8Array {
  const kind = Uint8Array.from(name, (c) => c.charCodeAt(0));
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  out.set(kind, 4);
  out.set(data, 8);
  view.setUint32(8 + data.length, crc(kind, data));
  return out;
}

const METRES_PER_INCH = 0.0254;

/** Pixels to the inch that a PNG can state, nearest to so many: whole pixels to the metre (11.3.5.3 pHYs); `null` for less than one. */
export function pngPerInch(pxPerInch: number): number | null {
  const perMetre = Math.round(pxPerInch / METRES_PER_INCH);
  return perMetre >= 1 && perMetre < 2 ** 31 ? perMetre * METRES_PER_INCH : null;
}

/** Writes a PNG (W3C PNG) row by row, the same bytes for the same pixels. */
export class PngWriter {
  private readonly parts: Uint8Array[];
  private readonly packed: Uint8Array[] = [];
  private readonly pack: Zlib;
  private above: Uint8Array;

  constructor(width: number, height: number, channels: Pixels['channels'], pxPerInch?: number) {
    this.above = new Uint8Array(width * channels);
    const head = new Uint8Array(13);
    const view = new DataView(head.buffer);
    view.setUint32(0, width);
    view.setUint32(4, height);
    head.set([8, COLOUR_TYPE[channels], 0, 0, 0], 8);
    this.parts = [Uint8Array.from(SIGNATURE), chunk('IHDR', head)];
    const stated = pxPerInch === undefined ? null : pngPerInch(pxPerInch);
    if (stated !== null) {
      const physical = new Uint8Array(9);
      const per = new DataView(physical.buffer);
      per.setUint32(0, Math.round(stated / METRES_PER_INCH));
      per.setUint32(4, Math.round(stated / METRES_PER_INCH));
      physical[8] = 1;
      this.parts.push(chunk('pHYs', physical));
    }
    this.pack = new Zlib({ level: 6 }, (piece) => void this.packed.push(piece));
  }

  /** Adds whole rows, from the top. */
  rows(data: Uint8Array): void {
    const row = this.above.length;
    const height = data.length / row;
    // Each row begins with how it is filtered: by the row above it (2, "up"), which packs flat art well.
    const out = new Uint8Array((row + 1) * height);
    let { above } = this;
    for (let y = 0; y < height; y++) {
      const own = data.subarray(y * row, (y + 1) * row);
      const to = y * (row + 1);
      out[to] = 2;
      for (let x = 0; x < row; x++) out[to + 1 + x] = (own[x]! - above[x]!) & 0xff;
      above = own;
    }
    this.above = above.slice();
    this.pack.push(out);
    if (this.packed.length > 0) this.parts.push(chunk('IDAT', joined(this.packed.splice(0))));
  }

  finish(): Uint8Array {
    this.pack.push(new Uint8Array(0), true);
    this.parts.push(chunk('IDAT', joined(this.packed)), chunk('IEND', new Uint8Array(0)));
    return joined(this.parts);
  }
}

/** Pixels as a PNG; `pxPerInch` is stated as near as a PNG can (`pngPerInch`). */
export function packedPng({ width, height, channels, data }: Pixels, pxPerInch?: number): Uint8Array {
  const out = new PngWriter(width, height, channels, pxPerInch);
  out.rows(data);
  return out.finish();
}
