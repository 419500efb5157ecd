import type { Labelled } from './labels.js';
import type { Chain } from './network.js';

/** So many pixels to either side of an edge are looked at, at the most: scans are soft. */
const REACH = 3;
/** A side of fewer pixels is a thin line, and nowhere wholly what it is. */
const SURE = 2;
/** Sides that differ by less than this part of what their labels do have no edge to be seen between them. */
const CONTRAST = 0.2;

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
  // What either side is like here, a few pixels away from the edge.
  const [back, on] = [run(labels, before, -step, a, line), run(labels, after, step, b, extent - line)];
  if (back < SURE || on < SURE) return between(picture, before, after, a, b, line);
  const low = part(before - (back - 1) * step, a, b);
  const high = part(after + (on - 1) * step, a, b);
  if (high - low < CONTRAST) return between(picture, before, after, a, b, line);
  // Each pixel before the line that is partly of the other side moves the edge back, each after it moves it on.
  let place = line;
  for (let k = 0; k < back; k++) place -= (part(before - k * step, a, b) - low) / (high - low);
  for (let k = 0; k < on; k++) place += (high - part(after + k * step, a, b)) / (high - low);
  return Math.min(line + 1, Math.max(line - 1, place));
}

/** Where the colours of two pixels pass from one side to the other: what is mixed from both edges of a thin line says that, and no more. */
function between(picture: Labelled, before: number, after: number, a: number, b: number, line: number): number {
  const [from, to] = [picture.part(before, a, b), picture.part(after, a, b)];
  const share = to === from ? 0.5 : (picture.between(a, b) - from) / (to - from);
  return line - 0.5 + Math.min(1, Math.max(0, share));
}

/**
 * How many pixels from one on, of `left` that there are, are of its label and of nothing else: where the area ends near by, its last pixel is mixed by the
 * edge on that side.
 */
function run(labels: Uint8Array, first: number, step: number, own: number, left: number): number {
  let n = 1;
  while (n <= REACH && n < left && labels[first + n * step] === own) n++;
  return n > REACH ? REACH : n === left ? n : n - 1;
}
