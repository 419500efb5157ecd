import { decode } from 'jpeg-js';
import { MAX_PICTURE_PIXELS, pictureHead } from './head.js';
import type { Pixels } from './png.js';

/** More than this is not unpacked, in megabytes. */
const MOST_MEMORY = 2048;

/** The pixels of a JPEG as red, green and blue; `null` for what is no JPEG, is damaged or larger than pictures may be. */
export function readJpeg(bytes: Uint8Array): Pixels | null {
  const head = pictureHead(bytes);
  if (head?.media !== 'image/jpeg' || head.width * head.height > MAX_PICTURE_PIXELS) return null;
  try {
    const { width, height, data } = decode(bytes, {
      useTArray: true,
      formatAsRGBA: false,
      maxResolutionInMP: Math.ceil(MAX_PICTURE_PIXELS / 1e6),
      maxMemoryUsageInMB: MOST_MEMORY,
    });
    return { width, height, channels: 3, data };
  } catch {
    return null;
  }
}
