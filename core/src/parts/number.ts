import type { Part } from './find.js';
import type { SaidOfPart } from './said.js';
import { filledForm } from './said.js';

/** How numbers are given. */
export interface Numbering {
  /** What stands before, and after: forms such as `{kind}-`, counted apart for each of what they come to. */
  readonly prefix: string;
  /** So many digits at least. */
  readonly digits: number;
  readonly suffix: string;
  readonly first: number;
  /** Rows from top to bottom and in each from left to right, or the largest first. */
  readonly order: 'rows' | 'size';
  /** Parts whose middles differ less in height stand in one row (drawing units); 0 for half the height of the lowest part. */
  readonly row: number;
}

export const NUMBERING: Numbering = { prefix: '', digits: 2, suffix: '', first: 1, order: 'rows', row: 0 };

/** The order in which parts are numbered, by their places in the list. */
export function orderOf(parts: readonly Part[], { order, row }: Pick<Numbering, 'order' | 'row'>): number[] {
  const all = parts.map((_, i) => i);
  if (order === 'size') return all.sort((a, b) => parts[b]!.area - parts[a]!.area || a - b);
  const middle = (i: number): [number, number] => {
    const { minX, maxX, minY, maxY } = parts[i]!.box;
    return [(minX + maxX) / 2, (minY + maxY) / 2];
  };
  const lowest = parts.reduce((least, p) => Math.min(least, p.box.height), Infinity);
  const within = row > 0 ? row : lowest / 2;
  all.sort((a, b) => middle(b)[1] - middle(a)[1] || a - b);
  const rows: number[][] = [];
  for (const i of all) {
    const now = rows[rows.length - 1];
    // A row is as high as its first: it does not creep down from one to the next.
    if (now && middle(now[0]!)[1] - middle(i)[1] <= within) now.push(i);
    else rows.push([i]);
  }
  return rows.flatMap((list) => list.sort((a, b) => middle(a)[0] - middle(b)[0] || a - b));
}

/** The next numbers by a pattern for parts of which this is said, one after the other; none of them is taken. */
export function nextNumbers(parts: readonly SaidOfPart[], how: Numbering, taken: Iterable<string>): string[] {
  const used = new Set([...taken].map((n) => n.toLowerCase()));
  const next = new Map<string, number>();
  return parts.map((said) => {
    const [before, after] = [filledForm(how.prefix, said), filledForm(how.suffix, said)];
    const key = JSON.stringify([before, after]);
    for (let n = next.get(key) ?? how.first; ; n++) {
      const number = `${before}${String(n).padStart(how.digits, '0')}${after}`;
      if (used.has(number.toLowerCase())) continue;
      next.set(key, n + 1);
      return number;
    }
  });
}

/** What is wrong with numbers: parts that have none, and numbers that several have. Parts that are left out do not count. */
export function numberFaults(numbers: readonly (string | null)[]): { missing: number[]; twice: Map<string, number[]> } {
  const missing: number[] = [];
  const by = new Map<string, number[]>();
  numbers.forEach((n, i) => {
    const key = n?.trim().toLowerCase() ?? '';
    if (key === '') missing.push(i);
    else if (by.has(key)) by.get(key)!.push(i);
    else by.set(key, [i]);
  });
  return { missing, twice: new Map([...by].filter(([, list]) => list.length > 1)) };
}
