import type { Affine } from '../geometry/affine.js';
import { planar } from '../geometry/affine.js';
import type { Image } from './entity.js';

/** From the pixels of a picture, y downwards from its upper left corner, to the drawing; `size`: how many pixels its file has. */
export function placeOfPixels(e: Image, { width, height }: { width: number; height: number }): Affine {
  const [w, h] = [e.pixels[0] / width, e.pixels[1] / height];
  const [ux, uy, vx, vy] = [e.u[0] * w, e.u[1] * w, e.v[0] * h, e.v[1] * h];
  return planar(ux, uy, -vx, -vy, e.at[0] + vx * height, e.at[1] + vy * height);
}
