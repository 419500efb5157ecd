import type { Drawing } from '../drawing/drawing.js';
import { transformDrawing } from '../drawing/transform.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import { FORMAT_CATALOGUE } from '../formats/catalogue.js';
import type { Arranged } from '../formats/format.js';
import { formatById } from '../formats/index.js';
import type { PictureFrame } from '../formats/picture/shown.js';
import { pictureInPlace } from '../formats/picture/made.js';
import { compose, inverse, scaling } from '../geometry/affine.js';
import { valuesOf } from '../parameters/lengths.js';
import type { FontBook } from '../text/fonts.js';
import type { Target } from './target.js';

/** How a prepared drawing is put on pages or pixels: what its format says of it in the unit of the file, and how many of those its own unit is. */
function arrangedIn(
  prepared: Drawing,
  target: Target,
  fonts: FontBook,
): { arranged: Arranged; unit: UnitName; k: number } | null {
  const { unit: own } = prepared;
  const { arrange } = formatById(target.format)!;
  if (!arrange || !own || own.unit === 'px') return null;
  const unit = target.unit ?? own.unit;
  const k = own.factor * conversion(own.unit, unit);
  const scaled: Drawing = { ...transformDrawing(prepared, scaling(k, k, k)), unit: { unit, factor: 1 } };
  const options = valuesOf(FORMAT_CATALOGUE[target.format].options, target.options, scaled.unit);
  return { arranged: arrange(scaled, { ...options, unit, fonts }), unit, k };
}

/**
 * What a picture of a prepared drawing would show, in pixels; `null` for formats that have none, and where the unit is undecided. Throws `UserError` for
 * one that cannot be made.
 */
export const pictureFrame = (prepared: Drawing, target: Target, fonts: FontBook): PictureFrame | null =>
  arrangedIn(prepared, target, fonts)?.arranged.picture?.frame ?? null;

/**
 * A delivered file, read back (y upwards), where the prepared drawing has what it shows, in its unit; `composed` where it shows views side by side, which have
 * no such place.
 */
export function backInPlace(
  read: Drawing,
  prepared: Drawing,
  target: Target,
  fonts: FontBook,
): { drawing: Drawing; composed: boolean } {
  const { unit: own } = prepared;
  const made = arrangedIn(prepared, target, fonts);
  const composed = made?.arranged.compose?.scaled === true;
  const scaled = (d: Drawing, k: number): Drawing => (k === 1 ? d : transformDrawing(d, scaling(k, k, k)));
  if (made?.arranged.picture) {
    const drawing = pictureInPlace(read, made.arranged.picture, made.unit);
    return { drawing: scaled(drawing, 1 / made.k), composed };
  }
  const counts = own && read.unit && own.unit !== 'px' && read.unit.unit !== 'px';
  const drawing = counts
    ? scaled(read, (read.unit!.factor * conversion(read.unit!.unit as UnitName, own.unit as UnitName)) / own.factor)
    : read;
  if (!made || composed) return { drawing, composed };
  // The moves are in the unit of the file.
  const { k } = made;
  const map = made.arranged.moves.reduce((m, move) => compose(move.map, m), scaling(k, k, k));
  return { drawing: transformDrawing(drawing, inverse(compose(scaling(1 / k, 1 / k, 1 / k), map))), composed };
}
