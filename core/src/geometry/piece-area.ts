import type { Piece } from './path-pieces.js';
import { startOf } from './path-pieces.js';

/**
 * The area that closed pieces run round, positive anticlockwise: by Green's theorem, exact for lines, elliptical arcs and
 * Béziers up to the third degree. Worked out about their first point, so that nothing is lost far from the origin.
 */
export function areaOfPieces(pieces: readonly Piece[]): number {
  if (pieces.length === 0) return 0;
  const [ox, oy] = startOf(pieces[0]!);
  let twice = 0;
  for (const p of pieces) twice += p.kind === 'arc' ? ofArc(p, ox, oy) : ofBezier(p.p, ox, oy);
  return twice / 2;
}

/** ∫ x dy − y dx along an elliptical arc about a point: ab·sweep for the arc, and the centre crossed with the chord. */
function ofArc(p: Extract<Piece, { kind: 'arc' }>, ox: number, oy: number): number {
  const [cx, cy] = [p.cx - ox, p.cy - oy];
  const [dx, dy] = [p.to[0] - p.from[0], p.to[1] - p.from[1]];
  return p.rx * p.ry * p.sweep + cx * dy - cy * dx;
}

function ofBezier(p: readonly number[], ox: number, oy: number): number {
  const x = (i: number): number => p[2 * i]! - ox;
  const y = (i: number): number => p[2 * i + 1]! - oy;
  const cross = (i: number, j: number): number => x(i) * y(j) - y(i) * x(j);
  if (p.length === 4) return cross(0, 1);
  // ∫ B×B′ of a quadratic is (2(P0×P1) + (P0×P2) + 2(P1×P2)) / 3.
  if (p.length === 6) return (2 * cross(0, 1) + cross(0, 2) + 2 * cross(1, 2)) / 3;
  return (6 * cross(0, 1) + 3 * cross(0, 2) + cross(0, 3) + 3 * cross(1, 2) + 3 * cross(1, 3) + 6 * cross(2, 3)) / 10;
}
