import type { Box2 } from '../geometry/box.js';
import type { Vec3 } from '../geometry/vector.js';

/** The two ends of what of a line without end lies within a box; `null` when it misses it. */
export function rayWithin(at: Vec3, direction: Vec3, both: boolean, box: Box2): [Vec3, Vec3] | null {
  let [from, to] = [both ? -Infinity : 0, Infinity];
  for (const [p, d, lo, hi] of [
    [at[0], direction[0], box.minX, box.maxX],
    [at[1], direction[1], box.minY, box.maxY],
  ]) {
    if (d === 0) {
      if (p! < lo! || p! > hi!) return null;
      continue;
    }
    const [a, b] = [(lo! - p!) / d!, (hi! - p!) / d!];
    from = Math.max(from, Math.min(a, b));
    to = Math.min(to, Math.max(a, b));
  }
  if (!Number.isFinite(from) || !Number.isFinite(to) || from >= to) return null;
  const place = (t: number): Vec3 => [at[0] + direction[0] * t, at[1] + direction[1] * t, at[2] + direction[2] * t];
  return [place(from), place(to)];
}
