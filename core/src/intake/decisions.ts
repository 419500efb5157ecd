import type { LayerRule } from '../drawing/layer-rule.js';
import type { UnitName } from '../drawing/units.js';

/** Illustration art that drafting cannot hold: how it comes along. */
export interface ArtDecisions {
  /** Shapes are cut to their clip paths, or come whole. */
  clips: 'cut' | 'whole';
  /** Fill patterns come as the shapes they are made of, or as one plain colour. */
  patterns: 'shapes' | 'colour';
  /** Gradients stay gradients where the target has them, or become their mean, first or last colour at once. */
  gradients: 'keep' | 'mean' | 'first' | 'last';
}

export const ART_DEFAULT: ArtDecisions = { clips: 'cut', patterns: 'shapes', gradients: 'keep' };

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
  /** What layers are made from; absent or `groups` for those of the file (in SVG the topmost named groups). */
  layersFrom?: 'groups' | LayerRule;
  /** What becomes of clips, fill patterns and gradients; absent for the first of each. */
  art?: ArtDecisions;
  origin: { mode: 'keep' | 'page' | 'lowerLeft' | 'centre' | 'point'; x: number; y: number };
}

export const NO_DECISIONS: IntakeDecisions = {
  unit: null,
  pxPerInch: null,
  correction: 1,
  layers: { mode: 'visible', names: [] },
  origin: { mode: 'keep', x: 0, y: 0 },
};
