import { CRC_SEED, crc16 } from './checksums.js';
import { BitReader } from './bit-reader.js';
import type { DwgClass } from './class-list.js';
import { FIRST_CLASS } from './class-list.js';
import { weightOf } from './codecs-tables.js';
import { readFields } from './codec.js';
import type { ExtendedData } from './extended-data.js';
import { giveExtended } from './extended-data.js';
import type { FieldReader } from './field-reader.js';
import { HARD_POINTER } from './fields.js';
import type { Kind } from './kinds.js';
import { KINDS_BY_CLASS, KINDS_BY_TYPE } from './kinds.js';
import type { ObjectMap } from './object-map.js';

const MOST_REACTORS = 100_000;

/** Where an entity lies: in the space of its owner, on the active sheet, or in model space. */
export const IN_OWNER = 0;
export const ON_SHEET = 1;
export const IN_MODEL = 2;

/** Reads objects by their handles: what they are, and their fields. */
export class ObjectReader {
  /** Objects whose checksum did not match, and those that ended early or could not be found. */
  readonly damaged: number[] = [];
  readonly cutShort: number[] = [];
  private readonly classes: Map<number, DwgClass>;
  /** The object at hand: its kind, where its bits begin, and what its head said. */
  type = 0;
  kind: Kind | null = null;
  mode = IN_OWNER;
  owner = 0;
  previous = 0;
  next = 0;
  linked = false;
  /** One reader for each stream, used for one object after the other. */
  private readonly sizes: BitReader;
  private readonly data: BitReader;
  private readonly handles: BitReader;
  private readonly strings: BitReader;
  private start = 0;
  private size = 0;
  /** How many bits the handles take, where that stands before the object (from 2010 on). */
  handleBits = 0;
  private dataEnd = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly map: ObjectMap,
    classes: readonly DwgClass[],
    readonly f: FieldReader,
    /** The letters of the version. */
    readonly letters: string,
  ) {
    this.classes = new Map(classes.map((c) => [c.number, c]));
    f.innerHead = () => this.innerHead();
    [this.sizes, this.data, this.handles, this.strings] = [0, 0, 0, 0].map(() => new BitReader(bytes)) as [
      BitReader,
      BitReader,
      BitReader,
      BitReader,
    ];
  }

  /** Comes to an object; `false` when there is none with the handle, or it does not lie in the file. */
  open(handle: number): boolean {
    const { bytes, f } = this;
    const offset = this.map.offsetOf(handle);
    if (offset < 0 || offset + 4 > bytes.length) return false;
    const r = this.sizes.reset(offset * 8, bytes.length * 8);
    const size = r.modularShort();
    let handleBits = 0;
    if (f.v >= 2010) handleBits = r.modular();
    const start = r.at >> 3;
    if (size < 2 || start + size > bytes.length || handleBits > size * 8) return false;
    this.start = start;
    this.size = size;
    this.handleBits = handleBits;
    const data = this.data.reset(start * 8, (start + size) * 8);
    f.data = data;
    f.strings = null;
    f.own = handle;
    if (f.v >= 2010) {
      const form = data.bits2();
      this.type = form === 0 ? data.byte() : form === 1 ? data.byte() + 0x1f0 : data.short();
      this.split(data.end - handleBits);
    } else {
      this.type = data.bitShort() & 0xffff;
      if (f.v >= 2000) this.split(start * 8 + data.long());
      else this.dataEnd = data.end;
    }
    this.kind = this.kindOf(this.type);
    return true;
  }

  /** The kind of an object without reading its fields. */
  kindAt(handle: number): Kind | null {
    return this.open(handle) ? this.kind : null;
  }

  /** Whether the checksum behind the object at hand is right. */
  checksumRight(): boolean {
    const end = this.start + this.size;
    const from = this.map.offsetOf(this.f.own);
    const { bytes } = this;
    return end + 2 <= bytes.length && crc16(CRC_SEED, bytes, from, end) === (bytes[end]! | (bytes[end + 1]! << 8));
  }

  /** The bits of the object at hand behind its type. */
  sealed(): Uint8Array {
    return this.bytes.subarray(this.start, this.start + this.size);
  }

  /** The handle that an entity names as the next of its chain. */
  nextOf(handle: number): number {
    if (!this.open(handle)) return 0;
    this.linked = false;
    this.read();
    return this.linked ? this.next : handle + 1;
  }

  /** The handles that a control object lists. */
  entriesOf(handle: number): number[] {
    if (!this.open(handle)) return [];
    const { f, type } = this;
    const { data } = f;
    data.handle();
    for (let n = data.bitShort() & 0xffff; n > 0 && !data.overrun; n = data.bitShort() & 0xffff) {
      data.handle();
      data.take(n);
    }
    if (f.v < 2000) this.split(this.start * 8 + data.long());
    const reactors = Math.min(data.bitLong(), MOST_REACTORS);
    const dictionary = f.v < 2004 || data.bit() === 0;
    if (f.v >= 2013) data.bit();
    const count = data.bitLong();
    f.ref();
    for (let i = 0; i < reactors && !f.handles.overrun; i++) f.ref();
    if (dictionary) f.ref();
    // Blocks and linetypes have two that stand apart, behind the others; in a DXF those come first.
    const apart = type === 0x30 || type === 0x38 ? 2 : 0;
    const [listed, two]: [number[], number[]] = [[], []];
    for (let i = 0; i < count + apart && f.handles.left >= 8; i++) {
      const h = f.ref();
      if (h > 0) (i < count ? listed : two).push(h);
    }
    return [...two, ...listed];
  }

  private kindOf(type: number): Kind | null {
    const fixed = KINDS_BY_TYPE.get(type);
    if (fixed) return fixed;
    const known = type >= FIRST_CLASS ? this.classes.get(type) : undefined;
    if (!known) return null;
    const record = known.record.toUpperCase();
    const kind = KINDS_BY_CLASS.get(record);
    if (kind && kind.entity === known.entity) return kind;
    return { record, entity: known.entity, codec: null };
  }

  /** Tells where the data end and the handles begin, and finds the strings before that end. */
  private split(end: number): void {
    const { f } = this;
    const { data } = f;
    const most = data.end;
    this.dataEnd = end >= data.at && end <= most ? end : most;
    f.handles = this.handles.reset(this.dataEnd, most);
    data.end = this.dataEnd;
    f.strings = f.v >= 2007 ? stringsBefore(this.strings, data.at, this.dataEnd) : null;
  }

  /**
   * Reads the object at hand into the bag: head, fields, extended data. `sheet`: what lies in its own space lies on a
   * sheet. Answers `false` when its bits ended before its fields did.
   */
  read(sheet = false): boolean {
    const { f, kind } = this;
    const { data, bag } = f;
    const record = kind?.record ?? `TYPE_${this.type}`;
    const { handle } = data.handle();
    bag.reset(record, handle || f.own);
    const extended: ExtendedData[] = [];
    for (let n = data.bitShort() & 0xffff; n > 0 && !data.overrun; n = data.bitShort() & 0xffff) {
      const application = data.handle().handle;
      extended.push({ application, bytes: data.take(n) });
    }
    bag.addHandle(record === 'DIMSTYLE' ? 105 : 5, f.own);
    if (kind?.entity) this.entityHead(sheet);
    else this.objectHead(record);
    f.seal = !kind?.codec;
    if (kind?.codec) readFields(kind.codec, f);
    if (kind?.parent) {
      if (f.v >= 2004) f.owned = data.bitLong();
      f.readOwned();
    }
    giveExtended(f, extended);
    return !data.overrun && !f.handles.overrun;
  }

  private reactors(count: number, dictionary: boolean): void {
    const { f } = this;
    const { bag } = f;
    const reactors: number[] = [];
    for (let i = 0; i < count && !f.handles.overrun; i++) {
      const h = f.ref();
      if (h > 0) reactors.push(h);
    }
    const extension = dictionary ? f.ref() : 0;
    if (reactors.length > 0) {
      bag.addText(102, '{ACAD_REACTORS');
      for (const h of reactors) bag.addHandle(330, h);
      bag.addText(102, '}');
    }
    if (extension > 0) {
      bag.addText(102, '{ACAD_XDICTIONARY');
      bag.addHandle(360, extension);
      bag.addText(102, '}');
    }
  }

  private objectHead(record: string): void {
    const { f } = this;
    const { data, bag } = f;
    if (f.v < 2000) this.split(this.start * 8 + data.long());
    const count = Math.min(data.bitLong(), MOST_REACTORS);
    const dictionary = f.v < 2004 || data.bit() === 0;
    if (f.v >= 2013) data.bit();
    this.owner = f.ref();
    f.ownerOf = this.owner;
    this.reactors(count, dictionary);
    bag.addHandle(330, this.owner);
    if (/^(LAYER|LTYPE|STYLE|VIEW|UCS|VPORT|APPID|DIMSTYLE|BLOCK_RECORD)$/.test(record))
      bag.addText(100, 'AcDbSymbolTableRecord');
  }

  private entityHead(sheet: boolean): void {
    const { f } = this;
    const { data, bag } = f;
    let preview: Uint8Array | null = null;
    if (data.bit()) {
      const size = f.v >= 2010 ? data.bitLongLong() : data.long();
      preview = data.take(Math.min(Math.max(size, 0), data.left >> 3));
    }
    if (f.v < 2000) this.split(this.start * 8 + data.long());
    this.entityLook(sheet);
    if (preview && !this.kind?.codec) {
      bag.addNumber(f.v >= 2010 ? 160 : 92, preview.length);
      bag.addBytes(310, preview);
    }
  }

  /** The head of an entity within another: what it says of its place is not that of the object at hand. */
  private innerHead(): void {
    const { mode, owner, previous, next, linked, f } = this;
    const { ownerOf } = f;
    this.entityLook(false);
    Object.assign(this, { mode, owner, previous, next, linked });
    f.ownerOf = ownerOf;
  }

  /** What the head of an entity says from its mode on. */
  private entityLook(sheet: boolean): void {
    const { f } = this;
    const { data, bag } = f;
    this.mode = data.bits2();
    const count = Math.min(data.bitLong(), MOST_REACTORS);
    const dictionary = f.v < 2004 || data.bit() === 0;
    if (f.v >= 2013) data.bit();
    const byLayer = f.v < 2000 ? data.bit() : 0;
    this.linked = f.v < 2004 && data.bit() === 0;
    // Colour: flags above the index from 2004 on (ENC).
    const colour = data.bitShort() & 0xffff;
    let rgb = -1;
    let alpha = 0;
    let book = false;
    if (f.v >= 2004) {
      if (colour & 0x4000) book = true;
      else if (colour & 0x8000) rgb = data.bitLong();
      if (colour & 0x2000) alpha = data.bitLong();
    }
    const scale = data.bitDouble();
    const linetype = f.v >= 2000 ? data.bits2() : byLayer ? 0 : 3;
    const plot = f.v >= 2000 ? data.bits2() : 0;
    let material = 0;
    let shadow = 0;
    if (f.v >= 2007) {
      material = data.bits2();
      shadow = data.byte();
    }
    let visual = 0;
    if (f.v >= 2010) visual = data.bit() + data.bit() + data.bit();
    const invisible = data.bitShort();
    const weight = f.v >= 2000 ? data.byte() : 29;
    // Handles.
    this.owner = this.mode === IN_OWNER ? f.ref() : 0;
    f.ownerOf = this.owner;
    this.reactors(count, dictionary);
    if (this.owner > 0) bag.addHandle(330, this.owner);
    bag.addText(100, 'AcDbEntity');
    if (sheet) bag.addNumber(67, 1);
    const links = (): void => {
      if (!this.linked) return;
      this.previous = f.ref();
      this.next = f.ref();
    };
    if (f.v < 2000) {
      f.name(8, 'layer', HARD_POINTER);
      if (linetype === 3) f.name(6, 'linetype', HARD_POINTER, 'ByLayer');
      links();
    } else {
      links();
      if (book) f.ref();
      f.name(8, 'layer', HARD_POINTER);
      if (linetype === 3) f.name(6, 'linetype', HARD_POINTER);
      else if (linetype === 1) bag.addText(6, 'ByBlock');
      else if (linetype === 2) bag.addText(6, 'Continuous');
    }
    const index = colour & 0x1ff;
    if (rgb >= 0 || (rgb < -1 && f.v >= 2004)) this.trueColour(rgb >>> 0, index);
    else if (!book && index !== 256) bag.addNumber(62, index);
    if (scale !== 1) bag.addNumber(48, scale);
    if (invisible & 1) bag.addNumber(60, 1);
    const hundredths = weightOf(weight);
    if (hundredths !== -1) bag.addNumber(370, hundredths);
    if (alpha !== 0) bag.addNumber(440, alpha);
    if (shadow !== 0) bag.addNumber(284, shadow);
    if (material === 3) f.h(347, HARD_POINTER);
    if (plot === 3) f.h(390, HARD_POINTER);
    for (let i = 0; i < visual; i++) f.ref();
  }

  private trueColour(value: number, index: number): void {
    const { bag } = this.f;
    switch (value >>> 24) {
      case 0xc0:
        return;
      case 0xc1:
        return bag.addNumber(62, 0);
      case 0xc3:
        return bag.addNumber(62, value & 0xff);
      default:
        if (index > 0 && index < 256) bag.addNumber(62, index);
        bag.addNumber(420, value & 0xffffff);
    }
  }
}

/**
 * The stream of strings that ends where the data end: a bit that tells whether there is one, before it its size in 16
 * bits, or in 31 when the highest bit of those is set. `r` reads the same bytes and becomes that stream.
 */
export function stringsBefore(r: BitReader, from: number, end: number): BitReader | null {
  if (end - 1 < from) return null;
  if (!r.reset(end - 1, end).bit()) return null;
  let at = end - 17;
  if (at < from) return null;
  let size = r.reset(at, end).short();
  if (size & 0x8000) {
    at -= 16;
    if (at < from) return null;
    size = (size & 0x7fff) + r.reset(at, end).short() * 32768;
  }
  return at - size < from ? null : r.reset(at - size, at);
}
