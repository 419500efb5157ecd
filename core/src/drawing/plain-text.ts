import type { Text } from './entity.js';

/** What a line of text has that is set straight from a point on its left, by the height of its capitals. */
export const PLAIN_TEXT = {
  kind: 'text',
  sizeOf: 'capital',
  rotation: 0,
  widthFactor: 1,
  oblique: 0,
  horizontal: 'left',
  vertical: 'baseline',
} as const satisfies Partial<Text>;
