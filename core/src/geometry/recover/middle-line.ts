import { flatDistance } from '../vector.js';
import { holds } from '../nesting.js';
import { areaOfPieces } from '../piece-area.js';
import { joinedCubics } from '../join-cubics.js';
import type { Piece } from '../path-pieces.js';
import { chordsFor, pointAt } from '../path-pieces.js';

type Point = readonly [number, number];

/** The middle line of a long thin shape, and how wide the shape is along it. */
export interface MiddleLine {
  pieces: Piece[];
  closed: boolean;
  width: number;
  /** Of its ends: cut square, or round. */
  cap: 'butt' | 'round';
  least: number;
  mean: number;
  greatest: number;
  /** How far the edges of a pen of that width along the line lie from those of the shape, at most. */
  off: number;
}

/** A shape is a stroke if it is at least this many times as long as wide. */
const SLENDER = 4;
/** In how many places its edge is looked at, to a width. */
const PER_WIDTH = 6;
const MOST_PLACES = 6000;

/**
 * The width that a strip of an area and a perimeter has: w² − (P/2)w + A = 0, the smaller root. `null` where nothing has both:
 * the area is more than a square of that perimeter has.
 */
export function stripWidth(area: number, perimeter: number): number | null {
  const half = perimeter / 2;
  const under = half * half - 4 * area;
  return under >= 0 && area > 0 ? (half - Math.sqrt(under)) / 2 : null;
}

/** The middle line of a shape of one outline, or of a ring between two; `null` for what is no stroke. `bound`: of its curves. */
export function middleLine(outlines: readonly (readonly Piece[])[], bound: number): MiddleLine | null {
  if (outlines.length === 1) return ofStrip(outlines[0]!, bound);
  return outlines.length === 2 ? ofRing(outlines[0]!, outlines[1]!, bound) : null;
}

/** Places along closed pieces at equal steps, as many as asked for. */
function placesOf(pieces: readonly Piece[], count: (length: number) => number): { places: Point[]; length: number } {
  const chords: Point[] = [];
  for (const p of pieces) {
    const n = Math.max(chordsFor(p, 1e-4 * sizeOf(p)), p.kind === 'bezier' && p.p.length === 4 ? 1 : 8);
    for (let k = 0; k < n; k++) chords.push(pointAt(p, k / n));
  }
  const sums = [0];
  for (let i = 1; i <= chords.length; i++) {
    const [a, b] = [chords[i - 1]!, chords[i % chords.length]!];
    sums.push(sums[i - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1]));
  }
  const length = sums[chords.length]!;
  const n = Math.max(16, Math.min(MOST_PLACES, Math.round(count(length))));
  const places: Point[] = [];
  for (let k = 0, i = 0; k < n; k++) {
    const s = (length * k) / n;
    while (i + 1 < sums.length - 1 && sums[i + 1]! <= s) i++;
    const [a, b] = [chords[i]!, chords[(i + 1) % chords.length]!];
    const t = (s - sums[i]!) / (sums[i + 1]! - sums[i]! || 1);
    places.push([a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t]);
  }
  return { places, length };
}

const sizeOf = (p: Piece): number => {
  const [a, m, b] = [pointAt(p, 0), pointAt(p, 0.5), pointAt(p, 1)];
  return Math.max(Math.hypot(m[0] - a[0], m[1] - a[1]), Math.hypot(b[0] - m[0], b[1] - m[1])) || 1;
};

const between = (a: Point, b: Point): Point => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

function ofStrip(pieces: readonly Piece[], bound: number): MiddleLine | null {
  const area = Math.abs(areaOfPieces(pieces));
  const rough = placesOf(pieces, () => 512);
  const wide = stripWidth(area, rough.length);
  if (wide === null || area / (wide * wide) < SLENDER) return null;
  const { places, length } = placesOf(pieces, (l) => (l / wide) * PER_WIDTH);
  const n = places.length;
  const step = length / n;
  const at = (i: number): Point => places[((i % n) + n) % n]!;
  // Across an end both sides come near each other.
  const reach = Math.max(2, Math.round((1.5 * wide) / step));
  const across = places.map((_, i) => flatDistance(at(i + reach), at(i - reach)));
  const first = smallest(across, () => true);
  const second = smallest(across, (i) => Math.min(Math.abs(i - first), n - Math.abs(i - first)) >= n / 4);
  if (second < 0 || across[first]! > 2.2 * wide || across[second]! > 2.2 * wide) return null;
  const side = (from: number, to: number, way: 1 | -1): Point[] => {
    const out: Point[] = [];
    for (let i = from; ; i += way) {
      out.push(at(i));
      if ((((i - to) % n) + n) % n === 0) return out;
    }
  };
  const left = side(first, second, 1);
  const right = side(first, second, -1);
  if (Math.min(left.length, right.length) < 8) return null;
  const { middles, widths } = paired(left, right, wide / step, false);
  if (middles.length < 2) return null;
  const w = meanOf(widths);
  const ring = Float64Array.from(places.flatMap((q) => [...q]));
  const ends = [exit(middles, ring, wide), exit([...middles].reverse(), ring, wide)];
  if (!ends[0] || !ends[1]) return null;
  const line = [ends[0].at, ...middles, ends[1].at];
  // A tenth of the width before a square end the shape is still as wide as it is; before a round one it is not.
  const corners = ends.flatMap((e) =>
    [1, -1].map((k) =>
      holds(ring, e!.at[0] - 0.1 * w * e!.ux - k * 0.4 * w * e!.uy, e!.at[1] - 0.1 * w * e!.uy + k * 0.4 * w * e!.ux),
    ),
  );
  const cap = corners.filter(Boolean).length >= 2 ? 'butt' : 'round';
  const own = cap === 'round' ? trimmed(line, w / 2) : line;
  const width = cap === 'round' ? w : area / lengthOf(line);
  return told(own, false, width, cap, widths, [...left, ...right], bound);
}

/** Where a middle line comes out of its shape if it goes on as it bends at its first places, and its direction there. */
function exit(
  middles: readonly Point[],
  ring: Float64Array,
  wide: number,
): { at: Point; ux: number; uy: number } | null {
  const until = (from: number): number => {
    let k = from + 1;
    while (k + 1 < middles.length && flatDistance(middles[from]!, middles[k]!) < wide) k++;
    return Math.min(k, middles.length - 1);
  };
  const k = until(0);
  const m = until(k);
  const [a, b, c] = [middles[0]!, middles[k]!, middles[m]!];
  const l = flatDistance(a, b);
  if (!(l > 0)) return null;
  const angle = (p: Point, q: Point): number => Math.atan2(q[1] - p[1], q[0] - p[0]);
  const [first, second] = [angle(b, a), m > k ? angle(c, b) : angle(b, a)];
  // How much it turns over a length, towards its end.
  const turn = Math.atan2(Math.sin(first - second), Math.cos(first - second)) / ((l + flatDistance(b, c)) / 2 || l);
  const bend = Math.abs(turn * wide) > 1 ? 0 : turn;
  const at = (s: number): { at: Point; ux: number; uy: number } => {
    const t = first + bend * (l / 2 + s);
    const middle = first + bend * (l / 2 + s / 2);
    return { at: [a[0] + s * Math.cos(middle), a[1] + s * Math.sin(middle)], ux: Math.cos(t), uy: Math.sin(t) };
  };
  const inside = (s: number): boolean => holds(ring, ...at(s).at);
  let [low, high] = [0, 0];
  for (let s = wide / 8; s < 4 * wide && high === 0; s += wide / 8) {
    if (inside(s)) low = s;
    else high = s;
  }
  if (high === 0) return null;
  for (let n = 0; n < 40; n++) {
    const s = (low + high) / 2;
    if (inside(s)) low = s;
    else high = s;
  }
  return at(low);
}

function ofRing(a: readonly Piece[], b: readonly Piece[], bound: number): MiddleLine | null {
  const areas = [areaOfPieces(a), areaOfPieces(b)].map(Math.abs);
  const [outer, inner] = areas[0]! >= areas[1]! ? [a, b] : [b, a];
  const area = Math.abs(areas[0]! - areas[1]!);
  const [p, q] = [placesOf(outer, () => 512), placesOf(inner, () => 512)];
  const wide = (2 * area) / (p.length + q.length);
  if (area / (wide * wide) < SLENDER) return null;
  const out = placesOf(outer, (l) => (l / wide) * PER_WIDTH).places;
  const { places: ins, length } = placesOf(inner, (l) => (l / wide) * PER_WIDTH);
  // Where the inner outline comes nearest to the first place of the outer one both begin.
  const begin = smallest(
    ins.map((r) => flatDistance(r, out[0]!)),
    () => true,
  );
  const turned = [...ins.slice(begin), ...ins.slice(0, begin)];
  const same = areaOfPieces(outer) * areaOfPieces(inner) > 0;
  const { middles, widths } = paired(
    out,
    same ? turned : [turned[0]!, ...turned.slice(1).reverse()],
    (wide / length) * ins.length,
    true,
  );
  return middles.length < 8 ? null : told(middles, true, meanOf(widths), 'butt', widths, [...out, ...ins], bound);
}

const smallest = (list: readonly number[], may: (i: number) => boolean): number =>
  list.reduce((best, v, i) => (may(i) && (best < 0 || v < list[best]!) ? i : best), -1);

const meanOf = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;

/**
 * Middles between two sides that run alike, and how far apart the sides are there: each place of the one with the nearest of
 * the other near the same part of its way. `skip`: so many places from either end are not looked at.
 */
function paired(
  left: readonly Point[],
  right: readonly Point[],
  skip: number,
  closed: boolean,
): { middles: Point[]; widths: number[] } {
  const middles: Point[] = [];
  const widths: number[] = [];
  const from = closed ? 0 : Math.ceil(1.6 * skip);
  const window = Math.max(8, Math.ceil(right.length * 0.12));
  for (let i = from; i < left.length - from; i++) {
    const guess = Math.round((i / (left.length - 1)) * (right.length - 1));
    let best = -1;
    let least = Infinity;
    for (let k = guess - window; k <= guess + window; k++) {
      const j = closed ? ((k % right.length) + right.length) % right.length : k;
      if (j < 0 || j >= right.length) continue;
      const d = flatDistance(left[i]!, right[j]!);
      if (d < least) [least, best] = [d, j];
    }
    if (best < 0) continue;
    const near = nearestOn(left[i]!, right, best, closed);
    middles.push(between(left[i]!, near));
    widths.push(flatDistance(left[i]!, near));
  }
  return { middles, widths };
}

/** The nearest point to a place on the chords beside one of a list. */
function nearestOn(q: Point, line: readonly Point[], i: number, closed: boolean): Point {
  let best = line[i]!;
  for (const k of [i - 1, i]) {
    const [a, b] = closed
      ? [line[(k + line.length) % line.length]!, line[(k + 1 + line.length) % line.length]!]
      : [line[k], line[k + 1]];
    if (!a || !b) continue;
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const l = dx * dx + dy * dy;
    const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((q[0] - a[0]) * dx + (q[1] - a[1]) * dy) / l));
    const at: Point = [a[0] + t * dx, a[1] + t * dy];
    if (flatDistance(q, at) < flatDistance(q, best)) best = at;
  }
  return best;
}

const lengthOf = (line: readonly Point[]): number =>
  line.slice(1).reduce((sum, p, i) => sum + flatDistance(p, line[i]!), 0);

/** A line without so much of its length at either end. */
function trimmed(line: readonly Point[], by: number): Point[] {
  const cut = (list: readonly Point[]): Point[] => {
    let left = by;
    for (let i = 1; i < list.length; i++) {
      const l = flatDistance(list[i - 1]!, list[i]!);
      if (l >= left) {
        const t = l > 0 ? left / l : 0;
        const [a, b] = [list[i - 1]!, list[i]!];
        return [[a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t], ...list.slice(i)];
      }
      left -= l;
    }
    return [...list];
  };
  return cut(cut(line).reverse()).reverse();
}

function told(
  line: readonly Point[],
  closed: boolean,
  width: number,
  cap: MiddleLine['cap'],
  widths: readonly number[],
  edge: readonly Point[],
  bound: number,
): MiddleLine {
  const pieces = curveThrough(line, closed, bound);
  const fine = pieces.flatMap((p) => Array.from({ length: 24 }, (_, k) => pointAt(p, k / 24)));
  fine.push(pointAt(pieces[pieces.length - 1]!, 1));
  let off = 0;
  for (const q of edge) {
    let d = Infinity;
    for (let i = 1; i < fine.length; i++) d = Math.min(d, flatDistance(q, nearestOn(q, fine, i - 1, false)));
    // Ends are told by their caps; along the line the edge should be half a width away.
    if (d > width * 0.3) off = Math.max(off, Math.abs(d - width / 2));
  }
  const [least, greatest] = [Math.min(...widths), Math.max(...widths)];
  return { pieces, closed, width, cap, least, mean: meanOf(widths), greatest, off };
}

/** A straight line where places lie on one, else cubics through them, as few as a bound allows. */
function curveThrough(line: readonly Point[], closed: boolean, bound: number): Piece[] {
  const [a, b] = [line[0]!, line[line.length - 1]!];
  const chord = flatDistance(a, b);
  const off = (q: Point): number =>
    Math.abs((q[0] - a[0]) * (b[1] - a[1]) - (q[1] - a[1]) * (b[0] - a[0])) / (chord || 1);
  if (!closed && chord > 0 && line.every((q) => off(q) <= bound)) return [{ kind: 'bezier', p: [...a, ...b] }];
  // Every so many places: each carries the noise of where the edge was looked at.
  const stride = Math.max(1, Math.floor(line.length / 96));
  const knots = line.filter((_, i) => i % stride === 0 || (!closed && i === line.length - 1));
  const n = knots.length;
  const at = (i: number): Point => (closed ? knots[((i % n) + n) % n]! : knots[Math.max(0, Math.min(n - 1, i))]!);
  const pieces: Piece[] = [];
  for (let i = 0; i < (closed ? n : n - 1); i++) {
    const [p0, p1, p2, p3] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
    // Catmull and Rom: the tangent at a knot is half the way between its neighbours.
    pieces.push({
      kind: 'bezier',
      p: [
        ...p1,
        p1[0] + (p2[0] - p0[0]) / 6,
        p1[1] + (p2[1] - p0[1]) / 6,
        p2[0] - (p3[0] - p1[0]) / 6,
        p2[1] - (p3[1] - p1[1]) / 6,
        ...p2,
      ],
    });
  }
  return joinedCubics(pieces, bound, () => false).pieces;
}
