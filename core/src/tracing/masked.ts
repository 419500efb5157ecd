import type { Pixels } from '../formats/picture/png.js';
import { Coverage } from '../geometry/raster/coverage.js';

/** A picture that is clear outside a polygon (x and y of its corners in turn, in pixels). */
export function masked({ width, height, channels, data }: Pixels, polygon: readonly number[]): Pixels {
  const coverage = new Coverage(width, height);
  const n = polygon.length;
  for (let i = 0; i < n; i += 2)
    coverage.edge(polygon[i]!, polygon[i + 1]!, polygon[(i + 2) % n]!, polygon[(i + 3) % n]!);
  const out = new Uint8Array(4 * width * height);
  coverage.sweep('evenodd', (y, from, to, part) => {
    for (let i = y * width + from; i < y * width + to; i++) {
      for (let k = 0; k < 3; k++) out[4 * i + k] = data[channels * i + (channels === 1 ? 0 : k)]!;
      out[4 * i + 3] = Math.round((channels === 4 ? data[4 * i + 3]! : 255) * part);
    }
  });
  return { width, height, channels: 4, data: out };
}
