import type { Polyline } from './entity.js';

/** The index of the vertex that ends the segment starting at `i`, or -1 after the last vertex of an open polyline. */
export function segmentEnd(p: Polyline, i: number): number {
  const n = p.points.length / p.dim;
  if (i + 1 < n) return i + 1;
  return p.closed && n > 1 ? 0 : -1;
}
