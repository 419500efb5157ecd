import Flatbush from 'flatbush';
import { Box2 } from '../box.js';
import type { Effort } from '../crossings.js';
import { FINENESS, TooIntricate, chordsOf, crossings, spend } from '../crossings.js';
import { withEnds } from '../moved-ends.js';
import { nearestOnPiece } from '../nearest-on-piece.js';
import type { Piece } from '../path-pieces.js';
import { endOf, partOf, pointAt, startOf } from '../path-pieces.js';
import { roughBox } from '../pieces-box.js';
import { PointTable } from '../point-table.js';
import { snapped } from '../snapped-points.js';
import { AT_END } from '../tolerance.js';

/** A run of pieces that takes part in an arrangement. */
export interface Strand {
  readonly pieces: readonly Piece[];
}

/** A stretch between two points of an arrangement that nothing crosses and nothing ends on. */
export interface ArrangedEdge {
  readonly a: number;
  readonly b: number;
  /** From point `a` to point `b`, its ends theirs to the last bit. */
  readonly piece: Piece;
  /** The strands that run along it, once for each time. */
  readonly strands: readonly number[];
  /** Where it was cut from: a number of the piece it is part of, and the parameters there. */
  readonly source: number;
  readonly t0: number;
  readonly t1: number;
}

/** Strands cut at all their crossings and T-joints, with shared points and edges. */
export interface Arrangement {
  readonly xs: readonly number[];
  readonly ys: readonly number[];
  readonly edges: readonly ArrangedEdge[];
  /** Whether a point was an end of a piece, rather than come about by cutting. */
  readonly corner: readonly boolean[];
  /** The widest way that a point moved. */
  readonly moved: number;
}

/** So often what was cut is cut again: ends that were brought together can cross what they did not before. */
const ROUNDS = 6;

/**
 * Cuts strands to each other. Ends within `within` of each other become one point (that of which most edges end there), an edge
 * goes through every point that lies so near it, two edges between the same points that lie so near each other are one.
 * Throws {@link TooIntricate} where strands cross more often than the effort allows, or do not come to rest.
 */
export function arrange(strands: readonly Strand[], within: number, effort: Effort): Arrangement {
  const made = new Arranging(within, effort);
  made.take(strands);
  made.throughPoints();
  made.shared();
  for (let round = 0; ; round++) {
    if (!made.crossed()) break;
    if (round === ROUNDS) throw new TooIntricate('outlines cross each other again and again within the bound');
    made.throughPoints();
    made.shared();
  }
  return { xs: made.xs, ys: made.ys, edges: made.edges, corner: made.corner, moved: made.moved };
}

interface Cut {
  t: number;
  id: number;
}

class Arranging {
  readonly xs: number[] = [];
  readonly ys: number[] = [];
  readonly corner: boolean[] = [];
  edges: ArrangedEdge[] = [];
  moved = 0;
  private readonly cells = new Map<string, number[]>();
  private readonly cell: number;

  constructor(
    private readonly within: number,
    private readonly effort: Effort,
  ) {
    this.cell = 2 * within;
  }

  private at(id: number): readonly [number, number] {
    return [this.xs[id]!, this.ys[id]!];
  }

  private add(x: number, y: number, corner: boolean): number {
    const id = this.xs.push(x) - 1;
    this.ys.push(y);
    this.corner.push(corner);
    const key = `${Math.floor(x / this.cell)},${Math.floor(y / this.cell)}`;
    const list = this.cells.get(key);
    if (list) list.push(id);
    else this.cells.set(key, [id]);
    return id;
  }

  /** The nearest point within the bound of a place, or a new one there. */
  private pointNear(x: number, y: number): number {
    let [best, least] = [-1, this.within * (1 + AT_END)];
    const [cx, cy] = [Math.floor(x / this.cell), Math.floor(y / this.cell)];
    for (let i = cx - 1; i <= cx + 1; i++)
      for (let j = cy - 1; j <= cy + 1; j++)
        for (const id of this.cells.get(`${i},${j}`) ?? []) {
          const away = Math.hypot(this.xs[id]! - x, this.ys[id]! - y);
          if (away <= least) [best, least] = [id, away];
        }
    return best >= 0 ? best : this.add(x, y, false);
  }

  /** Takes pieces in, their ends brought together. */
  take(strands: readonly Strand[]): void {
    const table = new PointTable(1024);
    const uses: number[] = [];
    const count = ([x, y]: readonly [number, number]): number => {
      const id = table.number(x, y);
      uses[id] = (uses[id] ?? 0) + 1;
      return id;
    };
    const ends = strands.map((s) => s.pieces.map((p) => [count(startOf(p)), count(endOf(p))] as const));
    const stands = snapped(table, uses, this.within);
    const own = new Map<number, number>();
    const pointOf = (id: number): number => {
      const to = stands[id]!;
      const [x, y] = [table.points[3 * to]!, table.points[3 * to + 1]!];
      this.moved = Math.max(this.moved, Math.hypot(table.points[3 * id]! - x, table.points[3 * id + 1]! - y));
      let made = own.get(to);
      if (made === undefined) own.set(to, (made = this.add(x, y, true)));
      return made;
    };
    let source = 0;
    strands.forEach((s, i) => {
      s.pieces.forEach((p, k) => {
        const [a, b] = ends[i]![k]!.map(pointOf) as [number, number];
        const piece = withEnds(p, this.at(a), this.at(b));
        const [mx, my] = pointAt(p, 0.5);
        const base = { strands: [i], source: source++ };
        if (a !== b) this.edges.push({ ...base, a, b, piece, t0: 0, t1: 1 });
        else if (Math.hypot(mx - this.xs[a]!, my - this.ys[a]!) > this.within) {
          // One piece that comes back to where it began, in two.
          const m = this.add(...pointAt(piece, 0.5), true);
          this.edges.push({ ...base, a, b: m, piece: partOf(piece, 0, 0.5, this.at(a), this.at(m)), t0: 0, t1: 0.5 });
          this.edges.push({ ...base, a: m, b, piece: partOf(piece, 0.5, 1, this.at(m), this.at(b)), t0: 0.5, t1: 1 });
        }
      });
    });
  }

  /** Leads each edge through all points that lie within the bound of it. */
  throughPoints(): void {
    if (this.xs.length === 0) return;
    const index = new Flatbush(this.xs.length);
    for (let i = 0; i < this.xs.length; i++) index.add(this.xs[i]!, this.ys[i]!, this.xs[i]!, this.ys[i]!);
    index.finish();
    this.edges = this.edges.flatMap((e) => {
      const near = index.search(...roughBox([e.piece], this.within));
      spend(this.effort, near.length);
      const cuts: Cut[] = [];
      for (const id of near) {
        if (id === e.a || id === e.b) continue;
        const { t, away } = nearestOnPiece(e.piece, this.xs[id]!, this.ys[id]!);
        if (away > this.within * (1 + AT_END) || t <= 0 || t >= 1) continue;
        this.moved = Math.max(this.moved, away);
        cuts.push({ t, id });
      }
      return this.cut(e, cuts);
    });
  }

  private cut(e: ArrangedEdge, cuts: Cut[]): ArrangedEdge[] {
    if (cuts.length === 0) return [e];
    cuts.sort((p, q) => p.t - q.t);
    const out: ArrangedEdge[] = [];
    let [t, a] = [0, e.a];
    const upTo = (next: number, b: number): void => {
      // Twice through one point is once: what is between is shorter than the bound.
      if (a !== b) {
        const part = partOf(e.piece, t, next, pointAt(e.piece, t), pointAt(e.piece, next));
        const piece = withEnds(part, this.at(a), this.at(b));
        const way = e.t1 - e.t0;
        out.push({ ...e, a, b, piece, t0: e.t0 + way * t, t1: e.t0 + way * next });
      }
      [t, a] = [next, b];
    };
    for (const c of cuts) upTo(c.t, c.id);
    upTo(1, e.b);
    return out;
  }

  /** Makes one of edges between the same points that lie within the bound of each other. */
  shared(): void {
    const between = new Map<string, ArrangedEdge[]>();
    for (const e of this.edges) {
      const key = e.a < e.b ? `${e.a} ${e.b}` : `${e.b} ${e.a}`;
      const list = between.get(key);
      if (!list) {
        between.set(key, [e]);
        continue;
      }
      const same = list.findIndex((f) => this.isSame(f.piece, e.piece));
      if (same < 0) list.push(e);
      else list[same] = { ...list[same]!, strands: [...list[same]!.strands, ...e.strands] };
    }
    this.edges = [...between.values()].flat();
  }

  private isSame(p: Piece, q: Piece): boolean {
    return [0.25, 0.5, 0.75].every((t) => nearestOnPiece(p, ...pointAt(q, t)).away <= this.within * (1 + AT_END));
  }

  /** Cuts edges where they cross; `false` where none does any more. */
  crossed(): boolean {
    const pieces = this.edges.map((e) => e.piece);
    const box = new Box2();
    for (const p of pieces) box.add(...startOf(p));
    const size = box.diagonal || 1;
    const chords = chordsOf(pieces, Math.max(size * FINENESS, this.within / 8));
    if (!chords) return false;
    const [cuts] = crossings(pieces, chords, pieces, chords, size, this.effort);
    let any = false;
    this.edges = this.edges.flatMap((e, i) => {
      const own: Cut[] = [];
      for (const { t, at } of cuts[i]!) {
        if (t <= 0 || t >= 1) continue;
        const id = this.pointNear(at[0], at[1]);
        this.moved = Math.max(this.moved, Math.hypot(this.xs[id]! - at[0], this.ys[id]! - at[1]));
        if (id !== e.a && id !== e.b && !own.some((c) => c.id === id)) own.push({ t, id });
      }
      if (own.length > 0) any = true;
      return this.cut(e, own);
    });
    return any;
  }
}
