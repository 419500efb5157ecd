const POWERS = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

/**
 * The decimal number in `bytes[start, end)`, read to the nearest double; NaN when it is none. Digits below 2^53 with a
 * small power of ten are exact in one operation (Clinger's fast path); longer ones go through `Number`.
 */
export function parseDecimal(bytes: Uint8Array, start: number, end: number): number {
  let i = start;
  let c = bytes[i];
  let negative = false;
  if (c === 45 || c === 43) {
    negative = c === 45;
    c = bytes[++i];
  }
  let mantissa = 0;
  let fraction = 0;
  let any = false;
  while (i < end && c >= 48 && c <= 57) {
    mantissa = mantissa * 10 + (c - 48);
    any = true;
    c = bytes[++i];
  }
  if (i < end && c === 46) {
    c = bytes[++i];
    while (i < end && c >= 48 && c <= 57) {
      mantissa = mantissa * 10 + (c - 48);
      fraction++;
      any = true;
      c = bytes[++i];
    }
  }
  if (i === end && any && mantissa <= Number.MAX_SAFE_INTEGER && fraction <= 22) {
    const value = fraction === 0 ? mantissa : mantissa / POWERS[fraction];
    return negative ? -value : value;
  }
  return slowDecimal(bytes, start, end);
}

function slowDecimal(bytes: Uint8Array, start: number, end: number): number {
  if (end - start > 400 || start >= end) return NaN;
  let text = '';
  for (let i = start; i < end; i++) text += String.fromCharCode(bytes[i]);
  text = text.trim();
  // Only decimal forms: Number() would also take hex and "Infinity".
  return /^[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d+)?$/.test(text) ? Number(text.replace(/[dD]/, 'e')) : NaN;
}

/**
 * The shortest text that reads back to the same double, always with a decimal point: plain decimals in the ordinary
 * range, `1.0E-17` outside it. Throws `RangeError` for NaN and infinities, which no drawing file may hold.
 */
export function formatDecimal(value: number): string {
  if (Number.isInteger(value) && value < 1e15 && value > -1e15) return value === 0 ? '0.0' : value + '.0';
  const text = String(value);
  const e = text.indexOf('e');
  if (e < 0) {
    if (text.includes('.')) return text;
    if (!Number.isFinite(value)) throw new RangeError(`a drawing file cannot hold ${text}`);
    return text + '.0';
  }
  const exponent = Number(text.slice(e + 1));
  if (exponent < 0 && exponent >= -10) return plainSmall(text.slice(0, e), -exponent);
  const mantissa = text.slice(0, e);
  const sign = exponent < 0 ? '-' : '+';
  return `${mantissa.includes('.') ? mantissa : mantissa + '.0'}E${sign}${String(Math.abs(exponent)).padStart(2, '0')}`;
}

function plainSmall(mantissa: string, exponent: number): string {
  const negative = mantissa.startsWith('-');
  const digits = mantissa.replace('-', '').replace('.', '');
  return `${negative ? '-' : ''}0.${'0'.repeat(exponent - 1)}${digits}`;
}

/**
 * An angle in degrees such that its radians (by `× π / 180`) are exactly `radians` again, in as few digits as that
 * takes; the nearest double where no such number is found.
 */
export function degreesOf(radians: number): number {
  const raw = (radians * 180) / Math.PI;
  for (let digits = 12; digits <= 17; digits++) {
    const candidate = Number(raw.toPrecision(digits));
    if (radiansOf(candidate) === radians) return candidate;
  }
  return raw;
}

export const radiansOf = (degrees: number): number => (degrees * Math.PI) / 180;
