import { bulgeOf } from './arcs.js';
import { bulgePiece } from './bulge-piece.js';
import type { Piece } from './path-pieces.js';
import { endOf, startOf } from './path-pieces.js';
import { isSame } from './tolerance.js';

type Point = readonly [number, number];

/**
 * A piece with its ends put where they are said to be (`null`: where they are). The sweep of a circular arc stays, so that no
 * point of it moves further than the end that moved further; Béziers take the control point beside an end along.
 */
export function withEnds(piece: Piece, from: Point | null, to: Point | null): Piece {
  const [a, b] = [from ?? startOf(piece), to ?? endOf(piece)];
  const [was, old] = [startOf(piece), endOf(piece)];
  if (a[0] === was[0] && a[1] === was[1] && b[0] === old[0] && b[1] === old[1]) return piece;
  if (piece.kind === 'arc') {
    if (isSame(piece.rx, piece.ry)) return bulgePiece(a[0], a[1], b[0], b[1], bulgeOf(piece.sweep));
    return { ...piece, from: a, to: b };
  }
  const q = [...piece.p];
  const shift = (at: number, by: Point): void => {
    q[at]! += by[0];
    q[at + 1]! += by[1];
  };
  if (q.length === 8) {
    shift(2, [a[0] - was[0], a[1] - was[1]]);
    shift(4, [b[0] - old[0], b[1] - old[1]]);
  }
  [q[0], q[1]] = a;
  [q[q.length - 2], q[q.length - 1]] = b;
  return { kind: 'bezier', p: q };
}
