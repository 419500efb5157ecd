import { derive } from './derive.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyVector, planeFrame } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { breakUp, mapped } from './break-up.js';
import type { CurveSink } from './curves.js';
import { curvesOf, inObjectPlane } from './curves.js';
import type { Block, Drawing } from './drawing.js';
import type { Entity } from './entity.js';
import { flattenEntity } from './flatten.js';
import { Lineage } from './lineage.js';
import { lengthOf } from './measures.js';
import { COINCIDENT, ROUNDING } from '../geometry/tolerance.js';

/** What laying flat did. Lengths in the drawing's unit. */
export interface LaidFlat {
  drawing: Drawing;
  /** Entities that came down or were turned, and how far the farthest point moved. */
  changed: number;
  farthest: number;
  /** Entities whose curves came out shorter, and the largest part that one lost (0.1 for a tenth). */
  shorter: number;
  lost: number;
  /** Entities that became none or several, and how many those are. */
  taken: number;
  made: number;
  /** Dimensions in tilted planes, which stay as they are. */
  left: number;
}

/** Straight down onto the XY plane. */
const DOWN: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0];

/**
 * Lays everything in model space and in blocks straight down onto the XY plane: heights become 0, what lies in a tilted
 * plane is seen from above (circles become ellipses), what stands on edge becomes the line it is seen as. What is flat
 * already stays the very same entity.
 */
export function layFlat(drawing: Drawing, lineage = new Lineage()): LaidFlat {
  const out: LaidFlat = { drawing, changed: 0, farthest: 0, shorter: 0, lost: 0, taken: 0, made: 0, left: 0 };
  let nextId = drawing.nextId;
  const lay = (e: Entity): Entity[] => {
    if (e.sheet !== undefined || e.kind === 'viewport') return [e];
    const flat = laid(e, drawing, out);
    if (flat === null) return [e];
    out.changed++;
    if (flat.length !== 1) {
      out.taken++;
      out.made += flat.length;
    }
    const made = flat.map((f, i) => (i === 0 ? f : { ...f, id: nextId++ }));
    if (made.length === 0) lineage.remove(e, 'nothing-from-above');
    else lineage.replace(e, made, made.length === 1 ? 'laid-flat' : 'seen-from-above');
    return made;
  };
  const entities = drawing.entities.flatMap(lay);
  const blocks = new Map<string, Block>();
  for (const [key, b] of drawing.blocks) blocks.set(key, b.sheet ? b : { ...b, entities: b.entities.flatMap(lay) });
  if (out.changed > 0) out.drawing = { ...drawing, entities, blocks, nextId };
  return out;
}

/** The entity as it is seen from above; `null` when it is flat already. */
function laid(e: Entity, drawing: Drawing, out: LaidFlat): Entity[] | null {
  const zero = (v: Vec3): Vec3 => [v[0], v[1], 0];
  const reach = (h: number): void => void (out.farthest = Math.max(out.farthest, Math.abs(h)));
  const upright = e.normal === undefined || (e.normal[0] === 0 && e.normal[1] === 0 && e.normal[2] > 0);
  switch (e.kind) {
    case 'insert': {
      if (!upright) {
        reach(e.at[2]);
        return breakUp(e, drawing, true).flatMap((p) => laid(p, drawing, out) ?? [p]);
      }
      if (e.at[2] === 0 && e.attributes.every((a) => a.at[2] === 0)) return null;
      reach(e.at[2]);
      return [{ ...e, at: zero(e.at), attributes: e.attributes.map((a) => ({ ...a, at: zero(a.at) })) }];
    }
    case 'text':
    case 'richText':
      if (upright && e.at[2] === 0) return null;
      reach(e.at[2]);
      return inObjectPlane(e) && !upright ? mapped(e, DOWN) : [{ ...e, at: zero(e.at) }];
    case 'dimension': {
      const points = Object.entries(e.points) as [string, Vec3][];
      if (!upright) out.left++;
      if (!upright || points.every(([, p]) => p[2] === 0)) return null;
      for (const [, p] of points) reach(p[2]);
      return [{ ...e, points: Object.fromEntries(points.map(([c, p]) => [c, zero(p)])) }];
    }
    case 'opaque':
    case 'viewport':
      return null;
    case 'leader':
    case 'mesh': {
      if (e.points.every((v, i) => i % 3 !== 2 || v === 0)) return null;
      const points = e.points.map((v, i) => (i % 3 === 2 ? 0 : v));
      for (let i = 2; i < e.points.length; i += 3) reach(e.points[i]!);
      return [{ ...e, points }];
    }
    case 'ray':
    case 'point':
      if (e.at[2] === 0 && (e.kind === 'point' || e.direction[2] === 0)) return null;
      reach(e.at[2]);
      // A line that stands upright is a point from above, and none without an end.
      if (e.kind === 'ray' && e.direction[0] === 0 && e.direction[1] === 0) return [];
      return mapped(e, DOWN);
    default:
      // All others are drawn by curves of their own.
      return laidCurve(e, upright, out);
  }
}

function laidCurve(e: Entity, upright: boolean, out: LaidFlat): Entity[] | null {
  const heights = new Heights();
  curvesOf(e, IDENTITY, heights);
  if (heights.highest === 0 && upright) return null;
  out.farthest = Math.max(out.farthest, heights.highest);
  const before = lengthOf(e);
  const flat = onEdge(e) ? asLine(e) : mapped(e, DOWN);
  const lost = before > 0 ? 1 - flat.reduce((n, f) => n + lengthOf(f), 0) / before : 0;
  if (lost > COINCIDENT) {
    out.shorter++;
    out.lost = Math.max(out.lost, lost);
  }
  return flat;
}

/** Whether an entity's own plane is seen from its edge. */
function onEdge(e: Entity): boolean {
  if (!e.normal || (!inObjectPlane(e) && e.kind !== 'ellipse')) return false;
  const x = applyVector(planeFrame(e.normal), [1, 0, 0]);
  const y = applyVector(planeFrame(e.normal), [0, 1, 0]);
  return Math.abs(x[0] * y[1] - x[1] * y[0]) < ROUNDING;
}

/** What stands on edge is seen as one line, from its outermost point to the one farthest from that. */
function asLine(e: Entity): Entity[] {
  const points: [number, number][] = [];
  const add = (x: number, y: number): void => void points.push([x, y]);
  flattenEntity(e, IDENTITY, lengthOf(e) / 1e6, { moveTo: add, lineTo: add });
  if (points.length === 0) return [];
  const farthest = ([x, y]: [number, number]): [number, number] =>
    points.reduce((best, p) => (Math.hypot(p[0] - x, p[1] - y) > Math.hypot(best[0] - x, best[1] - y) ? p : best));
  const a = farthest(points[0]!);
  const b = farthest(a);
  return [
    derive(e, 'whole', { kind: 'line', start: [...a, 0], end: [...b, 0], normal: undefined, thickness: undefined }),
  ];
}

/** The farthest that any point of a curve lies from the XY plane. */
class Heights implements CurveSink {
  highest = 0;
  move(_x: number, _y: number, z: number): void {
    this.highest = Math.max(this.highest, Math.abs(z));
  }
  line(x: number, y: number, z: number): void {
    this.move(x, y, z);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, _s: number, _w: number, x: number, y: number, z: number): void {
    this.move(x, y, z);
    this.move(0, 0, Math.abs(c[2]) + Math.hypot(u[2], v[2]));
  }
  cubic(a: number, b: number, z1: number, c: number, d: number, z2: number, x: number, y: number, z: number): void {
    this.move(a, b, z1);
    this.move(c, d, z2);
    this.move(x, y, z);
  }
  nurbs({ points }: { points: Float64Array }): void {
    for (let i = 2; i < points.length; i += 3) this.move(0, 0, points[i]!);
  }
}
