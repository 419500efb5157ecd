import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BookedPart, Drawing, JobPart, KeptNumbers, PartChange } from '../../src/index.js';
import {
  JOB_PARTS_HEAD,
  NO_NUMBERS,
  changeBack,
  correctionsOf,
  coverageOf,
  csvOf,
  jobPartsLine,
  keptAfter,
  numberFaultsOf,
  partsBook,
  rowsAfter,
  tabbedOf,
} from '../../src/index.js';
import { cellsOf } from '../../src/drawing/csv.js';
import { NUMBERING, nextNumbers } from '../../src/parts/number.js';
import { box, drawn, text } from '../steps/judge.js';

const RULES = { labelSays: 'No {number}' };
/** A row of plates of these widths, one of them labelled. */
const plates = (...widths: number[]): Drawing => drawn(...widths.map((w, i) => box(100 * i, 0, w, 10)));
const changed = (d: Drawing, kept: KeptNumbers, place: number, change: PartChange): KeptNumbers => {
  const { rows, kept: now } = partsBook(d, RULES, kept);
  return keptAfter(now, [{ refs: rows[place]!.refs, change }]);
};
const told = (d: Drawing, kept?: KeptNumbers): string[] => partsBook(d, RULES, kept).rows.map((r) => r.number);

describe('numbers that are given', () => {
  it('are there once somebody gave them, and not before; taken back they are free again', () => {
    const d = plates(11, 22, 33);
    expect(told(d)).toEqual(['', '', '']);
    const one = changed(d, NO_NUMBERS, 1, { number: ' A7 ' });
    expect(told(d, one)).toEqual(['', 'A7', '']);
    expect(partsBook(d, RULES, one).rows[1]!.byHand).toEqual(['number']);
    expect(changed(d, one, 1, { number: '' })).toEqual(NO_NUMBERS);
  });
  it('go before what the drawing says: a number that is there twice is mended by hand', () => {
    const d = drawn(
      box(0, 0, 11, 10),
      text('No 7', 2, 2),
      box(100, 0, 22, 10),
      text('No 7', 102, 2),
      box(200, 0, 33, 10),
    );
    const book = partsBook(d, RULES);
    const { missing, twice } = numberFaultsOf(book.rows);
    expect([missing.length, [...twice.keys()]]).toEqual([1, ['7']]);
    const mended = changed(d, changed(d, NO_NUMBERS, 1, { number: '8' }), 2, { number: '9' });
    expect(told(d, mended)).toEqual(['7', '8', '9']);
    expect(numberFaultsOf(partsBook(d, RULES, mended).rows)).toEqual({ missing: [], twice: new Map() });
  });
  it('stay over revisions with all that was said; of one that is gone the number is told and stays taken', () => {
    let kept = NO_NUMBERS;
    for (const [i, number] of ['A', 'B', 'C'].entries()) kept = changed(plates(11, 22, 33), kept, i, { number });
    kept = changed(plates(11, 22, 33), kept, 2, { words: { material: 'PLY', quantity: '4' }, leftOut: 'bought in' });
    // 22 is gone, 44 is new, 33 stands elsewhere.
    const next = drawn(box(500, 60, 33, 10), box(0, 0, 11, 10), box(300, 0, 44, 10));
    const book = partsBook(next, RULES, kept);
    expect(new Map(book.rows.map((r) => [r.length, r.number]))).toEqual(
      new Map([
        [33, 'C'],
        [11, 'A'],
        [44, ''],
      ]),
    );
    expect(book.rows.find((r) => r.number === 'C')).toMatchObject({
      material: 'PLY',
      quantity: 4,
      leftOut: 'bought in',
    });
    expect([book.gone, book.kept.retired]).toEqual([['B'], ['B']]);
    // Only a person gives it again, and on purpose.
    expect(changed(next, book.kept, 2, { number: 'b' }).retired).toEqual([]);
  });
  it('a change shows at once as it would when the drawing is read again, and can be taken back', () => {
    const d = drawn(box(0, 0, 11, 10), text('No 7', 2, 2), box(100, 0, 22, 10), box(100, 50, 22, 10));
    const word = fc.constantFrom('', 'X', '12');
    const change = fc.record(
      {
        number: word,
        words: fc.record({ name: word, material: word, quantity: fc.constantFrom('', '3') }, { requiredKeys: [] }),
        leftOut: fc.constantFrom(null, 'why'),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.nat(1), change, change, (place, first, second) => {
        const book = partsBook(d, RULES, changed(d, NO_NUMBERS, place, first));
        const row = book.rows[place]!;
        const kept = keptAfter(book.kept, [{ refs: row.refs, change: second }]);
        const at = (rows: readonly BookedPart[]) => rows.map(({ refs: _r, ...rest }) => rest);
        expect(at(rowsAfter(book.rows, kept))).toEqual(at(partsBook(d, RULES, kept).rows));
        const back = keptAfter(kept, [{ refs: row.refs, change: changeBack(row, second) }]);
        expect(rowsAfter(book.rows, back)).toEqual(book.rows);
      }),
    );
  });
  it('by a form: counted apart for each kind', () => {
    const of = [{ kind: 'PANEL' }, { kind: 'RIB' }, { kind: 'PANEL' }, {}];
    expect(nextNumbers(of, { ...NUMBERING, prefix: '{kind}-' }, ['panel-01'])).toEqual([
      'PANEL-02',
      'RIB-01',
      'PANEL-03',
      '-01',
    ]);
  });
  it('twenty-seven parts, one without a number and one number twice: two findings, and none once they are mended', () => {
    const d = plates(...Array.from({ length: 27 }, (_, i) => 11 + i));
    let kept = NO_NUMBERS;
    partsBook(d, RULES).rows.forEach((r, i) => {
      if (i < 26)
        kept = keptAfter(kept, [
          { refs: r.refs, change: { number: i === 25 ? '01' : String(i + 1).padStart(2, '0') } },
        ]);
    });
    const faults = numberFaultsOf(partsBook(d, RULES, kept).rows);
    expect([faults.missing.length, faults.twice.size]).toEqual([1, 1]);
    kept = changed(d, changed(d, kept, 25, { number: '26' }), 26, { number: '27' });
    expect(new Set(told(d, kept)).size).toBe(27);
    kept = changed(d, kept, 4, { leftOut: 'cut by hand' });
    const rows = partsBook(d, RULES, kept).rows.map((r) => ({ ...r, files: r.leftOut === null ? 1 : 0 }));
    expect(coverageOf(rows)).toEqual({ parts: 27, delivered: 26, leftOut: 1, open: 0 });
  });
  it('coverage adds up, however parts are counted', () => {
    const part = fc.record({
      quantity: fc.integer({ min: 1, max: 99 }),
      leftOut: fc.constantFrom(null, 'why'),
      files: fc.integer({ min: 0, max: 2 }),
    });
    fc.assert(
      fc.property(fc.array(part), (rows) => {
        const { parts, delivered, leftOut, open } = coverageOf(rows);
        expect(delivered + leftOut + open).toBe(parts);
        expect(open).toBe(rows.filter((r) => r.leftOut === null && r.files === 0).reduce((n, r) => n + r.quantity, 0));
      }),
    );
  });
});

describe('corrections by a table', () => {
  const rowsOf = (d: Drawing, kept?: KeptNumbers): (JobPart & BookedPart)[] =>
    partsBook(d, RULES, kept).rows.map((r) => ({ ...r, drawing: 'panels', revision: 1, unit: 'mm', wentOut: [] }));
  const d = plates(11, 22, 33);
  const kept = changed(d, changed(d, NO_NUMBERS, 0, { number: '=1', words: { name: 'Top, "left"' } }), 1, {
    number: '2',
  });
  const rows = rowsOf(d, kept);

  it('what was written is read again and changes nothing, with commas, tabs or semicolons', () => {
    const table = [JOB_PARTS_HEAD, ...rows.map(jobPartsLine)];
    for (const out of [csvOf(table), tabbedOf(table), csvOf(table).replace(/\r\n/g, '\n')])
      expect(correctionsOf(out, rows)).toEqual({ changes: [], same: 3, faults: [] });
    expect(cellsOf(csvOf(table))[1]!.slice(1, 3)).toEqual(['=1', 'Top, "left"']);
  });
  it('tells what is said otherwise, and does it once it is taken', () => {
    const [a, , c] = rows;
    const text = `part;number;material;quantity;left out because\n${a!.key};=1;MDF;3;\n${c!.key};3;;1;bought in\n`;
    const { changes, faults } = correctionsOf(text, rows);
    expect(faults).toEqual([]);
    expect(changes.map((x) => x.said.map((s) => `${s.what}: ${s.from} → ${s.to}`))).toEqual([
      ['material:  → MDF', 'quantity: 1 → 3'],
      ['number:  → 3', 'left out because:  → bought in'],
    ]);
    const byKey = new Map(rows.map((r) => [r.key, r]));
    const next = rowsOf(
      d,
      keptAfter(
        kept,
        changes.map((x) => ({ refs: byKey.get(x.key)!.refs, change: x.change })),
      ),
    );
    expect(next[0]).toMatchObject({ number: '=1', material: 'MDF', quantity: 3 });
    expect(next[2]).toMatchObject({ number: '3', leftOut: 'bought in' });
    expect(correctionsOf(text, next).changes).toEqual([]);
  });
  it('lines are found by their number where no key is given; what cannot be taken is told by its line', () => {
    const { changes, faults } = correctionsOf(
      'number,thickness,quantity\n2,18,1\n5,18,1\n2,12,1\n=1,9,0\n,1,1\n',
      rows,
    );
    expect(changes.map((x) => [x.key, x.change])).toEqual([[rows[1]!.key, { words: { thickness: '18' } }]]);
    expect(faults).toEqual([
      { line: 3, why: 'no part has the number 5' },
      { line: 4, why: 'the same part came before' },
      { line: 5, why: 'its quantity is no whole number above nothing: 0' },
      { line: 6, why: 'it names no part' },
    ]);
    expect(correctionsOf('width\n3\n', rows).faults[0]!.why).toContain('neither a column');
  });
});
