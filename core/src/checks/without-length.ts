import { surveyOf } from '../drawing/survey.js';
import { checkStop } from '../formats/format.js';
import type { Check, Finding } from './check.js';
import { isNoOutline } from './check.js';
import { extentOf } from './extent.js';

/** Finds curves too short to be meant. */
export const withoutLength: Check = {
  id: 'without-length',
  title: 'Curves without length',
  summary: 'Curves of no length are seen by no one and stop machines; they come from snapping twice to one point.',
  carries: ['curves'],
  params: {
    type: 'object',
    properties: {
      shortest: {
        type: 'number',
        title: 'Report curves up to this length',
        description: '0 = a thousand-millionth of the diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
    },
    required: [],
    additionalProperties: false,
  },
  mend: { step: 'clear-doubles', words: 'Clear these curves', params: () => ({ what: 'lengthless', within: 0 }) },
  run(drawing, params, work) {
    const limit = Number(params['shortest'] ?? 0) || extentOf(drawing).diagonal * 1e-9;
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    const found: Finding[] = [];
    let n = 0;
    const survey = surveyOf(drawing);
    survey.each(({ entity: e, resolved, top }, i) => {
      if (++n % 4096 === 0) checkStop(work);
      if (isNoOutline(top)) return;
      if (!['line', 'polyline', 'arc', 'circle', 'ellipse', 'spline', 'path'].includes(e.kind)) return;
      // A box larger than the limit holds a curve that is longer; only small ones are measured.
      const box = survey.box(i);
      if (box.empty || box.diagonal > limit) return;
      const length = survey.length(i);
      if (length > limit) return;
      found.push({
        check: 'without-length',
        severity: 'warning',
        message:
          length === 0 ? `A ${e.kind} of no length` : `A ${e.kind} only ${Number(length.toPrecision(3))}${unit} long`,
        at: { x: box.minX, y: box.minY },
        size: length,
        layer: resolved.layer,
        ids: [e.id],
      });
    });
    return found;
  },
};
