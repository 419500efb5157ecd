import type { Drawing } from '../drawing/drawing.js';
import { traitsOf } from '../drawing/format-traits.js';
import { transformDrawing } from '../drawing/transform.js';
import { mmPerUnit } from '../drawing/units.js';
import { scaling } from '../geometry/affine.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { windowOf } from '../formats/picture/made.js';
import { pictureHead } from '../formats/picture/head.js';
import { readPixels } from '../formats/picture/read-pixels.js';
import type { AskedLooks } from '../formats/write-options.js';
import type { FontBook } from '../text/fonts.js';
import type { Renderer } from '../witness/renderer.js';
import type { Seen } from '../witness/seen.js';
import { seenInPicture } from '../witness/seen-picture.js';
import { onPage, seenAlike, seenInSource, seenInSvg } from '../witness/seen.js';
import type { PictureProof } from './picture.js';
import type { ProofItem, ProofState } from './proof-item.js';

/** A second witness: a renderer that is not ours, and the very bytes that were taken in. */
export interface Witness {
  renderer: Renderer;
  source: Uint8Array;
}

/** What was read, written and read back, with what was said about it on the way. */
export interface Looked {
  source: Drawing;
  reading: readonly LedgerRow[];
  written: Drawing;
  /** The file, and what our reader makes of it. */
  bytes: Uint8Array;
  back: Drawing;
  writing: readonly LedgerRow[];
  looks: AskedLooks;
}

/**
 * Pictures as witnesses: an SVG that was taken in against what was read of it; and the file against what was to be written. The
 * reader on both sides of the other comparisons has no part in what an SVG looks like.
 */
export function seenItems(looked: Looked, { renderer, source }: Witness, fonts: FontBook): ProofItem[] {
  const items = sourceSeen(looked, { renderer, source }, fonts);
  const { back, written, bytes, looks } = looked;
  const seen = !traitsOf(back.format).hasRenderer
    ? seenAlike(written, inUnitOf(written, back), renderer, fonts, looks)
    : seenInSvg(bytes, written, back, renderer, { fonts, asked: looks });
  items.push(itemOf('seen-file', 'What was prepared and the file, drawn', seen, losses(looked.writing)));
  return items;
}

/** An SVG that was taken in, against what was read of it. */
function sourceSeen(
  looked: Pick<Looked, 'source' | 'reading' | 'written'>,
  { renderer, source }: Witness,
  fonts: FontBook,
): ProofItem[] {
  if (!traitsOf(looked.source.format).hasRenderer) return [];
  const { tells, ...found } = seenInSource(source, looked.source, renderer, fonts);
  const seen = { ...found, places: onPage(found.places, looked.written.page) };
  const rows = tells + losses(looked.reading);
  return [itemOf('seen-source', 'The source and what was read of it, drawn', seen, rows)];
}

/** The same for a picture: what was written, drawn by a renderer that had no part in it, against the pixels of the file. */
export function seenPictureItems(
  source: Drawing,
  reading: readonly LedgerRow[],
  { written, bytes, made, looks }: PictureProof,
  witness: Witness,
  fonts: FontBook,
): ProofItem[] {
  const items = sourceSeen({ source, reading, written }, witness, fonts);
  const pixels = readPixels(bytes);
  if (!pixels) return items;
  const box = windowOf(made.frame);
  const frame = { x: box.minX, y: box.minY, width: box.width, height: box.height };
  const seen = seenInPicture(pixels, written, frame, witness.renderer, fonts, {
    ...made,
    asked: looks,
    packed: pictureHead(bytes)?.media === 'image/jpeg',
  });
  // What the writer says of itself excuses nothing: both are drawn with the same losses.
  return [...items, itemOf('seen-file', 'What was prepared and the picture, drawn', seen, 0)];
}

/** A file that leaves no choice of unit, in that of another drawing. */
function inUnitOf({ unit }: Drawing, back: Drawing): Drawing {
  const [want, have] = [mmPerUnit(unit), mmPerUnit(back.unit)];
  if (!traitsOf(back.format).countsIn || want === null || have === null) return back;
  const k = have / want;
  return { ...transformDrawing(back, scaling(k, k, k)), unit };
}

/** Rows that tell of something that is seen no longer as it was. */
const losses = (ledger: readonly LedgerRow[]): number =>
  ledger.filter((r) => r.action === 'dropped' || r.action === 'approximated' || r.recoloured !== undefined).length;

function itemOf(id: string, title: string, seen: Seen, rows: number): ProofItem {
  const state: ProofState = seen.same === null ? 'undecided' : seen.same ? 'kept' : rows > 0 ? 'changed' : 'atRisk';
  const percent = Math.max(0.01, Number((100 * seen.share).toPrecision(2)));
  const [first] = seen.places;
  const letters = seen.letterless ? 'without letters, whose fonts are not all here' : '';
  const places = seen.places.length > 1 ? `${seen.places.length} places` : 'one place';
  return {
    id,
    carryOver: 'colour',
    title,
    state,
    expected: 'seen the same',
    found:
      seen.same === null ? 'not told' : seen.same ? 'seen the same' : `seen different: ${percent} % of what is drawn`,
    explanation: [
      seen.why ?? '',
      seen.same === false ? `in ${places}` : '',
      seen.same === false
        ? rows > 0
          ? `${rows === 1 ? 'a row tells' : `${rows} rows tell`} of what is not carried as it was: look whether that is all`
          : 'no row of the ledger explains it'
        : '',
      letters,
    ]
      .filter(Boolean)
      .join('; '),
    ...(seen.same === false && first && { at: { x: first.x + first.width / 2, y: first.y + first.height / 2 } }),
  };
}
