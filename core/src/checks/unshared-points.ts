import type { Finding } from './check.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { MET, contactsOf } from '../analysis/contacts.js';
import { piecesOfDrawing } from '../analysis/pieces.js';
import { kindName } from '../drawing/kinds.js';
import { countWords } from './words.js';

/** Finds neighbouring areas whose common edge has a corner on one side that is missing on the other. */
export const unsharedPoints = defineCheck({
  id: 'unshared-points',
  title: 'Shared edges with missing points',
  summary:
    'Where a corner lies on a neighbour’s edge without a point there, the two part as soon as one is moved, simplified or rounded: slivers show.',
  carries: ['curves'],
  params: {
    met: p.length({
      title: 'On the edge when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  mend: { step: 'share-edges', words: 'Share these edges', params: (s) => ({ within: s.met }) },
  run(drawing, params, work) {
    const p = piecesOfDrawing(drawing, work);
    const met = params.met || p.diagonal * MET;
    const found: Finding[] = [];
    for (const list of contactsOf(drawing, met, work).values()) {
      // One contact is a touch; a common edge has two at least.
      const past = list.filter((c) => c.past);
      if (list.length < 2 || past.length === 0) continue;
      const [a, b] = [p.courses[past[0]!.corner], p.courses[past[0]!.on]];
      // Faces of one net are not neighbours that somebody drew.
      if (a!.entity === 'face' && b!.entity === 'face') continue;
      found.push({
        check: 'unshared-points',
        severity: 'note',
        message: `Two shapes (${kindName(a!.entity)}, ${kindName(b!.entity)}) share an edge; ${countWords(past.length, 'corner')} on it ${past.length === 1 ? 'is' : 'are'} missing from one of them`,
        at: { x: past[0]!.x, y: past[0]!.y },
        size: null,
        span: Math.min(a!.box.diagonal, b!.box.diagonal),
        layer: a!.layer,
        ids: [a!.id, b!.id],
      });
    }
    return found;
  },
});
