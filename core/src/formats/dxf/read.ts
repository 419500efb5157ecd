import type { ReadWork, Reading } from '../format.js';
import { UnreadableFile } from '../format.js';
import { isBinaryDxf, unpackBinary } from './binary.js';
import { TextDecoding, encodingOf } from '../drafting/decoding.js';
import type { RecordSource } from '../drafting/record-reader.js';
import { RecordReader } from '../drafting/record-reader.js';
import { TagBag, TagScanner } from './tags.js';

/** Reads a DXF, ASCII or binary. Keeps all that is whole when the file is cut off, and says so. */
export function readDxf(bytes: Uint8Array, work?: ReadWork): Reading {
  const unpacked = isBinaryDxf(bytes) ? unpackBinary(bytes) : null;
  return new DxfReader(unpacked?.bytes ?? bytes, unpacked?.truncated ?? false, work).read();
}

/** The records of a text file. */
class TextRecords implements RecordSource {
  readonly scanner: TagScanner;
  readonly bag: TagBag;
  more = true;

  constructor(
    private readonly bytes: Uint8Array,
    encoding: string,
  ) {
    const bom = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
    this.scanner = new TagScanner(bytes, bom);
    this.bag = new TagBag(bytes, new TextDecoding(encoding));
    this.pass();
  }

  /** The value of the tag at hand. */
  type(): string {
    return this.bag.decoding.decode(this.bytes, this.scanner.start, this.scanner.end);
  }
  load(): void {
    this.more = this.bag.load(this.scanner);
  }
  pass(): void {
    this.more = this.scanner.next();
  }
  where(): string {
    return `line ${this.scanner.line}`;
  }
  done(): number {
    return this.scanner.at / this.bytes.length;
  }
}

class DxfReader {
  private readonly source: TextRecords;
  private readonly records: RecordReader;
  private sawEnd = false;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly cutOff: boolean,
    private readonly work: ReadWork | undefined,
  ) {
    this.source = new TextRecords(bytes, work?.encoding ?? 'windows-1252');
    this.records = new RecordReader(this.source, 'dxf', work);
  }

  read(): Reading {
    const { source } = this;
    let sections = 0;
    while (source.more) {
      const word = source.scanner.code === 0 ? source.type() : '';
      if (word === 'SECTION') {
        sections++;
        this.section();
      } else if (word === 'EOF') {
        this.sawEnd = true;
        break;
      } else source.pass();
    }
    if (sections === 0) {
      throw new UnreadableFile(
        'No SECTION was found, so this is not a DXF drawing',
        'from line 1 to the end',
        'Check that the file was exported as DXF and was not cut short, then drop it again.',
      );
    }
    this.noteDamage();
    return this.records.finish();
  }

  private section(): void {
    const { source, records } = this;
    source.pass();
    if (!source.more || source.scanner.code !== 2) return;
    const name = source.type();
    if (name === 'HEADER') return this.header();
    source.pass();
    switch (name) {
      case 'TABLES':
        return records.tableRecords();
      case 'BLOCKS':
        return records.blocks();
      case 'ENTITIES':
        return records.entities();
      case 'CLASSES':
        return records.classRecords();
      case 'OBJECTS':
        return records.objectRecords();
      // It shows the drawing as it was.
      case 'THUMBNAILIMAGE':
        return void this.skipSection();
      default: {
        const from = source.scanner.tagStart;
        const to = this.skipSection();
        const raw = source.bag.decoding.decodeRaw(this.bytes, from, to);
        records.drawing.carried.sections.push({ name, raw });
      }
    }
  }

  /** Passes over a section; returns where its end mark begins. */
  private skipSection(): number {
    const { source } = this;
    while (source.more) {
      if (source.scanner.code === 0 && source.type() === 'ENDSEC') break;
      source.pass();
    }
    const end = source.more ? source.scanner.tagStart : this.bytes.length;
    if (source.more) source.pass();
    return end;
  }

  private header(): void {
    const { source, records } = this;
    const { header } = records.drawing;
    let current: [number, string][] | null = null;
    source.pass();
    while (source.more && source.scanner.code !== 0) {
      if (source.scanner.code === 9) {
        current = [];
        header.set(source.type(), current);
      } else current?.push([source.scanner.code, source.type()]);
      source.pass();
    }
    const version = records.headerRead();
    const page = header.get('$DWGCODEPAGE')?.[0]?.[1] ?? 'ANSI_1252';
    const encoding = this.work?.encoding ?? (version >= 'AC1021' ? 'utf-8' : encodingOf(page));
    if (encoding !== source.bag.decoding.encoding) source.bag.decoding = new TextDecoding(encoding);
    if (source.more && source.type() === 'ENDSEC') source.pass();
  }

  private noteDamage(): void {
    const { source, records } = this;
    const { scanner, bag } = source;
    if (!this.sawEnd || this.cutOff) {
      records.note(
        scanner.truncated ? 'the file ends in the middle of a value' : 'the file ends without its EOF mark',
        `line ${scanner.line}`,
        1,
        true,
      );
      // Nobody knows what would have followed: everything that counts content is in doubt.
      records.ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'file-cut-off' });
      for (const carryOver of ['layers', 'text', 'colour', 'links'] as const)
        records.ledger.add({ carryOver, action: 'changed', reason: 'file-cut-off' });
    }
    if (scanner.badCodes > 0) {
      const where = `first at line ${scanner.firstBadLine}`;
      records.note('lines that should hold a group code and do not', where, scanner.badCodes);
    }
    records.tellUnsound(bag.decoding.unsound);
    if (bag.badNumbers > 0) {
      records.note(
        'values that should be numbers and are not; read as 0, or with their decimal comma',
        `first near line ${bag.firstBadNumberLine}`,
        bag.badNumbers,
      );
      records.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: 'numbers-taken-as-zero',
        count: bag.badNumbers,
      });
    }
  }
}
