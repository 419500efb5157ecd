import type { EntityContext } from './entity-tags.js';
import type { RawTag } from './raw-tags.js';
import { formatRaw, parseRaw } from './raw-tags.js';
import type { TagSink } from './tag-sink.js';

/** Begins a symbol table; returns its handle. */
export function beginTable(x: EntityContext, out: TagSink, name: string, count: number): string {
  const head = x.sameFormat && !x.r12 ? x.tableHeads.get(name) : undefined;
  const handle = x.handles.record(head?.key, x.sameFormat);
  out.string(0, 'TABLE');
  out.string(2, name);
  if (!x.r12) {
    out.string(5, handle);
    for (const [c, v] of restTags(x, head?.rest).groups) out.string(c, v);
    out.string(330, '0');
    out.string(100, 'AcDbSymbolTable');
  }
  out.integer(70, count);
  return handle;
}

/** Begins a record of a symbol table, with its own handle where it has one; returns the handle. */
export function beginRecord(
  x: EntityContext,
  out: TagSink,
  type: string,
  owner: string,
  subclass: string,
  handle: string,
  rest?: string,
): void {
  out.string(0, type);
  if (x.r12) return;
  out.string(type === 'DIMSTYLE' ? 105 : 5, handle);
  for (const [c, v] of restTags(x, rest).groups) out.string(c, v);
  out.string(330, owner);
  out.string(100, 'AcDbSymbolTableRecord');
  out.string(100, subclass);
}

/** The tags of a record that the model has no word for: groups in braces stand before its marks, the others after. */
function restTags(x: EntityContext, rest: string | undefined): { groups: RawTag[]; others: RawTag[] } {
  if (rest === undefined || !x.sameFormat || x.r12) return { groups: [], others: [] };
  const tags = x.pointers.clean(parseRaw(rest));
  const mark = tags.findIndex(([c]) => c === 100 || c >= 1000);
  const split = mark < 0 ? tags.length : mark;
  const grouped = tags[0]?.[0] === 102;
  return {
    groups: grouped ? tags.slice(0, split) : [],
    others: tags.slice(grouped ? split : 0).filter(([c]) => c !== 100),
  };
}

/** What a record says beyond the model, under the subclass that is open; extended data comes last. */
export function endRecord(
  x: EntityContext,
  out: TagSink,
  rest: string | undefined,
  skip: (tag: RawTag) => boolean = () => false,
): void {
  for (const tag of restTags(x, rest).others) if (!skip(tag)) out.string(tag[0], tag[1]);
}

/** A carried record in its own form, under the table or object that owns it now. */
export function carriedRecord(x: EntityContext, raw: string, owner: string | null): string {
  const tags = parseRaw(raw);
  let depth = 0;
  let done = false;
  const own = tags.map(([c, v]): RawTag => {
    if (c === 102) depth += v.trim().startsWith('{') ? 1 : -1;
    // Behind the first mark 330 is something else: of a layout, its space.
    if (c === 100) done = true;
    if (c === 330 && depth === 0 && !done && owner !== null) {
      done = true;
      return [330, owner];
    }
    return [c, v];
  });
  const [first] = own;
  // The owner itself is written by us and need not be among the source's records.
  const keep = owner === null ? own : own.filter((t, i) => i === 0 || t[1] !== owner || t[0] !== 330);
  const cleaned = x.pointers.clean(keep, first![1].trim() === 'DICTIONARY');
  if (owner === null || x.r12) return formatRaw(cleaned);
  const at = cleaned.findIndex(([c]) => c === 100);
  return formatRaw([...cleaned.slice(0, at), [330, owner], ...cleaned.slice(at)]);
}
