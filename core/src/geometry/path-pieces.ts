import { chordCount } from './arcs.js';
import { cubicChordCount } from './beziers.js';
import type { EllipseArc2 } from './ellipses.js';
import { endpointToCentre } from './ellipses.js';
import type { PathData } from './path.js';
import { Cmd, PathBuilder, visitPath } from './path.js';

/** One curve of a path: a line, quadratic or cubic by its control points, or an elliptical arc by its centre. */
export type Piece =
  | { kind: 'bezier'; p: readonly number[] }
  | ({ kind: 'arc'; from: readonly [number, number]; to: readonly [number, number] } & EllipseArc2);

/** The pieces of a path, one list per subpath; `fill` closes each as a fill does. Pieces without length are left out. */
export function piecesOf(path: PathData, fill: boolean): { pieces: Piece[]; closed: boolean }[] {
  const out: { pieces: Piece[]; closed: boolean }[] = [];
  let now: Piece[] = [];
  let closed = false;
  let [sx, sy, ex, ey] = [0, 0, 0, 0];
  const line = (x0: number, y0: number, x1: number, y1: number): void => {
    if (x0 !== x1 || y0 !== y1) now.push({ kind: 'bezier', p: [x0, y0, x1, y1] });
  };
  const flush = (): void => {
    if (fill && !closed) line(ex, ey, sx, sy);
    if (now.length > 0) out.push({ pieces: now, closed: closed || fill });
    now = [];
    closed = false;
  };
  visitPath(path, {
    move: (x, y) => {
      flush();
      [sx, sy, ex, ey] = [x, y, x, y];
    },
    piece: (cmd, x0, y0, d, i) => {
      if (closed) {
        flush();
        [sx, sy] = [x0, y0];
      }
      if (cmd === Cmd.Line) line(x0, y0, d[i]!, d[i + 1]!);
      else if (cmd === Cmd.Quad || cmd === Cmd.Cubic) {
        const n = cmd === Cmd.Quad ? 4 : 6;
        const p = [x0, y0, ...d.subarray(i, i + n)];
        if (p.some((v, k) => v !== p[k & 1])) now.push({ kind: 'bezier', p });
      } else {
        const [x1, y1] = [d[i + 5], d[i + 6]];
        const a = endpointToCentre(x0, y0, d[i]!, d[i + 1]!, d[i + 2]!, d[i + 3]! !== 0, d[i + 4]! !== 0, x1!, y1!);
        if (a) now.push({ kind: 'arc', ...a, from: [x0, y0], to: [x1!, y1!] });
        else line(x0, y0, x1!, y1!);
      }
      const end = cmd === Cmd.Line ? 0 : cmd === Cmd.Quad ? 2 : cmd === Cmd.Cubic ? 4 : 5;
      [ex, ey] = [d[i + end]!, d[i + end + 1]!];
    },
    close: (x0, y0, x1, y1) => {
      line(x0, y0, x1, y1);
      closed = true;
      [ex, ey] = [x1, y1];
    },
  });
  flush();
  return out;
}

export const startOf = (p: Piece): readonly [number, number] => (p.kind === 'arc' ? p.from : [p.p[0]!, p.p[1]!]);
export const endOf = (p: Piece): readonly [number, number] =>
  p.kind === 'arc' ? p.to : [p.p[p.p.length - 2]!, p.p[p.p.length - 1]!];

/** The point of a piece at `t` from 0 to 1. */
export function pointAt(piece: Piece, t: number): [number, number] {
  if (piece.kind === 'arc') {
    const a = piece.start + piece.sweep * t;
    const [u, v] = [piece.rx * Math.cos(a), piece.ry * Math.sin(a)];
    const [c, s] = [Math.cos(piece.rotation), Math.sin(piece.rotation)];
    return [piece.cx + u * c - v * s, piece.cy + u * s + v * c];
  }
  const q = [...piece.p];
  for (let n = q.length - 2; n > 0; n -= 2) for (let k = 0; k < n; k++) q[k]! += (q[k + 2]! - q[k]!) * t;
  return [q[0]!, q[1]!];
}

/** The derivative of a piece by `t`. */
export function tangentAt(piece: Piece, t: number): [number, number] {
  if (piece.kind === 'arc') {
    const a = piece.start + piece.sweep * t;
    const [u, v] = [-piece.rx * Math.sin(a) * piece.sweep, piece.ry * Math.cos(a) * piece.sweep];
    const [c, s] = [Math.cos(piece.rotation), Math.sin(piece.rotation)];
    return [u * c - v * s, u * s + v * c];
  }
  const degree = piece.p.length / 2 - 1;
  const q = [...piece.p];
  for (let n = q.length - 2; n > 2; n -= 2) for (let k = 0; k < n; k++) q[k]! += (q[k + 2]! - q[k]!) * t;
  return [degree * (q[2]! - q[0]!), degree * (q[3]! - q[1]!)];
}

/**
 * The part of a piece between two parameters, on the same curve (de Casteljau for Béziers), with its ends put exactly
 * where `from` and `to` say.
 */
export function partOf(
  piece: Piece,
  t0: number,
  t1: number,
  from: readonly [number, number],
  to: readonly [number, number],
): Piece {
  if (piece.kind === 'arc') {
    return { ...piece, start: piece.start + piece.sweep * t0, sweep: piece.sweep * (t1 - t0), from, to };
  }
  const p = t1 < 1 ? halves(piece.p, t1)[0] : piece.p;
  const q = t0 > 0 ? [...halves(p, t0 / t1)[1]] : [...p];
  [q[0], q[1]] = from;
  [q[q.length - 2], q[q.length - 1]] = to;
  return { kind: 'bezier', p: q };
}

function halves(p: readonly number[], t: number): [number[], number[]] {
  const left: number[] = [];
  const right: number[] = [];
  let q = [...p];
  while (q.length > 0) {
    left.push(q[0]!, q[1]!);
    right.unshift(q[q.length - 2]!, q[q.length - 1]!);
    const next: number[] = [];
    for (let k = 0; k + 2 < q.length; k++) next.push(q[k]! + (q[k + 2]! - q[k]!) * t);
    q = next;
  }
  return [left, right];
}

export function reversed(piece: Piece): Piece {
  if (piece.kind === 'arc') {
    return { ...piece, start: piece.start + piece.sweep, sweep: -piece.sweep, from: piece.to, to: piece.from };
  }
  const q: number[] = [];
  for (let k = piece.p.length - 2; k >= 0; k -= 2) q.push(piece.p[k]!, piece.p[k + 1]!);
  return { kind: 'bezier', p: q };
}

/** How many chords stand for a piece within `tolerance`. */
export function chordsFor(piece: Piece, tolerance: number): number {
  if (piece.kind === 'arc') return chordCount(Math.max(piece.rx, piece.ry), piece.sweep, tolerance);
  const { p } = piece;
  if (p.length === 4) return 1;
  const k = 2 / 3;
  const c =
    p.length === 8
      ? p
      : [
          p[0],
          p[1],
          p[0]! + k * (p[2]! - p[0]!),
          p[1]! + k * (p[3]! - p[1]!),
          p[4]! + k * (p[2]! - p[4]!),
          p[5]! + k * (p[3]! - p[5]!),
          p[4],
          p[5],
        ];
  return cubicChordCount(c[0]!, c[1]!, c[2]!, c[3]!, c[4]!, c[5]!, c[6]!, c[7]!, tolerance);
}

/** Adds a piece to a path whose pen stands at the piece's start. */
export function drawPiece(builder: PathBuilder, piece: Piece): void {
  if (piece.kind === 'arc') {
    const { rx, ry, rotation, sweep, to } = piece;
    builder.arcTo(rx, ry, rotation, Math.abs(sweep) > Math.PI, sweep > 0, to[0], to[1]);
    return;
  }
  const { p } = piece;
  if (p.length === 4) builder.lineTo(p[2]!, p[3]!);
  else if (p.length === 6) builder.quadTo(p[2]!, p[3]!, p[4]!, p[5]!);
  else builder.cubicTo(p[2]!, p[3]!, p[4]!, p[5]!, p[6]!, p[7]!);
}
