import earcut from 'earcut';
import { Clipper64, ClipType, FillRule, PolyTree64 } from 'clipper2-ts';
import type { PolyPath64 } from 'clipper2-ts';

/** A closed ring, x and y in turn, without its first point again at the end. */
export type Ring = Float64Array | number[];

/**
 * The triangles of an area given by rings, as x, y per corner (six numbers per triangle). Rings may cross themselves
 * and each other; `rule` says what is inside. A lone triangle or quadrilateral without a crossing is cut directly.
 */
export function triangulate(rings: readonly Ring[], rule: 'nonzero' | 'evenodd'): Float64Array {
  const good = rings.filter((r) => r.length >= 6);
  if (good.length === 0) return new Float64Array(0);
  if (good.length === 1 && isConvex(good[0])) return cut([good[0]]);
  return cutTree(good, rule);
}

function isConvex(r: Ring): boolean {
  const n = r.length / 2;
  if (n > 64) return false;
  let sign = 0;
  let turns = 0;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const k = (i + 2) % n;
    const ax = r[2 * j] - r[2 * i];
    const ay = r[2 * j + 1] - r[2 * i + 1];
    const bx = r[2 * k] - r[2 * j];
    const by = r[2 * k + 1] - r[2 * j + 1];
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
    out[2 * i] = flat[2 * c];
    out[2 * i + 1] = flat[2 * c + 1];
  });
  return out;
}

/** Resolves crossings and nesting on an integer grid of 2^26 steps across the rings, then cuts each area. */
function cutTree(rings: readonly Ring[], rule: 'nonzero' | 'evenodd'): Float64Array {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const r of rings) {
    for (let i = 0; i < r.length; i += 2) {
      minX = Math.min(minX, r[i]);
      maxX = Math.max(maxX, r[i]);
      minY = Math.min(minY, r[i + 1]);
      maxY = Math.max(maxY, r[i + 1]);
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
        path.push({ x: Math.round((r[i] - minX) * k), y: Math.round((r[i + 1] - minY) * k) });
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
  const out = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}
