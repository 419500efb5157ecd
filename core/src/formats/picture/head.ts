import type { Turning } from './exif.js';
import { exifTurning } from './exif.js';

/** Most bytes of a picture that a job takes, most pixels along a side and in all (400 MB once unpacked): what a browser can still show. */
export const MAX_PICTURE_BYTES = 40 << 20;
export const MAX_PICTURE_SIDE = 30_000;
export const MAX_PICTURE_PIXELS = 100_000_000;

/** What the first bytes of a picture say. */
export interface PictureHead {
  media: 'image/png' | 'image/jpeg';
  width: number;
  height: number;
  /** Along the width; `null` where the file does not say. */
  pxPerInch: number | null;
  /** Of a JPEG: its channels, and whether a program has marked it with APP14 (ISO 32000-2, table 13), by which four are stored turned round. */
  jpeg?: { channels: number; marked: boolean };
  /** How it says that it is to be shown; `null` where it says nothing. Sizes are of the picture as it is stored. */
  turning: Turning | null;
  /** What it says that is not followed here: 16 bits to a sample, or a profile of its colours. */
  notFollowed: readonly ('bits' | 'profile')[];
}

const METRES_PER_INCH = 0.0254;
const CM_PER_INCH = 2.54;

/**
 * Reads size and resolution of a PNG (W3C PNG, 11.2.2 IHDR and 11.3.5.3 pHYs) or a JPEG (ITU T.81 table B.1, JFIF 1.02).
 * `null` for what is neither, or is cut off before it says its size.
 */
export function pictureHead(bytes: Uint8Array): PictureHead | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const head = png(bytes, view) ?? jpeg(bytes, view);
  return head && head.width > 0 && head.height > 0 ? head : null;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const name = (b: Uint8Array, at: number): string => String.fromCharCode(...b.subarray(at, at + 4));

function png(bytes: Uint8Array, view: DataView): PictureHead | null {
  if (bytes.length < 24 || PNG.some((b, i) => bytes[i] !== b) || name(bytes, 12) !== 'IHDR') return null;
  let pxPerInch: number | null = null;
  let turning: Turning | null = null;
  const notFollowed: PictureHead['notFollowed'][number][] = bytes[24] === 16 ? ['bits'] : [];
  for (let at = 33; at + 12 <= bytes.length;) {
    const size = view.getUint32(at);
    const kind = name(bytes, at + 4);
    if (kind === 'IDAT' || size > bytes.length) break;
    if (kind === 'iCCP' && !isStandard(bytes.subarray(at + 8, at + 8 + Math.min(size, 80))))
      notFollowed.push('profile');
    // Pixels per metre; any other unit says only how square they are.
    if (kind === 'pHYs' && size === 9 && at + 17 <= bytes.length && bytes[at + 16] === 1)
      pxPerInch = view.getUint32(at + 8) * METRES_PER_INCH;
    if (kind === 'eXIf') turning = exifTurning(view, at + 8, Math.min(bytes.length, at + 8 + size));
    at += 12 + size;
  }
  return { media: 'image/png', width: view.getUint32(16), height: view.getUint32(20), pxPerInch, turning, notFollowed };
}

function jpeg(bytes: Uint8Array, view: DataView): PictureHead | null {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  let pxPerInch: number | null = null;
  let marked = false;
  let turning: Turning | null = null;
  let standard = false;
  const notFollowed = new Set<PictureHead['notFollowed'][number]>();
  for (let i = 2; i + 9 < bytes.length;) {
    if (bytes[i] !== 0xff) return null;
    const m = bytes[i + 1]!;
    // Filling between segments.
    if (m === 0xff) {
      i++;
      continue;
    }
    if (m === 0xe0 && name(bytes, i + 4) === 'JFIF' && i + 14 < bytes.length) {
      const density = view.getUint16(i + 12);
      if (density > 0 && bytes[i + 11] === 1) pxPerInch = density;
      if (density > 0 && bytes[i + 11] === 2) pxPerInch = density * CM_PER_INCH;
    }
    // Exif begins with its name and two zeros.
    if (m === 0xe1 && i + 10 <= bytes.length && view.getUint32(i + 4) === 0x45786966)
      turning ??= exifTurning(view, i + 10, Math.min(bytes.length, i + 2 + view.getUint16(i + 2)));
    if (m === 0xe2 && name(bytes, i + 4) === 'ICC_') {
      if (isStandard(bytes.subarray(i + 4, i + 2 + view.getUint16(i + 2)))) standard = true;
      else notFollowed.add('profile');
    }
    // APP14 of its one length, 14.
    if (m === 0xee && view.getUint16(i + 2) === 14) marked = true;
    // Frame headers SOF0 to SOF15, without the tables DHT, JPG and DAC.
    if (m >= 0xc0 && m <= 0xcf && m !== 0xc4 && m !== 0xc8 && m !== 0xcc)
      return {
        media: 'image/jpeg',
        width: view.getUint16(i + 7),
        height: view.getUint16(i + 5),
        pxPerInch,
        jpeg: { channels: bytes[i + 9]!, marked },
        turning,
        notFollowed: [...notFollowed].filter((n) => n !== 'profile' || !standard),
      };
    i += 2 + view.getUint16(i + 2);
  }
  return null;
}

/** Whether a profile calls itself sRGB, which is how all colours are taken. */
const isStandard = (profile: Uint8Array): boolean =>
  String.fromCharCode(...profile.subarray(0, 4096))
    .replace(/\0/g, '')
    .includes('sRGB');
