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
 * The largest distance from points of `from` (ends and middles of its chords) to the chords of `to`. `reach` is how far apart
 * two ways of cutting one curve into chords may lie; below a ten-thousandth of it nothing is told apart. Above that the distance
 * is exact, however large.
 */
export function farthest(from: Float64Array, to: Float64Array, reach: number, work?: Work): Farthest {
  const n = from.length / 4;
  if (n === 0) return { distance: 0, x: 0, y: 0, samples: 0 };
  if (to.length === 0) return { distance: Infinity, x: from[0]!, y: from[1]!, samples: 1 };
  let index: ChordIndex | null = null;
  let missed = 0;
  // What was written follows the order of what it was written from, mostly: the chord in the same place of the order,
  // give or take the shift met last, is looked at before anything is searched, and those around it, the nearest first.
  let shift = 0;
  const nearby = (k: number, x: number, y: number, enough: number): number => {
    const at = k + shift;
    let best = Infinity;
    for (let away = 0; away <= 4 * AROUND; away += 4) {
      for (let i = at - away; i <= at + away; i += 2 * away || 4) {
        if (i < 0 || i >= to.length) continue;
        const d = toChord(to, i, x, y);
        if (d < best) best = d;
        if (d > enough) continue;
        shift = i - k;
        return best;
      }
    }
    return best;
  };
  const stride = Math.max(1, Math.ceil((3 * n) / MAX_SAMPLES));
  const worst: Farthest = { distance: 0, x: from[0]!, y: from[1]!, samples: 0 };
  const later: Unsettled[] = [];
  const probe = (k: number, x: number, y: number): void => {
    worst.samples++;
    // A point that is closer than the worst one so far cannot change the answer.
    const enough = Math.max(worst.distance, reach * 1e-4);
    const bound = nearby(k, x, y, enough);
    if (bound <= enough) return;
    // Near, and not the same: another way of cutting the same curve. Once all are known, most of these cannot be the worst.
    if (bound <= 2 * reach && later.length < MAX_UNSETTLED) later.push({ bound, k, x, y });
    else search(k, x, y, enough);
  };
  const search = (k: number, x: number, y: number, enough: number): void => {
    if (++missed === 1) index = coarseIndexOf(to);
    else if (missed === MANY) index = indexOf(to);
    const { distance: d, chord } = nearest(index!, to, x, y, enough);
    // What is nearest without being the same says nothing of how the two orders lie.
    if (d <= reach * 1e-4) shift = chord - k;
    if (d > worst.distance) {
      worst.distance = d;
      worst.x = x;
      worst.y = y;
    }
  };
  for (let i = 0; i < n; i += stride) {
    if (worst.samples % 8192 < 3) checkStop(work);
    const k = 4 * i;
    probe(k, from[k]!, from[k + 1]!);
    probe(k, (from[k]! + from[k + 2]!) / 2, (from[k + 1]! + from[k + 3]!) / 2);
    probe(k, from[k + 2]!, from[k + 3]!);
  }
  later.sort((a, b) => b.bound - a.bound);
  for (const { bound, k, x, y } of later) {
    if (bound <= worst.distance) break;
    search(k, x, y, Math.max(worst.distance, reach * 1e-4));
  }
  return worst;
}

/** Asks of places whether they lie further than `limit` from all chords; without chords every place does. */
export function distancesTo(chords: Float64Array, limit: number): (x: number, y: number) => boolean {
  if (chords.length === 0) return () => true;
  const index = indexOf(chords);
  return (x, y) => nearest(index, chords, x, y, limit).distance > limit;
}

/** A point that lies no further away than `bound`: how far exactly is asked only where it may be the worst. */
interface Unsettled {
  bound: number;
  k: number;
  x: number;
  y: number;
}
const MAX_UNSETTLED = 100_000;

/** How many chords before and after are looked at: a circle may run the other way round there. */
const AROUND = 160;
/** From so many points on that are not found nearby, an index that takes longer to make is worth it. */
const MANY = 3000;
/** Chords that follow each other stand together in the coarse index: mostly they are of one curve. */
const RUN = 16;

interface ChordIndex {
  tree: Flatbush;
  /** The first chord behind each box of the tree, and how many there are from there on. */
  chordOf: Int32Array;
  run: number;
}

/** An index of runs of chords: quickly made, and good enough for some thousand questions. */
function coarseIndexOf(chords: Float64Array): ChordIndex {
  const runs = Math.ceil(chords.length / (4 * RUN));
  const tree = new Flatbush(runs);
  const chordOf = new Int32Array(runs);
  for (let k = 0; k < runs; k++) {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    chordOf[k] = 4 * RUN * k;
    for (let i = chordOf[k]!; i < Math.min(chords.length, chordOf[k]! + 4 * RUN); i += 2) {
      minX = Math.min(minX, chords[i]!);
      maxX = Math.max(maxX, chords[i]!);
      minY = Math.min(minY, chords[i + 1]!);
      maxY = Math.max(maxY, chords[i + 1]!);
    }
    tree.add(minX, minY, maxX, maxY);
  }
  tree.finish();
  return { tree, chordOf, run: RUN };
}

/**
 * An index of chords by boxes. A long slanting chord has a box that nearly everything lies in, so long ones are cut
 * into pieces; how long is chosen so that there are about five boxes per chord at most.
 */
function indexOf(chords: Float64Array): ChordIndex {
  const n = chords.length / 4;
  let total = 0;
  const lengthOf = (i: number): number => Math.hypot(chords[i + 2]! - chords[i]!, chords[i + 3]! - chords[i + 1]!);
  for (let i = 0; i < chords.length; i += 4) total += lengthOf(i);
  if (!Number.isFinite(total)) throw new Error('chords that are no numbers cannot be searched');
  const piece = total / (4 * n + 1000) || 1;
  const parts = (i: number): number => Math.max(1, Math.ceil(lengthOf(i) / piece));
  let boxes = 0;
  for (let i = 0; i < chords.length; i += 4) boxes += parts(i);
  const tree = new Flatbush(boxes);
  const chordOf = new Int32Array(boxes);
  let at = 0;
  for (let i = 0; i < chords.length; i += 4) {
    const [x0, y0, dx, dy] = [chords[i], chords[i + 1], chords[i + 2]! - chords[i]!, chords[i + 3]! - chords[i + 1]!];
    const k = parts(i);
    for (let s = 0; s < k; s++) {
      const [ax, ay] = [x0! + (dx * s) / k, y0! + (dy * s) / k];
      const [bx, by] = [x0! + (dx * (s + 1)) / k, y0! + (dy * (s + 1)) / k];
      tree.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
      chordOf[at++] = i;
    }
  }
  tree.finish();
  return { tree, chordOf, run: 1 };
}

/**
 * The distance to the nearest chord, and which it is; anything up to `enough` ends the search. Boxes are taken by their
 * distance, which no chord within them is closer than, more at a time until the next box lies beyond what was found.
 */
function nearest(
  index: ChordIndex,
  to: Float64Array,
  x: number,
  y: number,
  enough: number,
): { distance: number; chord: number } {
  let best = Infinity;
  let chord = 0;
  for (let many = 8; ; many *= 4) {
    const boxes = index.tree.neighbors(x, y, many, best);
    for (const box of boxes) {
      const first = index.chordOf[box]!;
      for (let i = first; i < Math.min(to.length, first + 4 * index.run); i += 4) {
        const d = toChord(to, i, x, y);
        if (d >= best) continue;
        best = d;
        chord = i;
        if (best <= enough) return { distance: best, chord };
      }
    }
    // Fewer than were asked for: no other box is as close.
    if (boxes.length < many) return { distance: best, chord };
  }
}

function toChord(c: Float64Array, i: number, x: number, y: number): number {
  const dx = c[i + 2]! - c[i]!;
  const dy = c[i + 3]! - c[i + 1]!;
  const l2 = dx * dx + dy * dy;
  const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - c[i]!) * dx + (y - c[i + 1]!) * dy) / l2));
  const [px, py] = [x - c[i]! - t * dx, y - c[i + 1]! - t * dy];
  return Math.sqrt(px * px + py * py);
}
