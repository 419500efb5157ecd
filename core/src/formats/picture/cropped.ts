import type { Pixels } from './png.js';

/** A part of a picture, in whole pixels. */
export interface Part {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The pixels of a part that lies within a picture. */
export function cropped({ width, channels, data }: Pixels, p: Part): Pixels {
  const out = new Uint8Array(channels * p.width * p.height);
  for (let y = 0; y < p.height; y++) {
    const from = channels * ((p.y + y) * width + p.x);
    out.set(data.subarray(from, from + channels * p.width), channels * y * p.width);
  }
  return { width: p.width, height: p.height, channels, data: out };
}
