import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TrackerRow } from '../../src/index.js';
import {
  FIRST_STATES,
  costOf,
  isStale,
  moneyFrom,
  moneyText,
  trackerCoverage,
  trackerCsv,
  trackerFrom,
  trackerSums,
} from '../../src/index.js';
import { cellsOf } from '../../src/drawing/csv.js';

const row = (id: string, more: Partial<TrackerRow> = {}): TrackerRow => ({
  ...{
    id,
    number: '',
    file: `${id}.dxf`,
    holds: '',
    receiver: 'LS',
    material: 'birch',
    thickness: '18',
    thicknessTrue: '',
  },
  ...{ boards: 0, priceCents: 0, state: 'ready', who: '', when: '', note: '', revision: 1, newest: 1, parts: [] },
  ...more,
});

describe('money', () => {
  it('3 boards at 84.50 and 1 at 46.20 are 299.70', () => {
    const rows = [row('a', { boards: 3, priceCents: 8450 }), row('b', { boards: 1, priceCents: 4620 })];
    const { all } = trackerSums(rows, 'state');
    expect([all.boards, moneyText(all.cents)]).toEqual([4, '299.70']);
    expect(costOf(rows[0]!)).toBe(25350);
  });
  it('is read as people write it, and refused where it is none', () => {
    expect(['84.50', '84,5', '84', ' 0.05 '].map(moneyFrom)).toEqual([8450, 8450, 8400, 5]);
    expect(['', 'x', '1.234', '-1', '1e3'].map(moneyFrom)).toEqual([null, null, null, null, null]);
  });
  it('law: what is written is read again', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), (cents) => {
        expect(moneyFrom(moneyText(cents))).toBe(cents);
      }),
    );
  });
});

describe('sums', () => {
  it('stand by state in the order of the list, and by receiver the most first', () => {
    const rows = [
      row('a', { state: 'sent' }),
      row('b', { state: 'ready', receiver: 'Office' }),
      row('c', { state: 'sent' }),
    ];
    expect(trackerSums(rows, 'state', FIRST_STATES).groups.map((g) => [g.name, g.files])).toEqual([
      ['ready', 1],
      ['sent', 2],
    ]);
    expect(trackerSums(rows, 'receiver').groups.map((g) => g.name)).toEqual(['LS', 'Office']);
  });
  it('a row is stale once its drawing has a newer revision, never one that is only planned', () => {
    expect(isStale(row('a', { newest: 2 }))).toBe(true);
    expect(isStale(row('a'))).toBe(false);
    expect(isStale(row('a', { revision: null, newest: null }))).toBe(false);
  });
});

describe('coverage', () => {
  const parts = Array.from({ length: 25 }, (_, i) => String(i + 1).padStart(2, '0'));
  it('25 in the list are 18 sent, 5 ready and 2 to draw', () => {
    const rows = [
      row('a', { state: 'sent', parts: parts.slice(0, 18) }),
      row('b', { state: 'ready', parts: parts.slice(18, 23) }),
      row('c', { state: 'to draw', parts: parts.slice(23) }),
    ];
    const found = trackerCoverage(parts, rows, FIRST_STATES);
    expect(found.byState).toEqual([
      { state: 'to draw', parts: 2 },
      { state: 'ready', parts: 5 },
      { state: 'sent', parts: 18 },
    ]);
    expect([found.missing, found.twice]).toEqual([[], []]);
  });
  it('tells parts in no row and in two; a void row holds none', () => {
    const rows = [
      row('a', { parts: ['01', '02'] }),
      row('b', { parts: ['02'], state: 'sent' }),
      row('c', { parts: ['03'], state: 'void' }),
    ];
    const found = trackerCoverage(['01', '02', '03'], rows, FIRST_STATES);
    expect([found.missing, found.twice]).toEqual([['03'], ['02']]);
  });
  it('law: every part is in one state or in none', () => {
    const states = fc.constantFrom(...FIRST_STATES);
    const some = fc.array(fc.record({ state: states, parts: fc.subarray(parts) }), { maxLength: 8 });
    fc.assert(
      fc.property(some, (rows) => {
        const { byState, missing, parts: all } = trackerCoverage(parts, rows, FIRST_STATES);
        expect(byState.reduce((n, s) => n + s.parts, 0) + missing.length).toBe(all);
      }),
    );
  });
});

describe('as a table', () => {
  const rows = [row('a', { note: '=1+1, "x"', boards: 3, priceCents: 8450 }), row('b', { when: '2026-03-14' })];
  it('changes nothing when it comes back as it was', () => {
    expect(trackerFrom(trackerCsv(rows), rows, FIRST_STATES)).toEqual({ changes: [], added: [], refused: [] });
  });
  it('takes what was changed and what is new, and tells what it cannot take', () => {
    const [head, a, b] = cellsOf(trackerCsv(rows)) as [string[], string[], string[]];
    const put = (line: string[], name: string, value: string) => line.with(head.indexOf(name), value);
    const lines = [
      put(a, 'state', 'Sent'),
      put(b, 'state', 'gone'),
      put(put(b, 'id', ''), 'file', 'planned.dxf'),
      put(b, 'id', 'nobody'),
      put(b, 'price of a board', 'much'),
    ];
    const text = [head, ...lines].map((l) => l.map((c) => `"${c.replaceAll('"', '""')}"`).join(';')).join('\n');
    const taken = trackerFrom(text, rows, FIRST_STATES);
    expect(taken.changes).toEqual([{ id: 'a', fields: { state: 'sent' } }]);
    expect(taken.added[0]).toMatchObject({ file: 'planned.dxf', when: '2026-03-14' });
    expect(taken.refused.map((r) => r.line)).toEqual([3, 5, 6]);
  });
  it('is refused where it is no tracker', () => {
    expect(() => trackerFrom('a,b\n1,2', rows, FIRST_STATES)).toThrow(/names neither/);
  });
});
