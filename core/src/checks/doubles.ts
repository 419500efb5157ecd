import type { Nurbs } from '../geometry/nurbs.js';
import type { Vec3 } from '../geometry/vector.js';
import type { CurveSink } from '../drawing/curves.js';
import { curvesOf } from '../drawing/curves.js';
import { BoundsSink, LengthSink } from '../drawing/measures.js';
import { walk } from '../drawing/resolve.js';
import { checkStop } from '../formats/format.js';
import type { Check, Finding } from './check.js';
import { isNoOutline } from './check.js';
import { extentOf } from './extent.js';

/** Finds curves that lie on each other: a laser cuts them twice. */
export const doubles: Check = {
  id: 'doubles',
  title: 'Doubles',
  summary: 'Curves that lie exactly on each other are cut or drawn twice, and break the joining of outlines.',
  carries: ['curves'],
  params: {
    type: 'object',
    properties: {
      within: {
        type: 'number',
        title: 'The same when closer than',
        description: '0 = a ten-millionth of the diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
    },
    required: [],
    additionalProperties: false,
  },
  mend: {
    step: 'clear-doubles',
    words: 'Clear these doubles',
    params: (s) => ({ what: 'doubles', within: Number(s['within'] ?? 0) }),
  },
  run(drawing, params, work) {
    const grain = Number(params['within'] ?? 0) || extentOf(drawing).diagonal * 1e-7 || 1e-9;
    const grid = (v: number): number => Math.round(v / grain);
    const measure = new Measure();
    /** The last curve of each sum of its numbers; curves of the same sum are linked. */
    const bySum = new Map<number, Curve>();
    const groups: Curve[] = [];
    let n = 0;
    walk(drawing, ({ entity: e, toWorld, resolved, top }) => {
      if (++n % 4096 === 0) checkStop(work);
      if (isNoOutline(top)) return;
      if (e.kind === 'hatch' || e.kind === 'face' || e.kind === 'image' || e.kind === 'viewport') return;
      measure.start();
      curvesOf(e, toWorld, measure);
      if (measure.bounds.box.empty || measure.length.total === 0) return;
      const { minX, minY, maxX, maxY } = measure.bounds.box;
      // Where a closed curve begins says nothing; the ends of an open one may be either way round.
      const { ax, ay, bx, by } = measure;
      const closed = Math.hypot(ax - bx, ay - by) <= grain;
      const forward = grid(ax) < grid(bx) || (grid(ax) === grid(bx) && grid(ay) <= grid(by));
      const [px, py, qx, qy] = closed ? [0, 0, 0, 0] : forward ? [ax, ay, bx, by] : [bx, by, ax, ay];
      const key = [minX, minY, maxX, maxY, measure.length.total, px, py, qx, qy].map(grid);
      let sum = 0;
      for (const k of key) sum = Math.imul(sum ^ k, 0x9e3779b1) + (k > 2147483647 ? 1 : 0);
      let same = bySum.get(sum);
      while (same && !(same.layer === resolved.layer && same.key.every((k, i) => k === key[i]))) same = same.next;
      if (same) {
        if (same.ids.length === 1) groups.push(same);
        same.ids.push(e.id);
        return;
      }
      const next = bySum.get(sum);
      bySum.set(sum, { key, layer: resolved.layer, ids: [e.id], kind: e.kind, ...(next && { next }) });
    });
    const found: Finding[] = [];
    for (const { ids, key, layer, kind } of groups) {
      const [minX, minY, maxX, maxY] = key.map((k) => k * grain);
      const diagonal = Math.hypot(maxX - minX, maxY - minY);
      found.push({
        check: 'doubles',
        severity: 'warning',
        message: `${ids.length} curves (${kind}) lie on each other`,
        at: { x: (minX + maxX) / 2, y: (minY + maxY) / 2 },
        size: diagonal,
        span: diagonal,
        layer,
        ids: [...new Set(ids)],
      });
    }
    return found;
  },
};

/** A curve by the rounded numbers that its doubles share: its box, its length, its ends. */
interface Curve {
  key: number[];
  layer: string;
  ids: number[];
  kind: string;
  next?: Curve;
}

/** Box, length and ends of one curve at a time. */
class Measure implements CurveSink {
  bounds = new BoundsSink();
  length = new LengthSink();
  ax = 0;
  ay = 0;
  bx = 0;
  by = 0;
  private begun = false;

  start(): void {
    this.bounds = new BoundsSink();
    this.length.total = 0;
    this.begun = false;
  }
  private to(x: number, y: number): void {
    if (!this.begun) [this.ax, this.ay, this.begun] = [x, y, true];
    [this.bx, this.by] = [x, y];
  }
  move(x: number, y: number, z: number): void {
    this.to(x, y);
    this.bounds.move(x, y);
    this.length.move(x, y, z);
  }
  line(x: number, y: number, z: number): void {
    this.to(x, y);
    this.bounds.line(x, y);
    this.length.line(x, y, z);
  }
  arc(c: Vec3, u: Vec3, v: Vec3, s: number, w: number, x: number, y: number, z: number): void {
    this.to(x, y);
    this.bounds.arc(c, u, v, s, w, x, y);
    this.length.arc(c, u, v, s, w, x, y, z);
  }
  cubic(a: number, b: number, c: number, d: number, e: number, f: number, x: number, y: number, z: number): void {
    this.to(x, y);
    this.bounds.cubic(a, b, c, d, e, f, x, y);
    this.length.cubic(a, b, c, d, e, f, x, y, z);
  }
  nurbs(curve: Nurbs): void {
    const p = curve.points;
    this.to(p[0], p[1]);
    this.to(p[p.length - 3], p[p.length - 2]);
    this.bounds.nurbs(curve);
    this.length.nurbs(curve);
  }
}
