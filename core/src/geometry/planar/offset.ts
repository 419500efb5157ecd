import { fitArcs } from '../arc-fit.js';
import { bulgeArc } from '../arcs.js';
import type { PathData } from '../path.js';
import { PathBuilder } from '../path.js';
import type { Piece } from '../path-pieces.js';
import { drawPiece, endOf, piecesOf, pointAt, reversed, startOf, tangentAt } from '../path-pieces.js';
import type { Effort } from '../crossings.js';
import { newEffort } from '../crossings.js';
import { outlinesOf } from '../outlines.js';
import { AT_END, isSame } from '../tolerance.js';
import type { Filled } from './shapes.js';
import { simplified } from './shapes.js';

/** How far the point of a mitred corner may stand from the corner, in distances, before it is cut straight. */
const MITRE_LIMIT = 4;

export interface OffsetOptions {
  /** What stands on the outside of a corner: an arc, the two edges drawn on until they meet, or a straight cut. */
  join: 'round' | 'mitre' | 'bevel';
  /** How far a mitre's point may stand from its corner, in distances (the ratio of SVG's `stroke-miterlimit`). */
  mitreLimit?: number;
  /** How far arcs may lie from the Béziers and elliptical arcs they stand for, in units of the path. */
  tolerance: number;
}

/**
 * What a filled path encloses, grown by a distance on all sides, or shrunk by a negative one; what vanishes is left out,
 * what splits becomes several outlines. Lines become lines, circular arcs arcs of the same centre, exactly; Béziers and
 * elliptical arcs are first followed by arcs within `tolerance`. Every piece is moved along its normal and joined to the
 * next; of the curve this makes, what is run round counter-clockwise is the area (Chen and McMains, "Polygon offsetting by
 * computing winding numbers", 2005). Throws `TooIntricate` when outlines cross more often than the effort allows.
 */
export function offset(area: Filled, distance: number, options: OffsetOptions, effort: Effort = newEffort()): PathData {
  const clean = simplified(area, effort);
  if (distance === 0) return clean;
  const raw = new PathBuilder();
  for (const { pieces } of piecesOf(clean, true)) {
    const plain = pieces.flatMap((p) => asArcs(p, options.tolerance));
    if (plain.length > 0) addOffset(plain, distance, options, raw);
  }
  return outlinesOf([[{ path: raw.build(), rule: 'positive' }]], ([within]) => within!, effort);
}

/** A piece as lines and circular arcs. */
function asArcs(piece: Piece, tolerance: number): Piece[] {
  if (piece.kind === 'bezier' ? piece.p.length === 4 : isSame(piece.rx, piece.ry)) return [piece];
  const { vertices } = fitArcs(
    (t) => (t === 0 ? startOf(piece) : t === 1 ? endOf(piece) : pointAt(piece, t)),
    0,
    1,
    tolerance,
  );
  return vertices.slice(1).map((to, i) => {
    const from = vertices[i]!;
    const arc = bulgeArc(from.x, from.y, to.x, to.y, from.bulge);
    if (!arc) return { kind: 'bezier', p: [from.x, from.y, to.x, to.y] };
    const { cx, cy, radius, start, sweep } = arc;
    return {
      kind: 'arc',
      cx,
      cy,
      rx: radius,
      ry: radius,
      rotation: 0,
      start,
      sweep,
      from: [from.x, from.y],
      to: [to.x, to.y],
    };
  });
}

type Point = readonly [number, number];

/** The unit vector to the right of a piece at one of its ends: away from what lies on its left. */
function rightOf(piece: Piece, t: 0 | 1): Point {
  const [dx, dy] = tangentAt(piece, t);
  const l = Math.hypot(dx, dy) || 1;
  return [dy / l, -dx / l];
}

/** A line or circular arc, moved to its right; `null` for an arc that shrinks to its centre. */
function moved(piece: Piece, distance: number): Piece | null {
  const [n0, n1] = [rightOf(piece, 0), rightOf(piece, 1)];
  const along = (p: Point, n: Point): Point => [p[0] + n[0] * distance, p[1] + n[1] * distance];
  const [from, to] = [along(startOf(piece), n0), along(endOf(piece), n1)];
  if (piece.kind === 'bezier') return { kind: 'bezier', p: [...from, ...to] };
  const radius = piece.rx + (piece.sweep > 0 ? distance : -distance);
  if (Math.abs(radius) <= AT_END * piece.rx) return null;
  // Past its centre an arc is run round from the opposite side.
  const start = piece.start + piece.rotation + (radius < 0 ? Math.PI : 0);
  return { ...piece, rx: Math.abs(radius), ry: Math.abs(radius), rotation: 0, start, from, to };
}

/**
 * What an arc sweeps that shrinks past its centre: the sector from the centre to the arc, and the one beyond the centre to where
 * it ends up. All of it lies nearer than the distance, so it is run round twice, which outweighs the arc turned inside out.
 */
function addSectors(arc: Extract<Piece, { kind: 'arc' }>, at: Piece | null, distance: number, out: PathBuilder): void {
  for (const from of at?.kind === 'arc' ? [arc, at] : [arc]) {
    const way = from.sweep * distance > 0 ? from : (reversed(from) as typeof arc);
    for (let n = 0; n < 2; n++) {
      out.moveTo(arc.cx, arc.cy).lineTo(way.from[0], way.from[1]);
      drawTurn(out, way);
      out.close();
    }
  }
}

function addOffset(pieces: readonly Piece[], distance: number, options: OffsetOptions, out: PathBuilder): void {
  let begun = false;
  const goTo = (p: Point): void => {
    if (begun) out.lineTo(p[0], p[1]);
    else out.moveTo(p[0], p[1]);
    begun = true;
  };
  pieces.forEach((piece, i) => {
    const after = pieces[(i + 1) % pieces.length]!;
    const at = moved(piece, distance);
    const corner = endOf(piece);
    const [n1, n2] = [rightOf(piece, 1), rightOf(after, 0)];
    const end: Point = [corner[0] + n1[0] * distance, corner[1] + n1[1] * distance];
    const next: Point = [corner[0] + n2[0] * distance, corner[1] + n2[1] * distance];
    if (at) {
      goTo(startOf(at));
      drawTurn(out, at);
    } else goTo(end);
    const turn = Math.atan2(n1[0] * n2[1] - n1[1] * n2[0], n1[0] * n2[0] + n1[1] * n2[1]);
    if (Math.abs(turn) < AT_END) return;
    const back = Math.abs(turn) > Math.PI - AT_END;
    if (turn * distance < 0 && !back) {
      // The inner side of a corner: by way of the corner itself, so that what lies too near is run round backwards.
      goTo(corner);
      goTo(next);
      return;
    }
    if (options.join === 'round') {
      const sweep = back ? Math.sign(distance) * Math.PI : turn;
      const start = Math.atan2(end[1] - corner[1], end[0] - corner[0]);
      const r = Math.abs(distance);
      drawTurn(out, {
        kind: 'arc',
        cx: corner[0],
        cy: corner[1],
        rx: r,
        ry: r,
        rotation: 0,
        start,
        sweep,
        from: end,
        to: next,
      });
      return;
    }
    const reach = 1 / Math.cos(turn / 2);
    if (options.join === 'mitre' && !back && reach <= (options.mitreLimit ?? MITRE_LIMIT)) {
      const k = (distance * reach) / Math.hypot(n1[0] + n2[0], n1[1] + n2[1]);
      goTo([corner[0] + (n1[0] + n2[0]) * k, corner[1] + (n1[1] + n2[1]) * k]);
    }
    goTo(next);
  });
  out.close();
  for (const piece of pieces) {
    if (piece.kind !== 'arc' || piece.rx + Math.sign(piece.sweep) * distance >= 0) continue;
    addSectors(piece, moved(piece, distance), distance, out);
  }
}

/** Draws a piece; an arc of half a turn or more in two, so that its ends say which way it runs. */
function drawTurn(out: PathBuilder, piece: Piece): void {
  if (piece.kind === 'bezier' || Math.abs(piece.sweep) < 0.9 * Math.PI) {
    drawPiece(out, piece);
    return;
  }
  const half = pointAt(piece, 0.5);
  drawPiece(out, { ...piece, sweep: piece.sweep / 2, to: half });
  drawPiece(out, { ...piece, start: piece.start + piece.sweep / 2, sweep: piece.sweep / 2, from: half });
}
