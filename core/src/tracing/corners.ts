import { fitCircle } from '../geometry/fit-circle.js';

type Point = readonly [number, number];

/** A line through points: a place on it and its direction. */
export interface Carrier {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** How far the farthest point lies off it. */
  readonly off: number;
}

/** The line of least squares through points `from` to `to` of a run, by distance. */
export function lineThrough(p: Float64Array, from: number, to: number): Carrier {
  const n = to - from + 1;
  let [mx, my] = [0, 0];
  for (let i = from; i <= to; i++) {
    mx += p[2 * i]! / n;
    my += p[2 * i + 1]! / n;
  }
  let [sxx, sxy, syy] = [0, 0, 0];
  for (let i = from; i <= to; i++) {
    const [x, y] = [p[2 * i]! - mx, p[2 * i + 1]! - my];
    sxx += x * x;
    sxy += x * y;
    syy += y * y;
  }
  // Axes stay exactly what they are.
  const spread = 1e-12 * (sxx + syy);
  let [dx, dy] = sxx >= syy ? [1, 0] : [0, 1];
  if (Math.abs(sxy) > spread) {
    const angle = 0.5 * Math.atan2(2 * sxy, sxx - syy);
    [dx, dy] = [Math.cos(angle), Math.sin(angle)];
  } else if (dx === 1 && syy <= spread) my = p[2 * from + 1]!;
  else if (dy === 1 && sxx <= spread) mx = p[2 * from]!;
  let off = 0;
  for (let i = from; i <= to; i++) off = Math.max(off, Math.abs((p[2 * i]! - mx) * dy - (p[2 * i + 1]! - my) * dx));
  return { x: mx, y: my, dx, dy, off };
}

/** The place that lies nearest to several lines, by squares; `null` where they run alike. */
export function meeting(lines: readonly Carrier[]): Point | null {
  let [a, b, c, u, v] = [0, 0, 0, 0, 0];
  for (const { x, y, dx, dy } of lines) {
    // Across the line: (−dy, dx).
    const at = -dy * x + dx * y;
    a += dy * dy;
    b -= dx * dy;
    c += dx * dx;
    u += -dy * at;
    v += dx * at;
  }
  const det = a * c - b * b;
  if (!(det > ALIKE * (a + c) ** 2)) return null;
  return [(u * c - b * v) / det, (a * v - b * u) / det];
}

/** Lines that turn by less than about fifteen degrees meet nowhere that is sure. */
const ALIKE = 0.015;
/** So many points to either side of a corner are looked at. */
const ARM = 6;
const SHORTEST = 2;
/** An arm is made longer while its points lie so near to a straight, up to so many. */
const STRAIGHT = 0.3;
const LONGEST = 40;
/** What a circle goes through as near as this is no corner, in pixels. */
const ROUND = 0.35;

export interface Corner {
  /** The points before and after which it lies: between `index − 1` and `index`. */
  readonly index: number;
  readonly x: number;
  readonly y: number;
}

/** The points to either side of a place, as many on one as on the other: fewer near the ends of an open run. `null` where there are too few. */
function around(p: Float64Array, closed: boolean, index: number): Float64Array | null {
  const n = p.length / 2;
  const arm = closed ? ARM : Math.min(ARM, index, n - index);
  if (arm < SHORTEST) return null;
  const out = new Float64Array(4 * arm);
  for (let k = -arm; k < arm; k++) {
    const i = closed ? (((index + k) % n) + n) % n : index + k;
    out[2 * (k + arm)] = p[2 * i]!;
    out[2 * (k + arm) + 1] = p[2 * i + 1]!;
  }
  return out;
}

/**
 * Corners of a run of edge points that turn by more than an angle (radians), in order. A corner is where its two arms meet, as straights: not a point that
 * was seen, but where the edges lead.
 */
export function cornersOf(p: Float64Array, closed: boolean, least: number): Corner[] {
  const n = p.length / 2;
  if (n < 2 * (closed ? ARM : SHORTEST)) return [];
  const turns = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const near = around(p, closed, i);
    if (!near) continue;
    const [before, after] = arms(near);
    const turn = angleBetween(near, before, after);
    if (turn < least) continue;
    const circle = fitCircle(near);
    if (circle && circle.off < ROUND && turn < Math.PI * 0.6) continue;
    turns[i] = turn;
  }
  const out: Corner[] = [];
  for (let i = 0; i < n; i++) {
    if (turns[i] === 0) continue;
    // The sharpest of its neighbourhood; of several as sharp the one whose arms lie straightest.
    let isBest = true;
    for (let k = 1 - ARM; k < ARM && isBest; k++) {
      if (k === 0) continue;
      const j = closed ? (((i + k) % n) + n) % n : i + k;
      if (j < 0 || j >= n || turns[j] === 0) continue;
      const better = straightness(p, closed, j) - straightness(p, closed, i);
      if (better < -1e-9 || (Math.abs(better) <= 1e-9 && j < i && Math.abs(j - i) < ARM)) isBest = false;
    }
    if (!isBest) continue;
    const place = cornerAt(p, closed, i);
    out.push({ index: i, ...place });
  }
  return out;
}

/** The lines before and after a place. */
function arms(near: Float64Array): [Carrier, Carrier] {
  const m = near.length / 2;
  return [lineThrough(near, 0, m / 2 - 1), lineThrough(near, m / 2, m - 1)];
}

function straightness(p: Float64Array, closed: boolean, index: number): number {
  const [before, after] = arms(around(p, closed, index)!);
  return before.off + after.off;
}

/** How far the way turns from one arm to the other. */
function angleBetween(near: Float64Array, a: Carrier, b: Carrier): number {
  const m = near.length / 2;
  const along = (c: Carrier, from: number, to: number): Point => {
    const forward = (near[2 * to]! - near[2 * from]!) * c.dx + (near[2 * to + 1]! - near[2 * from + 1]!) * c.dy;
    return forward < 0 ? [-c.dx, -c.dy] : [c.dx, c.dy];
  };
  const [u, v] = [along(a, 0, m / 2 - 1), along(b, m / 2, m - 1)];
  return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]));
}

function cornerAt(p: Float64Array, closed: boolean, index: number): { x: number; y: number } {
  const n = p.length / 2;
  const arm = (back: boolean): Carrier => {
    const point = (k: number): number => {
      const i = back ? index - 1 - k : index + k;
      return closed ? ((i % n) + n) % n : i;
    };
    let best: Carrier | null = null;
    for (let length = SHORTEST + 1; length <= LONGEST && (!closed || length <= n / 2); length++) {
      const run = new Float64Array(2 * length);
      let whole = true;
      for (let k = 0; k < length; k++) {
        const i = point(k);
        if (i < 0 || i >= n) {
          whole = false;
          break;
        }
        run[2 * k] = p[2 * i]!;
        run[2 * k + 1] = p[2 * i + 1]!;
      }
      if (!whole) break;
      // The point next to the corner is mixed by both of its edges.
      const line = lineThrough(run, length > 3 ? 1 : 0, length - 1);
      if (best && length > ARM && line.off > STRAIGHT) break;
      best = line;
    }
    return best ?? lineThrough(p, Math.max(0, index - 1), Math.min(n - 1, index));
  };
  const i = closed ? ((index % n) + n) % n : index;
  const j = closed ? (((index - 1) % n) + n) % n : Math.max(0, index - 1);
  const middle: Point = [(p[2 * i]! + p[2 * j]!) / 2, (p[2 * i + 1]! + p[2 * j + 1]!) / 2];
  const met = meeting([arm(true), arm(false)]);
  // A corner further away than a few pixels is none that was seen.
  return met && Math.hypot(met[0] - middle[0], met[1] - middle[1]) < 3
    ? { x: met[0], y: met[1] }
    : { x: middle[0], y: middle[1] };
}
