import type { UnitName } from '../drawing/units.js';
import { conversion, isUnitName } from '../drawing/units.js';

/** What can be of a known size. */
export const YARDSTICK_KINDS = {
  distance: 'Distance between two places',
  diameter: 'Diameter of a circle',
  width: 'Overall width',
  height: 'Overall height',
  area: 'Area of an outline',
  angle: 'Angle at a place',
  outlines: 'Number of outlines',
  holes: 'Number of holes of a diameter',
  stroke: 'Line colour of a shape',
  fill: 'Fill colour of a shape',
  text: 'Height of a text',
} as const;
export type YardstickKind = keyof typeof YARDSTICK_KINDS;

/** How many places each kind is bound to; the others are of the whole drawing, and can stand in a recipe. */
export const PLACES: Readonly<Record<YardstickKind, number>> = {
  distance: 2,
  diameter: 1,
  area: 1,
  angle: 3,
  stroke: 1,
  fill: 1,
  width: 0,
  height: 0,
  outlines: 0,
  holes: 0,
  text: 0,
};

/**
 * A place of the drawing it was set on: in the unit of the yardstick, and as parts of the box around that drawing, by which it is found
 * again where everything was moved or scaled. Of a shape, the diagonal of its box is kept as well, in the same two ways.
 */
export interface YardstickPlace {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly shape?: { readonly across: number; readonly part: number };
}

/** A feature of known size, which is measured again in whatever is made of its drawing. */
export interface Yardstick {
  readonly id: string;
  readonly title: string;
  readonly what: YardstickKind;
  /** What it has to be: in `unit`, in squares of it for an area; degrees, a count, or a colour as `#rrggbb`. */
  readonly expected: number | string;
  readonly unit: UnitName;
  /** By how much it may be off, in the same. */
  readonly tolerance: number;
  /** Where the figure comes from: “measured on the piece”. */
  readonly source: string;
  readonly places: readonly YardstickPlace[];
  /** The diameter of the holes that are counted, in `unit`. */
  readonly diameter?: number;
  /** The words of the text. */
  readonly words?: string;
}

export type YardstickState = 'holds' | 'fails' | 'undecided';

/** A yardstick held against a drawing. `measured` counts as `expected` does. */
export interface Held {
  readonly id: string;
  readonly state: YardstickState;
  readonly measured: number | string | null;
  /** By how much it is off, measured less expected; `null` where that is no number. */
  readonly off: number | null;
  /** What could not be found, where it is undecided. */
  readonly why: string;
}

/** Whether a yardstick counts lengths or areas, so that a wrong scale shows in it. */
const ofScale = (y: Yardstick): 1 | 2 | 0 =>
  y.what === 'area' ? 2 : ['distance', 'diameter', 'width', 'height', 'text'].includes(y.what) ? 1 : 0;

/**
 * The smallest error of scale that a yardstick could have seen, as a part: its tolerance by its length, and by twice that for an
 * area, which goes with the square. `null` where no scale shows in it.
 */
export function scaleSeen(y: Yardstick): number | null {
  const power = ofScale(y);
  if (power === 0 || typeof y.expected !== 'number' || y.expected === 0) return null;
  return y.tolerance / (power * Math.abs(y.expected));
}

/** The yardstick that sees the smallest error of scale: the longest known length, mostly. */
export const sharpest = (list: readonly Yardstick[]): Yardstick | null =>
  list.reduce<Yardstick | null>((best, y) => {
    const [own, of] = [scaleSeen(y), best && scaleSeen(best)];
    return own !== null && (of === null || own < of) ? y : best;
  }, null);

const OTHER: Partial<Record<UnitName, UnitName>> = { mm: 'in', cm: 'in', in: 'mm', ft: 'm', m: 'ft', yd: 'm' };

/** A figure in a second unit, for people who know it by that; `null` where it has none. */
export function inOtherUnit(value: number, y: Yardstick): { value: number; unit: UnitName } | null {
  const other = OTHER[y.unit] ?? 'mm';
  const power = ofScale(y);
  if (power === 0 || other === y.unit || !isUnitName(y.unit)) return null;
  return { value: value * conversion(y.unit, other) ** power, unit: other };
}

/** What figures of a yardstick count in, for people. */
export const yardstickUnit = (y: Pick<Yardstick, 'what' | 'unit'>): string =>
  y.what === 'area'
    ? `${y.unit}²`
    : y.what === 'angle'
      ? '°'
      : y.what === 'outlines' || y.what === 'holes' || y.what === 'stroke' || y.what === 'fill'
        ? ''
        : y.unit;
