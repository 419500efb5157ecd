import type { Pixels } from '../formats/picture/png.js';

export type Place = readonly [x: number, y: number];

/** A picture seen anew: what each of its pixels' middles shows of the old one, mixed between four pixels; clear where that is beyond it. */
function seenThrough(p: Pixels, width: number, height: number, old: (x: number, y: number) => Place): Pixels {
  const data = new Uint8Array(4 * width * height);
  const { channels } = p;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [ox, oy] = old(x + 0.5, y + 0.5);
      if (!(ox >= 0) || !(oy >= 0) || ox > p.width || oy > p.height) continue;
      const [u, v] = [Math.min(p.width - 1, Math.max(0, ox - 0.5)), Math.min(p.height - 1, Math.max(0, oy - 0.5))];
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const [s, t] = [u - i, v - j];
      const sum = [0, 0, 0, 0];
      for (const [dx, dy, w] of [
        [0, 0, (1 - s) * (1 - t)],
        [1, 0, s * (1 - t)],
        [0, 1, (1 - s) * t],
        [1, 1, s * t],
      ] as const) {
        if (w === 0) continue;
        const at = channels * (Math.min(p.height - 1, j + dy) * p.width + Math.min(p.width - 1, i + dx));
        const a = channels === 4 ? p.data[at + 3]! : 255;
        for (let k = 0; k < 3; k++) sum[k]! += p.data[at + (channels === 1 ? 0 : k)]! * a * w;
        sum[3]! += a * w;
      }
      const to = 4 * (y * width + x);
      for (let k = 0; k < 3; k++) data[to + k] = sum[3]! > 0 ? Math.round(sum[k]! / sum[3]!) : 0;
      data[to + 3] = Math.round(sum[3]!);
    }
  return { width, height, channels: 4, data };
}

/** A picture made softer: each pixel the mean of those as far around it as `radius`, twice over, so that noise goes and edges stay where they are. */
export function softened(p: Pixels, radius: number): Pixels {
  const { width, height, channels } = p;
  let from = p.data;
  const pass = (along: number, length: number, across: number, count: number): void => {
    const to = new Uint8Array(from.length);
    for (let line = 0; line < count; line++)
      for (let k = 0; k < channels; k++) {
        const at = (i: number): number => channels * (line * across + Math.min(length - 1, Math.max(0, i)) * along) + k;
        let sum = 0;
        for (let i = -radius; i <= radius; i++) sum += from[at(i)]!;
        for (let i = 0; i < length; i++) {
          to[at(i)] = Math.round(sum / (2 * radius + 1));
          sum += from[at(i + radius + 1)]! - from[at(i - radius)]!;
        }
      }
    from = to;
  };
  for (let round = 0; round < 2; round++) {
    pass(1, width, width, height);
    pass(width, height, 1, width);
  }
  return { ...p, data: from };
}

/** A picture turned about its middle, so that a line between two places lies along the nearer axis. */
export function levelled(p: Pixels, [a, b]: readonly [Place, Place]): Pixels {
  const angle = Math.atan2(b[1] - a[1], b[0] - a[0]);
  const turn = angle - (Math.round(angle / (Math.PI / 2)) * Math.PI) / 2;
  if (turn === 0) return p;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [mx, my] = [p.width / 2, p.height / 2];
  return seenThrough(p, p.width, p.height, (x, y) => [
    mx + c * (x - mx) - s * (y - my),
    my + s * (x - mx) + c * (y - my),
  ]);
}

/** Four places in order round their middle, the one up and left first, the others clockwise (y downwards). */
export function inOrder(corners: readonly Place[]): Place[] {
  const [mx, my] = [0, 1].map((k) => corners.reduce((sum, c) => sum + c[k]!, 0) / corners.length) as [number, number];
  const round = [...corners].sort((a, b) => Math.atan2(a[1] - my, a[0] - mx) - Math.atan2(b[1] - my, b[0] - mx));
  const first = round.reduce((best, c, i) => (c[0] + c[1] < round[best]![0] + round[best]![1] ? i : best), 0);
  return [...round.slice(first), ...round.slice(0, first)];
}

/**
 * What lies between four corners as a rectangle, as long and high as its sides are on average. `null` where they are no corners of an area.
 */
export function squared(p: Pixels, corners: readonly Place[]): { picture: Pixels; x: number; y: number } | null {
  const [a, b, c, d] = inOrder(corners) as [Place, Place, Place, Place];
  const far = (p: Place, q: Place): number => Math.hypot(q[0] - p[0], q[1] - p[1]);
  const [width, height] = [Math.round((far(a, b) + far(d, c)) / 2), Math.round((far(b, c) + far(a, d)) / 2)];
  if (width < 1 || height < 1 || width * height > 4 * p.width * p.height) return null;
  // The projective map of the unit square onto the corners (P. Heckbert, 1989).
  const [sx, sy] = [a[0] - b[0] + c[0] - d[0], a[1] - b[1] + c[1] - d[1]];
  const [dx1, dy1, dx2, dy2] = [b[0] - c[0], b[1] - c[1], d[0] - c[0], d[1] - c[1]];
  const det = dx1 * dy2 - dy1 * dx2;
  if (!(Math.abs(det) > 1e-9)) return null;
  const [g, h] = [(sx * dy2 - sy * dx2) / det, (dx1 * sy - dy1 * sx) / det];
  const old = (x: number, y: number): Place => {
    const [u, v] = [x / width, y / height];
    const w = g * u + h * v + 1;
    return [
      ((b[0] - a[0] + g * b[0]) * u + (d[0] - a[0] + h * d[0]) * v + a[0]) / w,
      ((b[1] - a[1] + g * b[1]) * u + (d[1] - a[1] + h * d[1]) * v + a[1]) / w,
    ];
  };
  return { picture: seenThrough(p, width, height, old), x: a[0], y: a[1] };
}
