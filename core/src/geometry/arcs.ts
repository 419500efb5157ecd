/** A circular arc in the plane: from `start` turning by `sweep` radians (counter-clockwise when positive). */
export interface Arc2 {
  cx: number;
  cy: number;
  radius: number;
  start: number;
  sweep: number;
}

export const TAU = 2 * Math.PI;

/** The angle brought into [0, 2π). */
export function normalAngle(angle: number): number {
  const a = angle % TAU;
  return a < 0 ? a + TAU : a;
}

/** The counter-clockwise turn from `start` to `end`, in (0, 2π]: equal angles are a whole turn. */
export function ccwSweep(start: number, end: number): number {
  const turn = normalAngle(end - start);
  return turn === 0 ? TAU : turn;
}

/**
 * The arc that a bulge draws between two points. Bulge is tan(¼ of the included angle), positive counter-clockwise
 * (DXF reference, LWPOLYLINE group 42); centre = middle + normal · chord·(1−b²)/(4b). `null` for a straight segment:
 * bulge 0, or a bulge so small that the radius is no longer finite, or a chord of length zero.
 */
export function bulgeArc(x0: number, y0: number, x1: number, y1: number, bulge: number): Arc2 | null {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const chord = Math.hypot(dx, dy);
  if (bulge === 0 || chord === 0) return null;
  const radius = (chord * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
  if (!Number.isFinite(radius) || radius > 1e12 * chord) return null;
  const k = (1 - bulge * bulge) / (4 * bulge);
  const cx = (x0 + x1) / 2 - dy * k;
  const cy = (y0 + y1) / 2 + dx * k;
  return { cx, cy, radius, start: Math.atan2(y0 - cy, x0 - cx), sweep: 4 * Math.atan(bulge) };
}

/** The bulge of an arc that turns by `sweep` radians. */
export const bulgeOf = (sweep: number): number => Math.tan(sweep / 4);

/**
 * How many chords an arc of the given radius and sweep needs so that none is further than `tolerance` from it
 * (sagitta r·(1−cos(θ/2))). At least 1, at most 4096.
 */
export function chordCount(radius: number, sweep: number, tolerance: number): number {
  const turn = Math.abs(sweep);
  if (!(radius > 0) || turn === 0) return 1;
  const ratio = Math.min(1, Math.max(tolerance / radius, 1e-9));
  const step = 2 * Math.acos(1 - ratio);
  return Math.min(4096, Math.max(Math.ceil(turn / step), Math.ceil(turn / (Math.PI / 4)), 1));
}
