import type { Pixels } from './png.js';

/** How much of each source pixel falls into one of the fewer pixels along a side: the first source pixel, then its shares. */
function sharesAlong(from: number, to: number): { first: number; shares: number[] }[] {
  const ratio = from / to;
  return Array.from({ length: to }, (_, i) => {
    const [a, b] = [i * ratio, (i + 1) * ratio];
    const first = Math.floor(a);
    const last = Math.min(from - 1, Math.ceil(b - 1e-9) - 1);
    const shares: number[] = [];
    for (let k = first; k <= last; k++) shares.push((Math.min(b, k + 1) - Math.max(a, k)) / ratio);
    return { first, shares };
  });
}

/**
 * A picture in fewer pixels: each is the mean of what it covers, by area, and clear pixels weigh as much as they are seen. No side
 * grows.
 */
export function resampled(p: Pixels, width: number, height: number): Pixels {
  const [w, h] = [Math.max(1, Math.min(p.width, width)), Math.max(1, Math.min(p.height, height))];
  if (w === p.width && h === p.height) return p;
  const { channels } = p;
  const across = sharesAlong(p.width, w);
  const down = sharesAlong(p.height, h);
  const data = new Uint8Array(w * h * channels);
  const colours = channels === 4 ? 3 : channels;
  const sum = new Float64Array(4);
  down.forEach((rows, y) =>
    across.forEach((columns, x) => {
      sum.fill(0);
      let weight = 0;
      rows.shares.forEach((v, j) =>
        columns.shares.forEach((u, i) => {
          const at = channels * ((rows.first + j) * p.width + columns.first + i);
          const alpha = channels === 4 ? p.data[at + 3]! / 255 : 1;
          const share = u * v * alpha;
          weight += share;
          for (let c = 0; c < colours; c++) sum[c]! += share * p.data[at + c]!;
        }),
      );
      const to = channels * (y * w + x);
      for (let c = 0; c < colours; c++) data[to + c] = weight > 0 ? Math.round(sum[c]! / weight) : 0;
      if (channels === 4) data[to + 3] = Math.round(255 * weight);
    }),
  );
  return { width: w, height: h, channels, data };
}
