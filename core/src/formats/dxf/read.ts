import type { Drawing, Layer } from '../../drawing/drawing.js';
import { emptyDrawing, newLayer } from '../../drawing/drawing.js';
import type { Entity, Insert, Opaque } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { unitFromCode } from '../../drawing/units.js';
import type { Reading, Work } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';
import { TextDecoding, encodingOf } from './decoding.js';
import { ENTITY_READERS, isFilledType, readCommon, readText } from './read-entities.js';
import { LookReader, paintOf } from './read-look.js';
import { radiansOf } from './numbers.js';
import { TagBag, TagScanner } from './tags.js';

/** The year by which people know a version, by the value of $ACADVER. */
export const VERSION_NAMES: Record<string, string> = {
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

/** Reads an ASCII DXF. Keeps all that is whole when the file is cut off, and says so. */
export function readDxf(bytes: Uint8Array, work?: Work): Reading {
  return new DxfReader(bytes, work).read();
}

class DxfReader {
  private readonly scanner: TagScanner;
  private readonly bag: TagBag;
  private readonly drawing: Drawing = emptyDrawing('dxf', 'R12');
  private readonly ledger = new Ledger('read');
  private readonly looks = new LookReader();
  private readonly noted = new Map<string, { where: string; count: number }>();
  private entityCount = 0;
  private sawEnd = false;
  private more = true;

  constructor(
    private readonly bytes: Uint8Array,
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
        'Check that the file was exported as DXF (ASCII) and was not cut short, then drop it again.',
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
    if (name === 'TABLES') return this.records((type) => this.tableRecord(type));
    if (name === 'BLOCKS') return this.blocks();
    if (name === 'ENTITIES') return this.entitiesInto(this.drawing.entities, 'ENDSEC');
    // Classes and objects are made anew on writing; thumbnails show the old state.
    const skipped = this.skipSection();
    if (skipped > 0 && name !== 'CLASSES' && name !== 'THUMBNAILIMAGE') {
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: `records of the ${name} section (layout settings, dictionaries) are not carried`,
        count: skipped,
      });
    }
  }

  private skipSection(): number {
    let records = 0;
    while (this.more) {
      if (this.scanner.code === 0) {
        if (this.value() === 'ENDSEC') break;
        records++;
      }
      this.more = this.scanner.next();
    }
    if (this.more) this.more = this.scanner.next();
    return records;
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

  /** Calls back for each record of a section, the bag loaded with it. */
  private records(each: (type: string) => void): void {
    while (this.more) {
      const type = this.value();
      if (type === 'ENDSEC') {
        this.more = this.scanner.next();
        return;
      }
      this.more = this.bag.load(this.scanner);
      each(type);
    }
  }

  private tableRecord(type: string): void {
    const b = this.bag;
    const d = this.drawing;
    if (type === 'LAYER') d.layers.push(this.layer());
    else if (type === 'LTYPE') {
      const pattern: number[] = [];
      for (let i = 0; i < b.count; i++) if (b.codes[i] === 49) pattern.push(b.numberAt(i));
      d.linetypes.push({ name: b.text(2), description: b.text(3), pattern });
    } else if (type === 'STYLE') {
      if (b.integer(70) & 1) return;
      d.textStyles.push({
        name: b.text(2),
        font: b.text(3),
        bigFont: b.text(4),
        fixedHeight: b.number(40),
        widthFactor: b.number(41, 1),
        oblique: radiansOf(b.number(50)),
      });
    } else if (type === 'DIMSTYLE') {
      const tags: [number, string][] = [];
      for (let i = 0; i < b.count; i++) {
        const code = b.codes[i];
        const own = code >= 3 && code < 300 && code !== 5 && code !== 100 && code !== 102 && code !== 105;
        if (own) tags.push([code, b.textAt(i)]);
      }
      d.dimensionStyles.push({ name: b.text(2), tags });
    } else if (type === 'APPID') d.applications.push(b.text(2));
  }

  private layer(): Layer {
    const b = this.bag;
    const color = b.integer(62, 7);
    const flags = b.integer(70);
    const weight = b.integer(370, -3);
    const layer: Layer = {
      ...newLayer(b.text(2), paintOf(Math.abs(color) || 7, b.has(420) ? b.integer(420) & 0xffffff : -1)),
      linetype: b.text(6, 'Continuous'),
      weight: weight >= 0 ? weight / 100 : null,
      off: color < 0,
      frozen: (flags & 1) !== 0,
      locked: (flags & 4) !== 0,
      plotted: b.integer(290, 1) !== 0,
    };
    const handle = b.find(5);
    if (handle >= 0) layer.key = b.textAt(handle);
    return layer;
  }

  private blocks(): void {
    while (this.more) {
      const type = this.value();
      if (type === 'ENDSEC') {
        this.more = this.scanner.next();
        return;
      }
      const b = this.bag;
      this.more = b.load(this.scanner);
      if (type !== 'BLOCK') continue;
      const name = b.text(2);
      const flags = b.integer(70);
      const reference = (flags & 4) !== 0 ? b.text(1) : '';
      const base = b.point(10);
      const entities: Entity[] = [];
      this.entitiesInto(entities, 'ENDBLK');
      const sheet = /^\*(paper|model)_space/i.test(name);
      this.drawing.blocks.set(name.toLowerCase(), {
        name,
        base,
        entities,
        ...(sheet && { sheet }),
        ...(reference && { reference }),
      });
    }
  }

  private entitiesInto(target: Entity[], end: 'ENDSEC' | 'ENDBLK'): void {
    const { bag, scanner } = this;
    while (this.more) {
      const type = this.value();
      if (type === end || type === 'ENDSEC') {
        if (type === end) {
          if (end === 'ENDBLK') this.more = bag.load(scanner);
          else this.more = scanner.next();
        } else this.note('a block without its end', `line ${scanner.line}`);
        return;
      }
      if (type === 'SECTION' || type === 'EOF' || type === 'BLOCK') {
        this.note(`a section without its end before ${type}`, `line ${scanner.line}`);
        return;
      }
      if (++this.entityCount % 4096 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(scanner.at / this.bytes.length);
      }
      this.more = bag.load(scanner);
      const entity = this.entity(type);
      if (entity) target.push(entity);
    }
  }

  private entity(type: string): Entity | null {
    const { bag } = this;
    const from = bag.from;
    const line = bag.line;
    const common = readCommon(bag, this.looks, this.drawing.nextId++, isFilledType(type));
    this.nameUnread(type, common.id);
    if (type === 'POLYLINE') return this.heavyPolyline(common, from, line);
    if (type === 'SEQEND') return null;
    const reader = ENTITY_READERS[type];
    const entity = reader?.(bag, common) ?? null;
    if (!entity) return this.opaque(type, common, from);
    if (entity.kind === 'insert' && bag.integer(66) === 1) this.attributes(entity);
    return entity;
  }

  /** Properties of understood entities that the model does not hold are named, so that none goes unsaid. */
  private nameUnread(type: string, id: number): void {
    if (!ENTITY_READERS[type] && type !== 'POLYLINE') return;
    const { bag, ledger } = this;
    if (bag.has(39) && bag.number(39) !== 0) {
      ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'thickness along the normal is not carried', id });
    }
    if (type === 'TEXT' && (bag.integer(71) & 6) !== 0) {
      ledger.add({ carryOver: 'text', action: 'dropped', reason: 'backwards or upside-down text is set readable', id });
    }
  }

  private opaque(type: string, common: { id: number; layer: string; look: Entity['look'] }, from: number): Opaque {
    const raw = this.bag.decoding.decodeRaw(this.bytes, from, this.bag.to);
    const picture = type === 'DIMENSION' || type === 'ARC_DIMENSION' || type === 'ACAD_TABLE' ? this.bag.text(2) : '';
    if (!picture) {
      this.ledger.add({
        carryOver: type === 'VIEWPORT' || type === 'IMAGE' ? 'links' : 'curves',
        action: 'kept',
        reason: `${type} is carried unread: not drawn, and written back only to DXF`,
        id: common.id,
      });
    }
    return { kind: 'opaque', ...common, format: 'dxf', type, raw, ...(picture && { picture }) };
  }

  /** The attributes that follow an insert, up to SEQEND (which some writers leave out). */
  private attributes(insert: Insert): void {
    while (this.more) {
      const type = this.value();
      if (type !== 'ATTRIB' && type !== 'SEQEND') return;
      this.more = this.bag.load(this.scanner);
      if (type === 'SEQEND') return;
      const common = readCommon(this.bag, this.looks, this.drawing.nextId++, false);
      insert.attributes.push(readText(this.bag, common, true));
    }
  }

  /** POLYLINE with its VERTEX records. Meshes and polyfaces stay opaque for now, vertices and all. */
  private heavyPolyline(common: ReturnType<typeof readCommon>, from: number, line: number): Entity | null {
    const { bag, scanner } = this;
    const flags = bag.integer(70);
    const elevation = bag.number(30);
    const startWidth = bag.number(40);
    const endWidth = bag.number(41);
    const xyz: number[] = [];
    const bulges: number[] = [];
    const widths: number[] = [];
    let ended = false;
    while (this.more) {
      const type = this.value();
      if (type !== 'VERTEX' && type !== 'SEQEND') break;
      this.more = bag.load(scanner);
      if (type === 'SEQEND') {
        ended = true;
        break;
      }
      // Control points of a curve-fit frame (16) are not on the curve.
      if (bag.integer(70) & 16) continue;
      xyz.push(...bag.point(10));
      bulges.push(bag.number(42));
      widths.push(bag.number(40, startWidth), bag.number(41, endWidth));
    }
    if (!ended) this.note('a POLYLINE without its SEQEND', `line ${line}`);
    if (flags & (16 | 64)) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'kept',
        reason: 'polygon meshes are carried unread: not drawn, and written back only to DXF',
        id: common.id,
      });
      const raw = bag.decoding.decodeRaw(this.bytes, from, bag.to);
      return { kind: 'opaque', ...common, format: 'dxf', type: 'POLYLINE', raw };
    }
    const dim = flags & 8 ? 3 : 2;
    const points = dim === 3 ? Float64Array.from(xyz) : Float64Array.from(xyz.filter((_, i) => i % 3 !== 2));
    return {
      kind: 'polyline', ...common, points, dim, elevation, closed: (flags & 1) !== 0,
      ...(bulges.some((b) => b !== 0) && { bulges: Float64Array.from(bulges) }),
      ...(widths.some((w) => w !== 0) && { widths: Float64Array.from(widths) }),
    }; // prettier-ignore
  }

  private finish(): void {
    const { scanner, bag, drawing } = this;
    if (!this.sawEnd) {
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
    drawing.sheets = [...new Set(drawing.entities.map((e) => e.sheet).filter((s): s is string => s !== undefined))];
  }

  /** Layers that entities name and the table does not list exist all the same. */
  private addUnlistedLayers(): void {
    const known = new Set(this.drawing.layers.map((l) => l.name.toLowerCase()));
    const meet = (e: Entity): void => {
      const key = e.layer.toLowerCase();
      if (known.has(key)) return;
      known.add(key);
      this.drawing.layers.push(newLayer(e.layer));
    };
    for (const e of this.drawing.entities) meet(e);
    for (const b of this.drawing.blocks.values()) b.entities.forEach(meet);
  }
}
