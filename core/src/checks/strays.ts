import { straysOf } from '../analysis/strays.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { AKind, lengthWords } from './words.js';

/** Finds what lies far outside all the rest: a point forgotten somewhere makes everything else tiny on the screen. */
export const strays = defineCheck({
  id: 'strays',
  title: 'Stray objects',
  summary:
    'A few objects far outside the drawing make it tiny when it is fitted to a frame, and turn up on other sheets.',
  carries: ['origin', 'scale'],
  params: {
    times: p.number({ title: 'Far is more than this many times the size of the rest', default: 1, above: 0 }),
    most: p.number({ title: 'A few are at most this part of all', default: 0.02, above: 0 }),
  },
  mend: { step: 'remove-strays', words: 'Remove these', params: (s) => ({ times: s.times, most: s.most }) },
  run(drawing, params, work) {
    const { strays: far, size } = straysOf(drawing, params.times, params.most, work);
    return far.slice(0, 100).map(({ entity, away, box }) => ({
      check: 'strays',
      severity: 'warning',
      message: `${AKind(entity.kind)} lies ${lengthWords(drawing, away)} away from all the rest`,
      at: { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 },
      size: box.diagonal,
      span: size,
      layer: entity.layer,
      ids: [entity.id],
    }));
  },
});
