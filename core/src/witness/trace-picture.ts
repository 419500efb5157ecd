import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { emptyDrawing } from '../drawing/drawing.js';
import type { Image } from '../drawing/entity.js';
import type { Stage } from '../drawing/lineage.js';
import { shownPictures } from '../drawing/lineage.js';
import { dataAddress } from '../formats/picture/data-address.js';
import { packedPng } from '../formats/picture/png.js';
import { applyPoint, applyVector } from '../geometry/affine.js';
import type { Renderer } from './renderer.js';
import type { TraceMarks } from './trace-marks.js';
import { ALIKE_BARE, ALIKE_DRAWN, ONLY_IN_PICTURE, traceMarks } from './trace-marks.js';

/** What a difference is drawn in, 0xRRGGBB. */
export interface DifferenceColours {
  /** Areas of both. */
  common: number;
  /** Areas of the picture alone; and areas of the trace alone, or of another colour than in the picture. */
  first: number;
  second: number;
}

/** Pictures and what was traced of them, held against each other, to be looked at. */
export interface TraceDifference {
  /** A drawing of nothing but the differences: a picture over each that was traced. */
  drawing: Drawing;
  /** How many pixels were looked at, and how many of them are of another area. */
  pixels: number;
  other: number;
  /** Why pictures were not looked at. */
  why: string[];
}

/** What is common is seen through, so that what differs is seen first. */
const COMMON_ALPHA = 90;

/** Whether stages traced a picture. */
export const tracedIn = (stages: readonly Stage[]): boolean => shownPictures(stages).length > 0;

/** The differences between all pictures that stages traced and what was traced of them, by a renderer that had no part in tracing. */
export function traceDifference(
  stages: readonly Stage[],
  renderer: Renderer,
  colours: DifferenceColours,
): TraceDifference {
  const drawing = emptyDrawing('svg', '1.1');
  const out: TraceDifference = { drawing, pixels: 0, other: 0, why: [] };
  for (const { to, shows } of shownPictures(stages)) {
    const marks = traceMarks(to, shows, renderer);
    if (typeof marks === 'string') {
      out.why.push(marks);
      continue;
    }
    out.pixels += marks.marks.length;
    out.other += marks.other;
    drawing.entities.push(pictureOfMarks(marks, colours, drawing.entities.length + 1));
  }
  return out;
}

/** Marks as a picture where the traced one lies. */
function pictureOfMarks({ width, height, marks, place }: TraceMarks, colours: DifferenceColours, id: number): Image {
  const data = new Uint8Array(4 * marks.length);
  marks.forEach((m, i) => {
    if (m === ALIKE_BARE) return;
    const rgb = m === ALIKE_DRAWN ? colours.common : m === ONLY_IN_PICTURE ? colours.first : colours.second;
    data.set([(rgb >> 16) & 255, (rgb >> 8) & 255, rgb & 255, m === ALIKE_DRAWN ? COMMON_ALPHA : 255], 4 * i);
  });
  const down = applyVector(place, [0, 1, 0]);
  return {
    kind: 'image',
    id,
    layer: '0',
    look: DRAFTING_DEFAULT,
    cover: false,
    at: applyPoint(place, [0, height, 0]),
    u: applyVector(place, [1, 0, 0]),
    v: [-down[0], -down[1], -down[2]],
    pixels: [width, height],
    data: dataAddress('image/png', packedPng({ width, height, channels: 4, data })),
  };
}
