import { joined } from '../joined.js';
import { crc32, pageSum } from './checksums.js';
import type { Container, Damage } from './container.js';
import { CLASSES_MARK, HEADER_MARK } from './container.js';
import type { Parts } from './container-2000.js';
import { marked, previewPart, sealed } from './container-2000.js';
import { pack, unpack } from './lz.js';
import { CODE_PAGE_1252, DWG_VERSIONS } from './versions.js';
import { auxHeader, dependencies, programInfo, releaseOf, revisions, summaryInfo } from './small-parts.js';

/** Files of version 2004 and from 2010 on: sections cut into pages, packed and listed in a map (same source, "R2004"). */

const PAGES_BEGIN = 0x100;
const HIDDEN_AT = 0x80;
const HIDDEN_SIZE = 0x6c;
const PAGE_MAP = 0x41630e3b;
const SECTION_MAP = 0x4163003b;
const DATA_PAGE = 0x4163043b;
const PAGE_MIX = 0x4164536b;
const MAGIC = 'AcFssFcAJMB\0';
const MOST_SECTIONS = 256;
/** What packed bytes can come to at most: one byte can stand for 255. */
const MOST_TIMES = 256;
const MOST_PAGE = 1 << 22;

/** The bytes that the hidden part of the header is mixed with. */
function mixBytes(n: number): Uint8Array {
  const out = new Uint8Array(n);
  let seed = 1;
  for (let i = 0; i < n; i++) {
    seed = (Math.imul(seed, 0x343fd) + 0x269ec3) | 0;
    out[i] = seed >> 16;
  }
  return out;
}
const mixed = (bytes: Uint8Array): Uint8Array => {
  const mix = mixBytes(bytes.length);
  return bytes.map((b, i) => b ^ mix[i]!);
};

interface Page {
  number: number;
  at: number;
  size: number;
}

class Opening {
  readonly damage: Damage[] = [];
  private readonly view: DataView;
  private readonly pages = new Map<number, Page>();
  private readonly sections = new Map<
    string,
    {
      size: number;
      most: number;
      packed: boolean;
      encrypted: boolean;
      pages: { number: number; size: number; offset: number }[];
    }
  >();

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  private hurt(text: string, at: number): void {
    if (this.damage.length < 100) this.damage.push({ text, where: `byte ${at}` });
  }

  /** Finds the maps and the sections; `false` when there is no way in. */
  maps(): boolean {
    const { bytes } = this;
    if (bytes.length < PAGES_BEGIN) return false;
    const head = mixed(bytes.subarray(HIDDEN_AT, HIDDEN_AT + HIDDEN_SIZE));
    const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
    const id = String.fromCharCode(...head.subarray(0, 12));
    if (id !== MAGIC) this.hurt('the hidden part of the header does not begin as it should', HIDDEN_AT);
    const sum = view.getUint32(0x68, true);
    view.setUint32(0x68, 0, true);
    if (crc32(0, head) !== sum) this.hurt('the checksum of the hidden part of the header is wrong', HIDDEN_AT + 0x68);
    const pageMapAt = Number(view.getBigUint64(0x54, true)) + PAGES_BEGIN;
    const sectionMapId = view.getUint32(0x5c, true);
    const map = this.systemPage(pageMapAt, PAGE_MAP);
    if (!map) return false;
    const m = new DataView(map.buffer, map.byteOffset, map.byteLength);
    let at = PAGES_BEGIN;
    for (let i = 0; i + 8 <= map.length;) {
      const number = m.getInt32(i, true);
      const size = m.getUint32(i + 4, true);
      i += number < 0 ? 24 : 8;
      if (size === 0 && number === 0) break;
      if (number > 0) this.pages.set(number, { number, at, size });
      at += size;
      if (at > bytes.length + 0x10000) break;
    }
    const sections = this.pages.get(sectionMapId);
    const list = sections ? this.systemPage(sections.at, SECTION_MAP) : null;
    if (!list) return false;
    this.sectionMap(list);
    return true;
  }

  private sectionMap(list: Uint8Array): void {
    const v = new DataView(list.buffer, list.byteOffset, list.byteLength);
    if (list.length < 20) return;
    const count = Math.min(v.getUint32(0, true), MOST_SECTIONS);
    let at = 20;
    for (let i = 0; i < count && at + 96 <= list.length; i++) {
      const size = Number(v.getBigUint64(at, true));
      const pages = v.getUint32(at + 8, true);
      const most = v.getUint32(at + 12, true);
      const packed = v.getUint32(at + 20, true) === 2;
      const encrypted = v.getUint32(at + 28, true) === 1;
      let name = '';
      for (let k = at + 32; k < at + 96 && list[k] !== 0; k++) name += String.fromCharCode(list[k]!);
      at += 96;
      const own: { number: number; size: number; offset: number }[] = [];
      for (let k = 0; k < pages && at + 16 <= list.length; k++, at += 16) {
        own.push({
          number: v.getInt32(at, true),
          size: v.getUint32(at + 4, true),
          offset: Number(v.getBigUint64(at + 8, true)),
        });
      }
      if (name !== '') this.sections.set(name, { size, most, packed, encrypted, pages: own });
    }
  }

  /** A page of the maps, unpacked. */
  private systemPage(at: number, type: number): Uint8Array | null {
    const { bytes, view } = this;
    if (!(at >= 0 && at + 20 <= bytes.length)) {
      this.hurt('a map of the pages lies outside the file', at);
      return null;
    }
    if (view.getUint32(at, true) !== type) {
      this.hurt('a map of the pages does not begin as it should', at);
      return null;
    }
    const size = view.getUint32(at + 4, true);
    const packedSize = view.getUint32(at + 8, true);
    const sum = view.getUint32(at + 16, true);
    const end = at + 20 + packedSize;
    if (end > bytes.length || size > packedSize * MOST_TIMES + 64) {
      this.hurt('a map of the pages is longer than the file', at);
      return null;
    }
    const head = bytes.slice(at, at + 20);
    head.fill(0, 16);
    if (pageSum(pageSum(0, head), bytes, at + 20, end) !== sum)
      this.hurt('the checksum of a map of the pages is wrong', at);
    const made = unpack(bytes, at + 20, end, size);
    if (!made.whole) this.hurt('a map of the pages ends early', at);
    return made.bytes;
  }

  has(name: string): boolean {
    return this.sections.has(name);
  }

  /** A section, its pages put together; `null` when there is none. Pages that cannot be read are zeros. */
  section(name: string): Uint8Array | null {
    const s = this.sections.get(name);
    if (!s) return null;
    const { bytes, view } = this;
    if (s.encrypted) {
      this.hurt(`the section ${name} is encrypted`, 0);
      return null;
    }
    let whole = 0;
    for (const p of s.pages) whole = Math.max(whole, p.offset + Math.min(s.most, MOST_PAGE));
    const size = Math.min(s.size, whole, bytes.length * MOST_TIMES);
    const out = new Uint8Array(size);
    for (const p of s.pages) {
      const page = this.pages.get(p.number);
      if (p.offset >= size) continue;
      if (!page || page.at + 32 > bytes.length) {
        this.hurt(`a page of ${name} lies outside the file`, page?.at ?? 0);
        continue;
      }
      const mix = (PAGE_MIX ^ page.at) >>> 0;
      const head = new Uint8Array(32);
      const h = new DataView(head.buffer);
      for (let k = 0; k < 8; k++) h.setUint32(4 * k, (view.getUint32(page.at + 4 * k, true) ^ mix) >>> 0, true);
      const dataSize = h.getUint32(8, true);
      const begin = page.at + 32;
      const end = begin + dataSize;
      if (h.getUint32(0, true) !== DATA_PAGE || end > bytes.length) {
        this.hurt(`a page of ${name} does not begin as it should`, page.at);
        continue;
      }
      const dataSum = h.getUint32(28, true);
      const headSum = h.getUint32(24, true);
      const realSum = pageSum(0, bytes, begin, end);
      h.setUint32(24, 0, true);
      // Files differ in whether the sum of the data stands in the head while its own is taken.
      const right = [0, dataSum].some((d) => {
        h.setUint32(28, d, true);
        return pageSum(realSum, head) === headSum;
      });
      if (realSum !== dataSum || !right) this.hurt(`the checksum of a page of ${name} is wrong`, page.at);
      const most = Math.min(s.most, MOST_PAGE, Math.max(0, size - p.offset));
      if (s.packed) {
        const made = unpack(bytes, begin, end, Math.min(s.most, MOST_PAGE));
        if (!made.whole || made.bytes.length < most) this.hurt(`a page of ${name} ends early`, page.at);
        out.set(made.bytes.subarray(0, most), p.offset);
      } else out.set(bytes.subarray(begin, Math.min(end, begin + most)), p.offset);
    }
    return out;
  }
}

/** Opens a file of version 2004 or from 2010 on. */
export function open2004(bytes: Uint8Array, letters: string): Container | null {
  const file = new Opening(bytes);
  if (!file.maps()) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const template = file.section('AcDb:Template');
  const objects = file.section('AcDb:AcDbObjects');
  const part = (name: string, mark: Uint8Array, words: string): Uint8Array | null =>
    marked(file.section(name), mark, words, file.damage, DWG_VERSIONS[letters]! >= 2010);
  return {
    letters,
    v: DWG_VERSIONS[letters]!,
    maintenance: bytes[0x0b]!,
    codePage: view.getUint16(0x13, true),
    header: part('AcDb:Header', HEADER_MARK, 'the header'),
    classes: part('AcDb:Classes', CLASSES_MARK, 'the list of classes'),
    map: file.section('AcDb:Handles'),
    objects: objects ?? new Uint8Array(0),
    ...(template && template.length >= 4 && { measurement: template[2]! | (template[3]! << 8) }),
    damage: file.damage,
  };
}

/** Bytes of a section from which on it is packed in a hurry: below, it takes no time that anyone would notice. */
const LARGE = 4e6;

/** How a section is put into pages. */
interface Section {
  name: string;
  data: Uint8Array;
  page: number;
  packed: boolean;
}

/** A whole file of version 2004 or from 2010 on. */
export function pack2004(p: Parts): Uint8Array {
  const v = DWG_VERSIONS[p.letters]!;
  const free = new Uint8Array(53);
  const f = new DataView(free.buffer);
  f.setUint32(16, p.seed, true);
  free[20] = 4;
  const words = summaryInfo(v, p.title);
  // Whole in one page, whose place the picture itself names.
  const summary: Section = { name: 'AcDb:SummaryInfo', data: words, page: padded(words.length, 0x100), packed: false };
  const picture = previewPart(p.preview, PAGES_BEGIN + 32 + summary.page + 32);
  const preview: Section = { name: 'AcDb:Preview', data: picture, page: padded(picture.length, 0x400), packed: false };
  const whole = (name: string, data: Uint8Array): Section => ({ name, data, page: 0x7400, packed: true });
  const sections: Section[] = [
    summary,
    preview,
    { name: 'AcDb:AppInfo', data: programInfo(v), page: 0x300, packed: false },
    { name: 'AcDb:FileDepList', data: dependencies(), page: 0x80, packed: false },
    whole('AcDb:RevHistory', revisions()),
    whole('AcDb:AuxHeader', auxHeader(p.letters, maintenanceOf(p.letters), p.seed)),
    whole('AcDb:AcDbObjects', joined([Uint8Array.of(0xca, 0x0d, 0, 0), ...p.objects])),
    whole('AcDb:ObjFreeSpace', free),
    whole('AcDb:Template', Uint8Array.of(0, 0, p.measurement, 0)),
    whole('AcDb:Handles', p.map(4)),
    whole('AcDb:Classes', sealed(CLASSES_MARK, p.classes, v >= 2010)),
    whole('AcDb:Header', sealed(HEADER_MARK, p.header, v >= 2010)),
  ];
  const out = new Pages();
  const descriptions: Uint8Array[] = [];
  sections.forEach((s, i) => descriptions.push(out.section(s, sections.length - i)));
  const count = sections.length;
  const head = new Uint8Array(20);
  const h = new DataView(head.buffer);
  [count, 2, 0x7400, 0, count].forEach((n, k) => h.setUint32(4 * k, n, true));
  const sectionMap = out.system(joined([head, ...descriptions]), SECTION_MAP);
  const pageMap = out.pageMap();
  return out.file(p, sectionMap, pageMap, {
    preview: out.beginOf('AcDb:Preview'),
    summary: out.beginOf('AcDb:SummaryInfo'),
  });
}

const padded = (n: number, to: number): number => Math.ceil(n / to) * to;

class Pages {
  private readonly parts: Uint8Array[] = [];
  private at = PAGES_BEGIN;
  private readonly list: [number, number][] = [];
  private readonly begins = new Map<string, number>();

  beginOf(name: string): number {
    return this.begins.get(name) ?? 0;
  }
  private add(bytes: Uint8Array): number {
    this.parts.push(bytes);
    this.at += bytes.length;
    this.list.push([this.list.length + 1, bytes.length]);
    return this.list.length;
  }

  /** Puts a section into pages; answers with its description for the map. */
  section(s: Section, id: number): Uint8Array {
    const pages: [number, number, number][] = [];
    this.begins.set(s.name, this.at + 32);
    for (let from = 0; from < s.data.length || from === 0; from += s.page) {
      const piece = s.data.subarray(from, from + s.page);
      let data: Uint8Array;
      if (s.packed) {
        // A page unpacks to its full size, or to as much as its section has left.
        data = pack(piece, s.data.length > LARGE);
      } else {
        data = new Uint8Array(s.page);
        data.set(piece);
      }
      const page = new Uint8Array(padded(32 + data.length, 32));
      page.set(data, 32);
      const head = page.subarray(0, 32);
      const h = new DataView(page.buffer);
      const fields = [DATA_PAGE, id, data.length, s.page, from, 0, 0, 0];
      fields.forEach((n, k) => h.setUint32(4 * k, n, true));
      const sum = pageSum(0, data);
      h.setUint32(24, pageSum(sum, head), true);
      h.setUint32(28, sum, true);
      const mix = PAGE_MIX ^ this.at;
      for (let k = 0; k < 8; k++) h.setUint32(4 * k, (h.getUint32(4 * k, true) ^ mix) >>> 0, true);
      pages.push([this.add(page), data.length, from]);
    }
    const out = new Uint8Array(96 + 16 * pages.length);
    const o = new DataView(out.buffer);
    o.setBigUint64(0, BigInt(s.data.length), true);
    o.setUint32(8, pages.length, true);
    o.setUint32(12, s.page, true);
    o.setUint32(16, 1, true);
    o.setUint32(20, s.packed ? 2 : 1, true);
    o.setUint32(24, id, true);
    o.setUint32(28, 0, true);
    for (let k = 0; k < s.name.length; k++) out[32 + k] = s.name.charCodeAt(k);
    pages.forEach(([number, size, offset], k) => {
      o.setUint32(96 + 16 * k, number, true);
      o.setUint32(100 + 16 * k, size, true);
      o.setBigUint64(104 + 16 * k, BigInt(offset), true);
    });
    return out;
  }

  /** A page of the maps; answers with its number. */
  system(data: Uint8Array, type: number): { number: number; at: number } {
    const { at } = this;
    return { at, number: this.add(systemPage(data, type)) };
  }

  /** The map of pages lists itself: its size is known once it is packed with a size that fits. */
  pageMap(): { number: number; at: number } {
    const { at } = this;
    const number = this.list.length + 1;
    let size = 0;
    for (let tries = 0; tries < 64; tries++) {
      const rows = [...this.list, [number, size] as const];
      const data = new Uint8Array(8 * rows.length);
      const d = new DataView(data.buffer);
      rows.forEach(([n, s], k) => {
        d.setUint32(8 * k, n, true);
        d.setUint32(8 * k + 4, s, true);
      });
      const page = systemPage(data, PAGE_MAP);
      if (page.length <= size) {
        const whole = new Uint8Array(size);
        whole.set(page);
        this.add(whole);
        return { at, number };
      }
      size = page.length;
    }
    throw new Error('the map of pages does not settle');
  }

  file(
    p: Parts,
    sectionMap: { number: number; at: number },
    pageMap: { number: number; at: number },
    places: { preview: number; summary: number },
  ): Uint8Array {
    const hidden = new Uint8Array(HIDDEN_SIZE);
    const h = new DataView(hidden.buffer);
    for (let k = 0; k < MAGIC.length; k++) hidden[k] = MAGIC.charCodeAt(k);
    h.setUint32(0x10, HIDDEN_SIZE, true);
    h.setUint32(0x14, 4, true);
    h.setUint32(0x24, 1, true);
    h.setUint32(0x28, this.list.length, true);
    h.setBigUint64(0x2c, BigInt(this.at - PAGES_BEGIN), true);
    h.setBigUint64(0x34, BigInt(this.at), true);
    h.setUint32(0x3c, 0, true);
    h.setUint32(0x40, this.list.length, true);
    h.setUint32(0x44, 0x20, true);
    h.setUint32(0x48, 0x80, true);
    h.setUint32(0x4c, 0x40, true);
    h.setUint32(0x50, pageMap.number, true);
    h.setBigUint64(0x54, BigInt(pageMap.at - PAGES_BEGIN), true);
    h.setUint32(0x5c, sectionMap.number, true);
    h.setUint32(0x60, this.list.length, true);
    h.setUint32(0x68, crc32(0, hidden), true);
    const head = new Uint8Array(PAGES_BEGIN);
    const v = new DataView(head.buffer);
    for (let i = 0; i < 6; i++) head[i] = p.letters.charCodeAt(i);
    head[0x0b] = maintenanceOf(p.letters);
    head[0x0c] = 1;
    v.setUint32(0x0d, places.preview, true);
    head[0x11] = releaseOf(p.letters);
    head[0x12] = maintenanceOf(p.letters);
    v.setUint16(0x13, CODE_PAGE_1252, true);
    v.setUint32(0x20, places.summary, true);
    v.setUint32(0x28, 0x80, true);
    const veiled = mixed(hidden);
    head.set(veiled, HIDDEN_AT);
    head.set(mixBytes(PAGES_BEGIN).subarray(PAGES_BEGIN - 0x14), HIDDEN_AT + HIDDEN_SIZE);
    return joined([head, ...this.parts, veiled]);
  }
}

/** The maintenance version; above 3, versions 2010 and 2013 count sizes in eight bytes. */
export const maintenanceOf = (letters: string): number =>
  ({ AC1018: 104, AC1024: 6, AC1027: 8, AC1032: 4 })[letters] ?? 0;

function systemPage(data: Uint8Array, type: number): Uint8Array {
  const packed = pack(data);
  const page = new Uint8Array(padded(20 + packed.length, 32));
  const v = new DataView(page.buffer);
  [type, data.length, packed.length, 2, 0].forEach((n, k) => v.setUint32(4 * k, n, true));
  page.set(packed, 20);
  v.setUint32(16, pageSum(pageSum(0, page, 0, 20), packed), true);
  return page;
}
