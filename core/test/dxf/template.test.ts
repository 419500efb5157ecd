import { describe, expect, it } from 'vitest';
import {
  CannotDeliver,
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
} from '../../src/index.js';
import { demoFile, drawingOf, dxf, fonts, read, risks, svg } from '../helpers.js';
import { tags } from '../tags.js';

/** An office's starter file: its own wall layer, linetype and dimension style, no entities. */
const template = read(
  dxf([], {
    units: 4,
    version: 'AC1032',
    layers: tags(`
  0 LAYER  5 20  2 A  70 0  62 30  6 OFFICE  370 50  0 LAYER  2 OFFICE-NOTES  70 0  62 8  6 Continuous
  0 ENDTAB  0 TABLE  2 LTYPE  70 1  0 LTYPE  2 OFFICE  70 0  3 dashes  72 65  73 2  40 3  49 2  49 -1
  0 ENDTAB  0 TABLE  2 DIMSTYLE  70 1  0 DIMSTYLE  105 27  2 Standard  70 0  140 3.5  340 11
`),
  }),
);

const made = (source = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [9, 0, 0] } as never])) => {
  const prepared = prepare(source, NO_DECISIONS, []);
  const delivered = deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'a.dxf', fonts(), { template });
  return { source, prepared, delivered, back: readDrawing(delivered.bytes, 'a.dxf').drawing };
};

describe('a template of the receiver', () => {
  it('gives its properties to layers of the same name, and its other layers', () => {
    const { back } = made();
    const layer = (name: string) => back.layers.find((l) => l.name === name)!;
    expect(layer('A')).toMatchObject({ paint: { kind: 'index', index: 30 }, linetype: 'OFFICE', weight: 0.5 });
    expect(layer('OFFICE-NOTES').paint).toEqual({ kind: 'index', index: 8 });
    expect(back.linetypes.find((l) => l.name === 'OFFICE')!.pattern).toEqual([2, -1]);
  });
  it('keeps whether a layer of ours is off or frozen', () => {
    const source = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [9, 0, 0] } as never]);
    source.layers = source.layers.map((l) => ({ ...l, locked: true }));
    expect(made(source).back.layers.find((l) => l.name === 'A')!.locked).toBe(true);
  });
  it('gives dimension styles without what points into its own file', () => {
    const style = made().back.dimensionStyles.find((s) => s.name === 'Standard')!;
    expect(new Map(style.tags).get(140)).toBe('3.5');
    expect(new Map(style.tags).has(340)).toBe(false);
  });
  it('is in the ledger, and the proof knows it', () => {
    const { source, prepared, delivered } = made();
    expect(delivered.ledger.map((r) => r.reason)).toContain('layers took their properties from the template');
    expect(risks(proveDelivery(source, prepared, delivered, delivered.bytes, fonts()))).toEqual([]);
  });
  it('serves a drawing that came as SVG too', () => {
    const { drawing } = readDrawing(svg('<g id="A"><path d="M0 0H9"/></g>'), 'a.svg');
    expect(made(drawing).back.layers.find((l) => l.name === 'A')!.weight).toBe(0.5);
  });
  it('is refused when it is no DXF, or the target is none', () => {
    const drawing = readDrawing(demoFile('kestrel-row-mullion.dxf'), 'a.dxf').drawing;
    expect(() => deliver(drawing, DEFAULT_TARGETS.svg, 'a.dxf', fonts(), { template })).toThrow(CannotDeliver);
  });
});
