/**
 * The largest number that a drawing may hold, either way: far beyond anything drawn (the universe is 1e30 mm across), and
 * small enough that products of six such numbers are still numbers.
 */
export const LARGEST = 1e50;

/** Whether a number is one that can be drawn with: not NaN, not infinite, not beyond all bounds. */
export const isDrawable = (v: number): boolean => v <= LARGEST && v >= -LARGEST;
