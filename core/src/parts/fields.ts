import { DEPTH_SOURCES, depthSources } from '../analysis/depth-fields.js';
import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import { LIST_RULES } from './list.js';
import type { ListRules } from './list.js';
import { NUMBERING } from './number.js';
import type { Sayable } from './said.js';
import { SAYABLE } from './said.js';

const tag = (what: string): ReturnType<typeof p.text> =>
  p.text({ title: `Attribute that says the ${what}`, default: '', maxLength: 255 });

/** What is asked of a drawing whose parts are listed: form, schema and judge follow, as for steps. */
export const PART_FIELDS = {
  by: p.list({
    title: 'What belongs together, the first that fits counting; all else by its outlines',
    atMost: 20,
    item: p.group({
      title: 'Way',
      params: {
        how: p.choice({
          title: 'All that is',
          default: 'group',
          choices: {
            layer: 'on one layer',
            group: 'in one group',
            block: 'in one placed block',
          },
        }),
        named: p.text({ title: 'named', default: '', maxLength: 2000 }),
      },
    }),
  }),
  layerSays: p.text({
    title: 'Layers are named',
    description: 'such as {material}-{thickness}; also {number}, {name}, {kind}, {quantity}, {grain}, {side}',
    default: '',
    maxLength: 255,
  }),
  chart: p.list({
    title: 'What layers say, whatever they are called',
    atMost: 200,
    item: p.group({
      title: 'Layers',
      params: {
        layers: p.text({ title: 'Layers', default: '', maxLength: 2000, suggest: 'layers' }),
        material: p.text({ title: 'Material', default: '', maxLength: 200 }),
        thickness: p.text({ title: 'Thickness', default: '', maxLength: 60 }),
        kind: p.text({ title: 'Kind', default: '', maxLength: 200 }),
        grain: p.text({ title: 'Grain, ° from x', default: '', maxLength: 20 }),
      },
    }),
  }),
  labelSays: p.text({ title: 'Labels read', description: 'such as No {number}', default: '', maxLength: 255 }),
  attributes: p.group({
    title: 'Attributes of placed blocks',
    folded: true,
    params: Object.fromEntries(SAYABLE.map((s) => [s, tag(s)])) as Record<Sayable, ReturnType<typeof tag>>,
  }),
  letters: p.text({
    title: 'Letters drawn as outlines, on layers or in groups named',
    default: '',
    maxLength: 2000,
    suggest: 'layers',
  }),
  smallest: p.optional(p.area({ title: 'Outlines are parts from an area of', default: 0, atLeast: 0 }), 'any'),
  offer: p.optional(p.length({ title: 'Texts outside belong to a part within', default: 0, above: 0 }), 'none'),
  bound: p.optional(p.length({ title: 'Equal parts lie on each other within', default: 0.01, above: 0 }), 'by size'),
  facesAlike: p.yesNo({ title: 'Both faces are alike: mirrored parts are the same', default: false }),
  grain: p.angle({ title: 'The grain runs, from x, where nothing else is said', default: 0 }),
  numbering: p.group({
    title: 'Numbers',
    params: {
      prefix: p.text({
        title: 'Before',
        description: 'such as P- or {kind}-',
        default: NUMBERING.prefix,
        maxLength: 40,
      }),
      digits: p.number({ title: 'Digits', default: NUMBERING.digits, whole: true, atLeast: 1, atMost: 12 }),
      suffix: p.text({ title: 'After', default: NUMBERING.suffix, maxLength: 40 }),
      first: p.number({ title: 'From', default: NUMBERING.first, whole: true, atLeast: 0, atMost: 1e9 }),
      order: p.choice({
        title: 'Go',
        default: 'rows',
        choices: { rows: 'from top to bottom, each row from the left', size: 'from the largest to the smallest' },
      }),
    },
  }),
  depths: p.group({ title: 'Whether holes go through', folded: true, params: DEPTH_SOURCES }),
};

/** The rules that fields amount to; `size`: the diagonal of the drawing, of which equal parts may be a millionth off. */
export function listRules(o: Infer<typeof PART_FIELDS>, size: number): ListRules {
  return {
    ...LIST_RULES,
    by: o.by,
    letters: o.letters,
    smallest: o.smallest ?? 0,
    offer: o.offer ?? 0,
    words: { layer: o.layerSays, chart: o.chart, label: o.labelSays, attributes: o.attributes },
    numbering: { ...o.numbering, row: 0 },
    bound: o.bound ?? size * 1e-6,
    facesAlike: o.facesAlike,
    grain: o.grain,
    depths: depthSources(o.depths),
  };
}
