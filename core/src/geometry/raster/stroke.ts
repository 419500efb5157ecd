import { chordCount } from '../arcs.js';

/** How a line is drawn, lengths in pixels. */
export interface Pen {
  readonly width: number;
  readonly cap: 'butt' | 'round' | 'square';
  readonly join: 'miter' | 'round' | 'bevel';
  /** How long a pointed corner may be, as a multiple of the width (SVG 1.1, 11.4). */
  readonly miter: number;
}

/** A line of chords: x and y for each point. A closed one does not repeat its first point. */
export interface Run {
  readonly points: readonly number[];
  readonly closed: boolean;
}

export type EdgeSink = (x0: number, y0: number, x1: number, y1: number) => void;

/** How far the chords of round ends and corners may lie from their arc, in pixels. */
const FINE = 0.01;

/**
 * The area that a pen draws along a line, as pieces that all go round the same way, so that their union is what winds at least once:
 * a rectangle for each chord, a wedge for each corner, and the ends.
 */
export function strokeEdges(run: Run, pen: Pen, edge: EdgeSink): void {
  const half = pen.width / 2;
  const put = (p: readonly number[]): void => polygon(p, edge);
  const points = withoutRepeats(run);
  const n = points.length / 2;
  if (n === 1) return dot(points[0]!, points[1]!, half, pen.cap, put);
  const closed = run.closed && n > 2;
  const chords = closed ? n : n - 1;
  // Directions of the chords.
  const dir = new Float64Array(2 * chords);
  for (let i = 0; i < chords; i++) {
    const j = (i + 1) % n;
    const [dx, dy] = [points[2 * j]! - points[2 * i]!, points[2 * j + 1]! - points[2 * i + 1]!];
    const length = Math.hypot(dx, dy);
    dir[2 * i] = dx / length;
    dir[2 * i + 1] = dy / length;
  }
  for (let i = 0; i < chords; i++) {
    const j = (i + 1) % n;
    const [dx, dy] = [dir[2 * i]! * half, dir[2 * i + 1]! * half];
    const before = !closed && i === 0 && pen.cap === 'square' ? 1 : 0;
    const after = !closed && i === chords - 1 && pen.cap === 'square' ? 1 : 0;
    const [ax, ay] = [points[2 * i]! - before * dx, points[2 * i + 1]! - before * dy];
    const [bx, by] = [points[2 * j]! + after * dx, points[2 * j + 1]! + after * dy];
    put([ax - dy, ay + dx, bx - dy, by + dx, bx + dy, by - dx, ax + dy, ay - dx]);
    if (closed || i + 1 < chords) corner(points[2 * j]!, points[2 * j + 1]!, dir, i, (i + 1) % chords, pen, put);
  }
  if (!closed && pen.cap === 'round') {
    put(arc(points[0]!, points[1]!, half, Math.atan2(dir[1]!, dir[0]!) + Math.PI / 2, Math.PI));
    const last = 2 * (chords - 1);
    const [x, y] = [points[2 * n - 2]!, points[2 * n - 1]!];
    put(arc(x, y, half, Math.atan2(dir[last + 1]!, dir[last]!) - Math.PI / 2, Math.PI));
  }
}

/** What fills the corner between two chords on its outer side. */
function corner(
  x: number,
  y: number,
  dir: Float64Array,
  i: number,
  j: number,
  { width, join, miter }: Pen,
  put: (p: number[]) => void,
): void {
  const half = width / 2;
  const [ax, ay, bx, by] = [dir[2 * i]!, dir[2 * i + 1]!, dir[2 * j]!, dir[2 * j + 1]!];
  const cross = ax * by - ay * bx;
  const dot = ax * bx + ay * by;
  if (cross === 0 && dot > 0) return;
  // The outer side lies against the turn.
  const side = cross > 0 ? -half : half;
  const [px, py, qx, qy] = [x - ay * side, y + ax * side, x - by * side, y + bx * side];
  if (join === 'round') {
    const from = Math.atan2(py - y, px - x);
    const turn = Math.atan2(cross, dot);
    return put([x, y, ...arc(x, y, half, from, turn === 0 ? Math.PI : turn)]);
  }
  // Half the angle between the chords: its sine is one over the length of the point in widths.
  const sine = Math.sqrt(Math.max(0, (1 - dot) / 2));
  const cosine = Math.sqrt(Math.max(0, (1 + dot) / 2));
  if (join === 'miter' && cosine * miter >= 1) {
    const reach = (half * sine) / cosine;
    return put([x, y, px, py, px + ax * reach, py + ay * reach, qx, qy]);
  }
  put([x, y, px, py, qx, qy]);
}

/** A line of no length: what its ends come to. */
function dot(x: number, y: number, half: number, cap: Pen['cap'], put: (p: number[]) => void): void {
  if (cap === 'round') put(arc(x, y, half, 0, 2 * Math.PI));
  if (cap === 'square') put([x - half, y - half, x + half, y - half, x + half, y + half, x - half, y + half]);
}

function arc(x: number, y: number, radius: number, from: number, sweep: number): number[] {
  const n = Math.max(1, chordCount(radius, sweep, FINE));
  const out: number[] = [];
  for (let i = 0; i <= n; i++) {
    const t = from + (sweep * i) / n;
    out.push(x + radius * Math.cos(t), y + radius * Math.sin(t));
  }
  return out;
}

/** The edges of a polygon; all wind one way, whichever way they were put together, so that those that overlap are one area. */
export function polygon(p: readonly number[], edge: EdgeSink): void {
  const n = p.length;
  let area = 0;
  for (let i = 0; i < n; i += 2) area += p[i]! * p[(i + 3) % n]! - p[(i + 2) % n]! * p[i + 1]!;
  for (let i = 0; i < n; i += 2) {
    const [x0, y0, x1, y1] = [p[i]!, p[i + 1]!, p[(i + 2) % n]!, p[(i + 3) % n]!];
    if (area > 0) edge(x0, y0, x1, y1);
    else edge(x1, y1, x0, y0);
  }
}

function withoutRepeats({ points, closed }: Run): number[] {
  const out = [points[0]!, points[1]!];
  for (let i = 2; i + 1 < points.length; i += 2)
    if (points[i] !== out[out.length - 2] || points[i + 1] !== out[out.length - 1])
      out.push(points[i]!, points[i + 1]!);
  while (closed && out.length > 2 && out[0] === out[out.length - 2] && out[1] === out[out.length - 1]) out.splice(-2);
  return out;
}

/** More dashes than these in one line are drawn as the whole line. */
const MOST_DASHES = 100_000;

/**
 * A line cut into its dashes: dash and gap in turn, from `offset` on, in pixels; corners within a dash stay corners. The line itself
 * where nothing is dashed.
 */
export function dashedRuns(run: Run, lengths: readonly number[], offset: number): Run[] {
  const list = lengths.length % 2 ? [...lengths, ...lengths] : lengths;
  const period = list.reduce((sum, l) => sum + l, 0);
  const p = run.closed ? [...run.points, run.points[0]!, run.points[1]!] : run.points;
  let total = 0;
  for (let i = 2; i + 1 < p.length; i += 2) total += Math.hypot(p[i]! - p[i - 2]!, p[i + 1]! - p[i - 1]!);
  if (!(period > 0) || list.some((l) => l < 0) || (total / period) * list.length > MOST_DASHES) return [run];
  // Where in the pattern the line begins.
  let k = 0;
  let left = ((offset % period) + period) % period;
  while (left >= list[k]! && left > 0) {
    left -= list[k]!;
    k = (k + 1) % list.length;
  }
  let rest = list[k]! - left;
  const out: Run[] = [];
  let own: number[] | null = k % 2 === 0 ? [p[0]!, p[1]!] : null;
  for (let i = 2; i + 1 < p.length; i += 2) {
    const [x0, y0, x1, y1] = [p[i - 2]!, p[i - 1]!, p[i]!, p[i + 1]!];
    const length = Math.hypot(x1 - x0, y1 - y0);
    let at = 0;
    while (length - at >= rest && length > 0) {
      at += rest;
      const [x, y] = [x0 + ((x1 - x0) * at) / length, y0 + ((y1 - y0) * at) / length];
      if (own) {
        own.push(x, y);
        out.push({ points: own, closed: false });
        own = null;
      } else own = [x, y];
      k = (k + 1) % list.length;
      rest = list[k]!;
    }
    rest -= length - at;
    own?.push(x1, y1);
  }
  // A dash that begins where the line ends is none.
  const [first, second] = [own?.[0], own?.[1]];
  if (own && (own.length > 4 || own[2] !== first || own[3] !== second)) out.push({ points: own, closed: false });
  return out;
}
