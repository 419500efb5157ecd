import { because, reasonWords } from '../../drawing/reasons.js';
import type { Block, Drawing } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Draft, Entity, Image, Insert, Viewport } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { unitFromCode } from '../../drawing/units.js';
import type { Reading, Work } from '../format.js';
import { checkStop } from '../format.js';
import type { Bag } from './bag.js';
import { HandleSet } from './handle-set.js';
import { MADE_SHEET, ON_PAPER, readCommon } from './read-common.js';
import { ENTITY_READERS } from './read-entities.js';
import { readText } from './read-annotations.js';
import { LookReader } from './read-look.js';
import { ObjectIndex, inDrawOrder } from './read-objects.js';
import { readOpaque } from './read-opaque.js';
import { HeavyPolyline } from './read-polyline.js';
import { TableReader } from './read-tables.js';
import { handleOf, isPointer, parseRaw } from './raw-tags.js';
import { codes, extendedOf, onceOf, recordCodes, restOf } from './rest.js';
import { wordTable } from '../../drawing/word-table.js';

/** The year by which people know a version, by the value of $ACADVER. */
export const VERSION_NAMES = wordTable<string>({
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
});

const ATTRIB = onceOf(codes(1, 2, 7, 10, 20, 30, 11, 21, 31, 40, 41, 50, 51, 70, 71, 72, 74, 39));
const BLOCK = recordCodes(1, 3, 4, 8, 10, 20, 30, 67, 70);

/** The records of a drafting file, one after the other. The one at hand is known by its kind before it is loaded. */
export interface RecordSource {
  /** Takes the tags of the record that was loaded last. */
  readonly bag: Bag;
  /** Whether a record is at hand. */
  readonly more: boolean;
  /** The kind of the record at hand, such as LINE or ENDSEC. */
  type(): string;
  /** Takes the record at hand into the bag; the next one comes to hand. */
  load(): void;
  /** The next record comes to hand without loading this one. */
  pass(): void;
  /** Where the record at hand is, for a person. */
  where(): string;
  /** How much has been read, 0 to 1. */
  done(): number;
}

/**
 * Makes a drawing of the records of a drafting file, whatever form they come in. Records come in the order of a DXF:
 * tables, blocks, entities, objects.
 */
export class RecordReader {
  readonly drawing: Draft<Drawing>;
  readonly tables: TableReader;
  readonly ledger = new Ledger('read');
  private readonly bag: Bag;
  private readonly looks = new LookReader();
  private readonly parts;
  private readonly noted = new Map<string, { where: string; count: number; endsHere?: true }>();
  private readonly seenHandles = new HandleSet();
  private entityCount = 0;
  /** Something lies on a sheet. */
  private onPaper = false;

  constructor(
    private readonly source: RecordSource,
    format: 'dxf' | 'dwg',
    private readonly work: Work | undefined,
  ) {
    this.drawing = emptyDrawing(format, 'R12');
    this.tables = new TableReader(this.drawing);
    this.bag = source.bag;
    this.parts = { drawing: this.drawing, blockName: (handle: string) => this.tables.blockName(handle) };
  }

  /** Remembers something odd that was met; what is said in the same words is counted. */
  note(text: string, where: string, count = 1, endsHere?: true): void {
    const known = this.noted.get(text);
    if (known) known.count += count;
    else this.noted.set(text, { where, count, ...(endsHere && { endsHere }) });
  }

  /** Takes over what the header says of the version and the unit; returns the value of $ACADVER. */
  headerRead(): string {
    const { header } = this.drawing;
    const first = (name: string): string | undefined => header.get(name)?.[0]?.[1];
    const version = first('$ACADVER') ?? 'AC1009';
    this.drawing.version = VERSION_NAMES[version] ?? version;
    const unit = unitFromCode(Number(first('$INSUNITS') ?? '0'));
    this.drawing.unit = unit && { unit, factor: 1 };
    return version;
  }

  /** Calls back for each record of a section, the bag loaded with it. */
  records(each: (type: string) => void): void {
    const { source } = this;
    while (source.more) {
      const type = source.type();
      if (type === 'ENDSEC') return source.pass();
      if (this.strays(type)) return;
      source.load();
      each(type);
    }
  }

  tableRecords(): void {
    this.records((type) => this.tables.read(type, this.bag));
  }
  classRecords(): void {
    this.records(() => this.drawing.carried.classes.push(this.bag.rawFrom(0)));
  }
  objectRecords(): void {
    this.records((type) => {
      const key = handleOf(this.bag.text(5)) ?? '';
      this.drawing.carried.objects.push({ type, key, raw: this.bag.rawFrom(0) });
    });
  }

  /** Whether a mark shows that the section at hand was left without its end. */
  private strays(type: string): boolean {
    if (type !== 'SECTION' && type !== 'EOF') return false;
    this.note(`a section without its end before ${type}`, this.source.where());
    return true;
  }

  blocks(): void {
    const { source, bag: b } = this;
    while (source.more) {
      const type = source.type();
      if (type === 'ENDSEC') return source.pass();
      if (this.strays(type)) return;
      source.load();
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
        base: this.basePoint(),
        entities,
        ...(/^[*$](paper|model)_space/i.test(name) && { sheet: true }),
        ...(reference && { reference }),
        // A reference without a path is one all the same.
        ...((flags & (reference ? 120 : 124)) !== 0 && { flags: flags & (reference ? 120 : 124) }),
        ...(description && { description }),
        ...(layer !== '0' && { layer }),
        ...(beginKey && { beginKey }),
        ...(beginRest && { beginRest }),
        ...this.tables.blockRecords.get(name.toLowerCase()),
      };
      this.drawing.blocks.set(name.toLowerCase(), block);
      const endKey = this.entitiesInto(entities, 'ENDBLK');
      if (endKey) (block as Draft<Block>).endKey = endKey;
    }
  }

  /** Tells of texts with characters that nothing can hold. */
  tellUnsound(count: number): void {
    if (count === 0) return;
    const reason = 'texts-with-unsound-characters';
    this.note(reasonWords(reason), 'in names and texts', count);
    this.ledger.add({ carryOver: 'text', action: 'changed', reason, count });
  }

  /** The base point of a block; one beyond all bounds is taken as 0, and said. */
  private basePoint(): [number, number, number] {
    const { bag } = this;
    bag.beyond = null;
    const base = bag.point(10);
    if (bag.beyond !== null) {
      const reason = 'block-base-beyond-bounds';
      this.note(reasonWords(reason), bag.where());
      this.ledger.add({ carryOver: 'origin', action: 'approximated', reason });
    }
    return base;
  }

  entities(): void {
    this.entitiesInto(this.drawing.entities, 'ENDSEC');
  }

  /** Reads entities up to the end mark; returns the handle of a block's end where it has one. */
  private entitiesInto(target: Entity[], end: 'ENDSEC' | 'ENDBLK'): string | undefined {
    const { bag, source } = this;
    while (source.more) {
      const type = source.type();
      if (type === end || type === 'ENDSEC') {
        if (type !== end) this.note('a block without its end', source.where());
        else if (end === 'ENDBLK') {
          source.load();
          return handleOf(bag.text(5)) ?? undefined;
        } else source.pass();
        return undefined;
      }
      if (this.strays(type) || type === 'BLOCK') return undefined;
      if (++this.entityCount % 4096 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(source.done());
      }
      source.load();
      bag.beyond = null;
      const entity = this.entity(type);
      if (!entity || (bag.beyond !== null && this.leavesOut(type, entity))) continue;
      if (entity.sheet !== undefined) this.onPaper = true;
      target.push(entity);
    }
    return undefined;
  }

  /** Tells of an object that is left out for a number beyond all bounds, with its place. */
  private leavesOut(type: string, entity: Entity): true {
    const { bag } = this;
    const handle = entity.key === undefined ? '' : `, handle ${entity.key}`;
    const words = `${type} with a number beyond all bounds (${bag.beyond}) left out`;
    this.note(words, `near ${bag.where()}`);
    this.ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      reason: because('beyond-bounds', {
        type,
        number: bag.beyond ?? '',
        layer: entity.layer,
        handle,
        where: bag.where(),
      }),
      id: entity.id,
    });
    return true;
  }

  private entity(type: string): Entity | null {
    const { bag } = this;
    const id = this.drawing.nextId++;
    if (type === 'SEQEND') return null;
    const reader = ENTITY_READERS[type];
    if (!reader) return type === 'POLYLINE' ? this.heavyPolyline(id) : this.opaque(type, id);
    const common = readCommon(bag, this.looks, id, reader.filled === true, reader.known);
    // A handle that came before is no longer one: the second entity gets its own on writing.
    const key = bag.find(5);
    if (key >= 0 && !this.seenHandles.addNumber(bag.handleAt(key)))
      this.note('handles that stand twice', `first at ${bag.where()}`);
    const entity = reader.read(bag, common);
    if (!entity) return this.opaque(type, id);
    if (entity.kind === 'hatch' && bag.has(94)) {
      // Degrees stand only among spline edges.
      const count = bag.numbers(94).length;
      this.ledger.add({ carryOver: 'curves', action: 'approximated', reason: 'hatch-splines-as-cubics', count, id });
    }
    if (entity.kind === 'insert') {
      // The walk bounds what is drawn of an array.
      if (entity.columns * entity.rows > 1_000_000) this.note('an insert in more than a million copies', bag.where());
      if (bag.integer(66) === 1) this.attributes(entity);
    }
    return entity;
  }

  private opaque(type: string, id: number): Entity {
    const { bag } = this;
    const common = readCommon(bag, this.looks, id, false);
    const made = readOpaque(type, bag, common, bag.rawFrom(0), this.parts);
    if (!made.picture && !made.drawn) {
      this.ledger.add({
        carryOver: /VIEWPORT|UNDERLAY|OLE/.test(type) ? 'links' : 'curves',
        action: 'kept',
        reason: because('carried-unread', { what: type }),
        id: common.id,
      });
    }
    return made;
  }

  /** The attributes that follow an insert, up to SEQEND (which some writers leave out). */
  private attributes(insert: Insert): void {
    const { source, bag } = this;
    while (source.more) {
      const type = source.type();
      if (type !== 'ATTRIB' && type !== 'SEQEND') return;
      source.load();
      if (type === 'SEQEND') return;
      const common = readCommon(bag, this.looks, this.drawing.nextId++, false, ATTRIB);
      insert.attributes.push(readText(bag, common, true));
    }
  }

  /** POLYLINE with its VERTEX records. */
  private heavyPolyline(id: number): Entity {
    const { bag, source } = this;
    const where = bag.where();
    const made = new HeavyPolyline(bag, (known) => readCommon(bag, this.looks, id, false, known));
    let ended = false;
    while (source.more) {
      const type = source.type();
      if (type !== 'VERTEX' && type !== 'SEQEND') break;
      source.load();
      if (type === 'SEQEND') {
        ended = true;
        break;
      }
      made.vertex(bag, this.looks);
    }
    if (!ended) this.note('a POLYLINE without its SEQEND', where);
    if (made.fitted) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'changed',
        reason: 'fitted-by-curve-points',
        id,
      });
    }
    if (made.looksLost > 0) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'dropped',
        reason: 'looks-of-vertices-dropped',
        count: made.looksLost,
        id,
      });
    }
    if (made.lostIndices > 0) this.note('faces of a mesh that name corners it does not have', where);
    return made.build();
  }

  /** Puts the finishing touches to the drawing once everything is read. */
  finish(): Reading {
    const { drawing } = this;
    for (const [text, more] of this.noted) drawing.notes.push({ text, severity: 'warning', ...more });
    this.addUnlistedLayers();
    this.findPictures();
    this.settleSheets();
    this.nameFrozenLayers();
    this.dropDangling();
    return { drawing, ledger: this.ledger.rows };
  }

  /** Images get the path that their definition states. */
  private findPictures(): void {
    if (!this.drawing.carried.objects.some((o) => o.type === 'IMAGEDEF')) return;
    const index = new ObjectIndex(this.drawing);
    const each = (e: Entity): void => {
      if (e.kind !== 'image' || e.cover) return;
      const handle = /^340\n(.*)$/m.exec(e.rest ?? '')?.[1];
      const file = index.pictureFile(handleOf(handle) ?? '');
      if (file) (e as Draft<Image>).file = file;
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
    for (const b of drawing.blocks.values()) (b as Draft<Block>).entities = ordered(b.entities, b.key);
    const paper = this.onPaper ? drawing.entities.filter((e) => e.sheet !== undefined) : [];
    if (paper.length > 0 && !drawing.sheets.some((s) => s.block.toLowerCase() === ON_PAPER)) {
      drawing.sheets.unshift({ name: MADE_SHEET, block: '*Paper_Space', order: 1, unitsPerMm: 1 });
    }
    if (drawing.sheets.length === 0 && sorted.size === 0) return;
    const model = paper.length > 0 ? drawing.entities.filter((e) => e.sheet === undefined) : drawing.entities;
    const all = [...ordered(model, drawing.blocks.get('*model_space')?.key)];
    for (const sheet of drawing.sheets) {
      const block = drawing.blocks.get(sheet.block.toLowerCase());
      const own = sheet.block.toLowerCase() === ON_PAPER ? paper : [];
      const list = ordered([...own, ...(block?.entities ?? [])], block?.key);
      for (const e of list) {
        (e as Draft<Entity>).sheet = sheet.name;
        all.push(e);
      }
      if (block) (block as Draft<Block>).entities = [];
    }
    drawing.entities = all;
  }

  private nameFrozenLayers(): void {
    const names = new Map(this.drawing.layers.map((l) => [l.key ?? '', l.name]));
    // Before version 2000 they are said by name.
    const own = new Set(this.drawing.layers.map((l) => l.name.toLowerCase()));
    for (const e of this.drawing.entities) {
      if (e.kind === 'viewport' && this.drawing.version !== 'R12')
        (e as Draft<Viewport>).frozen = e.frozen.flatMap(
          (h) => names.get(handleOf(h) ?? '') ?? (own.has(h.toLowerCase()) ? [h] : []),
        );
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
