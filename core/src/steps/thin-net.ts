import Flatbush from 'flatbush';
import { PointTable } from '../geometry/point-table.js';
import { offStraight, thinChain } from '../geometry/thin-chain.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';

/** An outline or open line by the numbers of its points; `bent[i]`: from point i to the next it does not go straight. */
export interface Strand {
  ids: Int32Array;
  bent: Uint8Array;
  closed: boolean;
  /** It encloses something only with three points. */
  area: boolean;
}

/** Why a strand was left whole. */
export type LeftWhole = 'sliver' | 'crossing' | 'twice';

/**
 * Thins strands that share points: a stretch that several have is thinned once. Points stay at which a strand ends, at which
 * strands go on differently, beside edges that are not straight, at which one turns by more than a corner does, and those
 * that are marked. Thinning again what comes out takes nothing more away.
 */
export class ThinNet {
  readonly table: PointTable;
  readonly left = new Map<Strand, LeftWhole>();
  private readonly marked = new Set<number>();

  constructor(
    readonly strands: Strand[],
    table: PointTable,
    private readonly options: { bound: number; corner: number },
    private readonly work: Work,
  ) {
    this.table = table;
  }

  /** A point that stays. */
  mark(id: number): void {
    this.marked.add(id);
  }

  /** What of each strand stays: indices into its points. */
  run(): Int32Array[] {
    for (;;) {
      const kept = this.pass();
      const before = this.left.size;
      this.strands.forEach((s, i) => {
        if (this.left.has(s)) return;
        const why = this.fault(s, kept[i]!);
        if (!why) return;
        this.left.set(s, why);
        for (const id of s.ids) this.marked.add(id);
      });
      if (this.left.size === before) return kept;
    }
  }

  /** Thins until nothing more is taken away. */
  private pass(): Int32Array[] {
    let now: Int32Array[] = this.strands.map((s) => Int32Array.from(s.ids, (_, i) => i));
    for (let round = 0; round < 12; round++) {
      checkStop(this.work);
      const next = this.once(now);
      const same = next.every((kept, i) => kept.length === now[i]!.length);
      now = next;
      if (same) break;
    }
    return now;
  }

  private once(now: readonly Int32Array[]): Int32Array[] {
    const fixed = this.fixedPoints(now);
    const keep = new Uint8Array(this.table.count);
    this.strands.forEach((s, i) => {
      if (i % 256 === 0) checkStop(this.work);
      const ids = now[i]!.map((k) => s.ids[k]!);
      for (const chain of chainsOf(ids, s.closed, fixed, this.table.points))
        thinChain(this.table.points, chain, this.options.bound, keep);
    });
    return now.map((list, i) => list.filter((k) => keep[this.strands[i]!.ids[k]!] === 1));
  }

  private fixedPoints(now: readonly Int32Array[]): Uint8Array {
    const { count, points } = this.table;
    const fixed = new Uint8Array(count);
    const [low, high] = [new Int32Array(count).fill(-1), new Int32Array(count).fill(-1)];
    for (const id of this.marked) fixed[id] = 1;
    this.strands.forEach((s, i) => {
      const list = now[i]!;
      const n = list.length;
      for (let k = 0; k < n; k++) {
        const id = s.ids[list[k]!]!;
        const ends = !s.closed && (k === 0 || k === n - 1);
        const back = list[(k + n - 1) % n]!;
        if (ends || s.bent[list[k]!] || s.bent[back]) {
          fixed[id] = 1;
          continue;
        }
        const [a, b] = [s.ids[back]!, s.ids[list[(k + 1) % n]!]!];
        const [p, q] = a < b ? [a, b] : [b, a];
        if (low[id] === -1) [low[id], high[id]] = [p, q];
        else if (low[id] !== p || high[id] !== q) fixed[id] = 1;
        if (!fixed[id] && turns(points, a, id, b) > this.options.corner) fixed[id] = 1;
      }
    });
    return fixed;
  }

  /** What is wrong with a strand thinned so. */
  private fault(s: Strand, kept: Int32Array): LeftWhole | null {
    if (kept.length === s.ids.length) return null;
    const bends = kept.some((k) => s.bent[k]);
    if (s.closed && s.area && kept.length < 3 && !bends) return 'sliver';
    if (this.offOf(s, kept).off > this.options.bound * (1 + 1e-9)) return 'twice';
    if (
      crosses(this.table.points, s, kept) &&
      !crosses(
        this.table.points,
        s,
        Int32Array.from(s.ids, (_, i) => i),
      )
    )
      return 'crossing';
    return null;
  }

  /** How far the points that go lie from the edges that go past them, at most. */
  offOf(s: Strand, kept: Int32Array): { off: number; at: number } {
    const chain = s.closed ? Int32Array.of(...turned(s.ids, kept[0] ?? 0)) : s.ids;
    const first = kept[0] ?? 0;
    let worst = { off: 0, at: s.ids[first] ?? 0 };
    for (let k = 0; k + 1 < kept.length + (s.closed ? 1 : 0); k++) {
      const from = kept[k]! - (s.closed ? first : 0);
      const to = k + 1 < kept.length ? kept[k + 1]! - (s.closed ? first : 0) : s.ids.length;
      if (to - from < 2) continue;
      const one = offStraight(this.table.points, chain, from, to);
      if (one.off > worst.off) worst = one;
    }
    return worst;
  }
}

/** The points of a closed strand from one of them on, and that one again. */
function* turned(ids: Int32Array, first: number): Generator<number> {
  for (let i = 0; i <= ids.length; i++) yield ids[(first + i) % ids.length]!;
}

/** By how much one turns at a point (radians). */
function turns(p: Float64Array, a: number, b: number, c: number): number {
  const u = [p[3 * b]! - p[3 * a]!, p[3 * b + 1]! - p[3 * a + 1]!, p[3 * b + 2]! - p[3 * a + 2]!];
  const v = [p[3 * c]! - p[3 * b]!, p[3 * c + 1]! - p[3 * b + 1]!, p[3 * c + 2]! - p[3 * b + 2]!];
  const dot = u[0]! * v[0]! + u[1]! * v[1]! + u[2]! * v[2]!;
  const cross = Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!);
  return Math.atan2(cross, dot);
}

/** The stretches of a strand between points that stay, each in the one direction in which all who have it take it. */
function chainsOf(ids: Int32Array, closed: boolean, fixed: Uint8Array, points: Float64Array): Int32Array[] {
  const n = ids.length;
  if (n < 2) return [ids];
  const stops: number[] = [];
  for (let i = 0; i < n; i++) if (fixed[ids[i]!]) stops.push(i);
  if (!closed) return pairs(stops).map(([a, b]) => oneWay(ids.slice(a, b + 1), points));
  if (stops.length === 0) stops.push(...anchors(ids, points));
  const around = [...stops, stops[0]! + n];
  return pairs(around).map(([a, b]) =>
    oneWay(
      Int32Array.from({ length: b - a + 1 }, (_, i) => ids[(a + i) % n]!),
      points,
    ),
  );
}

const pairs = (list: readonly number[]): [number, number][] => list.slice(1).map((b, i) => [list[i]!, b]);

/** Where a ring without any point that stays begins: its lowest, then leftmost, and the one farthest from that. */
function anchors(ids: Int32Array, p: Float64Array): number[] {
  let first = 0;
  for (let i = 1; i < ids.length; i++) if (isBefore(p, ids[i]!, ids[first]!)) first = i;
  const a = 3 * ids[first]!;
  let far = first;
  let most = 0;
  for (let i = 0; i < ids.length; i++) {
    const b = 3 * ids[i]!;
    const d = (p[b]! - p[a]!) ** 2 + (p[b + 1]! - p[a + 1]!) ** 2 + (p[b + 2]! - p[a + 2]!) ** 2;
    if (d > most || (d === most && d > 0 && isBefore(p, ids[i]!, ids[far]!))) {
      most = d;
      far = i;
    }
  }
  return far === first ? [first] : [Math.min(first, far), Math.max(first, far)];
}

const isBefore = (p: Float64Array, a: number, b: number): boolean =>
  p[3 * a + 1]! !== p[3 * b + 1]!
    ? p[3 * a + 1]! < p[3 * b + 1]!
    : p[3 * a]! !== p[3 * b]!
      ? p[3 * a]! < p[3 * b]!
      : p[3 * a + 2]! < p[3 * b + 2]!;

function oneWay(chain: Int32Array, points: Float64Array): Int32Array {
  for (let i = 0, j = chain.length - 1; i < j; i++, j--) {
    if (chain[i] === chain[j]) continue;
    return isBefore(points, chain[i]!, chain[j]!) ? chain : chain.reverse();
  }
  return chain;
}

/** Whether the straight edges of a strand cross each other away from their common points. */
function crosses(p: Float64Array, s: Strand, kept: Int32Array): boolean {
  const n = kept.length;
  const edges: number[] = [];
  for (let k = 0; k + 1 < n + (s.closed ? 1 : 0); k++)
    if (!s.bent[kept[k]!]) edges.push(s.ids[kept[k]!]!, s.ids[kept[(k + 1) % n]!]!);
  const m = edges.length / 2;
  if (m < 3) return false;
  const index = new Flatbush(m);
  const box = (e: number): [number, number, number, number] => {
    const [a, b] = [3 * edges[2 * e]!, 3 * edges[2 * e + 1]!];
    return [
      Math.min(p[a]!, p[b]!),
      Math.min(p[a + 1]!, p[b + 1]!),
      Math.max(p[a]!, p[b]!),
      Math.max(p[a + 1]!, p[b + 1]!),
    ];
  };
  for (let e = 0; e < m; e++) index.add(...box(e));
  index.finish();
  for (let e = 0; e < m; e++) {
    const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
    const hit = index.search(...box(e), (k) => {
      if (k <= e) return false;
      const [c, d] = [edges[2 * k]!, edges[2 * k + 1]!];
      if (a === c || a === d || b === c || b === d) return false;
      return side(p, a, b, c) * side(p, a, b, d) < 0 && side(p, c, d, a) * side(p, c, d, b) < 0;
    });
    if (hit.length > 0) return true;
  }
  return false;
}

const side = (p: Float64Array, a: number, b: number, c: number): number =>
  Math.sign(
    (p[3 * b]! - p[3 * a]!) * (p[3 * c + 1]! - p[3 * a + 1]!) -
      (p[3 * b + 1]! - p[3 * a + 1]!) * (p[3 * c]! - p[3 * a]!),
  );
