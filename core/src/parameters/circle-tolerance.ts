import { p } from './parameter.js';

/** How far a curve may lie off a circle and still have been meant as one: the same for who finds them and who mends them. */
export const CIRCLE_TOLERANCE = {
  tolerance: p.number({
    title: 'Off the circle by at most',
    description: 'parts of a thousand of the radius',
    default: 1,
    above: 0,
  }),
};
