/**
 * How near is near. Every bound of the core is one of these, times a size, or a number that a person sets. What no
 * name here fits (a bound of a file format, a step of an iteration) is named where it stands, with its reason.
 *
 * A double holds 15 to 16 digits. A result of a few operations is off by some 1e-15 of the numbers it came from, one
 * that went through a transformation, a decimal file and back by up to 1e-12; drawings of ordinary origin meet to 1e-9 of
 * their size, and nobody draws a difference that small on purpose.
 */

/** Numbers that differ by less than this part of themselves differ by rounding alone. */
export const ROUNDING = 1e-12;
/** Points nearer than this part of the size of what they belong to are one point. */
export const COINCIDENT = 1e-9;
/** Parameters of a curve, whole turns (radians), counts that were divided: so far from an end still is the end. */
export const AT_END = 1e-9;
/** Corners nearer than this part of a whole drawing meet as a person sees it: found by checks, snapped to. */
export const TOUCHING = 1e-7;
/** What looks the same at any zoom: so much of its size may a copied or lettered shape be off. */
export const UNSEEN = 1e-6;
/** Chords fine enough to tell inside from outside and over from beside, as a part of the box of what is looked at. */
export const CHORDS = 1e-4;

/** Whether two numbers are the same but for rounding. */
export const isSame = (a: number, b: number): boolean =>
  Math.abs(a - b) <= ROUNDING * Math.max(Math.abs(a), Math.abs(b));

/** Whether an angle (radians, either sense) is a full turn. */
export const isFullTurn = (sweep: number): boolean => Math.abs(Math.abs(sweep) - 2 * Math.PI) < AT_END;

/** Into how many equal parts a sweep falls when none may be larger than `most` (both in radians): one at least. */
export const partsOfSweep = (sweep: number, most: number): number =>
  Math.max(1, Math.ceil(Math.abs(sweep) / most - AT_END));

/** Whether two vectors of the plane run the same or the opposite way, or one has no length. */
export const isParallel = (ux: number, uy: number, vx: number, vy: number): boolean =>
  Math.abs(ux * vy - uy * vx) <= ROUNDING * Math.hypot(ux, uy) * Math.hypot(vx, vy);

/** Whether two vectors of the plane stand square on each other, or one has no length. */
export const isPerpendicular = (ux: number, uy: number, vx: number, vy: number): boolean => isParallel(ux, uy, -vy, vx);
