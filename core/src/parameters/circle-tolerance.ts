import type { ParameterSchema } from './schema.js';

/** How far a curve may lie off a circle and still have been meant as one: the same for who finds them and who mends them. */
export const CIRCLE_TOLERANCE: ParameterSchema = {
  type: 'object',
  properties: {
    tolerance: { type: 'number', title: 'Off the circle by at most', description: 'parts of a thousand of the radius', default: 1, exclusiveMinimum: 0 }, // prettier-ignore
  },
  required: [],
  additionalProperties: false,
};
