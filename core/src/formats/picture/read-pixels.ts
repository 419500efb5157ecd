import { bytesOfAddress } from './data-address.js';
import type { Pixels } from './png.js';
import { readJpeg } from './read-jpeg.js';
import { readPng } from './read-png.js';

/** The pixels of a PNG or JPEG; `null` for what is neither, is damaged or too large. */
export const readPixels = (bytes: Uint8Array): Pixels | null => readPng(bytes) ?? readJpeg(bytes);

/** The same of a `data:` address. */
export function pixelsOfAddress(address: string): Pixels | null {
  const held = bytesOfAddress(address);
  return held && readPixels(held.bytes);
}
