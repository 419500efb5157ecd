import { describe, expect, it } from 'vitest';
import type { LedgerRow } from '../../src/index.js';
import { ledgerCsv, soughtRows } from '../../src/index.js';

const row = (more: Partial<LedgerRow>): LedgerRow => ({
  carryOver: 'colour',
  action: 'dropped',
  reason: 'masks are not carried',
  count: 1,
  onPurpose: false,
  by: 'read',
  ids: [],
  ...more,
});

describe('the ledger as a table', () => {
  it('has a head, a line each, and says deviations with their unit', () => {
    const text = ledgerCsv([
      row({}),
      row({ action: 'approximated', deviation: { value: 0.02, unit: 'mm' }, count: 3, onPurpose: true }),
    ]);
    expect(text.split('\r\n')).toEqual([
      'carry-over,what happened,why,count,asked for,largest deviation,unit,by',
      'colour,left out,masks are not carried,1,no,,,read',
      'colour,approximated,masks are not carried,3,yes,0.02,mm,read',
      '',
    ]);
  });
  it('quotes what would part a line, and lets no name of a file be a formula', () => {
    const text = ledgerCsv([
      row({ reason: 'the layer "A, B"\nis gone' }),
      row({ reason: '=HYPERLINK("x")' }),
      row({ reason: '-1' }),
    ]);
    expect(text).toContain('"the layer ""A, B""\nis gone"');
    expect(text).toContain(`"'=HYPERLINK(""x"")"`);
    expect(text).toContain(",'-1,");
  });
  it('is searched by all words, in any order', () => {
    const rows = [row({}), row({ reason: 'filters are not carried' }), row({ carryOver: 'text', reason: 'letters' })];
    expect(soughtRows(rows, 'CARRIED masks').map((r) => r.reason)).toEqual(['masks are not carried']);
    expect(soughtRows(rows, 'left out')).toHaveLength(3);
    expect(soughtRows(rows, '  ')).toHaveLength(3);
    expect(soughtRows(rows, 'read curves')).toEqual([]);
  });
});
