import Flatbush from 'flatbush';
import { chordsFor, pointAt } from './path-pieces.js';
import type { Piece } from './path-pieces.js';
import { roughBox } from './pieces-box.js';
import { CHORDS, isFullTurn } from './tolerance.js';

/** A closed outline as chords: x and y in turn. */
type Ring = Float64Array;

/**
 * In how many of the others each closed outline lies. Told by a point of it that lies on none of the others as a rule: of
 * outlines that cross or share an edge, the middle of its first piece decides.
 */
export function nestingDepths(outlines: readonly (readonly Piece[])[], count = outlines.length): number[] {
  return containersOf(outlines, count).map((list) => list.length);
}

/**
 * Which of the others each closed outline lies in, the smallest first; of the first `count` alone, if that is said. `pause` is called
 * now and then, and may throw to stop.
 */
export function containersOf(
  outlines: readonly (readonly Piece[])[],
  count = outlines.length,
  pause: () => void = () => {},
): number[][] {
  if (outlines.length === 0) return [];
  const rings = new RingIndex(outlines);
  return outlines.slice(0, count).map((pieces, i) => {
    if (i % 512 === 0) pause();
    const [x, y] = pointAt(pieces[0]!, 0.5);
    return rings.holding(x, y, (k) => k !== i && rings.area(k) > rings.area(i));
  });
}

/** Closed outlines, asked which of them hold a place. Whole circles are asked by their radius, all else by chords. */
class RingIndex {
  private readonly index: Flatbush;
  /** Centre and radius of each that is one whole circle; a radius of 0 for all others. */
  private readonly circles: Float64Array;
  // Chords are made of those alone that are asked.
  private readonly rings = new Map<number, { ring: Ring; area: number }>();

  constructor(private readonly outlines: readonly (readonly Piece[])[]) {
    this.index = new Flatbush(outlines.length);
    this.circles = new Float64Array(3 * outlines.length);
    outlines.forEach((pieces, i) => {
      this.index.add(...roughBox(pieces));
      const round = wholeCircle(pieces);
      if (round) this.circles.set(round, 3 * i);
    });
    this.index.finish();
  }

  private at(i: number): { ring: Ring; area: number } {
    let known = this.rings.get(i);
    if (!known) {
      const ring = ringOf(this.outlines[i]!);
      this.rings.set(i, (known = { ring, area: Math.abs(areaOf(ring)) }));
    }
    return known;
  }

  area(i: number): number {
    const r = this.circles[3 * i + 2]!;
    return r > 0 ? Math.PI * r * r : this.at(i).area;
  }

  private holds(i: number, x: number, y: number): boolean {
    const [cx, cy, r] = [this.circles[3 * i]!, this.circles[3 * i + 1]!, this.circles[3 * i + 2]!];
    return r > 0 ? Math.hypot(x - cx, y - cy) < r : holds(this.at(i).ring, x, y);
  }

  crossed(x0: number, y0: number, x1: number, y1: number): boolean {
    const near = this.index.search(Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1));
    return near.some((k) => crosses(this.at(k).ring, x0, y0, x1, y1));
  }

  holding(x: number, y: number, counts: (i: number) => boolean): number[] {
    return this.index
      .search(x, y, x, y)
      .filter((k) => counts(k) && this.holds(k, x, y))
      .sort((a, b) => this.area(a) - this.area(b) || a - b);
  }
}

/** Centre and radius of arcs that go once round one circle; `null` for anything else. */
function wholeCircle(pieces: readonly Piece[]): [number, number, number] | null {
  const first = pieces[0];
  if (first?.kind !== 'arc') return null;
  let sweep = 0;
  for (const p of pieces) {
    if (p.kind !== 'arc' || p.cx !== first.cx || p.cy !== first.cy || p.rx !== first.rx || p.ry !== first.rx)
      return null;
    sweep += p.sweep;
  }
  return isFullTurn(sweep) ? [first.cx, first.cy, first.rx] : null;
}

/** Asks whether a straight line crosses any of the closed outlines, ends that only reach one aside. */
export function crossingAmong(
  outlines: readonly (readonly Piece[])[],
): (x0: number, y0: number, x1: number, y1: number) => boolean {
  if (outlines.length === 0) return () => false;
  const rings = new RingIndex(outlines);
  return (x0, y0, x1, y1) => rings.crossed(x0, y0, x1, y1);
}

/** Asks which of the closed outlines hold a place, the smallest first. A place on an outline counts as either side. */
export function holdersAmong(outlines: readonly (readonly Piece[])[]): (x: number, y: number) => number[] {
  if (outlines.length === 0) return () => [];
  const rings = new RingIndex(outlines);
  return (x, y) => rings.holding(x, y, () => true);
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

/** Whether a line crosses an edge of a ring, and goes well beyond it. */
function crosses(r: Ring, x0: number, y0: number, x1: number, y1: number): boolean {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const l = Math.hypot(dx, dy);
  if (!(l > 0)) return false;
  for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2) {
    const [ex, ey] = [r[i]! - r[j]!, r[i + 1]! - r[j + 1]!];
    const m = Math.hypot(ex, ey);
    // How far the ends of each lie to the sides of the other.
    const [a, b] = [(r[j]! - x0) * dy - (r[j + 1]! - y0) * dx, (r[i]! - x0) * dy - (r[i + 1]! - y0) * dx];
    const [c, d] = [(x0 - r[j]!) * ey - (y0 - r[j + 1]!) * ex, (x1 - r[j]!) * ey - (y1 - r[j + 1]!) * ex];
    // Both ends of the line stand off the edge by more than chords are off their curve.
    if (a * b < 0 && c * d < 0 && Math.min(Math.abs(c), Math.abs(d)) > CHORDS * l * m) return true;
  }
  return false;
}
