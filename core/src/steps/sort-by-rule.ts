import { sortLayers } from '../drawing/layer-rule.js';
import { checkStop } from '../formats/format.js';
import { LAYER_RULE_TITLES } from '../parameters/layer-rules.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Puts every entity on a layer named after its group, colour, class or line width. */
export const sortByRule = defineStep({
  id: 'sort-by-rule',
  title: 'Sort by rule',
  summary: 'Makes layers from what objects are: their whole group path, stroke or fill colour, class, or line width.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0H20V12H0Z', { stroke: { kind: 'rgb', rgb: 0x2d5a6b } }),
      sketch.path('M26 0H46V12H26Z', { stroke: { kind: 'rgb', rgb: 0xa8472e } }),
    ]),
  },
  params: {
    by: p.choice({
      title: 'A layer for each',
      default: 'stroke',
      choices: LAYER_RULE_TITLES,
    }),
  },
  run: (drawing, params, ctx) => sortLayers(drawing, params.by, ctx.ledger, ctx.lineage, () => checkStop(ctx)),
});
