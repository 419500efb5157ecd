import { describe, expect, it } from 'vitest';
import {
  FORMAT_CATALOGUE,
  FORMAT_TRAITS,
  NO_DECISIONS,
  deliver,
  isDrafting,
  settleUnit,
  takeIn,
  targetFor,
  traitsOf,
} from '../../src/index.js';
import { layerKey } from '../../src/drawing/drawing.js';
import { drawingOf, fonts, read, svg } from '../helpers.js';

const line = (layer: string): never => ({ kind: 'line', layer, start: [0, 0, 0], end: [1, 0, 0] }) as never;

describe('what a format is like', () => {
  it('every format says, and a format that is none is refused', () => {
    for (const id of Object.keys(FORMAT_CATALOGUE)) {
      expect(Object.keys(traitsOf(id)).length, id).toBeGreaterThan(4);
      expect(Object.keys(FORMAT_TRAITS), id).toContain(traitsOf(id).oftenBecomes);
    }
    for (const id of ['doc', 'toString', '']) expect(() => traitsOf(id), id).toThrow(RangeError);
    expect([isDrafting({ format: 'dxf' }), isDrafting({ format: 'dwg' }), isDrafting({ format: 'svg' })]).toEqual([
      true,
      true,
      false,
    ]);
  });

  it('names of drafting layers are the same whatever their capitals; those of an SVG are not', () => {
    const chosen = { ...NO_DECISIONS, layers: { mode: 'chosen' as const, names: ['roof'] } };
    expect(takeIn(drawingOf([line('ROOF'), line('Posts')]), chosen).drawing.entities).toHaveLength(1);
    expect(layerKey({ format: 'dwg' }, 'Roof')).toBe('roof');
    const art = read(
      svg('<g id="ROOF"><path d="M0 0h9" stroke="#000"/></g><g id="roof"><path d="M0 5h9" stroke="#000"/></g>'),
    );
    expect(takeIn(art, chosen).drawing.entities.map((e) => e.layer)).toEqual(['roof']);
  });

  it('a unit decided for an SVG that states its size only says in what it is counted', () => {
    const size = { unit: { unit: 'mm', factor: 1 } } as const;
    expect(settleUnit({ ...size, format: 'svg' }, { ...NO_DECISIONS, unit: 'cm' })).toEqual({
      unit: 'cm',
      factor: 0.1,
    });
    expect(settleUnit({ ...size, format: 'dxf' }, { ...NO_DECISIONS, unit: 'cm' })).toEqual({ unit: 'cm', factor: 1 });
  });

  it('a drawing without a unit goes to formats that can be without one', () => {
    const bare = { ...drawingOf([line('A')]), unit: null };
    const to = (format: 'dxf' | 'svg'): string =>
      deliver(bare, targetFor(format, { unitless: true }), 'x', fonts()).name;
    expect(to('dxf')).toBe('x.dxf');
    expect(() => to('svg')).toThrow(/undecided/);
  });
});
