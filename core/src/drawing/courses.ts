import { TAU, bulgeOf, ccwSweep, normalAngle } from '../geometry/arcs.js';
import { bulgePiece } from '../geometry/bulge-piece.js';
import { planeFrame } from '../geometry/affine.js';
import { arcsOfQuadratic } from '../geometry/conic-arcs.js';
import { cubicPieces } from '../geometry/nurbs-cubics.js';
import { nurbsFault } from '../geometry/nurbs.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder, transformPath } from '../geometry/path.js';
import type { Piece } from '../geometry/path-pieces.js';
import { drawPiece, endOf, piecesOf, pointAt, startOf } from '../geometry/path-pieces.js';
import { AT_END, COINCIDENT, isFullTurn, isSame } from '../geometry/tolerance.js';
import type { Vec3 } from '../geometry/vector.js';
import { derive } from './derive.js';
import type { Entity } from './entity.js';
import { outlinePath } from './outline-path.js';

/** A run of exact pieces end to end, flat at a height. */
export interface Run {
  readonly pieces: readonly Piece[];
  readonly closed: boolean;
  readonly z: number;
}

/** A piece that is straight, or a part of a circle. */
export const isStraight = (p: Piece): boolean => p.kind === 'bezier' && p.p.length === 4;
export const isCircular = (p: Piece): boolean => p.kind === 'arc' && isSame(p.rx, p.ry);

/**
 * The curves of a flat entity in the plane of model space or its block, exactly: lines, arcs, ellipses, Béziers. `null` for
 * kinds that are no curves, for what is not flat (tilted, or of several heights), for polylines with a width, and for splines
 * that are neither Béziers (of a degree up to 3) nor circular arcs (rational of degree 2).
 */
export function runsOf(e: Entity): Run[] | null {
  if (e.normal === undefined) {
    const plain = plainRun(e);
    if (plain !== undefined) return plain && [plain];
  }
  const flipped = e.normal !== undefined && e.normal[2] < 0;
  if (e.normal && (e.normal[0] !== 0 || e.normal[1] !== 0)) return null;
  const made = pathOf(e);
  if (!made) return null;
  // Circles, arcs, flat polylines and paths lie in the plane of their normal; the rest in space.
  const turned = flipped && e.kind !== 'line' && e.kind !== 'ellipse' && e.kind !== 'spline';
  const path = turned ? transformPath(made.path, planeFrame(e.normal!)) : made.path;
  const z = turned ? -made.z : made.z;
  return piecesOf(path, false).map(({ pieces, closed }) => ({ pieces, closed: closed || meets(pieces), z }));
}

/** The run of the kinds that drawings hold by the hundred thousand, without a path between; `undefined` for others. */
function plainRun(e: Entity): Run | null | undefined {
  switch (e.kind) {
    case 'line': {
      const { start: a, end: b } = e;
      if (a[2] !== b[2]) return null;
      if (a[0] === b[0] && a[1] === b[1]) return undefined;
      return { pieces: [{ kind: 'bezier', p: [a[0], a[1], b[0], b[1]] }], closed: false, z: a[2] };
    }
    case 'polyline': {
      const { points: p, dim, bulges, closed } = e;
      const n = p.length / dim;
      if (dim !== 2 || n < 2 || e.widths?.some((w) => w !== 0)) return undefined;
      const pieces: Piece[] = [];
      for (let i = 0; i < (closed ? n : n - 1); i++) {
        const j = (i + 1) % n;
        const [x0, y0, x1, y1] = [p[2 * i]!, p[2 * i + 1]!, p[2 * j]!, p[2 * j + 1]!];
        if (x0 === x1 && y0 === y1) continue;
        const b = bulges?.[i] ?? 0;
        pieces.push(b === 0 ? { kind: 'bezier', p: [x0, y0, x1, y1] } : bulgePiece(x0, y0, x1, y1, b));
      }
      return pieces.length === 0 ? undefined : { pieces, closed: closed || meets(pieces), z: e.elevation };
    }
    default:
      return undefined;
  }
}

const meets = (pieces: readonly Piece[]): boolean => {
  const [a, b] = [startOf(pieces[0]!), endOf(pieces[pieces.length - 1]!)];
  return pieces.length > 1 && a[0] === b[0] && a[1] === b[1];
};

function pathOf(e: Entity): { path: PathData; z: number } | null {
  const p = new PathBuilder();
  switch (e.kind) {
    case 'line':
      if (e.start[2] !== e.end[2]) return null;
      return { path: p.moveTo(e.start[0], e.start[1]).lineTo(e.end[0], e.end[1]).build(), z: e.start[2] };
    case 'arc': {
      const sweep = ccwSweep(e.start, e.end);
      const at = (t: number): [number, number] => [
        e.centre[0] + e.radius * Math.cos(t),
        e.centre[1] + e.radius * Math.sin(t),
      ];
      p.moveTo(...at(e.start));
      // Ends that nearly meet do not say which way round an arc runs: two halves do.
      const whole = isFullTurn(sweep);
      const first = at(e.start);
      if (sweep > Math.PI) p.arcTo(e.radius, e.radius, 0, false, true, ...at(e.start + sweep / 2));
      p.arcTo(e.radius, e.radius, 0, false, true, ...(whole ? first : at(e.end)));
      return { path: p.build(), z: e.centre[2] };
    }
    case 'polyline': {
      if (e.widths?.some((w) => w !== 0)) return null;
      if (e.dim === 2) return withHeight(outlinePath(e), e.elevation);
      const z = levelOf(e.points);
      return z === null ? null : withHeight(outlinePath(e), z);
    }
    case 'circle':
      return withHeight(outlinePath(e), e.centre[2]);
    case 'ellipse':
      return e.major[2] === 0 ? withHeight(outlinePath(e), e.centre[2]) : null;
    case 'path':
      return withHeight(e.path, 0);
    case 'spline': {
      if (nurbsFault(e) !== null || e.degree > 3) return null;
      const z = levelOf(e.points);
      if (z === null) return null;
      if (e.weights?.some((w) => !isSame(w, e.weights![0]!))) {
        const arcs = arcsOfQuadratic(e);
        return arcs && withHeight(pathOfRun({ pieces: arcs, closed: false, z: 0 }), z);
      }
      cubicPieces(e, 0).pieces.forEach(({ start, numbers: n }, i) => {
        if (i === 0) p.moveTo(...start);
        if (n.length === 2) p.lineTo(n[0]!, n[1]!);
        else if (n.length === 4) p.quadTo(n[0]!, n[1]!, n[2]!, n[3]!);
        else p.cubicTo(n[0]!, n[1]!, n[2]!, n[3]!, n[4]!, n[5]!);
      });
      return withHeight(p.build(), z);
    }
    default:
      return null;
  }
}

/** The height that points in space (x, y, z each) have in common; `null` where they have several. */
export function levelOf(points: Float64Array): number | null {
  for (let i = 5; i < points.length; i += 3) if (points[i] !== points[2]) return null;
  return points[2] ?? 0;
}

const withHeight = (path: PathData | null, z: number): { path: PathData; z: number } | null => path && { path, z };

/**
 * An entity that is these pieces exactly, made of another: a line, an arc, a circle or an ellipse where one says it all, a
 * polyline where there are straight and circular pieces only, else a path. Without `circles` a whole turn is no exception. Paths have no height: `null` for one that needs it.
 */
export function entityOfRun(from: Entity, run: Run, as: 'whole' | 'piece' = 'whole', circles = true): Entity | null {
  const { pieces, closed, z } = run;
  const plain = { normal: undefined };
  const alone = pieces.length === 1 && !closed ? pieces[0]! : null;
  if (alone?.kind === 'bezier' && alone.p.length === 4) {
    const [x0, y0, x1, y1] = alone.p as [number, number, number, number];
    return derive(from, as, { kind: 'line', start: [x0, y0, z], end: [x1, y1, z], ...plain });
  }
  const turn = circles ? wholeTurn(pieces) : null;
  if (turn)
    return isCircular(turn)
      ? derive(from, as, { kind: 'circle', centre: [turn.cx, turn.cy, z], radius: turn.rx, ...plain })
      : ellipseOf(from, as, turn, TAU, z);
  const arc = oneArc(pieces);
  if (arc && !closed) {
    if (!isCircular(arc)) return ellipseOf(from, as, arc, arc.sweep, z);
    const [a, b] = [arc.start + arc.rotation, arc.start + arc.rotation + arc.sweep].map(normalAngle);
    const [start, end] = arc.sweep > 0 ? [a!, b!] : [b!, a!];
    return derive(from, as, { kind: 'arc', centre: [arc.cx, arc.cy, z], radius: arc.rx, start, end, ...plain });
  }
  if (pieces.every((p) => isStraight(p) || isCircular(p))) return polylineOf(from, as, run);
  return z === 0 ? derive(from, as, { kind: 'path', path: pathOfRun(run), ...plain }) : null;
}

/** Straight pieces and arcs as a polyline, be it a single line; `null` where there are others. */
export const polylineOfRun = (from: Entity, run: Run): Entity | null =>
  run.pieces.every((p) => isStraight(p) || isCircular(p)) ? polylineOf(from, 'whole', run) : null;

/** Pieces as path data. */
export function pathOfRun({ pieces, closed }: Run): PathData {
  const out = new PathBuilder();
  out.moveTo(...startOf(pieces[0]!));
  pieces.forEach((p, i) => {
    // What closes a path straight is its own close.
    if (closed && i === pieces.length - 1 && isStraight(p)) return;
    for (const part of halved(p)) drawPiece(out, part);
  });
  if (closed) out.close();
  return out.build();
}

/** An arc of half a turn or more in parts of which each says by its ends which way it runs. */
function halved(p: Piece): Piece[] {
  if (p.kind === 'bezier' || Math.abs(p.sweep) < 0.95 * Math.PI) return [p];
  const n = Math.abs(p.sweep) > 1.5 * Math.PI ? 3 : 2;
  const ends = Array.from({ length: n + 1 }, (_, i) => (i === 0 ? p.from : i === n ? p.to : pointAt(p, i / n)));
  return Array.from({ length: n }, (_, i) => ({
    ...p,
    start: p.start + (p.sweep * i) / n,
    sweep: p.sweep / n,
    from: ends[i]!,
    to: ends[i + 1]!,
  }));
}

function polylineOf(from: Entity, as: 'whole' | 'piece', { pieces, closed, z }: Run): Entity {
  const points: number[] = [];
  const bulges: number[] = [];
  for (const piece of pieces)
    for (const part of halved(piece)) {
      points.push(...startOf(part));
      bulges.push(part.kind === 'arc' ? bulgeOf(part.sweep) : 0);
    }
  if (!closed) {
    points.push(...endOf(pieces[pieces.length - 1]!));
    bulges.push(0);
  }
  return derive(from, as, {
    kind: 'polyline',
    points: Float64Array.from(points),
    dim: 2,
    elevation: z,
    closed,
    ...(bulges.some((b) => b !== 0) && { bulges: Float64Array.from(bulges) }),
    normal: undefined,
  });
}

function ellipseOf(
  from: Entity,
  as: 'whole' | 'piece',
  a: Extract<Piece, { kind: 'arc' }>,
  sweep: number,
  z: number,
): Entity {
  // The major axis is the longer one, parameter 0 points along it, and angles grow anticlockwise.
  const long = a.rx >= a.ry;
  const turn = a.rotation + (long ? 0 : Math.PI / 2);
  const major: Vec3 = [Math.max(a.rx, a.ry) * Math.cos(turn), Math.max(a.rx, a.ry) * Math.sin(turn), 0];
  const shift = long ? 0 : -Math.PI / 2;
  const ends = [a.start + shift, a.start + shift + sweep];
  const [start, end] = sweep > 0 ? ends : [ends[1], ends[0]];
  const whole = isFullTurn(sweep);
  return derive(from, as, {
    kind: 'ellipse',
    centre: [a.cx, a.cy, z],
    major,
    ratio: Math.min(a.rx, a.ry) / Math.max(a.rx, a.ry),
    start: whole ? 0 : normalAngle(start!),
    end: whole ? TAU : normalAngle(end!),
    normal: undefined,
  });
}

/** Whether two arcs lie on one ellipse or circle and the second goes on where the first ends. */
export function goesOn(a: Piece, b: Piece): boolean {
  if (a.kind !== 'arc' || b.kind !== 'arc' || a.sweep * b.sweep <= 0) return false;
  const near = COINCIDENT * Math.max(a.rx, a.ry);
  const round = isCircular(a) && isCircular(b);
  return (
    Math.hypot(a.cx - b.cx, a.cy - b.cy) <= near &&
    Math.abs(a.rx - b.rx) <= near &&
    Math.abs(a.ry - b.ry) <= near &&
    (round || Math.abs(a.rotation - b.rotation) <= COINCIDENT)
  );
}

/** Two arcs of which one goes on the other as one. */
export const asOneArc = (
  a: Extract<Piece, { kind: 'arc' }>,
  b: Extract<Piece, { kind: 'arc' }>,
): Extract<Piece, { kind: 'arc' }> => ({ ...a, sweep: a.sweep + b.sweep, to: b.to });

/** Pieces with the arcs that go on each other as one, as far as a turn of `most`; where `stays` holds of a joint, it stays. */
export function joinedArcs(
  pieces: readonly Piece[],
  most: number,
  stays: (x: number, y: number) => boolean = () => false,
): Piece[] {
  const out: Piece[] = [];
  for (const piece of pieces) {
    const last = out[out.length - 1];
    const joins =
      last?.kind === 'arc' &&
      piece.kind === 'arc' &&
      goesOn(last, piece) &&
      Math.abs(last.sweep + piece.sweep) <= most * (1 + AT_END) &&
      !stays(...piece.from);
    if (joins) out[out.length - 1] = asOneArc(last, piece);
    else out.push(piece);
  }
  return out;
}

/** Pieces that are parts of one arc, as that arc; `null` where they are not. */
function oneArc(pieces: readonly Piece[]): Extract<Piece, { kind: 'arc' }> | null {
  let arc = pieces[0];
  if (arc?.kind !== 'arc') return null;
  for (const next of pieces.slice(1)) {
    if (next.kind !== 'arc' || !goesOn(arc, next)) return null;
    arc = asOneArc(arc, next);
  }
  return Math.abs(arc.sweep) <= TAU + COINCIDENT ? arc : null;
}

/** Pieces that go round a whole circle or ellipse once. */
function wholeTurn(pieces: readonly Piece[]): Extract<Piece, { kind: 'arc' }> | null {
  const arc = oneArc(pieces);
  return arc && isFullTurn(arc.sweep) ? arc : null;
}
