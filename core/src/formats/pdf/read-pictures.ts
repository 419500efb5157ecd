import type { Rgb } from '../../drawing/appearance.js';
import { dataAddress } from '../picture/data-address.js';
import type { Pixels } from '../picture/png.js';
import { packedPng } from '../picture/png.js';

/** How the parser unpacks a picture: its `kind` says what its bytes are. */
interface Unpacked {
  width: number;
  height: number;
  kind?: number;
  data?: Uint8Array | Uint8ClampedArray;
}

const KIND = { bits: 1, rgb: 2, rgba: 3 } as const;

const isUnpacked = (v: unknown): v is Unpacked & { data: Uint8Array } => {
  const u = v as Partial<Unpacked> | null;
  return typeof u === 'object' && u !== null && u.width! > 0 && u.height! > 0 && ArrayBuffer.isView(u.data);
};

/** One bit to a pixel, rows on whole bytes, as whatever each of the two becomes. */
function unpackBits(
  u: Unpacked & { data: Uint8Array },
  channels: 1 | 4,
  zero: readonly number[],
  one: readonly number[],
): Uint8Array {
  const out = new Uint8Array(u.width * u.height * channels);
  const stride = (u.width + 7) >> 3;
  for (let y = 0; y < u.height; y++)
    for (let x = 0; x < u.width; x++) {
      const bit = (u.data[y * stride + (x >> 3)]! >> (7 - (x & 7))) & 1;
      out.set(bit ? one : zero, (y * u.width + x) * channels);
    }
  return out;
}

/** A picture as the parser unpacked it; `null` where it could not. */
export function pixelsOf(picture: unknown): Pixels | null {
  if (!isUnpacked(picture)) return null;
  const { width, height, kind, data } = picture;
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  if (kind === KIND.bits) return { width, height, channels: 1, data: unpackBits(picture, 1, [0], [255]) };
  if (kind === KIND.rgb && bytes.length >= width * height * 3) return { width, height, channels: 3, data: bytes };
  if (kind === KIND.rgba && bytes.length >= width * height * 4) return { width, height, channels: 4, data: bytes };
  return null;
}

/** A stencil, painted in a colour where its bits are 0 (ISO 32000-2, 8.9.6.2), clear elsewhere. */
export function stencilOf(picture: unknown, rgb: Rgb): Pixels | null {
  if (!isUnpacked(picture)) return null;
  const { width, height, data } = picture;
  if (data.length < ((width + 7) >> 3) * height) return null;
  const ink = [(rgb >> 16) & 255, (rgb >> 8) & 255, rgb & 255, 255];
  return { width, height, channels: 4, data: unpackBits(picture, 4, ink, [0, 0, 0, 0]) };
}

export const addressOf = (pixels: Pixels): string => dataAddress('image/png', packedPng(pixels));
