import { UnwritableNumber } from '../unwritable.js';

const POWERS = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

/** 2^27 + 1: splits a double into two halves of 26 bits (Dekker, 1971). */
const SPLITTER = 134217729;

/**
 * The decimal number in `bytes[start, end)`, read to the nearest double; NaN when it is none. Digits below 2^53 with a
 * small power of ten are exact in one operation (Clinger's fast path); up to 19 digits go through a quotient or product in
 * twice the precision, which says itself when it is too near to the middle between two doubles; all others go through
 * `Number`.
 */
export function parseDecimal(bytes: Uint8Array, start: number, end: number): number {
  let i = start;
  let c = bytes[i]!;
  let negative = false;
  if (c === 45 || c === 43) {
    negative = c === 45;
    c = bytes[++i]!;
  }
  // Up to 15 digits in `mantissa`, up to 4 more in `more`; zeros in front are none.
  let mantissa = 0;
  let more = 0;
  let digits = 0;
  let fraction = 0;
  let any = false;
  while (i < end && c >= 48 && c <= 57) {
    if (digits < 15) mantissa = mantissa * 10 + (c - 48);
    else more = more * 10 + (c - 48);
    if (digits > 0 || c !== 48) digits++;
    any = true;
    c = bytes[++i]!;
  }
  if (i < end && c === 46) {
    c = bytes[++i]!;
    while (i < end && c >= 48 && c <= 57) {
      if (digits < 15) mantissa = mantissa * 10 + (c - 48);
      else more = more * 10 + (c - 48);
      if (digits > 0 || c !== 48) digits++;
      fraction++;
      any = true;
      c = bytes[++i]!;
    }
  }
  if (any && digits <= 19) {
    let exponent = -fraction;
    if (i < end && (c === 69 || c === 101)) {
      c = bytes[++i]!;
      const down = c === 45;
      if (down || c === 43) c = bytes[++i]!;
      let e = 0;
      let some = false;
      while (i < end && c >= 48 && c <= 57 && e < 1000) {
        e = e * 10 + (c - 48);
        some = true;
        c = bytes[++i]!;
      }
      if (!some) return slowDecimal(bytes, start, end);
      exponent += down ? -e : e;
    }
    if (i === end && exponent >= -22 && exponent <= 22) {
      if (digits <= 15) {
        const value = exponent < 0 ? mantissa / POWERS[-exponent]! : mantissa * POWERS[exponent]!;
        return negative ? -value : value;
      }
      const value = wide(mantissa, POWERS[digits - 15]!, more, exponent);
      if (value >= 0) return negative ? -value : value;
    }
  }
  return slowDecimal(bytes, start, end);
}

/**
 * (mantissa · shift + more) · 10^exponent to the nearest double, for whole numbers of up to 19 digits and exponents from
 * -22 to 22, whose powers are exact; -1 where twice the precision does not tell which double is nearest.
 */
function wide(mantissa: number, shift: number, more: number, exponent: number): number {
  // The whole number as h + l, exactly: the error of the product is a whole number itself (Dekker's product).
  const p = mantissa * shift;
  const t1 = SPLITTER * mantissa;
  const mh = t1 - (t1 - mantissa);
  const ml = mantissa - mh;
  const l0 = mh * shift - p + ml * shift + more;
  const h = p + l0;
  const l = l0 - (h - p);
  const power = POWERS[exponent < 0 ? -exponent : exponent]!;
  const t2 = SPLITTER * power;
  const ph = t2 - (t2 - power);
  const pl = power - ph;
  let value: number;
  let rest: number;
  if (exponent < 0) {
    // The quotient, and what is left of the number beyond it, exactly but for the last rounding.
    value = h / power;
    const t3 = SPLITTER * value;
    const vh = t3 - (t3 - value);
    const vl = value - vh;
    const product = value * power;
    const error = vh * ph - product + vh * pl + vl * ph + vl * pl;
    rest = (h - product - error + l) / power;
  } else {
    const t3 = SPLITTER * h;
    const hh = t3 - (t3 - h);
    const hl = h - hh;
    value = h * power;
    rest = hh * ph - value + hh * pl + hl * ph + hl * pl + l * power;
  }
  const nearest = value + rest;
  // `rest` is off by less than 2^-49 of itself and 2^-100 of the value: the same on both sides of that, or not told.
  const doubt = Math.abs(rest) * 1.8e-15 + nearest * 1e-30;
  return value + (rest - doubt) === value + (rest + doubt) ? nearest : -1;
}

function slowDecimal(bytes: Uint8Array, start: number, end: number): number {
  if (end - start > 400 || start >= end) return NaN;
  let text = '';
  for (let i = start; i < end; i++) text += String.fromCharCode(bytes[i]!);
  text = text.trim();
  // Only decimal forms: Number() would also take hex and "Infinity".
  return /^[+-]?(\d+\.?\d*|\.\d+)([eEdD][+-]?\d+)?$/.test(text) ? Number(text.replace(/[dD]/, 'e')) : NaN;
}

/**
 * The shortest text that reads back to the same double, always with a decimal point: plain decimals in the ordinary
 * range, `1.0E-17` outside it. Throws `UnwritableNumber` for NaN and infinities, which no drawing file may hold.
 */
export function formatDecimal(value: number): string {
  if (Number.isInteger(value) && value < 1e15 && value > -1e15) return value === 0 ? '0.0' : value + '.0';
  const text = String(value);
  const e = text.indexOf('e');
  if (e < 0) {
    if (text.includes('.')) return text;
    if (!Number.isFinite(value)) throw new UnwritableNumber(value);
    return text + '.0';
  }
  const exponent = Number(text.slice(e + 1));
  if (exponent < 0 && exponent >= -10) return plainSmall(text.slice(0, e), -exponent);
  const mantissa = text.slice(0, e);
  const sign = exponent < 0 ? '-' : '+';
  return `${mantissa.includes('.') ? mantissa : mantissa + '.0'}E${sign}${String(Math.abs(exponent)).padStart(2, '0')}`;
}

/** The four digits of 0 to 9999 as characters, packed so that one 32-bit store (little end first) writes them. */
const FOUR = new Uint32Array(10000);
for (let i = 0; i < 10000; i++) {
  const [a, b, c, d] = [(i / 1000) | 0, ((i / 100) | 0) % 10, ((i / 10) | 0) % 10, i % 10];
  FOUR[i] = ((48 + d) << 24) | ((48 + c) << 16) | ((48 + b) << 8) | (48 + a);
}

/**
 * Writes what `formatDecimal` gives into `out` at `at`, which must have 40 bytes of room; returns where it ends. `view`
 * is on the same bytes. Numbers of up to 15 digits take a short way: n = round(v·10^k) is their digits when n / 10^k is
 * v again (doubles lie closer than 15 digits tell apart, so no other n of k decimals reads as v, and none with fewer).
 */
export function putDecimal(out: Uint8Array, view: DataView, at: number, value: number): number {
  const v = value < 0 ? -value : value;
  if (v >= 1e-5 && v < 1e15) {
    // As many decimals as make 15 digits: n stays below 10^15.
    let k = 15;
    if (v >= 1) for (let limit = 1; v >= limit && k > 0; limit *= 10) k--;
    else for (let limit = 0.1; v < limit && k < 20; limit /= 10) k++;
    const n = Math.round(v * POWERS[k]!);
    if (n < 1e15 && n / POWERS[k]! === v) {
      if (value < 0) out[at++] = 45;
      const whole = k > 15 ? 0 : Math.floor(n / POWERS[k]!);
      at = putWhole(out, at, whole);
      out[at++] = 46;
      if (k === 0) {
        out[at] = 48;
        return at + 1;
      }
      return putFraction(out, view, at, n - whole * POWERS[k]!, k);
    }
  } else if (v === 0) {
    out[at] = 48;
    out[at + 1] = 46;
    out[at + 2] = 48;
    return at + 3;
  }
  const text = formatDecimal(value);
  for (let i = 0; i < text.length; i++) out[at++] = text.charCodeAt(i);
  return at;
}

/** A whole number below 10^15 without leading zeros. */
function putWhole(out: Uint8Array, at: number, n: number): number {
  let size = 1;
  for (let limit = 10; n >= limit; limit *= 10) size++;
  for (let i = at + size - 1; i >= at; i--) {
    const q = Math.floor(n / 10);
    out[i] = 48 + (n - q * 10);
    n = q;
  }
  return at + size;
}

/** The decimals f / 10^k, f below 10^15 and k to 20, four at a time, zeros at the end taken back but for the first. */
function putFraction(out: Uint8Array, view: DataView, at: number, f: number, k: number): number {
  const groups = (k + 3) >> 2;
  const first = at;
  // Filled up to whole groups: f stays below 10^18, whose groups come out right since the last ones are zeros.
  const pad = POWERS[4 * groups - k]!;
  let unit = POWERS[4 * (groups - 1)]!;
  for (let g = 0; g < groups; g++) {
    // What one group counts, in units of f.
    const size = unit / pad;
    let digits: number;
    if (size >= 1) {
      digits = Math.floor(f / size);
      f -= digits * size;
    } else digits = Math.round(f / size);
    view.setUint32(at, FOUR[digits]!, true);
    at += 4;
    unit /= 10000;
  }
  while (at > first + 1 && out[at - 1] === 48) at--;
  return at;
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
  if (radians === 0) return raw;
  for (let k = 2; k <= 10; k += 2) {
    const near = Math.round(raw * POWERS[k]!) / POWERS[k]!;
    if (radiansOf(near) === radians) return near;
  }
  for (let digits = 12; digits <= 17; digits++) {
    const candidate = Number(raw.toPrecision(digits));
    if (radiansOf(candidate) === radians) return candidate;
  }
  return raw;
}

export const radiansOf = (degrees: number): number => (degrees * Math.PI) / 180;
