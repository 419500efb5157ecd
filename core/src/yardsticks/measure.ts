import type { Drawing } from '../drawing/drawing.js';
import { surveyOf } from '../drawing/survey.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import type { Box2 } from '../geometry/box.js';
import type { Piece } from '../geometry/path-pieces.js';
import { pointAt } from '../geometry/path-pieces.js';
import { baseLine, linesOf } from '../text/layout.js';
import type { FontBook } from '../text/fonts.js';
import type { Features, ShapeFeature } from './features.js';
import { featuresOf } from './features.js';
import type { Held, Yardstick, YardstickPlace } from './yardstick.js';
import { PLACES } from './yardstick.js';

/** A place is where it was to a part of the diagonal; it is looked for no further than so far, and must stand alone there. */
const SAME = 1e-7;
const REACH = 0.02;
const ALONE = 3;
/** A shape is taken for the one that it was when its size differs by no more than so much of it. */
const ALIKE = 0.15;
/** Two places this near, as parts of the diagonal, are one. */
const ONE = 1e-9;

type Unfound = { readonly why: string };
const NOWHERE: Unfound = { why: 'nothing lies at its place, or several things do' };

/** Holds yardsticks against a drawing. What finds no partner is undecided, whatever else fits. */
export const holdAgainst = (list: readonly Yardstick[], drawing: Drawing, fonts: FontBook): Held[] =>
  list.map((y) => held(y, measured(y, drawing, fonts)));

/** A yardstick of a file that cannot be read. */
export const unread = (y: Yardstick): Held => held(y, { why: 'the file cannot be read' });

function held(y: Yardstick, found: number | string | Unfound): Held {
  if (typeof found === 'object') return { id: y.id, state: 'undecided', measured: null, off: null, why: found.why };
  if (typeof found === 'string' || typeof y.expected === 'string') {
    const same = String(found).toLowerCase() === String(y.expected).toLowerCase();
    return { id: y.id, state: same ? 'holds' : 'fails', measured: found, off: null, why: '' };
  }
  const off = found - y.expected;
  // What is off by the tolerance to the last digit of a double is within it.
  const slack = 4 * Number.EPSILON * Math.max(Math.abs(found), Math.abs(y.expected));
  return { id: y.id, state: Math.abs(off) <= y.tolerance + slack ? 'holds' : 'fails', measured: found, off, why: '' };
}

/** What a yardstick comes to in a drawing, counted as its `expected` is. */
function measured(y: Yardstick, drawing: Drawing, fonts: FontBook): number | string | Unfound {
  if (y.places.length !== PLACES[y.what]) return { why: 'it is bound to too few places' };
  const k = perUnit(drawing, y.unit);
  const counts = y.what === 'outlines' || y.what === 'angle' || y.what === 'stroke' || y.what === 'fill';
  if (k === null && !counts) return { why: 'the drawing says no unit' };
  const factor = k ?? 1;
  if (y.what === 'text') return heightOfText(y, drawing, fonts, factor);
  const features = featuresOf(drawing);
  if (features.box.empty) return { why: 'the drawing is empty' };
  switch (y.what) {
    case 'width':
      return features.box.width * factor;
    case 'height':
      return features.box.height * factor;
    case 'outlines':
      return features.shapes.filter((s) => !s.isHole).length;
    case 'holes': {
      const wanted = y.diameter ?? 0;
      const near = (s: ShapeFeature): boolean =>
        Math.abs(s.diameter * factor - wanted) <= Math.max(wanted * 1e-3, 1e-9);
      return features.shapes.filter((s) => s.isHole && s.isCircle && near(s)).length;
    }
    case 'distance':
    case 'angle': {
      const points = pointsAt(y.places, features, factor);
      if (!points) return NOWHERE;
      const [a, b, c] = points as [Point, Point, Point];
      if (y.what === 'distance') return Math.hypot(b[0] - a[0], b[1] - a[1]) * factor;
      return angleAt(b, a, c);
    }
    default: {
      const shape = shapeAt(y.places[0]!, features, factor);
      if (!shape) return NOWHERE;
      if (y.what === 'diameter') return shape.diameter * factor;
      if (y.what === 'area') return shape.area * factor * factor;
      return shape[y.what] ?? 'none';
    }
  }
}

/** How many of a unit one coordinate of a drawing is; `null` where it says none. */
function perUnit({ unit }: Drawing, to: UnitName): number | null {
  if (!unit || unit.unit === 'px') return null;
  return unit.factor * conversion(unit.unit, to);
}

type Point = readonly [x: number, y: number];

/** The angle between two places as seen from a third, 0° to 180°. */
function angleAt(corner: Point, a: Point, b: Point): number {
  const [ax, ay, bx, by] = [a[0] - corner[0], a[1] - corner[1], b[0] - corner[0], b[1] - corner[1]];
  return (Math.atan2(Math.abs(ax * by - ay * bx), ax * bx + ay * by) * 180) / Math.PI;
}

/** Where a place is to be looked for: where it would be had all been moved and scaled with the box, and where it was. */
const expectedAt = (p: YardstickPlace, box: Box2, factor: number): { byBox: Point; asItWas: Point } => ({
  byBox: [box.minX + p.u * box.width, box.minY + p.v * box.height],
  asItWas: [p.x / factor, p.y / factor],
});

/**
 * The points that places stand for: all of them exactly by the box, or all exactly where they were, or else each the one that lies alone
 * nearest to where the box says. `null` where one is not found.
 */
function pointsAt(places: readonly YardstickPlace[], { box, points }: Features, factor: number): Point[] | null {
  const looked = places.map((p) => expectedAt(p, box, factor));
  const exact = (at: readonly Point[]): Point[] | null => {
    const found = at.map((p) => nearest(points, p, box.diagonal * SAME));
    return found.every((f) => f !== null) ? found : null;
  };
  const first = exact(looked.map((l) => l.byBox)) ?? exact(looked.map((l) => l.asItWas));
  if (first) return first;
  const found = looked.map((l) => nearest(points, l.byBox, box.diagonal * REACH, ALONE, box.diagonal * ONE));
  return found.every((f) => f !== null) ? found : null;
}

/** The point nearest to a place within a distance; `null` where another that is not the same lies less than `alone` times as far. */
function nearest(points: Float64Array, [x, y]: Point, within: number, alone = 1, one = 0): Point | null {
  let [best, second] = [within, Infinity];
  let found: Point | null = null;
  for (let i = 0; i < points.length; i += 2) {
    const d = Math.hypot(points[i]! - x, points[i + 1]! - y);
    if (d > second) continue;
    const p: Point = [points[i]!, points[i + 1]!];
    if (found && Math.hypot(p[0] - found[0], p[1] - found[1]) <= one) continue;
    if (d <= best) {
      if (found) second = best;
      [best, found] = [d, p];
    } else second = d;
  }
  return found && (alone === 1 || second >= alone * best) ? found : null;
}

/** The shape that a place stands for: of about its size, alone nearest to where the box says, or else to where it was. */
function shapeAt(place: YardstickPlace, { box, shapes }: Features, factor: number): ShapeFeature | null {
  const { byBox, asItWas } = expectedAt(place, box, factor);
  if (!place.shape) return null;
  const { part, across } = place.shape;
  const nearOf = (size: number, at: Point, reach: number): ShapeFeature | null => {
    const alike = shapes.filter((s) => Math.abs(s.size - size) <= ALIKE * size);
    return nearestShape(alike, at, box.diagonal * reach, size);
  };
  const byPart = part * box.diagonal;
  return nearOf(byPart, byBox, SAME) ?? nearOf(across / factor, asItWas, SAME) ?? nearOf(byPart, byBox, REACH);
}

/** The shape whose middle lies nearest; of several about one middle the one of the size, and none where two share that too. */
function nearestShape(
  shapes: readonly ShapeFeature[],
  [x, y]: Point,
  within: number,
  size: number,
): ShapeFeature | null {
  const near = shapes
    .map((shape) => ({ shape, d: Math.hypot(shape.x - x, shape.y - y), s: Math.abs(shape.size - size) }))
    .filter((c) => c.d <= within)
    .sort((a, b) => a.d - b.d);
  const [first] = near;
  if (!first) return null;
  const about = near.filter((c) => c.d <= ALONE * first.d + within * 1e-3).sort((a, b) => a.s - b.s);
  const [best, next] = about;
  return next && next.s <= ALONE * best!.s + size * 1e-6 && next.d <= ALONE * best!.d + within * 1e-3
    ? null
    : best!.shape;
}

/** The height of capitals of the text with certain words. */
function heightOfText(y: Yardstick, drawing: Drawing, fonts: FontBook, factor: number): number | Unfound {
  const wanted = (y.words ?? '').trim();
  const found: number[] = [];
  surveyOf(drawing).each(({ entity: e, toWorld }) => {
    if (e.kind !== 'text' && e.kind !== 'richText') return;
    const lines = e.kind === 'text' ? [baseLine(e, drawing, fonts)] : linesOf(e, drawing, fonts);
    for (const line of lines)
      if (line.text.trim() === wanted)
        // Across the line: how much of one up goes into the drawing.
        found.push(line.em * fonts.capital(line.family) * Math.hypot(toWorld[3]!, toWorld[4]!) * factor);
  });
  if (found.length === 0) return { why: 'no text has its words' };
  const [first] = found as [number];
  return found.every((h) => Math.abs(h - first) <= 1e-9 * first) ? first : { why: 'several texts have its words' };
}

/** A place of a drawing as a yardstick keeps it; `null` where the drawing is empty or says no unit. */
export function placeOn(drawing: Drawing, at: { x: number; y: number }, unit: UnitName): YardstickPlace | null {
  const { box } = featuresOf(drawing);
  const k = perUnit(drawing, unit);
  if (box.empty || k === null) return null;
  return {
    x: at.x * k,
    y: at.y * k,
    u: box.width === 0 ? 0 : (at.x - box.minX) / box.width,
    v: box.height === 0 ? 0 : (at.y - box.minY) / box.height,
  };
}

/** The place of the shape whose outline runs nearest to a point, no further than `reach` away; `null` where none does. */
export function shapePlaceOn(
  drawing: Drawing,
  at: { x: number; y: number },
  unit: UnitName,
  reach = Infinity,
): YardstickPlace | null {
  const features = featuresOf(drawing);
  let nearest: { shape: ShapeFeature; d: number } | null = null;
  for (const shape of features.shapes) {
    // What lies further off than its box does not come near.
    if (Math.hypot(shape.x - at.x, shape.y - at.y) - shape.size / 2 > (nearest?.d ?? reach)) continue;
    const d = distanceToOutline(shape.pieces, at);
    if (d <= reach && (!nearest || d < nearest.d)) nearest = { shape, d };
  }
  if (!nearest) return null;
  const { shape } = nearest;
  const place = placeOn(drawing, shape, unit);
  if (!place) return null;
  return {
    ...place,
    shape: { across: shape.size * perUnit(drawing, unit)!, part: shape.size / features.box.diagonal },
  };
}

/** So many places of each piece of an outline are looked at to find the one that was meant. */
const LOOKS = 32;

function distanceToOutline(pieces: readonly Piece[], { x, y }: { x: number; y: number }): number {
  let nearest = Infinity;
  for (const piece of pieces)
    for (let i = 0; i <= LOOKS; i++) {
      const [px, py] = pointAt(piece, i / LOOKS);
      nearest = Math.min(nearest, Math.hypot(px - x, py - y));
    }
  return nearest;
}

/** What a yardstick would measure on a drawing now, to be offered as its expected value; `null` where it finds nothing. */
export function measureNow(y: Omit<Yardstick, 'expected'>, drawing: Drawing, fonts: FontBook): number | string | null {
  const found = measured({ ...y, expected: 0 }, drawing, fonts);
  return typeof found === 'object' ? null : found;
}
