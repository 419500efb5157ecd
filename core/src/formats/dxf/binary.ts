import { formatDecimal } from '../drafting/numbers.js';
import { valueType } from '../drafting/value-types.js';

/** The first 22 bytes of a binary DXF, as the reference prescribes them ("Binary DXF Files"). */
export const BINARY_MARK = String.fromCharCode(
  65,
  117,
  116,
  111,
  67,
  65,
  68,
  32,
  66,
  105,
  110,
  97,
  114,
  121,
  32,
  68,
  88,
  70,
  13,
  10,
  26,
  0,
);

export function isBinaryDxf(bytes: Uint8Array): boolean {
  if (bytes.length < BINARY_MARK.length) return false;
  for (let i = 0; i < BINARY_MARK.length; i++) if (bytes[i] !== BINARY_MARK.charCodeAt(i)) return false;
  return true;
}

/** Bytes that grow. */
class Growing {
  bytes: Uint8Array;
  length = 0;
  constructor(size: number) {
    this.bytes = new Uint8Array(size);
  }
  room(n: number): void {
    if (this.length + n <= this.bytes.length) return;
    const wider = new Uint8Array(Math.max(this.bytes.length * 2, this.length + n));
    wider.set(this.bytes.subarray(0, this.length));
    this.bytes = wider;
  }
  ascii(text: string): void {
    this.room(text.length + 1);
    for (let i = 0; i < text.length; i++) this.bytes[this.length++] = text.charCodeAt(i);
    this.bytes[this.length++] = 10;
  }
}

/**
 * The tags of a binary DXF as the lines of an ASCII one, so that one reader serves both. Doubles get the shortest text
 * that reads back to the same bits; text keeps its bytes. From version R13 on a code takes two bytes, before one, with
 * 255 ahead of codes from 1000 on. Stops at a value that is not whole, and says so.
 */
export function unpackBinary(bytes: Uint8Array): { bytes: Uint8Array; truncated: boolean } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out = new Growing(bytes.length * 2 + 64);
  let at = BINARY_MARK.length;
  // The first tag is 0 SECTION: two zero bytes mean that codes take two.
  const wide = bytes[at] === 0 && bytes[at + 1] === 0;
  const n = bytes.length;
  let truncated = false;
  while (at < n) {
    let code: number;
    if (wide) {
      if (at + 2 > n) break;
      code = view.getInt16(at, true);
      at += 2;
    } else {
      code = bytes[at++]!;
      if (code === 255) {
        if (at + 2 > n) break;
        code = view.getInt16(at, true);
        at += 2;
      }
    }
    const type = valueType(code);
    const size = { double: 8, int16: 2, int32: 4, int64: 8, bool: 1, text: 0, bytes: 1 }[type];
    if (at + size > n) {
      truncated = true;
      break;
    }
    if (type === 'text') {
      let end = at;
      while (end < n && bytes[end] !== 0) end++;
      if (end === n) {
        truncated = true;
        break;
      }
      out.ascii(String(code));
      out.room(end - at + 1);
      // A line cannot hold a line end.
      for (let i = at; i < end; i++) out.bytes[out.length++] = bytes[i]! === 10 || bytes[i]! === 13 ? 32 : bytes[i]!;
      out.bytes[out.length++] = 10;
      const last = code === 0 && end - at === 3 && bytes[at] === 69 && bytes[at + 1] === 79 && bytes[at + 2] === 70;
      at = end + 1;
      if (last) break;
      continue;
    }
    out.ascii(String(code));
    switch (type) {
      case 'double': {
        const v = view.getFloat64(at, true);
        out.ascii(Number.isFinite(v) ? formatDecimal(v) : String(v));
        break;
      }
      case 'int16':
        out.ascii(String(view.getInt16(at, true)));
        break;
      case 'int32':
        out.ascii(String(view.getInt32(at, true)));
        break;
      case 'int64':
        out.ascii(String(view.getBigInt64(at, true)));
        break;
      case 'bool':
        out.ascii(String(bytes[at]));
        break;
      case 'bytes': {
        const length = bytes[at]!;
        if (at + 1 + length > n) {
          truncated = true;
          at = n;
          continue;
        }
        let hex = '';
        for (let i = 0; i < length; i++) hex += bytes[at + 1 + i]!.toString(16).padStart(2, '0').toUpperCase();
        out.ascii(hex);
        at += length;
      }
    }
    at += size;
  }
  return { bytes: out.bytes.subarray(0, out.length), truncated };
}
