import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { ENTITY_READERS } from '../../src/formats/drafting/read-entities.js';
import { dxf, fonts, textOf } from '../helpers.js';
import { buildScene, formatById, readDrawing } from '../../src/index.js';
import { writeDxf } from './formats.js';
import { tags } from '../tags.js';

/** The least that each kind of record needs to make sense. */
const P = [10, 0, 20, 0, 30, 0];
/** Lines without end reach as far as the rest of the drawing does. */
const FIELD = tags('0 CIRCLE  8 0  10 0  20 0  30 0  40 50');
const Q = [11, 10, 21, 5, 31, 0];
const RECORDS: Record<string, readonly (string | number)[]> = {
  LINE: [...P, ...Q],
  POINT: P,
  CIRCLE: [...P, 40, 3],
  ARC: [...P, 40, 3, 50, 0, 51, 90],
  ELLIPSE: [...P, ...Q, 40, 0.5, 41, 0, 42, 6],
  LWPOLYLINE: [90, 3, 70, 1, 10, 0, 20, 0, 42, 1, 10, 5, 20, 0, 10, 5, 20, 5],
  SPLINE: [
    70,
    8,
    71,
    3,
    72,
    8,
    73,
    4,
    ...[0, 0, 0, 0, 1, 1, 1, 1].flatMap((k) => [40, k]),
    ...[
      [0, 0],
      [1, 3],
      [4, 3],
      [5, 0],
    ].flatMap(([x, y]) => [10, x!, 20, y!, 30, 0]),
  ],
  RAY: [...P, 11, 1, 21, 0, 31, 0, ...FIELD],
  XLINE: [...P, 11, 1, 21, 0, 31, 0, ...FIELD],
  TEXT: [...P, 40, 2, 1, 'A'],
  ATTDEF: [...P, ...tags('40 2  1 A  2 NO  3 Number?  70 0')],
  MTEXT: [...P, 40, 2, 41, 20, 71, 1, 1, 'one\\Ptwo'],
  INSERT: [2, 'B', ...P],
  HATCH: [
    ...P,
    ...tags(`
  2 SOLID  70 1  71 0  91 1  92 3  72 0  73 1  93 3  10 0  20 0  10 9  20 0  10 9  20 9  97 0  75 0  76 1
  98 0
`),
  ],
  SOLID: [...P, ...Q, ...tags('12 0  22 9  32 0  13 9  23 9  33 0')],
  TRACE: [...P, ...Q, ...tags('12 0  22 9  32 0  13 9  23 9  33 0')],
  '3DFACE': [...P, ...Q, ...tags('12 9  22 9  32 0  13 0  23 9  33 0')],
  DIMENSION: tags('2 *D1  10 0  20 5  30 0  70 33  1 ""  3 Standard  13 0  23 0  33 0  14 10  24 0  34 0'),
  ARC_DIMENSION: [2, '*D1', ...P, ...tags('70 5  13 2  23 0  33 0  14 0  24 2  34 0  15 0  25 0  35 0')],
  LEADER: [...tags('3 Standard  71 1  72 0  73 3  76 2'), ...P, ...tags('10 9  20 5  30 0')],
  IMAGE: [
    ...P,
    ...tags(`
  11 0.1  21 0  31 0  12 0  22 0.1  32 0  13 64  23 48  340 0  70 7  71 1  91 2  14 -0.5  24 -0.5  14 63.5
  24 47.5
`),
  ],
  WIPEOUT: [
    ...P,
    ...tags('11 5  21 0  31 0  12 0  22 5  32 0  13 1  23 1  70 7  71 1  91 2  14 -0.5  24 -0.5  14 0.5  24 0.5'),
  ],
  VIEWPORT: [67, 1, ...P, ...tags('40 100  41 80  68 2  69 2  12 0  22 0  16 0  26 0  36 1  17 0  27 0  37 0  45 50')],
  POLYLINE: [
    66,
    1,
    ...P,
    ...tags('70 8  0 VERTEX  8 0'),
    ...P,
    ...tags('70 32  0 VERTEX  8 0  10 9  20 9  30 9  70 32  0 SEQEND  8 0'),
  ],
  MULTILEADER: [
    300,
    'CONTEXT_DATA{',
    40,
    1,
    ...P,
    ...tags(`
  41 2  140 1  290 1  304 A  12 9  22 9  32 0  302 LEADER{  290 1  10 5  20 5  30 0  11 1  21 0  31 0
  40 2  304 LEADER_LINE{
`),
    ...P,
    ...tags('305 }  303 }  301 }  170 1'),
  ],
  MLINE: [
    ...tags('2 STANDARD  40 1  70 0  71 1  72 2  73 1'),
    ...P,
    ...tags(`
  11 0  21 0  31 0  12 1  22 0  32 0  13 0  23 1  33 0  74 1  41 0  75 0  11 9  21 0  31 0  12 1  22 0
  32 0  13 0  23 1  33 0  74 1  41 0  75 0
`),
  ],
  TOLERANCE: [3, 'Standard', ...P, 1, '{\\Fgdt;j}%%v0.1', ...tags('11 1  21 0  31 0')],
  HELIX: [
    ...tags('100 AcDbSpline  70 8  71 1  72 4  73 2  40 0  40 0  40 1  40 1'),
    ...P,
    ...tags('10 9  20 9  30 0  100 AcDbHelix  90 29  91 63'),
    ...P,
  ],
  MPOLYGON: [
    ...P,
    ...tags('2 SOLID  70 1  71 0  91 1  92 2  72 0  73 1  93 3  10 0  20 0  10 9  20 0  10 9  20 9  75 0'),
  ],
  MESH: [
    71,
    2,
    72,
    0,
    91,
    0,
    92,
    3,
    ...P,
    ...tags('10 9  20 0  30 0  10 9  20 9  30 0  93 4  90 3  90 0  90 1  90 2  94 0  95 0'),
  ],
  OLE2FRAME: tags('70 2  3 x  10 0  20 9  30 0  11 9  21 0  31 0  71 2'),
  REGION: [
    70,
    1,
    1,
    encode('400 0 1 0'),
    1,
    encode('x'),
    1,
    encode('1'),
    1,
    encode('edge $-1 $1 $2 $-1 $3 forward #'),
    1,
    encode('vertex $-1 $0 $4 #'),
    1,
    encode('vertex $-1 $0 $5 #'),
    1,
    encode('straight-curve $-1 0 0 0 1 0 0 #'),
    1,
    encode('point $-1 0 0 0 #'),
    1,
    encode('point $-1 9 0 0 #'),
  ],
  ACAD_TABLE: [2, '*D1', ...P, ...Q],
  ACAD_PROXY_ENTITY: [90, 498, 91, 500, 92, 80, 310, proxyCircle()],
  '3DSOLID': [70, 1, 1, 'ozzzz'],
  SHAPE: [...P, 40, 2, 2, 'ARROW'],
  PDFUNDERLAY: [340, '0', ...P, 41, 1, 42, 1, 43, 1],
};

/** Text as bodies store it: 159 minus each character but the blank. */
function encode(text: string): string {
  return [...text]
    .map((c) => (c === ' ' ? c : String.fromCharCode(159 - c.charCodeAt(0))))
    .join('')
    .replace(/\^/g, '^ ');
}
/** A preview of one circle: size and count, then a chunk of size 64 and type 2. */
function proxyCircle(): string {
  const view = new DataView(new ArrayBuffer(72));
  view.setInt32(0, 72, true);
  view.setInt32(4, 1, true);
  view.setInt32(8, 64, true);
  view.setInt32(12, 2, true);
  [1, 2, 0, 5, 0, 0, 1].forEach((v, i) => view.setFloat64(16 + 8 * i, v, true));
  return Array.from(new Uint8Array(view.buffer), (b) => b.toString(16).padStart(2, '0'))
    .join('')
    .toUpperCase();
}

const blocks = [
  ...tags(`
  0 BLOCK  8 0  2 B  70 0  10 0  20 0  30 0  0 POINT  8 0  10 0  20 0  30 0  0 ENDBLK  8 0  0 BLOCK  8 0
  2 *D1  70 1  10 0  20 0  30 0  0 LINE  8 0
`),
  ...P,
  ...Q,
  0,
  'ENDBLK',
  8,
  '0',
];

/** What stands in the spaces of a written file: the kinds of its entities, followers aside. */
function kindsIn(bytes: Uint8Array): string {
  const text = textOf(bytes);
  const mark = '\r\nENTITIES\r\n';
  const tags = text.slice(text.indexOf(mark) + mark.length).split('\r\n');
  const found: string[] = [];
  for (let i = 0; i + 1 < tags.length && tags[i + 1] !== 'ENDSEC'; i += 2)
    if (tags[i]!.trim() === '0') found.push(tags[i + 1]!);
  return [...new Set(found)].filter((k) => !['VERTEX', 'SEQEND'].includes(k)).join(', ') || '–';
}

/** What the code does with a kind of record, in the words of the table. */
function row(type: string): string[] {
  const { drawing } = readDrawing(
    dxf([0, type, 5, 'A1', 8, '0', ...RECORDS[type]!], { blocks, version: 'AC1032' }),
    'a.dxf',
  );
  const e = drawing.entities[0]!;
  const scene = buildScene(drawing, fonts(), e.sheet === undefined ? {} : { sheet: e.sheet });
  const field = drawing.entities.length > 1;
  const own = (list: string, other: string): string =>
    field
      ? list
          .split(', ')
          .filter((k) => k !== other)
          .join(', ')
      : list;
  const written = (version: string): string =>
    own(kindsIn(writeDxf(drawing, { version, unit: 'mm', fonts: fonts() }).bytes), 'CIRCLE');
  const svg = textOf(formatById('svg')!.write(drawing, { version: '1.1', unit: 'mm', fonts: fonts() }).bytes);
  const elements = [
    ...new Set([...svg.matchAll(/<(line|circle|ellipse|path|polyline|polygon|text|image)\b/g)].map((m) => m[1])),
  ];
  return [
    type,
    e.kind === 'opaque' ? (e.drawn || e.picture ? 'opaque, decoded' : 'opaque') : e.kind,
    scene.chords + scene.triangles > 0 ? 'yes' : 'no',
    written('R12'),
    written('2000'),
    written('2018'),
    own(elements.join(', '), 'circle') || '–',
  ];
}

const TITLE = ['record', 'read as', 'shown', 'in R12', 'in 2000', 'in 2018', 'in SVG'];

describe('the table of entities in docs/formats.md', () => {
  const document = readFileSync(fileURLToPath(new URL('../../../docs/formats.md', import.meta.url)), 'utf8');
  const start = document.indexOf(`| ${TITLE[0]}`, document.indexOf('## DXF'));
  const lines = document.slice(start).split('\n');
  const rows = lines
    .slice(
      0,
      lines.findIndex((l) => !l.startsWith('|')),
    )
    .map((l) =>
      l
        .split('|')
        .slice(1, -1)
        .map((c) => c.trim()),
    );

  it('has a row for every kind the reader knows', () => {
    const listed = rows.slice(2).map((r) => r[0]!);
    expect(rows[0]).toEqual(TITLE);
    expect(listed.sort()).toEqual(Object.keys(RECORDS).sort());
    for (const type of Object.keys(ENTITY_READERS)) expect(listed).toContain(type);
  });
  it.each(Object.keys(RECORDS))('%s: says what the code does', (type) => {
    expect(rows.find((r) => r[0] === type)).toEqual(row(type));
  });
  if (process.env['SHOW_TABLE'])
    it('can be printed', () =>
      console.log(
        [TITLE, TITLE.map(() => '---'), ...Object.keys(RECORDS).map(row)].map((r) => `| ${r.join(' | ')} |`).join('\n'),
      ));
});
