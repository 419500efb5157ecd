import type { LayerRule } from '../drawing/layer-rule.js';
import { LAYER_RULES, sortLayers } from '../drawing/layer-rule.js';
import type { Step } from './step.js';

/** Puts every entity on a layer named after its group, colour, class or line width. */
export const sortByRule: Step = {
  id: 'sort-by-rule',
  title: 'Sort by rule',
  summary: 'Makes layers from what entities are: their whole group path, stroke or fill colour, class, or line width.',
  carries: ['layers'],
  on: 'definition',
  params: {
    type: 'object',
    properties: {
      by: {
        type: 'string',
        title: 'A layer for each',
        default: 'stroke',
        enum: LAYER_RULES,
        titles: ['Group, with the groups around it', 'Stroke colour', 'Fill colour', 'Class', 'Line width'],
      },
    },
    required: ['by'],
    additionalProperties: false,
  },
  run: (drawing, params, ctx) => sortLayers(drawing, params['by'] as LayerRule, ctx.ledger, ctx.lineage),
};
