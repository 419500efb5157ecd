/** 10 to a whole power, the nearest double: `10 ** -4` is another in some engines, and a file must be the same from all of them. */
export const powerOfTen = (n: number): number => Number(`1e${n}`);

/** The power of ten that a number above nothing is a digit times, read from its digits: a logarithm may be just below a whole one. */
export const tensOf = (v: number): number => Number(v.toExponential().split('e')[1]);
