import { bytesOfAddress, dataAddress } from './data-address.js';
import { withoutTurning } from './exif.js';
import type { PictureHead } from './head.js';
import { pictureHead } from './head.js';
import { sumChunkAgain } from './png.js';

/** The bytes of a picture that lies as it is stored, whoever shows it. */
export function asStored(bytes: Uint8Array, head: PictureHead): Uint8Array {
  if (!head.turning || head.turning.value === 1) return bytes;
  const out = withoutTurning(Uint8Array.from(bytes), head.turning);
  if (head.media === 'image/png') sumChunkAgain(out, head.turning.at);
  return out;
}

/** The same of a `data:` address; what is no picture that is known here is left as it is. */
export function addressAsStored(address: string): string {
  const held = bytesOfAddress(address);
  const head = held && pictureHead(held.bytes);
  return !head?.turning || head.turning.value === 1 ? address : dataAddress(head.media, asStored(held!.bytes, head));
}
