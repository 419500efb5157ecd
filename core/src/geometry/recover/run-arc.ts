import { powerOfTen } from '../power-of-ten.js';
import { bulgeArc } from '../arcs.js';
import { fitCircle } from '../fit-circle.js';

/** Which radius an arc has that stands for chords. */
export type RadiusBy = 'corners' | 'area' | 'middle';

export interface ArcRules {
  /** How far corners may lie off the arc: a part of its radius, and a length (0: no bound) which counts for the curve too. */
  tolerance: number;
  bound: number;
  /** The fewest points of a run of chords, and the smallest sweep (radians). */
  fewest: number;
  sweep: number;
  by: RadiusBy;
  /** The radius becomes a round value where the bound allows it. */
  tidy: boolean;
  /** An arc that nearly goes on its neighbours straight (radians) is made to, where the bound allows it. */
  tangent: number;
}

/** An arc for a run of points, from the first to the last of them. */
export interface RunArc {
  bulge: number;
  radius: number;
  /** How far the farthest corner lies off the arc, and the arc off the chords. */
  corners: number;
  chords: number;
}

/** A chord may turn by no more than this: regular polygons of fewer than twelve corners are meant as such. */
export const MOST_TURN = Math.PI / 6 + 1e-6;
/** An arc flatter than this (radius to its length) stays straight. */
const FLATTEST = 1000;

/**
 * The arc that stands for points i to j of a list (x and y in turn), through both of these; `null` where they lie on none.
 * Every chord turns the same way, by at most a twelfth of a circle.
 */
export function arcOfRun(xy: ArrayLike<number>, i: number, j: number, rules: ArcRules): RunArc | null {
  const n = j - i + 1;
  if (n < 3) return null;
  const points = Array.from({ length: 2 * n }, (_, k) => xy[2 * i + k]!);
  const sense = senseOf(points);
  if (sense === 0) return null;
  const [ax, ay, bx, by] = [points[0]!, points[1]!, points[2 * n - 2]!, points[2 * n - 1]!];
  const [dx, dy] = [bx - ax, by - ay];
  const chord = Math.hypot(dx, dy);
  const fit = fitCircle(points);
  if (!fit || !(chord > 0)) return null;
  // The centre stands on the line square to the middle of the chord, where the best circle has it.
  const h = ((fit.x - (ax + bx) / 2) * -dy + (fit.y - (ay + by) / 2) * dx) / chord;
  const made = arcAt(chord, h, sense);
  if (!made) return null;
  let bulge = made;
  if (rules.by !== 'corners') bulge = otherBulge(points, bulge, rules.by);
  const measured = measure(points, bulge);
  if (!measured || !fits(measured, rules)) return null;
  const along = lengthAlong(points);
  const { radius } = measured;
  if (radius > FLATTEST * along || 4 * Math.atan(Math.abs(bulge)) < rules.sweep) return null;
  return rules.tidy ? (tidied(points, measured, chord, rules) ?? measured) : measured;
}

const fits = (a: RunArc, rules: ArcRules): boolean =>
  (rules.by !== 'corners' || a.corners <= rules.tolerance * a.radius) &&
  (rules.by === 'corners' || a.corners <= Math.max(rules.tolerance * a.radius, a.chords)) &&
  (rules.bound === 0 || Math.max(a.corners, a.chords) <= rules.bound);

/** Which way all corners turn, 1 or -1; 0 where they do not all turn the same way or one turns too far. */
function senseOf(p: readonly number[]): number {
  let sense = 0;
  for (let k = 2; k + 2 < p.length; k += 2) {
    const [ux, uy] = [p[k]! - p[k - 2]!, p[k + 1]! - p[k - 1]!];
    const [vx, vy] = [p[k + 2]! - p[k]!, p[k + 3]! - p[k + 1]!];
    const turn = Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    if (turn === 0 || Math.abs(turn) > MOST_TURN || (sense !== 0 && Math.sign(turn) !== sense)) return 0;
    sense = Math.sign(turn);
  }
  return sense;
}

/** The bulge of the arc over a chord whose centre lies `h` to the left of its middle. */
function arcAt(chord: number, h: number, sense: number): number | null {
  const half = chord / 2;
  // Of both arcs over the chord the one on the side where the points are.
  const radius = Math.hypot(half, h);
  const side = h * sense;
  const sagitta = radius - side;
  const bulge = (sense * sagitta) / half;
  if (!Number.isFinite(bulge) || 4 * Math.atan(Math.abs(bulge)) > 1.95 * Math.PI) return null;
  return bulge;
}

function lengthAlong(p: readonly number[]): number {
  let sum = 0;
  for (let k = 2; k < p.length; k += 2) sum += Math.hypot(p[k]! - p[k - 2]!, p[k + 1]! - p[k - 1]!);
  return sum;
}

/** How far corners lie off an arc over the run's chord, and the arc off the chords of the run. */
function measure(p: readonly number[], bulge: number): RunArc | null {
  const n = p.length / 2;
  const arc = bulgeArc(p[0]!, p[1]!, p[2 * n - 2]!, p[2 * n - 1]!, bulge);
  if (!arc) return null;
  const { cx, cy, radius } = arc;
  let [corners, chords, turned] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    corners = Math.max(corners, Math.abs(Math.hypot(p[2 * k]! - cx, p[2 * k + 1]! - cy) - radius));
    if (k === 0) continue;
    const [ax, ay, bx, by] = [p[2 * k - 2]! - cx, p[2 * k - 1]! - cy, p[2 * k]! - cx, p[2 * k + 1]! - cy];
    turned += Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    const l = Math.hypot(bx - ax, by - ay);
    const foot = l > 0 ? Math.abs(ax * by - ay * bx) / l : Math.hypot(ax, ay);
    chords = Math.max(chords, Math.abs(radius - foot));
  }
  // Points that go round more than once lie on the circle too.
  if (Math.abs(turned - arc.sweep) > 1e-3) return null;
  return { bulge, radius, corners, chords };
}

/** The bulge whose segment has the area of the run's own, or half way between the arc outside the chords and that inside. */
function otherBulge(p: readonly number[], through: number, by: RadiusBy): number {
  const n = p.length / 2;
  const chord = Math.hypot(p[2 * n - 2]! - p[0]!, p[2 * n - 1]! - p[1]!);
  if (by === 'middle') {
    const outer = measure(p, through);
    return outer ? through * (1 - outer.chords / 2 / Math.abs((through * chord) / 2)) : through;
  }
  let twice = 0;
  for (let k = 1; k + 1 < n; k++)
    twice += (p[2 * k]! - p[0]!) * (p[2 * k + 3]! - p[1]!) - (p[2 * k + 1]! - p[1]!) * (p[2 * k + 2]! - p[0]!);
  const area = Math.abs(twice) / 2;
  // The area of a segment grows with its bulge: halving finds the one.
  let [low, high] = [0, 2 * Math.abs(through) + 1e-9];
  for (let k = 0; k < 60; k++) {
    const b = (low + high) / 2;
    if (segmentArea(chord, b) < area) low = b;
    else high = b;
  }
  return Math.sign(through) * ((low + high) / 2);
}

function segmentArea(chord: number, bulge: number): number {
  const sweep = 4 * Math.atan(bulge);
  const radius = (chord * (1 + bulge * bulge)) / (4 * bulge);
  return ((sweep - Math.sin(sweep)) * radius * radius) / 2;
}

/**
 * The arc of a run that goes on from the straight before it, and into the one after it, without a kink, if it nearly does and
 * stays within the bound; `null` where it does not. `before` and `after` are the directions of those, or `null`.
 */
export function tangentArc(
  xy: ArrayLike<number>,
  i: number,
  j: number,
  arc: RunArc,
  before: readonly [number, number] | null,
  after: readonly [number, number] | null,
  rules: ArcRules,
): RunArc | null {
  const points = Array.from({ length: 2 * (j - i + 1) }, (_, k) => xy[2 * i + k]!);
  const m = points.length;
  const [cx, cy] = [points[m - 2]! - points[0]!, points[m - 1]! - points[1]!];
  const angle = (u: readonly [number, number], v: readonly [number, number]): number =>
    Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]);
  // An arc leaves its chord, and comes back to it, by half its sweep.
  const half = 2 * Math.atan(arc.bulge);
  const wished = [before && angle(before, [cx, cy]), after && angle([cx, cy], after)].filter(
    (w): w is number => w !== null && Math.abs(w - half) <= rules.tangent,
  );
  if (wished.length === 0) return null;
  const mean = wished.reduce((a, b) => a + b, 0) / wished.length;
  const measured = measure(points, Math.tan(mean / 2));
  return measured && fits(measured, rules) ? measured : null;
}

/** The same arc with a round radius, if one lies within the bound. */
function tidied(p: readonly number[], a: RunArc, chord: number, rules: ArcRules): RunArc | null {
  const radius = roundRadius(a.radius, rules.tolerance * a.radius);
  if (radius === null || radius < chord / 2) return null;
  const long = Math.abs(a.bulge) > 1;
  const h = Math.sqrt(radius * radius - (chord * chord) / 4);
  const bulge = (Math.sign(a.bulge) * (long ? radius + h : radius - h)) / (chord / 2);
  const measured = measure(p, bulge);
  return measured && fits(measured, rules) ? measured : null;
}

/** The coarsest round value within a bound of a radius: multiples of 10, 5, 2, 1 and so on by tens; `null` where none is. */
export function roundRadius(radius: number, within: number): number | null {
  const top = Math.floor(Math.log10(radius)) + 1;
  for (let e = top; e > top - 8; e--)
    for (const k of [5, 2, 1]) {
      const step = k * powerOfTen(e - 1);
      const to = e >= 1 ? Math.round(radius / step) * step : Math.round(radius / step) / (1 / step);
      if (to > 0 && Math.abs(to - radius) <= within) return Number(to.toPrecision(12));
    }
  return null;
}
