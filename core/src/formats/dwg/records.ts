import type { RecordSource } from '../drafting/record-reader.js';
import { HandleSet } from '../drafting/handle-set.js';
import type { BlockWords } from './block-words.js';
import type { DwgClass } from './class-list.js';
import type { NamedTable } from './fields.js';
import { CONTROLS, NAMED, VIEWPORT_CONTROL, VIEWPORT_ENTRY } from './kinds.js';
import type { ObjectMap } from './object-map.js';
import type { ObjectReader } from './object-reader.js';
import { IN_MODEL, ON_SHEET } from './object-reader.js';
import { giveSealed } from './sealed.js';
import type { ValueBag } from './value-bag.js';

/** A block with what belongs to it: by a list from version 2004 on, before by the first and the last of a chain. */
interface BlockPlace {
  handle: number;
  name: string;
  words: BlockWords;
  begin: number;
  end: number;
  first: number;
  last: number;
  children: readonly number[];
}

const ENTRY_TYPES = new Set<number>([...CONTROLS.flatMap((c) => [c.type, c.entry]), VIEWPORT_CONTROL, VIEWPORT_ENTRY]);
/** Entities that belong to another entity or to a block's frame. */
const PART = /^(VERTEX|ATTRIB|SEQEND|BLOCK|ENDBLK)$/;

/** The objects of a DWG as the records of a DXF, one section after the other. */
export class DwgRecords implements RecordSource {
  readonly bag: ValueBag;
  more = false;
  /** Objects that are referred to and that the file does not have; entities that no space claimed. */
  readonly missing: number[] = [];
  readonly strays: number[] = [];
  private readonly names = new Map<NamedTable, Map<number, string>>();
  private readonly entries = new Map<string, { control: number; list: number[] }>();
  private readonly blocks: BlockPlace[] = [];
  private readonly met = new HandleSet();
  private metCount = 0;
  private walk: Iterator<void> = [][Symbol.iterator]();
  /** The record at hand. */
  private kind = '';
  private at = 0;
  private sheet = false;
  private fill: (() => void) | null = null;
  private readLast = 0;
  /** The number of the last viewport of the sheet at hand. */
  private viewports = 0;
  private nextInChain = 0;

  constructor(
    private readonly objects: ObjectReader,
    /** Looks ahead, while the bag still holds what was loaded. */
    private readonly probe: ObjectReader,
    private readonly map: ObjectMap,
    private readonly classes: readonly DwgClass[],
    private readonly targets: ReadonlyMap<string, number>,
  ) {
    this.bag = objects.f.bag;
    for (const table of Object.values(NAMED)) this.names.set(table, new Map());
    this.gather();
  }

  nameOf(table: NamedTable, handle: number): string | undefined {
    if (table !== 'mlinestyle') return this.names.get(table)?.get(handle);
    return this.probe.open(handle) && this.probe.read() ? this.probe.f.bag.text(2) : undefined;
  }

  /** Begins a section. */
  begin(section: 'CLASSES' | 'TABLES' | 'BLOCKS' | 'ENTITIES' | 'OBJECTS'): void {
    this.walk = {
      CLASSES: () => this.classSection(),
      TABLES: () => this.tableSection(),
      BLOCKS: () => this.blockSection(),
      ENTITIES: () => this.entitySection(),
      OBJECTS: () => this.objectSection(),
    }[section]();
    this.pass();
  }

  type(): string {
    return this.kind;
  }
  load(): void {
    if (this.fill) this.fill();
    else this.take(this.at, this.sheet);
    this.pass();
  }
  pass(): void {
    this.fill = null;
    this.more = !this.walk.next().done;
    if (!this.more) this.kind = '';
  }
  where(): string {
    return this.at > 0 ? `object ${this.at.toString(16).toUpperCase()}` : this.kind;
  }
  done(): number {
    return Math.min(1, this.metCount / Math.max(1, this.map.handles.length));
  }

  /** A record that is made here rather than read. */
  private made(kind: string, fill: () => void): void {
    this.kind = kind;
    this.at = 0;
    this.fill = () => {
      this.bag.reset(kind, 0);
      fill();
    };
  }

  /** Reads an object into the bag. */
  private take(handle: number, sheet: boolean): void {
    const { objects, bag } = this;
    if (!objects.open(handle)) {
      bag.reset('', handle);
      return;
    }
    if (!objects.checksumRight()) objects.damaged.push(handle);
    if (!objects.read(sheet)) objects.cutShort.push(handle);
    if (objects.f.seal) giveSealed(bag, `${objects.letters} ${objects.handleBits}`, objects.sealed());
    if (sheet && bag.type === 'VIEWPORT') this.numberViewport();
  }

  /**
   * The number of a viewport, which a DWG says by order alone: the sheet itself, seen at its own size, is 1, windows
   * count from 2.
   */
  private numberViewport(): void {
    const { bag } = this;
    const near = (a: number, b: number): boolean => Math.abs(a - b) < 1e-6;
    // Before version 2000 the view stands in extended data: twist, height, centre.
    const [, height = bag.number(45), x = bag.number(12), y = bag.number(22)] =
      this.objects.f.v < 2000 ? bag.numbers(1040) : [];
    const itself =
      this.viewports === 0 && near(bag.number(10), x) && near(bag.number(20), y) && near(bag.number(41), height);
    this.viewports = itself ? 1 : Math.max(2, this.viewports + 1);
    bag.change(69, this.viewports);
  }

  /** Notes that an object was come to; `false` when it was before, or is not there. */
  private meet(handle: number): boolean {
    if (this.map.offsetOf(handle) < 0) {
      if (handle > 0) this.missing.push(handle);
      return false;
    }
    if (!this.met.addNumber(handle)) return false;
    this.metCount++;
    return true;
  }

  /** Names of tables and the lists of blocks, before anything is read that refers to them. */
  private gather(): void {
    const { objects, map } = this;
    const controls = new Map<number, number>();
    const loose = new Map<number, number[]>();
    for (const handle of map.handles) {
      if (!objects.open(handle)) continue;
      const { type } = objects;
      if (!ENTRY_TYPES.has(type)) continue;
      const control = CONTROLS.find((c) => c.type === type);
      if (control) controls.set(type, handle);
      else {
        const list = loose.get(type);
        if (list) list.push(handle);
        else loose.set(type, [handle]);
      }
    }
    for (const { type, entry, table } of CONTROLS) {
      const control = controls.get(type) ?? 0;
      const found = new Set(loose.get(entry) ?? []);
      const listed = control > 0 ? objects.entriesOf(control).filter((h) => found.delete(h)) : [];
      // Records that their control does not list exist all the same.
      this.entries.set(table, { control, list: [...listed, ...found] });
    }
    for (const [table, named] of Object.entries(NAMED)) {
      const names = this.names.get(named)!;
      for (const handle of this.entries.get(table)!.list) {
        this.take(handle, false);
        if (table === 'BLOCK_RECORD') this.block(handle);
        else names.set(handle, this.bag.text(2));
      }
    }
    // What was read here is read again in its turn.
    objects.damaged.length = 0;
    objects.cutShort.length = 0;
    const blockNames = this.names.get('block')!;
    const taken = new Set<string>();
    for (const b of this.blocks) {
      if (objects.open(b.begin) && objects.kind?.record === 'BLOCK' && objects.read()) {
        // Numbers of anonymous blocks may stand only at their beginning.
        const inner = this.bag.text(2);
        if (inner.length > b.name.length && inner.toLowerCase().startsWith(b.name.toLowerCase())) b.name = inner;
      }
      const stem = b.name;
      for (let n = 0; taken.has(b.name.toLowerCase()); n++) b.name = `${stem}${n}`;
      taken.add(b.name.toLowerCase());
      blockNames.set(b.handle, b.name);
    }
  }

  private block(handle: number): void {
    const { f } = this.objects;
    this.blocks.push({
      handle,
      name: this.bag.text(2),
      words: f.block,
      begin: f.blockBegin,
      end: f.sequenceEnd,
      first: f.firstChild,
      last: f.lastChild,
      children: [...f.children],
    });
  }

  private *classSection(): Generator<void> {
    for (const c of this.classes) {
      this.made('CLASS', () => {
        const { bag } = this;
        bag.addText(1, c.record);
        bag.addText(2, c.cpp);
        bag.addText(3, c.application);
        bag.addNumber(90, c.flags);
        if (this.objects.f.v >= 2004) bag.addNumber(91, c.count);
        bag.addNumber(280, c.wasProxy ? 1 : 0);
        bag.addNumber(281, c.entity ? 1 : 0);
      });
      yield;
    }
    this.end('ENDSEC');
    yield;
  }

  private end(kind: string): void {
    this.made(kind, () => undefined);
  }
  private object(kind: string, handle: number, sheet = false): void {
    this.kind = kind;
    this.at = handle;
    this.sheet = sheet;
  }

  private *tableSection(): Generator<void> {
    for (const [table, { control, list }] of this.entries) {
      this.made('TABLE', () => {
        this.bag.addText(2, table);
        if (control > 0) this.bag.addHandle(5, control);
      });
      yield;
      for (const handle of list) {
        if (!this.meet(handle)) continue;
        if (!this.probe.open(handle)) {
          this.missing.push(handle);
          continue;
        }
        this.object(table, handle);
        if (table === 'BLOCK_RECORD') this.fill = () => this.blockRecord(handle);
        yield;
      }
      this.end('ENDTAB');
      yield;
    }
    this.end('ENDSEC');
    yield;
  }

  /** The record of a block, under the name that it goes by. */
  private blockRecord(handle: number): void {
    this.take(handle, false);
    this.bag.changeText(2, this.names.get('block')!.get(handle) ?? '');
  }

  private *blockSection(): Generator<void> {
    const [model, paper] = this.spaces();
    for (const b of this.blocks) {
      this.meet(b.begin);
      this.made('BLOCK', () => this.blockBegin(b));
      yield;
      const sheet = /^\*paper_space/i.test(b.name);
      if (b !== model && b !== paper) yield* this.entitiesOf(b, sheet);
      if (this.meet(b.end)) this.object('ENDBLK', b.end);
      else this.end('ENDBLK');
      yield;
    }
    this.end('ENDSEC');
    yield;
  }

  private blockBegin(b: BlockPlace): void {
    const { bag, objects } = this;
    if (objects.open(b.begin) && objects.kind?.record === 'BLOCK') objects.read();
    else bag.addText(2, '');
    bag.changeText(2, b.name);
    const { words } = b;
    bag.addNumber(70, words.flags);
    words.base.forEach((v, k) => bag.addNumber(10 + 10 * k, v));
    bag.addText(3, b.name);
    bag.addText(1, words.path);
    if (words.description !== '') bag.addText(4, words.description);
  }

  private spaces(): [BlockPlace | undefined, BlockPlace | undefined] {
    const { blocks, targets } = this;
    const by = (target: string, name: RegExp): BlockPlace | undefined =>
      blocks.find((b) => b.handle === targets.get(target) && name.test(b.name)) ??
      blocks.find((b) => name.test(b.name));
    return [by('*MODEL_SPACE', /^[*$]model_space$/i), by('*PAPER_SPACE', /^[*$]paper_space$/i)];
  }

  private *entitySection(): Generator<void> {
    const [model, paper] = this.spaces();
    if (model) yield* this.entitiesOf(model, false);
    if (paper) yield* this.entitiesOf(paper, true);
    yield* this.unclaimed();
    this.end('ENDSEC');
    yield;
  }

  /** Entities of a space with what belongs to them. */
  private *entitiesOf(b: BlockPlace, sheet: boolean): Generator<void> {
    this.viewports = 0;
    if (this.objects.f.v >= 2004) {
      for (const h of b.children) if (this.meet(h)) yield* this.entity(h, sheet);
      return;
    }
    yield* this.chain(b.first, b.last, (h) => this.entity(h, sheet));
  }

  /** A chain of objects: each names the next, or has the next handle. It ends with the last, or where it breaks. */
  private *chain(first: number, last: number, each: (handle: number) => Generator<void>): Generator<void> {
    let h = first;
    while (h > 0 && this.meet(h)) {
      yield* each(h);
      if (h === last) break;
      h = this.readLast === h ? this.nextInChain : this.probe.nextOf(h);
    }
  }

  private *entity(handle: number, sheet: boolean): Generator<void> {
    const { objects } = this;
    if (!objects.open(handle)) return void this.missing.push(handle);
    const { kind } = objects;
    if (kind && !kind.entity) return;
    this.object(kind?.record ?? `TYPE_${objects.type}`, handle, sheet);
    yield;
    this.noteNext();
    const { f } = objects;
    const parent = kind?.parent === true;
    const attributes = kind?.record === 'INSERT' && this.bag.has(66);
    if (!parent && !attributes) return;
    const part = parent ? 'VERTEX' : 'ATTRIB';
    const [first, last, end, children] = [f.firstChild, f.lastChild, f.sequenceEnd, [...f.children]];
    if (f.v >= 2004) {
      for (const c of children) if (this.meet(c)) yield* this.part(c, part, sheet);
    } else yield* this.chain(first, last, (h) => this.part(h, part, sheet));
    if (this.meet(end)) this.object('SEQEND', end, sheet);
    else this.end('SEQEND');
    yield;
  }

  private *part(handle: number, kind: string, sheet: boolean): Generator<void> {
    if (this.objects.kindAt(handle)?.record !== kind) return;
    this.object(kind, handle, sheet);
    yield;
    this.noteNext();
  }

  /** Remembers where the entity that was just read leads. */
  private noteNext(): void {
    const { objects } = this;
    this.readLast = objects.f.own;
    this.nextInChain = objects.linked ? objects.next : objects.f.own + 1;
  }

  /** Entities that no space listed, in the space that they name. */
  private *unclaimed(): Generator<void> {
    const { probe } = this;
    for (const h of this.map.handles) {
      if (this.met.has(h) || !probe.open(h) || !probe.kind?.entity || PART.test(probe.kind.record)) continue;
      probe.read();
      const { mode } = probe;
      if ((mode !== IN_MODEL && mode !== ON_SHEET) || !this.meet(h)) continue;
      this.strays.push(h);
      yield* this.entity(h, mode === ON_SHEET);
    }
  }

  private *objectSection(): Generator<void> {
    const { probe } = this;
    const root = this.targets.get('ROOT') ?? 0;
    if (root > 0 && probe.kindAt(root)?.record === 'DICTIONARY' && this.meet(root)) {
      this.object('DICTIONARY', root);
      yield;
    }
    for (const h of this.map.handles) {
      if (this.met.has(h) || !probe.open(h)) continue;
      if (ENTRY_TYPES.has(probe.type) || probe.kind?.entity || !this.meet(h)) continue;
      this.object(probe.kind?.record ?? `TYPE_${probe.type}`, h);
      yield;
    }
    this.end('ENDSEC');
    yield;
  }
}
