import type { UnitName } from '../drawing/units.js';

/** What was decided on taking a drawing in. Kept with the drawing; `null` and the defaults mean "not decided". */
export interface IntakeDecisions {
  /** Drafting: what one coordinate unit is. SVG: the unit in which the true size is counted from now on. */
  unit: UnitName | null;
  /** How many pixels make an inch, for an SVG that states no physical size. */
  pxPerInch: number | null;
  /** True length ÷ measured length; 1 = the coordinates are right. */
  correction: number;
  layers: { mode: 'visible' | 'all' | 'chosen'; names: string[] };
  /** Where the new origin lies, in the drawing's coordinates before the shift (y upwards, corrected units). */
  origin: { mode: 'keep' | 'page' | 'lowerLeft' | 'centre' | 'point'; x: number; y: number };
}

export const NO_DECISIONS: IntakeDecisions = {
  unit: null,
  pxPerInch: null,
  correction: 1,
  layers: { mode: 'visible', names: [] },
  origin: { mode: 'keep', x: 0, y: 0 },
};
