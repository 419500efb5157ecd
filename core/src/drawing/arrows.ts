import type { Vec3 } from '../geometry/vector.js';
import { length } from '../geometry/vector.js';
import type { Appearance } from './appearance.js';
import { NO_PAINT } from './appearance.js';
import type { Face } from './entity.js';

/** What the simple entities that stand for a compound one share with it. */
export interface PartBase {
  id: number;
  layer: string;
  look: Appearance;
  normal?: Vec3;
}

/** The look of a filled part in the colour that lines have. */
export const filledLook = (look: Appearance): Appearance => ({ ...look, stroke: NO_PAINT, fill: look.stroke });

/**
 * A closed filled arrowhead with its tip at `tip`, pointing away from `from`: as long as `size`, a third as wide. `null`
 * where the two points meet or the line is too short to carry it.
 */
export function arrowHead(base: PartBase, tip: Vec3, from: Vec3, size: number): Face | null {
  const d: Vec3 = [from[0] - tip[0], from[1] - tip[1], from[2] - tip[2]];
  const l = length(d);
  if (l === 0 || size <= 0) return null;
  const [ux, uy] = [d[0] / l, d[1] / l];
  const [bx, by] = [tip[0] + ux * size, tip[1] + uy * size];
  const h = size / 6;
  return {
    kind: 'face',
    ...base,
    look: filledLook(base.look),
    solid: true,
    corners: [tip, [bx - uy * h, by + ux * h, tip[2]], [bx + uy * h, by - ux * h, tip[2]]],
  };
}
