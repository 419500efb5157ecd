import { extentOf } from '../analysis/extent.js';
import type { Drawing } from '../drawing/drawing.js';
import { TOUCHING } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';

/** How near points and edges may lie and still be meant as the same ones. */
export const SAMENESS = {
  within: p.length({
    title: 'Points and edges are the same within',
    automatic: 'a ten-millionth of the diagonal',
    default: 0,
    atLeast: 0,
  }),
};

/** The bound that was given, or the one that is found by itself. */
export const samenessIn = (drawing: Drawing, { within }: { within: number }): number =>
  within || extentOf(drawing).diagonal * TOUCHING;
