import { isDrawable } from '../../geometry/magnitude.js';
import { Bag } from '../drafting/bag.js';
import { parseDecimal, radiansOf } from '../drafting/numbers.js';
import type { TextDecoding } from '../drafting/decoding.js';

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
      let c = bytes[i]!;
      while (c === 32 || c === 9) c = bytes[++i]!;
      let negative = false;
      if (c === 45) {
        negative = true;
        c = bytes[++i]!;
      }
      let code = 0;
      let digits = 0;
      while (c >= 48 && c <= 57) {
        code = code * 10 + c - 48;
        digits++;
        c = bytes[++i]!;
      }
      while (c === 32 || c === 9) c = bytes[++i]!;
      const clean = i >= n || c === 10 || c === 13;
      if (!clean) while (i < n && c !== 10 && c !== 13) c = bytes[++i]!;
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
      c = bytes[i]!;
      // Blanks around a value mean nothing, except in text that people wrote.
      const text = code === 1 || code === 3;
      if (!text) while (c === 32 || c === 9) c = bytes[++i]!;
      this.start = i;
      // Nearly all characters lie above the line ends; past the end of the bytes there is nothing, which does not.
      for (;;) {
        while (c > 13) c = bytes[++i]!;
        if (c === 10 || c === 13 || i >= n) break;
        c = bytes[++i]!;
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

/** The tags of one record of a text file, held as offsets. */
export class TagBag extends Bag {
  starts = new Int32Array(256);
  ends = new Int32Array(256);
  badNumbers = 0;
  firstBadNumberLine = 0;
  /** Where the record begins and ends in the file, and its first line. */
  private from = 0;
  private to = 0;
  private line = 0;

  constructor(
    readonly bytes: Uint8Array,
    public decoding: TextDecoding,
  ) {
    super();
  }

  /** Gathers tags up to the next code 0, at which the scanner stands afterwards; `false` when the file ended. */
  load(scanner: TagScanner): boolean {
    let total = 0;
    let own = -1;
    this.begin();
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
        else this.meet(code, total);
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

  numberAt(i: number): number {
    const value = parseDecimal(this.bytes, this.starts[i]!, this.ends[i]!);
    if (isDrawable(value)) return value;
    return Number.isNaN(value) ? this.lenient(i) : this.passBound(this.textAt(i));
  }

  /** Decimal commas are understood; anything else reads as 0. Both are counted. */
  private lenient(i: number): number {
    this.badNumbers++;
    this.firstBadNumberLine ||= this.line + 2 * (i + 1);
    const text = this.textAt(i);
    const comma = /^[+-]?\d+,\d+$/.test(text) ? Number(text.replace(',', '.')) : 0;
    return comma;
  }

  radiansAt(i: number): number {
    return radiansOf(this.numberAt(i));
  }
  where(): string {
    return `line ${this.line}`;
  }
  textAt(i: number): string {
    return this.decoding.decode(this.bytes, this.starts[i]!, this.ends[i]!);
  }
  handleAt(i: number): number {
    let h = 0;
    const { bytes } = this;
    const end = this.ends[i]!;
    if (end - this.starts[i]! > 12 || end === this.starts[i]!) return -1;
    for (let k = this.starts[i]!; k < end; k++) {
      const c = bytes[k]!;
      const digit = c >= 48 && c <= 57 ? c - 48 : c >= 65 && c <= 70 ? c - 55 : c >= 97 && c <= 102 ? c - 87 : -1;
      if (digit < 0) return -1;
      h = h * 16 + digit;
    }
    return h;
  }
  rawAt(i: number): string {
    return this.decoding.decodeRaw(this.bytes, this.starts[i]!, this.ends[i]!);
  }
  rawFrom(i: number): string {
    const from = i === 0 ? this.from : this.lineStart(this.starts[i]!);
    return this.decoding.decodeRaw(this.bytes, from, this.to);
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
