import Flatbush from 'flatbush';
import { Box2 } from '../geometry/box.js';
import { insideRing } from '../drawing/area.js';
import { flattenEntity } from '../drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { surveyOf } from '../drawing/survey.js';
import type { Entity } from '../drawing/entity.js';
import { checkStop } from '../formats/format.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { isAnnotationPart } from '../analysis/annotation.js';
import { aKind, countWords } from './words.js';
import { UNSEEN } from '../geometry/tolerance.js';

interface Shape {
  id: number;
  layer: string;
  kind: Entity['kind'];
  ring: number[];
  box: Box2;
  level: number;
  /** A point well inside. */
  inside: [number, number] | null;
}

/** Shapes beyond these are not looked at: a drawing of so many is a texture. */
const MOST_SHAPES = 50_000;
/** Corners of shapes looked at in all; texture again, told in one line. */
const MOST_POINTS = 30_000_000;

/** Finds filled shapes that lie over each other in one plane. */
export const stackedShapes = defineCheck({
  id: 'stacked-shapes',
  title: 'Shapes stacked on one plane',
  summary:
    'Filled shapes at one height are told apart by draw order alone: in a 3D tool they flicker through each other until each has a height of its own.',
  carries: ['curves'],
  params: {
    from: p.number({ title: 'Report shapes with at least so many others on them', default: 1, atLeast: 1 }),
  },
  run(drawing, params, work) {
    const shapes: Shape[] = [];
    surveyOf(drawing).each(({ entity: e, toWorld, resolved, top }) => {
      if (isAnnotationPart(top) || shapes.length >= MOST_SHAPES) return;
      if (e.kind === 'text' || e.kind === 'richText' || e.kind === 'insert') return;
      const filled =
        (e.kind === 'hatch' && !!e.solid) ||
        (e.kind === 'face' && e.solid) ||
        (resolved.fill !== null &&
          (e.kind === 'path' || e.kind === 'polyline' || e.kind === 'circle' || e.kind === 'ellipse'));
      if (!filled) return;
      const box = new Box2();
      addEntityBounds(e, toWorld, new BoundsSink(box));
      if (box.empty || box.diagonal === 0) return;
      const rings: number[][] = [];
      flattenEntity(e, toWorld, box.diagonal * 1e-3, {
        moveTo: (x, y) => void rings.push([x, y]),
        lineTo: (x, y) => void rings[rings.length - 1]!.push(x, y),
      });
      const level = e.kind === 'polyline' || e.kind === 'hatch' ? e.elevation : e.kind === 'circle' ? e.centre[2] : 0;
      if (rings[0] && rings[0].length >= 6)
        shapes.push({
          id: e.id,
          layer: resolved.layer,
          kind: e.kind,
          ring: rings[0],
          box,
          level,
          inside: pointWithin(rings[0], box),
        });
    });
    if (shapes.length < 2) return [];
    const index = new Flatbush(shapes.length);
    for (const { box } of shapes) index.add(box.minX, box.minY, box.maxX, box.maxY);
    index.finish();
    const found: Finding[] = [];
    let left = MOST_POINTS;
    const share = (low: Shape, high: Shape): boolean => {
      left -= low.ring.length + high.ring.length;
      return left > 0 && meet(low, high);
    };
    shapes.forEach((low, i) => {
      if (i % 256 === 0) checkStop(work);
      if (left <= 0) return;
      const { box } = low;
      // Edges that merely touch are no stack.
      const shrink = box.diagonal * UNSEEN;
      const above = index
        .search(box.minX + shrink, box.minY + shrink, box.maxX - shrink, box.maxY - shrink, (k) => k > i)
        .filter((k) => shapes[k]!.level === low.level && share(low, shapes[k]!));
      if (above.length < params.from) return;
      const [first] = above.map((k) => shapes[k]);
      found.push({
        check: 'stacked-shapes',
        severity: 'note',
        message: `${countWords(above.length, 'filled shape lies', 'filled shapes lie')} on ${aKind(low.kind)} at the same height`,
        at: { x: (first!.box.minX + first!.box.maxX) / 2, y: (first!.box.minY + first!.box.maxY) / 2 },
        size: box.diagonal,
        span: box.diagonal,
        layer: low.layer,
        ids: [low.id, ...above.slice(0, 999).map((k) => shapes[k]!.id)],
      });
    });
    if (left <= 0)
      found.push({
        check: 'stacked-shapes',
        severity: 'note',
        message: 'More filled shapes lie over each other than were looked at',
        at: null,
        size: null,
        layer: null,
        ids: [],
      });
    return found.sort((a, b) => b.ids.length - a.ids.length);
  },
});

/** Whether two shapes share area: one holds a point well within the other, or their edges cross. */
function meet(a: Shape, b: Shape): boolean {
  const [pa, pb] = [a.inside, b.inside];
  if (pb && insideRing(a.ring, pb[0], pb[1])) return true;
  if (pa && insideRing(b.ring, pa[0], pa[1])) return true;
  const [short, long] = a.ring.length < b.ring.length ? [a.ring, b.ring] : [b.ring, a.ring];
  if (short.length * long.length > 4e6) return false;
  for (let i = 0; i + 3 < short.length; i += 2)
    for (let k = 0; k + 3 < long.length; k += 2) if (cross(short, i, long, k)) return true;
  return false;
}

/** A point inside a ring: the middle of the widest part of a line across its middle height. */
function pointWithin(ring: readonly number[], box: Box2): [number, number] | null {
  // Off the exact middle, where drawings like to have corners.
  const y = box.minY + box.height * 0.4871;
  const xs: number[] = [];
  for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
    const [yi, yj] = [ring[i + 1], ring[j + 1]];
    if (yi! > y !== yj! > y) xs.push(ring[i]! + ((y - yi!) / (yj! - yi!)) * (ring[j]! - ring[i]!));
  }
  xs.sort((a, b) => a - b);
  let best: [number, number] | null = null;
  let widest = 0;
  for (let i = 0; i + 1 < xs.length; i += 2)
    if (xs[i + 1]! - xs[i]! > widest) [widest, best] = [xs[i + 1]! - xs[i]!, [(xs[i]! + xs[i + 1]!) / 2, y]];
  return best;
}

/** Whether two edges properly cross. */
function cross(p: readonly number[], i: number, q: readonly number[], k: number): boolean {
  const side = (ax: number, ay: number, bx: number, by: number, x: number, y: number): number =>
    (bx - ax) * (y - ay) - (by - ay) * (x - ax);
  const [a, b, c, d] = [p[i]!, p[i + 1]!, p[i + 2]!, p[i + 3]!];
  const [e, f, g, h] = [q[k]!, q[k + 1]!, q[k + 2]!, q[k + 3]!];
  const least = 1e-9 * (Math.hypot(c - a, d - b) * Math.hypot(g - e, h - f));
  const [s, t] = [side(a, b, c, d, e, f), side(a, b, c, d, g, h)];
  const [u, v] = [side(e, f, g, h, a, b), side(e, f, g, h, c, d)];
  const apart = (m: number, n: number): boolean => (m > least && n < -least) || (m < -least && n > least);
  return apart(s, t) && apart(u, v);
}
