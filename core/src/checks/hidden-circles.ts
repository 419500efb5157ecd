import { hiddenCircle } from '../drawing/hidden-circle.js';
import { surveyOf } from '../drawing/survey.js';
import { checkStop } from '../formats/format.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { CIRCLE_TOLERANCE } from '../parameters/circle-tolerance.js';
import { isAnnotationPart } from '../analysis/annotation.js';

/** Finds circles that are drawn as chords or Béziers. */
export const hiddenCircles = defineCheck({
  id: 'hidden-circles',
  title: 'Circles drawn as something else',
  summary:
    'A circle of chords or Béziers has no centre to snap to and no diameter to drill; machines cut it in facets.',
  carries: ['curves'],
  params: CIRCLE_TOLERANCE,
  mend: {
    step: 'recover-arcs',
    words: 'Make these circles',
    params: (s) => ({ tolerance: s.tolerance, arcs: false, ellipses: false, straights: false }),
  },
  run(drawing, params, work) {
    const tolerance = params.tolerance / 1000;
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    const found: Finding[] = [];
    let n = 0;
    surveyOf(drawing).each(({ entity: e, resolved, top, depth }) => {
      if (++n % 4096 === 0) checkStop(work);
      if (depth > 0 || isAnnotationPart(top) || e.normal) return;
      const c = hiddenCircle(e, tolerance);
      if (!c) return;
      const diameter = Number((2 * c.radius).toPrecision(6));
      const what = e.kind === 'polyline' ? `${c.pieces} chords` : `${c.pieces} curves of a path`;
      found.push({
        check: 'hidden-circles',
        severity: 'warning',
        message: `A circle of Ø ${diameter}${unit} drawn as ${what}`,
        at: { x: c.x, y: c.y },
        size: c.off,
        span: 4 * c.radius,
        layer: resolved.layer,
        ids: [e.id],
      });
    });
    return found;
  },
});
