import { describe, expect, it } from 'vitest';
import { bytesOf, drawingOf, fonts, textOf } from '../helpers.js';
import { conform } from './conformance.js';
import { writeDxf } from './formats.js';
import { DRAFTING_DEFAULT, newLayer } from '../../src/index.js';
import { ONCE, PLAIN_DIMENSION, PLAIN_TEXT } from '../sketches.js';

const SMALL = drawingOf([
  { kind: 'line', start: [0, 0, 0], end: [1, 1, 0] } as never,
  { kind: 'circle', centre: [0, 0, 0], radius: 2 } as never,
  { kind: 'ellipse', centre: [0, 0, 0], major: [2, 0, 0], ratio: 0.5, start: 0, end: 6 } as never,
  { kind: 'polyline', points: Float64Array.of(0, 0, 1, 0, 1, 1), dim: 2, elevation: 0, closed: true } as never,
  { kind: 'polyline', points: Float64Array.of(0, 0, 0, 1, 0, 1), dim: 3, elevation: 0, closed: false } as never,
  {
    kind: 'text',
    text: 'A',
    at: [0, 0, 0],
    size: 2,
    sizeOf: 'capital',
    ...PLAIN_TEXT,
    style: 'Standard',
  } as never,
  {
    kind: 'insert',
    block: 'B',
    at: [0, 0, 0],
    scale: [1, 1, 1],
    rotation: 0,
    ...ONCE,
  } as never,
  {
    kind: 'spline',
    degree: 3,
    knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
    points: Float64Array.of(0, 0, 0, 1, 1, 0, 2, 1, 0, 3, 0, 0),
    closed: false,
    periodic: false,
  } as never,
  { kind: 'leader', points: Float64Array.of(0, 0, 0, 1, 1, 0), arrow: true, curved: false, style: 'Standard' } as never,
  {
    kind: 'dimension',
    form: 'aligned',
    points: { 10: [0, 1, 0], 13: [0, 0, 0], 14: [1, 0, 0] },
    override: '',
    style: 'Standard',
    ...PLAIN_DIMENSION,
    flags: 0,
  } as never,
]);
SMALL.blocks.set('b', {
  name: 'B',
  base: [0, 0, 0],
  entities: [{ kind: 'point', at: [0, 0, 0], id: 99, layer: 'A', look: DRAFTING_DEFAULT }],
});
SMALL.layers.push({ ...newLayer('W'), weight: 0.5 });
const written = (version: string): string => textOf(writeDxf(SMALL, { unit: 'mm', version, fonts: fonts() }).bytes);
const good = written('2010');

/** Replaces the first occurrence after `anchor`; the test fails when there is none. */
function edit(text: string, anchor: string, from: string | RegExp, to: string): string {
  const at = anchor === '' ? 0 : text.indexOf(anchor);
  if (at < 0) throw new Error(`no "${anchor}"`);
  const tail = text.slice(at).replace(from, to);
  if (tail === text.slice(at)) throw new Error(`no ${String(from)} after "${anchor}"`);
  return text.slice(0, at) + tail;
}
const tag = (code: number, value: string): string => `${String(code).padStart(3)}\r\n${value}\r\n`;
/** Cuts a record (from its 0 tag to the next) out. */
const without = (text: string, anchor: string, type: string): string =>
  edit(text, anchor, new RegExp(`  0\\r\\n${type}\\r\\n(?: *[1-9]\\d*\\r\\n[^\\r\\n]*\\r\\n)*`), '');

/** Changes only what stands from the ENTITIES section on. */
const afterEntities = (t: string, change: (u: string) => string): string => {
  const at = t.indexOf('\r\nENTITIES');
  return t.slice(0, at) + change(t.slice(at));
};

const BREAKS: [string, (t: string) => string, RegExp][] = [
  ['line ends', (t) => t.replace('\r\n', '\n'), /CRLF/],
  ['a last line without end', (t) => t.slice(0, -2), /no end/],
  ['a lone line', (t) => t.replace('SECTION\r\n', 'SECTION\r\n\r\n'), /odd number|no group code/],
  ['a group code that is none', (t) => edit(t, 'ENTITIES', ' 10\r\n', 'ten\r\n'), /no group code/],
  ['a decimal comma', (t) => edit(t, 'ENTITIES', '1.0', '1,0'), /is no number/],
  ['an empty number', (t) => edit(t, 'AcDbLine\r\n', '0.0', ''), /no number for group/],
  ['a broken whole number', (t) => edit(t, 'ENTITIES', tag(90, '3'), tag(90, 'x')), /no whole number/],
  ['a value that is too long', (t) => edit(t, 'ENTITIES', tag(1, 'A'), tag(1, 'A'.repeat(2050))), /longer than/],
  ['no end of a section', (t) => t.replace('  0\r\nENDSEC\r\n', ''), /without its end/],
  [
    'an end too many',
    (t) => t.replace('  0\r\nENDSEC\r\n', '  0\r\nENDSEC\r\n  0\r\nENDSEC\r\n'),
    /without its section/,
  ],
  ['no EOF', (t) => t.replace('  0\r\nEOF\r\n', ''), /EOF/],
  ['a missing section', (t) => t.replace(tag(2, 'CLASSES'), tag(2, 'GLASSES')), /sections are/],
  ['an unknown version', (t) => t.replace('AC1024', 'AC1099'), /\$ACADVER/],
  [
    'a version that is not first',
    (t) =>
      t
        .replace(tag(9, '$ACADVER') + tag(1, 'AC1024'), '')
        .replace(tag(9, '$CLAYER'), tag(9, '$ACADVER') + tag(1, 'AC1024') + tag(9, '$CLAYER')),
    /first/,
  ],
  ['no unit', (t) => t.replace('$INSUNITS', '$INSUNIT'), /lacks \$INSUNITS/],
  ['no extent', (t) => t.replace('$EXTMIN', '$EXTMINI'), /lacks \$EXTMIN/],
  ['a variable twice', (t) => t.replace(tag(9, '$CLAYER'), tag(9, '$EXTMIN')), /twice/],
  ['a missing handle', (t) => edit(t, '\r\nENTITIES', /  5\r\n[0-9A-F]+\r\n/, ''), /without a handle/],
  ['a handle that is none', (t) => edit(t, '\r\nENTITIES', /  5\r\n[0-9A-F]+\r\n/, tag(5, 'XYZ')), /is no handle/],
  [
    'a handle twice',
    (t) => {
      const h = /ENTITIES\r\n  0\r\nLINE\r\n  5\r\n([0-9A-F]+)/.exec(t)![1]!;
      return edit(t, '\r\nCIRCLE', /  5\r\n[0-9A-F]+\r\n/, tag(5, h));
    },
    /too/,
  ],
  ['a wrong owner', (t) => edit(t, '\r\nENTITIES', /330\r\n[0-9A-F]+\r\n/, tag(330, 'FFFF')), /is owned by FFFF/],
  ['no AcDbEntity', (t) => edit(t, '\r\nENTITIES', tag(100, 'AcDbEntity'), ''), /lacks AcDbEntity/],
  ['wrong marks', (t) => edit(t, '\r\nENTITIES', 'AcDbLine', 'AcDbLime'), /has the marks/],
  ['a table twice', (t) => edit(t, '', tag(2, 'UCS'), tag(2, 'VIEW')), /table (UCS|VIEW) stands/],
  ['a table without its mark', (t) => edit(t, 'TABLES', tag(100, 'AcDbSymbolTable'), ''), /lacks AcDbSymbolTable/],
  ['an owned table', (t) => edit(t, 'TABLES', tag(330, '0'), tag(330, '1F')), /has an owner/],
  [
    'a table of styles without its mark',
    (t) => edit(t, 'TABLES', tag(100, 'AcDbDimStyleTable'), ''),
    /AcDbDimStyleTable/,
  ],
  ['a wrong count', (t) => edit(t, tag(2, 'LAYER'), ' 70\r\n3\r\n', ' 70\r\n7\r\n'), /states 7 records/],
  [
    'a record in the wrong table',
    (t) => edit(t, tag(2, 'LAYER'), '  0\r\nLAYER\r\n', '  0\r\nVIEW\r\n'),
    /VIEW in table LAYER/,
  ],
  [
    'a record not owned by its table',
    (t) => edit(t, '\r\nAPPID\r\n  5', /330\r\n[1-9A-F][0-9A-F]+\r\n/, tag(330, '1')),
    /not owned by its table/,
  ],
  ['a record without marks', (t) => edit(t, 'TABLES', 'AcDbLayerTableRecord', 'AcDbLayer'), /lacks its subclass marks/],
  ['two layers of one name', (t) => edit(t, 'TABLES', tag(2, 'W'), tag(2, 'a')), /two records/],
  ['an empty name', (t) => edit(t, 'TABLES', tag(2, 'W'), tag(2, '')), /empty name/],
  ['a forbidden character', (t) => edit(t, 'TABLES', tag(2, 'W'), tag(2, 'W<')), /may not have/],
  ['no plot style', (t) => edit(t, 'TABLES', /390\r\n[0-9A-F]+\r\n/, ''), /no plot style/],
  ['a layer with an odd weight', (t) => edit(t, 'TABLES', tag(370, '50'), tag(370, '51')), /weight 51/],
  ['a layer without colour', (t) => edit(t, 'AcDbLayerTableRecord', tag(62, '7'), tag(62, '0')), /no colour/],
  [
    'an unlisted linetype of a layer',
    (t) => edit(t, 'AcDbLayerTableRecord', tag(6, 'Continuous'), tag(6, 'Dotty')),
    /linetype Dotty/,
  ],
  [
    'dashes miscounted',
    (t) => edit(t, 'AcDbLinetypeTableRecord', tag(73, '0'), tag(73, '2')),
    /another number of dashes/,
  ],
  ['no ByLayer', (t) => edit(t, 'TABLES', tag(2, 'ByLayer'), tag(2, 'ByLair')), /lacks ByLayer/],
  [
    'no style Standard',
    (t) => edit(t, 'AcDbTextStyleTableRecord', tag(2, 'Standard'), tag(2, 'Other')),
    /STYLE lacks Standard/,
  ],
  ['no ACAD', (t) => edit(t, 'AcDbRegAppTableRecord', tag(2, 'ACAD'), tag(2, 'AKAD')), /APPID lacks ACAD/],
  [
    'no dimension style',
    (t) => edit(t, 'AcDbDimStyleTableRecord', tag(2, 'Standard'), tag(2, 'Other')),
    /DIMSTYLE lacks Standard/,
  ],
  ['no active view', (t) => edit(t, 'TABLES', tag(2, '*Active'), tag(2, 'Active')), /VPORT lacks/],
  [
    'no paper space',
    (t) => edit(t, 'AcDbBlockTableRecord', tag(2, '*Paper_Space'), tag(2, 'Paper')),
    /BLOCK_RECORD lacks/,
  ],
  [
    'a record without definition',
    (t) => edit(t, 'AcDbBlockTableRecord', tag(2, 'B'), tag(2, 'C')),
    /has no (definition|record)/,
  ],
  [
    'a block not owned by its record',
    (t) => edit(t, '\r\nBLOCKS', /330\r\n[0-9A-F]+\r\n/, tag(330, '1')),
    /is not owned by its record/,
  ],
  ['a block without marks', (t) => edit(t, '\r\nBLOCKS', 'AcDbBlockBegin', 'AcDbBegin'), /lacks its marks/],
  ['a block without end', (t) => without(t, '\r\nBLOCKS', 'ENDBLK'), /without its end/],
  [
    'an end without block',
    (t) => edit(t, '\r\nBLOCKS', '  0\r\nENDBLK\r\n', '  0\r\nENDBLK\r\n  0\r\nENDBLK\r\n'),
    /end without its block/,
  ],
  [
    'something outside a block',
    (t) => edit(t, '\r\nBLOCKS', 'BLOCKS\r\n', 'BLOCKS\r\n  0\r\nPOINT\r\n  8\r\n0\r\n'),
    /POINT outside a block/,
  ],
  ['a sequence without end', (t) => without(t, '\r\nENTITIES', 'SEQEND'), /without its SEQEND/],
  [
    'a vertex on its own',
    (t) => edit(t, '\r\nENTITIES', '  0\r\nPOLYLINE\r\n', '  0\r\nPOLYLIME\r\n'),
    /outside a sequence/,
  ],
  ['an unlisted layer', (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), tag(8, 'Nowhere')), /lies on Nowhere/],
  ['no layer', (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), ''), /has no layer/],
  [
    'an unlisted linetype',
    (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(6, 'Dotty')),
    /linetype Dotty/,
  ],
  ['an odd weight', (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(370, '51')), /weight 51/],
  ['an odd colour', (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(62, '300')), /colour 300/],
  ['an undefined block', (t) => edit(t, 'AcDbBlockReference', tag(2, 'B'), tag(2, 'Q')), /is not defined/],
  ['an unlisted text style', (t) => edit(t, '\r\nENTITIES', tag(7, 'Standard'), tag(7, 'Fancy')), /style Fancy/],
  ['an unlisted dimension style', (t) => edit(t, 'AcDbLeader', tag(3, 'Standard'), tag(3, 'Fancy')), /style Fancy/],
  [
    'data of an unlisted application',
    (t) => edit(t, 'AcDbLine', '  0\r\nCIRCLE', tag(1001, 'ELSE') + '  0\r\nCIRCLE'),
    /data of ELSE/,
  ],
  ['vertices miscounted', (t) => edit(t, '\r\nENTITIES', tag(90, '3'), tag(90, '4')), /states 4 vertices/],
  ['knots miscounted', (t) => edit(t, 'AcDbSpline', tag(72, '8'), tag(72, '9')), /states 9 knots/],
  ['control points miscounted', (t) => edit(t, 'AcDbSpline', tag(73, '4'), tag(73, '5')), /states 5 control points/],
  ['fit points miscounted', (t) => edit(t, 'AcDbSpline', tag(74, '0'), tag(74, '5')), /states 5 fit points/],
  ['a degree that does not fit', (t) => edit(t, 'AcDbSpline', tag(71, '3'), tag(71, '2')), /does not fit/],
  ['a ratio above 1', (t) => edit(t, 'AcDbEllipse', tag(40, '0.5'), tag(40, '1.5')), /ratio 1.5/],
  ['a radius of 0', (t) => edit(t, 'AcDbCircle', tag(40, '2.0'), tag(40, '0.0')), /radius 0/],
  [
    'a height of 0',
    (t) => afterEntities(t, (u) => edit(u, 'AcDbText\r\n', tag(40, '2.0'), tag(40, '0.0'))),
    /height 0/,
  ],
  [
    'a mark twice',
    (t) => edit(t, '\r\nOBJECTS', tag(100, 'AcDbLayout'), tag(100, 'AcDbLayout') + tag(100, 'AcDbLayout')),
    /subclass mark twice/,
  ],
  ['a leader miscounted', (t) => edit(t, 'AcDbLeader', tag(76, '2'), tag(76, '3')), /states 3 vertices/],
  ['a class twice', (t) => edit(t, 'CLASSES', tag(1, 'ACDBPLACEHOLDER'), tag(1, 'LAYOUT')), /a class stands twice/],
  ['a class cut short', (t) => edit(t, 'CLASSES', tag(280, '0'), ''), /class is not whole/],
  ['a class without its count', (t) => edit(t, 'CLASSES', tag(91, '1'), ''), /how often/],
  ['a missing class', (t) => edit(t, 'CLASSES', tag(1, 'LAYOUT'), tag(1, 'LIEOUT')), /has no class/],
  [
    'another first object',
    (t) => edit(t, '\r\nOBJECTS', '  0\r\nDICTIONARY\r\n', '  0\r\nXRECORD\r\n'),
    /root dictionary/,
  ],
  ['no groups', (t) => edit(t, '\r\nOBJECTS', 'ACAD_GROUP', 'ACAD_GROPE'), /lacks ACAD_GROUP/],
  ['no layout called Model', (t) => edit(t, '\r\nOBJECTS', tag(3, 'Model'), tag(3, 'Modell')), /called Model/],
  [
    'a layout without its space',
    (t) => edit(t, '100\r\nAcDbLayout', /330\r\n[0-9A-F]+\r\n/, tag(330, '0')),
    /belongs to no block record/,
  ],
  [
    'a space without layout',
    (t) => edit(t, 'AcDbBlockTableRecord', /340\r\n[0-9A-F]+\r\n/, tag(340, '0')),
    /has no layout/,
  ],
  [
    'an object without owner',
    (t) => edit(t, '\r\nACDBPLACEHOLDER\r\n  5', /330\r\n[0-9A-F]+\r\n/, tag(330, 'FFFF')),
    /owned by FFFF|points at FFFF/,
  ],
  [
    'an entry that leads nowhere',
    (t) => edit(t, '\r\nOBJECTS', /350\r\n[0-9A-F]+\r\n/, tag(350, 'FFFF')),
    /leads nowhere|lacks/,
  ],
  [
    'a pointer that leads nowhere',
    (t) => edit(t, '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(347, 'FFFF')),
    /points at FFFF/,
  ],
  ['a seed that is too low', (t) => edit(t, '$HANDSEED', /  5\r\n[0-9A-F]+\r\n/, tag(5, '10')), /seed 10 is not above/],
];

describe('the conformance checker', () => {
  it.each(['R12', '2000', '2004', '2007', '2010', '2013', '2018'])(
    'finds no fault in a whole file of %s',
    (version) => {
      expect(conform(bytesOf(written(version)))).toEqual([]);
    },
  );
  it.each(BREAKS)('finds %s', (_name, broken, words) => {
    expect(conform(bytesOf(broken(good))).join('; ')).toMatch(words);
  });
  it('finds what release 12 does not know', () => {
    const old = written('R12');
    const broken = edit(old, '\r\nENTITIES', '  0\r\nLINE\r\n', '  0\r\nLWPOLYLINE\r\n');
    expect(conform(bytesOf(broken)).join('; ')).toMatch(/release 12 has no LWPOLYLINE/);
    const marked = edit(old, '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(100, 'AcDbLine'));
    expect(conform(bytesOf(marked)).join('; ')).toMatch(/does not know/);
    const named = edit(old, 'TABLES', tag(2, 'W'), tag(2, 'W é'));
    expect(conform(bytesOf(named)).join('; ')).toMatch(/no name of release 12/);
  });
  it('finds a true colour before version 2004', () => {
    const broken = edit(written('2000'), '\r\nENTITIES', tag(8, 'A'), tag(8, 'A') + tag(420, '255'));
    expect(conform(bytesOf(broken)).join('; ')).toMatch(/true colour/);
  });
});
