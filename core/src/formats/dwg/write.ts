import { because } from '../../drawing/reasons.js';
import { UserError } from '../../errors.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Vec3 } from '../../geometry/vector.js';
import type { WriteOptions, Work, Writing } from '../format.js';
import { checkStop } from '../format.js';
import { HandleSet } from '../drafting/handle-set.js';
import type { Ledger, LedgerRow } from '../../drawing/ledger.js';
import { wordTable } from '../../drawing/word-table.js';
import { composeRecords } from '../drafting/compose.js';
import { SEALED_VERSION, isSealed } from '../drafting/sealed.js';
import { BitWriter } from './bit-writer.js';
import { FIRST_CLASS } from './class-list.js';
import type { Parts } from './container-2000.js';
import { pack2000 } from './container-2000.js';
import { pack2004 } from './container-2004.js';
import { FieldWriter } from './field-writer.js';
import type { NamedTable } from './fields.js';
import { HARD_OWNER, SOFT_OWNER } from './fields.js';
import { writeHeader } from './header.js';
import type { Kind } from './kinds.js';
import { CONTROLS, KINDS_BY_CLASS, KINDS_BY_TYPE, NAMED, VIEWPORT_CONTROL } from './kinds.js';
import { writeObjectMap } from './object-map.js';
import { IN_MODEL, IN_OWNER, ON_SHEET } from './object-reader.js';
import type { Lies, PackedLook } from './object-writer.js';
import { ObjectWriter, PIECE, appendStrings } from './object-writer.js';
import type { BlockRecords, Item, Placed, Structure } from './structure.js';
import { previewBitmap } from './preview-bitmap.js';
import { sealedIn } from './sealed.js';
import { kindsCounted } from '../drafting/kinds-counted.js';
import { propertyName } from './property-names.js';
import { structureOf } from './structure.js';
import { fitsFields } from './codec.js';
import type { TagRecord } from './tag-store.js';
import { TagStore } from './tag-store.js';
import type { Words } from './whole.js';
import { DWG_VERSIONS, WRITABLE_DWG } from './versions.js';

/** Records that the file's own structure is made of: written from the drawing, never from what a source lists elsewhere. */
const STRUCTURE: ReadonlySet<string> = new Set([
  'BLOCK',
  'ENDBLK',
  'SEQEND',
  'BLOCK_RECORD',
  'LAYER',
  'STYLE',
  'LTYPE',
  'VIEW',
  'UCS',
  'VPORT',
  'APPID',
  'DIMSTYLE',
]);

/** Kinds of records that can be put into bits. */
const WRITABLE = new Set(
  [...KINDS_BY_TYPE.values(), ...KINDS_BY_CLASS.values()]
    .filter((k) => k.codec !== null && !k.readOnly)
    .map((k) => k.record),
);

/**
 * Writes a drawing as DWG. It is first composed as drafting records, as for a DXF of the same version, and each record is
 * then put into bits; what the version or the bits have no place for is converted or left out and put in the ledger.
 */
export function writeDwg(source: Drawing, options: WriteOptions, work?: Work): Writing {
  const letters = WRITABLE_DWG[options.version ?? '2010'];
  if (!letters)
    throw new UserError(
      'unknown-version',
      `DWG version "${options.version}" cannot be written; one of ${Object.keys(WRITABLE_DWG).join(', ')}`,
    );
  const { parts, ledger } = dwgParts(source, letters, options, work);
  return { bytes: DWG_VERSIONS[letters]! <= 2000 ? pack2000(parts) : pack2004(parts), ledger };
}

/**
 * What a file of a version is made of, before it is put into pages. `short`: frequent kinds take the short way into bits,
 * which comes to the same.
 */
export function dwgParts(
  source: Drawing,
  letters: string,
  options: WriteOptions,
  work?: Work,
  short = true,
): { parts: Parts; ledger: LedgerRow[] } {
  const halfway: Work | undefined = work && { ...work, onProgress: (done) => work.onProgress?.(done / 2) };
  const { front, tables, body, ledger, extents } = composeRecords(
    source,
    options,
    {
      name: 'DWG',
      version: letters,
      sink: () => new TagStore(short),
      holds: (type, raw) => holds(letters, type, raw),
    },
    halfway,
  );
  const structure = structureOf(front, tables, body);
  const parts = new Writer(letters, structure, body, ledger, options, previewBitmap(source, extents), work).write();
  return { parts, ledger: ledger.rows };
}

/** Bodies go as text or not at all; what is carried as bits goes to its own version, entities only where no chain runs through them. */
function holds(letters: string, type: string, raw: string): boolean {
  if (isSealed(raw)) {
    const own = raw.includes(`\n${SEALED_VERSION}\n${letters} `);
    return own && (DWG_VERSIONS[letters]! >= 2004 || !raw.includes('\n100\nAcDbEntity\n'));
  }
  if (/^(REGION|BODY|3DSOLID)$/.test(type)) return DWG_VERSIONS[letters]! < 2013 && /\n\s*1\r?\n/.test(raw);
  return WRITABLE.has(type);
}

class Writer {
  private readonly v: number;
  private readonly names = new Map<NamedTable, Map<string, number>>();
  private readonly known = new HandleSet();
  private readonly objects: ObjectWriter;
  private readonly classNumbers = new Map<string, number>();
  private readonly looks: PackedLook[] = [];
  /** Numbers of types by their records. */
  private readonly types = new Map<string, number>();
  private readonly root: number;
  private seed: number;

  constructor(
    private readonly letters: string,
    private readonly s: Structure,
    private readonly body: TagStore,
    private readonly ledger: Ledger,
    private readonly options: WriteOptions,
    private readonly preview: Uint8Array,
    private readonly work: Work | undefined,
  ) {
    this.v = DWG_VERSIONS[letters]!;
    if (this.v < 2000) this.leaveOutNewer();
    this.seed = parseInt(s.header.get('$HANDSEED')?.[0]?.[1] ?? 'FF', 16);
    for (const table of [...Object.values(NAMED), 'mlinestyle' as const]) this.names.set(table, new Map());
    this.gather();
    this.root = s.objects.find((o) => o.type === 'DICTIONARY' && o.owner === 0)?.handle ?? 0;
    this.mlineStyles();
    this.objects = new ObjectWriter(
      new FieldWriter(
        this.v,
        (t, n) => this.names.get(t)!.get(n.toLowerCase()) ?? 0,
        (h) => this.known.has(h),
        PIECE + (1 << 16),
      ),
    );
    s.classes.forEach((c, i) => this.classNumbers.set(c.text(1).toUpperCase(), FIRST_CLASS + i));
  }

  private fresh(): number {
    const h = this.seed++;
    this.known.addNumber(h);
    return h;
  }

  /** Handles by name, and all handles that there will be. */
  private gather(): void {
    const { s, body } = this;
    for (const [table, { handle, entries }] of s.tables) {
      this.known.addNumber(handle);
      for (const e of entries) {
        this.known.addNumber(e.handle);
        const named = NAMED[table];
        if (named) this.names.get(named)!.set(e.text(2).toLowerCase(), e.handle);
      }
    }
    const handleAt = (n: number): number => body.handleOf(n);
    const all = (list: readonly Item[]): void => {
      for (const p of list) {
        if (typeof p === 'number') {
          this.known.addNumber(handleAt(p));
          continue;
        }
        this.known.addNumber(handleAt(p.record));
        for (const c of p.children) this.known.addNumber(handleAt(c));
        if (p.end >= 0) this.known.addNumber(handleAt(p.end));
      }
    };
    all(s.model);
    all(s.paper);
    for (const b of s.blocks) {
      this.known.addNumber(b.begin.handle);
      if (b.end) this.known.addNumber(b.end.handle);
      all(b.entities);
    }
    for (const o of s.objects) this.known.addNumber(o.handle);
  }

  /** Objects that came with version 2000, and the dictionaries that list them. */
  private leaveOutNewer(): void {
    const { s } = this;
    const root = s.objects.find((o) => o.type === 'DICTIONARY' && o.owner === 0);
    const gone = new Set(
      root
        ? entriesOf(root)
            .filter(([n]) => NEWER_LISTS.has(n))
            .map(([, h]) => h)
        : [],
    );
    s.objects = s.objects.filter((o) => !NEWER.has(o.type) && !gone.has(o.handle));
  }

  /** The type of a kind: by a class of its own in versions in which no number was set aside for it. */
  private numberOf(type: string): number | undefined {
    const byClass = this.v < (BY_CLASS_BEFORE[type] ?? 0) ? this.classNumbers.get(type) : undefined;
    return byClass ?? TYPE_OF.get(type) ?? this.classNumbers.get(type);
  }

  /** Names of multiline styles stand in a dictionary. */
  private mlineStyles(): void {
    const styles = this.dictionaryEntry(this.root, 'ACAD_MLINESTYLE');
    const dictionary = this.s.objects.find((o) => o.handle === styles && styles > 0);
    if (!dictionary) return;
    for (const [name, handle] of entriesOf(dictionary)) this.names.get('mlinestyle')!.set(name.toLowerCase(), handle);
  }
  private dictionaryEntry(handle: number, name: string): number {
    const dictionary = this.s.objects.find((o) => o.handle === handle && handle > 0);
    return dictionary ? (entriesOf(dictionary).find(([n]) => n === name)?.[1] ?? 0) : 0;
  }

  write(): Parts {
    const { s, objects } = this;
    const controls = this.tables();
    this.blocks();
    this.others();
    const view = this.v < 2004 ? this.fresh() : 0;
    if (view > 0) objects.bare(VIEWPORT_CONTROL, view, 0, (f) => f.data.bitLong(0));
    this.nameLosses();
    const target = (name: string): number => {
      if (name === 'SEED') return this.seed;
      if (name === 'ROOT') return this.root;
      if (name === 'VX') return view;
      if (name.startsWith('ACAD_')) return this.dictionaryEntry(this.root, name);
      if (name.startsWith('*')) return this.names.get('block')!.get(name.toLowerCase()) ?? 0;
      return controls.get(name) ?? this.names.get('linetype')!.get(name.toLowerCase()) ?? 0;
    };
    const measurement = Number(s.header.get('$MEASUREMENT')?.[0]?.[1] ?? 1);
    return {
      letters: this.letters,
      header: this.header(target),
      classes: this.classes(),
      objects: objects.finished(),
      map: (base) => {
        const { handles, offsets } = objects.places();
        return writeObjectMap(handles, offsets, base);
      },
      measurement,
      preview: this.preview,
      seed: this.seed,
      handles: [
        this.seed,
        ...CONTROLS.map((c) => controls.get(c.table) ?? 0),
        view,
        this.root,
        this.names.get('linetype')!.get('bylayer') ?? 0,
        this.names.get('linetype')!.get('byblock') ?? 0,
      ],
      title: this.options.title ?? '',
    };
  }

  /** The tables with their control objects; answers with the handles of those. */
  private tables(): Map<string, number> {
    const { s, objects } = this;
    const controls = new Map<string, number>();
    for (const { type, entry, table } of CONTROLS) {
      const records = s.tables.get(table) ?? { handle: this.fresh(), entries: [] };
      controls.set(table, records.handle);
      const kind = KINDS_BY_TYPE.get(entry)!;
      const apart = records.entries.filter((e) => this.standsApart(table, e.text(2)));
      const listed = records.entries.filter((e) => !apart.includes(e));
      objects.bare(type, records.handle, 0, (f) => {
        f.data.bitLong(listed.length);
        if (table === 'DIMSTYLE' && f.v >= 2000) f.data.byte(0);
        for (const e of listed) f.putRef(SOFT_OWNER, e.handle);
        const named = (name: string): number => apart.find((e) => e.text(2).toLowerCase() === name)?.handle ?? 0;
        if (table === 'LTYPE') for (const n of ['byblock', 'bylayer']) f.putRef(HARD_OWNER, named(n));
        if (table === 'BLOCK_RECORD') for (const n of ['*model_space', '*paper_space']) f.putRef(HARD_OWNER, named(n));
      });
      if (table === 'BLOCK_RECORD') continue;
      for (const e of records.entries) objects.object(entry, kind, e, records.handle);
    }
    return controls;
  }

  /** Entries that their control object names apart from the others. */
  private standsApart(table: string, name: string): boolean {
    if (table === 'LTYPE') return /^by(layer|block)$/i.test(name);
    return table === 'BLOCK_RECORD' && /^\*(model|paper)_space$/i.test(name);
  }

  /** Records of blocks, their beginnings and ends, and the entities between. */
  private blocks(): void {
    const { s, body, objects } = this;
    const { f } = objects;
    const table = s.tables.get('BLOCK_RECORD')!;
    const byName = new Map(s.blocks.map((b) => [b.begin.text(2).toLowerCase(), b]));
    const inserts = this.insertsByBlock();
    let n = 0;
    const total = Math.max(1, s.model.length + s.paper.length);
    for (const record of table.entries) {
      const name = record.text(2).toLowerCase();
      const block = byName.get(name);
      if (!block) continue;
      const entities = name === '*model_space' ? s.model : name === '*paper_space' ? s.paper : block.entities;
      const mode = name === '*model_space' ? IN_MODEL : name === '*paper_space' ? ON_SHEET : IN_OWNER;
      const owner = record.handle;
      const handles = entities.map((p) => body.handleOf(typeof p === 'number' ? p : p.record));
      const end = block.end?.handle ?? 0;
      f.children = handles;
      f.sequenceEnd = end;
      f.block = { ...wordsOf(block), begin: block.begin.handle, inserts: inserts.get(name) ?? [] };
      objects.object(0x31, KINDS_BY_TYPE.get(0x31)!, record, table.handle);
      f.block = null;
      const alone: Lies = { mode, owner, previous: 0, next: 0 };
      objects.entity(0x04, KINDS_BY_TYPE.get(0x04)!, block.begin, alone);
      const lies: Lies = { mode, owner, previous: 0, next: 0 };
      for (let i = 0; i < entities.length; i++) {
        if (++n % 4096 === 0) {
          checkStop(this.work);
          this.work?.onProgress?.(0.5 + n / total / 2);
        }
        lies.previous = i > 0 ? handles[i - 1]! : 0;
        lies.next = i + 1 < handles.length ? handles[i + 1]! : 0;
        const p = entities[i]!;
        if (typeof p === 'number') this.whole(-1 - body.starts[p]!, lies);
        else this.placed(p, lies);
      }
      if (block.end) objects.entity(0x05, KINDS_BY_TYPE.get(0x05)!, block.end, alone);
    }
  }

  /** The inserts of each block, by its name. */
  private insertsByBlock(): Map<string, number[]> {
    const { s, body } = this;
    const out = new Map<string, number[]>();
    const note = (block: string, handle: number): void => {
      const name = block.toLowerCase();
      const known = out.get(name);
      if (known) known.push(handle);
      else out.set(name, [handle]);
    };
    const { whole } = body;
    const meet = (list: readonly Item[]): void => {
      for (const p of list) {
        if (typeof p === 'number') {
          const n = -1 - body.starts[p]!;
          if (whole!.types[n] === 'INSERT') note(whole!.names[n]!, whole!.handles[n]!);
        } else if (body.textAt(body.starts[p.record]!) === 'INSERT') {
          const r = body.record(p.record);
          note(r.text(2), r.handle);
        }
      }
    };
    meet(s.model);
    meet(s.paper);
    for (const b of s.blocks) meet(b.entities);
    return out;
  }

  /** An entity that stands for itself. */
  private whole(n: number, lies: Lies): void {
    const { f } = this.objects;
    const { entities, types, handles, looksOf, looks, names, said } = this.body.whole!;
    const look = (this.looks[looksOf[n]!] ??= this.objects.look(looks.record(looksOf[n]!)));
    let type = this.types.get(types[n]!);
    if (type === undefined) this.types.set(types[n]!, (type = this.numberOf(types[n]!) ?? 0x07));
    const e = entities[n]!;
    let words = WORDLESS;
    if (e.kind === 'insert') words = { reference: f.refOf('block', names[n]!), text: '' };
    else if (e.kind === 'text') words = { reference: f.refOf('style', names[n]!), text: said[n] ?? '' };
    this.objects.whole(type, handles[n]!, e, look, lies, words);
  }

  /** An entity, and behind it what belongs to it. */
  private placed(p: Placed, lies: Lies): void {
    const { body, objects } = this;
    const { f } = objects;
    const record = body.record(p.record);
    const bits = sealedIn(record);
    if (bits) {
      if (!this.sealed(record, bits))
        this.ledger.add({
          carryOver: 'curves',
          action: 'dropped',
          reason: because('record-without-class', { record: record.type }),
        });
      return;
    }
    const type = this.typeOf(record);
    const kind = type === null ? undefined : (KINDS_BY_TYPE.get(type) ?? KINDS_BY_CLASS.get(record.type));
    // What lacks what its bits need has no place; what calls itself a record of a table, or the end of a block, cannot stand among what is drawn.
    if (
      type === null ||
      !kind?.codec ||
      !kind.entity ||
      STRUCTURE.has(kind.record) ||
      !fitsFields(kind.codec, record)
    ) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: because('record-not-in-dwg', { record: record.type }),
      });
      return;
    }
    const children = p.children.map((c) => body.handleOf(c));
    f.children = children;
    f.sequenceEnd = p.end >= 0 ? body.handleOf(p.end) : 0;
    objects.entity(type, kind, record, lies);
    f.children = [];
    children.forEach((handle, i) => {
      const child = body.record(p.children[i]!);
      const childType = child.type === 'ATTRIB' ? 0x02 : vertexType(type, child);
      objects.entity(childType, KINDS_BY_TYPE.get(childType)!, child, {
        mode: IN_OWNER,
        owner: record.handle,
        previous: children[i - 1] ?? 0,
        next: children[i + 1] ?? 0,
      });
      void handle;
    });
    if (p.end >= 0) {
      const end = body.record(p.end);
      objects.entity(0x06, KINDS_BY_TYPE.get(0x06)!, end, {
        mode: IN_OWNER,
        owner: record.handle,
        previous: 0,
        next: 0,
      });
    }
  }

  private sealed(r: TagRecord, bits: { handleBits: number; bytes: Uint8Array }): boolean {
    const fixed = [...KINDS_BY_TYPE.values()].some((k) => k.record === r.type);
    const type = fixed ? null : (this.classNumbers.get(r.type) ?? -1);
    return type !== -1 && this.objects.sealed(type, r.handle, bits.bytes, bits.handleBits);
  }

  private typeOf(r: TagRecord): number | null {
    switch (r.type) {
      case 'INSERT':
        return r.number(70, 1) * r.number(71, 1) > 1 ? 0x08 : 0x07;
      case 'POLYLINE': {
        const flags = r.number(70);
        return flags & 64 ? 0x1d : flags & 16 ? 0x1e : flags & 8 ? 0x10 : 0x0f;
      }
      case 'DIMENSION':
        return [0x15, 0x16, 0x18, 0x1a, 0x19, 0x17, 0x14][r.number(70) & 15] ?? null;
    }
    return this.numberOf(r.type) ?? null;
  }

  private others(): void {
    const { s, objects } = this;
    const left: string[] = [];
    for (const o of s.objects) {
      const bits = sealedIn(o);
      if (bits) {
        if (!this.sealed(o, bits)) left.push(o.type);
        continue;
      }
      const type = this.numberOf(o.type);
      const kind: Kind | undefined =
        type === undefined ? undefined : (KINDS_BY_TYPE.get(type) ?? KINDS_BY_CLASS.get(o.type));
      if (type === undefined || !kind?.codec || kind.entity || STRUCTURE.has(kind.record)) {
        left.push(o.type);
        continue;
      }
      objects.object(type, kind, o, o.owner);
    }
    if (left.length > 0)
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: because('objects-not-in-dwg', { what: kindsCounted(left) }),
        count: left.length,
      });
  }

  private nameLosses(): void {
    for (const [reason, count] of this.objects.f.approximated)
      this.ledger.add({ carryOver: 'curves', action: 'approximated', reason, count });
    // Of a point each number is a group of its own.
    const lost = new Map<string, { record: string; name: string; count: number }>();
    for (const [what, count] of this.objects.lost) {
      const [record = '', code = ''] = what.split(' ');
      const name = propertyName(record, Number(code));
      const known = lost.get(`${record} ${name}`);
      lost.set(`${record} ${name}`, { record, name, count: Math.max(count, known?.count ?? 0) });
    }
    for (const { record, name, count } of lost.values()) {
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: because('property-not-in-dwg', { what: name, record }),
        count,
        onPurpose: true,
      });
    }
  }

  private header(target: (name: string) => number): Uint8Array {
    const { f } = this.objects;
    const one = new FieldWriter(
      this.v,
      (t, n) => f.refOf(t, n),
      (h) => this.known.has(h),
    );
    if (this.v >= 2007) {
      writeHeader(one, this.s.header, target);
      return this.streamed(one.data, one.strings, one.handles);
    }
    // References stand among the data.
    Object.assign(one, { handles: one.data });
    writeHeader(one, this.s.header, target);
    one.data.align();
    return one.data.written;
  }

  /** From 2007 on: a size in bits, the data, the strings, and behind them the handles. */
  private streamed(data: BitWriter, strings: BitWriter, handles: BitWriter): Uint8Array {
    const w = new BitWriter();
    appendStrings(data, strings);
    w.long(data.at + 32);
    w.append(data);
    w.append(handles);
    w.align();
    return w.written;
  }

  private classes(): Uint8Array {
    const { s, v } = this;
    const f = new FieldWriter(
      v,
      () => 0,
      () => false,
    );
    const { data } = f;
    if (v >= 2004) {
      data.bitShort(FIRST_CLASS + s.classes.length - 1);
      data.byte(0);
      data.byte(0);
      data.bit(1);
    }
    s.classes.forEach((c, i) => {
      data.bitShort(FIRST_CLASS + i);
      data.bitShort(c.number(90));
      f.putText(c.text(3));
      f.putText(c.text(2));
      f.putText(c.text(1));
      data.bit(c.number(280));
      data.bitShort(c.number(281) ? 0x1f2 : 0x1f3);
      if (v >= 2004) {
        data.bitLong(c.number(91));
        for (let k = 0; k < 4; k++) data.bitLong(0);
      }
    });
    if (v >= 2007) return this.streamed(data, f.strings, f.handles);
    data.align();
    return data.written;
  }
}

/** What came with version 2000. */
const NEWER = new Set(['LAYOUT', 'PLOTSETTINGS', 'ACDBPLACEHOLDER', 'ACDBDICTIONARYWDFLT']);
const NEWER_LISTS = new Set(['ACAD_LAYOUT', 'ACAD_PLOTSETTINGS', 'ACAD_PLOTSTYLENAME']);
/** Kinds that came by a class before the version in which a number was set aside for them. */
const BY_CLASS_BEFORE = wordTable<number>({
  LWPOLYLINE: 2000,
  HATCH: 2000,
  XRECORD: 2000,
  LAYOUT: 2004,
  ACDBPLACEHOLDER: 2004,
});

const WORDLESS: Words = { reference: 0, text: '' };

/** Types by number, by the record, for those that the record alone tells. */
const TYPE_OF = new Map<string, number>(
  [...KINDS_BY_TYPE]
    .filter(([, k]) => k.codec !== null && !['INSERT', 'POLYLINE', 'VERTEX', 'DIMENSION'].includes(k.record))
    .map(([type, k]) => [k.record, type]),
);

function vertexType(parent: number, r: TagRecord): number {
  if (parent === 0x0f) return 0x0a;
  if (parent === 0x10) return 0x0b;
  if (parent === 0x1e) return 0x0c;
  return r.number(70) & 64 ? 0x0d : 0x0e;
}

function wordsOf(b: BlockRecords): { flags: number; base: Vec3; path: string; description: string } {
  const { begin } = b;
  return {
    flags: begin.number(70),
    base: [begin.number(10), begin.number(20), begin.number(30)],
    path: begin.text(1),
    description: begin.text(4),
  };
}

/** The entries of a dictionary: name and handle. */
function entriesOf(r: TagRecord): [string, number][] {
  const { store } = r;
  const out: [string, number][] = [];
  let name: string | null = null;
  for (let i = r.from + 1; i < r.to; i++) {
    const code = store.codes[i];
    if (code === 3) name = store.textAt(i);
    else if ((code === 350 || code === 360) && name !== null) {
      out.push([name, store.handleAt(i)]);
      name = null;
    }
  }
  return out;
}
