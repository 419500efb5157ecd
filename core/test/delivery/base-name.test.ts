import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { baseName, deliver, legalName, targetFor } from '../../src/index.js';
import { drawingOf, fonts } from '../helpers.js';

describe('the name of a file', () => {
  it('holds nothing that a system refuses, is never empty, and stays as it is once it is legal', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (name) => {
        const legal = legalName(name);
        expect(legal).not.toMatch(/[<>:"/\\|?*\x00-\x1f]/);
        expect(legal).not.toMatch(/^[. ]|^$/);
        expect(legal.length).toBeLessThanOrEqual(121);
        expect(legalName(legal).trim()).toBe(legal.trim());
      }),
    );
  });
  it('is none that a system keeps for itself', () => {
    expect(['con', 'NUL', 'lpt1', 'console', 'Com10'].map(legalName)).toEqual([
      'con_',
      'NUL_',
      'lpt1_',
      'console',
      'Com10',
    ]);
  });
  it('of a source is its own without folder and ending; one that is chosen keeps its points', () => {
    expect(baseName('C:\\plans\\front.v2.dxf')).toBe('front.v2');
    const d = {
      ...drawingOf([{ kind: 'line', start: [0, 0, 0], end: [1, 0, 0] }] as never),
      unit: { unit: 'mm' as const, factor: 1 },
    };
    const name = (chosen?: string): string =>
      deliver(d, { ...targetFor('svg'), ...(chosen !== undefined && { name: chosen }) }, 'front.v2.dxf', fonts()).name;
    expect([name(), name('panel 1.2'), name('a/b')]).toEqual(['front.v2.svg', 'panel 1.2.svg', 'a_b.svg']);
  });
  it('changes nothing in the file', () => {
    const d = {
      ...drawingOf([{ kind: 'line', start: [0, 0, 0], end: [1, 0, 0] }] as never),
      unit: { unit: 'mm' as const, factor: 1 },
    };
    const bytes = (name: string): Uint8Array => deliver(d, { ...targetFor('dxf'), name }, 'a.dxf', fonts()).bytes;
    expect(bytes('one')).toEqual(bytes('two'));
  });
});
