import { soundText } from '../../drawing/sound-text.js';
import { isDrawable } from '../../geometry/magnitude.js';
import { Bag } from '../drafting/bag.js';
import { valueType } from '../drafting/value-types.js';
import { degreesOf, formatDecimal, radiansOf } from '../drafting/numbers.js';

const NUMBER = 0;
const TEXT = 1;
const HANDLE = 2;
const BYTES = 3;
/** Radians, which become degrees only where they are asked for as a tag. */
const ANGLE = 4;

const hexOf = (bytes: Uint8Array): string => {
  let out = '';
  for (const b of bytes) out += (b < 16 ? '0' : '') + b.toString(16);
  return out.toUpperCase();
};

/** The tags of one record as values: what a DWG says in bits, under the group codes that a DXF has for it. */
export class ValueBag extends Bag {
  type = '';
  handle = 0;
  /** Values that were no numbers, read as 0. */
  badNumbers = 0;
  /** Texts with characters that nothing can hold, which were replaced. */
  unsound = 0;
  private kinds = new Uint8Array(256);
  private values = new Float64Array(256);
  private others: (string | Uint8Array)[] = [];
  /** Whether what is added belongs to an object within the record. */
  private embedding = false;

  reset(type: string, handle: number): void {
    this.begin();
    this.type = type;
    this.handle = handle;
    this.total = 0;
    this.count = 0;
    this.others.length = 0;
    this.embedding = false;
  }

  private add(code: number, kind: number, value: number): void {
    const i = this.total;
    if (i === this.codes.length) this.grow();
    this.codes[i] = code;
    this.kinds[i] = kind;
    this.values[i] = value;
    this.total = i + 1;
    if (this.embedding) return;
    this.meet(code, i);
    this.count = i + 1;
  }
  /** What is added from here on belongs to an object within the record, which a DXF has behind group 101. */
  embed(): void {
    this.embedding = true;
    this.addText(101, 'Embedded Object');
  }
  /** Adds the tags of another bag from a position on. */
  addFrom(other: ValueBag, from: number): void {
    for (let i = from; i < other.total; i++) {
      const kind = other.kinds[i]!;
      const value = other.values[i]!;
      const own = kind === TEXT || kind === BYTES ? this.others.push(other.others[value]!) - 1 : value;
      this.add(other.codes[i]!, kind, own);
    }
  }
  private grow(): void {
    const n = this.codes.length * 2;
    const codes = new Int32Array(n);
    codes.set(this.codes);
    this.codes = codes;
    const kinds = new Uint8Array(n);
    kinds.set(this.kinds);
    this.kinds = kinds;
    const values = new Float64Array(n);
    values.set(this.values);
    this.values = values;
  }

  private finite(value: number): number {
    if (Number.isFinite(value)) return value;
    this.badNumbers++;
    return 0;
  }
  addNumber(code: number, value: number): void {
    this.add(code, NUMBER, this.finite(value));
  }
  addAngle(code: number, radians: number): void {
    // In degrees it must be a number too.
    this.add(code, ANGLE, this.finite(Math.abs(radians) < 1e300 ? radians : NaN));
  }
  addText(code: number, value: string): void {
    const sound = soundText(value);
    if (sound !== value) this.unsound++;
    this.add(code, TEXT, this.others.push(sound) - 1);
  }
  addHandle(code: number, handle: number): void {
    this.add(code, HANDLE, handle);
  }
  /** Bytes, in lines of at most 127 as a DXF has them. */
  addBytes(code: number, bytes: Uint8Array): void {
    for (let i = 0; i < bytes.length || i === 0; i += 127)
      this.add(code, BYTES, this.others.push(bytes.subarray(i, i + 127)) - 1);
  }

  /** Another value for the first tag with the code. */
  change(code: number, value: number): void {
    const i = this.find(code);
    if (i >= 0) this.values[i] = value;
  }

  changeText(code: number, text: string): void {
    const i = this.find(code);
    if (i < 0) return this.addText(code, text);
    this.kinds[i] = TEXT;
    this.values[i] = this.others.push(text) - 1;
  }

  numberAt(i: number): number {
    switch (this.kinds[i]) {
      case NUMBER:
        return isDrawable(this.values[i]!) ? this.values[i]! : this.passBound(String(this.values[i]));
      case ANGLE:
        return degreesOf(this.radiansAt(i));
      case TEXT:
        return Number(this.textAt(i)) || 0;
      default:
        return 0;
    }
  }
  radiansAt(i: number): number {
    if (this.kinds[i] !== ANGLE) return radiansOf(this.numberAt(i));
    return isDrawable(this.values[i]!) ? this.values[i]! : this.passBound(String(this.values[i]));
  }
  textAt(i: number): string {
    const v = this.values[i]!;
    switch (this.kinds[i]) {
      case TEXT:
        return this.others[v] as string;
      case HANDLE:
        return v.toString(16).toUpperCase();
      case BYTES:
        return hexOf(this.others[v] as Uint8Array);
      case ANGLE:
        return formatDecimal(degreesOf(v));
      default:
        return valueType(this.codes[i]!) === 'double' ? formatDecimal(v) : String(Math.trunc(v));
    }
  }
  rawAt(i: number): string {
    const text = this.textAt(i);
    return this.kinds[i] === TEXT && /[\r\n]/.test(text) ? text.replace(/\r\n?|\n/g, ' ') : text;
  }
  rawFrom(i: number): string {
    let out = i === 0 ? `0\n${this.type}\n` : '';
    for (; i < this.total; i++) out += `${this.codes[i]}\n${this.rawAt(i)}\n`;
    return out;
  }
  handleAt(i: number): number {
    return this.kinds[i] === HANDLE ? this.values[i]! : parseInt(this.textAt(i), 16) || -1;
  }
  where(): string {
    return `${this.type} ${this.handle.toString(16).toUpperCase()}`;
  }
}
