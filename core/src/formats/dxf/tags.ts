import { DoublePool } from '../../geometry/pool.js';
import { parseDecimal } from './numbers.js';
import type { TextDecoding } from './decoding.js';

/**
 * The tags of an ASCII DXF, in one pass over its bytes. A tag is two lines: a group code and a value. Nothing is split
 * or copied: `next` only finds where the value lies. Lines may end in CR, LF or CRLF; comments (999) are passed over.
 */
export class TagScanner {
  code = -1;
  /** The value is `bytes[start, end)`, blanks around it left out unless it is text. */
  start = 0;
  end = 0;
  /** Where the tag itself begins. */
  tagStart = 0;
  /** The line of the group code, counted from 1. */
  line = 1;
  /** The next line to be read. */
  private nextLine = 1;
  /** Group codes that were no number; each such line is passed over. */
  badCodes = 0;
  firstBadLine = 0;
  /** The file ended between a code and its value. */
  truncated = false;

  constructor(
    readonly bytes: Uint8Array,
    public at = 0,
  ) {}

  /** Moves to the next tag; `false` at the end of the file. */
  next(): boolean {
    const { bytes } = this;
    const n = bytes.length;
    for (;;) {
      let i = this.at;
      if (i >= n) return false;
      this.tagStart = i;
      this.line = this.nextLine;
      // The group code.
      let c = bytes[i];
      while (c === 32 || c === 9) c = bytes[++i];
      let negative = false;
      if (c === 45) {
        negative = true;
        c = bytes[++i];
      }
      let code = 0;
      let digits = 0;
      while (c >= 48 && c <= 57) {
        code = code * 10 + c - 48;
        digits++;
        c = bytes[++i];
      }
      while (c === 32 || c === 9) c = bytes[++i];
      const clean = i >= n || c === 10 || c === 13;
      if (!clean) while (i < n && c !== 10 && c !== 13) c = bytes[++i];
      if (c === 13 && bytes[i + 1] === 10) i++;
      i++;
      this.nextLine++;
      if (digits === 0 || !clean || digits > 5) {
        this.at = i;
        if (i >= n && digits === 0) return false;
        this.badCodes++;
        this.firstBadLine ||= this.line;
        continue;
      }
      if (i >= n) {
        this.truncated = code !== 0;
        this.at = n;
        return false;
      }
      // The value.
      c = bytes[i];
      // Blanks around a value mean nothing, except in text that people wrote.
      const text = code === 1 || code === 3;
      if (!text) while (c === 32 || c === 9) c = bytes[++i];
      this.start = i;
      // Nearly all characters lie above the line ends; past the end of the bytes there is nothing, which does not.
      for (;;) {
        while (c > 13) c = bytes[++i];
        if (c === 10 || c === 13 || i >= n) break;
        c = bytes[++i];
      }
      let e = i;
      if (!text) while (e > this.start && (bytes[e - 1] === 32 || bytes[e - 1] === 9)) e--;
      this.end = e;
      if (c === 13 && bytes[i + 1] === 10) i++;
      this.at = i + 1;
      this.nextLine++;
      this.code = negative ? -code : code;
      if (code !== 999) return true;
    }
  }
}

const SLOTS = 1100;

/**
 * The tags of one entity or record, held as offsets, with constant-time access to the first of each group code.
 * Reused for every entity: what is read from it must be taken out before the next `load`.
 */
export class TagBag {
  codes = new Int32Array(256);
  starts = new Int32Array(256);
  ends = new Int32Array(256);
  /** Tags of the record itself. */
  count = 0;
  /** All tags: those of an embedded object (from group 101 on) come after the record's own and are never found by code. */
  total = 0;
  /** Where the record begins and ends in the file, and its first line. */
  from = 0;
  to = 0;
  line = 0;
  private first = new Int32Array(SLOTS);
  private stamp = new Int32Array(SLOTS);
  private epoch = 0;
  badNumbers = 0;
  /** Where entities take their arrays of coordinates from. */
  readonly pool = new DoublePool();
  firstBadNumberLine = 0;

  constructor(
    readonly bytes: Uint8Array,
    public decoding: TextDecoding,
  ) {}

  /** Gathers tags up to the next code 0, at which the scanner stands afterwards; `false` when the file ended. */
  load(scanner: TagScanner): boolean {
    let total = 0;
    let own = -1;
    const epoch = ++this.epoch;
    const { first, stamp } = this;
    this.from = scanner.tagStart;
    this.line = scanner.line;
    let more = scanner.next();
    while (more && scanner.code !== 0) {
      if (total === this.codes.length) this.grow();
      const { code } = scanner;
      this.codes[total] = code;
      this.starts[total] = scanner.start;
      this.ends[total] = scanner.end;
      if (own < 0) {
        if (code === 101) own = total;
        else if (code >= 0 && code < SLOTS && stamp[code] !== epoch) {
          stamp[code] = epoch;
          first[code] = total;
        }
      }
      total++;
      more = scanner.next();
    }
    this.total = total;
    this.count = own < 0 ? total : own;
    this.to = more ? scanner.tagStart : this.bytes.length;
    return more;
  }

  private grow(): void {
    const wider = (a: Int32Array): Int32Array<ArrayBuffer> => {
      const b = new Int32Array(a.length * 2);
      b.set(a);
      return b;
    };
    this.codes = wider(this.codes);
    this.starts = wider(this.starts);
    this.ends = wider(this.ends);
  }

  /** Position of the first tag with the code, or -1. */
  find(code: number): number {
    return this.stamp[code] === this.epoch ? this.first[code] : -1;
  }
  has(code: number): boolean {
    return this.stamp[code] === this.epoch;
  }

  /** The number of the tag at a position. What is no number counts as a fault and reads as 0. */
  numberAt(i: number): number {
    const value = parseDecimal(this.bytes, this.starts[i], this.ends[i]);
    if (Number.isFinite(value)) return value;
    return this.lenient(i);
  }

  /** Decimal commas are understood; anything else reads as 0. Both are counted. */
  private lenient(i: number): number {
    this.badNumbers++;
    this.firstBadNumberLine ||= this.line + 2 * (i + 1);
    const text = this.textAt(i);
    const comma = /^[+-]?\d+,\d+$/.test(text) ? Number(text.replace(',', '.')) : 0;
    return comma;
  }

  textAt(i: number): string {
    return this.decoding.decode(this.bytes, this.starts[i], this.ends[i]);
  }
  number(code: number, otherwise = 0): number {
    const i = this.find(code);
    return i < 0 ? otherwise : this.numberAt(i);
  }
  integer(code: number, otherwise = 0): number {
    return Math.trunc(this.number(code, otherwise));
  }
  text(code: number, otherwise = ''): string {
    const i = this.find(code);
    return i < 0 ? otherwise : this.textAt(i);
  }
  /** The point whose x is at `code`, y at code + 10, z at code + 20. */
  point(code: number): [number, number, number] {
    return [this.number(code), this.number(code + 10), this.number(code + 20)];
  }
  /** The value of a tag in the source's own form, escapes and all. */
  rawAt(i: number): string {
    return this.decoding.decodeRaw(this.bytes, this.starts[i], this.ends[i]);
  }
  /** The record's text from the given tag on, in the source's own form. */
  rawFrom(i: number): string {
    const from = i === 0 ? this.from : this.lineStart(this.starts[i]);
    return this.decoding.decodeRaw(this.bytes, from, this.to);
  }
  /** All numbers with the code, in order. */
  numbers(code: number): number[] {
    const out: number[] = [];
    for (let i = 0; i < this.count; i++) if (this.codes[i] === code) out.push(this.numberAt(i));
    return out;
  }
  /** Start of the group code line above the value at `offset`. */
  private lineStart(offset: number): number {
    const back = (o: number): number => {
      while (o > 0 && this.bytes[o - 1] !== 10 && this.bytes[o - 1] !== 13) o--;
      return o;
    };
    let o = back(offset);
    if (o > 0 && this.bytes[o - 1] === 10) o--;
    if (o > 0 && this.bytes[o - 1] === 13) o--;
    return back(o);
  }
}
