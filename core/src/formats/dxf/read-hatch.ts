import { bulgeArc } from '../../geometry/arcs.js';
import type { Entity, HatchLoop, PatternLine } from '../../drawing/entity.js';
import { PathBuilder } from '../../geometry/path.js';
import type { Common } from './read-entities.js';
import { radiansOf } from './numbers.js';
import type { TagBag } from './tags.js';

/** Reads the tags of a record one after the other. */
class Cursor {
  constructor(
    private readonly bag: TagBag,
    public i: number,
  ) {}
  is(code: number): boolean {
    return this.i < this.bag.count && this.bag.codes[this.i] === code;
  }
  /** The number of the next tag if it has the code, otherwise the given one. */
  take(code: number, otherwise = 0): number {
    if (!this.is(code)) return otherwise;
    return this.bag.numberAt(this.i++);
  }
  skip(...codes: number[]): void {
    for (const c of codes) this.take(c);
  }
  /** Moves to the next tag with the code; `false` when there is none. */
  seek(code: number): boolean {
    while (this.i < this.bag.count && this.bag.codes[this.i] !== code) this.i++;
    return this.i < this.bag.count;
  }
}

/**
 * HATCH. Boundaries are given as polylines with bulges or as edges: line 1, circular arc 2, elliptic arc 3, spline 4
 * (DXF reference, "Boundary Path Data"). Angles of arcs that run clockwise are stored mirrored.
 */
export function readHatch(b: TagBag, c: Common): Entity | null {
  const cursor = new Cursor(b, 0);
  if (!cursor.seek(91)) return null;
  const count = Math.min(cursor.take(91), b.count);
  const loops: HatchLoop[] = [];
  for (let n = 0; n < count; n++) {
    if (!cursor.seek(92)) break;
    const flags = cursor.take(92);
    const path = new PathBuilder();
    if (flags & 2) polylineLoop(cursor, path);
    else edgeLoop(cursor, path);
    if (!path.empty) loops.push({ path: path.build(), flags });
  }
  return {
    kind: 'hatch',
    ...c,
    loops,
    solid: b.integer(70) === 1,
    pattern: b.text(2, 'SOLID'),
    elevation: b.number(30),
    angle: radiansOf(b.number(52)),
    scale: b.number(41, 1),
    ...patternLines(b),
  };
}

/** The pattern definition: per family angle 53, base 43 44, step 45 46, then 79 dashes 49. */
function patternLines(b: TagBag): { lines?: PatternLine[] } {
  const cursor = new Cursor(b, 0);
  if (!cursor.seek(78)) return {};
  const n = cursor.take(78);
  const lines: PatternLine[] = [];
  for (let i = 0; i < n && cursor.is(53); i++) {
    const angle = radiansOf(cursor.take(53));
    const base: [number, number] = [cursor.take(43), cursor.take(44)];
    const step: [number, number] = [cursor.take(45), cursor.take(46)];
    const dashes: number[] = [];
    for (let k = cursor.take(79); k > 0 && cursor.is(49); k--) dashes.push(cursor.take(49));
    lines.push({ angle, base, step, dashes });
  }
  return lines.length > 0 ? { lines } : {};
}

function polylineLoop(cursor: Cursor, path: PathBuilder): void {
  const hasBulge = cursor.take(72) !== 0;
  const closed = cursor.take(73, 1) !== 0;
  const n = cursor.take(93);
  const pts: [number, number, number][] = [];
  for (let i = 0; i < n && cursor.is(10); i++) {
    const x = cursor.take(10);
    const y = cursor.take(20);
    pts.push([x, y, hasBulge ? cursor.take(42) : 0]);
  }
  if (pts.length < 2) return;
  path.moveTo(pts[0][0], pts[0][1]);
  for (let i = 0; i < pts.length; i++) {
    const j = (i + 1) % pts.length;
    if (j === 0 && !closed) break;
    const [x0, y0, bulge] = pts[i];
    const [x1, y1] = pts[j];
    const arc = bulgeArc(x0, y0, x1, y1, bulge);
    if (arc) path.arcTo(arc.radius, arc.radius, 0, Math.abs(arc.sweep) > Math.PI, arc.sweep > 0, x1, y1);
    else if (j !== 0) path.lineTo(x1, y1);
  }
  path.close();
}

function edgeLoop(cursor: Cursor, path: PathBuilder): void {
  const n = cursor.take(93);
  let at: [number, number] | null = null;
  const go = (x: number, y: number): void => {
    if (!at) path.moveTo(x, y);
    else if (Math.hypot(at[0] - x, at[1] - y) > 1e-9 * (Math.abs(x) + Math.abs(y) + 1)) path.lineTo(x, y);
  };
  for (let i = 0; i < n; i++) {
    if (!cursor.is(72)) break;
    const kind = cursor.take(72);
    if (kind === 1) {
      const [x0, y0, x1, y1] = [cursor.take(10), cursor.take(20), cursor.take(11), cursor.take(21)];
      go(x0, y0);
      path.lineTo(x1, y1);
      at = [x1, y1];
    } else if (kind === 2 || kind === 3) {
      const [cx, cy] = [cursor.take(10), cursor.take(20)];
      const [ux, uy] = kind === 3 ? [cursor.take(11), cursor.take(21)] : [1, 0];
      const size = cursor.take(40);
      const rx = kind === 3 ? Math.hypot(ux, uy) : size;
      const ry = kind === 3 ? rx * size : size;
      const turn = Math.atan2(uy, ux);
      let from = radiansOf(cursor.take(50));
      let to = radiansOf(cursor.take(51));
      const ccw = cursor.take(73, 1) !== 0;
      if (!ccw) [from, to] = [-from, -to];
      const sweep = to - from;
      const point = (t: number): [number, number] => {
        const [px, py] = [rx * Math.cos(t), ry * Math.sin(t)];
        return [cx + px * Math.cos(turn) - py * Math.sin(turn), cy + px * Math.sin(turn) + py * Math.cos(turn)];
      };
      go(...point(from));
      // Halves, so that a whole turn has two distinct ends.
      for (const t of [from + sweep / 2, to])
        path.arcTo(rx, ry, turn, Math.abs(sweep) > 2 * Math.PI, sweep > 0, ...point(t));
      at = point(to);
    } else if (kind === 4) at = splineEdge(cursor, path, go);
    else break;
  }
  path.close();
}

/** A spline edge: drawn by its control polygon when it is not a clamped cubic without inner knots. */
function splineEdge(cursor: Cursor, path: PathBuilder, go: (x: number, y: number) => void): [number, number] {
  const degree = cursor.take(94);
  const rational = cursor.take(73) !== 0;
  cursor.take(74);
  const knots = cursor.take(95);
  const n = cursor.take(96);
  for (let i = 0; i < knots && cursor.is(40); i++) cursor.take(40);
  const pts: [number, number][] = [];
  for (let i = 0; i < n && cursor.is(10); i++) {
    pts.push([cursor.take(10), cursor.take(20)]);
    if (rational) cursor.take(42);
  }
  // Fit points and end tangents (from version 2010 on) say nothing that the control points do not.
  for (let fit = cursor.take(97); fit > 0 && cursor.is(11); fit--) cursor.skip(11, 21);
  cursor.skip(12, 22);
  cursor.skip(13, 23);
  if (pts.length === 0) return [0, 0];
  go(...pts[0]);
  if (degree === 3 && pts.length % 3 === 1) {
    for (let i = 1; i + 2 < pts.length; i += 3) path.cubicTo(...pts[i], ...pts[i + 1], ...pts[i + 2]);
  } else for (const p of pts.slice(1)) path.lineTo(...p);
  return pts[pts.length - 1];
}
