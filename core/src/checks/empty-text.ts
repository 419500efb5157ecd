import { wordsIn } from '../drawing/words-in.js';
import { surveyOf } from '../drawing/survey.js';
import { applyPoint } from '../geometry/affine.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';

/** Finds texts without a single character that is seen. */
export const emptyText = defineCheck({
  id: 'empty-text',
  title: 'Empty texts',
  summary: 'Empty texts are invisible; receivers show them as frames or stop at them.',
  carries: ['text'],
  params: {},
  run(drawing) {
    const found: Finding[] = [];
    surveyOf(drawing).each(({ entity: e, toWorld, resolved }) => {
      if (e.kind !== 'text' && e.kind !== 'richText') return;
      // An attribute may be empty on purpose: its block asks for it.
      if (e.kind === 'text' && e.tag !== undefined) return;
      const words = wordsIn(e)!;
      if (/[^\s\u200b-\u200f\u2060\ufeff]/.test(words)) return;
      const [x, y] = applyPoint(toWorld, e.at);
      const what = words === '' ? 'A text without characters' : 'A text of blanks only';
      found.push({
        check: 'empty-text',
        severity: 'note',
        message: what,
        at: { x, y },
        size: e.size,
        layer: resolved.layer,
        ids: [e.id],
      });
    });
    return found;
  },
});
