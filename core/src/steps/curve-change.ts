import type { Run } from '../drawing/courses.js';
import { polylineOfRun } from '../drawing/courses.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { LineageCode } from '../drawing/lineage.js';
import type { Reason } from '../drawing/reasons.js';
import { checkStop } from '../formats/format.js';
import { p } from '../parameters/parameter.js';
import { takenRuns } from '../drawing/taken-runs.js';
import { asWide, rebuilt } from './rebuilt.js';
import { inSpaces } from './spaces.js';
import type { StepContext } from './step.js';
import { movedBy, tellChange } from './tell.js';

/** What kinds are left, for receivers that know few. */
export const KINDS_LEFT = {
  kinds: p.choice({
    title: 'Lines, arcs and circles',
    default: 'own',
    choices: { own: 'Stay what they are', polylines: 'Become polylines too' },
  }),
};

/** How one run becomes another, by bounds in units of its space. */
export type ChangeRun = (run: Run, scale: number) => { run: Run; off: number };

export interface CurveChange {
  wanted: (e: Entity) => boolean;
  /** Whether there is anything to change in a run. */
  concerns: (run: Run) => boolean;
  change: ChangeRun;
  /** How finely splines are followed that are no Béziers, in units of the drawing. */
  follow: number;
  code: LineageCode;
  reason: (objects: number) => Reason;
  /** Lines, arcs, circles and outlines become polylines, for receivers that know no other kind. */
  asPolylines?: boolean;
}

/** Changes the curves of entities run by run, and tells how many and how far they came to lie from what they were. */
export function changeCurves(drawing: Drawing, ctx: StepContext, o: CurveChange): Drawing {
  let [count, farthest] = [0, 0];
  const made = inSpaces(drawing, ctx, ({ entities, scale }) => {
    let any = false;
    const out = entities.map((e, i) => {
      if (i % 512 === 0) checkStop(ctx);
      if (!o.wanted(e)) return e;
      const taken = takenRuns(e, o.follow / scale);
      if (!taken) {
        if (e.kind === 'spline' || (e.kind === 'ellipse' && e.normal)) ctx.leave('curve-not-flat', e);
        return e;
      }
      ctx.look();
      const isOther = o.asPolylines === true && e.kind !== 'polyline';
      if (taken.off === 0 && !isOther && !taken.runs.some(o.concerns)) return e;
      let off = 0;
      const runs = taken.runs.map((run) => {
        const next = o.change(run, scale);
        off = Math.max(off, next.off);
        return next.run;
      });
      const line = isOther && runs.length === 1 ? polylineOfRun(e, runs[0]!) : null;
      if (isOther && !line && !taken.runs.some(o.concerns)) {
        ctx.leave('no-polyline-holds-it', e);
        return e;
      }
      const to = line ? asWide(e, line) : rebuilt(e, runs);
      if (!to) {
        ctx.leave('chain-not-flat-path', e);
        return e;
      }
      any = true;
      count++;
      off += taken.off;
      farthest = Math.max(farthest, off * scale);
      ctx.lineage.replace(e, [to], o.code, off);
      return to;
    });
    return any ? out : entities;
  });
  tellChange(ctx, 'curves', count, o.reason(count), movedBy(drawing, farthest));
  return made;
}
