import Flatbush from 'flatbush';
import { Box2 } from './box.js';
import type { PathData } from './path.js';
import { PathBuilder } from './path.js';
import type { Piece } from './path-pieces.js';
import { chordsFor, drawPiece, endOf, partOf, piecesOf, pointAt, reversed, startOf, tangentAt } from './path-pieces.js';
import { AT_END, COINCIDENT, ROUNDING, UNSEEN, isParallel } from './tolerance.js';

export type FillRule = 'nonzero' | 'evenodd';

/** Which windings count as inside; `positive` is what is run round counter-clockwise more often than the other way. */
export type WindingRule = FillRule | 'positive';

/** One shape of a region: a path and how it is filled. */
export interface RegionShape {
  path: PathData;
  rule: FillRule;
}

/** How finely curves are cut into chords to look for crossings, as a part of the region's size. */
const FINENESS = UNSEEN;
/** Points nearer than this part of the size count as one. */
const SAME = COINCIDENT;
/** How far to the side of a piece it is asked, as a part of the size. */
const ASIDE = 1e-5;
/** Where along a piece it is asked which side it lies on. */
const SAMPLES = [0.5, 0.237, 0.713];

/**
 * How much may be done to cut shapes to each other, in chords looked at: shared by all regions that were given the same.
 * Outlines that cross everywhere (a star of thousands of points) would take the square of their length, or its cube.
 */
export interface Effort {
  left: number;
}

/** As much as takes a few seconds. */
export const newEffort = (): Effort => ({ left: 30_000_000 });

/** Thrown when shapes cross each other too often for the effort that was given. */
export class TooIntricate extends Error {
  override name = 'TooIntricate';
}

function spend(effort: Effort, chords: number): void {
  if ((effort.left -= chords + 4) < 0) throw new TooIntricate('outlines cross too often to be cut');
}

/** The pieces of a path, none of which crosses itself: a cubic with a loop is cut within the loop. */
function simplePieces(path: PathData, fill: boolean): { pieces: Piece[]; closed: boolean }[] {
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

interface Chords {
  /** x0, y0, x1, y1 per chord. */
  at: Float64Array;
  /** The piece a chord belongs to, and its parameters there. */
  piece: Int32Array;
  t: Float64Array;
  index: Flatbush;
  box: Box2;
}

function chordsOf(pieces: readonly Piece[], tolerance: number): Chords | null {
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
function windingOf(c: Chords, x: number, y: number, effort: Effort): number {
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

function nearest(c: Chords, x: number, y: number, reach: number): boolean {
  for (const i of c.index.search(x - reach, y - reach, x + reach, y + reach)) {
    const [x0, y0, x1, y1] = [c.at[4 * i], c.at[4 * i + 1], c.at[4 * i + 2], c.at[4 * i + 3]];
    const [dx, dy] = [x1! - x0!, y1! - y0!];
    const l2 = dx * dx + dy * dy;
    const t = l2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - x0!) * dx + (y - y0!) * dy) / l2));
    if (Math.hypot(x - x0! - t * dx, y - y0! - t * dy) <= reach) return true;
  }
  return false;
}

type Cuts = { t: number; at: readonly [number, number] }[];

/** Finds where pieces of two lists cross and notes the parameter on each, with one common point. */
function crossings(
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
    const at = t <= 0 ? startOf(a[i]!) : t >= 1 ? endOf(a[i]!) : s <= 0 ? startOf(b[j]!) : s >= 1 ? endOf(b[j]!) : pointAt(a[i]!, t); // prettier-ignore
    onA[i]!.push({ t, at });
    onB[j]!.push({ t: s, at });
  };
  for (let k = 0; k < ca.piece.length; k++) {
    const [x0, y0, x1, y1] = [ca.at[4 * k], ca.at[4 * k + 1], ca.at[4 * k + 2], ca.at[4 * k + 3]];
    const found = cb.index.search(Math.min(x0!, x1!) - same, Math.min(y0!, y1!) - same, Math.max(x0!, x1!) + same, Math.max(y0!, y1!) + same); // prettier-ignore
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
        for (const [px, py, q] of [[u0, v0, 0], [u1, v1, 1]]) {
          const p = ((px! - x0!) * dx + (py! - y0!) * dy) / (la * la);
          if (p >= 0 && p <= 1) put(i!, snap(onPieceA(p)), j!, snap(onPieceB(q!)));
        } // prettier-ignore
        for (const [px, py, p] of [[x0, y0, 0], [x1, y1, 1]]) {
          const q = ((px! - u0!) * ex + (py! - v0!) * ey) / (lb * lb);
          if (q >= 0 && q <= 1) put(i!, snap(onPieceA(p!)), j!, snap(onPieceB(q)));
        } // prettier-ignore
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
  const near = Math.abs(bt - t) < 0.05 && Math.abs(bs - s) < 0.05 && bt > -1e-6 && bt < 1 + 1e-6 && bs > -1e-6 && bs < 1 + 1e-6; // prettier-ignore
  return near ? [Math.min(1, Math.max(0, bt)), Math.min(1, Math.max(0, bs))] : [t, s];
}

/** A piece cut at the given places. */
function cutPiece(piece: Piece, cuts: Cuts, same: number): Piece[] {
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

/** A union of filled shapes, asked where it holds a point. */
class Cover {
  readonly box = new Box2();
  private readonly shapes: { chords: Chords; rule: WindingRule }[] = [];

  constructor(
    parts: readonly { rule: WindingRule; pieces: readonly Piece[] }[],
    tolerance: number,
    private readonly effort: Effort,
  ) {
    for (const { rule, pieces } of parts) {
      const chords = chordsOf(pieces, tolerance);
      if (!chords) continue;
      this.shapes.push({ chords, rule });
      this.box.addBox(chords.box);
    }
  }

  contains(x: number, y: number): boolean {
    return this.shapes.some(({ chords, rule }) => {
      const w = windingOf(chords, x, y, this.effort);
      return rule === 'positive' ? w > 0 : rule === 'nonzero' ? w !== 0 : w % 2 !== 0;
    });
  }
}

/** What {@link borderOf} found. */
interface Border {
  /** Each with the inside on its left, as the coordinates count, y upwards. */
  pieces: Piece[];
  covers: Cover[];
  box: Box2;
  tolerance: number;
}

/**
 * The boundary of an area made of several covers, of which `inside` says whether a point belongs to it by which of them
 * hold it. Every outline is cut where it meets another or itself; what has the area on one side only is boundary.
 */
function borderOf(
  groups: readonly (readonly { path: PathData; rule: WindingRule }[])[],
  inside: (within: readonly boolean[]) => boolean,
  effort: Effort,
): Border {
  spend(effort, 0);
  const parts = groups.map((shapes) =>
    shapes.map((s) => ({ rule: s.rule, pieces: simplePieces(s.path, true).flatMap((p) => p.pieces) })),
  );
  const all = parts.flatMap((group) => group.flatMap((p) => p.pieces));
  const rough = new Box2();
  for (const p of all) rough.add(...startOf(p));
  const tolerance = (rough.diagonal || 1) * FINENESS;
  const covers = parts.map((group) => new Cover(group, tolerance, effort));
  const box = new Box2();
  for (const cover of covers) box.addBox(cover.box);
  const pieces: Piece[] = [];
  const whole = chordsOf(all, tolerance);
  if (whole) {
    const size = box.diagonal || 1;
    const [cuts] = crossings(all, whole, all, whole, size, effort);
    const step = ASIDE * size;
    const holds = (x: number, y: number): boolean => inside(covers.map((c) => c.contains(x, y)));
    const taken = new Set<string>();
    all.forEach((piece, i) => {
      const others = cuts[i]!.filter((c) => c.t > 0 && c.t < 1);
      for (const part of cutPiece(piece, others, SAME * size)) {
        const sides = SAMPLES.map((t) => besides(part, t, step, holds));
        const most = (side: 0 | 1): boolean => sides.filter((s) => s[side]).length * 2 > sides.length;
        const [left, right] = [most(0), most(1)];
        if (left === right) continue;
        const turned = left ? part : reversed(part);
        // Where outlines run along each other, the boundary runs there once.
        const same = placeKey(turned, 32 * SAME * size);
        if (taken.has(same)) continue;
        taken.add(same);
        pieces.push(turned);
      }
    });
  }
  return { pieces, covers, box, tolerance };
}

/** Where a piece begins, ends and passes its middle, told to a step. */
function placeKey(piece: Piece, step: number): string {
  return [startOf(piece), pointAt(piece, 0.5), endOf(piece)].map(([x, y]) => `${Math.round(x / step)},${Math.round(y / step)}`).join(' '); // prettier-ignore
}

/** Whether an area lies to the left and to the right of a point of a piece. */
function besides(
  piece: Piece,
  t: number,
  step: number,
  holds: (x: number, y: number) => boolean,
): readonly [boolean, boolean] {
  const [x, y] = pointAt(piece, t);
  const d = tangentAt(piece, t);
  const l = Math.hypot(d[0], d[1]) || 1;
  const [nx, ny] = [(-d[1] / l) * step, (d[0] / l) * step];
  return [holds(x + nx, y + ny), holds(x - nx, y - ny)];
}

/**
 * The outlines of an area made of several paths, of which `inside` says what belongs to it by which of them hold a
 * point: closed, without crossings, the area always on the left. Lines, arcs and Béziers stay parts of what they were.
 * Throws {@link TooIntricate} when they cross more often than the effort allows.
 */
export function outlinesOf(
  groups: readonly (readonly { path: PathData; rule: WindingRule }[])[],
  inside: (within: readonly boolean[]) => boolean,
  effort: Effort = newEffort(),
): PathData {
  const { pieces, box } = borderOf(groups, inside, effort);
  return joined(pieces, false, SAME * (box.diagonal || 1));
}

/**
 * An area that drawings are cut to: the union of filled shapes. Curves stay what they are: what is cut is a part of the
 * same line, arc or Bézier, and the area's own boundary closes what a fill lost.
 */
export class Region {
  readonly box: Box2;
  private readonly cover: Cover;
  private readonly border: readonly Piece[];
  private readonly borderChords: Chords | null;
  private readonly rectangle: boolean;

  constructor(
    shapes: readonly RegionShape[],
    private readonly effort: Effort = newEffort(),
  ) {
    const border = borderOf([shapes], ([within]) => within!, effort);
    this.border = border.pieces;
    this.cover = border.covers[0]!;
    this.box = border.box;
    this.rectangle = shapes.length === 1 && isRectangle(piecesOf(shapes[0]!.path, true).flatMap((p) => p.pieces));
    this.borderChords = chordsOf(this.border, border.tolerance);
  }

  private get size(): number {
    return this.box.diagonal || 1;
  }

  contains(x: number, y: number): boolean {
    return this.cover.contains(x, y);
  }

  /** Whether a box lies wholly inside (`in`), wholly outside (`out`), or may be crossed by the boundary. */
  side(box: Box2): 'in' | 'out' | 'across' {
    const b = this.box;
    if (b.empty || box.minX > b.maxX || box.maxX < b.minX || box.minY > b.maxY || box.maxY < b.minY) return 'out';
    const e = SAME * this.size;
    if (this.rectangle)
      return box.minX >= b.minX - e && box.maxX <= b.maxX + e && box.minY >= b.minY - e && box.maxY <= b.maxY + e
        ? 'in'
        : 'across';
    const { borderChords: c } = this;
    if (!c || c.index.search(box.minX, box.minY, box.maxX, box.maxY).length > 0) return 'across';
    return this.contains(box.minX, box.minY) ? 'in' : 'out';
  }

  /** The parts of a path's lines that lie inside, as open pieces joined where they follow each other. */
  cutLines(path: PathData): PathData {
    const out = new PathBuilder();
    for (const { pieces, closed } of simplePieces(path, false)) {
      const chords = chordsOf(pieces, this.size * FINENESS);
      if (!chords || !this.borderChords) continue;
      const [cuts] = crossings(pieces, chords, this.border, this.borderChords, this.size, this.effort);
      const runs: Piece[][] = [];
      let open: Piece[] | null = null;
      let everything = true;
      pieces.forEach((piece, i) => {
        for (const part of cutPiece(piece, cuts[i]!, SAME * this.size)) {
          const inside = this.holds(part) || this.onBorder(part);
          if (!inside) {
            open = null;
            everything = false;
          } else if (open) open.push(part);
          else runs.push((open = [part]));
        }
      });
      if (closed && !everything && runs.length > 1 && open === runs[runs.length - 1]) {
        const [sx, sy] = startOf(runs[0]![0]!);
        const [ex, ey] = endOf(runs[runs.length - 1]!.at(-1)!);
        if (sx === ex && sy === ey) runs[0]!.unshift(...runs.pop()!);
      }
      for (const run of runs) {
        out.moveTo(...startOf(run[0]!));
        for (const p of run) drawPiece(out, p);
        if (closed && everything) out.close();
      }
    }
    return out.build();
  }

  /** Whether a piece that the boundary does not cross lies inside: what most of its sample points say. */
  private holds(piece: Piece): boolean {
    return SAMPLES.filter((t) => this.contains(...pointAt(piece, t))).length * 2 > SAMPLES.length;
  }

  /** Whether it runs along the boundary. One point on it is not enough: curves may touch. */
  private onBorder(piece: Piece): boolean {
    const { borderChords } = this;
    return (
      borderChords !== null &&
      SAMPLES.every((t) => nearest(borderChords, ...pointAt(piece, t), 4 * FINENESS * this.size))
    );
  }

  /**
   * The part of a filled path that lies inside, as closed outlines to be filled by the same rule. What the area's own
   * boundary encloses is counted as often as the path winds round it.
   */
  cutFill(path: PathData, rule: FillRule): PathData {
    const pieces = simplePieces(path, true).flatMap((p) => p.pieces);
    const chords = chordsOf(pieces, this.size * FINENESS);
    if (!chords || !this.borderChords) return new PathBuilder().build();
    const [onPath, onBorder] = crossings(pieces, chords, this.border, this.borderChords, this.size, this.effort);
    const same = SAME * this.size;
    const kept: Piece[] = [];
    pieces.forEach((piece, i) => {
      for (const part of cutPiece(piece, onPath[i]!, same)) {
        // What runs along the boundary is taken from the boundary, once.
        if (!this.onBorder(part) && this.holds(part)) kept.push(part);
      }
    });
    const step = ASIDE * this.size;
    this.border.forEach((piece, i) => {
      for (const part of cutPiece(piece, onBorder[i]!, same)) {
        const windings = SAMPLES.map((t) => {
          const [x, y] = pointAt(part, t);
          const d = tangentAt(part, t);
          const l = Math.hypot(d[0], d[1]) || 1;
          return windingOf(chords, x - (d[1] / l) * step, y + (d[0] / l) * step, this.effort);
        });
        // The middle one of them: a single point may lie where curves touch.
        const w = windings.sort((a, b) => a - b)[1]!;
        const times = rule === 'evenodd' ? Math.abs(w % 2) : w;
        for (let k = 0; k < Math.min(16, Math.abs(times)); k++) kept.push(times > 0 ? part : reversed(part));
      }
    });
    return joined(kept, rule === 'evenodd', same);
  }
}

function isRectangle(pieces: readonly Piece[]): boolean {
  return (
    pieces.length === 4 &&
    pieces.every((p) => p.kind === 'bezier' && p.p.length === 4 && (p.p[0] === p.p[2] || p.p[1] === p.p[3]))
  );
}

/** Whether an outline of straight lines encloses nothing to speak of. */
function isFlat(loop: readonly Piece[], thickness: number): boolean {
  let [area, around] = [0, 0];
  for (const p of loop) {
    if (p.kind === 'arc' || p.p.length !== 4) return false;
    const [x0, y0, x1, y1] = p.p;
    area += (x0! * y1! - x1! * y0!) / 2;
    around += Math.hypot(x1! - x0!, y1! - y0!);
  }
  return Math.abs(area) <= thickness * around;
}

/** Joins pieces end to end into closed outlines; `anyWay` lets a piece be taken from its other end. */
function joined(pieces: readonly Piece[], anyWay: boolean, same: number): PathData {
  const step = Math.max(same, Number.MIN_VALUE) * 16;
  const key = (p: readonly [number, number], dx = 0, dy = 0): string => `${Math.round(p[0] / step) + dx},${Math.round(p[1] / step) + dy}`; // prettier-ignore
  const starts = new Map<string, { i: number; turned: boolean }[]>();
  const note = (p: readonly [number, number], i: number, turned: boolean): void => {
    const k = key(p);
    const list = starts.get(k);
    if (list) list.push({ i, turned });
    else starts.set(k, [{ i, turned }]);
  };
  pieces.forEach((p, i) => {
    note(startOf(p), i, false);
    if (anyWay) note(endOf(p), i, true);
  });
  const used = new Uint8Array(pieces.length);
  const next = (after: Piece): Piece | null => {
    const p = endOf(after);
    const [bx, by] = tangentAt(after, 1);
    let best: { i: number; turned: boolean } | null = null;
    let sharpest = -Infinity;
    for (const [dx, dy] of [[0, 0], [1, 0], [-1, 0], [0, 1], [0, -1], [1, 1], [-1, -1], [1, -1], [-1, 1]]) {
      for (const c of starts.get(key(p, dx, dy)) ?? []) {
        if (used[c.i]) continue;
        // Where outlines touch in a point, the turn that is most to the left stays beside the same area.
        const piece = pieces[c.i]!;
        const [ax, ay] = c.turned ? tangentAt(reversed(piece), 0) : tangentAt(piece, 0);
        const turn = Math.atan2(bx * ay - by * ax, bx * ax + by * ay);
        if (turn > sharpest) [best, sharpest] = [c, turn];
      }
      if (best) break;
    } // prettier-ignore
    if (!best) return null;
    used[best.i] = 1;
    return best.turned ? reversed(pieces[best.i]!) : pieces[best.i]!;
  };
  const out = new PathBuilder();
  for (let i = 0; i < pieces.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const begin = startOf(pieces[i]!);
    const loop: Piece[] = [];
    let piece: Piece | null = pieces[i]!;
    while (piece) {
      loop.push(piece);
      const end = endOf(piece);
      if (Math.hypot(end[0] - begin[0], end[1] - begin[1]) <= step) break;
      piece = next(piece);
    }
    if (isFlat(loop, step)) continue;
    out.moveTo(begin[0], begin[1]);
    for (const p of loop) drawPiece(out, p);
    out.close();
  }
  return out.build();
}
