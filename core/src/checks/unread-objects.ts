import { walk } from '../drawing/resolve.js';
import { surveyOf } from '../drawing/survey.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds what came from a program of its own kind and is carried without being understood. */
export const unreadObjects = defineCheck({
  id: 'unread-objects',
  title: 'Objects carried unread',
  summary:
    'Solids, placeholders and objects of other programs go back only to a drafting file; elsewhere their picture arrives, or nothing.',
  carries: ['curves', 'links'],
  params: {},
  run(drawing) {
    const kinds = new Map<string, { ids: number[]; layer: string; shown: number }>();
    walk(
      drawing,
      ({ entity: e, resolved }) => {
        if (e.kind !== 'opaque') return;
        const known = kinds.get(e.type) ?? { ids: [], layer: resolved.layer, shown: 0 };
        kinds.set(e.type, known);
        known.ids.push(e.id);
        if (e.drawn || e.picture) known.shown++;
      },
      { hidden: true },
    );
    const found = [...kinds].map(([type, { ids, layer, shown }]): Finding => ({
      check: 'unread-objects',
      severity: shown < ids.length ? 'warning' : 'note',
      message: `${countWords(ids.length, 'object')} of kind ${type}: ${shown === 0 ? 'nothing of it is drawn' : shown < ids.length ? `${shown} drawn by what they look like` : 'drawn by what it looks like'}`,
      at: null,
      size: null,
      layer,
      ids: ids.slice(0, 1000),
    }));
    // An array of blocks may show more than any memory holds: what the checks did not look at is told, not passed over.
    const { beyond } = surveyOf(drawing);
    if (beyond > 0)
      found.unshift({
        check: 'unread-objects',
        severity: 'warning',
        message: `${countWords(beyond, 'object')} beyond the first million shown by placed blocks: no check looked at them`,
        at: null,
        size: null,
        layer: null,
        ids: [],
      });
    return found;
  },
});
