import { PathBuilder, splitSubpaths } from '../geometry/path.js';
import { piecesOf, pointAt } from '../geometry/path-pieces.js';
import type { Region } from '../geometry/region.js';
import { imageFrame } from './curves.js';
import type { Image } from './entity.js';

/**
 * A picture with what several areas leave of it as its own boundary; `'nothing'` where that is so, `null` where it falls into
 * pieces or has holes, which one boundary cannot say.
 */
export function croppedImage(e: Image, across: readonly Region[]): Image | 'nothing' | null {
  const frame = imageFrame(e);
  const path = new PathBuilder();
  frame.forEach(([x, y], i) => (i === 0 ? path.moveTo(x, y) : path.lineTo(x, y)));
  let left = path.close().build();
  for (const region of across) left = region.cutFill(left, 'evenodd');
  const loops = splitSubpaths(left);
  if (loops.length === 0) return 'nothing';
  if (loops.length > 1) return null;
  const { at, u, v, pixels } = e;
  const det = u[0] * v[1] - u[1] * v[0];
  if (det === 0) return null;
  const clip: number[] = [];
  for (const { pieces } of piecesOf(loops[0]!, true))
    for (const p of pieces) {
      const chords = p.kind === 'bezier' && p.p.length === 4 ? 1 : CURVE_CHORDS;
      for (let k = 0; k < chords; k++) {
        const [x, y] = pointAt(p, k / chords);
        const [dx, dy] = [x - at[0], y - at[1]];
        // Pixels count downwards from the upper left corner, their centres on whole numbers.
        clip.push((dx * v[1] - dy * v[0]) / det - 0.5, pixels[1] - (dy * u[0] - dx * u[1]) / det - 0.5);
      }
    }
  return { ...e, clip: Float64Array.of(...clip, clip[0]!, clip[1]!) };
}

/** Chords for a curve of the boundary of a picture, which knows corners only. */
const CURVE_CHORDS = 64;
