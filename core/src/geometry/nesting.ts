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
export function nestingDepths(outlines: readonly (readonly Piece[])[]): number[] {
  return containersOf(outlines).map((list) => list.length);
}

/** Which of the others each closed outline lies in, the smallest first. */
export function containersOf(outlines: readonly (readonly Piece[])[]): number[][] {
  if (outlines.length === 0) return [];
  const rings = outlines.map(ringOf);
  const index = new Flatbush(rings.length);
  const sizes = rings.map((r) => {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < r.length; i += 2) {
      minX = Math.min(minX, r[i]!);
      maxX = Math.max(maxX, r[i]!);
      minY = Math.min(minY, r[i + 1]!);
      maxY = Math.max(maxY, r[i + 1]!);
    }
    index.add(minX, minY, maxX, maxY);
    return { minX, minY, maxX, maxY, area: Math.abs(areaOf(r)) };
  });
  index.finish();
  return outlines.map((pieces, i) => {
    const [x, y] = pointAt(pieces[0]!, 0.5);
    return index
      .search(x, y, x, y)
      .filter((k) => k !== i && sizes[k]!.area > sizes[i]!.area && holds(rings[k]!, x, y))
      .sort((a, b) => sizes[a]!.area - sizes[b]!.area || a - b);
  });
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
