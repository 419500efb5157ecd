import { crc32, deflateSync } from 'node:zlib';

function chunk(kind: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) out[4 + i] = kind.charCodeAt(i);
  out.set(data, 8);
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)));
  return out;
}

/** Rows of 8-bit samples, grey or red, green and blue, as a PNG that states how many pixels make an inch. */
export function png(
  width: number,
  height: number,
  channels: 1 | 3,
  samples: Uint8Array,
  pxPerInch: number,
): Uint8Array {
  const side = width * channels;
  const rows = new Uint8Array(height * (side + 1));
  for (let y = 0; y < height; y++) rows.set(samples.subarray(y * side, (y + 1) * side), y * (side + 1) + 1);
  const head = new DataView(new ArrayBuffer(13));
  head.setUint32(0, width);
  head.setUint32(4, height);
  head.setUint8(8, 8);
  head.setUint8(9, channels === 1 ? 0 : 2);
  const density = new DataView(new ArrayBuffer(9));
  for (const at of [0, 4]) density.setUint32(at, Math.round(pxPerInch / 0.0254));
  density.setUint8(8, 1);
  return Buffer.concat([
    Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a),
    chunk('IHDR', new Uint8Array(head.buffer)),
    chunk('pHYs', new Uint8Array(density.buffer)),
    chunk('IDAT', deflateSync(rows, { level: 9 })),
    chunk('IEND', new Uint8Array(0)),
  ]);
}
