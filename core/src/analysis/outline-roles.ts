import { entityToWorld } from '../drawing/curves.js';
import { roundsOf } from '../drawing/area.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { KINDS } from '../drawing/kinds.js';
import { outlinePath } from '../drawing/outline-path.js';
import type { Visit } from '../drawing/resolve.js';
import { surveyOf } from '../drawing/survey.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { TAU } from '../geometry/arcs.js';
import type { Affine } from '../geometry/affine.js';
import { applyPoint, planarSimilarity } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { containersOf } from '../geometry/nesting.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, piecesOf, pointAt, startOf } from '../geometry/path-pieces.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import { CHORDS, COINCIDENT, UNSEEN } from '../geometry/tolerance.js';
import { isAnnotationPart } from './annotation.js';

/**
 * What something is among the closed outlines of a drawing: an outer outline lies in none, a hole in an odd number of others, an
 * island in an even one. A label is a text, an open mark a curve without a closed outline.
 */
export type Role = 'outer' | 'hole' | 'island' | 'open' | 'label' | 'other';

/** What is seen of one object, and how high it lies. */
export interface SeenAt {
  readonly visit: Visit;
  readonly height: number;
}

/** What is seen of one object, with its role. Lengths and areas in the drawing's unit. */
export interface RoleOfVisit extends SeenAt {
  readonly role: Role;
  /** Within its outermost outlines; what lies in them is not taken off. 0 where nothing is closed. */
  readonly area: number;
  /** Of an outline that is one whole circle; else `null`. */
  readonly diameter: number | null;
  /** What holds it, the smallest outline around it, by its place in the list; `null` where nothing does. */
  readonly around: number | null;
}

/** One closed outline as it is seen: an object, or a subpath of one. Lengths and areas in the drawing's unit. */
export interface SeenRing {
  /** Whose it is, by its place among the visits. */
  readonly owner: number;
  /** In the plane of the drawing; of a spline chords stand for it. */
  readonly pieces: readonly Piece[];
  /** Within it; what lies in it is not taken off. */
  readonly area: number;
  /** Of one whole circle; else `null`. */
  readonly diameter: number | null;
  /** The outlines that hold it, by their places, the smallest first. */
  readonly around: readonly number[];
}

/** What is in sight of a drawing, and its closed outlines, nested. */
export interface SeenOutlines {
  readonly visits: readonly Visit[];
  readonly rings: readonly SeenRing[];
}

/**
 * All that is in sight in model space, blocks taken apart, with its closed outlines. Those are single objects, or subpaths of one:
 * several curves that run round something together count as open until they are chained. `isOutline`: whose outlines count.
 */
export function outlinesSeen(
  drawing: Drawing,
  work?: Work,
  isOutline: (visit: Visit) => boolean = () => true,
): SeenOutlines {
  const visits: Visit[] = [];
  const found: { owner: number; pieces: readonly Piece[] }[] = [];
  surveyOf(drawing).each((visit, n) => {
    if (n % 4096 === 0) checkStop(work);
    if (visit.top !== visit.entity && isAnnotationPart(visit.top)) return;
    const owner = visits.push(visit) - 1;
    if (!KINDS[visit.entity.kind].contour || isAnnotationPart(visit.top) || !isOutline(visit)) return;
    for (const pieces of ringsOf(visit)) found.push({ owner, pieces });
  });
  checkStop(work);
  const containers = containersOf(
    found.map((r) => r.pieces),
    found.length,
    () => checkStop(work),
  );
  checkStop(work);
  const rings = found.map(({ owner, pieces }, i): SeenRing => ({
    owner,
    pieces,
    area: areaWithin(visits[owner]!, pieces),
    diameter: circleOf(pieces),
    around: containers[i]!,
  }));
  return { visits, rings };
}

/** The roles of all that is in sight in model space, blocks taken apart. */
export function rolesOf(drawing: Drawing, work?: Work): RoleOfVisit[] {
  const { visits, rings } = outlinesSeen(drawing, work);
  const outermost = new Map<number, number[]>();
  rings.forEach(({ owner, around }, i) => {
    // Of the outlines of one object those that lie in no other of its own are its outermost.
    if (around.some((k) => rings[k]!.owner === owner)) return;
    const known = outermost.get(owner);
    if (known) known.push(i);
    else outermost.set(owner, [i]);
  });
  return visits.map((visit, i) => {
    const own = outermost.get(i);
    const height = heightOf(visit);
    if (!own) return { visit, role: plainRole(visit.entity), area: 0, diameter: null, around: null, height };
    const first = rings[own[0]!]!;
    const { around } = first;
    return {
      visit,
      role: around.length === 0 ? 'outer' : around.length % 2 === 1 ? 'hole' : 'island',
      area: own.reduce((sum, k) => sum + rings[k]!.area, 0),
      diameter: own.length === 1 ? first.diameter : null,
      around: around.length === 0 ? null : rings[around[0]!]!.owner,
      height,
    };
  });
}

const plainRole = (e: Entity): Role =>
  e.kind === 'text' || e.kind === 'richText' ? 'label' : KINDS[e.kind].contour ? 'open' : 'other';

/** The closed outlines of what is seen, as pieces in the drawing's plane. */
function ringsOf({ entity: e, toWorld }: Visit): Piece[][] {
  // Of a circle half turns by their ends would say where its centre is only to half the digits.
  const circle = e.kind === 'circle' ? circlePieces(entityToWorld(e, toWorld), e.centre, e.radius) : null;
  if (circle) return [circle];
  const path = outlinePath(e);
  if (path) {
    const map = entityToWorld(e, toWorld);
    return piecesOf(transformPath(path, map), false)
      .filter(({ pieces, closed }) => pieces.length > 0 && (closed || meets(pieces)))
      .map(({ pieces }) => pieces);
  }
  if (e.kind !== 'spline') return [];
  let size = 0;
  const p = e.points;
  for (let i = 3; i < p.length; i += 3) size = Math.max(size, Math.hypot(p[i]! - p[0]!, p[i + 1]! - p[1]!));
  if (!(size > 0)) return [];
  const builder = new PathBuilder();
  const scale = Math.hypot(toWorld[0], toWorld[1]) || 1;
  flattenEntity(e, toWorld, size * scale * CHORDS, {
    moveTo: (x, y) => void builder.moveTo(x, y),
    lineTo: (x, y) => void builder.lineTo(x, y),
  });
  return piecesOf(builder.build(), false).flatMap(({ pieces }) => (meets(pieces) ? [pieces] : []));
}

/** A circle seen square-on as two half turns; `null` where it is seen as an ellipse. */
function circlePieces(map: Affine, centre: Vec3, radius: number): Piece[] | null {
  const scale = planarSimilarity(map);
  const isAslant = Math.hypot(map[2], map[5]) > COINCIDENT * (scale ?? 1);
  if (scale === null || isAslant || !(radius > 0)) return null;
  const [cx, cy] = applyPoint(map, centre);
  const r = radius * scale;
  const half = (start: number, from: readonly [number, number], to: readonly [number, number]): Piece => ({
    kind: 'arc',
    ...{ cx, cy, rx: r, ry: r, rotation: 0, start, sweep: Math.PI, from, to },
  });
  const [right, left] = [[cx + r, cy] as const, [cx - r, cy] as const];
  return [half(0, right, left), half(Math.PI, left, right)];
}

/** Whether pieces come back to where they began. */
function meets(pieces: readonly Piece[]): boolean {
  if (pieces.length === 0) return false;
  const [[x0, y0], [x1, y1]] = [startOf(pieces[0]!), endOf(pieces[pieces.length - 1]!)];
  const [mx, my] = pointAt(pieces[pieces.length >> 1]!, 0.5);
  return Math.hypot(x1 - x0, y1 - y0) <= COINCIDENT * Math.hypot(mx - x0, my - y0);
}

/** Splines are measured as they are; all else by its pieces, exactly. */
const areaWithin = ({ entity, toWorld }: Visit, pieces: readonly Piece[]): number =>
  entity.kind === 'spline'
    ? roundsOf(entity, toWorld).reduce((sum, r) => sum + Math.abs(r.area), 0)
    : Math.abs(areaOfPieces(pieces));

/** The diameter of pieces that are one whole circle. */
function circleOf(pieces: readonly Piece[]): number | null {
  const first = pieces[0];
  if (first?.kind !== 'arc') return null;
  // Arcs that were told by their ends say where their centre is to half the digits.
  const near = UNSEEN * first.rx;
  let turned = 0;
  for (const p of pieces) {
    if (p.kind !== 'arc') return null;
    const off = Math.max(
      Math.hypot(p.cx - first.cx, p.cy - first.cy),
      Math.abs(p.rx - first.rx),
      Math.abs(p.ry - first.rx),
    );
    if (off > near) return null;
    turned += p.sweep;
  }
  return Math.abs(Math.abs(turned) - TAU) <= UNSEEN ? 2 * first.rx : null;
}

/** How high a flat object lies: by its elevation, or the first of its points. */
export function heightOf({ entity: e, toWorld }: Visit): number {
  const map = entityToWorld(e, toWorld);
  const z = (p: readonly [number, number, number]): number => applyPoint(map, p)[2];
  switch (e.kind) {
    case 'circle':
    case 'arc':
    case 'ellipse':
      return z(e.centre);
    case 'polyline':
      return z([e.points[0] ?? 0, e.points[1] ?? 0, e.dim === 2 ? e.elevation : (e.points[2] ?? 0)]);
    case 'spline':
      return z([e.points[0] ?? 0, e.points[1] ?? 0, e.points[2] ?? 0]);
    default:
      return z([0, 0, 0]);
  }
}
