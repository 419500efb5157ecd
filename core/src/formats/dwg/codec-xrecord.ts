import { isPointer } from '../drafting/raw-tags.js';
import { valueType } from '../drafting/value-types.js';
import { BitReader } from './bit-reader.js';
import { BitWriter } from './bit-writer.js';
import type { Codec } from './codec.js';
import { bounded, put } from './codecs-curves.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { SOFT_POINTER } from './fields.js';

/** The values of an XRECORD by group code, as a string of bytes rather than of bits. */
export const XRECORD: Codec = {
  read(f) {
    f.mark('AcDbXrecord');
    const { data } = f;
    const size = bounded(f, data.bitLong(), 8);
    const bytes = data.take(size);
    const cloning = f.v >= 2000 ? data.bitShort() : 1;
    f.bag.addNumber(280, cloning);
    readValues(f, bytes);
    // The references that follow repeat those among the values.
  },
  write(f) {
    f.mark('AcDbXrecord');
    const { record } = f;
    const { store } = record;
    const cloning = f.number(280, 1);
    let at = record.to;
    for (let i = record.from + 1; i < record.to; i++)
      if (store.codes[i] === 100 && store.textAt(i).trim() === 'AcDbXrecord') at = i + 1;
    if (at < record.to && store.codes[at] === 280) at++;
    const out = new BitWriter();
    const refs: number[] = [];
    for (let i = at; i < record.to; i++) {
      f.use(i);
      i = writeValue(f, out, i, refs);
    }
    f.data.bitLong(out.at >> 3);
    f.data.put(out.written);
    f.data.bitShort(cloning);
    for (const h of refs) f.putRef(SOFT_POINTER, h);
  },
};

function readValues(f: FieldReader, bytes: Uint8Array): void {
  const { bag } = f;
  const r = new BitReader(bytes);
  while (r.left >= 16 && !r.overrun) {
    const code = (r.short() << 16) >> 16;
    if (isPointer(code) || code === 5 || code === 105) {
      bag.addHandle(code, handle8(r));
      continue;
    }
    switch (valueType(code)) {
      case 'text': {
        const n = r.short();
        if (f.v >= 2007) bag.addText(code, new TextDecoder('utf-16le').decode(r.take(2 * n)));
        else {
          r.byte();
          const text = r.take(n);
          bag.addText(code, f.decoding.decode(text, 0, text.length));
        }
        break;
      }
      case 'double':
        if (code >= 10 && code < 20) put(f, code, [r.double(), r.double(), r.double()]);
        else if (code >= 210 && code < 220) put(f, code, [r.double(), r.double(), r.double()]);
        else bag.addNumber(code, r.double());
        break;
      case 'int16':
        bag.addNumber(code, (r.short() << 16) >> 16);
        break;
      case 'int32':
        bag.addNumber(code, r.long());
        break;
      case 'int64': {
        const low = r.long() >>> 0;
        bag.addNumber(code, low + r.long() * 2 ** 32);
        break;
      }
      case 'bool':
        bag.addNumber(code, r.byte());
        break;
      case 'bytes':
        bag.addBytes(code, r.take(r.byte()));
        break;
    }
  }
}
/** A handle in eight bytes, the lowest first. */
function handle8(r: BitReader): number {
  let value = 0;
  for (let k = 0; k < 8; k++) value += r.byte() * 256 ** k;
  return Number.isSafeInteger(value) ? value : 0;
}

/** Writes one value; answers with the position of the last tag that it took (points take three). */
function writeValue(f: FieldWriter, out: BitWriter, i: number, refs: number[]): number {
  const { store } = f.record;
  const code = store.codes[i]!;
  const point = (code >= 10 && code < 20) || (code >= 210 && code < 220);
  // The y and z of a point come with its x.
  out.short(code);
  if (isPointer(code) || code === 5 || code === 105) {
    const h = store.handleAt(i);
    if (code !== 5 && f.known(h)) refs.push(h);
    for (let k = 0; k < 8; k++) out.byte(Math.floor(h / 256 ** k) % 256);
    return i;
  }
  switch (valueType(code)) {
    case 'text': {
      const text = store.textAt(i);
      out.short(text.length);
      if (f.v >= 2007) for (let k = 0; k < text.length; k++) out.short(text.charCodeAt(k));
      else {
        out.byte(30);
        for (let k = 0; k < text.length; k++) out.byte(text.charCodeAt(k) < 256 ? text.charCodeAt(k) : 63);
      }
      return i;
    }
    case 'double': {
      out.double(store.numberAt(i));
      if (!point) return i;
      let last = i;
      for (const k of [10, 20]) {
        const has = last + 1 < f.record.to && store.codes[last + 1]! === code + k;
        out.double(has ? store.numberAt(last + 1) : 0);
        if (has) f.use(++last);
      }
      return last;
    }
    case 'int16':
      out.short(store.numberAt(i));
      return i;
    case 'int32':
      out.long(store.numberAt(i));
      return i;
    case 'int64': {
      const v = store.numberAt(i);
      out.long((v % 2 ** 32) | 0);
      out.long(Math.floor(v / 2 ** 32));
      return i;
    }
    case 'bool':
      out.byte(store.numberAt(i));
      return i;
    case 'bytes': {
      const hex = store.textAt(i).trim();
      const n = Math.min(hex.length >> 1, 255);
      out.byte(n);
      for (let k = 0; k < n; k++) out.byte(parseInt(hex.slice(2 * k, 2 * k + 2), 16) || 0);
      return i;
    }
  }
}
