import type { TextForm } from '../text/outlines.js';
import { textToOutlines } from '../text/outlines.js';
import type { Step } from './step.js';

const FORMS = ['outlines', 'lines', 'fittedLines'] as const;

/** Turns every text into shapes, for receivers that have not its font or take no text. */
export const textToShapes: Step = {
  id: 'text-to-outlines',
  title: 'Text to outlines',
  summary: 'Every text becomes the closed outlines of its letters, or single lines that a tool can follow.',
  carries: ['text'],
  on: 'definition',
  params: {
    type: 'object',
    properties: {
      form: {
        type: 'string',
        title: 'Letters become',
        default: 'outlines',
        enum: FORMS,
        titles: ['Closed outlines', 'Single lines', 'Single lines as wide as their own letters'],
      },
    },
    required: ['form'],
    additionalProperties: false,
  },
  run: (drawing, params, ctx) =>
    textToOutlines(drawing, ctx.fonts, ctx.ledger, params['form'] as TextForm, ctx.lineage),
};
