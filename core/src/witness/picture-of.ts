import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { FontBook } from '../text/fonts.js';
import { plainPicture } from './plain-picture.js';
import type { Renderer } from './renderer.js';

/** How much is left free around the drawing, as a part of its longer side. */
const MARGIN = 0.02;
/** The thinnest line, in pixels. */
const THINNEST = 1;

/** A drawing (y upwards) as a PNG on white, with a little room around it; `null` where nothing, or too much, is drawn. */
export function pictureOf(drawing: Drawing, pixels: number, fonts: FontBook, renderer: Renderer): Uint8Array | null {
  const box = boundsOf(drawing);
  if (box.empty) return null;
  const pad = Math.max(box.width, box.height, Number.MIN_VALUE) * MARGIN;
  const frame = { x: box.minX - pad, y: box.minY - pad, width: box.width + 2 * pad, height: box.height + 2 * pad };
  const k = pixels / Math.max(frame.width, frame.height);
  const svg = plainPicture(drawing, frame, {
    width: frame.width * k,
    height: frame.height * k,
    fonts,
    letters: true,
    frames: true,
    thinnest: THINNEST,
  });
  return svg === null ? null : renderer.png(svg, pixels, '#ffffff');
}
