import { bytesOfAddress } from './data-address.js';
import type { PictureHead } from './head.js';
import { pictureHead } from './head.js';

/** So much of a picture is looked at for what its head says, in letters of its address. */
const HEAD_LETTERS = 262_144;

/** What the head of a PNG or JPEG says that a `data:` address holds, without unpacking all of it; `null` where its first bytes do not say. */
export function headOfAddress(address: string): PictureHead | null {
  const comma = address.indexOf(',');
  const text = address.slice(comma + 1, comma + 1 + HEAD_LETTERS).replace(/\s/g, '');
  const start = bytesOfAddress(address.slice(0, comma + 1) + text.slice(0, text.length - (text.length % 4)));
  return start && pictureHead(start.bytes);
}
