import earcut from 'earcut';
import Flatbush from 'flatbush';
import { Clipper64, ClipType, FillRule, PolyTree64 } from 'clipper2-ts';
import type { PolyPath64 } from 'clipper2-ts';
import { joinedDoubles } from './joined-doubles.js';

/** A closed ring, x and y in turn, without its first point again at the end. */
export type Ring = Float64Array | number[];

/**
 * The triangles of an area given by rings, as x, y per corner (six numbers per triangle). Rings may cross themselves
 * and each other; `rule` says what is inside. A lone triangle or quadrilateral without a crossing is cut directly.
 */
export function triangulate(rings: readonly Ring[], rule: 'nonzero' | 'evenodd'): Float64Array {
  const parts = apart(rings.filter((r) => r.length >= 6)).map((group) => triangulateGroup(group, rule));
  return parts.length === 1 ? parts[0]! : joinedDoubles(parts);
}

/**
 * Rings in groups that lie beside each other, by where they begin and end along x: what lies inside one group has nothing to
 * do with the others. A line of text falls into its letters.
 */
function apart(rings: readonly Ring[]): Ring[][] {
  const spans = rings.map((ring) => {
    let [from, to] = [Infinity, -Infinity];
    for (let i = 0; i < ring.length; i += 2) {
      if (ring[i]! < from) from = ring[i]!;
      if (ring[i]! > to) to = ring[i]!;
    }
    return { ring, from, to };
  });
  spans.sort((a, b) => a.from - b.from);
  const groups: Ring[][] = [];
  let end = -Infinity;
  for (const { ring, from, to } of spans) {
    if (from > end || groups.length === 0) groups.push([ring]);
    else groups[groups.length - 1]!.push(ring);
    end = Math.max(end, to);
  }
  return groups;
}

function triangulateGroup(good: readonly Ring[], rule: 'nonzero' | 'evenodd'): Float64Array {
  if (good.length === 1 && isConvex(good[0]!)) return cut([good[0]!]);
  // Each crossing becomes a corner: an outline that crosses itself everywhere is cut as if it did not.
  if (isIntricate(good)) return cut([good[0]!]);
  return cutTree(good, rule);
}

/** More crossings than these make no area that anybody drew. */
const MAX_CROSSINGS = 200_000;

/** Whether rings cross themselves and each other so often that what lies inside is not worked out. */
export function isIntricate(rings: readonly Ring[]): boolean {
  const edges = rings.reduce((n, r) => n + r.length / 2, 0);
  // So few edges cannot cross so often.
  if (edges * edges < 2 * MAX_CROSSINGS) return false;
  const index = new Flatbush(edges);
  const each = (visit: (x0: number, y0: number, x1: number, y1: number) => void): void => {
    for (const r of rings)
      for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2) visit(r[j]!, r[j + 1]!, r[i]!, r[i + 1]!);
  };
  const ends = new Float64Array(4 * edges);
  let n = 0;
  each((x0, y0, x1, y1) => {
    ends.set([x0, y0, x1, y1], 4 * n++);
    index.add(Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1));
  });
  index.finish();
  const side = (k: number, x: number, y: number): number => {
    const [x0, y0, x1, y1] = [ends[4 * k], ends[4 * k + 1], ends[4 * k + 2], ends[4 * k + 3]];
    return (x1! - x0!) * (y - y0!) - (y1! - y0!) * (x - x0!);
  };
  let crossings = 0;
  let looked = 0;
  for (let i = 0; i < edges; i++) {
    const [x0, y0, x1, y1] = [ends[4 * i], ends[4 * i + 1], ends[4 * i + 2], ends[4 * i + 3]];
    index.search(Math.min(x0!, x1!), Math.min(y0!, y1!), Math.max(x0!, x1!), Math.max(y0!, y1!), (k) => {
      if (k <= i) return false;
      looked++;
      const [u0, v0, u1, v1] = [ends[4 * k]!, ends[4 * k + 1]!, ends[4 * k + 2]!, ends[4 * k + 3]!];
      if (side(i, u0, v0) * side(i, u1, v1) < 0 && side(k, x0!, y0!) * side(k, x1!, y1!) < 0) crossings++;
      return false;
    });
    if (crossings > MAX_CROSSINGS || looked > 100 * MAX_CROSSINGS) return true;
  }
  return false;
}

function isConvex(r: Ring): boolean {
  const n = r.length / 2;
  if (n > 64) return false;
  let sign = 0;
  let turns = 0;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const k = (i + 2) % n;
    const ax = r[2 * j]! - r[2 * i]!;
    const ay = r[2 * j + 1]! - r[2 * i + 1]!;
    const bx = r[2 * k]! - r[2 * j]!;
    const by = r[2 * k + 1]! - r[2 * j + 1]!;
    const cross = ax * by - ay * bx;
    turns += Math.atan2(cross, ax * bx + ay * by);
    if (cross === 0) continue;
    if (sign !== 0 && Math.sign(cross) !== sign) return false;
    sign = Math.sign(cross);
  }
  return Math.abs(Math.abs(turns) - 2 * Math.PI) < 1e-6;
}

/** Cuts one outer ring with its holes. */
function cut(rings: readonly Ring[]): Float64Array {
  const flat: number[] = [];
  const holes: number[] = [];
  rings.forEach((r, i) => {
    if (i > 0) holes.push(flat.length / 2);
    for (const v of r) flat.push(v);
  });
  const corners = earcut(flat, holes, 2);
  const out = new Float64Array(corners.length * 2);
  corners.forEach((c, i) => {
    out[2 * i] = flat[2 * c]!;
    out[2 * i + 1] = flat[2 * c + 1]!;
  });
  return out;
}

/** Resolves crossings and nesting on an integer grid of 2^26 steps across the rings, then cuts each area. */
function cutTree(rings: readonly Ring[], rule: 'nonzero' | 'evenodd'): Float64Array {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const r of rings) {
    for (let i = 0; i < r.length; i += 2) {
      minX = Math.min(minX, r[i]!);
      maxX = Math.max(maxX, r[i]!);
      minY = Math.min(minY, r[i + 1]!);
      maxY = Math.max(maxY, r[i + 1]!);
    }
  }
  const size = Math.max(maxX - minX, maxY - minY);
  if (!(size > 0) || !Number.isFinite(size)) return new Float64Array(0);
  const k = 2 ** 26 / size;
  const clipper = new Clipper64();
  clipper.addSubject(
    rings.map((r) => {
      const path: { x: number; y: number }[] = [];
      for (let i = 0; i < r.length; i += 2)
        path.push({ x: Math.round((r[i]! - minX) * k), y: Math.round((r[i + 1]! - minY) * k) });
      return path;
    }),
  );
  const tree = new PolyTree64();
  clipper.execute(ClipType.Union, rule === 'evenodd' ? FillRule.EvenOdd : FillRule.NonZero, tree);
  const parts: Float64Array[] = [];
  const ring = (p: PolyPath64): number[] => (p.poly ?? []).flatMap((q) => [minX + q.x / k, minY + q.y / k]);
  const visit = (outer: PolyPath64): void => {
    const holes: number[][] = [];
    for (let i = 0; i < outer.count; i++) {
      const hole = outer.child(i);
      holes.push(ring(hole));
      for (let j = 0; j < hole.count; j++) visit(hole.child(j));
    }
    parts.push(cut([ring(outer), ...holes]));
  };
  for (let i = 0; i < tree.count; i++) visit(tree.child(i));
  return joinedDoubles(parts);
}
