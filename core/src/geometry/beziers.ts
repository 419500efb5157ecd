/** The control points of the cubic that equals the quadratic (x0,y0) (x1,y1) (x2,y2): its two inner points. */
export const quadraticAsCubic = (
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
): [number, number, number, number] => [
  x0 + (2 / 3) * (x1 - x0),
  y0 + (2 / 3) * (y1 - y0),
  x2 + (2 / 3) * (x1 - x2),
  y2 + (2 / 3) * (y1 - y2),
];

/**
 * How many chords a cubic needs to stay within `tolerance`: n ≥ √(√3/18 · … ) by the bound on its second difference,
 * n² ≥ (3·2/8)·max|Pᵢ−2Pᵢ₊₁+Pᵢ₊₂| / tolerance (Wang's formula for degree 3). Between 1 and 1024.
 */
export function cubicChordCount(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  x3: number,
  y3: number,
  tolerance: number,
): number {
  const m = Math.max(Math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2), Math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3));
  return Math.min(1024, Math.max(1, Math.ceil(Math.sqrt((0.75 * m) / tolerance))));
}

/** The point of a cubic at `t`, one coordinate at a time. */
export function cubicAt(p0: number, p1: number, p2: number, p3: number, t: number): number {
  const s = 1 - t;
  return s * s * s * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t * t * t * p3;
}
