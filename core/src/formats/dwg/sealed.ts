import type { ValueBag } from './value-bag.js';

/**
 * An object whose fields are not known here is carried as its bits. Its record then has tags that no DXF has: the
 * version, and the bytes of the object as hex digits.
 */
export const SEALED_VERSION = -1;
export const SEALED_BITS = -2;

const DIGITS = '0123456789ABCDEF';

export function giveSealed(bag: ValueBag, letters: string, bytes: Uint8Array): void {
  const out: string[] = [];
  for (const b of bytes) out.push(DIGITS[b >> 4] + DIGITS[b & 15]);
  bag.addText(SEALED_VERSION, letters);
  bag.addText(SEALED_BITS, out.join(''));
}

/** Whether a record in its own form is one of bits. */
export const isSealed = (raw: string): boolean => raw.includes(`\n${SEALED_VERSION}\nAC`);
