import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, Entity, Opaque } from '../../src/index.js';
import { readDrawing, transformDrawing } from '../../src/index.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { BitWriter } from '../../src/formats/dwg/bit-writer.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { dxf, fonts, read } from '../helpers.js';
import { dxfByFirst } from './readers.js';
import { tags } from '../tags.js';

const written = (d: Drawing, version: string): Uint8Array => writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes;
const through = (d: Drawing, version: string): Drawing => readDwg(written(d, version)).drawing;

/** Group codes and values from the record's own subclass on, whatever their spelling; references and marks left out. */
const said = (raw: string): string[] => {
  const tags = parseRaw(raw);
  const own = tags.findIndex(([c, v]) => c === 100 && v.trim() !== 'AcDbEntity');
  return tags
    .slice(own)
    .filter(([c]) => c !== 100 && c < 1000)
    .map(([c, v]) => {
      const n = Number(v);
      return `${c} ${v.trim() !== '' && Number.isFinite(n) && !(c >= 320 && c < 370) ? Number(n.toPrecision(12)) : v.trim()}`;
    });
};
const opaque = (d: Drawing, type: string): Opaque[] =>
  d.entities.filter((e): e is Opaque => e.kind === 'opaque' && e.type === type);

const oracle = hasEzdxf('no independent program makes multileaders');

describe.skipIf(!oracle)('multileaders, references to pages and helices that an independent program made', () => {
  let source: Drawing;
  beforeAll(() => {
    const file = join(mkdtempSync(join(tmpdir(), 'scalaria-leaders-')), 'leaders.dxf');
    runEzdxf('leaders.py', file);
    source = readDrawing(readFileSync(file), 'leaders.dxf').drawing;
  }, 60_000);

  it.each(['2010', '2013', '2018'])('say the same in a DWG of version %s', (version) => {
    const back = through(source, version);
    expect(back.notes).toEqual([]);
    for (const type of ['MULTILEADER', 'PDFUNDERLAY', 'HELIX']) {
      const [want, got] = [opaque(source, type), opaque(back, type)];
      expect(got.length, type).toBe(want.length);
      want.forEach((e, i) => {
        // Usual values may be said or not; what is said must be there.
        const there = said(got[i]!.raw);
        for (const tag of said(e.raw))
          if (!/^(70|72|73|74|42|43|44|45|294|178|179) /.test(tag)) expect(there, `${type} ${i}`).toContain(tag);
        const shape = (p: Entity): unknown => ({ ...p, id: 0, look: null });
        expect(got[i]!.drawn?.map(shape)).toEqual(e.drawn?.map(shape));
      });
    }
    const styles = (d: Drawing): string[][] =>
      d.carried.objects
        .filter((o) => /^(MLEADERSTYLE|PDFDEFINITION)$/.test(o.type))
        .map((o) =>
          said(o.raw)
            .filter((t) => !/^3[2-6]\d /.test(t))
            .sort(),
        );
    const [want, got] = [styles(source), styles(back)];
    expect(got.length).toBe(2);
    want.forEach((s, i) => s.forEach((tag) => expect(got[i]).toContain(tag)));
  });

  it.each(['2010', '2018'])(
    'are found by an independent reader in version %s, to the same numbers',
    async (version) => {
      const bytes = written(source, version);
      const there = readDrawing(await dxfByFirst(bytes), 'there.dxf').drawing;
      const ours = readDwg(bytes).drawing;
      for (const type of ['MULTILEADER', 'PDFUNDERLAY', 'HELIX']) {
        const [want, got] = [opaque(ours, type), opaque(there, type)];
        expect(got.length).toBe(want.length);
        // In an order of its own.
        want.forEach((e, i) =>
          expect(said(got[i]!.raw)).toEqual(
            expect.arrayContaining(said(e.raw).filter((t) => !/^(74 0|70 \d+)$/.test(t))),
          ),
        );
      }
    },
  );

  it('go to version 2000 as what shows them, which the ledger says', () => {
    const { bytes, ledger } = writeDwg(source, { unit: 'mm', version: '2000', fonts: fonts() });
    const back = readDwg(bytes).drawing;
    expect(opaque(back, 'MULTILEADER')).toEqual([]);
    expect(back.entities.some((e) => e.kind === 'richText' && e.plain.includes('glazing bar'))).toBe(true);
    expect(ledger.some((r) => r.reason.includes('MULTILEADER'))).toBe(true);
  });
});

describe('texts that hold an object of their own', () => {
  const ATTRIBUTE = (at: string): (string | number)[] => [
    ...tags(`
  0 ATTRIB  5 41  100 AcDbEntity  8 0  100 AcDbText  10 11  20 22  30 0  40 2.5  1 "one two"
  100 AcDbAttribute  2 NOTE  70 0  101 "Embedded Object"  10
`),
    at,
    ...tags('20 22  30 0  40 2.5  41 55  71 1  1'),
    'one\\Ptwo',
    ...tags('7 Standard  50 0  0 SEQEND  5 42  8 0'),
  ];
  const COLUMNS = tags(`
  0 MTEXT  5 43  100 AcDbEntity  8 0  100 AcDbMText  10 5  20 6  30 0  40 3  41 70  71 1  1 columns
  101 "Embedded Object"  70 1  10 1  20 0  30 0  11 5  21 6  31 0  40 70  41 0  42 64  43 12  71 2  72 2
  44 30  45 4  73 0  74 0  46 12  46 9
`);
  const source = (): Drawing =>
    read(
      dxf(
        [
          ...tags('0 INSERT  5 40  100 AcDbEntity  8 0  100 AcDbBlockReference  66 1  2 TAG  10 10  20 20'),
          ...ATTRIBUTE('11'),
          ...COLUMNS,
        ],
        {
          version: 'AC1032',
          blocks: tags(
            '0 BLOCK  5 30  8 0  2 TAG  70 2  10 0  20 0  0 CIRCLE  5 31  8 0  10 0  20 0  40 1  0 ENDBLK  5 32  8 0',
          ),
        },
      ),
    );
  const embedded = (e: { rest?: string } | undefined): string[] => {
    const [, inner] = (e?.rest ?? '').split('101\nEmbedded Object\n');
    return parseRaw(inner ?? '').map(([c, v]) => `${c} ${Number.isFinite(Number(v)) ? Number(v) : v.trim()}`);
  };
  const parts = (d: Drawing): [string[], string[]] => {
    const insert = d.entities.find((e) => e.kind === 'insert')!;
    return [embedded(insert.attributes[0]), embedded(d.entities.find((e) => e.kind === 'richText'))];
  };

  it('keep it in a DWG of version 2018: lines of an attribute, columns of a rich text', () => {
    const d = source();
    const [lines, columns] = parts(d);
    expect(lines).toContain('1 one\\Ptwo');
    const back = through(d, '2018');
    expect(back.notes).toEqual([]);
    const insert = back.entities.find((e) => e.kind === 'insert')!;
    expect(insert.attributes[0]).toMatchObject({ tag: 'NOTE', text: 'one two', at: [11, 22, 0] });
    const [lines2, columns2] = parts(back);
    expect(lines2.sort()).toEqual(lines.sort());
    // How wide the text came out stands in the text itself, too.
    expect(columns2.filter((t) => !/^4[23] /.test(t))).toEqual(columns.filter((t) => !/^4[23] /.test(t)));
  });

  it('lose it before 2018 by name, and none of its numbers is taken for one of theirs', () => {
    const { bytes, ledger } = writeDwg(source(), { unit: 'mm', version: '2010', fonts: fonts() });
    const back = readDwg(bytes).drawing;
    expect(parts(back)).toEqual([[], []]);
    expect(back.entities.find((e) => e.kind === 'insert')!.attributes[0]).toMatchObject({
      at: [11, 22, 0],
      text: 'one two',
    });
    expect(ledger.map((r) => r.reason)).toEqual(
      expect.arrayContaining([expect.stringContaining('ATTRIB'), expect.stringContaining('MTEXT')]),
    );
  });

  it('take it along when they are moved, turned and scaled', () => {
    // A quarter turn, twice the size, then 100 to the right.
    const moved = transformDrawing(source(), [0, 2, 0, -2, 0, 0, 0, 0, 2, 100, 0, 0]);
    const [lines, columns] = parts(moved);
    expect(lines).toEqual(expect.arrayContaining(['10 56', '20 22', '40 5', '41 110', '50 90']));
    expect(columns).toEqual(
      expect.arrayContaining(['10 0', '20 1', '11 88', '21 10', '40 140', '44 60', '45 8', '46 24', '46 18']),
    );
  });
});

describe('frames of other programs', () => {
  const data = Buffer.alloc(300, 0xc3);
  data[0] = 0x80;
  data[1] = 0x55;
  const corners = [
    [1, 20],
    [30, 20],
    [30, 2],
    [1, 2],
  ];
  corners.forEach(([x, y], i) => [x!, y!, 0].forEach((v, k) => data.writeDoubleLE(v, 2 + 24 * i + 8 * k)));
  const hex = data.toString('hex').toUpperCase();
  const source = read(
    dxf([
      ...tags(`
  0 OLE2FRAME  5 41  100 AcDbEntity  8 0  100 AcDbOle2Frame  70 2  10 1  20 20  30 0  11 30  21 2  31 0
  71 2  72 1  73 1  90 300  310
`),
      hex.slice(0, 254),
      310,
      hex.slice(254, 508),
      310,
      hex.slice(508),
      1,
      'OLE',
    ]),
  );

  it.each(['2000', '2004', '2010', '2018'])(
    'keep what they hold in version %s, and an independent reader agrees',
    async (version) => {
      const bytes = written(source, version);
      const there = readDrawing(await dxfByFirst(bytes), 'there.dxf').drawing;
      for (const d of [readDwg(bytes).drawing, there]) {
        const [frame] = opaque(d, 'OLE2FRAME');
        const tags = parseRaw(frame!.raw);
        expect(
          tags
            .filter(([c]) => c === 310)
            .map(([, v]) => v.trim())
            .join(''),
        ).toBe(hex);
        expect(said(frame!.raw)).toEqual(
          expect.arrayContaining(['10 1', '20 20', '11 30', '21 2', '71 2', '72 1', '73 1', '90 300']),
        );
        expect(frame!.drawn?.[0]).toMatchObject({ kind: 'polyline', closed: true });
      }
    },
  );
});

describe('tables', () => {
  /** The bits of a table of version 2010: an insert of its block, and rows that nobody here reads. */
  function tableBits(handle: number, layer: number, block: number): { hex: string; bits: number } {
    const w = new BitWriter();
    w.bits2(1);
    w.byte(500 - 0x1f0);
    w.handle(0, handle);
    w.bitShort(0);
    // No preview, in model space, no reactors, no dictionary.
    w.bit(0);
    w.bits2(2);
    w.bitLong(0);
    w.bit(1);
    // Colour, linetype scale, linetype, plot style, material, shadow, three visual styles, invisible, weight.
    w.bitShort(256);
    w.bitDouble(1);
    w.bits2(0);
    w.bits2(0);
    w.bits2(0);
    w.byte(0);
    for (let i = 0; i < 3; i++) w.bit(0);
    w.bitShort(0);
    w.byte(29);
    // The insert: place, scale 1, no turn, upwards, no attributes.
    for (const v of [120, 45.5, 0]) w.bitDouble(v);
    w.bits2(3);
    w.bitDouble(0);
    for (const v of [0, 0, 1]) w.bitDouble(v);
    w.bit(0);
    for (let i = 0; i < 40; i++) w.byte(0xa5);
    // No strings.
    w.bit(0);
    const data = w.at;
    w.handle(5, layer);
    w.handle(5, block);
    w.align();
    return { hex: Buffer.from(w.written).toString('hex').toUpperCase(), bits: w.at - data };
  }

  it('show the block that pictures them, and go back byte for byte', () => {
    const plain = read(
      dxf(tags('0 LINE  5 40  8 0  10 0  20 0  11 1  21 1'), {
        blocks: tags(`
  0 BLOCK  5 30  8 0  2 *T1  70 1  10 0  20 0  0 LINE  5 31  8 0  10 0  20 0  11 30  21 0  0 ENDBLK  5 32
  8 0
`),
      }),
    );
    plain.carried.classes.push(
      '0\nCLASS\n1\nACAD_TABLE\n2\nAcDbTable\n3\nObjectDBX Classes\n90\n1025\n91\n1\n280\n0\n281\n1\n',
    );
    const d = through(plain, '2010');
    const key = (k: string | undefined): number => parseInt(k!, 16);
    const { hex, bits } = tableBits(
      0x7f0,
      key(d.layers[0]!.key),
      key([...d.blocks.values()].find((b) => b.name === '*T1')!.key),
    );
    const raw = `0\nACAD_TABLE\n5\n7F0\n100\nAcDbEntity\n8\n0\n-1\nAC1024 ${bits}\n-2\n${hex}\n`;
    const line = d.entities[0]!;
    d.entities.push({
      kind: 'opaque',
      id: 99,
      layer: '0',
      look: line.look,
      key: '7F0',
      format: 'dwg',
      type: 'ACAD_TABLE',
      raw,
    } as never);
    const back = through(d, '2010');
    const [table] = opaque(back, 'ACAD_TABLE');
    expect(table).toMatchObject({
      drawn: [{ kind: 'insert', block: '*T1', at: [120, 45.5, 0], rotation: 0 }],
      key: '7F0',
    });
    expect(said(table!.raw)).toEqual(expect.arrayContaining(['2 *T1', '10 120', '20 45.5']));
    expect(/\n-2\n([0-9A-F]+)/.exec(table!.raw)![1]!.slice(6)).toBe(hex.slice(6));
    // A DXF gets the block in its place.
    const other = read(writeDxf(back, { unit: 'mm', version: '2010', fonts: fonts() }).bytes);
    expect(other.entities.find((e) => e.kind === 'insert')).toMatchObject({ block: '*T1', at: [120, 45.5, 0] });
  });
});
