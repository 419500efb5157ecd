import { doublesOf } from '../analysis/doubles.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';

/** Finds curves that lie on each other: a laser cuts them twice. */
export const doubles = defineCheck({
  id: 'doubles',
  title: 'Doubles',
  summary: 'Curves that lie exactly on each other are cut or drawn twice, and break the joining of outlines.',
  carries: ['curves'],
  params: {
    within: p.length({
      title: 'The same when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  mend: {
    step: 'clear-doubles',
    words: 'Clear these doubles',
    params: (s) => ({ what: 'doubles', within: s.within }),
  },
  run(drawing, params, work) {
    return doublesOf(drawing, params.within, work).map(({ ids, kind, layer, box }) => ({
      check: 'doubles',
      severity: 'warning',
      message: `${ids.length} curves (${kind}) lie on each other`,
      at: { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 },
      size: box.diagonal,
      span: box.diagonal,
      layer,
      ids: [...new Set(ids)],
    }));
  },
});
