import { doublesOf } from '../analysis/doubles.js';
import type { Check } from './check.js';

/** Finds curves that lie on each other: a laser cuts them twice. */
export const doubles: Check = {
  id: 'doubles',
  title: 'Doubles',
  summary: 'Curves that lie exactly on each other are cut or drawn twice, and break the joining of outlines.',
  carries: ['curves'],
  params: {
    type: 'object',
    properties: {
      within: {
        type: 'number',
        title: 'The same when closer than',
        description: '0 = a ten-millionth of the diagonal',
        default: 0,
        minimum: 0,
        unit: 'drawing',
      },
    },
    required: [],
    additionalProperties: false,
  },
  mend: {
    step: 'clear-doubles',
    words: 'Clear these doubles',
    params: (s) => ({ what: 'doubles', within: Number(s['within'] ?? 0) }),
  },
  run(drawing, params, work) {
    return doublesOf(drawing, Number(params['within'] ?? 0), work).map(({ ids, kind, layer, box }) => ({
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
};
