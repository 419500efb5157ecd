import type { Effort } from '../crossings.js';
import { TooIntricate, newEffort } from '../crossings.js';
import { Joined } from '../joined.js';
import { withEnds } from '../moved-ends.js';
import type { Piece } from '../path-pieces.js';
import { partOf, pointAt } from '../path-pieces.js';
import type { ArrangedEdge, Arrangement } from './arrangement.js';
import { arrange } from './arrangement.js';
import type { Faces } from './faces.js';
import { cyclesOf, facesOf, halfPiece } from './faces.js';
import { areaOfPieces } from '../piece-area.js';
import { lengthOfPiece, lengthOfPieces } from './moments.js';

/** What regions are built from: a closed outline, or a loose curve that divides. Several runs of one owner are one outline with holes. */
export interface RegionSource {
  readonly owner: number;
  readonly closed: boolean;
  readonly pieces: readonly Piece[];
}

/** Whom an area belongs to that lies in several outlines: the later, the earlier, the smaller, or nobody: it is a region of its own. */
export type OverlapRule = 'upper' | 'lower' | 'smaller' | 'apart';

export interface RegionOptions {
  /** Points and edges so near each other are one; slivers so thin are given to a neighbour. */
  readonly within: number;
  readonly overlaps: OverlapRule;
  /** Whether an outline within another is a region, or a hole of it (and a region again within a hole). */
  readonly inner: 'regions' | 'holes';
}

/** One region: an outer outline, the area on its left, and the outlines of its holes, the area on theirs. */
export interface BuiltRegion {
  /** The closed outline it belongs to; `null` where loose curves alone hold it, or several outlines do. */
  readonly owner: number | null;
  /** All whose curves run along it, those first that run there longest. */
  readonly along: readonly number[];
  readonly outer: readonly Piece[];
  readonly holes: readonly (readonly Piece[])[];
  readonly area: number;
  readonly perimeter: number;
  readonly points: number;
  /** The places of its neighbours in the list: those it shares an edge with. */
  readonly neighbours: readonly number[];
  /** It lies in several outlines, and the rule leaves it apart. */
  readonly contested: boolean;
}

export interface BuiltRegions {
  readonly regions: readonly BuiltRegion[];
  /** What bounds nothing: ends that dangle, lines that lead from one outline to another. By owner. */
  readonly dangling: readonly { owner: number; piece: Piece }[];
  /** Edges that were given up: inside what has one owner, or beside slivers. */
  readonly dissolved: number;
  readonly slivers: number;
  /** Areas that lay in several outlines. */
  readonly overlaps: number;
  /** The widest way that a point moved. */
  readonly moved: number;
  /** Of everything as it was cut, before areas of one owner became one. */
  readonly counts: Faces['counts'];
}

/** Sets of owners of all faces together hold no more than this. */
const MOST_OWNERS = 5_000_000;

/**
 * Builds regions that share points and edges bit for bit. Throws {@link TooIntricate} where curves cross too often, and where what
 * was cut is not sound by Euler's formula.
 */
export function buildRegions(
  sources: readonly RegionSource[],
  o: RegionOptions,
  effort: Effort = newEffort(),
): BuiltRegions {
  const cut = arrange(sources, o.within, effort);
  const { edges } = cut;
  const faces = facesOf(edges);
  if (!faces.counts.sound) throw new TooIntricate('points, edges and faces do not add up');
  const owners = ownersOf(faces, edges, sources);
  const { labels, contested } = labelsOf(faces, edges, owners, sources, o);
  const lengths = edges.map((e) => lengthOfPiece(e.piece));
  const joined = new Joined(labels.length);
  const loose = edges.map((e) => e.strands.some((s) => !sources[s]!.closed));
  edges.forEach((_, i) => {
    const [f, g] = [faces.faceOf[2 * i]!, faces.faceOf[2 * i + 1]!];
    if (f >= 0 && f !== g && !loose[i] && labels[f] !== null && labels[f] === labels[g]) joined.unite(f, g);
  });
  const slivers = giveSlivers(faces, labels, lengths, joined, o.within);
  const isRegion = (f: number): boolean => f > 0 && labels[joined.root(f)] !== null;
  const inside = new Set(faces.loose);
  let dissolved = 0;
  const left: number[] = [];
  edges.forEach((_, i) => {
    if (inside.has(i)) return;
    const [f, g] = [faces.faceOf[2 * i]!, faces.faceOf[2 * i + 1]!];
    // What no region lies beside is the edge of nothing.
    if (joined.root(f) === joined.root(g) || (!isRegion(f) && !isRegion(g))) dissolved++;
    else left.push(i);
  });
  const kept = merged(cut, left, sources);
  return {
    regions: outlined(kept, faces, labels, contested, joined, sources),
    dangling: faces.loose.flatMap((i) =>
      edges[i]!.strands.slice(0, 1).map((s) => ({ owner: sources[s]!.owner, piece: edges[i]!.piece })),
    ),
    dissolved,
    slivers,
    overlaps: contested.size,
    moved: cut.moved,
    counts: faces.counts,
  };
}

/** Which closed outlines each face lies in: crossing an edge leads into or out of those that run along it. */
function ownersOf(
  { cycles, faces, faceOf }: Faces,
  edges: readonly ArrangedEdge[],
  sources: readonly RegionSource[],
): ReadonlySet<number>[] {
  const out: (ReadonlySet<number> | undefined)[] = new Array<ReadonlySet<number> | undefined>(faces.length);
  out[0] = new Set();
  const queue = [0];
  let held = 0;
  for (let n = 0; n < queue.length; n++) {
    const here = out[queue[n]!]!;
    for (const c of faces[queue[n]!]!)
      for (const h of cycles[c]!.halves) {
        const beyond = faceOf[h ^ 1]!;
        if (out[beyond]) continue;
        const there = new Set(here);
        for (const s of edges[h >> 1]!.strands) {
          const { closed, owner } = sources[s]!;
          if (!closed) continue;
          if (there.has(owner)) there.delete(owner);
          else there.add(owner);
        }
        if ((held += there.size) > MOST_OWNERS) throw new TooIntricate('outlines lie too deep in each other');
        out[beyond] = there;
        queue.push(beyond);
      }
  }
  return out.map((s) => s ?? new Set<number>());
}

/** What each face is part of: an owner, itself alone (numbers below zero), or nothing. */
function labelsOf(
  { cycles, faces }: Faces,
  edges: readonly ArrangedEdge[],
  owners: readonly ReadonlySet<number>[],
  sources: readonly RegionSource[],
  o: RegionOptions,
): { labels: (number | null)[]; contested: ReadonlySet<number> } {
  const areas = faces.map((list) => list.reduce((sum, c) => sum + cycles[c]!.area, 0));
  const own = new Map<number, { faces: number; area: number; with: Map<number, number> }>();
  owners.forEach((set, f) => {
    for (const a of set) {
      let known = own.get(a);
      if (!known) own.set(a, (known = { faces: 0, area: 0, with: new Map() }));
      known.faces++;
      known.area += areas[f]!;
      for (const b of set) if (b !== a) known.with.set(b, (known.with.get(b) ?? 0) + 1);
    }
  });
  // Wholly in the other: of two that are the same the later lies in the earlier.
  const liesIn = (a: number, b: number): boolean => {
    const [p, q] = [own.get(a)!, own.get(b)!];
    return p.with.get(b) === p.faces && (q.with.get(a) !== q.faces || a > b);
  };
  const contested = new Set<number>();
  const labels = faces.map((list, f): number | null => {
    if (f === 0) return null;
    const set = [...owners[f]!];
    if (set.length === 0) {
      const held = list.some((c) =>
        cycles[c]!.halves.some((h) => edges[h >> 1]!.strands.some((s) => !sources[s]!.closed)),
      );
      return held ? -f - 1 : null;
    }
    const innermost = set.filter((a) => !set.some((b) => b !== a && liesIn(b, a)));
    if (innermost.length === 1) return o.inner === 'holes' && set.length % 2 === 0 ? null : innermost[0]!;
    contested.add(f);
    switch (o.overlaps) {
      case 'upper':
        return Math.max(...innermost);
      case 'lower':
        return Math.min(...innermost);
      case 'smaller':
        return innermost.reduce((a, b) => (own.get(b)!.area < own.get(a)!.area ? b : a));
      case 'apart':
        return -f - 1;
    }
  });
  return { labels, contested };
}

/** Gives areas thinner than the bound to the neighbour they share most with; how many were given. */
function giveSlivers(
  { cycles, faces, faceOf }: Faces,
  labels: readonly (number | null)[],
  lengths: readonly number[],
  joined: Joined,
  within: number,
): number {
  interface Group {
    area: number;
    around: number;
    shared: Map<number, number>;
  }
  const groups = new Map<number, Group>();
  faces.forEach((list, f) => {
    if (f === 0) return;
    const own = joined.root(f);
    let group = groups.get(own);
    if (!group) groups.set(own, (group = { area: 0, around: 0, shared: new Map() }));
    for (const c of list) {
      group.area += cycles[c]!.area;
      for (const h of cycles[c]!.halves) {
        const beyond = joined.root(faceOf[h ^ 1]!);
        if (beyond === own) continue;
        const length = lengths[h >> 1]!;
        group.around += length;
        group.shared.set(beyond, (group.shared.get(beyond) ?? 0) + length);
      }
    }
  });
  const isThin = ({ area, around }: Group): boolean => 2 * area < within * around;
  let given = 0;
  for (const [own, group] of groups) {
    if (!isThin(group)) continue;
    const most = [...group.shared]
      .filter(([g]) => g > 0 && labels[g] !== null && !isThin(groups.get(g)!))
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])[0];
    if (!most) continue;
    joined.into(own, most[0]);
    given++;
  }
  return given;
}

/** Edges of which one goes on where the other ends, cut from one piece at a point that is no corner, as one again. */
function merged(cut: Arrangement, left: readonly number[], sources: readonly RegionSource[]): KeptEdge[] {
  const degree = new Map<number, number>();
  for (const i of left) for (const p of [cut.edges[i]!.a, cut.edges[i]!.b]) degree.set(p, (degree.get(p) ?? 0) + 1);
  const whole = new Map<number, Piece>();
  let n = 0;
  for (const s of sources) for (const p of s.pieces) whole.set(n++, p);
  const bySource = new Map<number, number[]>();
  for (const i of left) {
    const list = bySource.get(cut.edges[i]!.source);
    if (list) list.push(i);
    else bySource.set(cut.edges[i]!.source, [i]);
  }
  const out: KeptEdge[] = [];
  for (const [source, list] of bySource) {
    list.sort((a, b) => cut.edges[a]!.t0 - cut.edges[b]!.t0);
    for (let k = 0; k < list.length; k++) {
      const first = cut.edges[list[k]!]!;
      let last = first;
      const parts = [list[k]!];
      const strands = new Set(first.strands);
      while (k + 1 < list.length) {
        const next = cut.edges[list[k + 1]!]!;
        if (next.a !== last.b || degree.get(last.b) !== 2 || cut.corner[last.b]) break;
        parts.push(list[++k]!);
        for (const s of next.strands) strands.add(s);
        last = next;
      }
      const base = { a: first.a, b: last.b, half: 2 * parts[0]!, strands: [...strands] };
      if (parts.length === 1) {
        out.push({ ...base, piece: first.piece });
        continue;
      }
      const from = whole.get(source)!;
      const part = partOf(from, first.t0, last.t1, pointAt(from, first.t0), pointAt(from, last.t1));
      const piece = withEnds(part, [cut.xs[first.a]!, cut.ys[first.a]!], [cut.xs[last.b]!, cut.ys[last.b]!]);
      out.push({ ...base, piece });
    }
  }
  return out;
}

interface KeptEdge {
  readonly a: number;
  readonly b: number;
  readonly piece: Piece;
  /** The half-edge, before edges were joined, in its direction. */
  readonly half: number;
  readonly strands: readonly number[];
}

function outlined(
  edges: readonly KeptEdge[],
  { faceOf }: Faces,
  labels: readonly (number | null)[],
  overlapping: ReadonlySet<number>,
  joined: Joined,
  sources: readonly RegionSource[],
): BuiltRegion[] {
  const all = edges.map((_, i) => i);
  const faceAt = (h: number): number => joined.root(faceOf[h & 1 ? edges[h >> 1]!.half ^ 1 : edges[h >> 1]!.half]!);
  const rings = new Map<number, { outer: number[][]; holes: number[][] }>();
  for (const { halves, area } of cyclesOf(edges, all)) {
    const face = faceAt(halves[0]!);
    if (face === 0 || labels[face] === null) continue;
    let own = rings.get(face);
    if (!own) rings.set(face, (own = { outer: [], holes: [] }));
    (area > 0 ? own.outer : own.holes).push([...halves]);
  }
  // In the order of the outlines, then of what loose curves hold.
  const rank = (face: number): number => (labels[face]! >= 0 ? labels[face]! : sources.length - labels[face]!);
  const list = [...rings].filter(([, { outer }]) => outer.length === 1).sort(([a], [b]) => rank(a) - rank(b) || a - b);
  if (list.length < rings.size) throw new TooIntricate('an area came apart where areas were joined');
  const placeOf = new Map(list.map(([face], i) => [face, i]));
  return list.map(([face, { outer, holes }]) => {
    const halves = [outer[0]!, ...holes];
    const neighbours = new Set<number>();
    const along = new Map<number, number>();
    for (const h of halves.flat()) {
      const beyond = placeOf.get(faceAt(h ^ 1));
      if (beyond !== undefined) neighbours.add(beyond);
      const { piece, strands } = edges[h >> 1]!;
      for (const { owner } of strands.map((s) => sources[s]!))
        along.set(owner, (along.get(owner) ?? 0) + lengthOfPiece(piece));
    }
    const label = labels[face]!;
    const drawn = halves.map((ring) => ring.map((h) => halfPiece(edges, h)));
    return {
      owner: label >= 0 ? label : null,
      along: [...along].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([owner]) => owner),
      outer: drawn[0]!,
      holes: drawn.slice(1),
      area: drawn.reduce((sum, ring) => sum + areaOfPieces(ring), 0),
      perimeter: lengthOfPieces(drawn.flat()),
      points: new Set(halves.flat().map((h) => (h & 1 ? edges[h >> 1]!.b : edges[h >> 1]!.a))).size,
      neighbours: [...neighbours].sort((a, b) => a - b),
      contested: label < 0 && overlapping.has(face),
    };
  });
}
