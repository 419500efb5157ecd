import type { Affine } from '../geometry/affine.js';
import { compose, rotation, scaling, translation } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Viewport } from './entity.js';

/**
 * The map from model space onto the sheet that a window shows it on; `null` for a window that is off, for the sheet's own
 * view, and for one that does not look straight down (DXF reference, VIEWPORT).
 */
export function windowMap(w: Viewport): Affine | null {
  if (!w.on || w.number === 1 || !(w.viewHeight > 0)) return null;
  const [dx, dy, dz] = w.direction;
  if (dx !== 0 || dy !== 0 || dz <= 0) return null;
  const k = w.height / w.viewHeight;
  let m = compose(rotation(w.twist), translation(-w.target[0], -w.target[1]));
  m = compose(translation(-w.centre[0], -w.centre[1]), m);
  return compose(translation(w.at[0], w.at[1]), compose(scaling(k, k, k), m));
}

/** What a window covers of its sheet. */
export function windowBox(w: Viewport): Box2 {
  const [hw, hh] = [w.width / 2, w.height / 2];
  return Box2.of(w.at[0] - hw, w.at[1] - hh, w.at[0] + hw, w.at[1] + hh);
}
