/**
 * How finely a drawing is cut into chords to be compared, in its unit: a millionth of its size. Chords grow with the square
 * root of the fineness, so a large drawing (beyond 20,000 objects) is measured a little coarser, up to a ten-thousandth.
 */
export const finenessOf = (size: number, entities: number): number =>
  size * Math.min(1e-4, 1e-6 * Math.max(1, entities / 20_000) ** 2);
