import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { LedgerRow, Target } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, readDrawing } from '../../src/index.js';
import { propertyName } from '../../src/formats/dwg/property-names.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { fonts } from '../helpers.js';

/*
 * Whatever is understood is carried or told: a value that is changed in a source changes what is written, or the ledger. One of each
 * code of each record is tried.
 * The files were made by an independent program (oracle/every-kind.py), with nothing left at its default.
 */

type Tag = readonly [number, string];
const textOf = (tags: readonly Tag[]): string => tags.map(([c, v]) => `${c}\n${v}\n`).join('');
const file = (name: string): Tag[] =>
  parseRaw(readFileSync(new URL(`../files/${name}`, import.meta.url), 'latin1')) as unknown as Tag[];

/** What is written of a file in its own version, with the words about it. */
function outcome(tags: readonly Tag[], target: Target): { all: string; ledger: LedgerRow[] } {
  const source = readDrawing(new Uint8Array(Buffer.from(textOf(tags), 'latin1')), 'source.dxf');
  const unit = source.drawing.unit ? null : 'mm';
  const prepared = prepare(source.drawing, { ...NO_DECISIONS, unit, layers: { mode: 'all', names: [] } }, [], {
    fonts: fonts(),
  });
  const made = deliver(prepared.drawing, target, 'source.dxf', fonts());
  const ledger = [...source.ledger, ...prepared.ledger, ...made.ledger];
  return { all: Buffer.from(made.bytes).toString('latin1') + JSON.stringify(ledger), ledger };
}

/** Bits of a flag that mean something, by record and code (DXF reference); of all others every small number does. */
const BITS: Record<string, number> = {
  'LAYER 70': 1 | 2 | 4 | 16 | 32 | 64,
  'LTYPE 70': 16 | 32 | 64,
  'DIMSTYLE 70': 16 | 32 | 64,
  'STYLE 70': 1 | 4 | 16 | 32 | 64,
  'STYLE 71': 2 | 4,
  'TEXT 71': 2 | 4,
  'ATTDEF 70': 1 | 2 | 4 | 8,
  'ATTRIB 70': 1 | 4 | 8,
  'ATTRIB 71': 2 | 4,
  'ATTDEF 71': 2 | 4,
  'LWPOLYLINE 70': 1 | 128,
  'POLYLINE 70': 1 | 2 | 4 | 8 | 128,
  'SPLINE 70': 1 | 2 | 8 | 16,
  '3DFACE 70': 1 | 2 | 4 | 8,
  'DIMENSION 70': 32 | 64 | 128,
  'ARC_DIMENSION 70': 32 | 128,
  'HATCH 70': 1,
  'IMAGE 70': 1 | 2 | 4 | 8,
  'WIPEOUT 70': 1 | 2 | 4 | 8,
  'MLINE 71': 1 | 2 | 4,
  'BLOCK 70': 4 | 8 | 16 | 32 | 64,
  'VERTEX 70': 1 | 2 | 8 | 16,
};
/** Values that a code can have, where it is a choice. */
const CHOICES: Record<string, readonly number[]> = {
  'HATCH 71': [0, 1],
  'HATCH 75': [0, 1, 2],
  'HATCH 76': [0, 1, 2],
  'HATCH 77': [0, 1],
  'HATCH 450': [0, 1],
  'HATCH 452': [0, 1],
  'MTEXT 71': [1, 2, 3, 4, 5, 6, 7, 8, 9],
  'MTEXT 73': [1, 2],
  'ATTRIB 72': [0, 1, 2, 3, 4, 5],
  'TEXT 72': [0, 1, 2, 3, 4, 5],
  'TEXT 73': [0, 1, 2, 3],
  'LAYER 290': [0, 1],
  'HEADER $CECOLOR 62': [0, 1, 256],
  'VIEWPORT 68': [0, 1, 2, 3],
  'LEADER 71': [0, 1],
  'LEADER 72': [0, 1],
  'BLOCK_RECORD 280': [0, 1],
  'IMAGE 280': [0, 1],
  'WIPEOUT 280': [0, 1],
  'IMAGEDEF 280': [0, 1],
  'DICTIONARY 280': [0, 1],
  ...Object.fromEntries(
    ['REGENMODE', 'FILLMODE', 'MIRRTEXT', 'DIMASO', 'DIMSHO', 'DIMTOFL'].map((v) => [`HEADER $${v} 70`, [0, 1]]),
  ),
  'DIMSTYLE 172': [0, 1],
};

/** What may change without a word, by record and code, and why. */
const SILENT: readonly (readonly [RegExp, string])[] = [
  [/^TABLE \d+$/, 'counts and names of tables follow from their records'],
  [
    /^HEADER \$(EXTMIN|EXTMAX|HANDSEED|ACADMAINTVER|DWGCODEPAGE) /,
    'worked out anew, or about the program that wrote it',
  ],
  [
    /^(LWPOLYLINE|LTYPE|SPLINE|HATCH|LEADER|POLYLINE|IMAGE|WIPEOUT) (90|91|93|95|96|97|98|66|72|73|74|76|78|79|453)$/,
    'counts, or marks of what follows',
  ],
  [/^(IMAGE|WIPEOUT) 71$/, 'two corners are a rectangle, more are not'],
  [/^POLYLINE (10|20|71|72)$/, 'always 0, or the count of what follows'],
  [/^(POLYLINE|HATCH) (10|20|30)$/, 'the first point is no place: always 0'],
  [/^(SEQEND|ENDBLK) 8$/, 'marks that end something lie where it does'],
  [/^VERTEX (10|20|30)$/, 'a face of a mesh has no place, and a corner in the plane no height'],
  [/^BLOCK (1|3)$/, 'the name again, and a path where there is no reference'],
  [/^APPID 70$/, 'flags of names that only label data'],
  [/^(CIRCLE|LINE|VIEWPORT) 67$/, 'which space it lies in follows from where it stands'],
  [/^LAYER 370$/, 'below 0 only -3 is a weight of a layer'],
  [/^HATCH (12|22|13|23|11|21|451)$/, 'directions at the ends of splines, told as cubic pieces; reserved'],
  [/^VERTEX 70$/, 'told of the whole polyline: it is fitted to its vertices'],
  [/^DICTIONARY 281$/, 'how doubles are treated on merging, of dictionaries that are made anew'],
  [/^HATCH 230$/, 'a normal along z is z, however long'],
  [/^VIEWPORT (1000|1001|1002|1070)$/, 'the marks round a view in release 12, and its snap and grid'],
  [/^LTYPE 72$/, 'how dashes meet: always A'],
];

/** The same of a DWG, which says some things in one way only. */
const SILENT_IN_DWG: readonly (readonly [RegExp, string])[] = [
  [/^HEADER \$(LASTSAVEDBY|REQUIREDVERSIONS) /, 'about the program that wrote it'],
  [/^HEADER \$DIMBLK[12]? /, 'an arrow that the drawing does not hold has no handle'],
  [/^VPORT (70|73)$/, 'counts and switches of the window on the screen'],
  [/^(LTYPE|LAYER|STYLE|BLOCK) 70$/, 'that it came from a reference: its name says so'],
  [/^(ATTDEF|TEXT) 31$/, 'a text lies at one height'],
  [/^SPLINE 70$/, 'that it is plane or straight follows from its points'],
  [/^DIMENSION 70$/, 'along which axis it measures, of one that measures along none'],
  [/^MLINE 2$/, 'the style that its handle leads to'],
  [/^MULTILEADER 296$/, 'that it shows a block follows from the block'],
  [/^VIEWPORT (68|69)$/, 'its number in the stack follows from the order'],
  [/^SPLINE (44|[123][123])$/, 'its fit points and directions at its ends, left out beside control points (a row)'],
  [/^MLINESTYLE 71$/, 'the count of what follows'],
];

/** Whether a row of a DWG's ledger says that a value has no place, whatever it is: of its whole record, or by name. */
function toldAnyhow(ledger: readonly LedgerRow[], name: string): boolean {
  const [record = '', code = ''] = name.split(' ');
  return ledger.some(({ code: reason, args = {} }) => {
    if (reason === 'objects-not-in-dwg' || reason === 'objects-without-place')
      return String(args.what)
        .split(/[^A-Z_0-9]+/)
        .includes(record);
    return (
      reason === 'property-not-in-dwg' && args.record === record && args.what === propertyName(record, Number(code))
    );
  });
}

/** Of each code of each record so many values are tried: the first stands for all. */
const MOST_PER_CODE = 1;

interface Mutation {
  at: number;
  name: string;
  value: string;
}

function mutations(tags: readonly Tag[]): Mutation[] {
  const out: Mutation[] = [];
  const met = new Map<string, number>();
  const names = new Map<number, string[]>();
  let [record, section, variable, table] = ['', '', '', ''];
  let own = true;
  for (const [i, [code, value]] of tags.entries()) {
    if (code === 0) [record, own] = [value.trim(), isOwn(tags, i)];
    else if (code === 2 && record === 'SECTION') section = value.trim();
    else if (code === 2 && record === 'TABLE') table = value.trim();
    else if (code === 9) variable = value.trim();
    if (code === 2 && ['LAYER', 'LTYPE', 'STYLE'].includes(record)) {
      const code = { LAYER: 8, LTYPE: 6, STYLE: 7 }[record]!;
      names.set(code, [...(names.get(code) ?? []), value.trim()]);
    }
    if (code === 0 || code === 9 || code === 100 || code === 5 || code === 105 || code === 999) continue;
    if (record === 'SECTION' && section !== 'HEADER') continue;
    if (section === 'CLASSES' || (section === 'TABLES' && record === 'TABLE' && table === '')) continue;
    if (!own) continue;
    const key = section === 'HEADER' ? `HEADER ${variable} ${code}` : `${record} ${code}`;
    const n = met.get(key) ?? 0;
    met.set(key, n + 1);
    if (n >= MOST_PER_CODE) continue;
    for (const other of otherValues(key, code, value.trim(), names)) out.push({ at: i, name: key, value: other });
  }
  return out;
}

/** What stands for a space, or for no linetype of its own, is made anew. */
function isOwn(tags: readonly Tag[], at: number): boolean {
  const record = tags[at]![1].trim();
  const name = tags.slice(at + 1, at + 20).find(([c]) => c === 2)?.[1] ?? '';
  return !((record === 'BLOCK' && /_space/i.test(name)) || (record === 'LTYPE' && /^by/i.test(name)));
}

/** Values that mean something else than the one there is. */
function otherValues(
  key: string,
  code: number,
  value: string,
  names: ReadonlyMap<number, readonly string[]>,
): string[] {
  const between = (a: number, b: number): boolean => code >= a && code <= b;
  // Pointers and marks of groups lead elsewhere; bytes are carried as they are.
  if (code === 102 || between(310, 369) || between(390, 399) || between(480, 481) || code === 1005 || code === 1004)
    return [];
  if (between(10, 59) || between(110, 149) || between(210, 239) || between(460, 469) || between(1010, 1059))
    return [String(Number(value) * 1.01 + 0.013)];
  if (CHOICES[key]) return CHOICES[key].map(String).filter((v) => v !== value);
  if (BITS[key] !== undefined)
    return [1, 2, 4, 8, 16, 32, 64, 128].filter((b) => (BITS[key]! & b) !== 0).map((b) => String(Number(value) ^ b));
  if (between(290, 299)) return [String(1 - Number(value))];
  if (
    between(60, 99) ||
    between(170, 179) ||
    between(270, 289) ||
    between(370, 389) ||
    between(400, 409) ||
    between(420, 429) ||
    between(440, 459) ||
    between(1060, 1071) ||
    between(160, 169)
  )
    return [String(Number(value) + 1)];
  // A name that the file has not is told by other checks: another that it has is another meaning.
  const other = names.get(code)?.find((n) => n.toLowerCase() !== value.toLowerCase() && !/^by(layer|block)$/i.test(n));
  if ([6, 7, 8].includes(code)) return other === undefined ? [] : [other];
  return [`${value}x`];
}

const among = (list: typeof SILENT, name: string): boolean => list.some(([pattern]) => pattern.test(name));

describe.each([
  ['every-kind.dxf', 'dxf', '2018', 600],
  ['every-kind-r12.dxf', 'dxf', 'R12', 200],
  ['every-kind.dxf', 'dwg', '2018', 500],
] as const)('%s, written as %s %s', (name, format, version, least) => {
  it('carries or tells every value', { timeout: 240_000 }, () => {
    const tags = file(name);
    const target: Target = { ...DEFAULT_TARGETS[format], version };
    const before = outcome(tags, target);
    const all = mutations(tags);
    const asked = all.filter(
      (m) =>
        !among(SILENT, m.name) &&
        !(format === 'dwg' && (among(SILENT_IN_DWG, m.name) || toldAnyhow(before.ledger, m.name))),
    );
    expect(asked.length).toBeGreaterThan(least);
    const lost = asked.filter(({ at, value }) => {
      const changed = tags.slice();
      changed[at] = [tags[at]![0], value];
      return outcome(changed, target).all === before.all;
    });
    expect(lost.map((m) => `${m.name}: ${tags[m.at]![1].trim()} → ${m.value}`)).toEqual([]);
  });
});
