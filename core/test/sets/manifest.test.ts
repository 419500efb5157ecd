import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Ajv } from 'ajv';
import type { Manifest, ManifestFile } from '../../src/index.js';
import { fileFacts, manifestCsv, manifestJson, manifestSchema, tableForm, verify } from '../../src/index.js';
import { newLayer } from '../../src/drawing/drawing.js';
import { PYTHON, hasEzdxf } from '../ezdxf.js';
import { cellsOf } from '../../src/drawing/csv.js';
import { box, chain, circle, drawn, placed, text } from '../steps/judge.js';

const SUM = (letter: string): string => letter.repeat(64);
const file = (name: string, more: Partial<ManifestFile> = {}): ManifestFile => ({
  name,
  sha256: SUM('a'),
  bytes: 10,
  format: 'dxf',
  version: '2010',
  ...fileFacts(drawn(box(0, 0, 60, 40), circle(30, 20, 5))),
  source: { name: 'panel.svg', sha256: SUM('b') },
  parts: null,
  proof: 'holds',
  ledger: { kept: 1, changed: 0, approximated: 0, dropped: 2 },
  asked: null,
  ...more,
});
const set = (...files: ManifestFile[]): Manifest => ({
  manifest: 1,
  recipe: { title: 'Shop', sha256: SUM('c') },
  files,
  failed: [],
  leftOut: [],
  expected: files.length,
});

describe('what is in a file', () => {
  it('is counted and measured: outlines, holes, texts, objects of each layer, empty ones too', () => {
    const d = drawn(
      box(10, 20, 60, 40),
      circle(30, 40, 5),
      circle(30, 40, 2),
      chain([0, 0, 5, 5, 9, 0], false),
      text('P1', 20, 25),
    );
    const facts = fileFacts({ ...d, unit: { unit: 'mm', factor: 1 }, layers: [...d.layers, newLayer('SMALL')] });
    expect(facts).toMatchObject({ unit: 'mm', x: 0, y: 0, width: 70, height: 60, outlines: 2, holes: 1, texts: 1 });
    // 200 around the box, circles of 5 and 2.
    expect(facts.cutLength).toBeCloseTo(200 + 14 * Math.PI, 9);
    expect(facts.layers.find((l) => l.name === 'SMALL')).toEqual({ name: 'SMALL', objects: 0 });
    expect(facts.layers.reduce((n, l) => n + l.objects, 0)).toBe(5);
  });
  it('blocks are taken apart, each place of one counted', () => {
    const d = placed([box(0, 0, 10, 10), circle(5, 5, 2)], [{ at: [0, 0] }, { at: [30, 0], scale: [2, 2, 2] }]);
    expect(fileFacts(d)).toMatchObject({ outlines: 2, holes: 2, width: 50, height: 20 });
  });
});

describe.skipIf(!hasEzdxf('no other program reads the table'))('a manifest as a table of another form', () => {
  const cells = (text: string, between: string): string[][] =>
    JSON.parse(
      execFileSync(
        PYTHON,
        [
          '-c',
          'import csv,json,sys; print(json.dumps(list(csv.reader(open(sys.argv[1], newline=""), delimiter=sys.argv[2]))))',
        ].concat([written(text), between]),
        { encoding: 'utf8' },
      ),
    ) as string[][];
  const written = (text: string): string => {
    const path = join(mkdtempSync(join(tmpdir(), 'scalaria-table-')), 'manifest.csv');
    writeFileSync(path, text);
    return path;
  };
  const m = set(file('a;b,c "d".dxf', { width: 12.5, cutLength: 0.25, asked: 'x; y' }), file('b.dxf', { width: 7 }));
  it.each([
    ['comma', ',', '12.5', '0.25'],
    ['semicolon', ';', '12,5', '0,25'],
    ['semicolonPoint', ';', '12.5', '0.25'],
    ['tab', '\t', '12.5', '0.25'],
    ['tabComma', '\t', '12,5', '0,25'],
  ])('%s: the same cells for another program, numbers as they are written there', (table, between, width, length) => {
    const [head, first, second] = cells(manifestCsv(m, tableForm({ recipe: 2, beside: { table } })), between);
    const at = (line: string[], name: string): string => line[head!.indexOf(name)]!;
    expect(at(first!, 'file')).toBe('a;b,c "d".dxf');
    expect([at(first!, 'width'), at(first!, 'cut length'), at(second!, 'width')]).toEqual([width, length, '7']);
    expect(at(first!, 'note')).toBe('asked for as x; y');
    expect([head!.length, first!.length, second!.length]).toEqual([33, 33, 33]);
  });
  it('is what it was where a recipe says nothing', () => {
    expect(manifestCsv(m, tableForm({ recipe: 2 }))).toBe(manifestCsv(m));
  });
});

describe('a manifest', () => {
  it('is of its schema, and the same bytes for the same files in whatever order', () => {
    const [a, b] = [file('a.dxf'), file('B.dxf', { parts: ['01'], asked: 'B*' })];
    const validate = new Ajv({ strict: false }).compile(manifestSchema);
    expect(validate(JSON.parse(manifestJson(set(a, b)))), JSON.stringify(validate.errors?.[0])).toBe(true);
    expect(manifestJson(set(a, b))).toBe(manifestJson(set(b, a)));
    expect(manifestCsv(set(a, b))).toBe(manifestCsv(set(b, a)));
  });
  it('as a table has a line for each file and for what did not become one', () => {
    const m = { ...set(file('a.dxf'), file('=b.dxf')), failed: [{ source: 'x.dxf', why: 'no unit' }], expected: 3 };
    const [head, ...lines] = cellsOf(manifestCsv(m)) as [string[], ...string[][]];
    const at = (line: string[], name: string): string => line[head.indexOf(name)]!;
    expect(lines.map((l) => [at(l, 'file'), at(l, 'proof'), at(l, 'source')])).toEqual([
      ['=b.dxf', 'holds', 'panel.svg'],
      ['a.dxf', 'holds', 'panel.svg'],
      ['', 'failed', 'x.dxf'],
    ]);
    expect(at(lines[0]!, 'objects')).toBe('2');
    expect(at(lines[2]!, 'note')).toBe('no unit');
    expect(lines.every((l) => l.length === head.length)).toBe(true);
    expect(new Set(lines.map((l) => l.length))).toEqual(new Set([head.length]));
  });
  it('finds what is missing, changed and extra, and sums that do not add up', () => {
    const m = set(file('a.dxf'), file('b.dxf'), file('c.dxf'));
    const there = [
      { name: 'a.dxf', sha256: SUM('a') },
      { name: 'b.dxf', sha256: SUM('d') },
      { name: 'notes.txt', sha256: SUM('e') },
      { name: 'manifest.json', sha256: SUM('f') },
    ];
    expect(verify(m, there)).toEqual({ missing: ['c.dxf'], changed: ['b.dxf'], extra: ['notes.txt'], sums: [] });
    expect(verify({ ...m, expected: 5 }, []).sums).toHaveLength(1);
  });
  it('says nothing of a set that is as it was, and something of any that is not', () => {
    const name = fc.stringMatching(/^[a-z]{1,6}\.dxf$/);
    fc.assert(
      fc.property(fc.uniqueArray(name, { minLength: 1, maxLength: 12 }), fc.nat(), fc.nat(2), (names, at, how) => {
        const m = set(...names.map((n) => file(n)));
        const there = m.files.map(({ name: n, sha256 }) => ({ name: n, sha256 }));
        expect(Object.values(verify(m, there)).flat()).toEqual([]);
        const i = at % names.length;
        const other = [
          there.filter((_, k) => k !== i),
          there.map((t, k) => (k === i ? { ...t, sha256: SUM('0') } : t)),
          [...there, { name: `${names[i]!}.bak`, sha256: SUM('a') }],
        ][how]!;
        expect(Object.values(verify(m, other)).flat()).toHaveLength(1);
      }),
    );
  });
});

describe('sums', () => {
  const m: Manifest = {
    ...set(file('a.dxf', { prepared: 7 }), file('b.dxf', { prepared: 5 })),
    expected: 3,
    failed: [{ source: 'x', why: 'no unit' }],
    objects: { prepared: 15, written: 12, leftOut: 3 },
    parts: { listed: 25, inFiles: 23, leftOut: 2 },
  };
  const sums = (more: Partial<Manifest>): readonly string[] => verify({ ...m, ...more }, []).sums;
  it('add up', () => {
    expect(sums({})).toEqual([]);
  });
  it('do not where a file, an object or a part is told of nowhere', () => {
    expect(sums({ expected: 4 })[0]).toBe('4 files were expected, but 3 are told of: written and failed');
    expect(sums({ objects: { prepared: 16, written: 12, leftOut: 3 } })).toHaveLength(1);
    expect(sums({ objects: { prepared: 14, written: 11, leftOut: 3 } })[0]).toMatch(/hold 12 .* 11 are said/);
    expect(sums({ parts: { listed: 25, inFiles: 22, leftOut: 2 } })).toHaveLength(1);
  });
  it('count a picture beside a file as one of the set', () => {
    const picture = { name: 'a.png', sha256: SUM('d') };
    const with1 = set(file('a.dxf', { picture }));
    expect(verify(with1, [{ name: 'a.dxf', sha256: SUM('a') }]).missing).toEqual(['a.png']);
    expect(verify(with1, [{ name: 'a.dxf', sha256: SUM('a') }, picture])).toMatchObject({ missing: [], extra: [] });
  });
});
