import type { Block, Drawing } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Entity, Insert } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { unitFromCode } from '../../drawing/units.js';
import type { Reading, Work } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';
import { isBinaryDxf, unpackBinary } from './binary.js';
import { TextDecoding, encodingOf } from './decoding.js';
import { ENTITY_READERS, ON_PAPER, readCommon } from './read-entities.js';
import { readText } from './read-annotations.js';
import { LookReader } from './read-look.js';
import { ObjectIndex, inDrawOrder } from './read-objects.js';
import { readOpaque } from './read-opaque.js';
import { HeavyPolyline } from './read-polyline.js';
import { TableReader } from './read-tables.js';
import { handleOf, isPointer, parseRaw } from './raw-tags.js';
import { extendedOf, codes, recordCodes, restOf } from './rest.js';
import { HandleSet } from './handle-set.js';
import { TagBag, TagScanner } from './tags.js';

/** The year by which people know a version, by the value of $ACADVER. */
export const VERSION_NAMES: Record<string, string> = {
  AC1002: 'R2.5',
  AC1003: 'R2.6',
  AC1004: 'R9',
  AC1006: 'R10',
  AC1009: 'R12',
  AC1012: 'R13',
  AC1014: 'R14',
  AC1015: '2000',
  AC1018: '2004',
  AC1021: '2007',
  AC1024: '2010',
  AC1027: '2013',
  AC1032: '2018',
};

const ATTRIB = codes(1, 2, 7, 10, 20, 30, 11, 21, 31, 40, 41, 50, 51, 70, 71, 72, 74, 39);
const BLOCK = recordCodes(1, 3, 4, 8, 10, 20, 30, 67, 70);

/** Reads a DXF, ASCII or binary. Keeps all that is whole when the file is cut off, and says so. */
export function readDxf(bytes: Uint8Array, work?: Work): Reading {
  const unpacked = isBinaryDxf(bytes) ? unpackBinary(bytes) : null;
  return new DxfReader(unpacked?.bytes ?? bytes, unpacked?.truncated ?? false, work).read();
}

class DxfReader {
  private readonly scanner: TagScanner;
  private readonly bag: TagBag;
  private readonly drawing: Drawing = emptyDrawing('dxf', 'R12');
  private readonly tables = new TableReader(this.drawing);
  private readonly ledger = new Ledger('read');
  private readonly looks = new LookReader();
  private readonly parts = { drawing: this.drawing, blockName: (handle: string) => this.tables.blockName(handle) };
  private readonly noted = new Map<string, { where: string; count: number }>();
  private readonly seenHandles = new HandleSet();
  private entityCount = 0;
  /** Something lies on a sheet. */
  private onPaper = false;
  private sawEnd = false;
  private more = true;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly cutOff: boolean,
    private readonly work: Work | undefined,
  ) {
    const bom = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
    this.scanner = new TagScanner(bytes, bom);
    this.bag = new TagBag(bytes, new TextDecoding('windows-1252'));
  }

  read(): Reading {
    const { scanner } = this;
    this.more = scanner.next();
    let sections = 0;
    while (this.more) {
      const word = scanner.code === 0 ? this.value() : '';
      if (word === 'SECTION') {
        sections++;
        this.section();
      } else if (word === 'EOF') {
        this.sawEnd = true;
        break;
      } else this.more = scanner.next();
    }
    if (sections === 0) {
      throw new UnreadableFile(
        'No SECTION was found, so this is not a DXF drawing',
        'from line 1 to the end',
        'Check that the file was exported as DXF and was not cut short, then drop it again.',
      );
    }
    this.finish();
    return { drawing: this.drawing, ledger: this.ledger.rows };
  }

  private value(): string {
    return this.bag.decoding.decode(this.bytes, this.scanner.start, this.scanner.end);
  }

  private note(text: string, where: string): void {
    const known = this.noted.get(text);
    if (known) known.count++;
    else this.noted.set(text, { where, count: 1 });
  }

  private section(): void {
    this.more = this.scanner.next();
    if (!this.more || this.scanner.code !== 2) return;
    const name = this.value();
    if (name === 'HEADER') return this.header();
    this.more = this.scanner.next();
    switch (name) {
      case 'TABLES':
        return this.records((type) => this.tables.read(type, this.bag));
      case 'BLOCKS':
        return this.blocks();
      case 'ENTITIES':
        this.entitiesInto(this.drawing.entities, 'ENDSEC');
        return;
      case 'CLASSES':
        return this.records(() => this.drawing.carried.classes.push(this.bag.rawFrom(0)));
      case 'OBJECTS':
        return this.records((type) => {
          const key = handleOf(this.bag.text(5)) ?? '';
          this.drawing.carried.objects.push({ type, key, raw: this.bag.rawFrom(0) });
        });
      // It shows the drawing as it was.
      case 'THUMBNAILIMAGE':
        return void this.skipSection();
      default: {
        const from = this.scanner.tagStart;
        const to = this.skipSection();
        const raw = this.bag.decoding.decodeRaw(this.bytes, from, to);
        this.drawing.carried.sections.push({ name, raw });
      }
    }
  }

  /** Passes over a section; returns where its end mark begins. */
  private skipSection(): number {
    while (this.more) {
      if (this.scanner.code === 0 && this.value() === 'ENDSEC') break;
      this.more = this.scanner.next();
    }
    const end = this.more ? this.scanner.tagStart : this.bytes.length;
    if (this.more) this.more = this.scanner.next();
    return end;
  }

  private header(): void {
    const { header } = this.drawing;
    let current: [number, string][] | null = null;
    this.more = this.scanner.next();
    while (this.more && this.scanner.code !== 0) {
      if (this.scanner.code === 9) {
        current = [];
        header.set(this.value(), current);
      } else current?.push([this.scanner.code, this.value()]);
      this.more = this.scanner.next();
    }
    const first = (name: string): string | undefined => header.get(name)?.[0]?.[1];
    const version = first('$ACADVER') ?? 'AC1009';
    this.drawing.version = VERSION_NAMES[version] ?? version;
    const encoding = version >= 'AC1021' ? 'utf-8' : encodingOf(first('$DWGCODEPAGE') ?? 'ANSI_1252');
    if (encoding !== this.bag.decoding.encoding) this.bag.decoding = new TextDecoding(encoding);
    const unit = unitFromCode(Number(first('$INSUNITS') ?? '0'));
    this.drawing.unit = unit && { unit, factor: 1 };
    if (this.more && this.value() === 'ENDSEC') this.more = this.scanner.next();
  }

  /** Whether a mark shows that the section at hand was left without its end. */
  private strays(type: string): boolean {
    if (type !== 'SECTION' && type !== 'EOF') return false;
    this.note(`a section without its end before ${type}`, `line ${this.scanner.line}`);
    return true;
  }

  /** Calls back for each record of a section, the bag loaded with it. */
  private records(each: (type: string) => void): void {
    while (this.more) {
      const type = this.value();
      if (type === 'ENDSEC') {
        this.more = this.scanner.next();
        return;
      }
      if (this.strays(type)) return;
      this.more = this.bag.load(this.scanner);
      each(type);
    }
  }

  private blocks(): void {
    while (this.more) {
      const type = this.value();
      if (type === 'ENDSEC') {
        this.more = this.scanner.next();
        return;
      }
      if (this.strays(type)) return;
      const b = this.bag;
      this.more = b.load(this.scanner);
      if (type !== 'BLOCK') continue;
      const name = b.text(2);
      const flags = b.integer(70);
      const reference = (flags & 4) !== 0 ? b.text(1) : '';
      const beginKey = handleOf(b.text(5));
      const beginRest = (restOf(b, BLOCK) ?? '') + (extendedOf(b) ?? '');
      const description = b.text(4);
      const layer = b.text(8, '0');
      const entities: Entity[] = [];
      const block: Block = {
        name,
        base: b.point(10),
        entities,
        ...(/^[*$](paper|model)_space/i.test(name) && { sheet: true }),
        ...(reference && { reference }),
        ...(description && { description }),
        ...(layer !== '0' && { layer }),
        ...(beginKey && { beginKey }),
        ...(beginRest && { beginRest }),
        ...this.tables.blockRecords.get(name.toLowerCase()),
      };
      this.drawing.blocks.set(name.toLowerCase(), block);
      const endKey = this.entitiesInto(entities, 'ENDBLK');
      if (endKey) block.endKey = endKey;
    }
  }

  /** Reads entities up to the end mark; returns the handle of a block's end where it has one. */
  private entitiesInto(target: Entity[], end: 'ENDSEC' | 'ENDBLK'): string | undefined {
    const { bag, scanner } = this;
    while (this.more) {
      const type = this.value();
      if (type === end || type === 'ENDSEC') {
        if (type !== end) this.note('a block without its end', `line ${scanner.line}`);
        else if (end === 'ENDBLK') {
          this.more = bag.load(scanner);
          return handleOf(bag.text(5)) ?? undefined;
        } else this.more = scanner.next();
        return undefined;
      }
      if (this.strays(type) || type === 'BLOCK') return undefined;
      if (++this.entityCount % 4096 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(scanner.at / this.bytes.length);
      }
      this.more = bag.load(scanner);
      const entity = this.entity(type);
      if (!entity) continue;
      if (entity.sheet !== undefined) this.onPaper = true;
      target.push(entity);
    }
    return undefined;
  }

  private entity(type: string): Entity | null {
    const { bag } = this;
    const from = bag.from;
    const line = bag.line;
    const id = this.drawing.nextId++;
    if (type === 'SEQEND') return null;
    const reader = ENTITY_READERS[type];
    if (!reader) {
      if (type === 'POLYLINE') return this.heavyPolyline(id, from, line);
      return this.opaque(type, id, from);
    }
    const common = readCommon(bag, this.looks, id, reader.filled === true, reader.known);
    this.meetHandle(line);
    const entity = reader.read(bag, common);
    if (!entity) return this.opaque(type, id, from);
    if (entity.kind === 'insert') {
      if (bag.integer(66) === 1) this.attributes(entity);
      return this.wholeInsert(entity, line);
    }
    return entity;
  }

  /** An array of an insert's copies beyond what fits anywhere is named; the walk bounds what is drawn of it. */
  private wholeInsert(insert: Insert, line: number): Insert {
    if (insert.columns * insert.rows > 1_000_000) this.note('an insert in more than a million copies', `line ${line}`);
    return insert;
  }

  /** A handle that came before is no longer one: the second entity gets its own on writing. */
  private meetHandle(line: number): void {
    const { bag } = this;
    const i = bag.find(5);
    if (i >= 0 && !this.seenHandles.add(this.bytes, bag.starts[i], bag.ends[i]))
      this.note('handles that stand twice', `first at line ${line}`);
  }

  private opaque(type: string, id: number, from: number): Entity {
    const { bag } = this;
    const common = readCommon(bag, this.looks, id, false);
    const raw = bag.decoding.decodeRaw(this.bytes, from, bag.to);
    const made = readOpaque(type, bag, common, raw, this.parts);
    if (!made.picture && !made.drawn) {
      this.ledger.add({
        carryOver: /VIEWPORT|UNDERLAY|OLE/.test(type) ? 'links' : 'curves',
        action: 'kept',
        reason: `${type} is carried unread: not drawn, and written back only to DXF`,
        id: common.id,
      });
    }
    return made;
  }

  /** The attributes that follow an insert, up to SEQEND (which some writers leave out). */
  private attributes(insert: Insert): void {
    while (this.more) {
      const type = this.value();
      if (type !== 'ATTRIB' && type !== 'SEQEND') return;
      this.more = this.bag.load(this.scanner);
      if (type === 'SEQEND') return;
      const common = readCommon(this.bag, this.looks, this.drawing.nextId++, false, ATTRIB);
      insert.attributes.push(readText(this.bag, common, true));
    }
  }

  /** POLYLINE with its VERTEX records. */
  private heavyPolyline(id: number, from: number, line: number): Entity {
    const { bag, scanner } = this;
    const made = new HeavyPolyline(bag, (known) => readCommon(bag, this.looks, id, false, known));
    let ended = false;
    while (this.more) {
      const type = this.value();
      if (type !== 'VERTEX' && type !== 'SEQEND') break;
      this.more = bag.load(scanner);
      if (type === 'SEQEND') {
        ended = true;
        break;
      }
      made.vertex(bag);
    }
    if (!ended) this.note('a POLYLINE without its SEQEND', `line ${line}`);
    if (made.frames > 0) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'changed',
        reason: 'fitted polylines are carried by the points of their curve, without the frame behind it',
        id,
      });
    }
    if (made.lostIndices > 0) this.note('faces of a mesh that name corners it does not have', `line ${line}`);
    void from;
    return made.build();
  }

  private finish(): void {
    const { scanner, bag, drawing } = this;
    if (!this.sawEnd || this.cutOff) {
      const where = `line ${scanner.line}`;
      this.note(
        scanner.truncated ? 'the file ends in the middle of a value' : 'the file ends without its EOF mark',
        where,
      );
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: 'the file was cut off: what follows its last whole entity is missing',
      });
    }
    if (scanner.badCodes > 0) {
      this.noted.set('lines that should hold a group code and do not', {
        where: `first at line ${scanner.firstBadLine}`,
        count: scanner.badCodes,
      });
    }
    if (bag.badNumbers > 0) {
      this.noted.set('values that should be numbers and are not; read as 0, or with their decimal comma', {
        where: `first near line ${bag.firstBadNumberLine}`,
        count: bag.badNumbers,
      });
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: 'numbers that could not be read were taken as 0',
        count: bag.badNumbers,
      });
    }
    for (const [text, { where, count }] of this.noted) drawing.notes.push({ text, where, count, severity: 'warning' });
    this.addUnlistedLayers();
    this.findPictures();
    this.settleSheets();
    this.nameFrozenLayers();
    this.dropDangling();
  }

  /** Images get the path that their definition states. */
  private findPictures(): void {
    if (!this.drawing.carried.objects.some((o) => o.type === 'IMAGEDEF')) return;
    const index = new ObjectIndex(this.drawing);
    const each = (e: Entity): void => {
      if (e.kind !== 'image' || e.wipeout) return;
      const handle = /^340\n(.*)$/m.exec(e.rest ?? '')?.[1];
      const file = index.pictureFile(handleOf(handle) ?? '');
      if (file) e.file = file;
    };
    this.drawing.entities.forEach(each);
    for (const b of this.drawing.blocks.values()) b.entities.forEach(each);
  }

  /** Brings what lies on the other sheets' blocks among the entities, puts spaces in draw order, names the sheets. */
  private settleSheets(): void {
    const { drawing } = this;
    const index = new ObjectIndex(drawing);
    const blockNames = new Map([...drawing.blocks.values()].map((b) => [b.key ?? '', b.name]));
    drawing.sheets = index.sheets((handle) => blockNames.get(handle));
    const sorted = index.sortTables();
    const ordered = (list: Entity[], space: string | undefined): Entity[] => {
      const order = space === undefined ? undefined : sorted.get(space);
      return order && order.size > 0 ? inDrawOrder(list, order) : list;
    };
    for (const b of drawing.blocks.values()) b.entities = ordered(b.entities, b.key);
    const paper = this.onPaper ? drawing.entities.filter((e) => e.sheet !== undefined) : [];
    if (paper.length > 0 && !drawing.sheets.some((s) => s.block.toLowerCase() === ON_PAPER)) {
      drawing.sheets.unshift({ name: 'Layout1', block: '*Paper_Space', order: 1, unitsPerMm: 1 });
    }
    if (drawing.sheets.length === 0 && sorted.size === 0) return;
    const model = paper.length > 0 ? drawing.entities.filter((e) => e.sheet === undefined) : drawing.entities;
    const all = [...ordered(model, drawing.blocks.get('*model_space')?.key)];
    for (const sheet of drawing.sheets) {
      const block = drawing.blocks.get(sheet.block.toLowerCase());
      const own = sheet.block.toLowerCase() === ON_PAPER ? paper : [];
      const list = ordered([...own, ...(block?.entities ?? [])], block?.key);
      for (const e of list) {
        e.sheet = sheet.name;
        all.push(e);
      }
      if (block) block.entities = [];
    }
    drawing.entities = all;
  }

  private nameFrozenLayers(): void {
    const names = new Map(this.drawing.layers.map((l) => [l.key ?? '', l.name]));
    for (const e of this.drawing.entities) {
      if (e.kind === 'viewport' && this.drawing.version !== 'R12')
        e.frozen = e.frozen.flatMap((h) => names.get(handleOf(h) ?? '') ?? []);
    }
  }

  /** Counts the owners and pointers of objects that lead nowhere; they are taken out on writing. */
  private dropDangling(): void {
    const { objects } = this.drawing.carried;
    const known = new Set(objects.map((o) => o.key));
    let lost = 0;
    for (const o of objects) {
      if (o.type !== 'DICTIONARY') continue;
      for (const [code, value] of parseRaw(o.raw)) {
        if (isPointer(code) && (code === 350 || code === 360) && !known.has(handleOf(value) ?? '')) lost++;
      }
    }
    if (lost > 0)
      this.drawing.notes.push({ text: 'entries of dictionaries that lead nowhere', count: lost, severity: 'note' });
  }

  /** Layers that entities name and the table does not list exist all the same. */
  private addUnlistedLayers(): void {
    const known = new Set(this.drawing.layers.map((l) => l.name.toLowerCase()));
    // Spellings that were met need no second look.
    const met = new Set<string>();
    const meet = (e: Entity): void => {
      if (met.has(e.layer)) return;
      met.add(e.layer);
      const key = e.layer.toLowerCase();
      if (known.has(key)) return;
      known.add(key);
      this.drawing.layers.push(newLayer(e.layer));
    };
    for (const e of this.drawing.entities) meet(e);
    for (const b of this.drawing.blocks.values()) b.entities.forEach(meet);
  }
}
