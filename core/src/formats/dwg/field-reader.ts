import type { Vec3 } from '../../geometry/vector.js';
import { nearestIndex } from '../../drawing/palette.js';
import { radiansOf } from '../drafting/numbers.js';
import type { TextDecoding } from '../drafting/decoding.js';
import { BitReader } from './bit-reader.js';
import type { Fields, NamedTable } from './fields.js';
import type { BlockWords } from './block-words.js';
import { NONE } from './fields.js';
import { ValueBag } from './value-bag.js';

const utf16 = new TextDecoder('utf-16le');
const ZERO: Vec3 = [0, 0, 0];

/** Reads the fields of one object after the other into a bag. `names` gives the name behind a handle, or `undefined`. */
export class FieldReader implements Fields {
  readonly reading = true;
  bag = new ValueBag();
  data = new BitReader(new Uint8Array(0));
  /** Where text stands from version 2007 on; `null` when it stands among the data, or there is none. */
  strings: BitReader | null = null;
  handles = new BitReader(new Uint8Array(0));
  /** The handle of the object at hand, which relative references count from. */
  own = 0;
  /** Reads the head of an entity that stands within another, without what comes before its mode. */
  innerHead: () => void = () => undefined;
  /** How many objects belong to the one at hand, from version 2004 on, and which; before, the first and the last. */
  owned = 0;
  readonly children: number[] = [];
  firstChild = 0;
  lastChild = 0;
  /** The end mark of what belongs to the one at hand. */
  sequenceEnd = 0;
  /** What the record of a block says that a DXF has in its BLOCK, and the handle of that. */
  /** Set when the fields of the object cannot be said as tags after all: it is carried as its bits. */
  seal = false;
  /** The owner that the head of the object named. */
  ownerOf = 0;
  block: BlockWords = { flags: 0, base: ZERO, path: '', description: '' };
  blockBegin = 0;

  constructor(
    readonly v: number,
    public decoding: TextDecoding,
    private readonly names: (table: NamedTable, handle: number) => string | undefined,
  ) {}

  private give(code: number, value: number, otherwise: number | undefined): number {
    if (code !== NONE && value !== otherwise) this.bag.addNumber(code, value);
    return value;
  }

  mark(name: string): void {
    this.bag.addText(100, name);
  }
  b(code: number, otherwise?: number): number {
    return this.give(code, this.data.bit(), otherwise);
  }
  bs(code: number, otherwise?: number): number {
    return this.give(code, this.data.bitShort(), otherwise);
  }
  bl(code: number, otherwise?: number): number {
    return this.give(code, this.data.bitLong(), otherwise);
  }
  rc(code: number, otherwise?: number): number {
    return this.give(code, this.data.byte(), otherwise);
  }
  rl(code: number, otherwise?: number): number {
    return this.give(code, this.data.long(), otherwise);
  }
  bd(code: number, otherwise?: number): number {
    return this.give(code, this.data.bitDouble(), otherwise);
  }
  rd(code: number, otherwise?: number): number {
    return this.give(code, this.data.double(), otherwise);
  }
  private turn(code: number, value: number, otherwise: number | undefined): number {
    if (code !== NONE && (otherwise === undefined || value !== radiansOf(otherwise))) this.bag.addAngle(code, value);
    return value;
  }
  angle(code: number, otherwise?: number): number {
    return this.turn(code, this.data.bitDouble(), otherwise);
  }
  rawAngle(code: number, otherwise?: number): number {
    return this.turn(code, this.data.double(), otherwise);
  }
  thickness(): number {
    const value = this.v >= 2000 && this.data.bit() ? 0 : this.data.bitDouble();
    return this.give(39, value, 0);
  }
  private point(code: number, p: Vec3, otherwise: Vec3 | undefined): Vec3 {
    if (code === NONE) return p;
    if (otherwise && p[0] === otherwise[0] && p[1] === otherwise[1] && p[2] === otherwise[2]) return p;
    const { bag } = this;
    bag.addNumber(code, p[0]);
    bag.addNumber(code + 10, p[1]);
    bag.addNumber(code + 20, p[2]);
    return p;
  }
  p3(code: number, otherwise?: Vec3): Vec3 {
    const { data } = this;
    return this.point(code, [data.bitDouble(), data.bitDouble(), data.bitDouble()], otherwise);
  }
  private pair(code: number, x: number, y: number): readonly [number, number] {
    if (code !== NONE) {
      this.bag.addNumber(code, x);
      this.bag.addNumber(code + 10, y);
    }
    return [x, y];
  }
  p2(code: number): readonly [number, number] {
    return this.pair(code, this.data.bitDouble(), this.data.bitDouble());
  }
  r2(code: number, otherwise?: readonly [number, number]): readonly [number, number] {
    const x = this.data.double();
    const y = this.data.double();
    return otherwise && x === otherwise[0] && y === otherwise[1] ? [x, y] : this.pair(code, x, y);
  }
  extrusion(): void {
    if (this.v >= 2000 && this.data.bit()) return;
    this.plainExtrusion();
  }
  plainExtrusion(): void {
    this.p3(210, [0, 0, 1]);
  }
  t(code: number, otherwise?: string): string {
    const text = this.text();
    if (code !== NONE && text !== otherwise) this.bag.addText(code, text);
    return text;
  }
  /** A text without giving a tag. */
  text(): string {
    if (this.v >= 2007) {
      const { strings } = this;
      if (!strings) return '';
      const n = strings.bitShort() & 0xffff;
      return trimmed(utf16.decode(strings.take(2 * n)));
    }
    const n = this.data.bitShort() & 0xffff;
    const bytes = this.data.take(n);
    return trimmed(this.decoding.decode(bytes, 0, bytes.length));
  }
  colour(code: number, rgb: number, otherwise?: number): void {
    const index = this.data.bitShort();
    if (this.v < 2004) {
      this.give(code, index, otherwise);
      return;
    }
    const value = this.data.bitLong() >>> 0;
    const flags = this.data.byte();
    if (flags & 1) this.text();
    if (flags & 2) this.text();
    switch (value >>> 24) {
      case 0xc0:
        return void this.give(code, 256, otherwise);
      case 0xc1:
        return void this.give(code, 0, otherwise);
      case 0xc2:
        this.give(code, nearestIndex(value & 0xffffff), undefined);
        return void this.give(rgb, value & 0xffffff, undefined);
      case 0xc3:
        return void this.give(code, value & 0xff, otherwise);
      default:
        return void this.give(code, index, otherwise);
    }
  }
  /** The next reference, without giving a tag. */
  ref(): number {
    const { handle } = this.handles.handle(this.own);
    return handle;
  }
  h(code: number, _ref: number): number {
    const handle = this.ref();
    if (code !== NONE && handle > 0) this.bag.addHandle(code, handle);
    return handle;
  }
  name(code: number, table: NamedTable, _ref: number, otherwise?: string): void {
    const handle = this.ref();
    const name = this.names(table, handle) ?? '';
    if (code !== NONE && name !== '' && name !== otherwise) this.bag.addText(code, name);
  }
  /** The name behind a handle. */
  nameOf(table: NamedTable, handle: number): string | undefined {
    return this.names(table, handle);
  }
  has(): boolean {
    return false;
  }
  /** The references to what belongs to an insert or a polyline. */
  readOwned(): void {
    this.children.length = 0;
    if (this.v < 2004) {
      this.firstChild = this.ref();
      this.lastChild = this.ref();
    } else {
      for (let i = 0; i < this.owned && !this.handles.overrun; i++) this.children.push(this.ref());
    }
    this.sequenceEnd = this.ref();
  }
  /** Reads an object that stands within the one at hand; answers with its tags, and where those begin that are its own. */
  inner(read: () => void): { bag: ValueBag; from: number } {
    const { bag } = this;
    const own = new ValueBag();
    own.reset(bag.type, bag.handle);
    this.bag = own;
    try {
      this.innerHead();
      const from = own.total;
      read();
      return { bag: own, from };
    } finally {
      this.bag = bag;
    }
  }
  /** A point all of whose numbers are zero. */
  static readonly ZERO = ZERO;
}

const trimmed = (text: string): string => {
  let end = text.length;
  while (end > 0 && text.charCodeAt(end - 1) === 0) end--;
  return end === text.length ? text : text.slice(0, end);
};
