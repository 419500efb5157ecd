import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readDrawing } from '../../src/index.js';
import { plainOrder, unpack2007 } from '../../src/formats/dwg/lz-2007.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { dwgParts } from '../../src/formats/dwg/write.js';
import { writeDxf } from '../../src/formats/dxf/write.js';
import { dressed, generatedDrawing, words } from '../generated.js';
import { demoFile, fonts } from '../helpers.js';
import { pack2007 } from './pack-2007.js';
import { seenByFirst } from './readers.js';

const write = (d: Parameters<typeof dwgParts>[0]): Uint8Array =>
  pack2007(dwgParts(d, 'AC1021', { unit: 'mm', fonts: fonts() }).parts);

describe('version 2007', () => {
  it('what is put into its pages comes out of them', () => {
    const d = generatedDrawing(fc.sample(dressed, { seed: 4, numRuns: 80 }));
    const { drawing } = readDwg(write(d));
    const dxf = writeDxf(d, { unit: 'mm', version: '2007', fonts: fonts() }).bytes;
    const kinds = (x: typeof d): string[] => x.entities.map((e) => `${e.kind} ${e.layer}`);
    expect(kinds(drawing)).toEqual(kinds(readDrawing(dxf, 'x.dxf').drawing));
    const lines = (x: typeof d): unknown[] => words(x).filter((e) => (e as { kind: string }).kind === 'line');
    expect(lines(drawing)).toEqual(lines(d));
    expect(drawing.notes.map((n) => n.text)).toEqual([expect.stringContaining('from elsewhere')]);
  });

  it('an independent reader finds the same in those pages', async () => {
    const { drawing: d } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
    const bytes = write(d);
    const ours = readDwg(bytes).drawing;
    // The other one mends by the code, and so spoils pages that have none.
    const seen = await seenByFirst(bytes);
    const count = (kind: string): number => ours.entities.filter((e) => e.kind === kind).length;
    expect(seen.kinds['LINE']).toBe(count('line'));
    expect(seen.kinds['LWPOLYLINE']).toBe(count('polyline'));
    expect(seen.kinds['MTEXT']).toBe(count('richText'));
    expect(seen.kinds['DIMENSION']).toBe(count('dimension'));
    expect(seen.layers).toEqual(ours.layers.map((l) => l.name).sort());
    expect(seen.header['INSUNITS']).toBe(4);
  });

  describe('compression', () => {
    it('plain bytes keep their number, and each comes from one place', () => {
      for (let n = 1; n < 100; n++)
        expect(plainOrder(n).sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
      // Pieces of 16 have their halves swapped.
      expect(plainOrder(16)).toEqual([8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3, 4, 5, 6, 7]);
    });
    it.each([
      // 00: eight plain bytes. Then 30 00: three bytes, one back; no plain bytes follow.
      ['a copy of three', [0, 1, 2, 3, 4, 5, 6, 7, 8, 0x30, 0x00], [1, 2, 3, 4, 5, 6, 7, 8, 8, 8, 8]],
      // 10 07 02: three bytes, eight back; two plain bytes follow, swapped.
      [
        'a farther copy',
        [0, 1, 2, 3, 4, 5, 6, 7, 8, 0x10, 0x07, 0x02, 90, 91],
        [1, 2, 3, 4, 5, 6, 7, 8, 1, 2, 3, 91, 90],
      ],
    ])('%s', (_, packed, plain) => {
      expect([...unpack2007(Uint8Array.from(packed), plain.length).bytes]).toEqual(plain);
    });
    it('an independent program unpacks the same', async () => {
      const made = (await import('@node-projects/acad-ts')) as unknown as {
        DwgLZ77AC21Decompressor: { decompress(source: Uint8Array, at: number, length: number, out: Uint8Array): void };
      };
      for (let n = 8; n < 300; n++) {
        const head = n < 23 ? [n - 8] : n < 23 + 255 ? [15, n - 23] : [15, 255, n - 278, 0];
        const source = Uint8Array.from([...head, ...Array.from({ length: n }, (_, i) => (i * 7 + 1) & 255)]);
        const out = new Uint8Array(n);
        made.DwgLZ77AC21Decompressor.decompress(source, 0, source.length, out);
        expect(unpack2007(source, n).bytes, `${n} bytes`).toEqual(out);
      }
    });
  });
});
