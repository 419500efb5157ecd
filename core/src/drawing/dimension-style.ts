import type { DimensionStyle, Drawing } from './drawing.js';
import type { AngleForm, LengthForm, NumberStyle } from './length-format.js';
import { ANGLE_FORMS, LENGTH_FORMS } from './length-format.js';

/** What a dimension or leader is drawn by: its style with its own overrides, every size multiplied out. */
export interface DimensionLook {
  arrowSize: number;
  extensionOffset: number;
  extensionBeyond: number;
  textHeight: number;
  gap: number;
  /** Ticks instead of arrows, and how large. */
  tickSize: number;
  /** What a measured length is multiplied by before it is shown. */
  factor: number;
  rounding: number;
  lengthForm: LengthForm;
  angleForm: AngleForm;
  length: NumberStyle;
  angle: NumberStyle;
  /** Text around the value, `<>` where it stands. */
  wrapping: string;
  tolerance: { plus: number; minus: number; decimals: number } | null;
  limits: boolean;
}

/** Overrides by group code, from extended data of application ACAD: `DSTYLE`, then pairs of 1070 code and value in braces. */
export function styleOverrides(extended: string | undefined): Map<number, string> {
  const out = new Map<number, string>();
  if (!extended?.includes('DSTYLE')) return out;
  const lines = extended.replace(/\r\n?/g, '\n').split('\n');
  const start = lines.findIndex((l) => l.trim() === 'DSTYLE');
  let code: number | null = null;
  for (let i = start + 1; i + 1 < lines.length; i += 2) {
    const [group, value] = [Number(lines[i]), lines[i + 1]!.trim()];
    if (group === 1002) {
      if (value === '}') break;
    } else if (code === null) {
      if (group === 1070) code = Number(value);
    } else {
      out.set(code, value);
      code = null;
    }
  }
  return out;
}

const styleNamed = (drawing: Pick<Drawing, 'dimensionStyles'>, name: string): DimensionStyle | undefined =>
  drawing.dimensionStyles.find((s) => s.name.toLowerCase() === name.toLowerCase());

/** The look of a dimension of the given style (DXF reference, DIMSTYLE, for codes and standard values). */
export function dimensionLook(
  drawing: Pick<Drawing, 'dimensionStyles'>,
  styleName: string,
  extended?: string,
): DimensionLook {
  const own = styleOverrides(extended);
  const tags = new Map(styleNamed(drawing, styleName)?.tags ?? []);
  const text = (code: number): string | undefined => own.get(code) ?? tags.get(code);
  const n = (code: number, otherwise: number): number => {
    const v = Number(text(code) ?? otherwise);
    return Number.isFinite(v) ? v : otherwise;
  };
  const scale = n(40, 1) || 1;
  const zeros = n(78, 0);
  const angleZeros = n(79, 0);
  const mark = n(278, 46);
  // Before version 2000 the form of lengths was group 270, the numbers the same for 1 to 5.
  const form = n(277, n(270, 2));
  const decimalZeros = { noLeadingZero: (zeros & 4) !== 0, noTrailingZeros: (zeros & 8) !== 0 };
  return {
    arrowSize: n(41, 0.18) * scale,
    extensionOffset: n(42, 0.0625) * scale,
    extensionBeyond: n(44, 0.18) * scale,
    textHeight: n(140, 0.18) * scale,
    gap: Math.abs(n(147, 0.09)) * scale,
    tickSize: n(142, 0) * scale,
    factor: Math.abs(n(144, 1)) || 1,
    rounding: n(45, 0),
    lengthForm: LENGTH_FORMS[form - 1] ?? 'decimal',
    angleForm: ANGLE_FORMS[n(275, 0)] ?? 'degrees',
    length: {
      precision: n(271, 4),
      decimalMark: String.fromCharCode(mark),
      ...decimalZeros,
      // 0 leaves both out, 1 keeps both, 2 keeps feet's zero only, 3 inches' zero only.
      noZeroFeet: [0, 3].includes(zeros & 3),
      noZeroInches: [0, 2].includes(zeros & 3),
    },
    angle: {
      precision: n(179, n(271, 0)),
      decimalMark: String.fromCharCode(mark),
      noLeadingZero: (angleZeros & 1) !== 0,
      noTrailingZeros: (angleZeros & 2) !== 0,
    },
    wrapping: text(3) ?? '',
    tolerance: n(71, 0) === 1 || n(72, 0) === 1 ? { plus: n(47, 0), minus: n(48, 0), decimals: n(272, 4) } : null,
    limits: n(72, 0) === 1,
  };
}
