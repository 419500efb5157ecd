import type { Box2 } from './box.js';
import type { Piece } from './path-pieces.js';
import { endOf, pointAt, startOf, tangentAt } from './path-pieces.js';
import type { Edge } from './warp-edge.js';

/** Art in a box stretched between two edges: S(u, v) = (1 − v)·L(u) + v·U(u), u and v from 0 to 1 across the box. */
export class Warp {
  private readonly width: number;
  private readonly height: number;

  constructor(
    private readonly box: Readonly<Box2>,
    readonly lower: Edge,
    readonly upper: Edge,
  ) {
    this.width = box.maxX - box.minX;
    this.height = box.maxY - box.minY;
  }

  uOf = (x: number): number => (this.width > 0 ? within01((x - this.box.minX) / this.width) : 0);
  private vOf = (y: number): number => (this.height > 0 ? within01((y - this.box.minY) / this.height) : 0);

  /** Where a place of the box comes to lie. */
  at(x: number, y: number): [number, number] {
    const [u, v] = [this.uOf(x), this.vOf(y)];
    const [l, p] = [this.lower.at(u), this.upper.at(u)];
    return [(1 - v) * l.x + v * p.x, (1 - v) * l.y + v * p.y];
  }

  /** What becomes of a direction at a place. */
  along(x: number, y: number, dx: number, dy: number): [number, number] {
    const [u, v] = [this.uOf(x), this.vOf(y)];
    const [l, p] = [this.lower.at(u), this.upper.at(u)];
    const du = this.width > 0 ? dx / this.width : 0;
    const dv = this.height > 0 ? dy / this.height : 0;
    return [((1 - v) * l.dx + v * p.dx) * du + (p.x - l.x) * dv, ((1 - v) * l.dy + v * p.dy) * du + (p.y - l.y) * dv];
  }

  /** How many times as far apart two near places come to lie at the most, looked for at so many by so many places. */
  stretch(cells: number): number {
    let most = 0;
    for (let i = 0; i <= cells; i++)
      for (let k = 0; k <= cells; k++) {
        const [x, y] = [this.box.minX + (this.width * i) / cells, this.box.minY + (this.height * k) / cells];
        const [a, b] = [this.along(x, y, 1, 0), this.along(x, y, 0, 1)];
        // The Frobenius norm is never less than the longest axis of what a circle becomes.
        most = Math.max(most, Math.hypot(...a, ...b));
      }
    return most;
  }

  /** How many of so many by so many cells lie the other way round than most, and whether most are turned over. */
  folds(cells: number): { folded: number; turnedOver: boolean } {
    let [plus, minus] = [0, 0];
    for (let i = 0; i < cells; i++) {
      const [l, p] = [this.lower.at((i + 0.5) / cells), this.upper.at((i + 0.5) / cells)];
      for (let k = 0; k < cells; k++) {
        const v = (k + 0.5) / cells;
        const [ux, uy] = [(1 - v) * l.dx + v * p.dx, (1 - v) * l.dy + v * p.dy];
        if (ux * (p.y - l.y) - uy * (p.x - l.x) >= 0) plus++;
        else minus++;
      }
    }
    return { folded: Math.min(plus, minus), turnedOver: minus > plus };
  }
}

const within01 = (v: number): number => Math.min(1, Math.max(0, v));

/** Where two edges cross, looked for on chords of each; `null` where they do not. Shared ends are no crossing. */
export function edgesCross(a: Edge, b: Edge): [number, number] | null {
  const N = 256;
  const points = (e: Edge): [number, number][] =>
    Array.from({ length: N + 1 }, (_, i) => {
      const { x, y } = e.at(i / N);
      return [x, y];
    });
  const [p, q] = [points(a), points(b)];
  for (let i = 0; i < N; i++)
    for (let k = 0; k < N; k++) {
      const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = [p[i]!, p[i + 1]!, q[k]!, q[k + 1]!];
      const d = (x1 - x0) * (y3 - y2) - (y1 - y0) * (x3 - x2);
      if (d === 0) continue;
      const s = ((x2 - x0) * (y3 - y2) - (y2 - y0) * (x3 - x2)) / d;
      const t = ((x2 - x0) * (y1 - y0) - (y2 - y0) * (x1 - x0)) / d;
      const [u, w] = [(i + s) / N, (k + t) / N];
      const isEnd = (v: number): boolean => v < 1e-6 || v > 1 - 1e-6;
      if (s >= 0 && s <= 1 && t >= 0 && t <= 1 && !(isEnd(u) && isEnd(w)))
        return [x0 + s * (x1 - x0), y0 + s * (y1 - y0)];
    }
  return null;
}

/** What is no further from straight than this part of the bound is a line. */
const FLAT = 0.1;

type Bezier = Extract<Piece, { kind: 'bezier' }>;

/** How often a span is halved at the most. */
const MOST_HALVINGS = 14;
/** A piece is cut where it crosses a corner of an edge; that is looked for between so many points. */
const LOOKS = 64;
/** Spread unevenly, so that no wave has its nodes on all of them. */
const PROBES = [0.07, 0.19, 0.31, 0.43, 0.5, 0.58, 0.69, 0.82, 0.94] as const;

/**
 * What a piece becomes: cubics with its ends, directions and lengths of both ends (Hermite), halved until the places looked at lie within
 * `bound` of where the warp puts them; one line where that is straight. Corners stay where they are: ends depend on places alone.
 */
export function warpedPiece(piece: Piece, warp: Warp, bound: number): { pieces: Piece[]; off: number } {
  const place = (t: number): readonly [number, number] =>
    t <= 0 ? startOf(piece) : t >= 1 ? endOf(piece) : pointAt(piece, t);
  const seen = (t: number): [number, number] => warp.at(...place(t));
  const way = (t: number): [number, number] => warp.along(...place(t), ...tangentAt(piece, t));
  const cuts = cutsOf(warp, place);
  // What takes a sliver of the edges sees them bend one way.
  const small =
    Math.abs(warp.uOf(endOf(piece)[0]) - warp.uOf(startOf(piece)[0])) <
    0.05 * Math.min(warp.lower.grain, warp.upper.grain);
  const pieces: Bezier[] = [];
  let off = 0;
  const isLine = (t0: number, t1: number, p0: [number, number], p1: [number, number]): boolean => {
    const straight = straightOff(t0, t1, p0, p1, seen, bound * FLAT, small ? 7 : 31);
    if (straight === null) return false;
    pieces.push({ kind: 'bezier', p: [...p0, ...p1] });
    off = Math.max(off, straight);
    return true;
  };
  const fit = (t0: number, t1: number, p0: [number, number], p1: [number, number], depth: number): void => {
    if (depth > 0 && isLine(t0, t1, p0, p1)) return;
    // Just inside, the directions are those of this side of a corner.
    const inset = (t1 - t0) * 1e-9;
    const h = (t1 - t0) / 3;
    const [d0, d1] = [way(t0 + inset), way(t1 - inset)];
    const p = [...p0, p0[0] + d0[0] * h, p0[1] + d0[1] * h, p1[0] - d1[0] * h, p1[1] - d1[1] * h, ...p1];
    const made: Bezier = { kind: 'bezier', p };
    let worst = 0;
    for (const k of PROBES) {
      const [a, b] = [seen(t0 + (t1 - t0) * k), pointAt(made, k)];
      worst = Math.max(worst, Math.hypot(a[0] - b[0], a[1] - b[1]));
    }
    if (worst <= bound * 0.8 || depth >= MOST_HALVINGS) {
      pieces.push(made);
      off = Math.max(off, worst);
      return;
    }
    const mid = (t0 + t1) / 2;
    const pm = seen(mid);
    fit(t0, mid, p0, pm, depth + 1);
    fit(mid, t1, pm, p1, depth + 1);
  };
  for (let i = 0; i + 1 < cuts.length; i++) {
    const [t0, t1] = [cuts[i]!, cuts[i + 1]!];
    const [p0, p1] = [seen(t0), seen(t1)];
    if (isLine(t0, t1, p0, p1)) continue;
    const spans = spansOf(piece, warp, place, t0, t1);
    let from = p0;
    for (let k = 0; k < spans; k++) {
      const to = k + 1 === spans ? p1 : seen(t0 + ((t1 - t0) * (k + 1)) / spans);
      fit(t0 + ((t1 - t0) * k) / spans, t0 + ((t1 - t0) * (k + 1)) / spans, from, to, 0);
      from = to;
    }
  }
  return { pieces: pieces.filter(({ p }) => p.some((v, i) => v !== p[i & 1])), off };
}

/** How far the way from one end to the other is from straight; `null` where that is more than `most`, or it turns back. */
function straightOff(
  t0: number,
  t1: number,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
  seen: (t: number) => [number, number],
  most: number,
  looks: number,
): number | null {
  const [dx, dy] = [bx - ax, by - ay];
  const l = Math.hypot(dx, dy);
  if (!(l > 0)) return null;
  // The middle says most.
  const [mx, my] = seen((t0 + t1) / 2);
  if (Math.abs((mx - ax) * dy - (my - ay) * dx) / l > most) return null;
  let [worst, last] = [0, 0];
  for (let i = 1; i <= looks; i++) {
    // Unevenly, as above.
    const [x, y] = seen(t0 + ((t1 - t0) * (i + 0.37 * Math.sin(i))) / (looks + 1));
    const along = ((x - ax) * dx + (y - ay) * dy) / l;
    if (along < last || along > l) return null;
    last = along;
    worst = Math.max(worst, Math.abs((x - ax) * dy - (y - ay) * dx) / l);
    if (worst > most) return null;
  }
  return worst;
}

/** Where a piece crosses the corners of the edges, its ends among them. */
function cutsOf(warp: Warp, place: (t: number) => readonly [number, number]): number[] {
  const breaks = [...warp.lower.breaks, ...warp.upper.breaks];
  const cuts = [0, 1];
  for (const b of breaks) {
    const over = (t: number): boolean => warp.uOf(place(t)[0]) > b;
    for (let i = 0; i < LOOKS; i++) {
      let [low, high] = [i / LOOKS, (i + 1) / LOOKS];
      const first = over(low);
      if (first === over(high)) continue;
      for (let k = 0; k < 50; k++) {
        const mid = (low + high) / 2;
        if (over(mid) === first) low = mid;
        else high = mid;
      }
      cuts.push((low + high) / 2);
    }
  }
  return [...new Set(cuts)].sort((a, b) => a - b);
}

/** Into how many parts a piece is cut to begin with: no more of an edge in one than its grain, no more of an arc than a quarter. */
function spansOf(
  piece: Piece,
  warp: Warp,
  place: (t: number) => readonly [number, number],
  t0: number,
  t1: number,
): number {
  const u = [0, 0.25, 0.5, 0.75, 1].map((k) => warp.uOf(place(t0 + (t1 - t0) * k)[0]));
  const wide = Math.max(...u) - Math.min(...u);
  const turns = piece.kind === 'arc' ? (Math.abs(piece.sweep) * (t1 - t0)) / (Math.PI / 2) : 0;
  const grain = Math.min(warp.lower.grain, warp.upper.grain);
  return Math.min(256, Math.max(1, Math.ceil(wide / grain - 1e-9), Math.ceil(turns - 1e-9)));
}
