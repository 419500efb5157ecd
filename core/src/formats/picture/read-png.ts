import { convertIndexedToRgb, decode } from 'fast-png';
import { MAX_PICTURE_PIXELS, pictureHead } from './head.js';
import type { Pixels } from './png.js';

/**
 * The pixels of a PNG with 8 bits to a channel, grey with opacity and palettes as colours; of 16 bits the upper eight are kept. `null` for what is
 * no PNG, is damaged or larger than pictures may be.
 */
export function readPng(bytes: Uint8Array): Pixels | null {
  const head = pictureHead(bytes);
  if (head?.media !== 'image/png' || head.width * head.height > MAX_PICTURE_PIXELS) return null;
  try {
    const png = decode(bytes);
    const { width, height } = png;
    const n = width * height;
    if (png.palette) {
      const channels = png.palette[0]?.length === 4 ? 4 : 3;
      return { width, height, channels, data: Uint8Array.from(convertIndexedToRgb(png)) };
    }
    const depth = png.depth as number;
    const shift = depth === 16 ? 8 : 0;
    // Fewer than eight bits are spread over all that eight can say.
    const spread = depth < 8 ? 255 / (2 ** depth - 1) : 1;
    const sample = samplesOf(png.data, width, height, png.channels, depth);
    const at = (i: number): number => (sample[i]! >> shift) * spread;
    const { channels } = png;
    if (channels === 1) return { width, height, channels: 1, data: Uint8Array.from({ length: n }, (_, i) => at(i)) };
    if (channels === 2) {
      const data = new Uint8Array(4 * n);
      for (let i = 0; i < n; i++) data.set([at(2 * i), at(2 * i), at(2 * i), at(2 * i + 1)], 4 * i);
      return { width, height, channels: 4, data };
    }
    const own = channels === 4 ? 4 : 3;
    return { width, height, channels: own, data: Uint8Array.from({ length: n * own }, (_, i) => at(i)) };
  } catch {
    return null;
  }
}

/** Samples one by one: of fewer than eight bits, several lie in a byte, and each row begins a new one. */
function samplesOf(
  data: ArrayLike<number>,
  width: number,
  height: number,
  channels: number,
  depth: number,
): ArrayLike<number> {
  const row = width * channels;
  if (depth >= 8 || data.length >= row * height) return data;
  const stride = Math.ceil((row * depth) / 8);
  const out = new Uint8Array(row * height);
  const mask = 2 ** depth - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < row; x++) {
      const bit = x * depth;
      out[y * row + x] = (data[y * stride + (bit >> 3)]! >> (8 - depth - (bit & 7))) & mask;
    }
  return out;
}
