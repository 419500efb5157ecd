import type { Affine } from '../geometry/affine.js';
import { IDENTITY } from '../geometry/affine.js';
import type { Nurbs } from '../geometry/nurbs.js';
import { breakpoints, derivative, evaluate } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import type { CurveSink } from './curves.js';
import { curvesOf } from './curves.js';
import type { Entity } from './entity.js';
import { flattenEntity } from './flatten.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** Abscissae and weights of five-point Gauss-Legendre quadrature (Abramowitz and Stegun, table 25.4). */
const GAUSS = [
  [0, 0.5688888888888889],
  [0.5384693101056831, 0.47862867049936647],
  [-0.5384693101056831, 0.47862867049936647],
  [0.906179845938664, 0.23692688505618908],
  [-0.906179845938664, 0.23692688505618908],
] as const;

/** One outline that was run round: its signed area, and how far apart its ends lie. */
export interface Round {
  /** Positive when run anticlockwise. */
  area: number;
  gap: number;
}

/**
 * Adds up ½∮(x dy − y dx) of each outline (Green's theorem), about its own first point so that outlines far from the
 * origin lose no digits. Lines, arcs and cubics in closed form, NURBS by quadrature over each span.
 */
export class AreaSink implements CurveSink {
  readonly rounds: Round[] = [];
  private sx = 0;
  private sy = 0;
  private x = 0;
  private y = 0;
  private open = false;

  /** Ends the outline at hand. */
  finish(): void {
    if (this.open) this.rounds[this.rounds.length - 1]!.gap = Math.hypot(this.x - this.sx, this.y - this.sy);
    this.open = false;
  }
  move(x: number, y: number): void {
    this.finish();
    this.open = true;
    this.rounds.push({ area: 0, gap: 0 });
    [this.sx, this.sy, this.x, this.y] = [x, y, x, y];
  }
  private add(twice: number, x: number, y: number): void {
    this.rounds[this.rounds.length - 1]!.area += twice / 2;
    this.x = x;
    this.y = y;
  }
  line(x: number, y: number): void {
    const { sx, sy } = this;
    this.add((this.x - sx) * (y - sy) - (x - sx) * (this.y - sy), x, y);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number): void {
    const [cx, cy] = [c[0] - this.sx, c[1] - this.sy];
    const end = start + sweep;
    const [dc, ds] = [Math.cos(end) - Math.cos(start), Math.sin(end) - Math.sin(start)];
    // x dy − y dx of centre + u·cos t + v·sin t: the cross product of u and v, and what the centre adds.
    const twice = (u[0] * v[1] - u[1] * v[0]) * sweep + cx * (u[1] * dc + v[1] * ds) - cy * (u[0] * dc + v[0] * ds);
    this.add(twice, x, y);
  }
  cubic(x1: number, y1: number, _z1: number, x2: number, y2: number, _z2: number, x3: number, y3: number): void {
    const px = [this.x, x1, x2, x3].map((p) => p - this.sx);
    const py = [this.y, y1, y2, y3].map((p) => p - this.sy);
    const cross = (i: number, j: number): number => px[i]! * py[j]! - px[j]! * py[i]!;
    // ∫ of Bernstein polynomials and their slopes, in pairs.
    const twice =
      (6 * cross(0, 1) + 3 * cross(0, 2) + cross(0, 3) + 3 * cross(1, 2) + 3 * cross(1, 3) + 6 * cross(2, 3)) / 10;
    this.add(twice, x3, y3);
  }
  nurbs(curve: Nurbs): void {
    const p = [0, 0, 0];
    const d = [0, 0, 0];
    const breaks = breakpoints(curve);
    evaluate(curve, breaks[0]!, p);
    if (!this.open || p[0] !== this.x || p[1] !== this.y) this.move(p[0]!, p[1]!);
    const { sx, sy } = this;
    const over = (a: number, b: number): number => {
      const [mid, h] = [(a + b) / 2, (b - a) / 2];
      let sum = 0;
      for (const [t, w] of GAUSS) {
        evaluate(curve, mid + h * t, p);
        derivative(curve, mid + h * t, d);
        sum += w * ((p[0]! - sx) * d[1]! - (p[1]! - sy) * d[0]!);
      }
      return sum * h;
    };
    // Polynomial spans of up to the fifth degree are exact; weights are closed in on by halving.
    const settle = (a: number, b: number, whole: number, depth: number): number => {
      const m = (a + b) / 2;
      const [left, right] = [over(a, m), over(m, b)];
      if (depth > 30 || Math.abs(left + right - whole) <= 1e-13 * (Math.abs(left) + Math.abs(right)))
        return left + right;
      return settle(a, m, left, depth + 1) + settle(m, b, right, depth + 1);
    };
    let twice = 0;
    for (let i = 1; i < breaks.length; i++)
      twice += settle(breaks[i - 1]!, breaks[i]!, over(breaks[i - 1]!, breaks[i]!), 0);
    evaluate(curve, breaks[breaks.length - 1]!, p);
    this.add(twice, p[0]!, p[1]!);
  }
}

/** The signed area within an entity's curves, each outline for itself. */
export function roundsOf(e: Entity, toWorld: Affine = IDENTITY): Round[] {
  const sink = new AreaSink();
  curvesOf(e, toWorld, sink);
  sink.finish();
  return sink.rounds;
}

/** How far the ends of an outline may lie apart, as a part of its size, and still count as closed. */
const CLOSED = COINCIDENT;

/**
 * The area that an entity encloses in the plane, holes taken off; `null` where it encloses none: an open outline, a
 * text, an insert. An outline inside another is a hole, one inside a hole an island.
 */
export function areaOf(e: Entity, toWorld: Affine = IDENTITY): number | null {
  if (
    [
      'text',
      'richText',
      'insert',
      'line',
      'arc',
      'point',
      'ray',
      'leader',
      'dimension',
      'opaque',
      'mesh',
      'viewport',
    ].includes(e.kind)
  )
    return null;
  const rounds = roundsOf(e, toWorld).filter((r) => r.area !== 0);
  if (rounds.length === 0) return null;
  const size = Math.sqrt(Math.max(...rounds.map((r) => Math.abs(r.area))));
  if (rounds.some((r) => r.gap > CLOSED * size)) return null;
  if (rounds.length === 1) return Math.abs(rounds[0]!.area);
  const rings: number[][] = [];
  flattenEntity(e, toWorld, size / 2000, {
    moveTo: (x, y) => rings.push([x, y]),
    lineTo: (x, y) => rings[rings.length - 1]!.push(x, y),
  });
  const all = roundsOf(e, toWorld);
  if (rings.length !== all.length) return Math.abs(rounds.reduce((sum, r) => sum + r.area, 0));
  return all.reduce((sum, r, i) => {
    const around = rings.filter((ring, k) => k !== i && insideRing(ring, rings[i]![0]!, rings[i]![1]!)).length;
    return sum + (around % 2 === 0 ? 1 : -1) * Math.abs(r.area);
  }, 0);
}

/** Whether a point lies inside a ring of x, y (by the crossings of a ray to the right). */
export function insideRing(ring: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
    const [yi, yj] = [ring[i + 1], ring[j + 1]];
    if (yi! > y !== yj! > y && x < ring[i]! + ((y - yi!) / (yj! - yi!)) * (ring[j]! - ring[i]!)) inside = !inside;
  }
  return inside;
}
