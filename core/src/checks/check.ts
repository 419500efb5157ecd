import type { Drawing, SpaceUnit } from '../drawing/drawing.js';
import type { Work } from '../formats/format.js';
import type { Operation } from '../parameters/operation.js';
import type { Infer, Kept, ParameterSet } from '../parameters/parameter.js';
import type { FontBook } from '../text/fonts.js';

/** Something a check found. `size` and `at` in the drawing's unit; `ids` are the entities it concerns. */
export interface Finding {
  check: string;
  severity: 'note' | 'warning' | 'error';
  message: string;
  at: { x: number; y: number } | null;
  size: number | null;
  layer: string | null;
  ids: number[];
  /** How far around its place to look to understand it, where that is not a few times its size. */
  span?: number;
  /** It stands for so many more that are not listed. */
  more?: number;
}

/** What a check may be given; without fonts, checks of letters find nothing. */
export interface CheckWork extends Work {
  fonts?: FontBook;
  /** What came of drawing the file by other means, where that was done; places as parts of the page, from its lower left corner. */
  seen?: SeenFile;
}

/** Whether what was read of a file looks like it; `null` where nobody could tell, and why. The largest place comes first. */
export interface SeenFile {
  same: boolean | null;
  why?: string;
  places: readonly { x: number; y: number; width: number; height: number }[];
}

/** A check is asked once for a whole drawing; the drawing is the prepared one. */
export interface Check<S extends ParameterSet = ParameterSet> extends Operation<S> {
  /**
   * The step that would mend what is found, with its parameters under the settings of the check; `unit`: that of the drawing,
   * `found`: what is to be mended.
   */
  readonly mend?: {
    step: string;
    words: string;
    params(settings: Infer<S>, unit: SpaceUnit | null, found: readonly Finding[]): Kept;
  };
  run(drawing: Drawing, params: Infer<S>, work?: CheckWork): Finding[];
}

/** A check whose parameters have the types that its declaration says. */
export const defineCheck = <const S extends ParameterSet>(check: Check<S>): Check => check as unknown as Check;

/** More findings of one check than these are counted, not listed. */
export const MOST_FINDINGS = 1000;

/** The findings of a list, the first `MOST_FINDINGS` made in full; a last one says how many more there are. */
export function firstOf<T>(check: string, all: readonly T[], make: (one: T) => Finding): Finding[] {
  const found = all.slice(0, MOST_FINDINGS).map(make);
  const more = all.length - found.length;
  if (more > 0)
    found.push({
      check,
      severity: 'note',
      message: `… and ${more} more of them`,
      at: null,
      size: null,
      layer: null,
      ids: [],
      more,
    });
  return found;
}
