import type { Box2 } from './box.js';

/** A straight chord: x and y of its start and of its end. */
export type Chord = readonly [x0: number, y0: number, x1: number, y1: number];

/** The part of a chord inside a box (Liang and Barsky); `null` when there is none. */
export function clippedChord(
  box: Box2,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): [number, number, number, number] | null {
  let [from, to] = [0, 1];
  const [dx, dy] = [x1 - x0, y1 - y0];
  for (const [p, q] of [
    [-dx, x0 - box.minX],
    [dx, box.maxX - x0],
    [-dy, y0 - box.minY],
    [dy, box.maxY - y0],
  ]) {
    if (p === 0) {
      if (q! < 0) return null;
    } else if (p! < 0) from = Math.max(from, q! / p!);
    else to = Math.min(to, q! / p!);
  }
  return from > to ? null : [x0 + dx * from, y0 + dy * from, x0 + dx * to, y0 + dy * to];
}
