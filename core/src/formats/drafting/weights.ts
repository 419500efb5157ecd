/** The 24 line weights that DXF knows, in hundredths of a millimetre (DXF reference, group 370). */
export const WEIGHTS = [
  0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211,
] as const;

/**
 * The nearest of the 24 weights to a width in millimetres, as group 370 holds it. Weight 0 is the thinnest line a device
 * has, not a width: only 0 itself becomes it.
 */
export function nearestWeight(mm: number): number {
  const target = mm * 100;
  if (mm === 0) return 0;
  return WEIGHTS.reduce((best, w) => (w > 0 && Math.abs(w - target) < Math.abs(best - target) ? w : best), 5);
}
