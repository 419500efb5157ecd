import type { Drawing } from '../../drawing/drawing.js';
import type { UnitName } from '../../drawing/units.js';
import type { WriteOptions } from '../write-options.js';
import type { Rgba } from './canvas.js';
import type { PictureFrame } from './frame.js';
import { rgba } from './inks.js';

/** How a picture is drawn, beside what is drawn. */
export interface PictureMade {
  readonly frame: PictureFrame;
  /** What it is drawn on, 0xRRGGBB; `null` for nothing. */
  readonly ground: number | null;
  /** Lines in the colour of the foreground are white on the dark ground. */
  readonly whiteForeground: boolean;
  /** Lines are at least so wide, in pixels. */
  readonly thinnest: number;
}

/** A ground darker than this (0 to 1) is a dark one. */
const DARK = 0.4;

/** What was asked of a picture. */
export function pictureMade(
  frame: PictureFrame,
  { ground, groundColour, widths }: Pick<WriteOptions, 'ground' | 'groundColour' | 'widths'>,
): PictureMade {
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
