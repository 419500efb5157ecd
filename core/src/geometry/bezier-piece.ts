import type { Box2 } from './box.js';
import { integrate } from './quadrature.js';
import { AT_END } from './tolerance.js';

/**
 * What can be asked of one Bézier piece in homogeneous coordinates (x·w, y·w, z·w, w per control point), as
 * `bezierPieces` gives them.
 */

const scratch = new Float64Array(4 * 26);

/** De Casteljau: coordinate `m` (0 to 2) of the point at `t`. */
function valueAt(h: Float64Array, m: number, t: number): number {
  const n = h.length / 4;
  for (let i = 0; i < n; i++) {
    scratch[2 * i] = h[4 * i + m]!;
    scratch[2 * i + 1] = h[4 * i + 3]!;
  }
  for (let r = n - 1; r > 0; r--)
    for (let i = 0; i < 2 * r; i++) scratch[i] = (1 - t) * scratch[i]! + t * scratch[i + 2]!;
  return scratch[0]! / (scratch[1] || 1);
}

/**
 * Grows a box by pieces. A piece reaches no further than its control points, and where the outermost of them is one of its
 * ends that end is what counts, so only pieces that may turn outside the box are looked into.
 */
export function addPiecesBounds(pieces: readonly Float64Array[], box: Box2): void {
  for (const h of pieces) {
    const last = h.length - 4;
    box.add(h[0]! / (h[3] || 1), h[1]! / (h[3] || 1));
    box.add(h[last]! / (h[last + 3] || 1), h[last + 1]! / (h[last + 3] || 1));
  }
  for (const h of pieces) {
    for (const m of [0, 1] as const) {
      let [lo, hi] = [Infinity, -Infinity];
      for (let i = m; i < h.length; i += 4) {
        const w = h[i - m + 3]!;
        // Where a weight is not above zero, the control points bound nothing.
        const v = w > 0 ? h[i]! / w : NaN;
        if (!(v >= lo)) lo = Number.isNaN(v) ? -Infinity : v;
        if (!(v <= hi)) hi = Number.isNaN(v) ? Infinity : v;
      }
      if (hi > (m === 0 ? box.maxX : box.maxY)) grow(h, m, 1, box);
      if (lo < (m === 0 ? box.minX : box.minY)) grow(h, m, -1, box);
    }
  }
}

/**
 * Grows the box by the largest value of one coordinate (times `sign`), searched around every sample that none beside it exceeds: a curve may
 * turn furthest out where its samples are not the outermost.
 */
function grow(h: Float64Array, m: 0 | 1, sign: 1 | -1, box: Box2): void {
  const steps = 4 * (h.length / 4 - 1);
  const f = (t: number): number => sign * valueAt(h, m, t);
  const values = Array.from({ length: steps + 1 }, (_, k) => f(k / steps));
  let most = -Infinity;
  for (let k = 0; k <= steps; k++) {
    const value = values[k]!;
    if (value > most) most = value;
    if ((k > 0 && values[k - 1]! > value) || (k < steps && values[k + 1]! > value)) continue;
    let [lo, hi] = [Math.max(0, k - 1) / steps, Math.min(steps, k + 1) / steps];
    for (let n = 0; n < 48 && hi - lo > AT_END; n++) {
      const [m1, m2] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
      if (f(m1) < f(m2)) lo = m1;
      else hi = m2;
    }
    most = Math.max(most, f((lo + hi) / 2));
  }
  const value = sign * most;
  const other = m === 0 ? h[1]! / (h[3] || 1) : h[0]! / (h[3] || 1);
  if (m === 0) box.add(value, other);
  else box.add(other, value);
}

/** The length of the piece. `noise` as for `integrate`. */
export function pieceLength(h: Float64Array, noise: number): number {
  const n = h.length / 4;
  const degree = n - 1;
  if (degree === 1) {
    const [a, b] = [h[3] || 1, h[7] || 1];
    return Math.hypot(h[4]! / b - h[0]! / a, h[5]! / b - h[1]! / a, h[6]! / b - h[2]! / a);
  }
  const even = h[3]!;
  let rational = false;
  for (let i = 1; i < n; i++) if (Math.abs(h[4 * i + 3]! - even) > 1e-15 * Math.abs(even)) rational = true;
  return integrate(rational ? (t) => rationalSpeed(h, t) : plainSpeed(h, even || 1), 0, 1, noise);
}

/** The length of a vector. Squares of what is drawable stay finite, so that nothing has to be scaled first. */
const norm = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);

/** |dP/dt| of a piece whose weights are one: the hodograph, degree times the differences of its control points. */
function plainSpeed(h: Float64Array, w: number): (t: number) => number {
  const n = h.length / 4 - 1;
  const d = new Float64Array(3 * n);
  for (let i = 0; i < n; i++)
    for (let m = 0; m < 3; m++) d[3 * i + m] = (n * (h[4 * (i + 1) + m]! - h[4 * i + m]!)) / w;
  if (n === 2) {
    return (t) => norm(d[0]! + t * (d[3]! - d[0]!), d[1]! + t * (d[4]! - d[1]!), d[2]! + t * (d[5]! - d[2]!));
  }
  if (n === 3) {
    return (t) => {
      const [a, b, c] = [(1 - t) * (1 - t), 2 * t * (1 - t), t * t];
      return norm(
        a * d[0]! + b * d[3]! + c * d[6]!,
        a * d[1]! + b * d[4]! + c * d[7]!,
        a * d[2]! + b * d[5]! + c * d[8]!,
      );
    };
  }
  return (t) => {
    scratch.set(d);
    for (let r = n - 1; r > 0; r--)
      for (let i = 0; i < 3 * r; i++) scratch[i] = (1 - t) * scratch[i]! + t * scratch[i + 3]!;
    return norm(scratch[0]!, scratch[1]!, scratch[2]!);
  };
}

/** |dP/dt| by the quotient rule on the homogeneous derivative (Piegl and Tiller, The NURBS Book, §4.3). */
function rationalSpeed(h: Float64Array, t: number): number {
  const n = h.length / 4;
  scratch.set(h);
  for (let r = n - 1; r > 1; r--)
    for (let i = 0; i < 4 * r; i++) scratch[i] = (1 - t) * scratch[i]! + t * scratch[i + 4]!;
  const w = (1 - t) * scratch[3]! + t * scratch[7]! || 1;
  const slope = scratch[7]! - scratch[3]!;
  let sum = 0;
  for (let m = 0; m < 3; m++) {
    const value = (1 - t) * scratch[m]! + t * scratch[4 + m]!;
    const speed = (scratch[4 + m]! - scratch[m]! - (value / w) * slope) / w;
    sum += speed * speed;
  }
  return (n - 1) * Math.sqrt(sum);
}
