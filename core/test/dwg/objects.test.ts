import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { decodeSolidText } from '../../src/formats/drafting/region-edges.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { BitWriter } from '../../src/formats/dwg/bit-writer.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { canonical } from '../dxf/canonical.js';
import { demoFile, dxf, fonts, read } from '../helpers.js';
import { dxfByFirst, firstReader } from './readers.js';

const through = (d: Drawing, version: string): Drawing =>
  readDwg(writeDwg(d, { unit: 'mm', version, fonts: fonts() }).bytes).drawing;

/** Each character but blanks and controls is stored as 159 minus its code. */
const hidden = (line: string): string =>
  [...line].map((c) => (c.charCodeAt(0) > 32 ? String.fromCharCode(159 - c.charCodeAt(0)) : c)).join('');
const BODY = [
  '400 4 1 0',
  '16 Kestrel modeller 0 ',
  '1 9.9999999999999995e-007 1e-010',
  'body $-1 $1 $-1 $-1 #',
  'End-of-ACIS-data',
];
const region = (): Drawing =>
  read(
    dxf(
      [
        0,
        'REGION',
        5,
        '1A',
        330,
        '2',
        100,
        'AcDbEntity',
        8,
        'PROFILE',
        100,
        'AcDbModelerGeometry',
        70,
        1,
        ...BODY.flatMap((l) => [1, hidden(l)]),
      ],
      { version: 'AC1018' },
    ),
  );

describe('bodies', () => {
  it('their text goes through a DWG as it stands, and an independent reader finds it', async () => {
    const d = region();
    const back = through(d, '2004');
    const body = back.entities[0]!;
    expect(body).toMatchObject({ kind: 'opaque', type: 'REGION', layer: 'PROFILE' });
    const text = (e: typeof body): string => decodeSolidText(parseRaw((e as { raw: string }).raw));
    expect(
      text(body)
        .trim()
        .split('\n')
        .map((l) => l.trim()),
    ).toEqual(BODY.map((l) => l.trim()));
    const there = readDrawing(
      await dxfByFirst(writeDwg(d, { unit: 'mm', version: '2000', fonts: fonts() }).bytes),
      'x.dxf',
    );
    expect(text(there.drawing.entities[0]!)).toContain('body $-1 $1 $-1 $-1 #');
  });
  it('from 2013 on they stand elsewhere, and are left out by name', () => {
    const { bytes, ledger } = writeDwg(region(), { unit: 'mm', version: '2013', fonts: fonts() });
    expect(readDwg(bytes).drawing.entities).toEqual([]);
    expect(ledger.map((r) => r.reason)).toContain('REGION cannot be written here');
  });
});

describe('objects that are carried as their bits', () => {
  /** A drawing with a class that nobody knows. */
  const unknown = (version: string): Drawing => {
    const { drawing } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
    drawing.carried.classes.push('0\nCLASS\n1\nKESTREL_THING\n2\nKrThing\n3\nKestrel\n90\n0\n91\n1\n280\n0\n281\n0\n');
    const { bytes } = writeDwg(drawing, { unit: 'mm', version, fonts: fonts() });
    return readDwg(bytes).drawing;
  };

  it.each(['2004', '2010', '2018'])('go back to version %s with their class and handle, byte for byte', (version) => {
    const d = unknown(version);
    // A placeholder as its bits, under a class of its own.
    const holder = d.carried.objects.find((o) => o.type === 'ACDBPLACEHOLDER')!;
    const letters = { '2004': 'AC1018', '2010': 'AC1024', '2018': 'AC1032' }[version]!;
    const sealed = sealedPlaceholder(version, parseInt(holder.key, 16));
    d.carried.objects = d.carried.objects.map((o) =>
      o === holder
        ? {
            type: 'KESTREL_THING',
            key: o.key,
            raw: `0\nKESTREL_THING\n5\n${o.key}\n330\n0\n-1\n${letters} ${sealed.bits}\n-2\n${sealed.hex}\n`,
          }
        : o,
    );
    const once = through(d, version);
    const thing = once.carried.objects.find((o) => o.key === holder.key)!;
    expect(thing.type).toBe('KESTREL_THING');
    const hex = (raw: string): string => /\n-2\n([0-9A-F]+)/.exec(raw)![1]!;
    // All but the number of its class, which stands in the first bits.
    expect(hex(thing.raw).slice(6)).toBe(sealed.hex.slice(6));
    const twice = through(once, version);
    expect(twice.carried.objects.find((o) => o.key === holder.key)).toEqual(thing);
    // A DXF has no place for it, nor another version.
    expect(
      read(writeDxf(once, { unit: 'mm', version, fonts: fonts() }).bytes).carried.objects.some(
        (o) => o.type === 'KESTREL_THING',
      ),
    ).toBe(false);
    expect(
      through(once, version === '2018' ? '2004' : '2018').carried.objects.some((o) => o.type === 'KESTREL_THING'),
    ).toBe(false);
  });

  /** The bits of an object without fields: type, size or none, handle, no extended data, no reactors, owner 0. */
  function sealedPlaceholder(version: string, handle: number): { hex: string; bits: number } {
    const w = new BitWriter();
    const modern = version !== '2004';
    if (modern) {
      w.bits2(1);
      w.byte(500 - 0x1f0);
    } else {
      w.bitShort(500);
      w.long(0);
    }
    w.handle(0, handle);
    w.bitShort(0);
    w.bitLong(0);
    w.bit(1);
    if (version === '2018') w.bit(0);
    if (modern) w.bit(0);
    if (!modern) w.patchLong(18, w.at);
    const data = w.at;
    w.handle(4, 0);
    w.align();
    return { hex: Buffer.from(w.written).toString('hex').toUpperCase(), bits: w.at - data };
  }
});

describe('a drawing of many objects', () => {
  it.each(['2000', '2004', '2010'])('keeps its dictionaries, layouts and groups in version %s', (version) => {
    const { drawing } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
    const byDxf = canonical(read(writeDxf(drawing, { unit: 'mm', version, fonts: fonts() }).bytes))['objects'];
    const byDwg = canonical(through(drawing, version))['objects'] as Record<string, string>;
    expect(Object.keys(byDwg).sort()).toEqual(Object.keys(byDxf as object).sort());
    // Dictionaries say the same word for word; layouts at least their names and their paper.
    for (const [key, raw] of Object.entries(byDxf as Record<string, string>)) {
      if (raw.includes('AcDbDictionary')) expect(entries(byDwg[key]!)).toEqual(entries(raw));
      if (raw.includes('AcDbLayout')) expect(after(byDwg[key]!, 'AcDbLayout')[1]).toBe(after(raw, 'AcDbLayout')[1]);
    }
    expect(through(drawing, version).sheets).toEqual(
      read(writeDxf(drawing, { unit: 'mm', version, fonts: fonts() }).bytes).sheets,
    );
  });
  const entries = (raw: string): string[] =>
    parseRaw(raw).flatMap(([c, v]) => (c === 3 || c === 350 || c === 360 ? [v.trim()] : []));
  const after = (raw: string, mark: string): Record<number, string> => {
    const tags = parseRaw(raw);
    return Object.fromEntries(tags.slice(tags.findIndex(([c, v]) => c === 100 && v.trim() === mark)).reverse());
  };
});

describe('the preview', () => {
  it.each(['2000', '2010'])(
    'of version %s is a bitmap that an independent reader finds, with lines on it',
    async (version) => {
      const { drawing } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
      const { bytes } = writeDwg(drawing, { unit: 'mm', version, fonts: fonts() });
      const lib = (await firstReader()) as unknown as {
        dwg_read_data(b: Uint8Array, t: number): number;
        dwg_bmp(d: number): { type: number; data: Uint8Array };
      };
      const { type, data } = lib.dwg_bmp(lib.dwg_read_data(bytes, 0));
      // 2 is a bitmap: 40 bytes of head, 1024 of colours, 180 × 120 points.
      expect([type, data.length, data[4], data[8]]).toEqual([2, 40 + 1024 + 180 * 120, 180, 120]);
      const dark = [...data.slice(1064)].filter((v) => v !== 255).length;
      expect(dark).toBeGreaterThan(200);
      expect(dark).toBeLessThan(10_000);
    },
  );
});
