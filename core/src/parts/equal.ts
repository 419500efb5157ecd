import type { SeenRing } from '../analysis/outline-roles.js';
import { TAU } from '../geometry/arcs.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, pointAt, reversed, startOf, tangentAt } from '../geometry/path-pieces.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import type { Part, PartsFound } from './find.js';

type Point = readonly [number, number];

/** How a part lies to another that it is equal to: turned and moved, or mirrored first. */
type Likeness = 'same' | 'mirrored';

/** A part as shapes to be laid over others: every outline by its corners and the middles between, about the centre of the outer one. */
interface Shape {
  readonly outer: Ring;
  readonly holes: readonly Ring[];
  /** The way round it all, which turning and mirroring leave alone, and how many points it hangs on. */
  readonly around: number;
  readonly points: number;
}

/** Corners and middles in turn, anticlockwise; of a whole circle none, its radius says all. */
interface Ring {
  readonly points: readonly Point[];
  readonly centre: Point;
  readonly radius: number | null;
}

/** Parts that are equal within a bound, each group with its first as the model; `mirrored` says who of them lies the other way up. */
export interface EqualParts {
  readonly model: number;
  readonly members: readonly number[];
  readonly mirrored: ReadonlySet<number>;
}

/**
 * Groups parts that lie on each other when they are turned and moved, no point further off than `bound` (drawing units). Mirrored
 * ones are parts of their own unless `facesAlike`. Areas decide nothing: a ring and a disc can have one area.
 */
export function equalParts({ parts, rings }: PartsFound, bound: number, facesAlike = false): EqualParts[] {
  const shapes = parts.map((p) => shapeOf(p, rings));
  const groups: { model: number; members: number[]; mirrored: Set<number> }[] = [];
  // Models by their counts: only those are compared whose outlines have as many corners.
  const byCounts = new Map<string, number[]>();
  shapes.forEach((shape, i) => {
    const key = [shape.outer, ...shape.holes]
      .map((r) => r.points.length)
      .sort((a, b) => a - b)
      .join(' ');
    const models = byCounts.get(key) ?? [];
    for (const g of models) {
      const group = groups[g]!;
      const like = likeness(shapes[group.model]!, shape, bound);
      if (like === null || (like === 'mirrored' && !facesAlike)) continue;
      group.members.push(i);
      if (like === 'mirrored') group.mirrored.add(i);
      return;
    }
    if (models.length === 0) byCounts.set(key, models);
    models.push(groups.length);
    groups.push({ model: i, members: [i], mirrored: new Set() });
  });
  return groups;
}

/** Whether one shape lies on another when it is turned and moved, or mirrored too; `null` where it does not. */
function likeness(a: Shape, b: Shape, bound: number): Likeness | null {
  // Each point that is off by the bound lengthens both edges beside it by no more than that; a circle's way by its turn.
  const slack = (2 * (a.points + b.points) + TAU * (1 + a.holes.length)) * bound;
  if (Math.abs(a.around - b.around) > slack + COINCIDENT * a.around) return null;
  if (lies(a, b, bound)) return 'same';
  return lies(a, mirroredShape(b), bound) ? 'mirrored' : null;
}

function lies(a: Shape, b: Shape, bound: number): boolean {
  for (const turn of turnsOnto(b.outer, a.outer, bound, b, a)) {
    const left = new Set(a.holes.keys());
    const fits = b.holes.every((hole) => {
      const centre = turned(minus(hole.centre, b.outer.centre), turn);
      for (const k of left) {
        const other = a.holes[k]!;
        const at = minus(other.centre, a.outer.centre);
        if (Math.hypot(at[0] - centre[0], at[1] - centre[1]) > bound) continue;
        if (!sameRing(other, hole, turn, bound, a.outer.centre, b.outer.centre)) continue;
        left.delete(k);
        return true;
      }
      return false;
    });
    if (fits && left.size === 0) return true;
  }
  return false;
}

/** The turns by which one outline comes to lie on the other. Of a circle, those that bring a hole, or a corner of one, onto another. */
function turnsOnto(from: Ring, to: Ring, bound: number, b: Shape, a: Shape): number[] {
  if (from.radius !== null || to.radius !== null) {
    if (from.radius === null || to.radius === null || Math.abs(from.radius - to.radius) > bound) return [];
    const spoke = farthestFrom(b.holes, from.centre);
    if (!spoke) return [0];
    const reach = Math.hypot(...spoke);
    return a.holes
      .flatMap((h) => [h.centre, ...h.points])
      .map((p) => minus(p, to.centre))
      .filter((p) => Math.abs(Math.hypot(p[0], p[1]) - reach) <= 2 * bound)
      .map((p) => Math.atan2(p[1], p[0]) - Math.atan2(spoke[1], spoke[0]));
  }
  const n = from.points.length;
  if (n !== to.points.length || n === 0) return [];
  const [p, q] = [from.points.map((v) => minus(v, from.centre)), to.points.map((v) => minus(v, to.centre))];
  const out: number[] = [];
  // Corners and middles take turns: a corner lies on a corner.
  for (let shift = 0; shift < n; shift += 2) {
    // The turn of least squares (Kabsch in the plane): the angle of the sum of products of conjugates.
    let [re, im] = [0, 0];
    for (let i = 0; i < n; i++) {
      const [u, v] = [p[i]!, q[(i + shift) % n]!];
      re += u[0] * v[0] + u[1] * v[1];
      im += u[0] * v[1] - u[1] * v[0];
    }
    const turn = Math.atan2(im, re);
    const off = p.some((u, i) => {
      const [x, y] = turned(u, turn);
      const v = q[(i + shift) % n]!;
      return Math.hypot(x - v[0], y - v[1]) > bound;
    });
    if (!off) out.push(turn);
  }
  return out;
}

function sameRing(a: Ring, b: Ring, turn: number, bound: number, ca: Point, cb: Point): boolean {
  if (a.radius !== null || b.radius !== null)
    return a.radius !== null && b.radius !== null && Math.abs(a.radius - b.radius) <= bound;
  const n = a.points.length;
  if (n !== b.points.length) return false;
  const p = b.points.map((v) => turned(minus(v, cb), turn));
  const q = a.points.map((v) => minus(v, ca));
  for (let shift = 0; shift < n; shift += 2)
    if (p.every((u, i) => Math.hypot(u[0] - q[(i + shift) % n]![0], u[1] - q[(i + shift) % n]![1]) <= bound))
      return true;
  return false;
}

function farthestFrom(holes: readonly Ring[], [x, y]: Point): Point | null {
  let [best, most]: [Point | null, number] = [null, 0];
  for (const h of holes)
    for (const p of [h.centre, ...h.points]) {
      const away = Math.hypot(p[0] - x, p[1] - y);
      if (away > most * (1 + 1e-9)) [best, most] = [[p[0] - x, p[1] - y], away];
    }
  return best;
}

function shapeOf(part: Part, rings: readonly SeenRing[]): Shape {
  const outer = ringOf(rings[part.outer]!);
  const holes = part.holes.map((h) => ringOf(rings[h]!));
  const points = [outer, ...holes].reduce((sum, r) => sum + r.points.length, 0);
  return { outer, holes, around: part.cutLength, points };
}

function mirroredShape({ outer, holes, ...rest }: Shape): Shape {
  const one = (r: Ring): Ring => {
    // Run the other way round, so that it is anticlockwise again; corners stay at even places.
    const points = r.points.map(([x, y]): Point => [-x, y]);
    const back = points.length > 0 ? [points[0]!, ...points.slice(1).reverse()] : points;
    return { ...r, points: back, centre: [-r.centre[0], r.centre[1]] };
  };
  return { outer: one(outer), holes: holes.map(one), ...rest };
}

function ringOf({ pieces, diameter }: SeenRing): Ring {
  const way = areaOfPieces(pieces) < 0 ? [...pieces].reverse().map(reversed) : pieces;
  if (diameter !== null) {
    const first = way[0] as Extract<Piece, { kind: 'arc' }>;
    return { points: [], centre: [first.cx, first.cy], radius: diameter / 2 };
  }
  const corners = cornersOf(way);
  const points = corners.flatMap((p) => [startOf(p), pointAt(p, 0.5)]);
  // The middle of the points: the same for every turn of them.
  const [x, y] = points.reduce(([sx, sy], [px, py]) => [sx + px, sy + py], [0, 0]);
  return { points, centre: [x / points.length, y / points.length], radius: null };
}

/** Pieces between corners: straight ones that go on straight are one, so that a point in an edge makes no other part. */
function cornersOf(pieces: readonly Piece[]): Piece[] {
  const out: Piece[] = [];
  const isLine = (p: Piece): boolean => p.kind === 'bezier' && p.p.length === 4;
  for (const p of pieces) {
    const last = out[out.length - 1];
    if (last && isLine(last) && isLine(p) && goesStraight(last, p))
      out[out.length - 1] = { kind: 'bezier', p: [...startOf(last), ...endOf(p)] };
    else out.push(p);
  }
  const [first, last] = [out[0]!, out[out.length - 1]!];
  if (out.length > 3 && isLine(first) && isLine(last) && goesStraight(last, first)) {
    out.pop();
    out[0] = { kind: 'bezier', p: [...startOf(last), ...endOf(first)] };
  }
  return out;
}

/** How far a joint may turn and still be none, in radians. */
const STRAIGHT = 1e-6;

function goesStraight(a: Piece, b: Piece): boolean {
  const [u, v] = [tangentAt(a, 1), tangentAt(b, 0)];
  return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])) < STRAIGHT;
}

const minus = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1]];
const turned = ([x, y]: Point, by: number): Point => {
  const [c, s] = [Math.cos(by), Math.sin(by)];
  return [x * c - y * s, x * s + y * c];
};
