import type { Drawing } from '../drawing/drawing.js';
import type { AskedLooks } from '../formats/write-options.js';
import type { Part } from '../formats/picture/cropped.js';
import { cropped } from '../formats/picture/cropped.js';
import type { Pixels } from '../formats/picture/png.js';
import type { FontBook } from '../text/fonts.js';
import type { Ground } from './differing.js';
import type { Frame } from './plain-picture.js';
import { plainPicture } from './plain-picture.js';
import type { Picture, Renderer } from './renderer.js';
import { GROUND } from './renderer.js';
import type { Seen } from './seen.js';
import { told } from './seen.js';

/** What a delivered picture was to be like, beside the drawing. */
export interface PictureAsked {
  readonly asked: AskedLooks;
  /** What it was drawn on, 0xRRGGBB; `null` for nothing. */
  readonly ground: number | null;
  /** Lines in the colour of the foreground were drawn white. */
  readonly whiteForeground: boolean;
  /** It is packed with loss, as a JPEG is. */
  readonly packed?: boolean;
  /** The least width of its lines, in its own pixels. */
  readonly thinnest: number;
}

/** Pictures are held against the drawing in parts of so many pixels a side, at their own size, and no more of them than this. */
const PART = 1500;
const MOST_PARTS = 6;
/** The renderer draws lines of up to a pixel by a rule of thumb; those a hundredth wider by what they cover. */
const NO_HAIRLINE = 1.01;
/** Drawn beyond each part, in pixels, and cut off: at its very edges the renderer draws lines that leave along them. */
const BEYOND = 8;
/**
 * What is noticed, of 255: the renderer knows quarters of a pixel, so that an edge along a row or a column may be off by as much as half of that on either
 * side; a picture that was packed with loss is rough beside its edges.
 */
const EXACT = 64;
const PACKED = 96;

const asPixels = ({ width, height, pixels }: Picture): Pixels => ({ width, height, channels: 4, data: pixels });

/**
 * Whether a delivered picture shows the drawing that was written: the drawing is drawn anew, pixel for pixel, by a renderer that had no part in the
 * picture. Of a large one the parts that hold the most are looked at.
 */
export function seenInPicture(
  pixels: Pixels,
  written: Drawing,
  frame: Frame,
  renderer: Renderer,
  fonts: FontBook,
  asked: PictureAsked,
): Seen {
  const { ground } = asked;
  const bare = ground === null ? undefined : ([(ground >> 16) & 255, (ground >> 8) & 255, ground & 255] as const);
  const parts = partsOf(pixels).map((p) => onGround(cropped(pixels, p), ground, p));
  const fullest = parts
    .map((part) => ({ part, ink: inked(part, bare) }))
    .sort((a, b) => b.ink - a.ink)
    .slice(0, MOST_PARTS);
  const px = frame.width / pixels.width;
  const places: Frame[] = [];
  const total: Seen = { same: true, share: 0, places, letterless: false };
  let [ink, other] = [0, 0];
  let finer = false;
  for (const { part } of fullest) {
    const { width, height } = part;
    const own: Frame = {
      x: frame.x + part.x * px,
      y: frame.y + frame.height - (part.y + height) * px,
      width: width * px,
      height: height * px,
    };
    const [wide, high] = [width + 2 * BEYOND, height + 2 * BEYOND];
    const around: Frame = {
      x: own.x - BEYOND * px,
      y: own.y - BEYOND * px,
      width: wide * px,
      height: high * px,
    };
    const plain = plainPicture(written, around, {
      width: wide,
      height: high,
      fonts,
      letters: true,
      bars: true,
      varying: true,
      frames: true,
      thinnest: asked.thinnest * NO_HAIRLINE,
      asked: asked.asked,
      ...(asked.whiteForeground && { foreground: '#ffffff' }),
      ...(ground !== null && { ground }),
    });
    if (plain === null) return { ...total, same: null, why: 'it holds too much to be drawn' };
    const drawn = renderer.draw(plain, true, { size: Math.max(wide, high), larger: 1 });
    if (!drawn || drawn.width !== wide || drawn.height !== high)
      return { ...total, same: null, why: 'the renderer gives it up' };
    const { data } = cropped(asPixels(drawn), { x: BEYOND, y: BEYOND, width, height });
    const span = [width, height] as const;
    const seen = told({ ...part, span }, { width, height, span, pixels: data }, own, false, {
      ...(bare && { ground: bare }),
      noticeable: asked.packed ? PACKED : EXACT,
    });
    const weight = inked(part, bare);
    ink += weight;
    other += seen.share * weight;
    places.push(...seen.places);
    if (seen.same !== false) continue;
    total.same = false;
    // More corners than pixels: how they add up within one is told by no renderer alike.
    if ((plain.match(/[ML]/g)?.length ?? 0) > weight) finer = true;
  }
  if (finer) return { ...total, same: null, why: 'much of the drawing is finer than the pixels of the picture' };
  total.share = ink === 0 ? 0 : other / ink;
  if (parts.length > fullest.length) total.why = `${fullest.length} of ${parts.length} parts, those that hold the most`;
  return total;
}

/** A picture in parts of about one size. */
function partsOf({ width, height }: Pixels): Part[] {
  const [columns, rows] = [Math.ceil(width / PART), Math.ceil(height / PART)];
  const cut = (whole: number, n: number, i: number): number => Math.round((whole * i) / n);
  return Array.from({ length: columns * rows }, (_, i) => {
    const [c, r] = [i % columns, Math.floor(i / columns)];
    const [x, y] = [cut(width, columns, c), cut(height, rows, r)];
    return { x, y, width: cut(width, columns, c + 1) - x, height: cut(height, rows, r + 1) - y };
  });
}

/** So far a channel is off the ground where something is drawn. */
const DRAWN = 8;

function inked({ pixels }: Pick<Picture, 'pixels'>, ground: Ground = GROUND): number {
  let n = 0;
  for (let i = 0; i < pixels.length; i += 4)
    if ([0, 1, 2].some((k) => Math.abs(pixels[i + k]! - ground[k]!) > DRAWN)) n++;
  return n;
}

/** Pixels that are seen through, on the ground of the renderer. */
function onGround(
  { width, height, channels, data }: Pixels,
  ground: number | null,
  part: Part,
): Part & Pick<Picture, 'pixels'> {
  const pixels = new Uint8Array(4 * width * height);
  for (let i = 0; i < width * height; i++) {
    const a = channels === 4 && ground === null ? data[channels * i + 3]! / 255 : 1;
    for (let k = 0; k < 3; k++) {
      const own = data[channels * i + (channels === 1 ? 0 : k)]!;
      pixels[4 * i + k] = Math.round(own * a + GROUND[k]! * (1 - a));
    }
    pixels[4 * i + 3] = 255;
  }
  return { ...part, pixels };
}
