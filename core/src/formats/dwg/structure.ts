import type { TagRecord, TagStore } from './tag-store.js';

/** A record of an entity: by its number alone where nothing belongs to it. */
export type Item = number | Placed;

/** An entity among the records of a store, with the vertices or attributes that follow it. */
export interface Placed {
  record: number;
  children: readonly number[];
  /** The record of its end mark, or -1. */
  end: number;
}

export interface BlockRecords {
  begin: TagRecord;
  end: TagRecord | null;
  entities: Item[];
}

export interface TableRecords {
  handle: number;
  entries: TagRecord[];
}

/** The records of a drafting file, taken apart into what a DWG is made of. */
export interface Structure {
  header: Map<string, [number, string][]>;
  classes: TagRecord[];
  tables: Map<string, TableRecords>;
  blocks: BlockRecords[];
  /** Entities of model space, and of the active sheet. */
  model: Item[];
  paper: Item[];
  objects: TagRecord[];
}

const NONE: readonly number[] = [];

/** Takes the records of `front` (header, classes), `tables` and `body` (blocks, entities, objects) apart. */
export function structureOf(front: TagStore, tables: TagStore, body: TagStore): Structure {
  const out: Structure = {
    header: new Map(),
    classes: [],
    tables: new Map(),
    blocks: [],
    model: [],
    paper: [],
    objects: [],
  };
  readFront(front, out);
  let table: TableRecords | null = null;
  for (let n = 0; n < tables.starts.length; n++) {
    const r = tables.record(n);
    const { type } = r;
    if (type === 'TABLE') out.tables.set(r.text(2), (table = { handle: r.handle, entries: [] }));
    else if (type === 'ENDTAB') table = null;
    else table?.entries.push(r);
  }
  readBody(body, out);
  return out;
}

function readFront(front: TagStore, out: Structure): void {
  for (let n = 0; n < front.starts.length; n++) {
    const r = front.record(n);
    if (r.type === 'CLASS') out.classes.push(r);
    if (r.type !== 'SECTION' || r.text(2) !== 'HEADER') continue;
    let current: [number, string][] | null = null;
    for (let i = r.from + 2; i < r.to; i++) {
      if (front.codes[i] === 9) out.header.set(front.textAt(i), (current = []));
      else current?.push([front.codes[i]!, front.textAt(i)]);
    }
  }
}

function readBody(body: TagStore, out: Structure): void {
  let section = '';
  let block: BlockRecords | null = null;
  let last: Placed | null = null;
  const { starts } = body;
  const { whole } = body;
  for (let n = 0; n < starts.length; n++) {
    // Nearly all records are entities that stand for themselves; nothing belongs to them.
    if (starts[n]! < 0) {
      last = null;
      if (block) block.entities.push(n);
      else if (whole!.papers[-1 - starts[n]!]) out.paper.push(n);
      else out.model.push(n);
      continue;
    }
    const type = body.textAt(starts[n]!);
    switch (type) {
      case 'SECTION':
        section = body.record(n).text(2);
        continue;
      case 'ENDSEC':
      case 'EOF':
        section = '';
        continue;
      case 'BLOCK':
        out.blocks.push((block = { begin: body.record(n), end: null, entities: [] }));
        continue;
      case 'ENDBLK':
        if (block) block.end = body.record(n);
        block = null;
        continue;
    }
    if (section === 'OBJECTS') {
      out.objects.push(body.record(n));
      continue;
    }
    if (section !== 'BLOCKS' && section !== 'ENTITIES') continue;
    if ((type === 'VERTEX' || type === 'ATTRIB') && last && last.end < 0) {
      if (last.children === NONE) last.children = [];
      (last.children as number[]).push(n);
      continue;
    }
    if (type === 'SEQEND') {
      if (last) last.end = n;
      continue;
    }
    last = { record: n, children: NONE, end: -1 };
    if (block) block.entities.push(last);
    else if (paperAt(body, n)) out.paper.push(last);
    else out.model.push(last);
  }
}

/** Whether a record says that it lies on a sheet: 67 stands before its layer. */
function paperAt(body: TagStore, n: number): boolean {
  const end = body.endOf(n);
  for (let i = body.starts[n]! + 1; i < end && body.codes[i] !== 8; i++)
    if (body.codes[i] === 67) return body.values[i] === 1;
  return false;
}
