import { describe, expect, it } from 'vitest';
import type { Draft, Drawing, Entity } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { demoFile, dxf, fonts, hop, only, read, risks } from '../helpers.js';

const written = (d: Drawing, version = 'R14'): { bytes: Uint8Array; reasons: string[] } => {
  const { bytes, ledger } = writeDwg(d, { unit: 'mm', version, fonts: fonts() });
  return { bytes, reasons: ledger.filter((r) => r.action !== 'kept').map((r) => r.reason) };
};
const section = (): Drawing => readDrawing(demoFile('kestrel-row-section.dxf'), 'a.dxf').drawing;

describe('version R14', () => {
  it('begins with its letters and lists three parts and the measurement', () => {
    const { bytes } = written(section());
    expect(new TextDecoder().decode(bytes.subarray(0, 6))).toBe('AC1014');
    expect(readDwg(bytes).drawing.version).toBe('R14');
  });

  it('keeps the windows of a sheet, with what they show and the layers frozen in them', () => {
    const windows = (d: Drawing): unknown[] =>
      d.entities.flatMap((e) =>
        e.kind === 'viewport' ? [[e.at, e.width, e.height, e.number, e.centre, e.viewHeight, e.frozen]] : [],
      );
    const d = section();
    const back = readDwg(written(d).bytes).drawing;
    expect(windows(back)).toEqual(windows(d));
    expect(windows(back).length).toBe(2);
    // No object describes the sheet: its name and its paper are not known.
    expect(back.sheets).toEqual([{ name: 'Sheet 1', block: '*Paper_Space', order: 1, unitsPerMm: 1 }]);
    expect(back.carried.objects.map((o) => o.type)).toEqual(['DICTIONARY', 'DICTIONARY']);
  });

  it('names what it has no word for: the unit, weights, true colours, other sheets', () => {
    const d = read(
      dxf([
        0,
        'LINE',
        5,
        '41',
        8,
        '0',
        420,
        0x123456,
        370,
        50,
        10,
        0,
        20,
        0,
        11,
        1,
        21,
        1,
        0,
        'LINE',
        5,
        '42',
        8,
        '0',
        10,
        0,
        20,
        0,
        11,
        1,
        21,
        1,
      ]),
    );
    const { bytes, reasons } = written(d);
    expect(reasons).toEqual(
      expect.arrayContaining([
        'R14 cannot state its unit: tell the receiver that one unit is 1 mm',
        'line widths need version 2000 or later',
        'true colours need version 2004; nearest index taken',
      ]),
    );
    const [line] = readDwg(bytes).drawing.entities;
    expect(line!.look.stroke.kind).toBe('index');
    const other = section();
    other.sheets.push({ ...other.sheets[0]!, name: 'Second', block: '*Paper_Space0', order: 2 });
    other.entities.push({ ...only(other, 'circle'), id: 9999, key: 'FFF0', sheet: 'Second' } as never);
    expect(written(other).reasons).toContain('DWG R14 has one sheet; what lies on the others is left out');
  });

  it('is proven, with the unit told in words', () => {
    const { proof } = hop(section(), { format: 'dwg', version: 'R14' });
    expect(risks(proof)).toEqual([]);
    expect(proof.items.find((i) => i.id === 'unit')?.state).not.toBe('kept');
  });

  it('is read by a third, wholly other program: the same entities by kind, the same layers', async () => {
    const maker = (await import('@node-projects/acad-ts')) as unknown as {
      DwgReader: { readFromStream(b: Uint8Array): { entities: Iterable<object>; layers: Iterable<{ name: string }> } };
    };
    const d = section();
    const there = maker.DwgReader.readFromStream(written(d).bytes);
    const kinds: Record<string, number> = {};
    for (const e of there.entities) kinds[e.constructor.name] = (kinds[e.constructor.name] ?? 0) + 1;
    const ours = (kind: string): number => d.entities.filter((e) => e.kind === kind && e.sheet === undefined).length;
    expect(kinds).toEqual({
      Hatch: ours('hatch'),
      LwPolyline: ours('polyline'),
      Line: ours('line'),
      Spline: ours('spline'),
      Circle: ours('circle'),
      DimensionLinear: 4,
      DimensionRadius: 1,
      Leader: ours('leader'),
      MText: 2,
    });
    expect([...there.layers].map((l) => l.name).sort()).toEqual(d.layers.map((l) => l.name).sort());
  });
});

it('extended data of a window come back from every version, whatever the window shows', () => {
  const d = section();
  const [window] = d.entities.filter((e) => e.kind === 'viewport');
  (window as Draft<Entity>).extended = '1001\nACAD\n1000\nKestrel Row\n1040\n2.5\n';
  for (const version of ['2000', '2004', '2010', '2018']) {
    const [back] = readDwg(written(d, version).bytes).drawing.entities.filter((e) => e.kind === 'viewport');
    expect(back!.extended).toBe(window!.extended);
    expect(back).toMatchObject({ number: 2, viewHeight: 5200 });
  }
});
