import { shortCurvesOf } from '../analysis/short-curves.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { AKind } from './words.js';

/** Finds curves too short to be meant. */
export const withoutLength = defineCheck({
  id: 'without-length',
  title: 'Zero-length curves',
  summary: 'Zero-length curves are invisible and can stop a machine; they come from snapping twice to one point.',
  carries: ['curves'],
  params: {
    shortest: p.length({
      title: 'Report curves up to this length',
      automatic: 'a thousand-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  mend: { step: 'clear-doubles', words: 'Clear these curves', params: () => ({ what: 'lengthless', within: 0 }) },
  run(drawing, params, work) {
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    return shortCurvesOf(drawing, params.shortest, work).map(({ entity: e, layer, length, box }) => ({
      check: 'without-length',
      severity: 'warning',
      message:
        length === 0
          ? `${AKind(e.kind)} of length 0`
          : `${AKind(e.kind)} only ${Number(length.toPrecision(3))}${unit} long`,
      at: { x: box.minX, y: box.minY },
      size: length,
      layer,
      ids: [e.id],
    }));
  },
});
