import type { Labelled } from './labels.js';
import type { Chain } from './network.js';

/** So many pixels to either side of an edge are looked at, at the most: scans are soft. */
const REACH = 3;
/** A pixel that belongs to one side to so much is wholly of it. */
const WHOLE = 0.02;

/**
 * Where an edge runs, for each side of a pixel that it follows: the pixels across it say how much of each side they hold, and their sum is how far that side
 * reaches. For a straight edge that was smoothed by area this is exact. x and y in turn, in pixels.
 */
export function edgePoints(chain: Chain, picture: Labelled): Float64Array {
  const { corners } = chain;
  const n = corners.length / 2 - 1;
  const out = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    const [x0, y0, x1, y1] = [corners[2 * i]!, corners[2 * i + 1]!, corners[2 * i + 2]!, corners[2 * i + 3]!];
    if (y0 === y1) {
      out[2 * i] = (x0 + x1) / 2;
      out[2 * i + 1] = across(picture, Math.min(x0, x1), y0, picture.width, picture.height, 1);
    } else {
      out[2 * i] = across(picture, x0, Math.min(y0, y1), picture.height, picture.width, 0);
      out[2 * i + 1] = (y0 + y1) / 2;
    }
  }
  return out;
}

/**
 * The place of an edge along one axis (0: x, 1: y), between the pixel before the grid line and the one after it. `other` × `extent`: how far the picture
 * reaches along the line and across it.
 */
function across(picture: Labelled, gx: number, gy: number, _other: number, extent: number, axis: 0 | 1): number {
  const { width, labels, part } = picture;
  const line = axis === 0 ? gx : gy;
  // At the border of the picture there is nothing to look at on one side.
  if (line === 0 || line === extent) return line;
  const step = axis === 0 ? 1 : width;
  const after = gy * width + gx;
  const before = after - step;
  const [a, b] = [labels[before]!, labels[after]!];
  let place = line;
  // Each pixel before the line that is partly of the other side moves the edge back, each after it moves it on.
  for (let k = 0, i = before; k < Math.min(REACH, line); k++, i -= step) {
    if (labels[i] !== a) break;
    const share = part(i, a, b);
    if (share < WHOLE) break;
    place -= share;
    if (isThin(labels, i, -step, a, line - k - 1)) break;
  }
  for (let k = 0, i = after; k < Math.min(REACH, extent - line); k++, i += step) {
    if (labels[i] !== b) break;
    const share = 1 - part(i, a, b);
    if (share < WHOLE) break;
    place += share;
    if (isThin(labels, i, step, b, extent - line - k - 1)) break;
  }
  return Math.min(line + 1, Math.max(line - 1, place));
}

/** Whether the area ends behind a pixel: what is mixed there belongs to its other edge. */
const isThin = (labels: Uint8Array, i: number, step: number, own: number, left: number): boolean =>
  left <= 0 || labels[i + step] !== own;
