import type { PathData } from '../path.js';
import { PathBuilder } from '../path.js';
import type { Piece } from '../path-pieces.js';
import { COINCIDENT, isFullTurn, isSame } from '../tolerance.js';
import type { StrokeOptions } from './stroke-options.js';

type Point = readonly [number, number];
type Arc = Extract<Piece, { kind: 'arc' }>;

/** Beyond so many pieces it takes as long to see that nothing overlaps as to cut it. */
const MOST = 64;
/** How near pieces may come to each other, in widths of the pen, and still count as apart. */
const APART = 1 + 1e-6;

/**
 * What a pen covers on a way that plainly overlaps itself nowhere, without cutting anything: one arc or circle, or straight lines
 * that stay further from each other than the pen is wide. `null` where that is not plain.
 */
export function simpleStroke(run: { pieces: readonly Piece[]; closed: boolean }, o: StrokeOptions): PathData | null {
  const { pieces, closed } = run;
  if (o.dashes.length > 0 || pieces.length === 0 || pieces.length > MOST) return null;
  if (pieces.every((p): p is Arc => p.kind === 'arc' && isSame(p.rx, p.ry))) return ofArc(pieces, closed, o);
  if (!pieces.every((p) => p.kind === 'bezier' && p.p.length === 4)) return null;
  const points = pieces.map((p): Point => [(p as Line).p[0]!, (p as Line).p[1]!]);
  const last = (pieces[pieces.length - 1] as Line).p;
  if (!closed) points.push([last[2]!, last[3]!]);
  return ofLines(points, closed, o);
}
type Line = Extract<Piece, { kind: 'bezier' }>;

/** A whole circle, or an arc whose caps do not reach round to each other. */
function ofArc(pieces: readonly Arc[], closed: boolean, o: StrokeOptions): PathData | null {
  const first = pieces[0]!;
  const half = o.width / 2;
  const { cx, cy, rx: r } = first;
  const near = COINCIDENT * r;
  let sweep = 0;
  for (const p of pieces) {
    if (Math.abs(p.cx - cx) > near || Math.abs(p.cy - cy) > near || Math.abs(p.rx - r) > near) return null;
    if (p.sweep * first.sweep < 0) return null;
    sweep += p.sweep;
  }
  if (!(r > half * APART)) return null;
  const out = new PathBuilder();
  const at = (radius: number, t: number): [number, number] => [cx + radius * Math.cos(t), cy + radius * Math.sin(t)];
  const begin = first.start + first.rotation;
  const along = (radius: number, from: number, over: number): void => {
    const n = Math.max(1, Math.ceil(Math.abs(over) / (0.9 * Math.PI)));
    for (let k = 1; k <= n; k++) out.arcTo(radius, radius, 0, false, over > 0, ...at(radius, from + (over * k) / n));
  };
  if (isFullTurn(sweep)) {
    if (!closed && o.cap !== 'butt') return null;
    out.moveTo(...at(r + half, begin));
    along(r + half, begin, 2 * Math.PI);
    out.close().moveTo(...at(r - half, begin));
    along(r - half, begin, -2 * Math.PI);
    return out.close().build();
  }
  if (closed) return null;
  // Between the ends there must be room for both caps.
  const open = 2 * r * Math.sin(Math.min(Math.PI / 2, (2 * Math.PI - Math.abs(sweep)) / 2));
  if (Math.abs(sweep) > Math.PI && open < 2 * o.width * APART) return null;
  const [from, over] = sweep > 0 ? [begin, sweep] : [begin + sweep, -sweep];
  const to = from + over;
  const end = (t: number, ahead: 1 | -1, on: number): void => {
    // From one side to the other, round the end that looks ahead or back.
    const [sx, sy] = at(on, t);
    const [tx, ty] = [-Math.sin(t) * ahead * half, Math.cos(t) * ahead * half];
    const [ex, ey] = at(2 * r - on, t);
    if (o.cap === 'square') out.lineTo(sx + tx, sy + ty).lineTo(ex + tx, ey + ty);
    if (o.cap !== 'round') return void out.lineTo(ex, ey);
    const [mx, my] = at(r, t);
    out.arcTo(half, half, 0, false, true, mx + tx, my + ty).arcTo(half, half, 0, false, true, ex, ey);
  };
  out.moveTo(...at(r + half, from));
  along(r + half, from, over);
  end(to, 1, r + half);
  along(r - half, to, -over);
  end(from, -1, r - half);
  return out.close().build();
}

/** Straight lines by their corners. */
function ofLines(points: readonly Point[], closed: boolean, o: StrokeOptions): PathData | null {
  const n = points.length;
  const count = closed ? n : n - 1;
  if (count < 1 || (closed && n < 3)) return null;
  const half = o.width / 2;
  const ways: Point[] = [];
  const lengths: number[] = [];
  for (let i = 0; i < count; i++) {
    const [a, b] = [points[i]!, points[(i + 1) % n]!];
    const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (!(l > 0)) return null;
    lengths.push(l);
    ways.push([(b[0] - a[0]) / l, (b[1] - a[1]) / l]);
  }
  // How far back inner corners reach along the lines that meet there.
  const turns: number[] = [];
  for (let i = 0; i < n; i++) {
    if (!closed && (i === 0 || i === n - 1)) {
      turns.push(0);
      continue;
    }
    const [u, v] = [ways[(i + count - 1) % count]!, ways[i % count]!];
    const turn = Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]);
    if (Math.abs(turn) > (5 / 6) * Math.PI) return null;
    turns.push(turn);
  }
  const back = (i: number): number => half * Math.tan(Math.abs(turns[i]!) / 2);
  for (let i = 0; i < count; i++) if (lengths[i]! <= (back(i) + back((i + 1) % n)) * APART) return null;
  // Corners of square ends and the tips of pointed joints reach further than the pen is wide.
  const tips = turns.map((t) => 1 / Math.cos(t / 2)).filter((tip) => o.join === 'miter' && tip <= o.miter);
  const reach = half * Math.max(1, !closed && o.cap === 'square' ? Math.SQRT2 : 1, ...tips);
  if (!isApart(points, count, closed, 2 * reach * APART)) return null;

  const out = new PathBuilder();
  const side = (i: number, sign: 1 | -1, w: Point): Point => {
    const [x, y] = points[i]!;
    return [x + sign * w[1] * half, y - sign * w[0] * half];
  };
  let begun = false;
  const to = (p: Point): void => {
    if (begun) out.lineTo(p[0], p[1]);
    else out.moveTo(p[0], p[1]);
    begun = true;
  };
  /** Round a corner on one side: in its direction of running, `before` and `after` are the ways there. */
  const corner = (i: number, sign: 1 | -1, before: Point, after: Point): void => {
    const turn = turns[i]! * sign;
    if (Math.abs(turn) < 1e-7) return to(side(i, sign, after));
    const [mx, my] = [before[1] + after[1], -(before[0] + after[0])];
    const l = Math.hypot(mx, my);
    const tip = (): Point => {
      const k = half / Math.cos(turn / 2) / l;
      return [points[i]![0] + sign * mx * k, points[i]![1] + sign * my * k];
    };
    if (turn < 0) return to(tip());
    to(side(i, sign, before));
    if (o.join === 'round') {
      const [x, y] = side(i, sign, after);
      out.arcTo(half, half, 0, false, true, x, y);
      return;
    }
    if (o.join === 'miter' && 1 / Math.cos(turn / 2) <= o.miter) to(tip());
    to(side(i, sign, after));
  };
  const rightSide = (first: number, last: number): void => {
    for (let i = first; i <= last; i++) corner(i, 1, ways[(i + count - 1) % count]!, ways[i % count]!);
  };
  const leftSide = (first: number, last: number): void => {
    for (let i = last; i >= first; i--) corner(i, -1, ways[i % count]!, ways[(i + count - 1) % count]!);
  };
  if (closed) {
    rightSide(0, n - 1);
    out.close();
    begun = false;
    leftSide(0, n - 1);
    return out.close().build();
  }
  const cap = (i: number, w: Point): void => {
    const [ux, uy] = [w[0] * half, w[1] * half];
    const [right, left] = [side(i, 1, w), side(i, -1, w)];
    to(right);
    if (o.cap === 'square') {
      to([right[0] + ux, right[1] + uy]);
      to([left[0] + ux, left[1] + uy]);
    } else if (o.cap === 'round') {
      const [x, y] = points[i]!;
      out.arcTo(half, half, 0, false, true, x + ux, y + uy).arcTo(half, half, 0, false, true, left[0], left[1]);
      return;
    }
    // What closes the outline is its own close.
    if (i > 0) to(left);
  };
  const first = ways[0]!;
  const start = side(0, 1, first);
  out.moveTo(start[0], start[1]);
  begun = true;
  rightSide(1, n - 2);
  cap(n - 1, ways[count - 1]!);
  leftSide(1, n - 2);
  const opposite: Point = [-first[0], -first[1]];
  cap(0, opposite);
  return out.close().build();
}

/** Whether lines that do not meet stay so far from each other, and the far ends of those that do from the other. */
function isApart(points: readonly Point[], count: number, closed: boolean, far: number): boolean {
  const n = points.length;
  const ends = (i: number): [Point, Point] => [points[i]!, points[(i + 1) % n]!];
  for (let i = 0; i < count; i++)
    for (let j = i + 1; j < count; j++) {
      const [a, b] = [ends(i), ends(j)];
      const after = j === i + 1;
      const around = closed && i === 0 && j === count - 1;
      if (after && around) return false;
      if (after || around) {
        const [lone, own] = after ? [a[0], b] : [a[1], b];
        const other = after ? b[1] : b[0];
        if (toLine(lone, own) < far || toLine(other, a) < far) return false;
      } else if (betweenLines(a, b) < far) return false;
    }
  return true;
}

function toLine([x, y]: Point, [[ax, ay], [bx, by]]: [Point, Point]): number {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}

/** The distance of two lines; 0 where they cross. */
function betweenLines(a: [Point, Point], b: [Point, Point]): number {
  const side = ([p, q]: [Point, Point], [x, y]: Point): number =>
    (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]);
  if (side(a, b[0]) * side(a, b[1]) <= 0 && side(b, a[0]) * side(b, a[1]) <= 0) return 0;
  return Math.min(toLine(a[0], b), toLine(a[1], b), toLine(b[0], a), toLine(b[1], a));
}
