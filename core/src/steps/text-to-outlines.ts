import { textToOutlines } from '../text/outlines.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Turns every text into shapes, for receivers that have not its font or take no text. */
export const textToShapes = defineStep({
  id: 'text-to-outlines',
  title: 'Text to outlines',
  summary: 'Every text becomes the closed outlines of its letters, or single lines that a tool can follow.',
  carries: ['text'],
  group: 'text',
  example: { drawing: exampleDrawing([sketch.text('Kestrel', 0, 0, 10)]) },
  params: {
    form: p.choice({
      title: 'Letters become',
      default: 'outlines',
      choices: {
        outlines: 'Closed outlines',
        lines: 'Single lines',
        fittedLines: 'Single lines as wide as their own letters',
      },
    }),
  },
  run: (drawing, params, ctx) => textToOutlines(drawing, ctx.fonts, ctx.ledger, params.form, ctx.lineage),
});
