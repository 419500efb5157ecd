/** A circle fitted to points, and how far the farthest of them lies off it. */
export interface FittedCircle {
  x: number;
  y: number;
  radius: number;
  off: number;
}

/**
 * The circle of least squares through points (x, y in turn), by the algebraic distance (I. Kåsa, 1976): x² + y² = 2ax + 2by + c
 * solved about the points' mean. `null` for fewer than three points or points on a line.
 */
export function fitCircle(points: ArrayLike<number>): FittedCircle | null {
  const n = points.length >> 1;
  if (n < 3) return null;
  let [mx, my] = [0, 0];
  for (let i = 0; i < n; i++) {
    mx += points[2 * i]! / n;
    my += points[2 * i + 1]! / n;
  }
  let [sxx, sxy, syy, sxz, syz, sz] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [x, y] = [points[2 * i]! - mx, points[2 * i + 1]! - my];
    const z = x * x + y * y;
    sxx += x * x;
    sxy += x * y;
    syy += y * y;
    sxz += x * z;
    syz += y * z;
    sz += z;
  }
  const det = sxx * syy - sxy * sxy;
  if (!(Math.abs(det) > 1e-12 * (sxx + syy) ** 2)) return null;
  const a = (sxz * syy - syz * sxy) / (2 * det);
  const b = (syz * sxx - sxz * sxy) / (2 * det);
  const radius = Math.sqrt(a * a + b * b + sz / n);
  let off = 0;
  for (let i = 0; i < n; i++)
    off = Math.max(off, Math.abs(Math.hypot(points[2 * i]! - mx - a, points[2 * i + 1]! - my - b) - radius));
  return { x: mx + a, y: my + b, radius, off };
}

/** Whether points go round a centre just once, each step the same way and by less than `most` radians. */
export function goesRoundOnce(points: ArrayLike<number>, x: number, y: number, most: number): boolean {
  const n = points.length >> 1;
  let turned = 0;
  let sign = 0;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay] = [points[2 * i]! - x, points[2 * i + 1]! - y];
    const [bx, by] = [points[2 * j]! - x, points[2 * j + 1]! - y];
    const step = Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    if (step === 0 || Math.abs(step) > most || (sign !== 0 && Math.sign(step) !== sign)) return false;
    sign = Math.sign(step);
    turned += step;
  }
  return Math.abs(Math.abs(turned) - 2 * Math.PI) < 1e-6;
}
