import Flatbush from 'flatbush';
import { chordsFor, pointAt } from './path-pieces.js';
import type { Piece } from './path-pieces.js';
import { CHORDS } from './tolerance.js';

/** A closed outline as chords: x and y in turn. */
type Ring = Float64Array;

/**
 * In how many of the others each closed outline lies. Told by a point of it that lies on none of the others as a rule: of
 * outlines that cross or share an edge, the middle of its first piece decides.
 */
export function nestingDepths(outlines: readonly (readonly Piece[])[], count = outlines.length): number[] {
  return containersOf(outlines, count).map((list) => list.length);
}

/** Which of the others each closed outline lies in, the smallest first; of the first `count` alone, if that is said. */
export function containersOf(outlines: readonly (readonly Piece[])[], count = outlines.length): number[][] {
  if (outlines.length === 0) return [];
  const index = new Flatbush(outlines.length);
  for (const pieces of outlines) index.add(...boxOf(pieces));
  index.finish();
  // Chords are made of those alone that are asked.
  const rings = new Map<number, { ring: Ring; area: number }>();
  const ringAt = (i: number): { ring: Ring; area: number } => {
    let known = rings.get(i);
    if (!known) {
      const ring = ringOf(outlines[i]!);
      rings.set(i, (known = { ring, area: Math.abs(areaOf(ring)) }));
    }
    return known;
  };
  return outlines.slice(0, count).map((pieces, i) => {
    const [x, y] = pointAt(pieces[0]!, 0.5);
    const near = index.search(x, y, x, y).filter((k) => k !== i);
    if (near.length === 0) return [];
    const { area } = ringAt(i);
    return near
      .filter((k) => ringAt(k).area > area && holds(ringAt(k).ring, x, y))
      .sort((a, b) => ringAt(a).area - ringAt(b).area || a - b);
  });
}

/** A box that holds an outline: its control points, and arcs with all of their ellipse. */
function boxOf(pieces: readonly Piece[]): [number, number, number, number] {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  const add = (x: number, y: number): void => {
    minX = Math.min(minX, x);
    minY = Math.min(minY, y);
    maxX = Math.max(maxX, x);
    maxY = Math.max(maxY, y);
  };
  for (const p of pieces) {
    if (p.kind === 'arc') {
      const r = Math.max(p.rx, p.ry);
      add(p.cx - r, p.cy - r);
      add(p.cx + r, p.cy + r);
    } else for (let k = 0; k < p.p.length; k += 2) add(p.p[k]!, p.p[k + 1]!);
  }
  return [minX, minY, maxX, maxY];
}

function ringOf(pieces: readonly Piece[]): Ring {
  const [x0, y0] = pointAt(pieces[0]!, 0);
  let span = 0;
  for (const p of pieces) {
    const [x, y] = pointAt(p, 0.5);
    span = Math.max(span, Math.abs(x - x0), Math.abs(y - y0));
  }
  const out: number[] = [];
  for (const p of pieces) {
    const n = chordsFor(p, (span || 1) * CHORDS);
    for (let k = 0; k < n; k++) out.push(...pointAt(p, k / n));
  }
  return Float64Array.from(out);
}

function areaOf(r: Ring): number {
  let sum = 0;
  const [ox, oy] = [r[0]!, r[1]!];
  for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2)
    sum += (r[j]! - ox) * (r[i + 1]! - oy) - (r[i]! - ox) * (r[j + 1]! - oy);
  return sum / 2;
}

/** Whether a ring goes round a point: by the edges that a ray to the right crosses. */
export function holds(r: Ring, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2) {
    const [yi, yj] = [r[i + 1]!, r[j + 1]!];
    if (yi > y !== yj > y && x < ((r[j]! - r[i]!) * (y - yi)) / (yj - yi) + r[i]!) inside = !inside;
  }
  return inside;
}
