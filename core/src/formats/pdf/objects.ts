import { zlibSync } from 'fflate';
import { powerOfTen } from '../../geometry/power-of-ten.js';
import { joined } from '../joined.js';
import { UnwritableNumber } from '../unwritable.js';

/*
 * How a PDF is put together (ISO 32000-2, 7.3 and 7.5): numbered objects, a table of where each begins, and a trailer. The same objects
 * give the same bytes: there is no date in it and no chance.
 */

/** A value as it is written: texts of this kind go out as they are. */
export class Raw {
  constructor(readonly text: string) {}
}

/** The number of an object. */
export class Ref {
  constructor(readonly number: number) {}
}

export type PdfValue =
  number | string | boolean | Raw | Ref | readonly PdfValue[] | { readonly [key: string]: PdfValue };

/** A name as a value: `/Name`, with what a name may not hold as `#xx`. */
export const name = (text: string): Raw =>
  new Raw(
    `/${[...new TextEncoder().encode(text)].map((b) => (b > 32 && b < 127 && !'#()<>[]{}/%'.includes(String.fromCharCode(b)) ? String.fromCharCode(b) : `#${b.toString(16).padStart(2, '0')}`)).join('')}`,
  );

/** A text that people read: UTF-16 with its mark (ISO 32000-2, 7.9.2.2), in hexadecimal. */
export const textValue = (text: string): Raw => {
  let hex = 'FEFF';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0');
  return new Raw(`<${hex}>`);
};

/** Numbers below this need no exponent in JavaScript, those with fewer decimals than seven neither. */
const PLAIN = 1e15;
const POWERS = [0, 1, 2, 3, 4, 5, 6].map(powerOfTen);
/** Below this whole numbers are exact, and few enough digits that no double is nearer by fewer of them. */
const WHOLE = 1e15;

/** A whole number with its decimal point moved so many places to the left. */
function shiftedText(n: number, k: number, decimals: number): string {
  const size = Math.abs(n);
  const whole = Math.floor(size / k);
  let part = size - whole * k;
  const sign = n < 0 ? '-' : '';
  if (part === 0) return n === 0 ? '0' : sign + String(whole);
  let digits = decimals;
  while (part % 10 === 0) {
    part /= 10;
    digits--;
  }
  return `${sign}${whole}.${String(part).padStart(digits, '0')}`;
}

/** A number in the fewest digits, never with an exponent, which a PDF does not know. */
export function numberText(v: number, decimals = 5): string {
  if (!Number.isFinite(v)) throw new UnwritableNumber(v);
  if (decimals < POWERS.length && v < PLAIN && v > -PLAIN) {
    const k = POWERS[decimals]!;
    const n = Math.round(v * k);
    // By whole numbers, which is several times as fast as the shortest text of a double, and the same.
    if (n < WHOLE && n > -WHOLE) return shiftedText(n, k, decimals);
    return String(n / k);
  }
  const text = v.toFixed(decimals).replace(/\.?0+$/, '');
  return text === '-0' || text === '' ? '0' : text;
}

/** Numbers of dictionaries may need more digits than places on a page. */
const EXACT = 10;

export function valueText(v: PdfValue): string {
  if (typeof v === 'number') return numberText(v, EXACT);
  if (typeof v === 'boolean') return String(v);
  if (typeof v === 'string') return `(${v.replace(/[\\()]/g, '\\$&').replace(/[^\x20-\x7e]/g, '?')})`;
  if (v instanceof Raw) return v.text;
  if (v instanceof Ref) return `${v.number} 0 R`;
  if (Array.isArray(v)) return `[${(v as readonly PdfValue[]).map(valueText).join(' ')}]`;
  return `<< ${Object.entries(v as Record<string, PdfValue>)
    .map(([k, x]) => `${name(k).text} ${valueText(x)}`)
    .join(' ')} >>`;
}

const encode = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** The objects of a file, in the order in which they are numbered. */
export class PdfObjects {
  private readonly bodies: (Uint8Array[] | null)[] = [];

  /** A number for an object that is filled in later. */
  reserve(): Ref {
    this.bodies.push(null);
    return new Ref(this.bodies.length);
  }
  add(value: PdfValue): Ref {
    const ref = this.reserve();
    this.fill(ref, value);
    return ref;
  }
  fill(ref: Ref, value: PdfValue): void {
    this.bodies[ref.number - 1] = [encode(valueText(value))];
  }
  /** A stream, packed where that is not done already. */
  stream(data: Uint8Array, about: Readonly<Record<string, PdfValue>> = {}, packed = false): Ref {
    const bytes = packed ? data : zlibSync(data, { level: 6 });
    const head = packed ? about : { ...about, Filter: name('FlateDecode') };
    const ref = this.reserve();
    this.bodies[ref.number - 1] = [
      encode(`${valueText({ ...head, Length: bytes.length })}\nstream\n`),
      bytes,
      encode('\nendstream'),
    ];
    return ref;
  }

  /** The whole file. */
  file(version: string, root: Ref, info: Ref): Uint8Array {
    // The second line marks the file as one of bytes (7.5.2).
    const parts: Uint8Array[] = [encode(`%PDF-${version}\n%\u00e2\u00e3\u00cf\u00d3\n`)];
    let at = parts[0]!.length;
    const put = (bytes: Uint8Array): void => {
      parts.push(bytes);
      at += bytes.length;
    };
    const places: number[] = [];
    this.bodies.forEach((body, i) => {
      if (!body) throw new RangeError(`object ${i + 1} was reserved and never filled`);
      places.push(at);
      put(encode(`${i + 1} 0 obj\n`));
      body.forEach(put);
      put(encode('\nendobj\n'));
    });
    const table = at;
    const rows = places.map((p) => `${String(p).padStart(10, '0')} 00000 n \n`).join('');
    put(encode(`xref\n0 ${places.length + 1}\n0000000000 65535 f \n${rows}`));
    put(
      encode(
        `trailer\n${valueText({ Size: places.length + 1, Root: root, Info: info })}\nstartxref\n${table}\n%%EOF\n`,
      ),
    );
    return joined(parts);
  }
}
