import { surveyOf } from '../drawing/survey.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds paints and effects that drafting, cutting and 3D have no word for, before they are lost rather than after. */
export const specialPaints = defineCheck({
  id: 'special-paints',
  title: 'Gradients, patterns, effects',
  summary:
    'Gradients, patterns, transparency, masks and effects do not survive in drafting, cutting and 3D: decide now what stands for them.',
  carries: ['colour'],
  params: {},
  mend: { step: 'plain-paints', words: 'Make these plain', params: () => ({}) },
  run(drawing) {
    const uses = new Map<string, { ids: number[]; layer: string }>();
    const note = (what: string, id: number, layer: string): void => {
      const known = uses.get(what);
      if (known) known.ids.push(id);
      else uses.set(what, { ids: [id], layer });
    };
    surveyOf(drawing).each(({ entity: e, resolved }) => {
      const { look } = e;
      if (look.fill.kind === 'gradient' || look.stroke.kind === 'gradient')
        note('with a gradient', e.id, resolved.layer);
      if (e.kind === 'hatch' && e.gradient) note('hatched with a gradient', e.id, resolved.layer);
      if (look.fill.kind === 'pattern' || look.stroke.kind === 'pattern')
        note('filled with a pattern', e.id, resolved.layer);
      if (
        look.opacity *
          (look.fill.kind === 'none' ? 1 : look.fillOpacity) *
          (look.stroke.kind === 'none' ? 1 : look.strokeOpacity) <
        1
      )
        note('seen through', e.id, resolved.layer);
    });
    const found: Finding[] = [...uses].map(([what, { ids, layer }]) => ({
      check: 'special-paints',
      severity: 'note',
      message: `${countWords(ids.length, 'object')} ${what}`,
      at: null,
      size: null,
      layer,
      ids: ids.slice(0, 1000),
    }));
    for (const n of drawing.notes)
      if (/mask|filter|effect|blend|mesh gradient|animation|foreignObject/i.test(n.text))
        found.push({
          check: 'special-paints',
          severity: 'warning',
          message: `${n.text}${n.count > 1 ? ` (${n.count})` : ''}`,
          at: null,
          size: null,
          layer: null,
          ids: [],
        });
    return found;
  },
});
