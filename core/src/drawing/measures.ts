import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector } from '../geometry/affine.js';
import { addPiecesBounds, pieceLength } from '../geometry/bezier-piece.js';
import { cubicAt } from '../geometry/beziers.js';
import { Box2 } from '../geometry/box.js';
import type { Nurbs } from '../geometry/nurbs.js';
import { bezierPieces, nurbsFault } from '../geometry/nurbs.js';
import { integrate } from '../geometry/quadrature.js';
import type { Vec3 } from '../geometry/vector.js';
import { dot, length } from '../geometry/vector.js';
import type { CurveSink } from './curves.js';
import { curvesOf, entityToWorld } from './curves.js';
import type { Entity } from './entity.js';
import { ROUNDING, isSame } from '../geometry/tolerance.js';

/** Grows a box by exact curves: arcs and cubics by their turning points, splines by searching around their outermost samples. */
export class BoundsSink implements CurveSink {
  private x = 0;
  private y = 0;

  constructor(readonly box: Box2 = new Box2()) {}

  move(x: number, y: number): void {
    this.line(x, y);
  }
  line(x: number, y: number): void {
    this.x = x;
    this.y = y;
    this.box.add(x, y);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number): void {
    const at = (t: number): void =>
      this.box.add(c[0] + u[0] * Math.cos(t) + v[0] * Math.sin(t), c[1] + u[1] * Math.cos(t) + v[1] * Math.sin(t));
    const lo = Math.min(start, start + sweep);
    const hi = Math.max(start, start + sweep);
    for (const turning of [Math.atan2(v[0], u[0]), Math.atan2(v[1], u[1])]) {
      const first = turning + Math.ceil((lo - turning) / Math.PI) * Math.PI;
      // At most a turn and both its ends; counted, since a far angle cannot be counted on by half turns.
      for (let k = 0; k <= 2 && first + k * Math.PI <= hi; k++) at(first + k * Math.PI);
    }
    this.line(x, y);
  }
  cubic(x1: number, y1: number, _z1: number, x2: number, y2: number, _z2: number, x3: number, y3: number): void {
    const { x, y } = this;
    const at = (t: number): void => this.box.add(cubicAt(x, x1, x2, x3, t), cubicAt(y, y1, y2, y3, t));
    for (const t of turningPoints(x, x1, x2, x3)) at(t);
    for (const t of turningPoints(y, y1, y2, y3)) at(t);
    this.line(x3, y3);
  }
  nurbs(curve: Nurbs): void {
    addPiecesBounds(bezierPieces(curve), this.box);
  }
}

/** The parameters in (0, 1) at which one coordinate of a cubic turns. */
function turningPoints(p0: number, p1: number, p2: number, p3: number): number[] {
  const a = -p0 + 3 * p1 - 3 * p2 + p3;
  const b = 2 * (p0 - 2 * p1 + p2);
  const c = p1 - p0;
  const inside = (t: number): boolean => t > 0 && t < 1;
  if (Math.abs(a) < 1e-14 * (Math.abs(b) + Math.abs(c))) return b === 0 ? [] : [-c / b].filter(inside);
  const d = b * b - 4 * a * c;
  if (d < 0) return [];
  const q = -0.5 * (b + Math.sign(b || 1) * Math.sqrt(d));
  return [q / a, q === 0 ? NaN : c / q].filter(inside);
}

/** Adds up the length of curves: lines and circular arcs in closed form, the rest by Gauss-Legendre quadrature. */
export class LengthSink implements CurveSink {
  total = 0;
  private x = 0;
  private y = 0;
  private z = 0;

  move(x: number, y: number, z: number): void {
    this.x = x;
    this.y = y;
    this.z = z;
  }
  line(x: number, y: number, z: number): void {
    const [dx, dy, dz] = [x - this.x, y - this.y, z - this.z];
    this.total += Math.sqrt(dx * dx + dy * dy + dz * dz);
    this.move(x, y, z);
  }
  arc(_c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number, z: number): void {
    const lu = length(u);
    const lv = length(v);
    if (isSame(lu, lv) && Math.abs(dot(u, v)) <= ROUNDING * lu * lv) this.total += lu * Math.abs(sweep);
    else {
      const speed = (t: number): number => {
        const s = Math.sin(t);
        const c = Math.cos(t);
        const [dx, dy, dz] = [v[0] * c - u[0] * s, v[1] * c - u[1] * s, v[2] * c - u[2] * s];
        return Math.sqrt(dx * dx + dy * dy + dz * dz);
      };
      this.total += Math.abs(integrate(speed, start, start + sweep));
    }
    this.move(x, y, z);
  }
  cubic(
    x1: number,
    y1: number,
    z1: number,
    x2: number,
    y2: number,
    z2: number,
    x3: number,
    y3: number,
    z3: number,
  ): void {
    const { x, y, z } = this;
    // Three times the differences of the control points: the hodograph. Squares of what is drawable stay finite.
    const [ax, ay, az] = [3 * (x1 - x), 3 * (y1 - y), 3 * (z1 - z)];
    const [bx, by, bz] = [3 * (x2 - x1), 3 * (y2 - y1), 3 * (z2 - z1)];
    const [cx, cy, cz] = [3 * (x3 - x2), 3 * (y3 - y2), 3 * (z3 - z2)];
    const speed = (t: number): number => {
      const s = 1 - t;
      const [a, b, c] = [s * s, 2 * t * s, t * t];
      const [dx, dy, dz] = [a * ax + b * bx + c * cx, a * ay + b * by + c * cy, a * az + b * bz + c * cz];
      return Math.sqrt(dx * dx + dy * dy + dz * dz);
    };
    const large = Math.max(Math.abs(x), Math.abs(y), Math.abs(z), Math.abs(x3), Math.abs(y3), Math.abs(z3));
    this.total += integrate(speed, 0, 1, LAST_BITS * large);
    this.move(x3, y3, z3);
  }
  nurbs(curve: Nurbs): void {
    let large = 0;
    for (const v of curve.points) if (Math.abs(v) > large) large = Math.abs(v);
    const pieces = bezierPieces(curve);
    for (const piece of pieces) this.total += pieceLength(piece, LAST_BITS * large);
    const end = pieces[pieces.length - 1]!;
    const w = end[end.length - 1]! || 1;
    this.move(end[end.length - 4]! / w, end[end.length - 3]! / w, end[end.length - 2]! / w);
  }
}

/** What rounding makes of a difference of two coordinates, as a part of their size: a few units in the last place. */
const LAST_BITS = 4 * Number.EPSILON;

/**
 * Grows the box by an entity that lies as it is in the XY plane, without working out curves that cannot reach beyond
 * the box: an arc within its end points widened by its rise, a spline within its control points. `false` for kinds that
 * need the exact way.
 */
function addQuickly(e: Entity, box: Box2): boolean {
  switch (e.kind) {
    case 'line':
      box.add(e.start[0], e.start[1]);
      box.add(e.end[0], e.end[1]);
      return true;
    case 'circle':
      box.add(e.centre[0] - e.radius, e.centre[1] - e.radius);
      box.add(e.centre[0] + e.radius, e.centre[1] + e.radius);
      return true;
    case 'arc':
      return box.holds(e.centre[0], e.centre[1], e.radius);
    case 'polyline': {
      const { points: p, dim, bulges } = e;
      const n = p.length / dim;
      for (let i = 0; i < n; i++) box.add(p[dim * i]!, p[dim * i + 1]!);
      if (!bulges) return true;
      for (let i = 0; i < n; i++) {
        const b = bulges[i]!;
        if (b === 0 || (i === n - 1 && !e.closed)) continue;
        const j = (i + 1) % n;
        const [dx, dy] = [p[dim * j]! - p[dim * i]!, p[dim * j + 1]! - p[dim * i + 1]!];
        // Nothing of the arc is further from the middle of its chord than half of it and its rise together.
        const reach = (Math.abs(dx) + Math.abs(dy)) * (0.5 + Math.abs(b) / 2);
        if (!box.holds(p[dim * i]! + dx / 2, p[dim * i + 1]! + dy / 2, reach)) return false;
      }
      return true;
    }
    case 'spline': {
      const { points: p } = e;
      if (p.length === 0 || nurbsFault(e) !== null) return false;
      for (let i = 0; i < p.length; i += 3) if (!box.holds(p[i]!, p[i + 1]!, 0)) return false;
      return !e.weights || e.weights.every((w) => w > 0);
    }
    default:
      return false;
  }
}

/** Grows the sink's box by one entity. */
export function addEntityBounds(entity: Entity, toWorld: Affine, sink: BoundsSink): void {
  if (toWorld === IDENTITY && entity.normal === undefined && addQuickly(entity, sink.box)) return;
  if (entity.kind === 'text' || entity.kind === 'richText') {
    const m = entityToWorld(entity, toWorld);
    const p = applyPoint(m, entity.at);
    sink.box.add(p[0], p[1]);
    const up = applyVector(m, [-Math.sin(entity.rotation) * entity.size, Math.cos(entity.rotation) * entity.size, 0]);
    if (entity.kind === 'text') sink.box.add(p[0] + up[0], p[1] + up[1]);
  } else curvesOf(entity, toWorld, sink);
}

/** The length of an entity's curves. */
export function lengthOf(entity: Entity, toWorld: Affine = IDENTITY): number {
  const sink = new LengthSink();
  curvesOf(entity, toWorld, sink);
  return sink.total;
}
