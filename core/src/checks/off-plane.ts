import type { CurveSink } from '../drawing/curves.js';
import { curvesOf } from '../drawing/curves.js';
import { surveyOf } from '../drawing/survey.js';
import { checkStop } from '../formats/format.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { AKind, lengthWords } from './words.js';
import { extentOf } from '../analysis/extent.js';
import { UNSEEN } from '../geometry/tolerance.js';

/** The lowest and highest z of curves, and one place on them. Ends and control points tell enough. */
class Heights implements CurveSink {
  low = Infinity;
  high = -Infinity;
  at: { x: number; y: number } | null = null;
  move(x: number, y: number, z: number): void {
    this.line(x, y, z);
  }
  line(x: number, y: number, z: number): void {
    this.at ??= { x, y };
    if (z < this.low) this.low = z;
    if (z > this.high) this.high = z;
  }
  arc(
    c: readonly number[],
    u: readonly number[],
    v: readonly number[],
    _s: number,
    _w: number,
    x: number,
    y: number,
    z: number,
  ): void {
    this.line(x, y, z);
    const reach = Math.hypot(u[2]!, v[2]!);
    if (reach === 0) return;
    this.line(x, y, c[2]! + reach);
    this.line(x, y, c[2]! - reach);
  }
  cubic(x1: number, y1: number, z1: number, x2: number, y2: number, z2: number, x: number, y: number, z: number): void {
    this.line(x1, y1, z1);
    this.line(x2, y2, z2);
    this.line(x, y, z);
  }
  nurbs(curve: { points: Float64Array }): void {
    for (let i = 0; i < curve.points.length; i += 3)
      this.line(curve.points[i]!, curve.points[i + 1]!, curve.points[i + 2]!);
  }
}

/** Finds curves that leave the plane of the drawing: flat formats lay them down and lengths become shorter. */
export const offPlane = defineCheck({
  id: 'off-plane',
  title: 'Off the plane',
  summary: 'What rises out of the plane is laid flat by formats without a third axis: its lengths and shapes change.',
  carries: ['curves', 'scale'],
  params: {
    within: p.length({
      title: 'Flat up to this height',
      automatic: 'a millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  mend: { step: 'lay-flat', words: 'Lay everything flat', params: () => ({}) },
  run(drawing, params, work) {
    const limit = params.within || extentOf(drawing).diagonal * UNSEEN;
    const levels = new Map<number, { ids: number[]; layer: string; at: { x: number; y: number } | null }>();
    const found: Finding[] = [];
    let n = 0;
    surveyOf(drawing).each(({ entity: e, toWorld, resolved }) => {
      if (++n % 4096 === 0) checkStop(work);
      if (e.kind === 'text' || e.kind === 'richText' || e.kind === 'insert') return;
      const sink = new Heights();
      curvesOf(e, toWorld, sink);
      if (sink.at === null || !Number.isFinite(sink.low)) return;
      const rise = sink.high - sink.low;
      if (rise > limit) {
        if (found.length < 200)
          found.push({
            check: 'off-plane',
            severity: 'warning',
            message: `${AKind(e.kind)} rises by ${lengthWords(drawing, rise)}`,
            at: sink.at,
            size: rise,
            layer: resolved.layer,
            ids: [e.id],
          });
        return;
      }
      const level = Math.round(sink.low / limit);
      const known = levels.get(level) ?? { ids: [], layer: resolved.layer, at: sink.at };
      levels.set(level, known);
      known.ids.push(e.id);
    });
    // All at one height is flat, wherever that is; others lie above or below most.
    const most = [...levels].sort((a, b) => b[1].ids.length - a[1].ids.length)[0];
    if (most && levels.size > 1) {
      const others = [...levels].filter(([k]) => k !== most[0]);
      const ids = others.flatMap(([, l]) => l.ids);
      found.push({
        check: 'off-plane',
        severity: 'note',
        message: `${ids.length === 1 ? '1 flat curve lies' : `${ids.length} flat curves lie`} on ${others.length === 1 ? 'another level' : `${others.length} other levels`} than most, up to ${lengthWords(drawing, Math.max(...others.map(([k]) => Math.abs(k - most[0]))) * limit)} away`,
        at: others[0]![1].at,
        size: null,
        layer: others[0]![1].layer,
        ids: ids.slice(0, 1000),
      });
    }
    return found;
  },
});
