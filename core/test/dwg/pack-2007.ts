import type { Parts } from '../../src/formats/dwg/container-2000.js';
import { sealed } from '../../src/formats/dwg/container-2000.js';
import { plainOrder } from '../../src/formats/dwg/lz-2007.js';
import { CLASSES_MARK, HEADER_MARK } from '../../src/formats/dwg/container.js';

/**
 * Puts parts into a file of version 2007, for tests of its reader alone: the bytes of the error correcting code and the
 * checksums of 64 bits are left zero, which neither reader looks at.
 */
const padded = (n: number, to: number): number => Math.ceil(n / to) * to;

/** Numbers that names of sections go by. */
const NUMBERS: Record<string, number> = {
  'AcDb:Header': 0x32b803d9,
  'AcDb:Classes': 0x3f54045f,
  'AcDb:Handles': 0x3f6e0450,
  'AcDb:AcDbObjects': 0x674c05a9,
  'AcDb:Template': 0x4a1404ce,
};

/** Spreads bytes over blocks of 255 of which `proper` are bytes proper; the others stay zero. */
function spread(bytes: Uint8Array, proper: number, room: number): Uint8Array {
  const blocks = Math.ceil(room / proper);
  const out = new Uint8Array(blocks * 255);
  for (let j = 0; j < blocks; j++) for (let i = 0; i < proper; i++) out[j + i * blocks] = bytes[j * proper + i] ?? 0;
  return out;
}

/** Packs bytes: plain ones in their order, and copies of what came before; what would not become smaller stays as it is. */
function packed(bytes: Uint8Array): Uint8Array {
  const out: number[] = [];
  const seen = new Map<number, number>();
  /** Where the last copy says how many plain bytes follow it (up to 7). */
  let pending = -1;
  const plain = (from: number, to: number): void => {
    const n = to - from;
    if (n === 0) return;
    if (n < 8 && pending >= 0) out[pending]! |= n;
    else if (n < 23) out.push(n - 8);
    else if (n < 23 + 255) out.push(15, n - 23);
    else {
      out.push(15, 255);
      let rest = n - 278;
      for (; rest >= 0xffff; rest -= 0xffff) out.push(255, 255);
      out.push(rest & 255, rest >> 8);
    }
    const at = out.length;
    plainOrder(n).forEach((k, i) => (out[at + k] = bytes[from + i]!));
  };
  let from = 0;
  let i = 0;
  while (i + 4 <= bytes.length) {
    const key = (bytes[i]! << 16) | (bytes[i + 1]! << 8) | bytes[i + 2]!;
    const at = seen.get(key);
    seen.set(key, i);
    let length = 0;
    if (at !== undefined && i - at < 65536)
      while (length < 250 && bytes[at + length] === bytes[i + length] && i + length < bytes.length) length++;
    const before = i - from;
    if (length < 6 || (pending < 0 && before < 8)) {
      i++;
      continue;
    }
    plain(from, i);
    const offset = i - at!;
    out.push(0x20 | (length & 7), offset & 255, offset >> 8);
    pending = out.push(length & 0xf8) - 1;
    i += length;
    from = i;
  }
  plain(from, bytes.length);
  return out.length < bytes.length ? Uint8Array.from(out) : bytes;
}

export function pack2007(p: Parts): Uint8Array {
  const sections: [string, Uint8Array][] = [
    ['AcDb:Header', sealed(HEADER_MARK, p.header)],
    ['AcDb:Classes', sealed(CLASSES_MARK, p.classes)],
    ['AcDb:Handles', p.map(4)],
    ['AcDb:AcDbObjects', Uint8Array.of(0xca, 0x0d, 0, 0, ...p.objects.flatMap((piece) => [...piece]))],
    ['AcDb:Template', Uint8Array.of(0, 0, p.measurement, 0)],
  ];
  const pages: Uint8Array[] = [];
  const page = (bytes: Uint8Array): number => {
    const whole = new Uint8Array(padded(bytes.length, 0x20));
    whole.set(bytes);
    return pages.push(whole);
  };
  const PAGE = 0xf000;
  const map: number[] = [];
  const long = (...values: number[]): void => {
    for (const v of values) for (let k = 0; k < 8; k++) map.push(Math.floor(v / 256 ** k) % 256);
  };
  for (const [name, data] of sections) {
    const own: number[][] = [];
    for (let from = 0; from < data.length; from += PAGE) {
      const piece = data.subarray(from, from + PAGE);
      const small = packed(piece);
      const id = page(spread(small, 251, padded(small.length, 8)));
      own.push([from, padded(piece.length, 0x20), id, piece.length, small.length, 0, 0]);
    }
    const letters = `${name}\0`;
    long(data.length, PAGE, 0, NUMBERS[name]!, letters.length * 2, 0, 4, own.length);
    for (const c of letters) map.push(c.charCodeAt(0), 0);
    own.forEach((o) => long(...o));
  }
  const sectionMap = Uint8Array.from(map);
  const sectionsPacked = packed(sectionMap);
  const sectionsId = page(spread(sectionsPacked, 239, padded(sectionsPacked.length, 8)));
  map.length = 0;
  pages.forEach((x, i) => long(x.length, i + 1));
  const mapId = pages.length + 1;
  // The page that lists itself is as large as one block.
  long(0x100, mapId, 0, 0);
  const list = Uint8Array.from(map);
  const listPacked = packed(list);
  const mapAt = pages.reduce((n, x) => n + x.length, 0);
  const whole = new Uint8Array(0x100);
  whole.set(spread(listPacked, 239, padded(listPacked.length, 8)));
  pages.push(whole);

  const header = new DataView(new ArrayBuffer(0x110));
  const fields = [
    0x70,
    0x480 + pages.reduce((n, x) => n + x.length, 0),
    0,
    1,
    0,
    0,
    0,
    mapAt,
    mapId,
    0,
    listPacked.length,
    list.length,
    pages.length,
    pages.length,
    0x20,
    0x40,
    0,
    0xf800,
    4,
    1,
    sections.length,
    0,
    sectionsPacked.length,
    0,
    sectionsId,
    sectionMap.length,
    0,
    1,
    0,
    0x60100,
    0,
    0,
    0,
    0,
  ];
  fields.forEach((v, k) => header.setBigUint64(8 * k, BigInt(v), true));
  const raw = new Uint8Array(3 * 239);
  new DataView(raw.buffer).setInt32(24, -0x110, true);
  raw.set(new Uint8Array(header.buffer), 32);
  const head = new Uint8Array(0x480);
  for (let i = 0; i < 6; i++) head[i] = p.letters.charCodeAt(i);
  head[0x0c] = 1;
  head[0x11] = 27;
  new DataView(head.buffer).setUint16(0x13, 30, true);
  new DataView(head.buffer).setUint32(0x28, 0x80, true);
  head.set(spread(raw, 239, raw.length), 0x80);
  const out = new Uint8Array(0x480 + pages.reduce((n, x) => n + x.length, 0));
  out.set(head);
  let at = 0x480;
  for (const x of pages) {
    out.set(x, at);
    at += x.length;
  }
  return out;
}
