import Flatbush from 'flatbush';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';

export interface Farthest {
  /** Largest distance found; Infinity when the other side has nothing at all. */
  distance: number;
  /** Where on the first set it was met. */
  x: number;
  y: number;
  samples: number;
}

const MAX_SAMPLES = 400_000;

/**
 * The largest distance from points of `from` (ends and middles of its chords) to the chords of `to`. `reach` is where
 * the search begins; it widens until something is found, so that the distance is exact however large.
 */
export function farthest(from: Float64Array, to: Float64Array, reach: number, work?: Work): Farthest {
  const n = from.length / 4;
  if (n === 0) return { distance: 0, x: 0, y: 0, samples: 0 };
  if (to.length === 0) return { distance: Infinity, x: from[0], y: from[1], samples: 1 };
  let index: ChordIndex | null = null;
  // What was written follows the order of what it was written from, mostly: the chord in the same place of the order,
  // give or take the shift met last, is looked at before anything is searched.
  let shift = 0;
  const nearby = (k: number, x: number, y: number, enough: number): boolean => {
    const end = Math.min(to.length, k + shift + 12);
    for (let i = Math.max(0, k + shift - 4); i < end; i += 4) {
      if (toChord(to, i, x, y) <= enough) {
        shift = i - k;
        return true;
      }
    }
    return false;
  };
  const stride = Math.max(1, Math.ceil((3 * n) / MAX_SAMPLES));
  const worst: Farthest = { distance: 0, x: from[0], y: from[1], samples: 0 };
  const probe = (k: number, x: number, y: number): void => {
    worst.samples++;
    // A point that is closer than the worst one so far cannot change the answer.
    const enough = Math.max(worst.distance, reach * 1e-4);
    if (nearby(k, x, y, enough)) return;
    index ??= indexOf(to);
    const { distance: d, chord } = nearest(index, to, x, y, Math.max(reach, worst.distance), enough);
    shift = chord - k;
    if (d > worst.distance) {
      worst.distance = d;
      worst.x = x;
      worst.y = y;
    }
  };
  for (let i = 0; i < n; i += stride) {
    if (worst.samples % 8192 < 3) checkStop(work);
    const k = 4 * i;
    probe(k, from[k], from[k + 1]);
    probe(k, (from[k] + from[k + 2]) / 2, (from[k + 1] + from[k + 3]) / 2);
    probe(k, from[k + 2], from[k + 3]);
  }
  return worst;
}

interface ChordIndex {
  tree: Flatbush;
  /** The chord behind each box of the tree. */
  chordOf: Int32Array;
}

/**
 * An index of chords by boxes. A long slanting chord has a box that nearly everything lies in, so long ones are cut
 * into pieces; how long is chosen so that there are about five boxes per chord at most.
 */
function indexOf(chords: Float64Array): ChordIndex {
  const n = chords.length / 4;
  let total = 0;
  const lengthOf = (i: number): number => Math.hypot(chords[i + 2] - chords[i], chords[i + 3] - chords[i + 1]);
  for (let i = 0; i < chords.length; i += 4) total += lengthOf(i);
  if (!Number.isFinite(total)) throw new RangeError('chords that are no numbers cannot be searched');
  const piece = total / (4 * n + 1000) || 1;
  const parts = (i: number): number => Math.max(1, Math.ceil(lengthOf(i) / piece));
  let boxes = 0;
  for (let i = 0; i < chords.length; i += 4) boxes += parts(i);
  const tree = new Flatbush(boxes);
  const chordOf = new Int32Array(boxes);
  let at = 0;
  for (let i = 0; i < chords.length; i += 4) {
    const [x0, y0, dx, dy] = [chords[i], chords[i + 1], chords[i + 2] - chords[i], chords[i + 3] - chords[i + 1]];
    const k = parts(i);
    for (let s = 0; s < k; s++) {
      const [ax, ay] = [x0 + (dx * s) / k, y0 + (dy * s) / k];
      const [bx, by] = [x0 + (dx * (s + 1)) / k, y0 + (dy * (s + 1)) / k];
      tree.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
      chordOf[at++] = i;
    }
  }
  tree.finish();
  return { tree, chordOf };
}

/** The distance to the nearest chord, and which it is; anything up to `enough` ends the search. */
function nearest(
  index: ChordIndex,
  to: Float64Array,
  x: number,
  y: number,
  reach: number,
  enough: number,
): { distance: number; chord: number } {
  let chord = 0;
  for (let r = reach; ; r *= 8) {
    let best = Infinity;
    for (const box of index.tree.search(x - r, y - r, x + r, y + r)) {
      const d = toChord(to, index.chordOf[box], x, y);
      if (d < best) {
        best = d;
        chord = index.chordOf[box];
        if (best <= enough) return { distance: best, chord };
      }
    }
    if (best <= r || !Number.isFinite(r)) return { distance: best, chord };
  }
}

function toChord(c: Float64Array, i: number, x: number, y: number): number {
  const dx = c[i + 2] - c[i];
  const dy = c[i + 3] - c[i + 1];
  const l2 = dx * dx + dy * dy;
  const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - c[i]) * dx + (y - c[i + 1]) * dy) / l2));
  return Math.hypot(x - c[i] - t * dx, y - c[i + 1] - t * dy);
}
