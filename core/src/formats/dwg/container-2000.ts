import { joined } from '../joined.js';
import { BitWriter } from './bit-writer.js';
import { CRC_SEED, crc16 } from './checksums.js';
import type { Container, Damage } from './container.js';
import {
  CLASSES_MARK,
  FILE_HEADER_END,
  HEADER_MARK,
  PREVIEW_MARK,
  SECOND_HEADER_MARK,
  endMark,
  findMark,
  markedAt,
} from './container.js';
import { releaseOf } from './small-parts.js';
import { CODE_PAGE_1252, DWG_VERSIONS } from './versions.js';

/** Where parts of a file lie, from version R13 to 2000: a list right at its beginning. */
interface Locator {
  number: number;
  at: number;
  size: number;
}

const HEADER = 0;
const CLASSES = 1;
const MAP = 2;
const MEASUREMENT = 4;
/** What the checksum of the list is mixed with, by how many parts it lists. */
const LIST_MIX: Record<number, number> = { 3: 0xa598, 4: 0x8101, 5: 0x3cc4, 6: 0x8461 };

/** Opens a file of version R13, R14 or 2000. Parts that lie outside the file are left out and told of. */
export function open2000(bytes: Uint8Array, letters: string): Container {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const damage: Damage[] = [];
  const u32 = (at: number): number => (at + 4 <= bytes.length ? view.getUint32(at, true) : 0);
  const count = Math.min(u32(0x15), 16);
  const locators: Locator[] = [];
  let at = 0x19;
  for (let i = 0; i < count && at + 9 <= bytes.length; i++, at += 9)
    locators.push({ number: bytes[at]!, at: u32(at + 1), size: u32(at + 5) });
  const mix = LIST_MIX[count];
  if (mix !== undefined && at + 2 <= bytes.length && (crc16(0, bytes, 0, at) ^ mix) !== view.getUint16(at, true))
    damage.push({ text: 'the checksum of the list of parts is wrong', where: 'byte 0' });
  const part = (number: number, name: string): Uint8Array | null => {
    const l = locators.find((p) => p.number === number);
    if (!l || l.size === 0) return null;
    if (l.at + l.size <= bytes.length) return bytes.subarray(l.at, l.at + l.size);
    damage.push({ text: `${name} lies outside the file`, where: `byte ${l.at}` });
    return l.at < bytes.length ? bytes.subarray(l.at) : null;
  };
  const measurement = part(MEASUREMENT, 'the part that names the measurement');
  return {
    letters,
    v: DWG_VERSIONS[letters]!,
    maintenance: bytes[0x0b] ?? 0,
    codePage: bytes.length > 0x15 ? view.getUint16(0x13, true) : CODE_PAGE_1252,
    header: marked(part(HEADER, 'the header') ?? lost(bytes, HEADER_MARK), HEADER_MARK, 'the header', damage),
    classes: marked(
      part(CLASSES, 'the list of classes') ?? lost(bytes, CLASSES_MARK),
      CLASSES_MARK,
      'the list of classes',
      damage,
    ),
    map: part(MAP, 'the object map'),
    objects: bytes,
    ...(measurement && measurement.length >= 4 && { measurement: measurement[2]! | (measurement[3]! << 8) }),
    damage,
  };
}

/** A part that the list does not lead to, found by its mark. */
function lost(bytes: Uint8Array, m: Uint8Array): Uint8Array | null {
  const at = findMark(bytes, m);
  return at < 0 ? null : bytes.subarray(at);
}

/**
 * What stands between the marks of a part, after its size; its checksum is looked at. From 2010 on sizes may have eight
 * bytes, of which the upper four are 0; those stay in front of what is given back.
 */
export function marked(
  part: Uint8Array | null,
  m: Uint8Array,
  name: string,
  damage: Damage[],
  wide = false,
): Uint8Array | null {
  if (!part || part.length < 22) return null;
  if (!markedAt(part, 0, m)) damage.push({ text: `${name} does not begin with its mark`, where: 'its beginning' });
  const u32 = (at: number): number => part[at]! | (part[at + 1]! << 8) | (part[at + 2]! << 16) | (part[at + 3]! << 24);
  const size = u32(16);
  const right = (end: number): boolean =>
    end + 2 <= part.length && crc16(CRC_SEED, part, 16, end) === (part[end]! | (part[end + 1]! << 8));
  const ends = wide && u32(20) === 0 ? [24 + size, 20 + size] : [20 + size];
  if (size < 0 || ends[ends.length - 1]! + 2 > part.length) {
    damage.push({ text: `${name} is longer than its part of the file`, where: 'its size' });
    return part.subarray(20);
  }
  const end = ends.find(right);
  if (end === undefined) damage.push({ text: `the checksum of ${name} is wrong`, where: 'its end' });
  return part.subarray(20, end ?? ends[0]);
}

/** Puts marks, size and checksum around a part; sizes have eight bytes where `wide`. */
export function sealed(m: Uint8Array, data: Uint8Array, wide = false): Uint8Array {
  const n = data.length;
  const size = Uint8Array.of(n, n >> 8, n >> 16, n >> 24, ...(wide ? [0, 0, 0, 0] : []));
  const body = joined([size, data]);
  const crc = crc16(CRC_SEED, body);
  return joined([m, body, Uint8Array.of(crc & 255, crc >> 8), endMark(m)]);
}

/** What a writer hands over to be put into a file. */
export interface Parts {
  letters: string;
  header: Uint8Array;
  classes: Uint8Array;
  /** The objects one after the other, in pieces; `map` is made from where they come to lie. */
  objects: readonly Uint8Array[];
  map: (base: number) => Uint8Array;
  measurement: number;
  /** A picture as a bitmap without its file header, or empty. */
  preview: Uint8Array;
  seed: number;
  /** Handles that every drawing has: the seed, the control objects, the dictionaries. */
  handles: readonly number[];
  /** What a person calls the drawing. */
  title: string;
}

const LOCATORS = 5;
const FILE_HEADER = 0x19 + 9 * LOCATORS + 2 + 16;

/** The picture part: marks around a count and one record for the bitmap, which lies at `base`. */
export function previewPart(bitmap: Uint8Array, base: number): Uint8Array {
  const head = new Uint8Array(bitmap.length > 0 ? 4 + 1 + 9 : 5);
  const view = new DataView(head.buffer);
  view.setUint32(0, head.length - 4 + bitmap.length, true);
  head[4] = bitmap.length > 0 ? 1 : 0;
  if (bitmap.length > 0) {
    head[5] = 2;
    view.setUint32(6, base + 16 + head.length, true);
    view.setUint32(10, bitmap.length, true);
  }
  return joined([PREVIEW_MARK, head, bitmap, endMark(PREVIEW_MARK)]);
}

/** A whole file of version 2000. */
export function pack2000(p: Parts): Uint8Array {
  const preview = previewPart(p.preview, FILE_HEADER);
  const header = sealed(HEADER_MARK, p.header);
  const classes = sealed(CLASSES_MARK, p.classes);
  const measurement = Uint8Array.of(0, 0, p.measurement, 0);
  const headerAt = FILE_HEADER + preview.length;
  const classesAt = headerAt + header.length;
  const objectsAt = classesAt + classes.length;
  const map = p.map(objectsAt);
  const mapAt = objectsAt + p.objects.reduce((n, piece) => n + piece.length, 0);
  const secondAt = mapAt + map.length;
  const list: [number, number, number][] = [
    [HEADER, headerAt, header.length],
    [CLASSES, classesAt, classes.length],
    [MAP, mapAt, map.length],
  ];
  const second = secondHeader(p, list, secondAt);
  const freeAt = secondAt + second.length;
  const free = freeSpace(p, objectsAt);
  const measurementAt = freeAt + free.length;
  list.push([3, freeAt, free.length], [MEASUREMENT, measurementAt, measurement.length]);
  const head = new Uint8Array(FILE_HEADER);
  const view = new DataView(head.buffer);
  for (let i = 0; i < 6; i++) head[i] = p.letters.charCodeAt(i);
  head[0x0b] = 15;
  head[0x0c] = 1;
  view.setUint32(0x0d, FILE_HEADER, true);
  head[0x11] = releaseOf(p.letters);
  view.setUint16(0x13, CODE_PAGE_1252, true);
  view.setUint32(0x15, list.length, true);
  list.forEach(([number, at, size], i) => {
    head[0x19 + 9 * i] = number;
    view.setUint32(0x1a + 9 * i, at, true);
    view.setUint32(0x1e + 9 * i, size, true);
  });
  const end = 0x19 + 9 * list.length;
  view.setUint16(end, crc16(0, head, 0, end) ^ LIST_MIX[list.length]!, true);
  head.set(FILE_HEADER_END, end + 2);
  return joined([head, preview, header, classes, ...p.objects, map, second, free, measurement]);
}

/** A part that tells how many objects there are and where they begin; readers need none of it. */
function freeSpace(p: Parts, objectsAt: number): Uint8Array {
  const out = new Uint8Array(53);
  const view = new DataView(out.buffer);
  view.setUint32(8, objectsAt, true);
  view.setUint32(16, p.seed, true);
  out[20] = 4;
  view.setUint32(21, 0x32, true);
  view.setUint32(29, 0x64, true);
  view.setUint32(37, 0x200, true);
  view.setUint32(45, 0xffffffff, true);
  return out;
}

/** The list of parts once more, as bits, and fourteen handles that every drawing has. */
function secondHeader(p: Parts, list: readonly [number, number, number][], at: number): Uint8Array {
  const w = new SecondHeader();
  w.body(p, list, at);
  return w.sealed();
}

class SecondHeader {
  private readonly w = new BitWriter();

  body(p: Parts, list: readonly [number, number, number][], at: number): void {
    const { w } = this;
    w.bitLong(at);
    for (let i = 0; i < 6; i++) w.byte(p.letters.charCodeAt(i));
    for (let i = 0; i < 5; i++) w.byte(0);
    w.byte(15);
    for (const b of [0, 0, 0, 1]) w.bit(b);
    for (const b of [0x18, 0x78, 0x01, list.length + 2]) w.byte(b);
    for (const [number, partAt, size] of list) {
      w.byte(number);
      w.bitLong(partAt);
      w.bitLong(size);
    }
    for (const number of [3, 4]) {
      w.byte(number);
      w.bitLong(0);
      w.bitLong(0);
    }
    const { handles } = p;
    w.bitShort(handles.length);
    handles.forEach((h, i) => {
      let n = 0;
      for (let v = h; v >= 1; v = Math.floor(v / 256)) n++;
      w.byte(Math.max(n, 1));
      w.byte(i);
      for (let k = Math.max(n, 1) - 1; k >= 0; k--) w.byte(Math.floor(h / 256 ** k) % 256);
    });
  }
  sealed(): Uint8Array {
    const { w } = this;
    w.align();
    const data = w.written.slice();
    const size = data.length + 4 + 2 + 8 + 32;
    const body = joined([Uint8Array.of(size, size >> 8, size >> 16, size >> 24), data]);
    const crc = crc16(CRC_SEED, body);
    return joined([
      SECOND_HEADER_MARK,
      body,
      Uint8Array.of(crc & 255, crc >> 8),
      new Uint8Array(8),
      endMark(SECOND_HEADER_MARK),
    ]);
  }
}
