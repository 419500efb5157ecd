import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { kindsCounted } from '../../src/formats/drafting/kinds-counted.js';
import { propertyName } from '../../src/formats/dwg/property-names.js';
import { fonts } from '../helpers.js';

const everyKind = readFileSync(new URL('../files/every-kind.dxf', import.meta.url));

/** The words of the ledger of one of each kind, as a DWG. */
function told(version: string): string[] {
  const source = readDrawing(everyKind, 'every-kind.dxf').drawing;
  const { drawing } = prepare(source, { ...NO_DECISIONS, unit: 'mm' }, []);
  return deliver(drawing, targetFor('dwg', { version }), 'a.dxf', fonts()).ledger.map((r) => r.reason);
}

describe('what a version of DWG has no place for', () => {
  it.each(['R14', '2000', '2004', '2010', '2013', '2018'])(
    'is told in words, not in numbers of groups: %s',
    (version) => {
      const words = told(version);
      expect(words.filter((w) => /what group \d+ says|property \d+/.test(w))).toEqual([]);
    },
  );
  it('names variables of dimension styles, and says what groups of other records are about', () => {
    const words = told('R14');
    // Group 277 of a style is the unit of lengths, group 73 of rich text the kind of line spacing (DXF reference).
    expect(words).toContain('DIMSTYLE: DIMLUNIT has no place in this version of DWG');
    expect(words).toContain('MTEXT: how lines are spaced has no place in this version of DWG');
  });
  it('names the kinds of objects', () => {
    expect(told('2018').find((w) => w.startsWith('objects that'))).toMatch(/VISUALSTYLE \d+, MATERIAL \d+/);
  });
  it('keeps the number where nobody has a word', () => {
    expect(propertyName('SUN', 271)).toBe('what group 271 says');
    expect(propertyName('DIMSTYLE', 40)).toBe('DIMSCALE');
  });
});

it('kinds are counted, the most first, and beyond six only counted', () => {
  expect(kindsCounted(['B', 'A', 'B'])).toBe('B 2, A 1');
  expect(kindsCounted('ABCDEFGH')).toBe('A 1, B 1, C 1, D 1, E 1, F 1 and 2 kinds more');
  expect(kindsCounted('ABCDEFG')).toBe('A 1, B 1, C 1, D 1, E 1, F 1 and 1 kind more');
});
