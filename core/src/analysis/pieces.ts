import { Box2 } from '../geometry/box.js';
import type { Nurbs } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import type { CurveSink } from '../drawing/curves.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { KINDS } from '../drawing/kinds.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { isAnnotationPart } from './annotation.js';
import { extentOf } from './extent.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** A straight piece, a circular arc seen square-on, or any other curve, of which only the ends are known here. */
export const PieceKind = { line: 0, arc: 1, free: 2 } as const;

/** A run of pieces end to end: an entity, or one outline of it. */
export interface Course {
  id: number;
  entity: Entity['kind'];
  layer: string;
  /** The layer under which names are compared. */
  key: string;
  closed: boolean;
  first: number;
  count: number;
  box: Box2;
}

/** All curves of a drawing's model space as they are seen, cut at their corners, in world coordinates. */
export interface Pieces {
  courses: Course[];
  count: number;
  kind: Uint8Array;
  /** x, y of the start and of the end of each piece. */
  ends: Float64Array;
  /** Centre, radius, start and signed sweep of each arc; zeros for other pieces. */
  arcs: Float64Array;
  /** Which course a piece belongs to. */
  course: Int32Array;
  diagonal: number;
}

/** Numbers that grow, so many to a row. */
class Rows {
  data: Float64Array;
  length = 0;
  constructor(private readonly wide: number) {
    this.data = new Float64Array(1024 * wide);
  }
  /** Where the next row begins; it is all zeros. */
  next(): number {
    const at = this.length;
    if (at + this.wide > this.data.length) {
      const next = new Float64Array(this.data.length * 2);
      next.set(this.data);
      this.data = next;
    }
    this.length += this.wide;
    return at;
  }
}

const known = new WeakMap<Drawing, Pieces>();

/** The pieces of a drawing; gathered once. Hatches, pictures, points and what belongs to annotations are left out. */
export function piecesOfDrawing(drawing: Drawing, work?: Work): Pieces {
  const had = known.get(drawing);
  if (had) return had;
  const diagonal = extentOf(drawing).diagonal;
  const met = diagonal * COINCIDENT;
  const sink = new PieceSink(met);
  const keys = new Map<string, string>();
  surveyOf(drawing).each(({ entity: e, toWorld, resolved, top }, n) => {
    if (n % 4096 === 0) checkStop(work);
    if (isAnnotationPart(top) || !KINDS[e.kind].contour) return;
    let key = keys.get(resolved.layer);
    if (key === undefined) keys.set(resolved.layer, (key = layerKey(drawing, resolved.layer)));
    sink.start(e, resolved.layer, key);
    curvesOf(e, toWorld, sink);
    sink.close();
  });
  const { courses, kinds, ends, arcs, owners } = sink;
  const pieces: Pieces = {
    courses,
    count: sink.count,
    kind: kinds.subarray(0, sink.count),
    ends: ends.data.subarray(0, ends.length),
    arcs: arcs.data.subarray(0, arcs.length),
    course: owners.subarray(0, sink.count),
    diagonal,
  };
  known.set(drawing, pieces);
  return pieces;
}

/** Gathers the courses of one entity after the other and cuts them at their corners. */
class PieceSink implements CurveSink {
  readonly courses: Course[] = [];
  readonly ends = new Rows(4);
  readonly arcs = new Rows(5);
  kinds = new Uint8Array(1024);
  owners = new Int32Array(1024);
  count = 0;
  private course: Course | null = null;
  private entity: Entity | null = null;
  private layer = '';
  private key = '';
  private sx = 0;
  private sy = 0;
  private x = 0;
  private y = 0;

  constructor(private readonly met: number) {}

  start(entity: Entity, layer: string, key: string): void {
    this.entity = entity;
    this.layer = layer;
    this.key = key;
  }
  close(): void {
    const { course } = this;
    this.course = null;
    if (!course || course.count === 0) return;
    course.closed = Math.hypot(this.x - this.sx, this.y - this.sy) <= this.met;
    this.courses.push(course);
  }
  private begin(x: number, y: number): void {
    this.close();
    this.sx = this.x = x;
    this.sy = this.y = y;
    const box = new Box2();
    box.add(x, y);
    const { id, kind } = this.entity!;
    this.course = {
      id,
      entity: kind,
      layer: this.layer,
      key: this.key,
      closed: false,
      first: this.count,
      count: 0,
      box,
    };
  }
  private put(kind: number, x: number, y: number): void {
    const { course } = this;
    if (!course) return;
    course.count++;
    course.box.add(x, y);
    if (this.count === this.kinds.length) {
      const kinds = new Uint8Array(2 * this.count);
      kinds.set(this.kinds);
      this.kinds = kinds;
      const owners = new Int32Array(2 * this.count);
      owners.set(this.owners);
      this.owners = owners;
    }
    this.kinds[this.count] = kind;
    this.owners[this.count++] = this.courses.length;
    const at = this.ends.next();
    const to = this.ends.data;
    to[at] = this.x;
    to[at + 1] = this.y;
    to[at + 2] = x;
    to[at + 3] = y;
    this.arcs.next();
    this.x = x;
    this.y = y;
  }
  move(x: number, y: number): void {
    this.begin(x, y);
  }
  line(x: number, y: number): void {
    this.put(PieceKind.line, x, y);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number): void {
    const turned = flatCircle(u, v);
    this.put(turned ? PieceKind.arc : PieceKind.free, x, y);
    if (!turned || !this.course) return;
    const from = start * turned.sense + turned.angle;
    const over = sweep * turned.sense;
    const at = this.arcs.length - 5;
    const { data } = this.arcs;
    data[at] = c[0];
    data[at + 1] = c[1];
    data[at + 2] = turned.radius;
    data[at + 3] = from;
    data[at + 4] = over;
    // The four outermost points where the arc reaches them.
    const lo = Math.min(from, from + over);
    const first = Math.ceil(lo / (Math.PI / 2));
    for (let q = 0; q < 4; q++) {
      const a = (first + q) * (Math.PI / 2);
      if (a > lo && a < lo + Math.abs(over))
        this.course.box.add(c[0] + turned.radius * Math.cos(a), c[1] + turned.radius * Math.sin(a));
    }
  }
  cubic(x1: number, y1: number, _z1: number, x2: number, y2: number, _z2: number, x: number, y: number): void {
    this.course?.box.add(x1, y1);
    this.course?.box.add(x2, y2);
    this.put(PieceKind.free, x, y);
  }
  nurbs(c: Nurbs): void {
    const p = c.points;
    const k = p.length / 3;
    const clamped = c.knots[0] === c.knots[c.degree] && c.knots[c.knots.length - 1] === c.knots[k];
    if (!clamped || k < 2) return;
    this.begin(p[0]!, p[1]!);
    for (let i = 0; i < p.length; i += 3) this.course?.box.add(p[i]!, p[i + 1]!);
    this.put(PieceKind.free, p[p.length - 3]!, p[p.length - 2]!);
  }
}

/** Radius, angle of the first axis and sense of an arc that is a circle seen square-on; `null` for others. */
function flatCircle(u: Vec3, v: Vec3): { radius: number; angle: number; sense: 1 | -1 } | null {
  const radius = Math.hypot(u[0], u[1]);
  const other = Math.hypot(v[0], v[1]);
  const near = COINCIDENT * radius;
  if (!(radius > 0) || Math.abs(u[2]) > near || Math.abs(v[2]) > near) return null;
  if (Math.abs(radius - other) > near || Math.abs(u[0] * v[0] + u[1] * v[1]) > near * radius) return null;
  return { radius, angle: Math.atan2(u[1], u[0]), sense: u[0] * v[1] - u[1] * v[0] > 0 ? 1 : -1 };
}

/** The direction in which a piece sets out (at its start) or arrives (at its end), of length one; `null` for free curves. */
export function directionOf(p: Pieces, i: number, atEnd: boolean): readonly [number, number] | null {
  if (p.kind[i] === PieceKind.line) {
    const [dx, dy] = [p.ends[4 * i + 2]! - p.ends[4 * i]!, p.ends[4 * i + 3]! - p.ends[4 * i + 1]!];
    const l = Math.hypot(dx, dy);
    return l > 0 ? [dx / l, dy / l] : null;
  }
  if (p.kind[i] !== PieceKind.arc) return null;
  const sweep = p.arcs[5 * i + 4]!;
  const t = p.arcs[5 * i + 3]! + (atEnd ? sweep : 0);
  const s = Math.sign(sweep) || 1;
  return [-Math.sin(t) * s, Math.cos(t) * s];
}

/**
 * How far a point lies from a piece, and whether the nearest place is within it rather than at an end. Free curves are
 * known by their ends alone.
 */
export function distanceTo(p: Pieces, i: number, x: number, y: number): { away: number; within: boolean } {
  const [x0, y0, x1, y1] = [p.ends[4 * i], p.ends[4 * i + 1], p.ends[4 * i + 2], p.ends[4 * i + 3]];
  const atEnds = Math.min(Math.hypot(x - x0!, y - y0!), Math.hypot(x - x1!, y - y1!));
  if (p.kind[i] === PieceKind.line) {
    const [dx, dy] = [x1! - x0!, y1! - y0!];
    const l = dx * dx + dy * dy;
    const t = l > 0 ? ((x - x0!) * dx + (y - y0!) * dy) / l : 0;
    if (t > 0 && t < 1) return { away: Math.abs((x - x0!) * dy - (y - y0!) * dx) / Math.sqrt(l), within: true };
  } else if (p.kind[i] === PieceKind.arc) {
    const [cx, cy, r, start, sweep] = p.arcs.subarray(5 * i, 5 * i + 5);
    let t = (Math.atan2(y - cy!, x - cx!) - start!) * Math.sign(sweep!);
    t -= Math.floor(t / (2 * Math.PI)) * 2 * Math.PI;
    if (t > 0 && t < Math.abs(sweep!)) return { away: Math.abs(Math.hypot(x - cx!, y - cy!) - r!), within: true };
  }
  return { away: atEnds, within: false };
}
