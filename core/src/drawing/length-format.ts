/** How a drafting format writes lengths ($LUNITS, DIMLUNIT). */
export type LengthForm = 'scientific' | 'decimal' | 'engineering' | 'architectural' | 'fractional';
export const LENGTH_FORMS: readonly LengthForm[] = [
  'scientific',
  'decimal',
  'engineering',
  'architectural',
  'fractional',
];

/** How it writes angles ($AUNITS, DIMAUNIT). */
export type AngleForm = 'degrees' | 'degreesMinutesSeconds' | 'grads' | 'radians' | 'bearing';
export const ANGLE_FORMS: readonly AngleForm[] = ['degrees', 'degreesMinutesSeconds', 'grads', 'radians', 'bearing'];

export interface NumberStyle {
  /** Digits after the point; for fractions the power of two of the smallest part. */
  precision: number;
  decimalMark?: string;
  /** Leave out the 0 before the point. */
  noLeadingZero?: boolean;
  /** Leave out zeros at the end. */
  noTrailingZeros?: boolean;
  /** Leave out feet, or inches, that are zero. */
  noZeroFeet?: boolean;
  noZeroInches?: boolean;
}

function decimal(value: number, style: NumberStyle): string {
  let text = value.toFixed(Math.max(0, Math.min(20, style.precision)));
  if (style.noTrailingZeros && text.includes('.')) text = text.replace(/\.?0+$/, '');
  if (style.noLeadingZero) text = text.replace(/^(-?)0\./, '$1.');
  if (/^-0*\.?0*$/.test(text)) text = text.slice(1);
  return style.decimalMark && style.decimalMark !== '.' ? text.replace('.', style.decimalMark) : text;
}

/** `whole n/d` with the denominator a power of two, in lowest terms. */
function fraction(value: number, precision: number): { whole: number; text: string } {
  const parts = 2 ** Math.max(0, Math.min(8, precision));
  const total = Math.round(value * parts);
  const whole = Math.floor(total / parts);
  let [n, d] = [total - whole * parts, parts];
  while (n !== 0 && n % 2 === 0) [n, d] = [n / 2, d / 2];
  return { whole, text: n === 0 ? '' : `${n}/${d}` };
}

/**
 * A length as drafting shows it. Engineering and architectural forms count the value in inches: `3'-4.50"`,
 * `3'-4 1/2"`; the fractional form is `40 1/2`.
 */
export function formatLength(value: number, form: LengthForm, style: NumberStyle): string {
  const sign = value < 0 ? '-' : '';
  const v = Math.abs(value);
  switch (form) {
    case 'scientific': {
      const [m, e] = v.toExponential(Math.max(0, Math.min(20, style.precision))).split('e');
      const exponent = Number(e);
      const digits = String(Math.abs(exponent)).padStart(2, '0');
      return `${sign}${m}E${exponent < 0 ? '-' : '+'}${digits}`;
    }
    case 'decimal':
      return decimal(value, style);
    case 'engineering':
    case 'architectural': {
      const parts = form === 'architectural' ? 2 ** Math.max(0, Math.min(8, style.precision)) : 10 ** style.precision;
      const rounded = Math.round(v * parts) / parts;
      const feet = Math.floor(rounded / 12);
      const inches = rounded - 12 * feet;
      let text: string;
      if (form === 'engineering') text = decimal(inches, style);
      else {
        const f = fraction(inches, style.precision);
        text = f.text === '' ? String(f.whole) : f.whole === 0 ? f.text : `${f.whole} ${f.text}`;
      }
      const hideFeet = feet === 0 && style.noZeroFeet === true;
      const hideInches = inches === 0 && style.noZeroInches === true && !hideFeet;
      if (hideInches) return `${sign}${feet}'`;
      return hideFeet ? `${sign}${text}"` : `${sign}${feet}'-${text}"`;
    }
    case 'fractional': {
      const f = fraction(v, style.precision);
      if (f.text === '') return sign + String(f.whole);
      return sign + (f.whole === 0 ? f.text : `${f.whole} ${f.text}`);
    }
  }
}

/** An angle in radians as drafting shows it; bearings (`N 45d0'0" E`) count from east, counter-clockwise. */
export function formatAngle(radians: number, form: AngleForm, style: NumberStyle): string {
  const degrees = (radians * 180) / Math.PI;
  switch (form) {
    case 'degrees':
      return decimal(degrees, style) + '°';
    case 'degreesMinutesSeconds':
      return sexagesimal(degrees, style, '°');
    case 'grads':
      return decimal((degrees * 10) / 9, style) + 'g';
    case 'radians':
      return decimal(radians, style) + 'r';
    case 'bearing': {
      const a = ((degrees % 360) + 360) % 360;
      const north = a <= 180;
      const east = a < 90 || a > 270;
      const off = Math.abs(north ? 90 - a : 270 - a);
      return `${north ? 'N' : 'S'} ${sexagesimal(off, style, '°')} ${east ? 'E' : 'W'}`;
    }
  }
}

/** Precision 0 whole degrees, 1 and 2 minutes, 3 and 4 seconds, more: decimals of a second. */
function sexagesimal(degrees: number, style: NumberStyle, mark: string): string {
  const { precision } = style;
  if (precision === 0) return `${Math.round(degrees)}${mark}`;
  if (precision <= 2) {
    const minutes = Math.round(Math.abs(degrees) * 60);
    return `${degrees < 0 ? '-' : ''}${Math.floor(minutes / 60)}${mark}${minutes % 60}'`;
  }
  const k = 10 ** Math.max(0, precision - 4);
  const seconds = Math.round(Math.abs(degrees) * 3600 * k) / k;
  const d = Math.floor(seconds / 3600);
  const m = Math.floor((seconds - 3600 * d) / 60);
  const s = decimal(seconds - 3600 * d - 60 * m, { ...style, precision: Math.max(0, precision - 4) });
  return `${degrees < 0 ? '-' : ''}${d}${mark}${m}'${s}"`;
}
