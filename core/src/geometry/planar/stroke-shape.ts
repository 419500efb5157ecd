import { asBiarcs } from '../biarcs.js';
import type { Effort } from '../crossings.js';
import { newEffort } from '../crossings.js';
import { outlinesOf } from '../outlines.js';
import type { PathData } from '../path.js';
import { PathBuilder } from '../path.js';
import type { Piece } from '../path-pieces.js';
import { endOf, partOf, pointAt, startOf, tangentAt } from '../path-pieces.js';
import { AT_END } from '../tolerance.js';
import { simpleStroke } from './simple-stroke.js';
import type { StrokeOptions } from './stroke-options.js';

type Point = readonly [number, number];

/**
 * What a pen covers on its way: closed outlines without overlaps. Every piece is a strip of the pen's width, every joint
 * a wedge on its outer side, every end its cap; all of them together are the area. Lines stay lines, circular arcs have
 * arcs of their centre on both sides; free curves are first followed by arcs that go on each other, within `tolerance`.
 * Throws `TooIntricate` when they cross more often than the effort allows.
 */
export function strokeShape(
  runs: readonly { pieces: readonly Piece[]; closed: boolean }[],
  options: StrokeOptions,
  effort: Effort = newEffort(),
): PathData {
  const half = options.width / 2;
  const simple = runs.length === 1 ? simpleStroke(runs[0]!, options) : null;
  if (simple) return simple;
  const out = new PathBuilder();
  for (const run of runs) {
    const followed = asBiarcs(run.pieces, options.tolerance).pieces.filter((p) => lengthOf(p) > 0);
    for (const { pieces, closed } of dashed({ pieces: followed, closed: run.closed }, options)) {
      for (const p of pieces) addStrip(out, p, half);
      pieces.forEach((p, i) => {
        const next = pieces[i + 1] ?? (closed ? pieces[0] : undefined);
        if (next) addJoin(out, p, next, half, options);
      });
      if (closed || pieces.length === 0) continue;
      addCap(out, endOf(pieces[pieces.length - 1]!), wayAt(pieces[pieces.length - 1]!, 1), half, options.cap);
      const [x, y] = wayAt(pieces[0]!, 0);
      addCap(out, startOf(pieces[0]!), [-x, -y], half, options.cap);
    }
  }
  if (out.empty) return out.build();
  return outlinesOf([[{ path: out.build(), rule: 'nonzero' }]], ([within]) => within!, effort);
}

const lengthOf = (p: Piece): number =>
  p.kind === 'arc' ? p.rx * Math.abs(p.sweep) : Math.hypot(p.p[2]! - p.p[0]!, p.p[3]! - p.p[1]!);

function wayAt(p: Piece, t: 0 | 1): Point {
  const [x, y] = tangentAt(p, t);
  const l = Math.hypot(x, y) || 1;
  return [x / l, y / l];
}

/** A line, or arc, cut into its dashes, by lengths along it. */
function dashed(run: { pieces: Piece[]; closed: boolean }, o: StrokeOptions): { pieces: Piece[]; closed: boolean }[] {
  const list = o.dashes.length % 2 ? [...o.dashes, ...o.dashes] : o.dashes;
  const period = list.reduce((a, b) => a + b, 0);
  if (list.length === 0 || !(period > 0) || list.some((d) => d < 0)) return [run];
  const total = run.pieces.reduce((sum, p) => sum + lengthOf(p), 0);
  if ((total / period) * list.length > 20_000) return [run];
  const out: { pieces: Piece[]; closed: boolean }[] = [];
  let at = -(((o.dashOffset % period) + period) % period);
  for (let i = 0; at < total; i = (i + 1) % list.length) {
    if (i % 2 === 0 && at + list[i]! > 0) {
      const pieces = between(run.pieces, Math.max(0, at), Math.min(total, at + list[i]!));
      if (pieces.length > 0) out.push({ pieces, closed: false });
    }
    at += list[i]!;
  }
  return out;
}

function between(pieces: readonly Piece[], from: number, to: number): Piece[] {
  const out: Piece[] = [];
  let at = 0;
  for (const p of pieces) {
    const l = lengthOf(p);
    const [a, b] = [Math.max(0, from - at) / l, Math.min(l, to - at) / l];
    if (b - a > AT_END) out.push(partOf(p, a, b, a > 0 ? pointAt(p, a) : startOf(p), b < 1 ? pointAt(p, b) : endOf(p)));
    at += l;
  }
  return out;
}

/** The strip on both sides of a line or arc, run round anticlockwise; of an arc tighter than the pen, its whole sectors. */
function addStrip(out: PathBuilder, p: Piece, half: number): void {
  if (p.kind === 'bezier') {
    const [ux, uy] = wayAt(p, 0);
    const [a, b] = [startOf(p), endOf(p)];
    polygon(out, [
      [a[0] + uy * half, a[1] - ux * half],
      [b[0] + uy * half, b[1] - ux * half],
      [b[0] - uy * half, b[1] + ux * half],
      [a[0] - uy * half, a[1] + ux * half],
    ]);
    return;
  }
  // Parts of less than half a turn say by their ends which way they run.
  const n = Math.max(1, Math.ceil(Math.abs(p.sweep) / (0.9 * Math.PI)));
  for (let k = 0; k < n; k++) {
    const [a, b] = [p.start + p.rotation + (p.sweep * k) / n, p.start + p.rotation + (p.sweep * (k + 1)) / n];
    const [from, to] = p.sweep > 0 ? [a, b] : [b, a];
    sector(out, p.cx, p.cy, Math.max(0, p.rx - half), p.rx + half, from, to);
    if (half > p.rx) sector(out, p.cx, p.cy, 0, half - p.rx, from + Math.PI, to + Math.PI);
  }
}

/** A part of a ring between two angles, anticlockwise; from the centre where the inner radius is none. */
function sector(
  out: PathBuilder,
  cx: number,
  cy: number,
  inner: number,
  outer: number,
  from: number,
  to: number,
): void {
  const at = (r: number, t: number): [number, number] => [cx + r * Math.cos(t), cy + r * Math.sin(t)];
  if (inner > 0) out.moveTo(...at(inner, from));
  else out.moveTo(cx, cy);
  out.lineTo(...at(outer, from)).arcTo(outer, outer, 0, false, true, ...at(outer, to));
  if (inner > 0) out.lineTo(...at(inner, to)).arcTo(inner, inner, 0, false, false, ...at(inner, from));
  out.close();
}

function polygon(out: PathBuilder, points: readonly Point[]): void {
  points.forEach(([x, y], i) => (i === 0 ? out.moveTo(x, y) : out.lineTo(x, y)));
  out.close();
}

/** What stands on the outer side of a joint. */
function addJoin(out: PathBuilder, a: Piece, b: Piece, half: number, o: StrokeOptions): void {
  const [u, v] = [wayAt(a, 1), wayAt(b, 0)];
  const turn = Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]);
  if (Math.abs(turn) < 1e-7) return;
  const [x, y] = endOf(a);
  // On the right where it turns left, on the left where it turns right.
  const side = turn > 0 ? 1 : -1;
  const out1: Point = [x + side * u[1] * half, y - side * u[0] * half];
  const out2: Point = [x + side * v[1] * half, y - side * v[0] * half];
  if (o.join === 'round') {
    const start = Math.atan2(out1[1] - y, out1[0] - x);
    if (turn > 0) sector(out, x, y, 0, half, start, start + turn);
    else sector(out, x, y, 0, half, start + turn, start);
    return;
  }
  const reach = 1 / Math.cos(turn / 2);
  const corners: Point[] = [[x, y], out1];
  if (o.join === 'miter' && Math.abs(turn) < Math.PI - 1e-6 && reach <= o.miter) {
    const k = half * reach;
    const [mx, my] = [side * (u[1] + v[1]), -side * (u[0] + v[0])];
    const l = Math.hypot(mx, my);
    corners.push([x + (mx / l) * k, y + (my / l) * k]);
  }
  corners.push(out2);
  polygon(out, turn > 0 ? corners : corners.reverse());
}

function addCap(out: PathBuilder, [x, y]: Point, [ux, uy]: Point, half: number, cap: StrokeOptions['cap']): void {
  if (cap === 'butt') return;
  const right: Point = [x + uy * half, y - ux * half];
  const left: Point = [x - uy * half, y + ux * half];
  if (cap === 'square') {
    polygon(out, [
      right,
      [right[0] + ux * half, right[1] + uy * half],
      [left[0] + ux * half, left[1] + uy * half],
      left,
    ]);
    return;
  }
  const start = Math.atan2(right[1] - y, right[0] - x);
  sector(out, x, y, 0, half, start, start + Math.PI / 2);
  sector(out, x, y, 0, half, start + Math.PI / 2, start + Math.PI);
}
