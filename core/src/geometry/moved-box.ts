import type { Affine } from './affine.js';
import { applyPoint } from './affine.js';
import { Box2 } from './box.js';

/** The box of the four corners of a box under a map; empty for an empty one. */
export function movedBox(box: Box2, map: Affine): Box2 {
  const out = new Box2();
  if (box.empty) return out;
  for (const [x, y] of [
    [box.minX, box.minY],
    [box.maxX, box.minY],
    [box.minX, box.maxY],
    [box.maxX, box.maxY],
  ] as const) {
    const p = applyPoint(map, [x, y, 0]);
    out.add(p[0], p[1]);
  }
  return out;
}
