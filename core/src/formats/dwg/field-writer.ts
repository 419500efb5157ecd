import type { PlainReason } from '../../drawing/reasons.js';
import type { Vec3 } from '../../geometry/vector.js';
import { isPointer } from '../drafting/raw-tags.js';
import { radiansOf } from '../drafting/numbers.js';
import { escapeUnicode } from '../drafting/tag-sink.js';
import { BitWriter } from './bit-writer.js';
import type { Fields, NamedTable } from './fields.js';
import type { BlockWords } from './block-words.js';
import { HARD_OWNER, NONE, SOFT_POINTER } from './fields.js';
import { TagRecord } from './tag-store.js';

export const UPWARDS: Vec3 = [0, 0, 1];

/** Writes the fields of one object after the other from the tags of its record. */
export class FieldWriter implements Fields {
  readonly reading = false;
  readonly data: BitWriter;
  readonly strings = new BitWriter();
  readonly handles = new BitWriter();
  private from = 0;
  private to = 0;
  private used = new Uint8Array(256);
  record!: TagRecord;
  /** The vertices or attributes that belong to the record at hand, and their end mark. */
  children: readonly number[] = [];
  sequenceEnd = 0;
  /** What the record of a block says that a DXF has in its BLOCK. */
  block: (BlockWords & { begin: number; inserts: readonly number[] }) | null = null;

  /** `handleOf` gives the handle of a table's record by its name, 0 when there is none. */
  constructor(
    readonly v: number,
    private readonly handleOf: (table: NamedTable, name: string) => number,
    /** Whether an object with the handle is written. */
    readonly known: (handle: number) => boolean,
    /** How many bytes of data there is room for to begin with. */
    size?: number,
  ) {
    this.data = new BitWriter(size);
  }

  /** What could not be said as it was, and how often. */
  readonly approximated = new Map<PlainReason, number>();
  say(what: PlainReason): void {
    this.approximated.set(what, (this.approximated.get(what) ?? 0) + 1);
  }

  /** The tags of an object within the record at hand, behind group 101; `null` when it has none. */
  embedded: TagRecord | null = null;
  /** Writes the head of an entity that stands within another, without what comes before its mode. */
  innerHead: () => void = () => undefined;

  /** Sets the object within the record at hand apart, so that none of its tags is taken for one of the record's own. */
  setApart(): void {
    const { record } = this;
    const at = record.find(101);
    if (at < 0) return;
    this.embedded = new TagRecord(record.store, at, record.to);
    this.record = new TagRecord(record.store, record.from, at);
  }
  /** Writes an object that stands within the one at hand from its tags. */
  inner(write: () => void): void {
    const { record, embedded, from, to, used } = this;
    if (!embedded) return;
    this.innerHead();
    this.used = new Uint8Array(embedded.to - embedded.from);
    this.record = embedded;
    this.embedded = null;
    write();
    Object.assign(this, { record, embedded, from, to, used });
  }

  /** Set where a field that the subclass at hand does not have is not looked for elsewhere. */
  strict = false;

  /** Begins with a record. */
  begin(record: TagRecord): void {
    this.record = record;
    this.strict = false;
    this.embedded = null;
    this.clear();
    this.from = this.to = record.from + 1;
    const n = record.to - record.from;
    if (this.used.length < n) this.used = new Uint8Array(2 * n);
    else this.used.fill(0, 0, n);
  }

  /** Where the bits of an object begin in the data. */
  start = 0;

  /** Begins with empty bits. */
  clear(): void {
    this.data.at = this.start;
    this.strings.clear();
    this.handles.clear();
  }

  /** The codes of tags that no field took, extended data and marks left out. */
  unused(): number[] {
    const { record, used } = this;
    const out: number[] = [];
    let inside = false;
    let head = true;
    for (let i = record.from + 1; i < record.to; i++) {
      const code = record.store.codes[i]!;
      if (code === 100) head = false;
      // The owner stands in the head.
      if (code === 330 && head) continue;
      if (code === 102) inside = record.store.textAt(i).startsWith('{');
      if (used[i - record.from]! || inside || code >= 1000 || code === 100 || code === 102) continue;
      // What says nothing is no loss.
      if (/^0?$/.test(record.store.textAt(i).trim()) || (isPointer(code) && record.store.handleAt(i) === 0)) continue;
      out.push(code);
    }
    return out;
  }

  /** Position of the tag that a field takes: in the subclass at hand, otherwise anywhere; -1 when there is none. */
  take(code: number): number {
    const { record } = this;
    let i = record.find(code, this.from, this.to);
    if (i < 0 && !this.strict) i = record.find(code);
    if (i >= 0) this.used[i - record.from] = 1;
    return i;
  }
  /** Takes tags one by one: the next with the code from a position on and before `end`, or -1. */
  next(code: number, from: number, end = this.record.to): number {
    const i = this.record.find(code, from, end);
    if (i >= 0) this.used[i - this.record.from] = 1;
    return i;
  }
  /** Tells that a tag was taken. */
  use(i: number): void {
    this.used[i - this.record.from] = 1;
  }
  /** All numbers with the code, in the subclass at hand or anywhere. */
  all(code: number): number[] {
    const { record } = this;
    const inside = this.strict || record.find(code, this.from, this.to) >= 0;
    const [from, to] = inside ? [this.from, this.to] : [record.from + 1, record.to];
    const out: number[] = [];
    for (let i = record.find(code, from, to); i >= 0; i = record.find(code, i + 1, to)) {
      this.use(i);
      out.push(record.store.numberAt(i));
    }
    return out;
  }
  number(code: number, otherwise = 0): number {
    if (code === NONE) return otherwise;
    const i = this.take(code);
    return i < 0 ? otherwise : this.record.store.numberAt(i);
  }
  /** An angle in radians; `otherwise` is in degrees. */
  radians(code: number, otherwise = 0): number {
    const i = code === NONE ? -1 : this.take(code);
    return i < 0 ? radiansOf(otherwise) : this.record.store.radiansAt(i);
  }
  point(code: number, otherwise: Vec3 = [0, 0, 0]): Vec3 {
    if (code === NONE) return otherwise;
    return [
      this.number(code, otherwise[0]),
      this.number(code + 10, otherwise[1]),
      this.number(code + 20, otherwise[2]),
    ];
  }
  textOf(code: number, otherwise = ''): string {
    if (code === NONE) return otherwise;
    const i = this.take(code);
    return i < 0 ? otherwise : this.record.store.textAt(i);
  }
  has(code: number): boolean {
    return this.record.find(code, this.from, this.to) >= 0 || this.record.find(code) >= 0;
  }

  mark(name: string): void {
    const { record } = this;
    const { store } = record;
    this.from = this.to = record.from + 1;
    for (let i = record.from + 1; i < record.to; i++) {
      if (store.codes[i] !== 100 || store.textAt(i).trim() !== name) continue;
      this.from = i + 1;
      const end = record.find(100, i + 1);
      this.to = end < 0 ? record.to : end;
      return;
    }
  }
  b(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.bit(value);
    return value ? 1 : 0;
  }
  bs(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.bitShort(value);
    return value;
  }
  bl(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.bitLong(value);
    return value;
  }
  rc(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.byte(value);
    return value & 255;
  }
  rl(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.long(value);
    return value;
  }
  bd(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.bitDouble(value);
    return value;
  }
  rd(code: number, otherwise?: number): number {
    const value = this.number(code, otherwise);
    this.data.double(value);
    return value;
  }
  angle(code: number, otherwise?: number): number {
    const value = this.radians(code, otherwise);
    this.data.bitDouble(value);
    return value;
  }
  rawAngle(code: number, otherwise?: number): number {
    const value = this.radians(code, otherwise);
    this.data.double(value);
    return value;
  }
  thickness(): number {
    const value = this.number(39);
    this.putThickness(value);
    return value;
  }
  p3(code: number, otherwise?: Vec3): Vec3 {
    const p = this.point(code, otherwise);
    this.putPoint(p);
    return p;
  }
  putPoint(p: Vec3): void {
    this.data.bitDouble(p[0]);
    this.data.bitDouble(p[1]);
    this.data.bitDouble(p[2]);
  }
  p2(code: number): readonly [number, number] {
    const p = [this.number(code), this.number(code === NONE ? NONE : code + 10)] as const;
    this.data.bitDouble(p[0]);
    this.data.bitDouble(p[1]);
    return p;
  }
  r2(code: number, otherwise: readonly [number, number] = [0, 0]): readonly [number, number] {
    const p = [this.number(code, otherwise[0]), this.number(code === NONE ? NONE : code + 10, otherwise[1])] as const;
    this.data.double(p[0]);
    this.data.double(p[1]);
    return p;
  }
  putThickness(value: number): void {
    if (this.v >= 2000) this.data.bit(value === 0);
    if (this.v < 2000 || value !== 0) this.data.bitDouble(value);
  }
  extrusion(): void {
    this.putExtrusion(this.point(210, UPWARDS));
  }
  putExtrusion(n: Vec3): void {
    const plain = n[0] === 0 && n[1] === 0 && n[2] === 1;
    if (this.v >= 2000) this.data.bit(plain);
    if (this.v < 2000 || !plain) this.putPoint(n);
  }
  plainExtrusion(): void {
    this.putPoint(this.point(210, UPWARDS));
  }
  t(code: number, otherwise?: string): string {
    const text = this.textOf(code, otherwise);
    this.putText(text);
    return text;
  }
  putText(text: string): void {
    const to = this.v >= 2007 ? this.strings : this.data;
    const said = this.v >= 2007 ? text : escapeUnicode(text);
    // A length is a short.
    const n = Math.min(said.length, 32767);
    to.bitShort(n);
    for (let i = 0; i < n; i++) {
      const c = said.charCodeAt(i);
      if (this.v >= 2007) to.short(c);
      else to.byte(c);
    }
  }
  colour(code: number, rgb: number, otherwise = 256): void {
    const index = this.number(code, otherwise);
    const i = rgb === NONE ? -1 : this.take(rgb);
    this.putColour(index, i < 0 ? -1 : this.record.store.numberAt(i));
  }
  /** CMC; `rgb` is -1 for a colour by index. */
  putColour(index: number, rgb: number): void {
    const { data } = this;
    if (this.v < 2004) return data.bitShort(index);
    data.bitShort(0);
    if (rgb >= 0) data.bitLong(0xc2000000 | rgb | 0);
    else if (index === 256) data.bitLong(0xc0000000 | 0);
    else if (index === 0) data.bitLong(0xc1000000 | 0);
    else data.bitLong(0xc3000000 | (Math.abs(index) & 255) | 0);
    data.byte(0);
  }
  h(code: number, ref: number): number {
    const i = code === NONE ? -1 : this.take(code);
    const handle = i < 0 ? 0 : this.record.store.handleAt(i);
    this.putRef(ref, handle);
    return handle;
  }
  /** A reference; to nothing when no object has the handle. */
  putRef(ref: number, handle: number): void {
    this.handles.handle(ref, handle > 0 && this.known(handle) ? handle : 0);
  }
  name(code: number, table: NamedTable, ref: number, otherwise = ''): void {
    this.putRef(ref, this.handleOf(table, this.textOf(code, otherwise)));
  }
  /** The references to what belongs to an insert or a polyline. */
  putOwned(): void {
    const { children } = this;
    if (this.v < 2004) {
      this.putRef(SOFT_POINTER, children[0] ?? 0);
      this.putRef(SOFT_POINTER, children[children.length - 1] ?? 0);
    } else for (const c of children) this.putRef(HARD_OWNER, c);
    this.putRef(HARD_OWNER, this.sequenceEnd);
  }
  /** The entry of the table of viewports that a viewport of version 2000 has. */
  viewportHeader: (handle: number) => number = () => 0;

  /** The handle behind a name. */
  refOf(table: NamedTable, name: string): number {
    return this.handleOf(table, name);
  }
}
