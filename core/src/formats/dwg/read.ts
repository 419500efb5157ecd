import type { ReadWork, Reading } from '../format.js';
import { UnreadableFile, checkStop } from '../format.js';
import { TextDecoding, encodingOf } from '../drafting/decoding.js';
import { RecordReader } from '../drafting/record-reader.js';
import { BitReader } from './bit-reader.js';
import type { DwgClass } from './class-list.js';
import { readClasses } from './class-list.js';
import type { Container } from './container.js';
import { open2000 } from './container-2000.js';
import { open2004 } from './container-2004.js';
import { open2007 } from './container-2007.js';
import { FieldReader } from './field-reader.js';
import type { NamedTable } from './fields.js';
import type { HeaderRead } from './header.js';
import { readHeader } from './header.js';
import { ObjectMap } from './object-map.js';
import { ObjectReader, stringsBefore } from './object-reader.js';
import { DwgRecords } from './records.js';
import { codePageName, DWG_VERSIONS } from './versions.js';

/** Whether bytes begin as a DWG of any version does. */
export const isDwg = (bytes: Uint8Array): boolean =>
  bytes.length >= 6 && bytes[0] === 65 && bytes[1] === 67 && bytes.subarray(2, 6).every((b) => b >= 46 && b <= 57);

const lettersOf = (bytes: Uint8Array): string => String.fromCharCode(...bytes.subarray(0, 6));

/**
 * Reads a DWG of version R13 to 2018 into the same model as a DXF: its objects are given to the reader of drafting
 * records under the group codes that a DXF has for them. What is damaged is told of; what can be read is read. Throws
 * `UnreadableFile` for versions that are not known, and when no way into the file is found.
 */
export function readDwg(bytes: Uint8Array, work?: ReadWork): Reading {
  const letters = lettersOf(bytes);
  if (DWG_VERSIONS[letters] === undefined) {
    throw new UnreadableFile(
      `This DWG is of version ${letters}, which is not read here`,
      'its first six bytes',
      'Have it saved as a DWG of any version from R13 to 2018, or as DXF.',
    );
  }
  const file = open(bytes, letters);
  if (!file?.map) {
    throw new UnreadableFile(
      'The list of objects was not found in this DWG',
      'the maps of its parts',
      'It was cut short or is encrypted: have it saved again without a password.',
    );
  }
  return readContainer(file, work);
}

/** Reads the parts of a file that was opened. */
export const readContainer = (file: Container, work?: ReadWork): Reading => new Reader(file, work).read();

function open(bytes: Uint8Array, letters: string): Container | null {
  const v = DWG_VERSIONS[letters]!;
  if (bytes.length < 0x20) return null;
  if (v <= 2000) return open2000(bytes, letters);
  // Some programs put what is of version 2007 into pages of another.
  return (v === 2007 ? open2007(bytes, letters) : null) ?? open2004(bytes, letters);
}

class Reader {
  private readonly decoding: TextDecoding;
  private readonly damage: { text: string; where: string; endsHere?: true }[];

  constructor(
    private readonly file: Container,
    private readonly work: ReadWork | undefined,
  ) {
    this.decoding = new TextDecoding(work?.encoding ?? encodingOf(codePageName(file.codePage)));
    this.damage = [...file.damage];
  }

  read(): Reading {
    const { file } = this;
    checkStop(this.work);
    const map = ObjectMap.read(file.map!);
    if (map.badPieces > 0) this.damage.push({ text: 'a checksum of the object map is wrong', where: 'the object map' });
    if (map.truncated) this.damage.push({ text: 'the object map ends early', where: 'the object map', endsHere: true });
    const names: { of: (table: NamedTable, handle: number) => string | undefined } = { of: () => undefined };
    const fields = (): FieldReader => new FieldReader(file.v, this.decoding, (t, h) => names.of(t, h));
    const classes = this.classes(fields());
    const header = this.header(fields());
    const reading = (): ObjectReader => new ObjectReader(file.objects, map, classes, fields(), file.letters);
    const objects = reading();
    const records = new DwgRecords(objects, reading(), map, classes, header.targets);
    names.of = (t, h) => records.nameOf(t, h);
    const reader = new RecordReader(records, 'dwg', this.work);
    const { drawing } = reader;
    this.headerInto(drawing.header, header, records);
    reader.headerRead();
    records.begin('CLASSES');
    reader.classRecords();
    records.begin('TABLES');
    reader.tableRecords();
    records.begin('BLOCKS');
    reader.blocks();
    records.begin('ENTITIES');
    reader.entities();
    records.begin('OBJECTS');
    reader.objectRecords();
    this.tell(reader, records, objects);
    this.untried(reader);
    return reader.finish();
  }

  private classes(f: FieldReader): DwgClass[] {
    const { classes } = this.file;
    if (!classes) {
      this.damage.push({ text: 'the list of classes was not found', where: 'its part of the file' });
      return [];
    }
    const data = new BitReader(classes);
    f.data = data;
    if (f.v >= 2007) this.streams(f, classes);
    if (f.v >= 2004) {
      data.bitShort();
      data.byte();
      data.byte();
      data.bit();
    }
    return readClasses(f);
  }

  /** From 2007 on: a size in bits, at whose end the strings end, and behind which handles follow. */
  private streams(f: FieldReader, bytes: Uint8Array): void {
    const { data } = f;
    let from = data.at;
    let size = data.long();
    // Later releases count the part in eight bytes: the upper four, always 0, stand before the size in bits.
    if (size === 0) {
      from = data.at;
      size = data.long();
    }
    const end = from + size;
    const whole = bytes.length * 8;
    const at = end > data.at && end <= whole ? end : whole;
    f.strings = stringsBefore(new BitReader(bytes), data.at, at);
    f.handles = new BitReader(bytes, at, whole);
    data.end = at;
  }

  private header(f: FieldReader): HeaderRead {
    const { header } = this.file;
    if (!header) {
      this.damage.push({ text: 'the header variables were not found', where: 'their part of the file' });
      return { values: new Map(), targets: new Map(), named: [] };
    }
    f.data = new BitReader(header);
    if (f.v >= 2007) this.streams(f, header);
    else f.handles = f.data;
    const read = readHeader(f);
    if (f.data.overrun) this.damage.push({ text: 'the header variables end early', where: 'their part of the file' });
    return read;
  }

  private headerInto(into: Map<string, [number, string][]>, read: HeaderRead, records: DwgRecords): void {
    const { file } = this;
    into.set('$ACADVER', [[1, file.letters]]);
    into.set('$DWGCODEPAGE', [[3, codePageName(file.codePage)]]);
    for (const [name, values] of read.values) into.set(name, values);
    for (const { name, code, table, handle } of read.named) {
      const found = records.nameOf(table, handle);
      if (found !== undefined) into.set(`$${name}`, [[code, found]]);
    }
    if (file.measurement !== undefined) into.set('$MEASUREMENT', [[70, String(file.measurement ? 1 : 0)]]);
  }

  /** Versions of which no file that another program made was at hand. */
  private untried(reader: RecordReader): void {
    if (this.file.v === 13 || this.file.v === 2007)
      reader.drawing.notes.push({
        text: `no DWG ${reader.drawing.version} from elsewhere was at hand to try this reader on: look twice`,
        where: 'the version',
        count: 1,
        severity: 'note',
      });
  }

  private tell(reader: RecordReader, records: DwgRecords, objects: ObjectReader): void {
    for (const { text, where, endsHere } of this.damage) reader.note(text, where, 1, endsHere);
    const hex = (h: number): string => `object ${h.toString(16).toUpperCase()}`;
    const several = (text: string, list: readonly number[]): void => {
      if (list.length > 0) reader.note(text, `first at ${hex(list[0]!)}`, list.length);
    };
    several('objects whose checksum is wrong; read as far as they go', objects.damaged);
    several('objects that end before their fields do; read as far as they go', objects.cutShort);
    if (records.bag.badNumbers > 0)
      reader.note('values that should be numbers and are not; read as 0', 'in its objects', records.bag.badNumbers);
    reader.tellUnsound(records.bag.unsound);
    several('objects that the map names and the file does not have', records.missing);
    several('entities that no space claims; put where they say they belong', records.strays);
    if (objects.cutShort.length + records.missing.length > 0) {
      reader.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: 'damaged-objects-missing',
        count: objects.cutShort.length + records.missing.length,
      });
    }
  }
}
