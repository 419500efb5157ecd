import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Box2 } from '../geometry/box.js';

const known = new WeakMap<Drawing, Readonly<Box2>>();

/** The box of what is in sight in model space, worked out once for all checks of a drawing. */
export function extentOf(drawing: Drawing): Readonly<Box2> {
  let box = known.get(drawing);
  if (!box) known.set(drawing, (box = boundsOf(drawing)));
  return box;
}
