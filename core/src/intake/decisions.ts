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

/** What becomes of compound entities on the way in. */
export interface KindDecisions {
  /** Blocks stay, become groups of what they show, or are broken up. */
  blocks: 'keep' | 'group' | 'break';
  /** Dimensions and leaders stay, become lines and text, or are left out. */
  dimensions: 'keep' | 'lines' | 'leaveOut';
  /** Hatches stay, become the lines of their patterns or their outlines, or are left out. */
  hatches: 'keep' | 'lines' | 'outlines' | 'leaveOut';
}

export const KINDS_DEFAULT: KindDecisions = { blocks: 'keep', dimensions: 'keep', hatches: 'keep' };

/** The part of a drawing that comes along: what lies in a window, in the file's coordinates (y upwards). */
export interface WindowDecision {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
  /** What the window only touches comes along too. */
  touching: boolean;
}

/** What was decided on taking a drawing in. Kept with the drawing; `null` and the defaults mean "not decided". */
export interface IntakeDecisions {
  /** The encoding that texts are read in, whatever the file says; absent or `null` for what it says. */
  encoding?: string | null;
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
  /** Absent or `null` for the whole drawing. */
  window?: WindowDecision | null;
  /** Everything keeps its plane, or is laid straight down onto XY; absent for the first. */
  plane?: 'keep' | 'flat';
  /** Absent for all kept. */
  kinds?: KindDecisions;
  origin: { mode: 'keep' | 'page' | 'lowerLeft' | 'centre' | 'point'; x: number; y: number };
}

export const NO_DECISIONS: IntakeDecisions = {
  unit: null,
  pxPerInch: null,
  correction: 1,
  layers: { mode: 'visible', names: [] },
  origin: { mode: 'keep', x: 0, y: 0 },
};
