/** The 24 line weights that DXF knows, in hundredths of a millimetre (DXF reference, group 370). */
export const WEIGHTS = [
  0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211,
] as const; // prettier-ignore

/** The nearest of the 24 weights to a width in millimetres, as group 370 holds it. */
export function nearestWeight(mm: number): number {
  const target = mm * 100;
  return WEIGHTS.reduce((best, w) => (Math.abs(w - target) < Math.abs(best - target) ? w : best), 0);
}
