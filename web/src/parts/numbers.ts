/** A number for people: at most `digits` significant digits, thousands set apart by thin spaces, no exponent. */
export function plainNumber(value: number, digits = 6): string {
  if (!Number.isFinite(value)) return '–';
  if (value !== 0 && (Math.abs(value) >= 1e12 || Math.abs(value) < 1e-6)) return value.toExponential(3);
  const rounded = Number(value.toPrecision(digits));
  const [whole = '0', part] = String(Math.abs(rounded)).split('.');
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole;
  return (rounded < 0 ? '−' : '') + grouped + (part ? `.${part}` : '');
}

/** So many of something, in words: `1 file`, `2,000 files`. */
export const counted = (n: number, one: string, many = `${one}s`): string =>
  `${plainNumber(n)} ${n === 1 ? one : many}`;

/** A size on disk. */
export function fileSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 1e6) return `${plainNumber(bytes / 1e3, 3)} kB`;
  return `${plainNumber(bytes / 1e6, 3)} MB`;
}

/** Reads a number as a person types it: decimal comma or point, blanks between thousands. `null` when it is none. */
export function typedNumber(text: string): number | null {
  const clean = text
    .trim()
    .replace(/[\s\u2009]/g, '')
    .replace(',', '.')
    .replace('−', '-');
  if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(clean)) return null;
  const v = Number(clean);
  return Number.isFinite(v) ? v : null;
}
