import type { Piece } from './path-pieces.js';
import { pointAt, tangentAt } from './path-pieces.js';
import { isSame } from './tolerance.js';

/** Where a free curve is first looked at. */
const SAMPLES = 32;

/** The parameter, from 0 to 1, at which a piece comes nearest to a place, and how far it is from there. */
export function nearestOnPiece(piece: Piece, x: number, y: number): { t: number; away: number } {
  const at = (t: number): { t: number; away: number } => {
    const [px, py] = pointAt(piece, t);
    return { t, away: Math.hypot(px - x, py - y) };
  };
  if (piece.kind === 'bezier' && piece.p.length === 4) {
    const [x0, y0, x1, y1] = piece.p as [number, number, number, number];
    const [dx, dy] = [x1 - x0, y1 - y0];
    const l = dx * dx + dy * dy;
    return at(l > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / l)) : 0);
  }
  if (piece.kind === 'arc' && isSame(piece.rx, piece.ry)) {
    const turn = (Math.atan2(y - piece.cy, x - piece.cx) - piece.start - piece.rotation) * Math.sign(piece.sweep);
    const t = (turn - Math.floor(turn / (2 * Math.PI)) * 2 * Math.PI) / Math.abs(piece.sweep);
    if (t <= 1) return at(t);
    const [a, b] = [at(0), at(1)];
    return a.away <= b.away ? a : b;
  }
  let best = at(0);
  for (let k = 1; k <= SAMPLES; k++) {
    const next = at(k / SAMPLES);
    if (next.away < best.away) best = next;
  }
  // Halving towards where the way to the place stands square on the curve.
  const ahead = (t: number): number => {
    const [[px, py], [dx, dy]] = [pointAt(piece, t), tangentAt(piece, t)];
    return (x - px) * dx + (y - py) * dy;
  };
  let [lo, hi] = [Math.max(0, best.t - 1 / SAMPLES), Math.min(1, best.t + 1 / SAMPLES)];
  for (let k = 0; k < 50; k++) {
    const m = (lo + hi) / 2;
    if (ahead(m) > 0) lo = m;
    else hi = m;
  }
  const settled = at((lo + hi) / 2);
  return settled.away < best.away ? settled : best;
}
