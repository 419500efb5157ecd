import { bulgeArc } from './arcs.js';
import type { Piece } from './path-pieces.js';

/** The edge of a polyline between two points, by its bulge: an arc, or straight where it has none. */
export function bulgePiece(x0: number, y0: number, x1: number, y1: number, bulge: number): Piece {
  const arc = bulgeArc(x0, y0, x1, y1, bulge);
  if (!arc) return { kind: 'bezier', p: [x0, y0, x1, y1] };
  const { cx, cy, radius, start, sweep } = arc;
  return { kind: 'arc', cx, cy, rx: radius, ry: radius, rotation: 0, start, sweep, from: [x0, y0], to: [x1, y1] };
}
