import { SEALED_BITS, SEALED_VERSION } from '../drafting/sealed.js';
import type { TagRecord } from './tag-store.js';
import type { ValueBag } from './value-bag.js';

const DIGITS = '0123456789ABCDEF';

/**
 * Gives the tags of an object that is carried as its bits. `version`: its letters, and how many bits of handles there are.
 */
export function giveSealed(bag: ValueBag, version: string, bytes: Uint8Array): void {
  const out: string[] = [];
  for (const b of bytes) out.push(DIGITS[b >> 4]! + DIGITS[b & 15]!);
  bag.addText(SEALED_VERSION, version);
  bag.addText(SEALED_BITS, out.join(''));
}

/** The version and the bits of a record that is carried as such, or `null`. */
export function sealedIn(r: TagRecord): { letters: string; handleBits: number; bytes: Uint8Array } | null {
  const at = r.find(SEALED_BITS);
  const version = r.find(SEALED_VERSION);
  if (at < 0 || version < 0) return null;
  const [letters = '', bits = ''] = r.store.textAt(version).split(' ');
  const hex = r.store.textAt(at);
  const bytes = new Uint8Array(hex.length >> 1);
  for (let i = 0; i < bytes.length; i++) bytes[i] = parseInt(hex.slice(2 * i, 2 * i + 2), 16);
  return { letters, handleBits: Number(bits) || 0, bytes };
}
