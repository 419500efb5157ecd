import { gapsOf } from '../analysis/gaps.js';
import { p } from '../parameters/parameter.js';
import { defineCheck } from './check.js';
import { firstOf } from './check.js';

/** Finds pairs of free ends that lie close together without meeting: an outline that looks closed and is not. */
export const openOutlines = defineCheck({
  id: 'open-outlines',
  title: 'Open outlines',
  summary: 'An outline with a gap cannot be cut, filled or given thickness; at normal zoom the gap is invisible.',
  carries: ['curves'],
  params: {
    widest: p.length({
      title: 'Widest gap to report',
      automatic: 'one hundredth of the drawing’s diagonal',
      default: 0,
      atLeast: 0,
    }),
    met: p.length({
      title: 'Ends closer than this have met',
      automatic: 'a thousand-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
  },
  mend: {
    step: 'join-ends',
    words: 'Join these ends',
    params: (s) => ({ gap: s.widest, how: 'move' }),
  },
  run(drawing, params, work) {
    const gaps = gapsOf(drawing, params.widest, params.met, work);
    const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
    return firstOf('open-outlines', gaps, ({ ids, at, size, layer }) => ({
      check: 'open-outlines',
      severity: 'warning',
      message:
        ids.length === 1
          ? `An outline does not close: its ends are ${Number(size.toPrecision(4))}${unit} apart`
          : `Two curves miss each other by ${Number(size.toPrecision(4))}${unit}`,
      at,
      size,
      layer,
      ids,
    }));
  },
});
