import { sortLayers } from '../drawing/layer-rule.js';
import { checkStop } from '../formats/format.js';
import { LAYER_RULE_TITLES } from '../parameters/layer-rules.js';
import type { Kept } from '../parameters/parameter.js';
import { defaultsOf, p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { DEPTH_SOURCES, depthSources } from '../analysis/depth-fields.js';
import { LAYER_CONDITIONS } from './layer-conditions.js';
import { sortByConditions } from './sort-by-conditions.js';
import { defineStep } from './step.js';

const byRules = { by: 'rules' };
const ruleOf = (said: Kept): Kept => ({ ...defaultsOf(LAYER_CONDITIONS), ...said });

/** Puts every entity on a layer by what it is: a layer for each value of one thing, or rules of one's own. */
export const sortByRule = defineStep({
  id: 'sort-by-rule',
  title: 'Sort by rule',
  summary:
    'Makes layers from what objects are: their group, colour, class or width, or by rules of role, area, diameter, depth, words and more.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.chain([0, 0, 30, 0, 30, 20, 0, 20], true, { layer: 'CUT' }),
      sketch.circle(9, 10, 4, { layer: 'CUT' }),
      sketch.circle(22, 10, 2.5, { layer: 'CUT' }),
      sketch.chain([36, 0, 46, 0, 46, 20, 36, 20], true, { layer: 'CUT' }),
    ]),
    params: {
      by: 'rules',
      rules: [
        ruleOf({ role: 'hole', to: 'HOLES' }),
        ruleOf({ role: 'outer', areaBelow: 300, to: 'SMALL' }),
        ruleOf({ role: 'outer', to: 'LARGE' }),
      ],
    },
  },
  params: {
    by: p.choice({
      title: 'A layer for each',
      default: 'stroke',
      choices: { ...LAYER_RULE_TITLES, rules: 'Rule of a list' },
    }),
    rules: p.list({
      title: 'Rules, the first that takes an object counting',
      description: 'Outlines of several curves count as open marks until they are chained',
      item: p.group({ title: 'Rule', params: LAYER_CONDITIONS }),
      atMost: 200,
      when: byRules,
    }),
    rest: p.choice({
      title: 'What no rule takes',
      default: 'keep',
      choices: { keep: 'Stays', one: 'Goes onto one layer', ask: 'Stop here, until each has a rule' },
      when: byRules,
    }),
    restLayer: p.text({
      title: 'That layer',
      default: 'REST',
      maxLength: 255,
      suggest: 'layers',
      when: { ...byRules, rest: 'one' },
    }),
    depths: p.group({ title: 'Whether holes go through', folded: true, params: DEPTH_SOURCES, when: byRules }),
    undecided: p.text({
      title: 'Holes nobody decides go onto',
      default: 'UNDECIDED',
      maxLength: 255,
      suggest: 'layers',
      when: byRules,
    }),
  },
  run(drawing, params, ctx) {
    if (params.by !== 'rules') return sortLayers(drawing, params.by, ctx.ledger, ctx.lineage, () => checkStop(ctx));
    return sortByConditions(drawing, { ...params, depths: depthSources(params.depths) }, ctx);
  },
});
