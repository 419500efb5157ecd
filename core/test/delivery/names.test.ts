import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { legalName } from '../../src/index.js';
import type { NamePiece, NameValues } from '../../src/delivery/names.js';
import { fieldPiece, plannedNames, textPiece } from '../../src/delivery/names.js';

const RUNNING: NamePiece = { what: 'number', series: 'KR', digits: 3, first: 1 };
/** KR- | receiver | - | number | - | material | - | thickness */
const PIECES: NamePiece[] = [
  textPiece('KR-'),
  fieldPiece('receiver'),
  textPiece('-'),
  RUNNING,
  textPiece('-'),
  fieldPiece('material'),
  textPiece('-'),
  { what: 'field', field: 'thickness', letters: 'asIs', spaces: 'none' },
];
const named = (pieces: NamePiece[], files: NameValues[], series = {}) =>
  plannedNames(pieces, files, series).names.map((n) => n.name);

describe('names by a row of pieces', () => {
  it('are made piece by piece; a field that says nothing takes the fixed words before it along', () => {
    const ls = { receiver: 'LS', material: 'alu', thickness: '3 mm' };
    expect(named(PIECES, [ls], { KR: 14 })).toEqual(['KR-LS-014-alu-3mm']);
    expect(named(PIECES, [{ receiver: 'LS', thickness: '3 mm' }], { KR: 14 })).toEqual(['KR-LS-014-3mm']);
    // Nothing is known but the number: the fixed words before the receiver go with it.
    expect(named(PIECES, [{}])).toEqual(['-001']);
  });
  it('letters and spaces as they are asked for', () => {
    const piece = (letters: 'capitals' | 'small', spaces: 'underscores' | 'hyphens'): NamePiece => ({
      ...{ what: 'field', field: 'drawing', letters, spaces },
    });
    expect(named([piece('capitals', 'underscores')], [{ drawing: 'Front  elevation' }])).toEqual(['FRONT_ELEVATION']);
    expect(named([piece('small', 'hyphens')], [{ drawing: 'Front elevation' }])).toEqual(['front-elevation']);
  });
  it('running numbers go on where the last set ended, each of its own series, once for each file', () => {
    const sheets: NamePiece = { what: 'number', series: 'sheets', digits: 2, first: 5 };
    const first = plannedNames([RUNNING, textPiece('/'), sheets, textPiece('/'), RUNNING], [{}, {}]);
    expect(first.names.map((n) => n.name)).toEqual(['001_05_001', '002_06_002']);
    expect(first.names[1]!.numbers).toEqual({ KR: 2, sheets: 6 });
    expect(first.series).toEqual({ KR: 3, sheets: 7 });
    expect(named([RUNNING], [{}], first.series)).toEqual(['003']);
  });
  it('are legal everywhere, and what was changed is told', () => {
    const { names } = plannedNames(
      [fieldPiece('layer')],
      [{ layer: 'Ø5/through' }, { layer: 'plain' }, { layer: 'aux' }],
    );
    expect(names.map((n) => [n.name, n.asked])).toEqual([
      ['Ø5_through', 'Ø5/through'],
      ['plain', null],
      ['aux_', 'aux'],
    ]);
    // Composed letters are one letter on every disk.
    expect(named([fieldPiece('layer')], [{ layer: 'e\u0301tage' }])).toEqual(['\u00e9tage']);
    expect(named([fieldPiece('layer')], [{ layer: 'ends in a dot. ' }])).toEqual(['ends in a dot']);
    expect(named([fieldPiece('layer')], [{ layer: 'x'.repeat(300) }])[0]).toHaveLength(120);
  });
  it('that would be one where capital letters do not count get a number, told before', () => {
    const layers = ['Glass', 'GLASS', 'glass', 'Glass-2'].map((layer) => ({ layer }));
    const { names } = plannedNames([fieldPiece('layer')], layers);
    expect(names.map((n) => n.name)).toEqual(['Glass', 'GLASS-2', 'glass-3', 'Glass-2-2']);
    expect(names.map((n) => n.clashes)).toEqual([false, true, true, true]);
    expect(plannedNames([textPiece('plan')], [{}], {}, ['PLAN']).names[0]).toMatchObject({
      name: 'plan-2',
      clashes: true,
    });
  });
  it('no two of a set are one, and all are legal, whatever they are made of', () => {
    const value = fc.oneof(
      fc.string({ maxLength: 140 }),
      fc.constantFrom('Glass', 'GLASS', 'con', 'a/b', ' ', '..', 'ß', 'SS'),
    );
    fc.assert(
      fc.property(fc.array(fc.record({ layer: value, drawing: value }), { maxLength: 30 }), (files) => {
        const pieces = [fieldPiece('drawing'), textPiece('-'), fieldPiece('layer')];
        const { names } = plannedNames(pieces, files);
        expect(new Set(names.map((n) => n.name.normalize('NFC').toLowerCase())).size).toBe(files.length);
        for (const { name } of names) expect([legalName(name), name.length <= 120]).toEqual([name, true]);
      }),
    );
  });
});
