import type { Bag } from './bag.js';

/** The codes that every entity reader takes out; 330 is the owner, which follows from where the record stands. */
const EVERY = [0, 5, 6, 8, 48, 60, 62, 67, 100, 210, 220, 230, 330, 370, 410, 420, 440];

/** A set of group codes below 1100, for constant-time lookup. */
export type CodeSet = Uint8Array;

/** The codes that a kind of record is understood by, those of every entity included. */
export function codes(...own: readonly number[]): CodeSet {
  const set = new Uint8Array(1100);
  for (const c of [...EVERY, ...own]) set[c] = 1;
  return set;
}

/** The same codes, each understood where it stands first only: what stands again under another mark means something else. */
export const onceOf = (set: CodeSet): CodeSet => set.map((k) => (k === 1 ? 2 : 0));

/** The codes of a table record: its name, handle, owner and marks, and `own`. */
export function recordCodes(...own: readonly number[]): CodeSet {
  const set = new Uint8Array(1100);
  for (const c of [0, 2, 5, 100, 330, ...own]) set[c] = 1;
  return set;
}

/**
 * The tags of a record that `known` does not name, in the source's own form, each run under the subclass mark (100) it
 * stood under; `undefined` when there are none. Groups in braces (102) are kept whole, and so is an embedded object.
 * Extended data is left out.
 */
export function restOf(bag: Bag, known: CodeSet): string | undefined {
  const { codes: list, count, total } = bag;
  let i = 0;
  const once = known[0] === 2;
  const met = once ? new Set<number>() : null;
  const knows = (code: number): boolean => {
    if (known[code] !== 2) return known[code] === 1;
    if (code === 100 || !met) return true;
    const first = !met.has(code);
    met.add(code);
    return first;
  };
  while (i < count && knows(list[i]!)) i++;
  met?.clear();
  if (i === total || (i < total && list[i]! >= 1000 && noneAfter(bag, i))) return undefined;
  let out = '';
  let mark = -1;
  let written = -2;
  let inGroup = false;
  for (i = 0; i < total; i++) {
    const code = list[i]!;
    if (code >= 1000) break;
    if (code === 100 && !inGroup && i < count) mark = i;
    if (code === 102 && bag.rawAt(i).startsWith('{')) inGroup = true;
    if (inGroup || i >= count || !knows(code)) {
      if (written !== mark && mark >= 0) out += `100\n${bag.rawAt(mark)}\n`;
      written = mark;
      out += `${code}\n${bag.rawAt(i)}\n`;
    }
    if (code === 102 && bag.rawAt(i).startsWith('}')) inGroup = false;
  }
  return out === '' ? undefined : out;
}

/** Nothing but extended data follows. */
function noneAfter(bag: Bag, i: number): boolean {
  for (; i < bag.total; i++) if (bag.codes[i]! < 1000) return false;
  return true;
}

/** The extended data of a record in the source's own form. */
export function extendedOf(bag: Bag): string | undefined {
  const { codes: list, total } = bag;
  if (total === 0 || list[total - 1]! < 1000) return undefined;
  let i = total - 1;
  while (i > 0 && list[i - 1]! >= 1000) i--;
  return bag.rawFrom(i);
}
