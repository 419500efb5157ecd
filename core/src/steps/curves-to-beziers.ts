import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import { joinedArcs } from '../drawing/courses.js';
import { TAU } from '../geometry/arcs.js';
import { arcAsCubics, cubicOff, cubicParts } from '../geometry/arc-cubics.js';
import type { Piece } from '../geometry/path-pieces.js';
import { endOf, pointAt, startOf } from '../geometry/path-pieces.js';
import { AT_END } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { changeCurves } from './curve-change.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Makes cubic Béziers of arcs, circles, ellipses and splines. */
export const curvesToBeziers = defineStep({
  id: 'curves-to-beziers',
  title: 'Curves to Béziers',
  summary: 'Arcs, circles, ellipses and splines become paths of cubic Béziers, as few as a bound allows.',
  carries: ['curves'],
  group: 'curves',
  example: { drawing: exampleDrawing([sketch.circle(12, 12, 12), sketch.arc(40, 4, 18, 20, 160)]) },
  params: {
    bound: p.length({
      title: 'Off the curve by at most',
      automatic: 'a hundred-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    quarters: p.yesNo({ title: 'Points where curves turn their quarters', default: true }),
    lines: p.yesNo({ title: 'Straight lines too: cubics only', default: false }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const bound = params.bound || extentOf(drawing).diagonal * 1e-5;
    if (!(bound > 0)) return drawing;
    const isDone = (q: Piece): boolean =>
      q.kind === 'bezier' && (q.p.length === 8 || (q.p.length === 4 && !params.lines));
    const chosen = selectedBy(params.which, drawing);
    return changeCurves(drawing, ctx, {
      // A polyline or line of straights alone stays one.
      wanted: chosen,
      concerns: ({ pieces }) => pieces.some((q) => !isDone(q)),
      follow: bound,
      code: 'as-beziers',
      reason: () => 'curves-as-beziers',
      change: (run, scale) => {
        let off = 0;
        const pieces = joinedArcs(run.pieces, TAU).flatMap((q): Piece[] => {
          if (isDone(q)) return [q];
          if (q.kind === 'bezier') return [cubicOf(q)];
          const radius = Math.max(q.rx, q.ry);
          return (params.quarters ? quartered(q) : [q]).flatMap((part) => {
            const n = cubicParts(radius, part.sweep, bound / scale);
            off = Math.max(off, radius * cubicOff(part.sweep / n));
            let from = startOf(part);
            return arcAsCubics(part, endOf(part) as [number, number], n).map((c): Piece => {
              const made: Piece = { kind: 'bezier', p: [...from, ...c] };
              from = [c[4], c[5]];
              return made;
            });
          });
        });
        return { run: { ...run, pieces }, off };
      },
    });
  },
});

/** A line or quadratic as a cubic, exactly. */
function cubicOf({ p: q }: Extract<Piece, { kind: 'bezier' }>): Piece {
  const third = (a: number, b: number, k: number): number => a + (b - a) * k;
  if (q.length === 4) {
    const [x0, y0, x1, y1] = q as [number, number, number, number];
    return {
      kind: 'bezier',
      p: [x0, y0, third(x0, x1, 1 / 3), third(y0, y1, 1 / 3), third(x0, x1, 2 / 3), third(y0, y1, 2 / 3), x1, y1],
    };
  }
  const [x0, y0, x1, y1, x2, y2] = q as [number, number, number, number, number, number];
  return {
    kind: 'bezier',
    p: [x0, y0, third(x0, x1, 2 / 3), third(y0, y1, 2 / 3), third(x2, x1, 2 / 3), third(y2, y1, 2 / 3), x2, y2],
  };
}

/** An arc cut where it turns its quarters, counted in its own axes. */
function quartered(a: Extract<Piece, { kind: 'arc' }>): Extract<Piece, { kind: 'arc' }>[] {
  const quarter = Math.PI / 2;
  const [low, high] = [Math.min(a.start, a.start + a.sweep), Math.max(a.start, a.start + a.sweep)];
  const cuts: number[] = [];
  for (let k = Math.ceil(low / quarter - AT_END); k * quarter < high - AT_END; k++)
    if (k * quarter > low + AT_END) cuts.push(k * quarter);
  if (a.sweep < 0) cuts.reverse();
  const ends = [a.start, ...cuts, a.start + a.sweep];
  return ends.slice(1).map((end, i) => {
    const at = (t: number): readonly [number, number] => pointAt(a, (t - a.start) / a.sweep);
    const from = i === 0 ? a.from : at(ends[i]!);
    return { ...a, start: ends[i]!, sweep: end - ends[i]!, from, to: i + 2 === ends.length ? a.to : at(end) };
  });
}
