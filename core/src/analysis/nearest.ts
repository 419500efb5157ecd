import type { Drawing } from '../drawing/drawing.js';
import { flattenEntity } from '../drawing/flatten.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';

/** The chords of what is in sight in model space, x0 y0 x1 y1 each, no further than `tolerance` from their curves. */
export function chordsOf(drawing: Drawing, tolerance: number): Float64Array {
  const out: number[] = [];
  surveyOf(drawing).each(({ entity, toWorld }) => {
    let [px, py] = [0, 0];
    flattenEntity(entity, toWorld, tolerance, {
      moveTo: (x, y) => void ([px, py] = [x, y]),
      lineTo: (x, y) => {
        out.push(px, py, x, y);
        [px, py] = [x, y];
      },
    });
  });
  return Float64Array.from(out);
}

/** Two places, one of each of two drawings, and how far they lie apart. */
export interface Nearest {
  readonly distance: number;
  readonly a: readonly [number, number];
  readonly b: readonly [number, number];
}

/**
 * The smallest distance between chords of two kinds, 0 where they cross; `null` where one has none. Both are gone through in the order of
 * their left ends; what lies further to the right than the best that was found is not looked at.
 */
export function nearestOf(a: Float64Array, b: Float64Array, work?: Work): Nearest | null {
  if (a.length === 0 || b.length === 0) return null;
  const sorted = (of: Float64Array): { order: Int32Array; left: Float64Array; widest: number } => {
    const n = of.length / 4;
    const left = Float64Array.from({ length: n }, (_, i) => Math.min(of[4 * i]!, of[4 * i + 2]!));
    let widest = 0;
    for (let i = 0; i < n; i++) widest = Math.max(widest, Math.abs(of[4 * i]! - of[4 * i + 2]!));
    const order = Int32Array.from({ length: n }, (_, i) => i).sort((i, j) => left[i]! - left[j]!);
    return { order, left, widest };
  };
  const of = sorted(b);
  const lefts = Float64Array.from(of.order, (i) => of.left[i]!);
  let best: Nearest = between(a, 0, b, 0);
  for (let i = 0; i < a.length; i += 4) {
    if (i % 4096 === 0) checkStop(work);
    if (best.distance === 0) return best;
    const [x0, x1] = [Math.min(a[i]!, a[i + 2]!), Math.max(a[i]!, a[i + 2]!)];
    const [y0, y1] = [Math.min(a[i + 1]!, a[i + 3]!), Math.max(a[i + 1]!, a[i + 3]!)];
    for (let k = firstFrom(lefts, x0 - best.distance - of.widest); k < lefts.length; k++) {
      if (lefts[k]! - x1 >= best.distance) break;
      const j = 4 * of.order[k]!;
      if (Math.min(b[j + 1]!, b[j + 3]!) - y1 >= best.distance || y0 - Math.max(b[j + 1]!, b[j + 3]!) >= best.distance)
        continue;
      const found = between(a, i, b, j);
      if (found.distance < best.distance) best = found;
    }
  }
  return best;
}

/** The first place of a sorted list that is no smaller than a value. */
function firstFrom(list: Float64Array, value: number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The smallest distance between two segments: at an end of one of them, or nothing where they cross. */
function between(p: Float64Array, i: number, q: Float64Array, j: number): Nearest {
  const [ax, ay, bx, by] = [p[i]!, p[i + 1]!, p[i + 2]!, p[i + 3]!];
  const [cx, cy, dx, dy] = [q[j]!, q[j + 1]!, q[j + 2]!, q[j + 3]!];
  const cross = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
  if (cross !== 0) {
    const t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / cross;
    const u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / cross;
    if (t >= 0 && t <= 1 && u >= 0 && u <= 1) {
      const at = [ax + t * (bx - ax), ay + t * (by - ay)] as const;
      return { distance: 0, a: at, b: at };
    }
  }
  const onto = (x: number, y: number, x0: number, y0: number, x1: number, y1: number): readonly [number, number] => {
    const [ux, uy] = [x1 - x0, y1 - y0];
    const length = ux * ux + uy * uy;
    const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * ux + (y - y0) * uy) / length));
    return [x0 + t * ux, y0 + t * uy];
  };
  const pairs: (readonly [readonly [number, number], readonly [number, number]])[] = [
    [[ax, ay], onto(ax, ay, cx, cy, dx, dy)],
    [[bx, by], onto(bx, by, cx, cy, dx, dy)],
    [onto(cx, cy, ax, ay, bx, by), [cx, cy]],
    [onto(dx, dy, ax, ay, bx, by), [dx, dy]],
  ];
  let best: Nearest | null = null;
  for (const [a, b] of pairs) {
    const distance = Math.hypot(a[0] - b[0], a[1] - b[1]);
    if (!best || distance < best.distance) best = { distance, a, b };
  }
  return best!;
}
