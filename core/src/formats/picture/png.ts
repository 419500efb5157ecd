import { zlibSync } from 'fflate';
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

const PER_METRE = 1 / 0.0254;

/**
 * Pixels as a PNG (W3C PNG), the same bytes for the same pixels. `pxPerInch` is stated as whole pixels to the metre, which is all that
 * a PNG can hold (11.3.5.3 pHYs).
 */
export function writePng({ width, height, channels, data }: Pixels, pxPerInch?: number): Uint8Array {
  const row = width * channels;
  // Each row begins with how it is filtered: by the row above it (2, "up"), which packs flat art well.
  const rows = new Uint8Array((row + 1) * height);
  for (let y = 0; y < height; y++) {
    const [from, to] = [y * row, y * (row + 1)];
    rows[to] = y === 0 ? 0 : 2;
    for (let x = 0; x < row; x++)
      rows[to + 1 + x] = y === 0 ? data[from + x]! : (data[from + x]! - data[from - row + x]!) & 0xff;
  }
  const head = new Uint8Array(13);
  const view = new DataView(head.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  head.set([8, COLOUR_TYPE[channels], 0, 0, 0], 8);
  const parts = [Uint8Array.from(SIGNATURE), chunk('IHDR', head)];
  if (pxPerInch !== undefined) {
    const physical = new Uint8Array(9);
    const per = new DataView(physical.buffer);
    per.setUint32(0, Math.round(pxPerInch * PER_METRE));
    per.setUint32(4, Math.round(pxPerInch * PER_METRE));
    physical[8] = 1;
    parts.push(chunk('pHYs', physical));
  }
  parts.push(chunk('IDAT', zlibSync(rows, { level: 6 })), chunk('IEND', new Uint8Array(0)));
  return joined(parts);
}
