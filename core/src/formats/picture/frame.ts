import { UserError } from '../../errors.js';
import type { Drawing } from '../../drawing/drawing.js';
import { because } from '../../drawing/reasons.js';
import { unitOf, MM_PER_INCH } from '../../drawing/units.js';
import { Box2 } from '../../geometry/box.js';
import { COINCIDENT } from '../../geometry/tolerance.js';
import type { Arranged } from '../format.js';
import { composePages } from '../paged/compose-pages.js';
import { sheetPlans, sheetsAsked } from '../paged/plan-pages.js';
import { boxOfCorners, reachOf } from '../paged/reach.js';
import type { WriteOptions } from '../write-options.js';
import type { PictureFrame } from './shown.js';
import { pictureMade, windowOf } from './made.js';
import { MAX_PICTURE_PIXELS, MAX_PICTURE_SIDE } from './head.js';

/** What an empty drawing shows, in mm. */
const EMPTY = 100;

/** The least whole number of pixels that holds so many, but for rounding. */
const wholePixels = (v: number): number => Math.max(1, Math.ceil(v - v * COINCIDENT));

export type FrameOptions = Pick<WriteOptions, 'size' | 'pixels' | 'perInch' | 'scale' | 'marginIn' | 'margin'>;

/**
 * The frame of a picture around a box of the drawing (one unit = `mm` millimetres): the window grows to the right and downwards to whole pixels, and a
 * margin is of whole pixels too. Throws `UserError` for more pixels than a picture may have, and says how many there may be.
 */
export function frameAround(box: Box2, mm: number, o: FrameOptions): PictureFrame {
  const [w, h] = [box.width * mm, box.height * mm];
  const longest = Math.max(w, h) || 1;
  const margin = ((o.marginIn ?? 'percent') === 'mm' ? 1 : longest / 100) * (o.margin ?? 2);
  let perMm: number;
  let edge: number;
  if (o.size === 'resolution') {
    perMm = (o.perInch ?? 150) / MM_PER_INCH / (o.scale ?? 1);
    edge = margin === 0 ? 0 : wholePixels(margin * perMm);
  } else {
    const pixels = o.pixels ?? 2400;
    edge = Math.round((margin * pixels) / (longest + 2 * margin));
    perMm = Math.max(1, pixels - 2 * edge) / longest;
  }
  const [width, height] = [wholePixels(w * perMm) + 2 * edge, wholePixels(h * perMm) + 2 * edge];
  if (width > MAX_PICTURE_SIDE || height > MAX_PICTURE_SIDE || width * height > MAX_PICTURE_PIXELS)
    throw tooLarge(width, height, o);
  const perUnit = perMm * mm;
  return {
    width,
    height,
    perUnit,
    left: box.minX - edge / perUnit,
    top: box.maxY + edge / perUnit,
    pxPerInch: perMm * MM_PER_INCH * (o.size === 'resolution' ? (o.scale ?? 1) : 1),
  };
}

function tooLarge(width: number, height: number, o: FrameOptions): UserError {
  const by = Math.min(
    MAX_PICTURE_SIDE / width,
    MAX_PICTURE_SIDE / height,
    Math.sqrt(MAX_PICTURE_PIXELS / (width * height)),
  );
  const most = (v: number): string => String(Number((v * by * 0.99).toPrecision(3)));
  const instead =
    o.size === 'resolution'
      ? `Ask for up to ${most(o.perInch ?? 150)} pixels per inch, for a larger scale than 1 to ${o.scale ?? 1}, or for a number of pixels`
      : `Ask for up to ${Math.floor(Math.max(width, height) * by)} pixels`;
  return new UserError(
    'page-too-small',
    `The picture would be ${width} × ${height} pixels, ${((width * height) / 1e6).toFixed(1)} million. ` +
      `${MAX_PICTURE_PIXELS / 1e6} million are the most, ${MAX_PICTURE_SIDE} along a side. ${instead}`,
  );
}

/** What a picture shows: all of the drawing, what lies between two corners, or a sheet as it is printed. */
export function arrangePicture(drawing: Drawing, options: WriteOptions): Arranged {
  const { mm } = unitOf(options.unit);
  const without = (): boolean => false;
  if (options.shows === 'sheet') return ofSheet(drawing, options, mm);
  let box: Box2;
  if (options.shows === 'box') {
    box = boxOfCorners(options);
  } else {
    box = reachOf(drawing, options.fonts, false);
    if (box.empty) box = Box2.of(0, 0, EMPTY / mm, EMPTY / mm);
  }
  const frame = frameAround(box, mm, options);
  return { moves: [], without, pages: [windowOf(frame)], picture: pictureMade(frame, options) };
}

function ofSheet(drawing: Drawing, options: WriteOptions, mm: number): Arranged {
  const named = options.sheet?.trim() ?? '';
  const sheets = sheetsAsked(drawing, named === '' ? '*' : named).slice(0, 1);
  const { plans, aslant } = sheetPlans(drawing, sheets, mm, options.marginIn === 'mm' ? (options.margin ?? 0) : 0);
  // The paper is all there is: no margin stands around it.
  const frame = frameAround(plans[0]!.box, mm, { ...options, margin: 0 });
  return {
    moves: [],
    without: () => false,
    pages: [windowOf(frame)],
    picture: pictureMade(frame, options),
    compose: {
      title: 'Sheet',
      scaled: true,
      rows: [
        {
          carryOver: 'scale',
          action: 'changed',
          onPurpose: true,
          reason: because('sheet-as-picture', { name: sheets[0]!.name }),
        },
        ...(aslant > 0
          ? [{ carryOver: 'curves', action: 'dropped', count: aslant, reason: 'windows-aslant-left-out' } as const]
          : []),
      ],
      run: (from, lineage) => composePages(from, plans, options.fonts, lineage),
    },
  };
}
