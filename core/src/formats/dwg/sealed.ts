import { SEALED_BITS, SEALED_VERSION } from '../dxf/sealed.js';
import type { ValueBag } from './value-bag.js';

const DIGITS = '0123456789ABCDEF';

/** Gives the tags of an object that is carried as its bits. */
export function giveSealed(bag: ValueBag, letters: string, bytes: Uint8Array): void {
  const out: string[] = [];
  for (const b of bytes) out.push(DIGITS[b >> 4] + DIGITS[b & 15]);
  bag.addText(SEALED_VERSION, letters);
  bag.addText(SEALED_BITS, out.join(''));
}
