import { putDecimal } from '../drafting/numbers.js';
import { TagSink, escapeUnicode } from '../drafting/tag-sink.js';
import { valueType } from '../drafting/value-types.js';
import { UnwritableNumber } from '../unwritable.js';
import { BINARY_MARK } from './binary.js';

const CHUNK = 1 << 18;
/** Room that any single number or code needs at most. */
const SMALL = 64;

/** Bytes in chunks, so that nothing is ever copied while it grows. */
class Chunks {
  private done: Uint8Array[] = [];
  buffer = new Uint8Array(CHUNK);
  view = new DataView(this.buffer.buffer);
  at = 0;

  room(n: number): void {
    if (this.at + n <= this.buffer.length) return;
    this.done.push(this.buffer.subarray(0, this.at));
    this.buffer = new Uint8Array(Math.max(CHUNK, n));
    this.view = new DataView(this.buffer.buffer);
    this.at = 0;
  }
  put(bytes: Uint8Array): void {
    this.room(bytes.length);
    this.buffer.set(bytes, this.at);
    this.at += bytes.length;
  }
  pieces(): Uint8Array[] {
    return [...this.done, this.buffer.subarray(0, this.at)];
  }
}

const encoder = new TextEncoder();

/** The bytes of a text of which every character is below U+0100 (these are the same in code page 1252 from U+00A0 on). */
function latin1(text: string): Uint8Array {
  const out = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) out[i] = text.charCodeAt(i);
  return out;
}

/** One line: a line end inside becomes a blank, and a byte order mark or a zero nothing. */
const oneLine = (value: string): string =>
  /[\r\n\0]/.test(value) ? value.replace(/\r\n?|\n/g, ' ').replace(/\0/g, '') : value;

/** The lines of group codes to 1071, as two words of four bytes each, and how long they are. */
const CODE_WORDS = new Uint32Array(2 * 1072);
const CODE_LENGTH = new Uint8Array(1072);
for (let code = 0; code < 1072; code++) {
  const line = latin1((code < 10 ? '  ' : code < 100 ? ' ' : '') + code + '\r\n');
  CODE_LENGTH[code] = line.length;
  line.forEach((c, i) => (CODE_WORDS[2 * code + (i >> 2)]! |= c << (8 * (i & 3))));
}

/** Writes ASCII DXF. Lines end in CRLF, as most receivers expect. */
export class TagWriter extends TagSink {
  private readonly out = new Chunks();

  /** `utf8` from version 2007 on; before that characters outside code page 1252 become `\U+XXXX`. */
  constructor(private readonly utf8: boolean) {
    super();
  }

  private code(code: number): void {
    const { out } = this;
    out.room(SMALL + 8);
    const { view, at } = out;
    view.setUint32(at, CODE_WORDS[2 * code]!, true);
    view.setUint32(at + 4, CODE_WORDS[2 * code + 1]!, true);
    out.at = at + CODE_LENGTH[code]!;
  }
  /** ASCII text that is known to be short. */
  private short(text: string): void {
    const { out } = this;
    const { buffer } = out;
    let at = out.at;
    for (let i = 0; i < text.length; i++) buffer[at++] = text.charCodeAt(i);
    buffer[at++] = 13;
    buffer[at++] = 10;
    out.at = at;
  }

  string(code: number, value: string): void {
    this.code(code);
    if (value.length < SMALL - 2) {
      // Short ASCII goes in byte by byte; anything else takes the long way.
      const { out } = this;
      const { buffer } = out;
      let at = out.at;
      let i = 0;
      for (; i < value.length; i++) {
        const c = value.charCodeAt(i);
        if (c < 32 || c > 126) break;
        buffer[at++] = c;
      }
      if (i === value.length) {
        buffer[at++] = 13;
        buffer[at++] = 10;
        out.at = at;
        return;
      }
    }
    const v = oneLine(value);
    this.out.put(this.utf8 ? encoder.encode(v) : latin1(escapeUnicode(v)));
    this.out.room(SMALL);
    this.short('');
  }
  integer(code: number, value: number): void {
    this.code(code);
    this.short(String(Math.round(value)));
  }
  number(code: number, value: number): void {
    this.code(code);
    const { out } = this;
    const { buffer } = out;
    let at = putDecimal(buffer, out.view, out.at, value);
    buffer[at++] = 13;
    buffer[at++] = 10;
    out.at = at;
  }
  raw(text: string): void {
    const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
    if (lines === '') return;
    const out = lines.replace(/\n/g, '\r\n') + '\r\n';
    this.out.put(this.utf8 ? encoder.encode(out) : latin1(escapeUnicode(out)));
  }
  pieces(): Uint8Array[] {
    return this.out.pieces();
  }
}

/** Writes binary DXF. Codes take one byte in R12 (255 and two more from 1000 on), two in later versions. */
export class BinaryTagWriter extends TagSink {
  private readonly out = new Chunks();

  constructor(
    private readonly utf8: boolean,
    private readonly wide: boolean,
  ) {
    super();
  }

  private code(code: number): void {
    const { out } = this;
    out.room(SMALL);
    if (this.wide || code >= 255) {
      if (!this.wide) out.buffer[out.at++] = 255;
      out.buffer[out.at++] = code & 255;
      out.buffer[out.at++] = code >> 8;
    } else out.buffer[out.at++] = code;
  }
  private typed(code: number, value: number): void {
    this.code(code);
    const { out } = this;
    const view = new DataView(out.buffer.buffer, out.buffer.byteOffset);
    switch (valueType(code)) {
      case 'double':
        view.setFloat64(out.at, value, true);
        out.at += 8;
        return;
      case 'int16':
        view.setInt16(out.at, value, true);
        out.at += 2;
        return;
      case 'int32':
        view.setInt32(out.at, value, true);
        out.at += 4;
        return;
      case 'int64':
        view.setBigInt64(out.at, BigInt(Math.trunc(value)), true);
        out.at += 8;
        return;
      case 'bool':
        out.buffer[out.at++] = value;
        return;
      default:
        this.text(String(value));
    }
  }
  private text(value: string): void {
    const v = oneLine(value);
    this.out.put(this.utf8 ? encoder.encode(v) : latin1(escapeUnicode(v)));
    this.out.room(SMALL);
    this.out.buffer[this.out.at++] = 0;
  }

  string(code: number, value: string): void {
    const type = valueType(code);
    if (type === 'text') {
      this.code(code);
      return this.text(value);
    }
    if (type !== 'bytes') return this.typed(code, Number(value) || 0);
    // A chunk holds its length in one byte.
    const hex = value.trim();
    for (let from = 0; from < hex.length || from === 0; from += 508) {
      const part = hex.slice(from, from + 508);
      this.code(code);
      const n = part.length >> 1;
      this.out.room(n + 1);
      this.out.buffer[this.out.at++] = n;
      for (let i = 0; i < n; i++) this.out.buffer[this.out.at++] = parseInt(part.slice(2 * i, 2 * i + 2), 16) || 0;
    }
  }
  integer(code: number, value: number): void {
    this.typed(code, Math.round(value));
  }
  number(code: number, value: number): void {
    if (!Number.isFinite(value)) throw new UnwritableNumber(value);
    this.typed(code, value);
  }
  raw(text: string): void {
    const lines = text.replace(/\r\n?/g, '\n').split('\n');
    for (let i = 0; i + 1 < lines.length; i += 2) {
      const code = Number(lines[i]);
      if (Number.isInteger(code)) this.string(code, valueType(code) === 'text' ? lines[i + 1]! : lines[i + 1]!.trim());
    }
  }
  pieces(): Uint8Array[] {
    return this.out.pieces();
  }
}

/** What stands before the first tag of a binary DXF. */
export const binaryHead = (): Uint8Array => latin1(BINARY_MARK);
