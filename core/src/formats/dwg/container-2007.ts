import type { Container, Damage } from './container.js';
import { CLASSES_MARK, HEADER_MARK } from './container.js';
import { marked } from './container-2000.js';
import { unpack2007 } from './lz-2007.js';

/**
 * Files of version 2007 (Open Design Specification, "R2007"): pages whose bytes are spread over the blocks of an error
 * correcting code, and packed in a way of their own. The bytes proper stand in front in each block, so they are read
 * without the code; it is not used to mend damage.
 */

const HEADER_AT = 0x80;
const PAGES_AT = 0x480;
/** Bytes proper in a block of 255: of the pages that list others, and of pages of data. */
const SYSTEM = 239;
const DATA = 251;
const MOST = 1 << 26;
const MOST_TIMES = 256;

interface SectionPage {
  offset: number;
  id: number;
  size: number;
  packed: number;
}
interface Section {
  size: number;
  encoding: number;
  pages: SectionPage[];
}

/** Gathers the bytes proper: block `j` has the bytes at `j`, `j + count`, `j + 2 count`, … */
export function gather(bytes: Uint8Array, at: number, blocks: number, proper: number): Uint8Array {
  const out = new Uint8Array(blocks * proper);
  let o = 0;
  for (let j = 0; j < blocks; j++) for (let i = 0; i < proper; i++) out[o++] = bytes[at + j + i * blocks] ?? 0;
  return out;
}

class Opening {
  readonly damage: Damage[] = [];
  private readonly pages = new Map<number, { at: number; size: number }>();
  private readonly sections = new Map<string, Section>();

  constructor(private readonly bytes: Uint8Array) {}

  private hurt(text: string, at: number): void {
    if (this.damage.length < 100) this.damage.push({ text, where: `byte ${at}` });
  }

  /** Reads the header and the maps; `false` when there is no way in. */
  maps(): boolean {
    if (this.bytes.length < PAGES_AT) return false;
    const raw = gather(this.bytes, HEADER_AT, 3, SYSTEM);
    const packed = new DataView(raw.buffer).getInt32(24, true);
    const header =
      packed < 0
        ? raw.subarray(32, 32 + Math.min(-packed, 0x110))
        : unpack2007(raw.subarray(32, 32 + packed), 0x110).bytes;
    if (header.length < 0x110) return false;
    const h = new DataView(header.buffer, header.byteOffset, header.byteLength);
    const n = (k: number): number => Number(h.getBigUint64(8 * k, true) & 0x1fffffffffffffn);
    const [correction, mapAt, mapPacked, mapSize] = [n(3), n(7), n(10), n(11)];
    const [sectionsPacked, sectionsId, sectionsSize, sectionsCorrection] = [n(22), n(24), n(25), n(27)];
    const list = this.system(PAGES_AT + mapAt, mapPacked, mapSize, correction);
    if (!list) return false;
    const l = new DataView(list.buffer, list.byteOffset, list.byteLength);
    let at = PAGES_AT;
    for (let i = 0; i + 16 <= list.length; i += 16) {
      const size = Number(l.getBigUint64(i, true) & 0x1fffffffffffffn);
      const id = Number(l.getBigInt64(i + 8, true));
      if (size === 0 && id === 0) break;
      this.pages.set(Math.abs(id), { at, size });
      at += size;
      if (at > this.bytes.length + MOST) break;
    }
    const page = this.pages.get(sectionsId);
    const sections = page ? this.system(page.at, sectionsPacked, sectionsSize, sectionsCorrection) : null;
    if (!sections) return false;
    this.sectionMap(sections);
    return true;
  }

  /** A page that lists others: its packed bytes, repeated `correction` times, in blocks of 239. */
  private system(at: number, packed: number, size: number, correction: number): Uint8Array | null {
    const room = ((packed + 7) & ~7) * correction;
    const blocks = Math.ceil(room / SYSTEM);
    if (!(at >= 0 && packed > 0 && at + blocks * 255 <= this.bytes.length + 0x400) || size > packed * MOST_TIMES) {
      this.hurt('a map of the pages lies outside the file', at);
      return null;
    }
    const raw = gather(this.bytes, at, blocks, SYSTEM);
    if (packed >= size) return raw.subarray(0, size);
    const made = unpack2007(raw.subarray(0, packed), size);
    if (!made.whole) this.hurt('a map of the pages ends early', at);
    return made.bytes;
  }

  private sectionMap(list: Uint8Array): void {
    const v = new DataView(list.buffer, list.byteOffset, list.byteLength);
    const n = (at: number): number => Number(v.getBigUint64(at, true) & 0x1fffffffffffffn);
    let at = 0;
    while (at + 64 <= list.length && this.sections.size < 256) {
      const [size, nameBytes, encoding, pages] = [n(at), n(at + 32), n(at + 48), n(at + 56)];
      at += 64;
      if (nameBytes > list.length - at) break;
      const name = new TextDecoder('utf-16le').decode(list.subarray(at, at + nameBytes)).replace(/\0.*$/, '');
      at += nameBytes;
      const own: SectionPage[] = [];
      for (let k = 0; k < pages && at + 56 <= list.length; k++, at += 56)
        own.push({ offset: n(at), id: n(at + 16), size: n(at + 24), packed: n(at + 32) });
      if (name !== '') this.sections.set(name, { size, encoding, pages: own });
    }
  }

  /** A section, its pages put together; `null` when there is none. */
  section(name: string): Uint8Array | null {
    const s = this.sections.get(name);
    if (!s) return null;
    const { bytes } = this;
    let whole = 0;
    for (const p of s.pages) whole = Math.max(whole, p.offset + Math.min(p.size, MOST));
    const out = new Uint8Array(Math.min(s.size, whole, bytes.length * MOST_TIMES));
    for (const p of s.pages) {
      const page = this.pages.get(p.id);
      if (p.offset >= out.length) continue;
      const blocks = Math.ceil(((p.packed + 7) & ~7) / DATA);
      if (!page || page.at + p.packed > bytes.length || p.size > p.packed * MOST_TIMES) {
        this.hurt(`a page of ${name} lies outside the file`, page?.at ?? 0);
        continue;
      }
      // Spread over blocks, or left as it is.
      const raw = s.encoding === 4 ? gather(bytes, page.at, blocks, DATA) : bytes.subarray(page.at);
      let data = raw.subarray(0, p.packed);
      if (p.packed < p.size) {
        const made = unpack2007(data, p.size);
        if (!made.whole) this.hurt(`a page of ${name} ends early`, page.at);
        data = made.bytes;
      }
      out.set(data.subarray(0, out.length - p.offset), p.offset);
    }
    return out;
  }
}

/** Opens a file of version 2007; `null` when no way into it is found. */
export function open2007(bytes: Uint8Array, letters: string): Container | null {
  const file = new Opening(bytes);
  if (!file.maps()) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const template = file.section('AcDb:Template');
  return {
    letters,
    v: 2007,
    maintenance: bytes[0x0b]!,
    codePage: view.getUint16(0x13, true),
    header: marked(file.section('AcDb:Header'), HEADER_MARK, 'the header', file.damage),
    classes: marked(file.section('AcDb:Classes'), CLASSES_MARK, 'the list of classes', file.damage),
    map: file.section('AcDb:Handles'),
    objects: file.section('AcDb:AcDbObjects') ?? new Uint8Array(0),
    ...(template && template.length >= 4 && { measurement: template[2]! | (template[3]! << 8) }),
    damage: file.damage,
  };
}
