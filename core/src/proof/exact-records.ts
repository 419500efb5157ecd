import type { Drawing } from '../drawing/drawing.js';
import type { CarryOver, LedgerRow } from '../drawing/ledger.js';
import { renamesIn } from '../drawing/ledger.js';
import { wordTable } from '../drawing/word-table.js';
import { isSame } from '../geometry/tolerance.js';
import type { ProofItem } from './proof-item.js';

/** Header variables that every writing states anew, or that are about the program. */
const STATED_ANEW = new Set([
  '$ACADVER',
  '$EXTMIN',
  '$EXTMAX',
  '$HANDSEED',
  '$HANDLING',
  '$ACADMAINTVER',
  '$DWGCODEPAGE',
  '$INSUNITS',
  '$MEASUREMENT',
  '$TDUPDATE',
  '$TDUUPDATE',
  '$TDUSRTIMER',
  '$TDINDWG',
  '$LASTSAVEDBY',
  '$FINGERPRINTGUID',
  '$VERSIONGUID',
  '$REQUIREDVERSIONS',
]);

/** Fields of records that only say where they stand in a file. */
const OWN = new Set([
  'key',
  'rest',
  'complex',
  'beginKey',
  'endKey',
  'beginRest',
  'entities',
  'unitCode',
  'name',
  'flags',
  'lastHeight',
  'parent',
  'sheet',
]);

interface Table {
  id: string;
  title: string;
  carryOver: CarryOver;
  of: (d: Drawing) => Iterable<{ name: string }>;
  /** Rows that account for a record that came out otherwise, or under another name. */
  fields?: Partial<Record<string, RegExp>>;
}

const TABLES: readonly Table[] = [
  {
    id: 'layer-states',
    title: 'Layers: colour, linetype, weight, off, frozen, locked, plotted',
    carryOver: 'layers',
    of: (d) => d.layers,
  },
  { id: 'linetypes', title: 'Linetypes: their dashes', carryOver: 'colour', of: (d) => d.linetypes },
  { id: 'text-styles', title: 'Text styles', carryOver: 'text', of: (d) => d.textStyles },
  { id: 'dimension-styles', title: 'Dimension styles', carryOver: 'text', of: (d) => d.dimensionStyles },
  {
    id: 'block-records',
    title: 'Blocks: name, base point, reference',
    carryOver: 'links',
    of: (d) => [...d.blocks.values()].filter((b) => !b.sheet),
  },
  { id: 'sheets', title: 'Sheets', carryOver: 'links', of: (d) => d.sheets },
];

/** The records of a drafting file and its settings, held against those that were written, name by name. */
export function recordItems(expected: Drawing, found: Drawing, ledger: readonly LedgerRow[]): ProofItem[] {
  const items: ProofItem[] = [];
  const sameForm = expected.format === found.format && expected.version === found.version;
  const item = (id: string, title: string, carryOver: CarryOver, count: number, wrong: readonly string[]): void =>
    void items.push({
      id: `exact-${id}`,
      carryOver,
      title,
      state: wrong.length === 0 ? 'kept' : 'atRisk',
      expected: `${count} alike`,
      found: wrong.length === 0 ? `${count} alike` : `${wrong.length} otherwise`,
      explanation: wrong.slice(0, 3).join('; ') + (wrong.length > 3 ? `; and ${wrong.length - 3} more` : ''),
    });
  for (const { id, title, carryOver, of } of TABLES) {
    const there = new Map([...of(found)].map((r) => [r.name.toLowerCase(), r]));
    const want = [...of(expected)];
    if (want.length === 0) continue;
    const wrong: string[] = [];
    const names = renamesIn(ledger, id === 'block-records' ? 'block' : 'layer');
    for (const r of want) {
      const name = r.name.toLowerCase();
      const got = there.get(((TRULY_NAMED.has(id) && names.get(name)) || name).toLowerCase()) ?? there.get(name);
      // Fonts of shapes have no name of their own.
      if (!got) {
        if (name !== '' && sameForm && !/^by(layer|block)$/.test(name)) wrong.push(`“${r.name}” is not there`);
        continue;
      }
      const field = sameForm ? differing(r, got) : null;
      if (field) wrong.push(`“${r.name}”: ${field}`);
    }
    item(id, title, carryOver, want.length, wrong);
  }
  if (sameForm && expected.header.size > 0) {
    const wrong: string[] = [];
    let count = 0;
    for (const [name, values] of expected.header) {
      if (STATED_ANEW.has(name) || !stands(expected, name, values)) continue;
      count++;
      const got = found.header.get(name);
      const value = (list: readonly [number, string][] | undefined): string =>
        (list ?? []).map(([, v]) => v.trim()).join(', ') || 'nothing';
      if (!got || !sameValues(values, got)) wrong.push(`${name} ${value(values)} became ${value(got)}`);
    }
    item('settings', 'Settings in the head of the file', 'links', count, wrong);
  }
  return items;
}

/** Tables whose records may get other names. */
const TRULY_NAMED = new Set(['layer-states', 'block-records']);

/** Whether a setting can stand: what it names has to be there. */
function stands(d: Drawing, name: string, [value]: readonly [number, string][]): boolean {
  if (name === '$TILEMODE') return d.sheets.length > 0;
  const tables = wordTable<readonly { name: string }[]>({
    $CLAYER: d.layers,
    $CELTYPE: d.linetypes,
    $TEXTSTYLE: d.textStyles,
    $DIMSTYLE: d.dimensionStyles,
  });
  const among = tables[name];
  const said = value?.[1].trim().toLowerCase();
  return (
    among === undefined || /^by(layer|block)$/.test(said ?? '') || among.some((r) => r.name.toLowerCase() === said)
  );
}

function differing(a: object, b: object): string | null {
  const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const field of new Set([...Object.keys(a), ...Object.keys(b)])) {
    // A sheet that states no paper is given one.
    if (OWN.has(field) || (field === 'paper' && p[field] === undefined)) continue;
    if (field === 'tags' ? !sameValues(p[field] as Tags, q[field] as Tags) : !sameValue(p[field], q[field]))
      return field;
  }
  return null;
}

type Tags = readonly (readonly [number, string])[];

/** Tags with the same codes and values, pointers aside: handles may have been given anew. */
function sameValues(a: Tags, b: Tags): boolean {
  const plain = (list: Tags): Tags => list.filter(([c]) => !((c >= 320 && c < 370) || (c >= 390 && c < 400)));
  const [p, q] = [plain(a), plain(b)];
  return p.length === q.length && p.every(([c, v], i) => c === q[i]![0] && sameValue(v.trim(), q[i]![1].trim()));
}

function sameValue(a: unknown, b: unknown): boolean {
  if (a === b || (empty(a) && empty(b))) return true;
  if (typeof a === 'number' && typeof b === 'number') return isSame(a, b) || Math.abs(a - b) < 1e-12;
  if (typeof a === 'string' && typeof b === 'string')
    return a.toLowerCase() === b.toLowerCase() || (a !== '' && b !== '' && isSame(Number(a), Number(b)));
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((k) => sameValue((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]));
}

const empty = (v: unknown): boolean => v === undefined || v === null || v === false || v === 0 || v === '';
