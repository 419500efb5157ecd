import type { Pixels } from '../../src/formats/picture/png.js';

/** A picture of red, green and blue by a colour for each place; pixels are the mean of so many places a side. */
export function painted(width: number, height: number, colour: (x: number, y: number) => number, fine = 8): Pixels {
  const data = new Uint8Array(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0];
      for (let v = 0; v < fine; v++)
        for (let u = 0; u < fine; u++) {
          const c = colour(x + (u + 0.5) / fine, y + (v + 0.5) / fine);
          for (let k = 0; k < 3; k++) sum[k]! += (c >> (16 - 8 * k)) & 255;
        }
      for (let k = 0; k < 3; k++) data[3 * (y * width + x) + k] = Math.round(sum[k]! / fine ** 2);
    }
  return { width, height, channels: 3, data };
}

export const [BLACK, WHITE, RED, BLUE] = [0x000000, 0xffffff, 0xd03020, 0x2050c0];
