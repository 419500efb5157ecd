import type { LayerRule } from '../drawing/layer-rule.js';
import { LAYER_RULES, RULE_WORDS, layersByRule } from '../drawing/layer-rule.js';
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
  run(drawing, params, ctx) {
    const rule = params['by'] as LayerRule;
    const sorted = layersByRule(drawing, rule);
    ctx.ledger.add({
      carryOver: 'layers',
      action: 'changed',
      onPurpose: true,
      reason: `sorted onto ${sorted.drawing.layers.length} layers by ${RULE_WORDS[rule]}`,
      count: sorted.moved,
    });
    return sorted.drawing;
  },
};
