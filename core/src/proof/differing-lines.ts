import type { Drawing } from '../drawing/drawing.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { FontBook } from '../text/fonts.js';
import { RELATIVE } from './comparison.js';
import { distancesTo } from './distance.js';
import { boundaries, measure } from './measure.js';
import type { Measures, MeasuredText } from './measure.js';
import { finenessOf } from './fineness.js';

/** What one of two drawings shows and the other does not, as chords: x0 y0 x1 y1 each, in the unit of both. */
export interface DifferingLines {
  /** Only in the first, and only in the second. */
  gone: Float64Array;
  added: Float64Array;
  /** How far apart two lines may lie and still be the same. */
  limit: number;
}

/** Places that are looked at on a chord beside its ends. */
const PLACES = [0, 0.25, 0.5, 0.75, 1];

/**
 * The lines, edges of fills and texts that only one of two drawings has. Both upright and in the same unit. A text is shown
 * by a frame of its height.
 */
export function differingLines(expected: Drawing, found: Drawing, fonts: FontBook, work?: Work): DifferingLines {
  const size = boundsOf(expected, { hidden: true }).diagonal || 1;
  const tolerance = finenessOf(size, expected.entities.length);
  const limit = Math.max(3 * tolerance, size * RELATIVE);
  const a = measure(expected, 1, tolerance, fonts, work);
  const b = measure(found, 1, tolerance, fonts, work);
  return {
    gone: joined(without(a, b, limit, work), textFrames(a.texts, b.texts, limit)),
    added: joined(without(b, a, limit, work), textFrames(b.texts, a.texts, limit)),
    limit,
  };
}

/** The chords of one that lie further than `limit` from all of the other, somewhere. */
function without(of: Measures, other: Measures, limit: number, work?: Work): number[] {
  const { chords } = of;
  const away = distancesTo(boundaries(other), limit);
  const out: number[] = [];
  for (let i = 0; i < chords.length; i += 4) {
    if (i % 32768 === 0) checkStop(work);
    const [x0, y0, x1, y1] = [chords[i]!, chords[i + 1]!, chords[i + 2]!, chords[i + 3]!];
    if (PLACES.some((t) => away(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t))) out.push(x0, y0, x1, y1);
  }
  return out;
}

/** Frames for the texts that the other does not have in the same place. */
function textFrames(texts: readonly MeasuredText[], others: readonly MeasuredText[], limit: number): number[] {
  const known = new Map<string, MeasuredText[]>();
  for (const t of others) known.set(t.text, [...(known.get(t.text) ?? []), t]);
  const near = limit * 5;
  const out: number[] = [];
  for (const t of texts) {
    const same = known.get(t.text) ?? [];
    const k = same.findIndex((o) => Math.hypot(o.x - t.x, o.y - t.y) <= near && Math.abs(o.height - t.height) <= near);
    if (k >= 0) {
      // Each text answers for one.
      same.splice(k, 1);
      continue;
    }
    const [w, h] = [0.6 * t.height * t.text.length, t.height];
    out.push(t.x, t.y, t.x + w, t.y, t.x + w, t.y, t.x + w, t.y + h);
    out.push(t.x + w, t.y + h, t.x, t.y + h, t.x, t.y + h, t.x, t.y);
  }
  return out;
}

const joined = (a: number[], b: number[]): Float64Array => Float64Array.from([...a, ...b]);
