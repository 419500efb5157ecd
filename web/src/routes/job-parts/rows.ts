import type { HoleCount, Kept, PartChange } from '@scalaria/core';
import { PART_FIELDS, conversion, holesText, isUnitName, nextNumbers, numberFaultsOf, valuesOf } from '@scalaria/core';
import type { JobPartRow, JobParts } from '../../api/types';

/** A line of the table: a part, the drawing it is in, and its measures in the unit of the table. */
export interface TableRow extends JobPartRow {
  /** Unique in the job. */
  id: string;
  drawing: { id: string; name: string; revision: number };
  unit: string;
  numberState: 'given' | 'none' | 'twice';
}

/** The unit that measures of all drawings are told in: that of the first that has one. */
export const tableUnit = (parts: JobParts): string =>
  parts.drawings.find((d) => d.listed && d.unit !== null)?.unit ?? 'units';

/** All parts of a job, in the order of its drawings and of their numbering, measured in one unit where both are known. */
export function tableRows(parts: JobParts): TableRow[] {
  const unit = tableUnit(parts);
  const rows = parts.drawings
    .filter((d) => d.listed)
    .flatMap((d) => {
      const own = d.unit ?? 'units';
      const k = isUnitName(own) && isUnitName(unit) ? conversion(own, unit) : 1;
      const told = isUnitName(own) && isUnitName(unit) ? unit : own;
      return d.rows.map((r) => ({
        ...r,
        id: `${d.id} ${r.key}`,
        drawing: { id: d.id, name: d.name, revision: d.revision ?? 1 },
        unit: told,
        length: r.length * k,
        width: r.width * k,
        area: r.area * k * k,
        cutLength: r.cutLength * k,
        holes: r.holes.map((h): HoleCount => ({ ...h, diameter: h.diameter === null ? null : h.diameter * k })),
      }));
    });
  const { missing, twice } = numberFaultsOf(rows);
  const none = new Set(missing);
  const several = new Set([...twice.values()].flat());
  return rows.map((r) => ({ ...r, numberState: none.has(r) ? 'none' : several.has(r) ? 'twice' : 'given' }));
}

/** What a table can be sorted by. */
export const SORTS = {
  number: 'Number',
  name: 'Name',
  drawing: 'Drawing',
  material: 'Material',
  thickness: 'Thickness',
  length: 'Length × width',
  area: 'Area',
  holes: 'Holes',
  cutLength: 'Cut length',
  quantity: 'Quantity',
  wentOut: 'Went out in',
} as const;
export type SortKey = keyof typeof SORTS;
export interface Sort {
  by: SortKey;
  down: boolean;
}

const inOrder = new Intl.Collator('en', { numeric: true });

function valueOf(r: TableRow, by: SortKey): string | number {
  switch (by) {
    case 'drawing':
      return r.drawing.name;
    case 'holes':
      return r.holes.reduce((n, h) => n + h.count, 0);
    case 'wentOut':
      return r.leftOut !== null ? '\uffff' : (r.wentOut[0]?.file ?? '');
    default:
      return r[by];
  }
}

/** The rows in an order; equal ones stay as they were. */
export function sorted(rows: readonly TableRow[], sort: Sort | null): TableRow[] {
  if (!sort) return [...rows];
  const sign = sort.down ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [x, y] = [valueOf(a, sort.by), valueOf(b, sort.by)];
    return sign * (typeof x === 'number' && typeof y === 'number' ? x - y : inOrder.compare(String(x), String(y)));
  });
}

/** What is shown of all parts. */
export const SHOWN = {
  all: 'all parts',
  faults: 'without a number of their own',
  open: 'still to go out',
  out: 'left out',
} as const;
export type Shown = keyof typeof SHOWN;

/** Whether a part is shown: by what is looked for among its words, and by how far it is. */
export function isShown(r: TableRow, sought: string, shown: Shown): boolean {
  if (shown === 'faults' && r.numberState === 'given') return false;
  if (shown === 'open' && (r.leftOut !== null || r.wentOut.length > 0)) return false;
  if (shown === 'out' && r.leftOut === null) return false;
  const words = sought.trim().toLowerCase().split(/\s+/);
  const text = [r.number, r.name, r.kind, r.material, r.thickness, r.drawing.name, holesText(r.holes), ...r.labels]
    .join(' ')
    .toLowerCase();
  return words.every((w) => text.includes(w));
}

/** Numbers proposed for parts, by their id: the next by the rules, none that any part of the job has or had. */
export function proposals(
  asked: readonly TableRow[],
  all: readonly TableRow[],
  gone: readonly string[],
  rules: Kept,
): Map<string, string> {
  const { numbering } = valuesOf(PART_FIELDS, rules, null);
  const own = new Set(asked.map((r) => r.id));
  const taken = [...all.filter((r) => !own.has(r.id)).map((r) => r.number), ...gone].filter((n) => n !== '');
  const numbers = nextNumbers(
    asked.map(({ name, kind, material, thickness }) => ({ name, kind, material, thickness })),
    { ...numbering, row: 0 },
    taken,
  );
  return new Map(asked.map((r, i) => [r.id, numbers[i]!]));
}

/** What a part is called in a table that travels: two drawings of one file have parts of one key. */
export const tagged = (r: TableRow): TableRow => ({ ...r, key: `${r.key}-${r.drawing.id.slice(0, 8)}` });

/** A change of one part, as it is sent. */
export interface SentChange {
  drawing: string;
  key: string;
  change: PartChange;
}
export const changeOf = (r: TableRow, change: PartChange): SentChange => ({
  drawing: r.drawing.id,
  key: r.key,
  change,
});
