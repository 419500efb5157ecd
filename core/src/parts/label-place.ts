import { Box2 } from '../geometry/box.js';
import type { Chord } from '../geometry/clip-chord.js';
import { clippedChord } from '../geometry/clip-chord.js';

/** Where a label may stand: within an outline, off everything that is in it. */
export interface LabelRoom {
  readonly outline: readonly Chord[];
  /** Edges of holes, marks, and whatever else it must not touch. */
  readonly obstacles: readonly Chord[];
}

/** What lies this much nearer than asked is as near as asked: a label that just fits does fit. */
const SLACK = 1e-9;
/** So many places are tried along x and along y. */
const MOST = 48;

/** Whether a box about a place lies in the room with a margin on all sides. */
export function fitsAt(room: LabelRoom, x: number, y: number, width: number, height: number, margin: number): boolean {
  const slack = SLACK * (width + height + Math.abs(x) + Math.abs(y));
  const [w, h] = [width / 2 + margin - slack, height / 2 + margin - slack];
  const box = new Box2();
  box.add(x - w, y - h);
  box.add(x + w, y + h);
  const crossed = (c: Chord): boolean => clippedChord(box, ...c) !== null;
  return (
    holds(room.outline, x, y) && !room.outline.some(crossed) && !room.obstacles.some(crossed) && !isInHole(room, x, y)
  );
}

/** An obstacle that goes round a place without touching the box about it is a hole the label would stand in. */
const isInHole = (room: LabelRoom, x: number, y: number): boolean => holds(room.obstacles, x, y);

/**
 * Where a box fits with a margin: with the most room around it, of several such places the one nearest to where it stands. `null`
 * where it fits nowhere.
 */
export function placeFor(
  room: LabelRoom,
  at: readonly [number, number],
  width: number,
  height: number,
  margin: number,
): readonly [number, number] | null {
  const xs = candidates(room, 0, at[0], width / 2 + margin);
  const ys = candidates(room, 1, at[1], height / 2 + margin);
  let best: readonly [number, number] | null = null;
  let [most, nearest] = [-1, Infinity];
  for (const x of xs)
    for (const y of ys) {
      if (!fitsAt(room, x, y, width, height, margin)) continue;
      const clear = clearance(room, x, y, width, height);
      const away = Math.hypot(x - at[0], y - at[1]);
      if (clear < most * (1 - 1e-6) || (clear <= most * (1 + 1e-6) && away >= nearest)) continue;
      [best, most, nearest] = [[x, y], clear, away];
    }
  return best;
}

/** The largest part of a box, no larger than whole, that fits somewhere, and where. */
export function largestThatFits(
  room: LabelRoom,
  at: readonly [number, number],
  width: number,
  height: number,
  margin: number,
  least: number,
): { factor: number; at: readonly [number, number] } | null {
  const fit = (factor: number): readonly [number, number] | null =>
    placeFor(room, at, width * factor, height * factor, margin);
  if (!fit(least)) return null;
  let [lo, hi] = [least, 1];
  for (let k = 0; k < 24; k++) {
    const middle = (lo + hi) / 2;
    if (fit(middle)) lo = middle;
    else hi = middle;
  }
  return { factor: lo, at: fit(lo)! };
}

/** Places along an axis: where it stands, beside every corner, and half way between corners. */
function candidates(room: LabelRoom, axis: 0 | 1, own: number, half: number): number[] {
  const corners = [...new Set([...room.outline, ...room.obstacles].flatMap((c) => [c[axis], c[axis + 2]!]))].sort(
    (a, b) => a - b,
  );
  const some = thinned(corners, MOST / 3);
  const out = new Set<number>([own]);
  some.forEach((v, i) => {
    out.add(v + half).add(v - half);
    if (i > 0) out.add((v + some[i - 1]!) / 2);
  });
  if (corners.length > 1) out.add((corners[0]! + corners[corners.length - 1]!) / 2);
  return [...out];
}

const thinned = (list: readonly number[], most: number): number[] =>
  list.length <= most
    ? [...list]
    : Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);

/** Whether chords go round a place, by those that a ray to the right crosses. */
function holds(chords: readonly Chord[], x: number, y: number): boolean {
  let inside = false;
  for (const [x0, y0, x1, y1] of chords)
    if (y0 > y !== y1 > y && x < ((x1 - x0) * (y - y0)) / (y1 - y0) + x0) inside = !inside;
  return inside;
}

/** How far the nearest edge lies from a box. */
function clearance(room: LabelRoom, x: number, y: number, width: number, height: number): number {
  let least = Infinity;
  for (const list of [room.outline, room.obstacles])
    for (const [x0, y0, x1, y1] of list) {
      // Of the nearest place on the chord to the middle, and of its ends: enough to tell one place from another.
      const [dx, dy] = [x1 - x0, y1 - y0];
      const l = dx * dx + dy * dy;
      const t = l > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / l)) : 0;
      for (const s of [t, 0, 1]) {
        const out = [Math.abs(x0 + s * dx - x) - width / 2, Math.abs(y0 + s * dy - y) - height / 2] as const;
        least = Math.min(least, Math.hypot(Math.max(0, out[0]), Math.max(0, out[1])));
      }
    }
  return least;
}
