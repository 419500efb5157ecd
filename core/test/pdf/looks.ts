import type { Drawing } from '../../src/index.js';

/** The widths of all lines that are drawn, each once, in mm of the paper. */
export const LINE_WIDTHS_OF = (d: Drawing): number[] => [
  ...new Set(
    d.entities.flatMap(({ look: l }) => (l.stroke.kind !== 'none' && l.width.kind === 'paper' ? [l.width.mm] : [])),
  ),
];
