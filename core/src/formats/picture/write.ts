import type { Drawing } from '../../drawing/drawing.js';
import { Ledger } from '../../drawing/ledger.js';
import type { Work, WriteOptions, Writing } from '../format.js';
import { checkStop } from '../format.js';
import type { Rgba } from './canvas.js';
import { Canvas } from './canvas.js';
import { PicturePainter } from './draw.js';
import { arrangePicture } from './frame.js';
import { perMmOf, windowOf } from './made.js';
import { rgba } from './inks.js';
import { placeFiles } from './place-files.js';
import { PngWriter } from './png.js';
import { tellOfPicture } from './tell.js';
import { JpegWriter } from './write-jpeg.js';
import { bandsOf } from './bands.js';

/** Pixels that are drawn at a time: what a picture takes while it is made does not grow with it. */
const AT_ONCE = 2_000_000;

export const writePng = (drawing: Drawing, options: WriteOptions, work?: Work): Writing =>
  writePicture(drawing, options, 'png', work);
export const writeJpeg = (drawing: Drawing, options: WriteOptions, work?: Work): Writing =>
  writePicture(drawing, options, 'jpeg', work);

/**
 * Draws model space as a picture of whole pixels (PNG, W3C; JPEG, ITU T.81, with JFIF 1.02), band by band. What it shows, and how large, is `options.picture`, or follows
 * from the options. Beside it stand files that say its size and place exactly.
 */
function writePicture(drawing: Drawing, options: WriteOptions, format: 'png' | 'jpeg', work?: Work): Writing {
  const made = options.picture ?? arrangePicture(drawing, options).picture!;
  const { frame } = made;
  const channels = made.ground === null ? 4 : 3;
  const ledger = new Ledger('write');
  const ground: Rgba = made.ground === null ? [0, 0, 0, 0] : rgba(made.ground);
  // On paper a width is so many pixels as the paper has to a millimetre.
  const perMm = perMmOf(frame);
  const painter = new PicturePainter(drawing, options, {
    perUnit: frame.perUnit,
    perMm,
    left: frame.left,
    top: frame.top,
    window: windowOf(frame),
    thinnest: made.thinnest,
    darkGround: made.whiteForeground,
  });
  const rows = Math.max(8, 8 * Math.floor(AT_ONCE / frame.width / 8));
  const { bands, beyond, hidden } = bandsOf(drawing, options, frame, rows);
  const out =
    format === 'png'
      ? new PngWriter(frame.width, frame.height, channels, frame.pxPerInch)
      : new JpegWriter(frame.width, frame.height, options.quality ?? 90, frame.pxPerInch);
  let n = 0;
  bands.forEach((entities, i) => {
    const top = i * rows;
    const canvas = new Canvas(frame.width, Math.min(rows, frame.height - top), top, ground);
    painter.draw(entities, canvas, () => {
      if (++n % 512 === 0) checkStop(work);
    });
    out.rows(canvas.rows(channels));
    checkStop(work);
    work?.onProgress?.(((i + 1) / bands.length) * 0.98);
  });
  tellOfPicture(ledger, drawing, { drawn: painter.drawn, frame, beyond, hidden }, options, format);
  return {
    bytes: out.finish(),
    ledger: ledger.rows,
    beside: placeFiles(frame, options.unit, format),
  };
}
