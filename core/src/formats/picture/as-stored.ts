import { headOfAddress } from './address-head.js';
import { bytesOfAddress, dataAddress } from './data-address.js';
import type { PictureHead } from './head.js';
import { pictureHead } from './head.js';
import { sumChunkAgain } from './png.js';

/** Whether a picture says that it is to be shown turned or mirrored. */
export const isTurned = (head: PictureHead | null): boolean => (head?.turning?.value ?? 1) > 1;

/** The bytes of a picture that lies as it is stored, whoever shows it: it says nothing of being turned. What is no picture that is known here stays. */
export function asStored(bytes: Uint8Array): Uint8Array {
  const head = pictureHead(bytes);
  if (!head?.turning || !isTurned(head)) return bytes;
  const { at, little } = head.turning;
  const out = Uint8Array.from(bytes);
  new DataView(out.buffer).setUint16(at, 1, little);
  if (head.media === 'image/png') sumChunkAgain(out, at);
  return out;
}

/** The same of a `data:` address. */
export function addressAsStored(address: string): string {
  const head = headOfAddress(address);
  const held = isTurned(head) ? bytesOfAddress(address) : null;
  return held && head ? dataAddress(head.media, asStored(held.bytes)) : address;
}
