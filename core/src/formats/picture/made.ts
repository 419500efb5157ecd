import { MM_PER_INCH } from '../../drawing/units.js';
import { Box2 } from '../../geometry/box.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { UnitName } from '../../drawing/units.js';
import type { Rgba } from './canvas.js';
import type { PictureFrame, PictureMade } from './shown.js';
import { rgba } from './inks.js';

/** What was asked of how it looks. */
export interface GroundAsked {
  readonly ground?: 'white' | 'clear' | 'colour';
  readonly groundColour?: string;
  readonly widths?: 'seen' | 'true';
}

/** What a picture shows, in the drawing. */
export const windowOf = ({ width, height, perUnit, left, top }: PictureFrame): Box2 =>
  Box2.of(left, top - height / perUnit, left + width / perUnit, top);

/** Pixels to a millimetre of the paper that the picture is. */
export const perMmOf = ({ pxPerInch }: PictureFrame): number => pxPerInch / MM_PER_INCH;

/** A ground darker than this (0 to 1) is a dark one. */
const DARK = 0.4;

/** What was asked of a picture. */
export function pictureMade(frame: PictureFrame, { ground, groundColour, widths }: GroundAsked): PictureMade {
  const own =
    ground === 'clear' ? null : ground === 'colour' ? parseInt((groundColour ?? '#ffffff').slice(1), 16) : 0xffffff;
  return {
    frame,
    ground: own,
    whiteForeground: own !== null && brightness(rgba(own)) < DARK,
    thinnest: widths === 'true' ? 0 : 1,
  };
}

/** By the weights of ITU-R BT.709, from 0 to 1. */
const brightness = ([r, g, b]: Rgba): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** A picture as it was read back, where the drawing has it. */
export function pictureInPlace(read: Drawing, { frame }: PictureMade, unit: UnitName): Drawing {
  const px = 1 / frame.perUnit;
  const entities = read.entities.map((e) =>
    e.kind === 'image'
      ? {
          ...e,
          at: [frame.left, frame.top - frame.height * px, 0] as const,
          u: [px, 0, 0] as const,
          v: [0, px, 0] as const,
        }
      : e,
  );
  return { ...read, entities, unit: { unit, factor: 1 }, page: null };
}
