import type { Drawing } from '../../drawing/drawing.js';
import { flattenEntity } from '../../drawing/flatten.js';
import type { Box2 } from '../../geometry/box.js';
import { walk } from '../../drawing/resolve.js';

const WIDTH = 180;
const HEIGHT = 120;
const MOST_POINTS = 20_000;
const MOST_ENTITIES = 5_000;
const HEAD = 40;
const PALETTE = 4 * 256;

/**
 * A small picture of a drawing's lines, dark on white, as a bitmap without the header of its file: what a file manager
 * shows of a DWG. `box` is what is drawn. Of very many entities some are picked evenly; stops after 20,000 points.
 */
export function previewBitmap(drawing: Drawing, box: Box2): Uint8Array {
  if (box.empty) return new Uint8Array(0);
  const out = new Uint8Array(HEAD + PALETTE + WIDTH * HEIGHT);
  const view = new DataView(out.buffer);
  view.setUint32(0, HEAD, true);
  view.setInt32(4, WIDTH, true);
  view.setInt32(8, HEIGHT, true);
  view.setUint16(12, 1, true);
  view.setUint16(14, 8, true);
  view.setUint32(20, WIDTH * HEIGHT, true);
  // Grey from black to white.
  for (let i = 0; i < 256; i++) out.fill(i, HEAD + 4 * i, HEAD + 4 * i + 3);
  const pixels = out.subarray(HEAD + PALETTE).fill(255);
  const pad = 6;
  const k = Math.min((WIDTH - 2 * pad) / (box.width || 1e-9), (HEIGHT - 2 * pad) / (box.height || 1e-9));
  const [ox, oy] = [(WIDTH - box.width * k) / 2, (HEIGHT - box.height * k) / 2];
  let points = 0;
  let [px, py] = [0, 0];
  // Rows of a bitmap run upwards, as the drawing does.
  const line = (x: number, y: number): void => {
    const steps = Math.min(1000, Math.ceil(Math.max(Math.abs(x - px), Math.abs(y - py), 1)));
    for (let s = 0; s <= steps; s++) {
      const i = Math.round(px + ((x - px) * s) / steps);
      const j = Math.round(py + ((y - py) * s) / steps);
      if (i >= 0 && i < WIDTH && j >= 0 && j < HEIGHT) pixels[j * WIDTH + i] = 40;
    }
    [px, py] = [x, y];
  };
  const every = Math.ceil(drawing.entities.length / MOST_ENTITIES);
  const some = every < 2 ? drawing.entities : drawing.entities.filter((_, i) => i % every === 0);
  walk({ ...drawing, entities: some }, ({ entity, toWorld }) => {
    if (points > MOST_POINTS) return;
    flattenEntity(entity, toWorld, 0.3 / k, {
      moveTo: (x, y) => void ([px, py] = [(x - box.minX) * k + ox, (y - box.minY) * k + oy]),
      lineTo: (x, y) => {
        points++;
        line((x - box.minX) * k + ox, (y - box.minY) * k + oy);
      },
    });
  });
  return out;
}
