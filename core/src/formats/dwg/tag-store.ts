import { UnwritableNumber } from '../unwritable.js';
import { valueType } from '../drafting/value-types.js';
import { handleNumber } from '../drafting/handles.js';
import { degreesOf, radiansOf } from '../drafting/numbers.js';
import type { Entity } from '../../drawing/entity.js';
import type { WholeEntities } from '../drafting/tag-sink.js';
import { TagSink } from '../drafting/tag-sink.js';

const IS_TEXT = new Uint8Array(1100);
for (let c = 0; c < 1100; c++) IS_TEXT[c] = valueType(c) === 'text' || valueType(c) === 'bytes' ? 1 : 0;
const isText = (code: number): boolean => code < 0 || code >= 1100 || IS_TEXT[code] === 1;
/** References and handles stand as numbers, in whatever form they came. */
const isHandle = (code: number): boolean => code === 5 || (code >= 320 && code < 370) || (code >= 390 && code < 400);
/** Values that come again and again: kinds, marks, layers, linetypes. */
const isRepeated = (code: number): boolean => code === 0 || code === 100 || code === 8 || code === 6 || code === 7;

/**
 * Takes the tags that a drafting writer makes and keeps them in columns, so that records can be looked into before they
 * are put into bits. Text stands in a list of its own, numbers in place.
 */
export class TagStore extends TagSink {
  codes = new Int16Array(1 << 14);
  values = new Float64Array(1 << 14);
  /** Set where a value is an angle in radians. */
  private turned = new Uint8Array(1 << 14);
  texts: string[] = [];
  count = 0;
  /** Where each record begins: its tag with code 0; below zero, the number of an entity that is kept as it is, minus 1. */
  readonly starts: number[] = [];
  private readonly repeated = new Map<string, number>();
  override readonly whole: WholeRecords | null;

  /** `whole`: frequent kinds of entities are kept as they are instead of as tags. */
  constructor(whole = false) {
    super();
    this.whole = whole ? new WholeRecords(this) : null;
  }

  private add(code: number, value: number): void {
    const i = this.count;
    if (i === this.codes.length) {
      const codes = new Int16Array(2 * i);
      codes.set(this.codes);
      this.codes = codes;
      const values = new Float64Array(2 * i);
      values.set(this.values);
      this.values = values;
      const turned = new Uint8Array(2 * i);
      turned.set(this.turned);
      this.turned = turned;
    }
    if (code === 0) this.starts.push(i);
    this.codes[i] = code;
    this.values[i] = value;
    this.count = i + 1;
  }
  string(code: number, value: string): void {
    if (isHandle(code)) this.handle(code, value);
    else if (isText(code)) this.add(code, isRepeated(code) ? this.once(value) : this.texts.push(value) - 1);
    else {
      const n = Number(value);
      this.add(code, Number.isFinite(n) ? n : 0);
    }
  }
  private handle(code: number, value: string): void {
    this.add(code, Math.max(0, handleNumber(value.trim())));
  }
  /** An entity that is kept as it is takes the place of a record; it has no tags. */
  addWhole(n: number): void {
    this.starts.push(-1 - n);
  }
  private once(value: string): number {
    let at = this.repeated.get(value);
    if (at === undefined) this.repeated.set(value, (at = this.texts.push(value) - 1));
    return at;
  }
  integer(code: number, value: number): void {
    if (isText(code)) this.string(code, String(Math.round(value)));
    else this.add(code, Math.round(value));
  }
  number(code: number, value: number): void {
    if (!Number.isFinite(value)) throw new UnwritableNumber(value);
    if (isText(code)) this.string(code, String(value));
    else this.add(code, value);
  }
  override angle(code: number, radians: number): void {
    this.add(code, radians);
    this.turned[this.count - 1] = 1;
  }
  raw(text: string): void {
    const lines = text.replace(/\r\n?/g, '\n').split('\n');
    for (let i = 0; i + 1 < lines.length; i += 2) {
      const code = Number(lines[i]);
      if (Number.isInteger(code)) this.string(code, isText(code) ? lines[i + 1]! : lines[i + 1]!.trim());
    }
  }
  /** Nothing is kept as bytes. */
  pieces(): Uint8Array[] {
    return [];
  }

  /** The record with a number. */
  record(n: number): TagRecord {
    return new TagRecord(this, this.starts[n]!, this.endOf(n));
  }
  /** Where the tags of the record with a number end. */
  endOf(n: number): number {
    const { starts } = this;
    let next = n + 1;
    while (starts[next]! < 0) next++;
    return starts[next] ?? this.count;
  }
  /** The handle of the record with a number. */
  handleOf(n: number): number {
    const start = this.starts[n]!;
    if (start < 0) return this.whole!.handles[-1 - start]!;
    const at = start + 1;
    return this.codes[at] === 5 ? this.handleAt(at) : this.record(n).handle;
  }
  textAt(i: number): string {
    if (isHandle(this.codes[i]!)) return this.values[i]!.toString(16).toUpperCase();
    return isText(this.codes[i]!) ? this.texts[this.values[i]!]! : String(this.numberAt(i));
  }
  numberAt(i: number): number {
    if (isText(this.codes[i]!) && !isHandle(this.codes[i]!)) return Number(this.texts[this.values[i]!]) || 0;
    return this.turned[i] ? degreesOf(this.values[i]!) : this.values[i]!;
  }
  /** An angle in radians. */
  radiansAt(i: number): number {
    return this.turned[i] ? this.values[i]! : radiansOf(this.numberAt(i));
  }
  handleAt(i: number): number {
    if (isHandle(this.codes[i]!)) return this.values[i]!;
    const h = handleNumber(this.textAt(i).trim());
    return h > 0 ? h : 0;
  }
}

/** One record of a store: its tags from `from` on, the first of them its kind. */
export class TagRecord {
  constructor(
    readonly store: TagStore,
    readonly from: number,
    readonly to: number,
  ) {}
  get type(): string {
    return this.store.textAt(this.from);
  }
  /** Position of the first tag with the code in `[from, to)`, or -1. */
  find(code: number, from = this.from + 1, to = this.to): number {
    const { codes } = this.store;
    for (let i = from; i < to; i++) if (codes[i] === code) return i;
    return -1;
  }
  text(code: number, otherwise = ''): string {
    const i = this.find(code);
    return i < 0 ? otherwise : this.store.textAt(i);
  }
  number(code: number, otherwise = 0): number {
    const i = this.find(code);
    return i < 0 ? otherwise : this.store.numberAt(i);
  }
  /** The record's own handle. */
  get handle(): number {
    // Nearly always the second tag.
    if (this.store.codes[this.from + 1] === 5) return this.store.handleAt(this.from + 1);
    const i = this.find(this.type === 'DIMSTYLE' ? 105 : 5);
    return i < 0 ? 0 : this.store.handleAt(i);
  }
  /** The owner: the first 330 outside braces. */
  get owner(): number {
    const { store } = this;
    let inside = false;
    for (let i = this.from + 1; i < this.to; i++) {
      const code = store.codes[i];
      if (code === 102) inside = store.textAt(i).startsWith('{');
      else if (code === 330 && !inside) return store.handleAt(i);
      else if (code === 100) return 0;
    }
    return 0;
  }
}

/**
 * Takes entities as they are, each with its handle, the number of its look, and the names it goes by. Looks are records
 * of tags of their own, one for all entities that share them.
 */
export class WholeRecords implements WholeEntities {
  readonly entities: Entity[] = [];
  readonly types: string[] = [];
  readonly handles: number[] = [];
  readonly looksOf: number[] = [];
  /** Whether they lie on a sheet. */
  readonly papers: boolean[] = [];
  /** Names of blocks and styles, and words; sparse. */
  readonly names: string[] = [];
  readonly said: string[] = [];
  readonly looks = new TagStore();

  constructor(private readonly store: TagStore) {}

  takes(e: Entity): boolean {
    switch (e.kind) {
      case 'line':
      case 'arc':
      case 'point':
        return true;
      case 'circle':
        return e.look.fill.kind === 'none';
      case 'polyline':
        return e.dim === 2 && e.look.fill.kind === 'none';
      case 'text':
        return e.tag === undefined && !e.definition;
      case 'insert':
        return e.attributes.length === 0 && e.columns * e.rows <= 1;
    }
    return false;
  }
  put(type: string, e: Entity, handle: number, look: number, paper: boolean, name: string, said: string): void {
    const n = this.entities.push(e) - 1;
    this.types.push(type);
    this.handles.push(handle);
    this.looksOf.push(look);
    this.papers.push(paper);
    if (name !== '') this.names[n] = name;
    if (said !== '') this.said[n] = said;
    this.store.addWhole(n);
  }
}
