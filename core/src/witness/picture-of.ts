import type { PictureWindow } from '../delivery/own-picture.js';
import { ownPictureIn, pictureWindow } from '../delivery/own-picture.js';
import type { Drawing } from '../drawing/drawing.js';
import type { FontBook } from '../text/fonts.js';
import { plainPicture } from './plain-picture.js';
import type { Renderer } from './renderer.js';

/** The picture of what was handed to the writer: where that names its picture, just what the name stands for. */
export function ownPicture(
  written: Drawing,
  name: string,
  pixels: number,
  fonts: FontBook,
  renderer: Renderer,
): Uint8Array | null {
  const own = ownPictureIn(written, name);
  return pictureOf(own?.drawing ?? written, pixels, fonts, renderer, own?.window);
}

/** The thinnest line, in pixels. */
const THINNEST = 1;

/** A drawing (y upwards) as a PNG on white, its longer side so many pixels; `null` where nothing, or too much, is drawn. */
export function pictureOf(
  drawing: Drawing,
  pixels: number,
  fonts: FontBook,
  renderer: Renderer,
  window: PictureWindow | null = pictureWindow(drawing, pixels),
): Uint8Array | null {
  if (!window) return null;
  const [width, height] = window.pixels;
  const svg = plainPicture(drawing, window, { width, height, fonts, letters: true, frames: true, thinnest: THINNEST });
  return svg === null ? null : renderer.png(svg, Math.max(width, height), '#ffffff');
}
