import type { Rgb } from '../drawing/appearance.js';
import { colourDifference, coloursAlike } from '../drawing/colour-difference.js';
import { hex } from '../drawing/palette.js';
import { because } from '../drawing/reasons.js';
import { surveyOf } from '../drawing/survey.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { changeLooks, mappedLook, mappedPaint } from './looks.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** Makes one colour of those that nobody can tell apart. */
export const evenOutColours = defineStep({
  id: 'even-out-colours',
  title: 'Even out colours',
  summary: 'Colours that nobody can tell apart become the one of them that is used most.',
  carries: ['colour'],
  group: 'look',
  example: {
    drawing: exampleDrawing(
      [0xc4512d, 0xc4512d, 0xc9562f].map((rgb, i) =>
        sketch.path(`M${22 * i} 0h16v24h-16Z`, { fill: { kind: 'rgb', rgb } }),
      ),
    ),
    params: { within: 6 },
  },
  params: {
    within: p.number({
      title: 'Alike when closer than (CIE 1976)',
      description: '2.3 is just noticeable',
      default: 2.3,
      above: 0,
    }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const uses = new Map<Rgb, number>();
    surveyOf(drawing).each(({ resolved }) => {
      for (const rgb of [resolved.stroke, resolved.fill]) if (rgb !== null) uses.set(rgb, (uses.get(rgb) ?? 0) + 1);
    });
    const to = new Map<Rgb, Rgb>();
    for (const [head, alike] of coloursAlike(uses, params.within)) for (const rgb of alike) to.set(rgb, head);
    if (to.size === 0) return drawing;
    const map = (rgb: Rgb): Rgb => to.get(rgb) ?? rgb;
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look, layer) => mappedLook(look, layer, map),
      layer: (l) => {
        const paint = mappedPaint(l.paint, map);
        return paint === l.paint ? l : { ...l, paint };
      },
    });
    const [from, head] = [...to].reduce((a, b) => (colourDifference(...b) > colourDifference(...a) ? b : a));
    tellChange(
      ctx,
      'colour',
      made.count + made.layers,
      because('colours-to-nearest', {
        difference: colourDifference(from, head).toFixed(1),
        which: `${hex(from)} to ${hex(head)}`,
      }),
    );
    return made.drawing;
  },
});
