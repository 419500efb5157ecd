import { CSS_PX_PER_INCH, conversion } from '../../drawing/units.js';
import type { UnitName } from '../../drawing/units.js';
import { wordTable } from '../../drawing/word-table.js';

/** CSS pixels in one of each absolute unit (CSS Values and Units 4 §6.2). */
const PX = wordTable<number>({
  '': 1,
  px: 1,
  in: CSS_PX_PER_INCH,
  cm: CSS_PX_PER_INCH / 2.54,
  mm: CSS_PX_PER_INCH / 25.4,
  q: CSS_PX_PER_INCH / 101.6,
  pt: CSS_PX_PER_INCH / 72,
  pc: CSS_PX_PER_INCH / 6,
});

const LENGTH = /^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(%|[a-zA-Z]*)\s*$/;

/** What lengths relative to something refer to, in user units. */
export interface LengthContext {
  percentOf: number;
  em: number;
}

/** A length in user units, or `null` when the text is none. `em` counts the font size, `ex` half of it. */
export function parseLength(text: string | undefined, context: LengthContext): number | null {
  if (text === undefined) return null;
  const match = LENGTH.exec(text);
  if (!match) return null;
  const value = Number(match[1]);
  const unit = match[2]!.toLowerCase();
  if (unit === '%') return (value * context.percentOf) / 100;
  if (unit === 'em' || unit === 'rem') return value * context.em;
  if (unit === 'ex' || unit === 'ch') return (value * context.em) / 2;
  const px = PX[unit];
  return px === undefined ? null : value * px;
}

/** The length of the outermost viewport: a physical size, a size in pixels, or neither. */
export type PageLength = { kind: 'physical'; unit: UnitName; value: number } | { kind: 'px'; value: number } | null;

export function parsePageLength(text: string | undefined): PageLength {
  const match = LENGTH.exec(text ?? '');
  if (!match) return null;
  const value = Number(match[1]);
  if (!(value > 0)) return null;
  switch (match[2]!.toLowerCase()) {
    case 'mm':
      return { kind: 'physical', unit: 'mm', value };
    case 'cm':
      return { kind: 'physical', unit: 'cm', value };
    case 'q':
      return { kind: 'physical', unit: 'mm', value: value / 4 };
    case 'in':
      return { kind: 'physical', unit: 'in', value };
    case 'pt':
      return { kind: 'physical', unit: 'in', value: value / 72 };
    case 'pc':
      return { kind: 'physical', unit: 'in', value: value / 6 };
    case '':
    case 'px':
      return { kind: 'px', value };
    default:
      return null;
  }
}

/**
 * One side of the page in the unit of the other, where that states one: 10 cm beside 4 in are compared as lengths. A CSS
 * pixel beside a physical unit is 1/96 in (CSS Values and Units 4 §6.2).
 */
export function likeTheOther(side: PageLength, other: PageLength): PageLength {
  if (!side || other?.kind !== 'physical') return side;
  const [value, unit] = side.kind === 'px' ? [side.value / CSS_PX_PER_INCH, 'in' as const] : [side.value, side.unit];
  return { kind: 'physical', unit: other.unit, value: value * conversion(unit, other.unit) };
}
