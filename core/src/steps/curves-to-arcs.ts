import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import { isCircular, isStraight } from '../drawing/courses.js';
import { asBiarcs } from '../geometry/biarcs.js';
import { p } from '../parameters/parameter.js';
import { KINDS_LEFT, changeCurves } from './curve-change.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Makes arcs that go on each other of free curves and parts of ellipses. */
export const curvesToArcs = defineStep({
  id: 'curves-to-arcs',
  title: 'Curves to arcs',
  summary:
    'Free curves and ellipses become circular arcs that go on each other without a kink, as few as a bound allows.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([sketch.path('M0 0C20 40 40 -30 60 10'), sketch.path('M0 30C20 60 50 50 60 26')]),
    params: { bound: 0.5 },
  },
  params: {
    bound: p.length({
      title: 'Off the curve by at most',
      automatic: 'a ten-thousandth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    ...KINDS_LEFT,
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const bound = params.bound || extentOf(drawing).diagonal * 1e-4;
    if (!(bound > 0)) return drawing;
    return changeCurves(drawing, ctx, {
      wanted: selectedBy(params.which, drawing),
      concerns: ({ pieces }) => pieces.some((q) => !isStraight(q) && !isCircular(q)),
      asPolylines: params.kinds === 'polylines',
      follow: bound / 4,
      code: 'as-arcs',
      reason: () => 'curves-as-arcs',
      change: (run, scale) => {
        const { pieces, off } = asBiarcs(run.pieces, bound / scale);
        return { run: { ...run, pieces }, off };
      },
    });
  },
});
