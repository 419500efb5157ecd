/** A text as it is without further words: upright, from its lower left. */
export const PLAIN_TEXT = {
  rotation: 0,
  widthFactor: 1,
  oblique: 0,
  horizontal: 'left',
  vertical: 'baseline',
} as const;

/** A dimension without a turn of its own. */
export const PLAIN_DIMENSION = { rotation: 0, oblique: 0, textRotation: 0, ordinateX: false } as const;

/** A block placed once, without attributes. */
export const ONCE = { columns: 1, rows: 1, columnSpacing: 0, rowSpacing: 0, attributes: [] as never[] };
