import Flatbush from 'flatbush';
import { Box2 } from './box.js';
import type { PathData } from './path.js';
import type { Piece } from './path-pieces.js';
import { chordsFor, endOf, partOf, piecesOf, pointAt, startOf, tangentAt } from './path-pieces.js';
import { AT_END, COINCIDENT, ROUNDING, UNSEEN, isParallel } from './tolerance.js';

/** How finely curves are cut into chords to look for crossings, as a part of the region's size. */
export const FINENESS = UNSEEN;

/** Points nearer than this part of the size count as one. */
export const SAME = COINCIDENT;

/**
 * How much may be done to cut shapes to each other, in chords looked at: shared by all regions that were given the same.
 * Outlines that cross everywhere (a star of thousands of points) would take the square of their length, or its cube.
 */
export interface Effort {
  left: number;
  /** The widest gap between outlines that was bridged, where they run along each other and are not quite the same. */
  bridged: number;
  /** Called now and then, and may throw to stop. */
  pause?(): void;
}

/** As much as takes a few seconds. */
export const newEffort = (): Effort => ({ left: 30_000_000, bridged: 0 });

/** Thrown when shapes cross each other too often for the effort that was given. */
export class TooIntricate extends Error {
  override name = 'TooIntricate';
}

let sincePause = 0;
/** So many chords are looked at between two pauses. */
const PAUSE = 200_000;

export function spend(effort: Effort, chords: number): void {
  if (effort.pause && (sincePause += chords) > PAUSE) {
    sincePause = 0;
    effort.pause();
  }
  if ((effort.left -= chords + 4) < 0) throw new TooIntricate('outlines cross too often to be cut');
}

/** The pieces of a path, none of which crosses itself: a cubic with a loop is cut within the loop. */
export function simplePieces(path: PathData, fill: boolean): { pieces: Piece[]; closed: boolean }[] {
  return piecesOf(path, fill).map(({ pieces, closed }) => ({
    closed,
    pieces: pieces.flatMap((piece) => {
      const t = withinLoop(piece);
      if (t === null) return [piece];
      const middle = pointAt(piece, t);
      return [partOf(piece, 0, t, startOf(piece), middle), partOf(piece, t, 1, middle, endOf(piece))];
    }),
  }));
}

/**
 * A parameter within the loop of a cubic that crosses itself, or `null`. P(s) = P(t) for s ≠ t means
 * a(s² + st + t²) + b(s + t) + c = 0 for the curve at³ + bt² + ct + d; its cross product with a gives s + t.
 */
function withinLoop(piece: Piece): number | null {
  if (piece.kind === 'arc' || piece.p.length !== 8) return null;
  const p = piece.p;
  const power = (k: 0 | 1): readonly [number, number, number] => [
    p[6 + k]! - 3 * p[4 + k]! + 3 * p[2 + k]! - p[k]!,
    3 * (p[4 + k]! - 2 * p[2 + k]! + p[k]!),
    3 * (p[2 + k]! - p[k]!),
  ];
  const [[ax, bx, cx], [ay, by, cy]] = [power(0), power(1)];
  const turn = bx * ay - by * ax;
  if (isParallel(ax, ay, bx, by)) return null;
  const sum = -(cx * ay - cy * ax) / turn;
  const product = sum * sum + ((bx * ax + by * ay) * sum + cx * ax + cy * ay) / (ax * ax + ay * ay);
  const apart = sum * sum - 4 * product;
  if (!(apart > 0)) return null;
  const [s, t] = [(sum - Math.sqrt(apart)) / 2, (sum + Math.sqrt(apart)) / 2];
  return s >= 0 && t <= 1 ? sum / 2 : null;
}

export interface Chords {
  /** x0, y0, x1, y1 per chord. */
  at: Float64Array;
  /** The piece a chord belongs to, and its parameters there. */
  piece: Int32Array;
  t: Float64Array;
  index: Flatbush;
  box: Box2;
}

export function chordsOf(pieces: readonly Piece[], tolerance: number): Chords | null {
  const at: number[] = [];
  const owner: number[] = [];
  const t: number[] = [];
  const box = new Box2();
  pieces.forEach((piece, i) => {
    const n = Math.min(2048, chordsFor(piece, tolerance));
    let [x, y] = startOf(piece);
    for (let k = 1; k <= n; k++) {
      const q = k === n ? endOf(piece) : pointAt(piece, k / n);
      at.push(x, y, q[0], q[1]);
      owner.push(i);
      t.push((k - 1) / n, k / n);
      [x, y] = q;
    }
  });
  if (owner.length === 0) return null;
  const index = new Flatbush(owner.length);
  for (let i = 0; i < at.length; i += 4) {
    const [x0, y0, x1, y1] = at.slice(i, i + 4);
    box.add(x0!, y0!);
    box.add(x1!, y1!);
    index.add(Math.min(x0!, x1!), Math.min(y0!, y1!), Math.max(x0!, x1!), Math.max(y0!, y1!));
  }
  index.finish();
  return { at: Float64Array.from(at), piece: Int32Array.from(owner), t: Float64Array.from(t), index, box };
}

/** How often the chords run round a point, counter-clockwise positive. */
export function windingOf(c: Chords, x: number, y: number, effort: Effort): number {
  if (x < c.box.minX || x > c.box.maxX || y < c.box.minY || y > c.box.maxY) return 0;
  let winding = 0;
  const found = c.index.search(x, y, c.box.maxX, y);
  spend(effort, found.length);
  for (const i of found) {
    const [x0, y0, x1, y1] = [c.at[4 * i], c.at[4 * i + 1], c.at[4 * i + 2], c.at[4 * i + 3]];
    if (y0! <= y === y1! <= y) continue;
    if (x0! + ((y - y0!) / (y1! - y0!)) * (x1! - x0!) > x) winding += y1! > y0! ? 1 : -1;
  }
  return winding;
}

export function nearest(c: Chords, x: number, y: number, reach: number): boolean {
  for (const i of c.index.search(x - reach, y - reach, x + reach, y + reach)) {
    const [x0, y0, x1, y1] = [c.at[4 * i], c.at[4 * i + 1], c.at[4 * i + 2], c.at[4 * i + 3]];
    const [dx, dy] = [x1! - x0!, y1! - y0!];
    const l2 = dx * dx + dy * dy;
    const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - x0!) * dx + (y - y0!) * dy) / l2));
    if (Math.hypot(x - x0! - t * dx, y - y0! - t * dy) <= reach) return true;
  }
  return false;
}

export type Cuts = { t: number; at: readonly [number, number] }[];

/** Finds where pieces of two lists cross and notes the parameter on each, with one common point. */
export function crossings(
  a: readonly Piece[],
  ca: Chords,
  b: readonly Piece[],
  cb: Chords,
  size: number,
  effort: Effort,
): [Cuts[], Cuts[]] {
  const onA: Cuts[] = a.map(() => []);
  const onB: Cuts[] = b.map(() => []);
  const same = SAME * size;
  const put = (i: number, t: number, j: number, s: number): void => {
    // Ends stay where they are: the other curve is cut at the end's own point.
    const at =
      t <= 0
        ? startOf(a[i]!)
        : t >= 1
          ? endOf(a[i]!)
          : s <= 0
            ? startOf(b[j]!)
            : s >= 1
              ? endOf(b[j]!)
              : pointAt(a[i]!, t);
    onA[i]!.push({ t, at });
    onB[j]!.push({ t: s, at });
  };
  for (let k = 0; k < ca.piece.length; k++) {
    const [x0, y0, x1, y1] = [ca.at[4 * k], ca.at[4 * k + 1], ca.at[4 * k + 2], ca.at[4 * k + 3]];
    const found = cb.index.search(
      Math.min(x0!, x1!) - same,
      Math.min(y0!, y1!) - same,
      Math.max(x0!, x1!) + same,
      Math.max(y0!, y1!) + same,
    );
    spend(effort, 40 * found.length);
    for (const l of found) {
      const [u0, v0, u1, v1] = [cb.at[4 * l], cb.at[4 * l + 1], cb.at[4 * l + 2], cb.at[4 * l + 3]];
      const [dx, dy, ex, ey] = [x1! - x0!, y1! - y0!, u1! - u0!, v1! - v0!];
      const cross = dx * ey - dy * ex;
      const la = Math.hypot(dx, dy);
      const lb = Math.hypot(ex, ey);
      const [i, j] = [ca.piece[k], cb.piece[l]];
      if (a === b && i === j) continue;
      const onPieceA = (p: number): number => ca.t[2 * k]! + p * (ca.t[2 * k + 1]! - ca.t[2 * k]!);
      const onPieceB = (q: number): number => cb.t[2 * l]! + q * (cb.t[2 * l + 1]! - cb.t[2 * l]!);
      if (Math.abs(cross) <= ROUNDING * la * lb) {
        // Along each other: the ends of one that lie on the other.
        const off = Math.abs((u0! - x0!) * dy - (v0! - y0!) * dx) / (la || 1);
        if (off > same) continue;
        for (const [px, py, q] of [
          [u0, v0, 0],
          [u1, v1, 1],
        ]) {
          const p = ((px! - x0!) * dx + (py! - y0!) * dy) / (la * la);
          if (p >= 0 && p <= 1) put(i!, snap(onPieceA(p)), j!, snap(onPieceB(q!)));
        }
        for (const [px, py, p] of [
          [x0, y0, 0],
          [x1, y1, 1],
        ]) {
          const q = ((px! - u0!) * ex + (py! - v0!) * ey) / (lb * lb);
          if (q >= 0 && q <= 1) put(i!, snap(onPieceA(p!)), j!, snap(onPieceB(q)));
        }
        continue;
      }
      const p = ((u0! - x0!) * ey - (v0! - y0!) * ex) / cross;
      const q = ((u0! - x0!) * dy - (v0! - y0!) * dx) / cross;
      const [ea, eb] = [same / la, same / lb];
      if (p < -ea || p > 1 + ea || q < -eb || q > 1 + eb) continue;
      const exact = refine(a[i!]!, onPieceA(p), b[j!]!, onPieceB(q));
      put(i!, snap(exact[0]), j!, snap(exact[1]));
    }
  }
  return [onA, onB];
}

const snap = (t: number): number => (t < AT_END ? 0 : t > 1 - AT_END ? 1 : t);

/** Newton's method on both parameters, from chords that cross to the curves' own crossing. */
function refine(a: Piece, t: number, b: Piece, s: number): [number, number] {
  if (a.kind === 'bezier' && a.p.length === 4 && b.kind === 'bezier' && b.p.length === 4) return [t, s];
  let [bt, bs] = [t, s];
  for (let k = 0; k < 8; k++) {
    const [p, q] = [pointAt(a, bt), pointAt(b, bs)];
    const [rx, ry] = [q[0] - p[0], q[1] - p[1]];
    const [da, db] = [tangentAt(a, bt), tangentAt(b, bs)];
    const det = da[0] * -db[1] + db[0] * da[1];
    if (Math.abs(det) < 1e-14 * Math.hypot(...da) * Math.hypot(...db)) break;
    const dt = (rx * -db[1] + db[0] * ry) / det;
    const ds = (da[0] * ry - da[1] * rx) / det;
    [bt, bs] = [bt + dt, bs + ds];
    if (Math.abs(dt) + Math.abs(ds) < 1e-15) break;
  }
  const near =
    Math.abs(bt - t) < 0.05 && Math.abs(bs - s) < 0.05 && bt > -1e-6 && bt < 1 + 1e-6 && bs > -1e-6 && bs < 1 + 1e-6;
  return near ? [Math.min(1, Math.max(0, bt)), Math.min(1, Math.max(0, bs))] : [t, s];
}

/** A piece cut at the given places. */
export function cutPiece(piece: Piece, cuts: Cuts, same: number): Piece[] {
  if (cuts.length === 0) return [piece];
  const sorted = [...cuts].sort((x, y) => x.t - y.t);
  const out: Piece[] = [];
  let t0 = 0;
  let from = startOf(piece);
  for (const c of sorted) {
    if (c.t <= 0 || c.t >= 1 || c.t - t0 < ROUNDING || Math.hypot(c.at[0] - from[0], c.at[1] - from[1]) <= same)
      continue;
    out.push(partOf(piece, t0, c.t, from, c.at));
    t0 = c.t;
    from = c.at;
  }
  const end = endOf(piece);
  if (out.length > 0 && Math.hypot(end[0] - from[0], end[1] - from[1]) <= same) {
    const last = out.pop()!;
    const first = startOf(last);
    out.push(last.kind === 'arc' ? { ...last, to: end } : { kind: 'bezier', p: [...last.p.slice(0, -2), ...end] });
    if (out.length === 1 && first === end) out.pop();
  } else out.push(partOf(piece, t0, 1, from, end));
  return out;
}
