import type { Vec3 } from './vector.js';
import { cross, dot, length } from './vector.js';
import { ROUNDING, isSame } from './tolerance.js';

/**
 * An affine map of space, as twelve numbers: the images of the x, y and z axes, then of the origin.
 * `x' = m[0]·x + m[3]·y + m[6]·z + m[9]`, and so on for y' and z'.
 */
export type Affine = readonly [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];

export const IDENTITY: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

export const translation = (x: number, y: number, z = 0): Affine => [1, 0, 0, 0, 1, 0, 0, 0, 1, x, y, z];
export const scaling = (x: number, y: number, z: number): Affine => [x, 0, 0, 0, y, 0, 0, 0, z, 0, 0, 0];

/** A turn about the z axis, counter-clockwise, in radians. */
export function rotation(angle: number): Affine {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  return [c, s, 0, -s, c, 0, 0, 0, 1, 0, 0, 0];
}

/** The plane map `x' = a·x + c·y + e`, `y' = b·x + d·y + f` (the order of SVG's `matrix()`); z is kept. */
export const planar = (a: number, b: number, c: number, d: number, e: number, f: number): Affine => [
  a,
  b,
  0,
  c,
  d,
  0,
  0,
  0,
  1,
  e,
  f,
  0,
];

/** The map that does `inner` first and `outer` after it. */
export function compose(outer: Affine, inner: Affine): Affine {
  if (outer === IDENTITY) return inner;
  if (inner === IDENTITY) return outer;
  const [a, b, c, d, e, f, g, h, i, x, y, z] = outer;
  const n = inner;
  const column = (p: number, q: number, r: number): Vec3 => [
    a * p + d * q + g * r,
    b * p + e * q + h * r,
    c * p + f * q + i * r,
  ];
  const c0 = column(n[0], n[1], n[2]);
  const c1 = column(n[3], n[4], n[5]);
  const c2 = column(n[6], n[7], n[8]);
  const c3 = column(n[9], n[10], n[11]);
  return [c0[0], c0[1], c0[2], c1[0], c1[1], c1[2], c2[0], c2[1], c2[2], c3[0] + x, c3[1] + y, c3[2] + z];
}

export const applyPoint = (m: Affine, p: Vec3): Vec3 => [
  m[0] * p[0] + m[3] * p[1] + m[6] * p[2] + m[9],
  m[1] * p[0] + m[4] * p[1] + m[7] * p[2] + m[10],
  m[2] * p[0] + m[5] * p[1] + m[8] * p[2] + m[11],
];

/** The images of points, x, y, z each. */
export function applyPoints(m: Affine, points: Float64Array): Float64Array {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) out.set(applyPoint(m, [points[i]!, points[i + 1]!, points[i + 2]!]), i);
  return out;
}

/** The image of a direction: the translation does not act. */
export const applyVector = (m: Affine, v: Vec3): Vec3 => [
  m[0] * v[0] + m[3] * v[1] + m[6] * v[2],
  m[1] * v[0] + m[4] * v[1] + m[7] * v[2],
  m[2] * v[0] + m[5] * v[1] + m[8] * v[2],
];

const axes = (m: Affine): [Vec3, Vec3, Vec3] => [
  [m[0], m[1], m[2]],
  [m[3], m[4], m[5]],
  [m[6], m[7], m[8]],
];

/** The factor by which the map multiplies volumes; negative when it mirrors. */
export function determinant(m: Affine): number {
  const [x, y, z] = axes(m);
  return dot(x, cross(y, z));
}

/** The largest factor by which the map stretches any of the axes; a bound good enough to choose chord counts by. */
export function largestScale(m: Affine): number {
  const [x, y, z] = axes(m);
  return Math.max(length(x), length(y), length(z));
}

/**
 * The uniform scale of the x and y axes when the map keeps shapes in the plane (right angles kept, both axes scaled
 * alike, mirrored or not), otherwise `null`.
 */
export function planarSimilarity(m: Affine): number | null {
  const [x, y] = axes(m);
  const lx = length(x);
  const ly = length(y);
  const most = Math.max(lx, ly);
  if (most === 0) return null;
  return isSame(lx, ly) && Math.abs(dot(x, y)) <= ROUNDING * most * most ? lx : null;
}

/** The inverse map. Throws `RangeError` when the map flattens space. */
export function inverse(m: Affine): Affine {
  const [x, y, z] = axes(m);
  const d = determinant(m);
  if (d === 0 || !Number.isFinite(d)) throw new RangeError('a map that flattens space has no inverse');
  const r0 = cross(y, z);
  const r1 = cross(z, x);
  const r2 = cross(x, y);
  const lin: Affine = [
    r0[0] / d,
    r1[0] / d,
    r2[0] / d,
    r0[1] / d,
    r1[1] / d,
    r2[1] / d,
    r0[2] / d,
    r1[2] / d,
    r2[2] / d,
    0,
    0,
    0,
  ];
  const o = applyVector(lin, [m[9], m[10], m[11]]);
  return [lin[0], lin[1], lin[2], lin[3], lin[4], lin[5], lin[6], lin[7], lin[8], -o[0], -o[1], -o[2]];
}

/**
 * The frame of an object coordinate system: x and y lie in the plane square to `normal`, chosen by the arbitrary axis
 * algorithm of the DXF reference (|nx|, |ny| < 1/64: Y × N, otherwise Z × N).
 */
export function planeFrame(normal: Vec3): Affine {
  const l = length(normal);
  if (l === 0 || (normal[0] === 0 && normal[1] === 0 && normal[2] > 0)) return IDENTITY;
  const n: Vec3 = [normal[0] / l, normal[1] / l, normal[2] / l];
  const near = Math.abs(n[0]) < 1 / 64 && Math.abs(n[1]) < 1 / 64;
  const raw = near ? cross([0, 1, 0], n) : cross([0, 0, 1], n);
  const k = length(raw);
  const ax: Vec3 = [raw[0] / k, raw[1] / k, raw[2] / k];
  const ay = cross(n, ax);
  return [ax[0], ax[1], ax[2], ay[0], ay[1], ay[2], n[0], n[1], n[2], 0, 0, 0];
}
