import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { dxf, fonts, read, svg, textOf } from '../helpers.js';

/** Squares of one size, a step apart, each over the one before it, on layers and in colours of the given names. */
function stacked(order: string, colours: Record<string, string>, step = 1): Drawing {
  const layers = [...new Set(order)].sort();
  const shapes = [...order].map(
    (l, i) =>
      `<g id="${l}${i}"><title>${l}</title><rect x="${step * i}" width="10" height="10" fill="${colours[l]}"/></g>`,
  );
  const source = readDrawing(svg(shapes.join('')), 'stack.svg').drawing;
  // As a drafting file would have it: layers in their list, entities in the order in which they are drawn.
  const made = deliver(
    prepare(source, { ...NO_DECISIONS, unit: 'mm', pxPerInch: 96 }, []).drawing,
    targetFor('dxf'),
    'stack.svg',
    fonts(),
  );
  const read = readDrawing(made.bytes, 'stack.dxf').drawing;
  return { ...read, layers: [...read.layers].sort((a, b) => layers.indexOf(a.name) - layers.indexOf(b.name)) };
}

function written(drawing: Drawing): { fills: string[]; reasons: string[]; layers: string[] } {
  const made = deliver(drawing, targetFor('svg'), 'stack.dxf', fonts());
  const text = textOf(made.bytes);
  const back = readDrawing(made.bytes, 'stack.svg').drawing;
  return {
    fills: back.entities.flatMap(({ look }) =>
      look.fill.kind === 'rgb' ? [look.fill.rgb.toString(16).padStart(6, '0')] : [],
    ),
    reasons: made.ledger.map((r) => r.code ?? ''),
    layers: [...text.matchAll(/<g id="([^"]+)"/g)].map((m) => m[1]!),
  };
}

const COLOURS = { A: '#aa0000', B: '#00bb00', C: '#0000cc' };

describe('layers of a drafting drawing in SVG', () => {
  it('are opened anew where what comes later covers another layer', () => {
    const { fills, reasons } = written(stacked('ABA', COLOURS));
    expect(fills).toEqual(['aa0000', '00bb00', 'aa0000']);
    expect(reasons).toContain('layers-opened-anew');
  });
  it('only change places where that is enough', () => {
    const { fills, reasons, layers } = written(stacked('CBA', COLOURS));
    expect(fills).toEqual(['0000cc', '00bb00', 'aa0000']);
    expect(reasons).not.toContain('layers-opened-anew');
    expect(layers.filter((l) => /^[ABC]$/.test(l))).toEqual(['C', 'B', 'A']);
  });
  it('stay whole where what meets looks alike', () => {
    const same = { A: '#123456', B: '#123456' };
    expect(written(stacked('ABABAB', same)).reasons).not.toContain('layers-opened-anew');
  });
  it('are left in their order where lines lie on one another again and again, and that is told', () => {
    // Level lines in one place, by turns on two layers and in two colours.
    const by = (layer: string, colour: number): (string | number)[] => [
      0,
      'LINE',
      8,
      layer,
      62,
      colour,
      10,
      0,
      20,
      5,
      11,
      90,
      21,
      5,
    ];
    const drawing = read(
      dxf(Array.from({ length: 12 }, (_, i) => (i % 2 === 0 ? by('A', 1) : by('B', 5))).flat(), { units: 4 }),
    );
    const { reasons } = written(drawing);
    expect(reasons).toContain('lines-in-order-of-layers');
    expect(reasons).not.toContain('layers-opened-anew');
  });
  it('are left in their order where there is no end of what lies on one another, and that is told', () => {
    const { reasons } = written(stacked('AB'.repeat(400), COLOURS, 0));
    expect(reasons).toContain('order-across-layers-let-go');
  });
  it('come back as one layer each', () => {
    const made = deliver(stacked('ABABA', COLOURS), targetFor('svg'), 'stack.dxf', fonts());
    const names = readDrawing(made.bytes, 'stack.svg').drawing.layers.map((l) => l.name);
    expect(names.filter((n) => n === 'A' || n === 'B').sort()).toEqual(['A', 'B']);
  });
});
