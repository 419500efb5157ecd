import type { UnitName } from '../../drawing/units.js';
import { windowOf } from './made.js';
import type { Beside, PictureFrame } from './shown.js';

/** The endings of the files that say the place of a picture. */
export const PLACE_ENDINGS = ['pgw', 'png.json', 'jgw', 'jpg.json'] as const;

/** Where a picture lies: pixels to the right and downwards from the centre of its first one, as six numbers. */
export type WorldFile = readonly [a: number, d: number, b: number, e: number, c: number, f: number];

/**
 * The six lines of a world file, in the unit of the drawing: how far a pixel reaches to the right and, for turned pictures, up; the same
 * downwards; and the centre of the first pixel.
 */
export function worldFile({ perUnit, left, top }: PictureFrame): WorldFile {
  const px = 1 / perUnit;
  return [px, 0, 0, -px, left + px / 2, top - px / 2];
}

/** Reads the six lines. `null` for what is no such file. */
export function readWorldFile(text: string): WorldFile | null {
  const lines = text
    .trim()
    .split(/\s*\r?\n\s*/)
    .map(Number);
  return lines.length === 6 && lines.every(Number.isFinite) ? (lines as unknown as WorldFile) : null;
}

/** Unit and corners (left, upper, right, lower) that the file in words says. `null` for what is no such file. */
export function readPlaceWords(text: string): { unit: string; corners: number[] } | null {
  try {
    const { unit, window: w } = JSON.parse(text) as { unit: string; window: Record<string, number> };
    return { unit, corners: [w['left']!, w['upper']!, w['right']!, w['lower']!] };
  } catch {
    return null;
  }
}

/** Size and place of a picture, exactly, as files beside it: a world file, and the same in words with its unit. */
export function placeFiles(frame: PictureFrame, unit: UnitName, format: 'png' | 'jpeg'): Beside[] {
  const box = windowOf(frame);
  const said = {
    unit,
    pixels: [frame.width, frame.height],
    unitsPerPixel: 1 / frame.perUnit,
    window: { left: box.minX, lower: box.minY, right: box.maxX, upper: box.maxY },
    pixelsPerInch: frame.pxPerInch,
  };
  return [
    { ending: format === 'png' ? 'pgw' : 'jgw', text: `${worldFile(frame).join('\n')}\n` },
    { ending: `${format === 'png' ? 'png' : 'jpg'}.json`, text: `${JSON.stringify(said, null, 2)}\n` },
  ];
}
