import { applyPoint } from '../geometry/affine.js';
import { isAngular, readDimensionText } from '../drawing/dimension.js';
import type { Dimension } from '../drawing/entity.js';
import { surveyOf } from '../drawing/survey.js';
import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** Finds dimensions whose text is not their length. */
export const typedOverDimensions = defineCheck({
  id: 'typed-over-dimensions',
  title: 'Typed-over dimensions',
  summary:
    'A dimension whose number was typed says something other than what the drawing measures; whoever builds from it builds the wrong size.',
  carries: ['scale', 'text'],
  params: {
    report: p.choice({
      title: 'Report',
      default: 'typedOver',
      choices: { typedOver: 'numbers that are not the measured one', words: 'those, and words without a number' },
    }),
  },
  run(drawing, params) {
    const found: Finding[] = [];
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    surveyOf(drawing).each(({ entity: e, toWorld, resolved }) => {
      if (e.kind !== 'dimension') return;
      const read = readDimensionText(e, drawing);
      const wrong = read.verdict === 'typedOver';
      if (!wrong && !(params.report === 'words' && read.verdict === 'words')) return;
      const sign = isAngular(e) ? '°' : unit;
      const short = (v: number): string => String(Number(v.toPrecision(7))) + sign;
      const measured = isAngular(e) ? ((read.measured ?? 0) * 180) / Math.PI : (read.measured ?? 0);
      const at = applyPoint(toWorld, placeOf(e));
      found.push({
        check: 'typed-over-dimensions',
        severity: wrong ? 'error' : 'note',
        message: wrong
          ? `The text says ${read.shown.trim()}, the drawing measures ${short(read.expected ?? measured)}`
          : `The text says “${read.shown.trim()}”, the drawing measures ${short(measured)}`,
        at: { x: at[0], y: at[1] },
        size: isAngular(e) ? null : (read.measured ?? null),
        layer: resolved.layer,
        ids: [e.id],
        ...(read.measured !== null && !isAngular(e) && { span: read.measured * 1.5 }),
      });
    });
    return found;
  },
});

/** Where a person looks for a dimension: its text, an end of its line, or the middle of what it measures. */
function placeOf(e: Dimension): readonly [number, number, number] {
  const p = e.points;
  if (p[11] && (p[11][0] !== 0 || p[11][1] !== 0)) return p[11];
  if (p[10] && (e.form === 'linear' || e.form === 'aligned')) return p[10];
  const [a, b] = [p[13] ?? p[10] ?? [0, 0, 0], p[14] ?? p[15] ?? p[10] ?? [0, 0, 0]];
  return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 0];
}
