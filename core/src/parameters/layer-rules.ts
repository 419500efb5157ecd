import type { LayerRule } from '../drawing/layer-rule.js';

/** What layers can be made from, as it is asked: the same for who takes a drawing in and who prepares it. */
export const LAYER_RULE_TITLES: Readonly<Record<LayerRule, string>> = {
  path: 'Group, with the groups around it',
  stroke: 'Stroke colour',
  fill: 'Fill colour',
  class: 'Class',
  width: 'Line width',
};
