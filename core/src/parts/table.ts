import { csvOf } from '../drawing/csv.js';
import type { HoleCount, PartRow } from './list.js';

const digits = (v: number): number => Number(v.toPrecision(9));

/** A line of a parts list without what only the program itself can use. */
export type PlainRow = Omit<PartRow, 'members' | 'numbered' | 'leftOut' | 'byHand' | 'refs' | 'said'>;

export const plainRow = ({
  members: _m,
  numbered: _n,
  leftOut: _l,
  byHand: _b,
  refs: _r,
  said: _s,
  ...row
}: PartRow): PlainRow => row;

/** Holes in words: `2 × Ø 6 through, 1 other`. */
export const holesText = (holes: readonly HoleCount[]): string =>
  holes
    .map(({ diameter, count, through, blind }) => {
      const depth = through === count ? ' through' : blind === count ? ' not through' : '';
      const mixed = through + blind > 0 && depth === '' ? ` (${through} through, ${blind} not)` : '';
      return `${count} × ${diameter === null ? 'other' : `Ø ${digits(diameter)}`}${depth}${mixed}`;
    })
    .join(', ');

/** The head of a parts list; lengths in the unit given. */
export const partsHead = (unit: string): string[] => [
  'number',
  'name',
  'kind',
  'material',
  'thickness',
  'grain',
  'side',
  `length, ${unit}`,
  `width, ${unit}`,
  `area, ${unit}²`,
  `cut length, ${unit}`,
  'holes',
  'quantity',
  'mirrored',
  'labels',
];

/** A line of a parts list, cell by cell as in the head. */
export const partsLine = (r: PlainRow): (string | number)[] => [
  r.number,
  r.name,
  r.kind,
  r.material,
  r.thickness,
  r.grain,
  r.side,
  digits(r.length),
  digits(r.width),
  digits(r.area),
  digits(r.cutLength),
  holesText(r.holes),
  r.quantity,
  r.mirrored,
  r.labels.join(' / '),
];

/** Parts of several drawings as comma-separated values; where there are several each line says whose it is. */
export function partsCsv(lists: readonly { name: string; rows: readonly PlainRow[] }[], unit: string): string {
  const many = lists.length > 1;
  return csvOf([
    [...partsHead(unit), ...(many ? ['drawing'] : [])],
    ...lists.flatMap(({ name, rows }) => rows.map((r) => [...partsLine(r), ...(many ? [name] : [])])),
  ]);
}
