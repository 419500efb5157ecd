import type { Affine } from '../geometry/affine.js';
import { applyPoint, applyVector } from '../geometry/affine.js';
import { TAU, bulgeArc, ccwSweep } from '../geometry/arcs.js';
import { endpointToCentre } from '../geometry/ellipses.js';
import type { Nurbs } from '../geometry/nurbs.js';
import { nurbsFault } from '../geometry/nurbs.js';
import type { PathData } from '../geometry/path.js';
import { Cmd, visitPath } from '../geometry/path.js';
import type { Vec3 } from '../geometry/vector.js';
import { cross, scaled, unit } from '../geometry/vector.js';
import { segmentEnd } from './bulges.js';
import type { Entity, Image, Mesh, Polyline } from './entity.js';
import { KINDS, everyKindIsNamed } from './kinds.js';
import { planeToWorld } from './resolve.js';

/** Receives an entity's curves in world coordinates, exactly: nothing is turned into chords. */
export interface CurveSink {
  move(x: number, y: number, z: number): void;
  line(x: number, y: number, z: number): void;
  /** `centre + u·cos t + v·sin t`, from `start` over `sweep` radians; (x, y, z) is the exact end point. */
  arc(centre: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, x: number, y: number, z: number): void;
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
  ): void;
  nurbs(curve: Nurbs): void;
}

/** Whether an entity's coordinates lie in the object coordinate system of its normal (DXF reference, "OCS"). */
export function inObjectPlane(entity: Entity): boolean {
  const { plane } = KINDS[entity.kind];
  if (plane !== 'own') return plane === 'object';
  return entity.kind === 'polyline' ? entity.dim === 2 : entity.kind === 'face' && entity.solid;
}

/** The map from an entity's own coordinates to the world. */
export const entityToWorld = (entity: Entity, toWorld: Affine): Affine =>
  planeToWorld(toWorld, inObjectPlane(entity) ? entity.normal : undefined);

/**
 * Sends an entity's curves to the sink. Text, inserts, lines without end and compound entities (which are shown by their
 * parts) have none; a picture has its frame, a mesh its edges.
 */
export function curvesOf(entity: Entity, toWorld: Affine, sink: CurveSink): void {
  const pen = new Pen(entityToWorld(entity, toWorld), sink);
  switch (entity.kind) {
    case 'line':
      pen.move(entity.start[0], entity.start[1], entity.start[2]);
      pen.line(entity.end[0], entity.end[1], entity.end[2]);
      return;
    case 'point':
      pen.move(entity.at[0], entity.at[1], entity.at[2]);
      pen.line(entity.at[0], entity.at[1], entity.at[2]);
      return;
    case 'polyline':
      return polylineCurves(entity, pen);
    case 'circle':
      return pen.fullArc(entity.centre, [entity.radius, 0, 0], [0, entity.radius, 0], 0, TAU);
    case 'arc':
      return pen.fullArc(
        entity.centre,
        [entity.radius, 0, 0],
        [0, entity.radius, 0],
        entity.start,
        ccwSweep(entity.start, entity.end),
      );
    case 'ellipse': {
      const minor = scaled(cross(unit(entity.normal ?? [0, 0, 1]), entity.major), entity.ratio);
      return pen.fullArc(entity.centre, entity.major, minor, entity.start, ccwSweep(entity.start, entity.end));
    }
    case 'spline': {
      if (nurbsFault(entity) === null) return pen.nurbs(entity);
      const p = entity.fitPoints && entity.fitPoints.length >= 6 ? entity.fitPoints : entity.points;
      for (let i = 0; i < p.length; i += 3) {
        if (i === 0) pen.move(p[0]!, p[1]!, p[2]!);
        else pen.line(p[i]!, p[i + 1]!, p[i + 2]!);
      }
      return;
    }
    case 'path':
      return pathCurves(entity.path, 0, pen);
    case 'hatch':
      for (const loop of entity.loops) pathCurves(loop.path, entity.elevation, pen);
      return;
    case 'face': {
      const [first, ...rest] = entity.corners;
      pen.move(first![0], first![1], first![2]);
      for (const c of rest) pen.line(c[0], c[1], c[2]);
      pen.line(first![0], first![1], first![2]);
      return;
    }
    case 'mesh':
      return meshEdges(entity, pen);
    case 'image': {
      const corners = imageFrame(entity);
      const last = corners[corners.length - 1]!;
      pen.move(last[0], last[1], last[2]);
      for (const c of corners) pen.line(c[0], c[1], c[2]);
      return;
    }
    case 'viewport': {
      // The sheet's own view frames nothing.
      if (entity.number === 1) return;
      const { at: c, width: w, height: h } = entity;
      pen.move(c[0] - w / 2, c[1] - h / 2, c[2]);
      pen.line(c[0] + w / 2, c[1] - h / 2, c[2]);
      pen.line(c[0] + w / 2, c[1] + h / 2, c[2]);
      pen.line(c[0] - w / 2, c[1] + h / 2, c[2]);
      pen.line(c[0] - w / 2, c[1] - h / 2, c[2]);
      return;
    }
    case 'text':
    case 'richText':
    case 'insert':
    case 'ray':
    case 'dimension':
    case 'leader':
    case 'opaque':
      return;
    default:
      return everyKindIsNamed(entity);
  }
}

/** Each edge once, hidden ones left out. */
function meshEdges(mesh: Mesh, pen: Pen): void {
  const { points: p, faces } = mesh;
  const n = p.length / 3;
  const seen = new Set<number>();
  for (let at = 0; at < faces.length; at += faces[at]! + 1) {
    const count = faces[at]!;
    for (let k = 1; k <= count; k++) {
      const from = faces[at + k]!;
      const to = faces[at + (k % count) + 1]!;
      const [a, b] = [from < 0 ? -1 - from : from, to < 0 ? -1 - to : to];
      const key = a! < b ? a! * n + b : b * n + a!;
      if (from < 0 || a === b || seen.has(key)) continue;
      seen.add(key);
      pen.move(p[3 * a!]!, p[3 * a! + 1]!, p[3 * a! + 2]!);
      pen.line(p[3 * b]!, p[3 * b + 1]!, p[3 * b + 2]!);
    }
  }
}

/**
 * The corners of what is seen of a picture: its clip boundary or all of it, in pixels from its upper left corner. Boundaries are
 * stored with pixel centres on whole numbers (DXF reference, IMAGE group 14); here the first pixel reaches from 0 to 1.
 */
export function clipInPixels({ pixels, clip }: Image): [number, number][] {
  const [w, h] = pixels;
  const c = clip ?? Float64Array.of(-0.5, -0.5, w - 0.5, h - 0.5);
  const corner = (x: number, y: number): [number, number] => [x + 0.5, y + 0.5];
  if (c.length === 4) return [corner(c[0]!, c[1]!), corner(c[2]!, c[1]!), corner(c[2]!, c[3]!), corner(c[0]!, c[3]!)];
  const out: [number, number][] = [];
  for (let i = 0; i + 1 < c.length; i += 2) out.push(corner(c[i]!, c[i + 1]!));
  const [first, last] = [out[0], out[out.length - 1]];
  if (out.length > 3 && first![0] === last![0] && first![1] === last![1]) out.pop();
  return out;
}

/** The same in the drawing. */
export function imageFrame(e: Image): Vec3[] {
  const { at, u, v, pixels } = e;
  return clipInPixels(e).map(([x, y]) => {
    const b = pixels[1] - y;
    return [at[0] + u[0] * x + v[0] * b, at[1] + u[1] * x + v[1] * b, at[2] + u[2] * x + v[2] * b];
  });
}

class Pen {
  constructor(
    private readonly m: Affine,
    private readonly sink: CurveSink,
  ) {}

  move(x: number, y: number, z: number): void {
    const p = applyPoint(this.m, [x, y, z]);
    this.sink.move(p[0], p[1], p[2]);
  }
  line(x: number, y: number, z: number): void {
    const m = this.m;
    this.sink.line(
      m[0] * x + m[3] * y + m[6] * z + m[9],
      m[1] * x + m[4] * y + m[7] * z + m[10],
      m[2] * x + m[5] * y + m[8] * z + m[11],
    );
  }
  arcTo(centre: Vec3, u: Vec3, v: Vec3, start: number, sweep: number, end: Vec3): void {
    const m = this.m;
    const e = applyPoint(m, end);
    this.sink.arc(applyPoint(m, centre), applyVector(m, u), applyVector(m, v), start, sweep, e[0], e[1], e[2]);
  }
  fullArc(centre: Vec3, u: Vec3, v: Vec3, start: number, sweep: number): void {
    const at = (t: number): Vec3 => {
      const c = Math.cos(t);
      const s = Math.sin(t);
      return [centre[0] + u[0] * c + v[0] * s, centre[1] + u[1] * c + v[1] * s, centre[2] + u[2] * c + v[2] * s];
    };
    const from = at(start);
    this.move(from[0], from[1], from[2]);
    this.arcTo(centre, u, v, start, sweep, sweep === TAU ? from : at(start + sweep));
  }
  cubic(x1: number, y1: number, x2: number, y2: number, x3: number, y3: number, z: number): void {
    const a = applyPoint(this.m, [x1, y1, z]);
    const b = applyPoint(this.m, [x2, y2, z]);
    const c = applyPoint(this.m, [x3, y3, z]);
    this.sink.cubic(a[0], a[1], a[2], b[0], b[1], b[2], c[0], c[1], c[2]);
  }
  nurbs(curve: Nurbs): void {
    const points = new Float64Array(curve.points.length);
    for (let i = 0; i < points.length; i += 3) {
      points.set(applyPoint(this.m, [curve.points[i]!, curve.points[i + 1]!, curve.points[i + 2]!]), i);
    }
    this.sink.nurbs({ degree: curve.degree, knots: curve.knots, points, weights: curve.weights });
  }
}

function polylineCurves(p: Polyline, pen: Pen): void {
  const n = p.points.length / p.dim;
  if (n === 0) return;
  const z = (i: number): number => (p.dim === 3 ? p.points[3 * i + 2]! : p.elevation);
  const x = (i: number): number => p.points[p.dim * i]!;
  const y = (i: number): number => p.points[p.dim * i + 1]!;
  pen.move(x(0), y(0), z(0));
  for (let i = 0; i < n; i++) {
    const j = segmentEnd(p, i);
    if (j < 0) break;
    const arc = p.bulges ? bulgeArc(x(i), y(i), x(j), y(j), p.bulges[i]!) : null;
    if (arc) {
      const { cx, cy, radius, start, sweep } = arc;
      pen.arcTo([cx, cy, z(i)], [radius, 0, 0], [0, radius, 0], start, sweep, [x(j), y(j), z(j)]);
    } else pen.line(x(j), y(j), z(j));
  }
  if (n === 1) pen.line(x(0), y(0), z(0));
}

function pathCurves(path: PathData, z: number, pen: Pen): void {
  visitPath(path, {
    move: (x, y) => pen.move(x, y, z),
    close: (x0, y0, sx, sy) => {
      if (x0 !== sx || y0 !== sy) pen.line(sx, sy, z);
    },
    piece: (cmd, x0, y0, d, i) => {
      if (cmd === Cmd.Line) return pen.line(d[i]!, d[i + 1]!, z);
      if (cmd === Cmd.Cubic) return pen.cubic(d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]!, d[i + 4]!, d[i + 5]!, z);
      if (cmd === Cmd.Quad) {
        const k = 2 / 3;
        const [qx, qy, x, y] = [d[i], d[i + 1], d[i + 2], d[i + 3]];
        return pen.cubic(x0 + k * (qx! - x0), y0 + k * (qy! - y0), x! + k * (qx! - x!), y! + k * (qy! - y!), x!, y!, z);
      }
      const e = endpointToCentre(
        x0,
        y0,
        d[i]!,
        d[i + 1]!,
        d[i + 2]!,
        d[i + 3] !== 0,
        d[i + 4] !== 0,
        d[i + 5]!,
        d[i + 6]!,
      );
      if (!e) return pen.line(d[i + 5]!, d[i + 6]!, z);
      const c = Math.cos(e.rotation);
      const s = Math.sin(e.rotation);
      const u: Vec3 = [e.rx * c, e.rx * s, 0];
      const v: Vec3 = [-e.ry * s, e.ry * c, 0];
      pen.arcTo([e.cx, e.cy, z], u, v, e.start, e.sweep, [d[i + 5]!, d[i + 6]!, z]);
    },
  });
}
