import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector } from '../geometry/affine.js';
import { cubicAt } from '../geometry/beziers.js';
import { Box2 } from '../geometry/box.js';
import type { Nurbs } from '../geometry/nurbs.js';
import { breakpoints, derivative, evaluate, nurbsFault } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import { dot, length } from '../geometry/vector.js';
import type { CurveSink } from './curves.js';
import { curvesOf, entityToWorld } from './curves.js';
import type { Entity } from './entity.js';

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
      for (let t = turning + Math.ceil((lo - turning) / Math.PI) * Math.PI; t <= hi; t += Math.PI) at(t);
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
    const breaks = breakpoints(curve);
    const p = [0, 0, 0];
    const steps = 4 * curve.degree;
    // The outermost sample each way, and how far its neighbours are.
    const best = [0, 0, 0, 0].map(() => ({ value: -Infinity, at: 0, reach: 0 }));
    const values = (u: number): number[] => {
      evaluate(curve, u, p);
      return [-p[0], -p[1], p[0], p[1]];
    };
    for (let i = 1; i < breaks.length; i++) {
      const step = (breaks[i] - breaks[i - 1]) / steps;
      for (let k = i === 1 ? 0 : 1; k <= steps; k++) {
        const u = k === steps ? breaks[i] : breaks[i - 1] + k * step;
        values(u).forEach((value, d) => {
          if (value > best[d].value) best[d] = { value, at: u, reach: step };
        });
        this.box.add(p[0], p[1]);
      }
    }
    const [from, to] = [breaks[0], breaks[breaks.length - 1]];
    best.forEach(({ at, reach }, d) => {
      let [lo, hi] = [Math.max(from, at - reach), Math.min(to, at + reach)];
      for (let n = 0; n < 48; n++) {
        const [m1, m2] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
        if (values(m1)[d] < values(m2)[d]) lo = m1;
        else hi = m2;
      }
      values((lo + hi) / 2);
      this.box.add(p[0], p[1]);
    });
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
    this.total += Math.hypot(x - this.x, y - this.y, z - this.z);
    this.move(x, y, z);
  }
  arc(_c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number, z: number): void {
    const lu = length(u);
    const lv = length(v);
    if (Math.abs(lu - lv) <= 1e-12 * lu && Math.abs(dot(u, v)) <= 1e-12 * lu * lv) this.total += lu * Math.abs(sweep);
    else {
      const speed = (t: number): number => {
        const s = Math.sin(t);
        const c = Math.cos(t);
        return Math.hypot(v[0] * c - u[0] * s, v[1] * c - u[1] * s, v[2] * c - u[2] * s);
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
    const d = (p0: number, p1: number, p2: number, p3: number, t: number): number =>
      3 * ((1 - t) * (1 - t) * (p1 - p0) + 2 * t * (1 - t) * (p2 - p1) + t * t * (p3 - p2));
    const speed = (t: number): number => Math.hypot(d(x, x1, x2, x3, t), d(y, y1, y2, y3, t), d(z, z1, z2, z3, t));
    this.total += integrate(speed, 0, 1);
    this.move(x3, y3, z3);
  }
  nurbs(curve: Nurbs): void {
    const d = [0, 0, 0];
    const speed = (u: number): number => {
      derivative(curve, u, d);
      return Math.hypot(d[0], d[1], d[2]);
    };
    const breaks = breakpoints(curve);
    for (let i = 1; i < breaks.length; i++) this.total += integrate(speed, breaks[i - 1], breaks[i]);
    const end = [0, 0, 0];
    evaluate(curve, breaks[breaks.length - 1], end);
    this.move(end[0], end[1], end[2]);
  }
}

/** How far a part is halved: enough to close in on a cusp. */
const MOST_HALVINGS = 44;

/**
 * ∫f over [a, b] by five-point Gauss-Legendre quadrature (Abramowitz and Stegun, table 25.4), each part halved until
 * its halves agree with it to 1e-13 of the whole.
 */
function integrate(f: (t: number) => number, a: number, b: number): number {
  const four = [0, 1, 2, 3].map((k) => gauss(f, a + ((b - a) * k) / 4, a + ((b - a) * (k + 1)) / 4));
  const close = 1e-13 * Math.abs(four.reduce((sum, v) => sum + v, 0));
  const settle = (from: number, to: number, whole: number, depth: number): number => {
    const mid = (from + to) / 2;
    const [left, right] = [gauss(f, from, mid), gauss(f, mid, to)];
    if (depth >= MOST_HALVINGS || Math.abs(left + right - whole) <= close) return left + right;
    return settle(from, mid, left, depth + 1) + settle(mid, to, right, depth + 1);
  };
  return four.reduce((sum, v, k) => sum + settle(a + ((b - a) * k) / 4, a + ((b - a) * (k + 1)) / 4, v, 0), 0);
}

const NODES = [0.5384693101056831, 0.906179845938664];
const WEIGHTS = [0.5688888888888889, 0.47862867049936647, 0.23692688505618908];

function gauss(f: (t: number) => number, a: number, b: number): number {
  const [mid, h] = [(a + b) / 2, (b - a) / 2];
  let sum = WEIGHTS[0] * f(mid);
  for (let k = 0; k < 2; k++) sum += WEIGHTS[k + 1] * (f(mid - h * NODES[k]) + f(mid + h * NODES[k]));
  return sum * h;
}

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
      for (let i = 0; i < n; i++) box.add(p[dim * i], p[dim * i + 1]);
      if (!bulges) return true;
      for (let i = 0; i < n; i++) {
        const b = bulges[i];
        if (b === 0 || (i === n - 1 && !e.closed)) continue;
        const j = (i + 1) % n;
        const [dx, dy] = [p[dim * j] - p[dim * i], p[dim * j + 1] - p[dim * i + 1]];
        // Nothing of the arc is further from the middle of its chord than half of it and its rise together.
        const reach = (Math.abs(dx) + Math.abs(dy)) * (0.5 + Math.abs(b) / 2);
        if (!box.holds(p[dim * i] + dx / 2, p[dim * i + 1] + dy / 2, reach)) return false;
      }
      return true;
    }
    case 'spline': {
      const { points: p } = e;
      if (p.length === 0 || nurbsFault(e) !== null) return false;
      for (let i = 0; i < p.length; i += 3) if (!box.holds(p[i], p[i + 1], 0)) return false;
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
