import type { Filled } from '../analysis/objects.js';
import { objectsByLayer } from '../analysis/objects.js';
import { outlinesSeen } from '../analysis/outline-roles.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { surveyOf } from '../drawing/survey.js';
import { ROUNDING } from '../geometry/tolerance.js';
import { lengthOfPieces } from '../geometry/planar/moments.js';

/** What is in a file, by figures that its receiver can count again. Lengths in `unit`. */
export interface FileFacts {
  readonly unit: string;
  readonly width: number;
  readonly height: number;
  /** Its lower left corner. */
  readonly x: number;
  readonly y: number;
  /** Each layer with the objects on it, blocks taken apart; empty ones too. */
  readonly layers: readonly Filled[];
  /** Closed outlines that lie in none or in an even number of others, and those in an odd number. */
  readonly outlines: number;
  readonly holes: number;
  readonly texts: number;
  /** Along all closed outlines. */
  readonly cutLength: number;
}

/** A coordinate, or 0 for what is only rounding beside the size of the drawing. */
const orNothing = (v: number, size: number): number => (Math.abs(v) <= size * ROUNDING ? 0 : v);

/** Counts and measures model space of a drawing as it was handed to the writer, hidden objects aside. */
export function fileFacts(drawing: Drawing): FileFacts {
  const box = boundsOf(drawing);
  let texts = 0;
  surveyOf(drawing).each(({ entity: { kind } }) => void (kind === 'text' || kind === 'richText' ? texts++ : 0));
  const { rings } = outlinesSeen(drawing);
  const holes = rings.filter((r) => r.around.length % 2 === 1).length;
  return {
    unit: drawing.unit?.unit ?? 'units',
    width: box.empty ? 0 : box.width,
    height: box.empty ? 0 : box.height,
    x: box.empty ? 0 : orNothing(box.minX, box.diagonal),
    y: box.empty ? 0 : orNothing(box.minY, box.diagonal),
    layers: objectsByLayer(drawing),
    outlines: rings.length - holes,
    holes,
    texts,
    cutLength: rings.reduce((sum, r) => sum + lengthOfPieces(r.pieces), 0),
  };
}
