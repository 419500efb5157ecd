import { cellsOf } from '../drawing/csv.js';
import type { ListedPart, PartChange } from './book.js';
import type { Sayable } from './said.js';
import { holesText } from './table.js';

/** A line of a job's parts list: a part with the drawing it is in and where it went. */
export interface JobPart extends ListedPart {
  readonly drawing: string;
  readonly revision: number;
  readonly unit: string;
  /** Files that it went out in. */
  readonly wentOut: readonly string[];
}

/** Columns that corrections are read from, by what they change. */
const WORDS = ['name', 'kind', 'material', 'thickness', 'quantity', 'grain', 'side'] as const;
const LEFT_OUT = 'left out because';

/** The head of a job's parts list. Lines are told apart by the first column, whatever is changed in the others. */
export const JOB_PARTS_HEAD = [
  'part',
  'number',
  ...WORDS,
  LEFT_OUT,
  'length',
  'width',
  'unit',
  'area',
  'cut length',
  'holes',
  'mirrored',
  'labels',
  'drawing',
  'revision',
  'file',
];

const digits = (v: number): number => Number(v.toPrecision(9));

/** A line of it, cell by cell as in the head. */
export const jobPartsLine = (r: JobPart): (string | number)[] => [
  r.key,
  r.number,
  r.name,
  r.kind,
  r.material,
  r.thickness,
  r.quantity,
  r.grain,
  r.side,
  r.leftOut ?? '',
  digits(r.length),
  digits(r.width),
  r.unit,
  digits(r.area),
  digits(r.cutLength),
  holesText(r.holes),
  r.mirrored,
  r.labels.join(' / '),
  r.drawing,
  r.revision,
  r.wentOut.join(' / '),
];

/** What a table of corrections would change of one part, and in words. */
export interface Correction {
  readonly key: string;
  readonly change: PartChange;
  readonly said: readonly { readonly what: string; readonly from: string; readonly to: string }[];
}

export interface Corrections {
  readonly changes: readonly Correction[];
  /** Lines that say what is so already. */
  readonly same: number;
  /** Lines that cannot be taken, by their number in the table, and why. */
  readonly faults: readonly { readonly line: number; readonly why: string }[];
}

/** More lines than these are no list of parts. */
const MOST_LINES = 100_000;

/**
 * What a table says otherwise than the list does. Lines are found by the column `part`, or where there is none by a number that one
 * part alone has. Columns that are not there change nothing; measured ones are never read. Nothing is changed here.
 */
export function correctionsOf(text: string, rows: readonly ListedPart[]): Corrections {
  const [head = [], ...lines] = cellsOf(text);
  const column = new Map(head.map((name, i) => [name.trim().toLowerCase(), i]));
  const faults: { line: number; why: string }[] = [];
  if (!column.has('part') && !column.has('number'))
    return {
      changes: [],
      same: 0,
      faults: [{ line: 1, why: 'its first line names neither a column part nor a column number' }],
    };
  if (lines.length > MOST_LINES)
    return { changes: [], same: 0, faults: [{ line: MOST_LINES + 1, why: `it has more than ${MOST_LINES} lines` }] };
  const byKey = new Map(rows.map((r) => [r.key, r]));
  const byNumber = new Map<string, ListedPart | null>();
  for (const r of rows)
    if (r.number !== '') byNumber.set(r.number.toLowerCase(), byNumber.has(r.number.toLowerCase()) ? null : r);
  const seen = new Set<string>();
  const changes: Correction[] = [];
  let same = 0;
  lines.forEach((cells, i) => {
    const at = (name: string): string | undefined => {
      const c = column.get(name);
      return c === undefined ? undefined : cells[c]?.trim();
    };
    const tell = (why: string): void => void faults.push({ line: i + 2, why });
    const [key, number] = [at('part'), at('number')];
    const row = key ? byKey.get(key) : number ? byNumber.get(number.toLowerCase()) : undefined;
    if (row === null) return tell(`several parts have the number ${number}`);
    if (!row)
      return tell(key ? `no part here is ${key}` : number ? `no part has the number ${number}` : 'it names no part');
    if (seen.has(row.key)) return tell('the same part came before');
    seen.add(row.key);
    const made = correctionOf(row, at, key !== undefined && key !== '');
    if (typeof made === 'string') return tell(made);
    if (made.said.length === 0) same++;
    else changes.push(made);
  });
  return { changes, same, faults };
}

function correctionOf(row: ListedPart, at: (name: string) => string | undefined, byKey: boolean): Correction | string {
  const said: { what: string; from: string; to: string }[] = [];
  const differs = (what: string, from: string, to: string | undefined): to is string => {
    if (to === undefined || to === from) return false;
    // What the drawing says can be replaced, but not taken away: an empty cell leaves it.
    if (
      to === '' &&
      what !== LEFT_OUT &&
      (what === 'number' ? row.numbered === 'said' : !row.byHand.includes(what as Sayable))
    )
      return false;
    said.push({ what, from, to });
    return true;
  };
  const words: Record<string, string> = {};
  for (const name of WORDS) {
    const to = at(name);
    if (name === 'quantity' && to !== undefined && !/^[1-9]\d{0,6}$/.test(to))
      return `its quantity is no whole number above nothing: ${to === '' ? 'empty' : to}`;
    if (differs(name, String(row[name]), to)) words[name] = to;
  }
  const number = at('number');
  const isNumber = byKey && differs('number', row.number, number);
  const out = at(LEFT_OUT);
  const isOut = differs(LEFT_OUT, row.leftOut ?? '', out);
  return {
    key: row.key,
    said,
    change: {
      ...(isNumber && { number: number! }),
      ...(Object.keys(words).length > 0 && { words }),
      ...(isOut && { leftOut: out === '' ? null : out! }),
    },
  };
}
