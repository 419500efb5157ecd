import { formatDecimal } from './numbers.js';
import type { Vec3 } from '../../geometry/vector.js';

const FLUSH_AT = 1 << 16;

/** Gathers tags as text and encodes them in pieces. Lines end in CRLF, as most receivers expect. */
export class TagWriter {
  private text = '';
  private pieces: Uint8Array[] = [];
  private readonly encode: (text: string) => Uint8Array;

  /** `utf8` from version 2007 on; before that characters outside code page 1252 become `\U+XXXX`. */
  constructor(private readonly utf8: boolean) {
    const encoder = new TextEncoder();
    this.encode = utf8 ? (text) => encoder.encode(text) : latin1;
  }

  private put(code: number, value: string): void {
    this.text += (code < 10 ? '  ' : code < 100 ? ' ' : '') + code + '\r\n' + value + '\r\n';
    if (this.text.length > FLUSH_AT) this.flush();
  }

  /** A text value; line ends inside it become blanks, since a value is one line. */
  string(code: number, value: string): void {
    let v = /[\r\n]/.test(value) ? value.replace(/\r\n?|\n/g, ' ') : value;
    if (!this.utf8) v = escapeUnicode(v);
    this.put(code, v);
  }
  integer(code: number, value: number): void {
    this.put(code, String(Math.round(value)));
  }
  number(code: number, value: number): void {
    this.put(code, formatDecimal(value));
  }
  point(code: number, p: Vec3): void {
    this.number(code, p[0]);
    this.number(code + 10, p[1]);
    this.number(code + 20, p[2]);
  }
  point2(code: number, x: number, y: number): void {
    this.number(code, x);
    this.number(code + 10, y);
  }
  /** Tags in the form of a source file, copied as they are. */
  raw(text: string): void {
    const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
    if (lines === '') return;
    const out = lines.replace(/\n/g, '\r\n') + '\r\n';
    this.text += this.utf8 ? out : escapeUnicode(out);
    if (this.text.length > FLUSH_AT) this.flush();
  }

  private flush(): void {
    this.pieces.push(this.encode(this.text));
    this.text = '';
  }

  bytes(): Uint8Array {
    this.flush();
    const out = new Uint8Array(this.pieces.reduce((n, p) => n + p.length, 0));
    let at = 0;
    for (const p of this.pieces) {
      out.set(p, at);
      at += p.length;
    }
    return out;
  }
}

/** The bytes of a text of which every character is below U+0100 (these are the same in code page 1252 from U+00A0 on). */
function latin1(text: string): Uint8Array {
  const out = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) out[i] = text.charCodeAt(i);
  return out;
}

/** Characters that code page 1252 does not have at their own number as `\U+XXXX`, by UTF-16 unit. */
export const escapeUnicode = (text: string): string =>
  text.replace(/[^\x00-\x7f\xa0-\xff]/g, (c) => '\\U+' + c.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0'));
