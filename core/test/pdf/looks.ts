import type { Drawing } from '../../src/index.js';

/** The widths of all lines that are drawn, each once, in units of the drawing. */
export const LINE_WIDTHS_OF = (d: Drawing): number[] => [
  ...new Set(
    d.entities.flatMap(({ look: l }) =>
      l.stroke.kind !== 'none' && l.width.kind === 'drawing' ? [l.width.value] : [],
    ),
  ),
];
