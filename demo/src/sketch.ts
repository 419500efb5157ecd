import { png } from './png.js';

const WIDTH = 720;
const HEIGHT = 420;
const PX_PER_INCH = 150;

/** Park and Miller's generator: the same grain each time. */
export function generator(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

type Stroke = readonly [x0: number, y0: number, x1: number, y1: number, pressure?: number];

/** Posts, roof, glass and sign of the shelter as someone drew them by hand, in pixels from the upper left. */
function strokes(): Stroke[] {
  const list: Stroke[] = [
    [30, 352, 690, 348],
    [30, 356, 690, 351, 0.6],
    [70, 92, 655, 84],
    [66, 96, 640, 90, 0.5],
    [60, 110, 662, 102],
    [60, 92, 60, 110, 0.8],
    [662, 84, 662, 102, 0.8],
    [300, 128, 438, 126],
    [300, 128, 302, 152],
    [438, 126, 438, 150],
    [301, 153, 439, 150],
  ];
  for (const x of [110, 270, 432, 600])
    list.push([x, 106, x + 1, 350], [x + 9, 106, x + 8, 351], [x - 14, 349, x + 24, 349, 0.7]);
  for (const x of [130, 292, 455]) {
    list.push(
      [x, 170, x + 128, 168, 0.6],
      [x, 170, x + 1, 326, 0.6],
      [x + 128, 168, x + 127, 325, 0.6],
      [x, 327, x + 128, 325, 0.6],
    );
    for (let k = 0; k < 6; k++) list.push([x + 16 + 17 * k, 300 - 12 * k, x + 46 + 17 * k, 262 - 12 * k, 0.25]);
  }
  // Two people and the platform edge.
  list.push(
    [208, 230, 210, 290],
    [210, 290, 202, 348],
    [210, 290, 219, 348],
    [196, 252, 222, 250],
    [40, 374, 680, 368, 0.4],
  );
  return list;
}

/** How dark the pencil is at each pixel. */
function drawn(): Float64Array {
  const dark = new Float64Array(WIDTH * HEIGHT);
  const random = generator(20261124);
  for (const [x0, y0, x1, y1, pressure = 1] of strokes()) {
    // A hand overshoots its ends a little.
    const length = Math.hypot(x1 - x0, y1 - y0);
    const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
    for (let t = -4; t <= length + 4; t += 0.4) {
      const wave = Math.sin(t / 23) * 0.8;
      const [x, y] = [x0 + ux * t - uy * wave, y0 + uy * t + ux * wave];
      for (let dy = -2; dy <= 2; dy++)
        for (let dx = -2; dx <= 2; dx++) {
          const [px, py] = [Math.round(x) + dx, Math.round(y) + dy];
          if (px < 0 || py < 0 || px >= WIDTH || py >= HEIGHT) continue;
          const near = Math.max(0, 1 - Math.hypot(px - x, py - y) / 1.7);
          const at = py * WIDTH + px;
          dark[at] = Math.min(0.85, dark[at]! + near * pressure * (0.1 + 0.25 * random()));
        }
    }
  }
  return dark;
}

/** A pencil sketch of the shelter as a scan: a PNG of grey tones at 150 px per inch. */
export function sketch(): Uint8Array {
  const random = generator(7);
  const tones = drawn().map((dark) => Math.round(Math.min(255, Math.max(0, 244 + (random() - 0.5) * 8 - 190 * dark))));
  return png(WIDTH, HEIGHT, 1, Uint8Array.from(tones), PX_PER_INCH);
}
