import { CRC_SEED, crc16 } from './checksums.js';
import { BitReader } from './bit-reader.js';
import { BitWriter } from './bit-writer.js';
import { weightNumber } from './codecs-tables.js';
import { writeFields } from './codec.js';
import { putExtended } from './extended-data.js';
import type { Entity } from '../../drawing/entity.js';
import { wordTable } from '../../drawing/word-table.js';
import type { FieldWriter } from './field-writer.js';
import type { Words } from './whole.js';
import { putWhole } from './whole.js';
import { HARD_OWNER, HARD_POINTER, SOFT_POINTER } from './fields.js';
import type { Kind } from './kinds.js';
import { IN_MODEL, IN_OWNER, ON_SHEET } from './object-reader.js';
import type { TagRecord } from './tag-store.js';

/** Where an entity lies, and in versions before 2004 what stands before and after it. */
export interface Lies {
  mode: typeof IN_OWNER | typeof ON_SHEET | typeof IN_MODEL;
  owner: number;
  previous: number;
  next: number;
}

const NONE_AT_ALL: readonly number[] = [];

/** What the head of an entity says of its look. References are handles, 0 for none. */
export interface HeadLook {
  index: number;
  /** -1 for a colour by index. */
  rgb: number;
  alpha: number;
  scale: number;
  /** 0 by layer, 1 by block, 2 continuous, 3 the linetype named. */
  lineForm: number;
  linetype: number;
  plot: number;
  material: number;
  shadows: number;
  invisible: number;
  weight: number;
  layer: number;
}

/** A look as the bits and the references that it comes to in the head of every entity that has it. */
export interface PackedLook {
  /** Whether its linetype is that of its layer. */
  byLayer: boolean;
  bits: BitWriter;
  handles: BitWriter;
}

/** Linetypes that have a number of their own from version 2000 on. */
const OWN_FORMS = ['bylayer', 'byblock', 'continuous', 'bylayer'];

/** Before version 2004 an entity names those before and after it, unless their handles do. */
const besides = (handle: number, { previous, next }: Lies): boolean => previous === handle - 1 && next === handle + 1;

/** What stands within another entity names no owner, and has the look of that. */
const NOWHERE: Lies = { mode: IN_OWNER, owner: 0, previous: 0, next: 0 };
const BY_LAYER_WEIGHT = 29;
const PLAIN_LOOK: HeadLook = {
  index: 256,
  rgb: -1,
  alpha: 0,
  scale: 1,
  lineForm: 0,
  linetype: 0,
  plot: 0,
  material: 0,
  shadows: 0,
  invisible: 0,
  weight: BY_LAYER_WEIGHT,
  layer: 0,
};
/** Kinds that may hold an object within them. */
const EMBEDS = new Set(['ATTRIB', 'ATTDEF', 'MTEXT']);

const LINE_FORMS = wordTable<number>({ bylayer: 0, byblock: 1, continuous: 2 });

/** What the tags of the record at hand say of its look. */
function lookOf(f: FieldWriter): HeadLook {
  const linetype = f.textOf(6, 'ByLayer').toLowerCase();
  const lineForm = LINE_FORMS[linetype] ?? 3;
  const reference = (code: number): number => {
    const h = f.has(code) ? f.record.store.handleAt(f.take(code)) : 0;
    return h > 0 && f.known(h) ? h : 0;
  };
  return {
    index: f.number(62, 256),
    rgb: f.has(420) ? f.number(420) : -1,
    alpha: f.v >= 2004 && f.has(440) ? f.number(440) : 0,
    scale: f.number(48, 1),
    lineForm,
    linetype: lineForm === 3 ? f.refOf('linetype', linetype) : 0,
    plot: reference(390),
    material: f.v >= 2007 ? reference(347) : 0,
    shadows: f.v >= 2007 ? f.number(284) : 0,
    invisible: f.number(60),
    weight: weightNumber(f.number(370, -1)),
    layer: f.refOf('layer', f.textOf(8, '0')),
  };
}

/** So many bytes of objects make a piece. */
export const PIECE = 1 << 22;

/**
 * Puts objects into bytes one after the other, and remembers where each lies. An object's bits are written where they
 * stay; before them is left what its size and the size of its handles nearly always take.
 */
export class ObjectWriter {
  private readonly pieces: Uint8Array[] = [];
  /** Bytes in those pieces, and in the one at hand. */
  private before = 0;
  private at = 0;
  private readonly gap: number;
  private readonly handles: number[] = [];
  private readonly offsets: number[] = [];
  /** Tags that the bits have no place for: how often, by the kind of record and the code. */
  readonly lost = new Map<string, number>();

  constructor(readonly f: FieldWriter) {
    this.gap = f.v >= 2010 ? 3 : 2;
    f.start = 8 * this.gap;
    f.innerHead = () => this.putLook(0, NOWHERE, { ...PLAIN_LOOK, layer: f.refOf('layer', '0') }, NONE_AT_ALL, 0);
  }

  /** What was written, in pieces; nothing can be added after. */
  finished(): Uint8Array[] {
    this.f.data.at = 8 * this.at;
    return [...this.pieces, this.f.data.takeWritten()];
  }
  /** Handles and offsets in the order of the handles. */
  places(): { handles: readonly number[]; offsets: readonly number[] } {
    const { handles, offsets } = this;
    const { rising, others } = parted(handles);
    if (others.length === 0) return { handles, offsets };
    others.sort((p, q) => handles[p]! - handles[q]!);
    const order: number[] = [];
    let k = 0;
    for (const i of rising) {
      while (k < others.length && handles[others[k]!]! < handles[i]!) order.push(others[k++]!);
      order.push(i);
    }
    while (k < others.length) order.push(others[k++]!);
    return { handles: order.map((i) => handles[i]!), offsets: order.map((i) => offsets[i]!) };
  }

  entity(type: number, kind: Kind, record: TagRecord, lies: Lies): void {
    const { f } = this;
    f.begin(record);
    this.head(type, record.handle);
    this.entityHead(record, lies);
    if (EMBEDS.has(kind.record)) f.setApart();
    writeFields(kind.codec!, f);
    if (f.embedded && f.v < 2018) this.lose(`${record.type} 101`);
    if (kind.parent) {
      f.take(66);
      if (f.v >= 2004) f.data.bitLong(f.children.length);
      f.putOwned();
    }
    this.noteLost(record);
    this.seal(record.handle);
  }

  /** An entity that stands for itself, with its look. */
  whole(type: number, handle: number, e: Entity, look: PackedLook, lies: Lies, words: Words): void {
    const { f } = this;
    const { data, handles, v } = f;
    f.clear();
    this.head(type, handle);
    data.bitShort(0);
    // No preview.
    data.bit(0);
    if (v < 2000) this.putSize();
    this.putPlace(handle, lies, 0, false, look.byLayer);
    data.append(look.bits);
    if (lies.mode === IN_OWNER) f.putRef(SOFT_POINTER, lies.owner);
    if (v < 2004) f.putRef(HARD_OWNER, 0);
    if (v >= 2000 && v < 2004) this.putNeighbours(handle, lies);
    handles.append(look.handles);
    if (v < 2000) this.putNeighbours(handle, lies);
    putWhole(f, e, words);
    this.seal(handle);
  }

  /** What a record of tags says of a look. */
  look(record: TagRecord): PackedLook {
    const { f } = this;
    f.begin(record);
    const look = lookOf(f);
    f.clear();
    this.putLookBits(look);
    this.putLookHandles(look);
    const bits = new BitWriter();
    bits.putBits(f.data.bytes.subarray(f.start >> 3), f.data.at - f.start);
    const handles = new BitWriter();
    handles.append(f.handles);
    return { bits, handles, byLayer: look.lineForm === 0 };
  }

  object(type: number, kind: Kind, record: TagRecord, owner: number): void {
    const { f } = this;
    f.begin(record);
    this.head(type, record.handle);
    this.objectHead(record, owner);
    writeFields(kind.codec!, f);
    this.noteLost(record);
    this.seal(record.handle);
  }

  /** An object that no record stands for, such as a control object: its fields come from `fields`. */
  bare(type: number, handle: number, owner: number, fields: (f: FieldWriter) => void): void {
    const { f } = this;
    f.clear();
    this.head(type, handle);
    f.data.bitShort(0);
    if (f.v < 2000) this.putSize();
    f.data.bitLong(0);
    if (f.v >= 2004) f.data.bit(1);
    if (f.v >= 2013) f.data.bit(0);
    f.putRef(SOFT_POINTER, owner);
    if (f.v < 2004) f.putRef(HARD_OWNER, 0);
    fields(f);
    this.seal(handle);
  }

  /**
   * An object carried as bits. Its type is that of its class here: it stands in the first bits, and the number of a class
   * always has the same form. Answers `false` where it does not.
   */
  sealed(type: number | null, handle: number, bytes: Uint8Array, handleBits: number): boolean {
    const { data, v, start } = this.f;
    data.at = start;
    data.put(bytes);
    if (type !== null) {
      const r = new BitReader(bytes);
      const form = r.bits2();
      if (v >= 2010) {
        if (form === 1 && type >= 0x1f0 && type < 0x2f0) data.patch(start + 2, type - 0x1f0, 8);
        else if (form >= 2) data.patch(start + 2, type, 16);
        else return false;
      } else if (form === 0) data.patch(start + 2, type, 16);
      else return false;
    }
    this.put(handle, bytes.length, handleBits);
    return true;
  }

  private sizeAt = 0;

  private head(type: number, handle: number): void {
    const { data, v } = this.f;
    if (v >= 2010) {
      if (type < 0x100) {
        data.bits2(0);
        data.byte(type);
      } else if (type >= 0x1f0 && type < 0x2f0) {
        data.bits2(1);
        data.byte(type - 0x1f0);
      } else {
        data.bits2(2);
        data.short(type);
      }
    } else {
      data.bitShort(type);
      if (v >= 2000) this.putSize();
    }
    data.handle(0, handle);
  }

  /** The size in bits, which is known at the end; before version 2000 it stands behind the extended data. */
  private putSize(): void {
    const { data } = this.f;
    this.sizeAt = data.at;
    data.long(0);
  }

  /** Reactors and the dictionary of an object's own, which stand in braces before its owner. */
  private groups(record: TagRecord): { reactors: number[]; dictionary: number } {
    const { store } = record;
    const reactors: number[] = [];
    let dictionary = 0;
    let group = '';
    for (let i = record.from + 1; i < record.to; i++) {
      const code = store.codes[i];
      if (code === 102) {
        const text = store.textAt(i).trim();
        group = text.startsWith('{') ? text : '';
      } else if (code === 330 && group === '{ACAD_REACTORS') reactors.push(store.handleAt(i));
      else if (code === 360 && group === '{ACAD_XDICTIONARY') dictionary = store.handleAt(i);
      else if (code === 100) break;
    }
    return { reactors: reactors.filter((h) => this.f.known(h)), dictionary: this.f.known(dictionary) ? dictionary : 0 };
  }

  private groupHandles(reactors: readonly number[], dictionary: number): void {
    const { f } = this;
    for (const h of reactors) f.putRef(SOFT_POINTER, h);
    if (f.v < 2004 || dictionary > 0) f.putRef(HARD_OWNER, dictionary);
  }

  private objectHead(record: TagRecord, owner: number): void {
    const { f } = this;
    const { data } = f;
    putExtended(f);
    if (f.v < 2000) this.putSize();
    f.take(record.type === 'DIMSTYLE' ? 105 : 5);
    if (record.find(330) >= 0) f.take(330);
    const { reactors, dictionary } = this.groups(record);
    data.bitLong(reactors.length);
    if (f.v >= 2004) data.bit(dictionary === 0);
    if (f.v >= 2013) data.bit(0);
    f.putRef(SOFT_POINTER, owner);
    this.groupHandles(reactors, dictionary);
  }

  private entityHead(record: TagRecord, lies: Lies): void {
    const { f } = this;
    putExtended(f);
    for (const c of [5, 330, 67, 410]) f.take(c);
    f.mark('AcDbEntity');
    const { reactors, dictionary } = this.groups(record);
    this.putHead(record.handle, lies, lookOf(f), reactors, dictionary);
  }

  private putHead(
    handle: number,
    lies: Lies,
    look: HeadLook,
    reactors: readonly number[] = NONE_AT_ALL,
    dictionary = 0,
  ): void {
    // No preview.
    this.f.data.bit(0);
    if (this.f.v < 2000) this.putSize();
    this.putLook(handle, lies, look, reactors, dictionary);
  }

  /** The head of an entity from its mode on. */
  private putLook(handle: number, lies: Lies, look: HeadLook, reactors: readonly number[], dictionary: number): void {
    const { f } = this;
    this.putPlace(handle, lies, reactors.length, dictionary > 0, look.lineForm === 0);
    this.putLookBits(look);
    if (lies.mode === IN_OWNER) f.putRef(SOFT_POINTER, lies.owner);
    this.groupHandles(reactors, dictionary);
    if (f.v >= 2000 && f.v < 2004) this.putNeighbours(handle, lies);
    this.putLookHandles(look);
    if (f.v < 2000) this.putNeighbours(handle, lies);
  }

  /** Where an entity lies, and what hangs on it. */
  private putPlace(handle: number, lies: Lies, reactors: number, dictionary: boolean, byLayer: boolean): void {
    const { data, v } = this.f;
    data.bits2(lies.mode);
    data.bitLong(reactors);
    if (v >= 2004) data.bit(!dictionary);
    if (v >= 2013) data.bit(0);
    if (v < 2000) data.bit(byLayer);
    if (v < 2004) data.bit(besides(handle, lies));
  }
  private putNeighbours(handle: number, lies: Lies): void {
    if (besides(handle, lies)) return;
    this.f.putRef(SOFT_POINTER, lies.previous);
    this.f.putRef(SOFT_POINTER, lies.next);
  }
  private putLookBits(look: HeadLook): void {
    const { data, v } = this.f;
    this.colour(look);
    data.bitDouble(look.scale);
    if (v < 2000) return data.bitShort(look.invisible);
    data.bits2(look.lineForm);
    data.bits2(look.plot > 0 ? 3 : 0);
    if (v >= 2007) {
      data.bits2(look.material > 0 ? 3 : 0);
      data.byte(look.shadows);
    }
    if (v >= 2010) for (let i = 0; i < 3; i++) data.bit(0);
    data.bitShort(look.invisible);
    data.byte(look.weight);
  }
  private putLookHandles(look: HeadLook): void {
    const { f } = this;
    f.putRef(HARD_POINTER, look.layer);
    if (f.v < 2000) {
      if (look.lineForm !== 0) f.putRef(HARD_POINTER, look.linetype || f.refOf('linetype', OWN_FORMS[look.lineForm]!));
      return;
    }
    if (look.lineForm === 3) f.putRef(HARD_POINTER, look.linetype);
    if (look.material > 0) f.putRef(HARD_POINTER, look.material);
    if (look.plot > 0) f.putRef(HARD_POINTER, look.plot);
  }

  /** An index, from 2004 on with flags above it: 0x8000 a true colour follows, 0x2000 a transparency. */
  private colour({ index, rgb, alpha }: HeadLook): void {
    const { f } = this;
    if (f.v < 2004) return f.data.bitShort(index);
    const plain = rgb >= 0 ? (index === 256 ? 0 : index) : index;
    f.data.bitShort(((plain | (rgb >= 0 ? 0x8000 : 0) | (alpha !== 0 ? 0x2000 : 0)) << 16) >> 16);
    if (rgb >= 0) f.data.bitLong(0xc2000000 | rgb | 0);
    if (alpha !== 0) f.data.bitLong(alpha | 0);
  }

  private noteLost(record: TagRecord): void {
    for (const code of this.f.unused()) this.lose(`${record.type} ${code}`);
  }
  private lose(key: string): void {
    this.lost.set(key, (this.lost.get(key) ?? 0) + 1);
  }

  /** Puts the three streams of an object together: data, strings, handles; then its checksum. */
  private seal(handle: number): void {
    const { f } = this;
    const { data, strings, handles } = f;
    if (f.v >= 2007) appendStrings(data, strings);
    if (f.v < 2010) data.patchLong(this.sizeAt, data.at - f.start);
    const dataBits = data.at;
    data.append(handles);
    data.align();
    this.put(handle, (data.at - f.start) >> 3, data.at - dataBits);
  }

  /** Closes an object whose bits stand in the data: its size before them, its checksum behind. */
  private put(handle: number, size: number, handleBits: number): void {
    const { f, at } = this;
    const { data } = f;
    this.handles.push(handle);
    this.offsets.push(this.before + at);
    const modern = f.v >= 2010;
    let end = data.at >> 3;
    if (size >= 32768 || (modern && handleBits >= 128)) {
      const head = new BitWriter(16);
      head.modularShort(size);
      if (modern) head.modular(handleBits);
      const n = head.at >> 3;
      // More than was left for it: all moves on.
      data.align();
      data.put(head.bytes, n - this.gap);
      data.bytes.copyWithin(at + n, at + this.gap, end);
      data.bytes.set(head.bytes.subarray(0, n), at);
      end += n - this.gap;
    } else {
      data.bytes[at] = size & 255;
      data.bytes[at + 1] = size >> 8;
      if (modern) data.bytes[at + 2] = handleBits;
    }
    const crc = crc16(CRC_SEED, data.bytes, at, end);
    data.at = 8 * end;
    data.short(crc);
    this.at = end + 2;
    if (this.at >= PIECE) {
      this.pieces.push(data.takeWritten());
      this.before += this.at;
      this.at = 0;
    }
    f.start = 8 * (this.at + this.gap);
  }
}

/**
 * Places of numbers that rise, and those of the rest. Nearly all handles rise as they stand; those of tables and of
 * objects, which come first and last, may lie above them or below.
 */
function parted(numbers: readonly number[]): { rising: number[]; others: number[] } {
  const from = (start: number): { rising: number[]; others: number[] } => {
    const rising: number[] = [];
    const others: number[] = [];
    let most = 0;
    for (let i = 0; i < numbers.length; i++) {
      if (i >= start && numbers[i]! > most) {
        most = numbers[i]!;
        rising.push(i);
      } else others.push(i);
    }
    return { rising, others };
  };
  const whole = from(0);
  if (whole.others.length <= numbers.length / 4) return whole;
  // A high one near the beginning keeps all others out: the longest run that rises begins behind it.
  let [start, begin, longest] = [0, 0, 0];
  for (let i = 1; i <= numbers.length; i++) {
    if (i < numbers.length && numbers[i]! > numbers[i - 1]!) continue;
    if (i - begin > longest) [start, longest] = [begin, i - begin];
    begin = i;
  }
  return from(start);
}

/** Strings go behind the data: their bits, their size in 16 or 31 bits, and a bit that says whether there are any. */
export function appendStrings(data: BitWriter, strings: BitWriter): void {
  const n = strings.at;
  if (n === 0) return data.bit(0);
  data.append(strings);
  if (n >= 0x8000) {
    data.short(Math.floor(n / 32768));
    data.short((n & 0x7fff) | 0x8000);
  } else data.short(n);
  data.bit(1);
}
