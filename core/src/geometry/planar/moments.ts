import type { PathData } from '../path.js';
import type { Piece } from '../path-pieces.js';
import { piecesOf, pointAt, startOf, tangentAt } from '../path-pieces.js';
import { integrate } from '../quadrature.js';
import { isSame } from '../tolerance.js';

/**
 * What an area weighs, for density one: area, centroid, second moments about axes through the centroid. In units of the
 * path, squared for the area and to the fourth for the moments.
 */
export interface Moments {
  area: number;
  /** The centroid; the path's first point where there is no area. */
  x: number;
  y: number;
  /** ∫y² dA and ∫x² dA about the centroid. */
  ixx: number;
  iyy: number;
  /** ∫xy dA about the centroid. */
  ixy: number;
}

/** Nodes and weights of six-point Gauss-Legendre quadrature (Abramowitz and Stegun, table 25.4): exact to degree 11. */
const GAUSS6 = [
  [0.238619186083197, 0.467913934572691],
  [0.661209386466265, 0.360761573048139],
  [0.932469514203152, 0.17132449237917],
] as const;

/** Turns up to this (radians) are integrated by quadrature, whose error is then below a double's. */
const SMALL_TURN = Math.PI / 8;

/** ∮ x dy, ∮ x² dy, −∮ y² dx, ∮ x³ dy, −∮ y³ dx, ∮ x² y dy. */
type Sums = [number, number, number, number, number, number];

/**
 * Area, centroid and second moments of what closed outlines run round, by Green's theorem: outlines run counter-clockwise
 * count as area, clockwise ones take it away, as {@link outlinesOf} leaves them. Lines, arcs and Béziers up to the third
 * degree are exact but for rounding; worked out about the path's own first point, so that nothing is lost far from the origin.
 */
export function momentsOf(path: PathData): Moments {
  const sums: Sums = [0, 0, 0, 0, 0, 0];
  const outlines = piecesOf(path, true);
  const first = outlines[0]?.pieces[0];
  const [ox, oy] = first ? startOf(first) : [path.data[0] ?? 0, path.data[1] ?? 0];
  for (const { pieces } of outlines)
    for (const piece of pieces) {
      if (piece.kind === 'arc' && Math.abs(piece.sweep) > SMALL_TURN) addArc(piece, ox, oy, sums);
      else addSmooth(piece, ox, oy, sums);
    }
  const [area, xx, yy, xxx, yyy, xxy] = sums;
  if (area === 0) return { area: 0, x: ox, y: oy, ixx: 0, iyy: 0, ixy: 0 };
  const [x, y] = [xx / 2 / area, yy / 2 / area];
  return {
    area,
    x: ox + x,
    y: oy + y,
    // The parallel axis theorem, backwards.
    ixx: yyy / 3 - area * y * y,
    iyy: xxx / 3 - area * x * x,
    ixy: xxy / 2 - area * x * y,
  };
}

function addSmooth(piece: Piece, ox: number, oy: number, out: Sums): void {
  for (const [node, weight] of GAUSS6)
    for (const t of [(1 - node) / 2, (1 + node) / 2]) {
      const [px, py] = pointAt(piece, t);
      const [dx, dy] = tangentAt(piece, t);
      const [x, y, w] = [px - ox, py - oy, weight / 2];
      out[0] += w * x * dy;
      out[1] += w * x * x * dy;
      out[2] -= w * y * y * dx;
      out[3] += w * x * x * x * dy;
      out[4] -= w * y * y * y * dx;
      out[5] += w * x * x * y * dy;
    }
}

/** A polynomial in cos t and sin t: `p[i][j]` is the factor of cosⁱ sinʲ. */
type Trig = readonly (readonly number[])[];

const times = (a: Trig, b: Trig): Trig => {
  const out: number[][] = [];
  a.forEach((row, i) =>
    row.forEach((v, j) =>
      b.forEach((other, k) =>
        other.forEach((w, l) => {
          const to = (out[i + k] ??= []);
          to[j + l] = (to[j + l] ?? 0) + v * w;
        }),
      ),
    ),
  );
  return out.map((row) => Array.from(row, (v) => v ?? 0));
};

/** ∫cosⁱ sinʲ between two angles, by reduction (Abramowitz and Stegun, 4.3.127). */
function trigIntegral(i: number, j: number, from: number, to: number): number {
  const over = (f: (t: number) => number): number => f(to) - f(from);
  if (i >= 2)
    return (
      (over((t) => Math.cos(t) ** (i - 1) * Math.sin(t) ** (j + 1)) + (i - 1) * trigIntegral(i - 2, j, from, to)) /
      (i + j)
    );
  if (i === 1) return over((t) => Math.sin(t) ** (j + 1)) / (j + 1);
  if (j >= 2)
    return (-over((t) => Math.sin(t) ** (j - 1) * Math.cos(t)) + (j - 1) * trigIntegral(0, j - 2, from, to)) / j;
  return j === 1 ? -over(Math.cos) : to - from;
}

function addArc(a: Extract<Piece, { kind: 'arc' }>, ox: number, oy: number, out: Sums): void {
  const [c, s] = [Math.cos(a.rotation), Math.sin(a.rotation)];
  const linear = (constant: number, cos: number, sin: number): Trig => [
    [constant, sin],
    [cos, 0],
  ];
  const x = linear(a.cx - ox, a.rx * c, -a.ry * s);
  const y = linear(a.cy - oy, a.rx * s, a.ry * c);
  const dx = linear(0, -a.ry * s, -a.rx * c);
  const dy = linear(0, a.ry * c, -a.rx * s);
  const integral = (...factors: Trig[]): number => {
    let sum = 0;
    factors
      .reduce(times)
      .forEach((row, i) =>
        row.forEach((v, j) => v !== 0 && (sum += v * trigIntegral(i, j, a.start, a.start + a.sweep))),
      );
    return sum;
  };
  const xx = times(x, x);
  const yy = times(y, y);
  out[0] += integral(x, dy);
  out[1] += integral(xx, dy);
  out[2] -= integral(yy, dx);
  out[3] += integral(xx, x, dy);
  out[4] -= integral(yy, y, dx);
  out[5] += integral(xx, y, dy);
}

/** The length of all outlines of a path as they are drawn, not closed: lines and circular arcs exact, others by quadrature. */
export function lengthOfPath(path: PathData): number {
  return piecesOf(path, false).reduce((sum, { pieces }) => sum + lengthOfPieces(pieces), 0);
}

/** The length of pieces, one after the other. */
export const lengthOfPieces = (pieces: readonly Piece[]): number =>
  pieces.reduce((sum, p) => sum + lengthOfPiece(p), 0);

/** The length of a piece: exact for lines and circular arcs, by quadrature for others. */
export function lengthOfPiece(p: Piece): number {
  if (p.kind === 'arc' && isSame(p.rx, p.ry)) return p.rx * Math.abs(p.sweep);
  if (p.kind === 'bezier' && p.p.length === 4) return Math.hypot(p.p[2]! - p.p[0]!, p.p[3]! - p.p[1]!);
  return integrate((t) => Math.hypot(...tangentAt(p, t)), 0, 1);
}
