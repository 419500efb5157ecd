import { BitReader } from './bit-reader.js';
import { BitWriter } from './bit-writer.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import { CODE_PAGE_1252 } from './versions.js';
import { escapeUnicode } from '../drafting/tag-sink.js';

/** Extended data of one application, as bytes (Open Design Specification, "Extended entity data"). */
export interface ExtendedData {
  application: number;
  bytes: Uint8Array;
}

/** Gives the tags from 1001 on. What cannot be read ends the data of that application. */
export function giveExtended(f: FieldReader, list: readonly ExtendedData[]): void {
  const { bag } = f;
  for (const { application, bytes } of list) {
    const name = f.nameOf('appid', application);
    if (name === undefined) continue;
    bag.addText(1001, name);
    const r = new BitReader(bytes);
    while (r.left >= 8 && !r.overrun) {
      const code = r.byte();
      switch (code) {
        case 0: {
          if (f.v >= 2007) {
            const n = r.short();
            bag.addText(1000, new TextDecoder('utf-16le').decode(r.take(2 * n)));
          } else {
            const n = r.byte();
            r.short();
            const text = r.take(n);
            bag.addText(1000, f.decoding.decode(text, 0, text.length));
          }
          break;
        }
        case 2:
          bag.addText(1002, r.byte() === 0 ? '{' : '}');
          break;
        case 3: {
          const layer = f.nameOf('layer', handleIn(r));
          if (layer !== undefined) bag.addText(1003, layer);
          break;
        }
        case 4:
          bag.addBytes(1004, r.take(r.byte()));
          break;
        case 5:
          bag.addHandle(1005, handleIn(r));
          break;
        case 10:
        case 11:
        case 12:
        case 13:
          for (const k of [0, 10, 20]) bag.addNumber(1000 + code + k, r.double());
          break;
        case 40:
        case 41:
        case 42:
          bag.addNumber(1000 + code, r.double());
          break;
        case 70:
          bag.addNumber(1070, (r.short() << 16) >> 16);
          break;
        case 71:
          bag.addNumber(1071, r.long());
          break;
        default:
          r.at = r.end;
      }
    }
  }
}

/** A handle in eight bytes, the lowest first. */
function handleIn(r: BitReader): number {
  let value = 0;
  for (let k = 0; k < 8; k++) value += r.byte() * 256 ** k;
  return Number.isSafeInteger(value) ? value : 0;
}
function putHandle(w: BitWriter, handle: number): void {
  for (let k = 0; k < 8; k++) w.byte(Math.floor(handle / 256 ** k) % 256);
}

/** Writes the tags of a record from 1001 on among its data, ended by a size of 0. */
export function putExtended(f: FieldWriter): void {
  const { record, data } = f;
  const { store } = record;
  let i = record.from + 1;
  while (i < record.to && store.codes[i]! < 1000) i++;
  while (i < record.to) {
    const application = store.codes[i] === 1001 ? f.refOf('appid', store.textAt(i)) : 0;
    i++;
    const w = new BitWriter();
    for (; i < record.to && store.codes[i] !== 1001; i++) putValue(f, w, i);
    if (application === 0) continue;
    const bytes = w.written;
    // Sizes are shorts; an application with more than that loses its data.
    if (bytes.length > 32767) continue;
    data.bitShort(bytes.length);
    data.handle(5, application);
    data.put(bytes);
  }
  data.bitShort(0);
}

function putValue(f: FieldWriter, w: BitWriter, i: number): void {
  const { store } = f.record;
  const code = store.codes[i]! - 1000;
  switch (code) {
    case 0: {
      w.byte(0);
      if (f.v >= 2007) {
        const text = store.textAt(i).slice(0, 16000);
        w.short(text.length);
        for (let k = 0; k < text.length; k++) w.short(text.charCodeAt(k));
      } else {
        const text = escapeUnicode(store.textAt(i)).slice(0, 255);
        w.byte(text.length);
        w.byte(0);
        w.byte(CODE_PAGE_1252);
        for (let k = 0; k < text.length; k++) w.byte(text.charCodeAt(k));
      }
      return;
    }
    case 2:
      w.byte(2);
      return w.byte(store.textAt(i).trim() === '{' ? 0 : 1);
    case 3:
      w.byte(3);
      return putHandle(w, f.refOf('layer', store.textAt(i)));
    case 4: {
      const hex = store.textAt(i).trim();
      const n = Math.min(hex.length >> 1, 255);
      w.byte(4);
      w.byte(n);
      for (let k = 0; k < n; k++) w.byte(parseInt(hex.slice(2 * k, 2 * k + 2), 16) || 0);
      return;
    }
    case 5:
      w.byte(5);
      return putHandle(w, store.handleAt(i));
    case 10:
    case 11:
    case 12:
    case 13:
      w.byte(code);
      for (let k = 0; k < 3; k++)
        w.double(store.codes[i + k] === 1000 + code + 10 * k && i + k < f.record.to ? store.numberAt(i + k) : 0);
      return;
    case 40:
    case 41:
    case 42:
      w.byte(code);
      return w.double(store.numberAt(i));
    case 70:
      w.byte(70);
      return w.short(store.numberAt(i));
    case 71:
      w.byte(71);
      return w.long(store.numberAt(i));
    default:
      // The y and z of a point went with its x.
      return;
  }
}
