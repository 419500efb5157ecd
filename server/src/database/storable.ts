import { soundText } from '@scalaria/core';

/**
 * The same value with every text in it such that a database can hold it: PostgreSQL knows neither U+0000 nor halves of
 * surrogate pairs. Readers mend the texts of a drawing and say so; this stands behind them, for names that come otherwise.
 * Values that are no plain data (bytes, dates) stay as they are.
 */
export function storable<T>(value: T): T {
  return mended(value) as T;
}

function mended(value: unknown): unknown {
  if (typeof value === 'string') return soundText(value);
  if (Array.isArray(value)) return value.map(mended);
  if (value === null || typeof value !== 'object' || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [soundText(k), mended(v)]));
}
