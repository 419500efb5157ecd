import { PlaceGrid } from '../geometry/place-grid.js';
import type { MeasuredText } from './measure.js';

export interface PairedTexts {
  /** Texts that are not there any more, one for each time. */
  missing: string[];
  /** How many are there that were not expected. */
  extra: number;
  /** The largest distance between two of a pair, and the largest difference of their heights. */
  farthestMove: number;
  tallest: number;
}

/** Of texts that say the same and all lie elsewhere, so many are compared each with each; more are paired in order. */
const MANY = 500;

/**
 * Pairs lines of text by their characters: of those that say the same, first what lies within `near` of each other, then
 * the nearest. A drawing may say the same word a hundred thousand times.
 */
export function pairedTexts(want: readonly MeasuredText[], have: readonly MeasuredText[], near: number): PairedTexts {
  const found = byWords(have);
  const out: PairedTexts = { missing: [], extra: 0, farthestMove: 0, tallest: 0 };
  for (const [text, expected] of byWords(want)) {
    const there = found.get(text) ?? [];
    found.delete(text);
    const pairs = pairsOf(expected, there, near);
    for (const [a, b] of pairs) {
      out.farthestMove = Math.max(out.farthestMove, Math.hypot(a.x - b.x, a.y - b.y));
      out.tallest = Math.max(out.tallest, Math.abs(a.height - b.height));
    }
    for (let n = pairs.length; n < expected.length; n++) out.missing.push(text);
    out.extra += there.length - pairs.length;
  }
  for (const left of found.values()) out.extra += left.length;
  return out;
}

function byWords(list: readonly MeasuredText[]): Map<string, MeasuredText[]> {
  const map = new Map<string, MeasuredText[]>();
  for (const t of list) {
    const same = map.get(t.text);
    if (same) same.push(t);
    else map.set(t.text, [t]);
  }
  return map;
}

type Pair = [MeasuredText, MeasuredText];

function pairsOf(want: readonly MeasuredText[], have: readonly MeasuredText[], near: number): Pair[] {
  if (want.length === 1 && have.length === 1) return [[want[0]!, have[0]!]];
  const grid = PlaceGrid.of(
    have,
    (t) => t.x,
    (t) => t.y,
    near,
  );
  const taken = new Uint8Array(have.length);
  const pairs: Pair[] = [];
  const left: MeasuredText[] = [];
  for (const t of want) {
    const i = grid.takeClosest(t.x, t.y, MANY);
    if (i < 0) left.push(t);
    else {
      taken[i] = 1;
      pairs.push([t, have[i]!]);
    }
  }
  const free = have.filter((_, i) => !taken[i]);
  for (const t of left) {
    if (free.length === 0) break;
    let best = 0;
    if (free.length <= MANY)
      for (let i = 1; i < free.length; i++) if (apart(free[i]!, t) < apart(free[best]!, t)) best = i;
    // The last takes the place of the one that is gone, so that nothing is moved along.
    pairs.push([t, free[best]!]);
    const last = free.pop()!;
    if (best < free.length) free[best] = last;
  }
  return pairs;
}

const apart = (a: MeasuredText, b: MeasuredText): number => Math.hypot(a.x - b.x, a.y - b.y);
