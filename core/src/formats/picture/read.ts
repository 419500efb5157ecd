import { MM_PER_INCH } from '../../drawing/units.js';
import { DRAFTING_DEFAULT, NO_PAINT } from '../../drawing/appearance.js';
import { Ledger } from '../../drawing/ledger.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Reading } from '../format.js';
import { UnreadableFile } from '../format.js';
import { dataAddress } from './data-address.js';
import { turned } from './exif.js';
import { asStored } from './as-stored.js';
import { MAX_PICTURE_BYTES, MAX_PICTURE_PIXELS, MAX_PICTURE_SIDE, pictureHead } from './head.js';

/** What a picture says that is not followed, as rows. */
const NOT_FOLLOWED = {
  bits: { carryOver: 'colour', reason: 'picture-of-16-bits' },
  profile: { carryOver: 'colour', reason: 'picture-profile-not-followed' },
} as const;

/** Whether bytes begin as a PNG or a JPEG does. */
export const isPng = (bytes: Uint8Array): boolean => bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e;
export const isJpeg = (bytes: Uint8Array): boolean => bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff;

/**
 * Reads a PNG or JPEG as a drawing that holds nothing but it, its lower left corner at the origin, one unit to a pixel. Where the file states a resolution
 * a unit is as long as that says, else it is a pixel of no known size. What says that it is to be shown turned lies so, and says it no more.
 */
export function readPicture(bytes: Uint8Array): Reading {
  const head = pictureHead(bytes);
  if (!head)
    throw new UnreadableFile('The picture breaks off before it says its size', 'its first bytes', 'Save it again.');
  const { width, height } = head;
  if (bytes.length > MAX_PICTURE_BYTES)
    throw new UnreadableFile(
      `The picture has ${Math.round(bytes.length / 1e6)} MB, and ${MAX_PICTURE_BYTES >> 20} MB are the most`,
      'its length',
      'Save it smaller.',
    );
  if (width > MAX_PICTURE_SIDE || height > MAX_PICTURE_SIDE || width * height > MAX_PICTURE_PIXELS)
    throw new UnreadableFile(
      `The picture has ${width} × ${height} pixels, and ${MAX_PICTURE_PIXELS / 1e6} million are the most`,
      'its size',
      'Make it smaller, or cut out the part that matters.',
    );
  const drawing = emptyDrawing(head.media === 'image/png' ? 'png' : 'jpeg', head.media === 'image/png' ? '1' : '1.02');
  drawing.unit =
    head.pxPerInch === null ? { unit: 'px', factor: 1 } : { unit: 'mm', factor: MM_PER_INCH / head.pxPerInch };
  const shown = turned(head.turning?.value ?? 1, width, height);
  drawing.page = { x: 0, y: 0, width: shown.width, height: shown.height };
  const place = (x: number, y: number): [number, number, number] => {
    const [px, py] = shown.place(x, y);
    return [px, shown.height - py, 0];
  };
  const at = place(0, height);
  const along = (to: readonly number[]): [number, number, number] => [to[0]! - at[0], to[1]! - at[1], 0];
  drawing.layers.push(newLayer('0'));
  drawing.entities.push({
    kind: 'image',
    id: 1,
    layer: '0',
    look: { ...DRAFTING_DEFAULT, stroke: NO_PAINT },
    cover: false,
    at,
    u: along(place(1, height)),
    v: along(place(0, height - 1)),
    pixels: [width, height],
    data: dataAddress(head.media, asStored(bytes)),
  });
  drawing.nextId = 2;
  const ledger = new Ledger('read');
  for (const what of head.notFollowed) ledger.add({ ...NOT_FOLLOWED[what], action: 'approximated' });
  return { drawing, ledger: ledger.rows };
}
