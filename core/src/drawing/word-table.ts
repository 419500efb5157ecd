/**
 * A table that is asked for words of a file. It answers to its own words only: a plain object would answer to
 * `constructor` and `toString` too, and a file may hold any word.
 */
export const wordTable = <T>(entries: Readonly<Record<string, T>>): Readonly<Record<string, T>> =>
  Object.freeze(Object.assign(Object.create(null) as Record<string, T>, entries));
