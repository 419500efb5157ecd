import { describe, expect, it } from 'vitest';
import { DEFAULT_TARGETS, targetFor, deliver, readDrawing } from '../../src/index.js';
import { readDwg } from '../../src/formats/dwg/read.js';
import { writeDwg } from '../../src/formats/dwg/write.js';
import { demoFile, drawingOf, fonts } from '../helpers.js';
import { newLayer } from '../../src/index.js';

describe('a receiver’s template as DWG', () => {
  it('gives layers, linetypes and styles to what is delivered as DWG', () => {
    const office = drawingOf([]);
    office.linetypes = [{ name: 'OFFICE', description: 'Dashes', pattern: [5, -3] }];
    office.layers.push(
      { ...newLayer('CONCRETE', { kind: 'index', index: 6 }), linetype: 'OFFICE', weight: 0.7 },
      newLayer('A-ANNO'),
    );
    office.dimensionStyles = [{ name: 'KESTREL', tags: [[140, '3.5']] }];
    const template = readDwg(writeDwg(office, { unit: 'mm', version: '2004', fonts: fonts() }).bytes).drawing;
    const { drawing } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
    const made = deliver(drawing, targetFor('dwg', { version: '2000' }), 'x.dxf', fonts(), { template });
    expect(made.name).toBe('x.dwg');
    const back = readDwg(made.bytes).drawing;
    expect(back.layers.find((l) => l.name === 'CONCRETE')).toMatchObject({
      linetype: 'OFFICE',
      weight: 0.7,
      paint: { kind: 'index', index: 6 },
    });
    expect(back.layers.map((l) => l.name)).toContain('A-ANNO');
    expect(back.linetypes.find((l) => l.name === 'OFFICE')?.pattern).toEqual([5, -3]);
    expect(Number(back.dimensionStyles.find((s) => s.name === 'KESTREL')?.tags.find(([c]) => c === 140)?.[1])).toBe(
      3.5,
    );
  });
  it('is refused for what is delivered as SVG', () => {
    const { drawing } = readDrawing(demoFile('kestrel-row-section.dxf'), 'x.dxf');
    expect(() => deliver(drawing, DEFAULT_TARGETS.svg, 'x.dxf', fonts(), { template: drawing })).toThrow(/DXF or DWG/);
  });
});
