// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import type { LedgerRow } from '@scalaria/core';
import { LedgerList, idsOf } from '../src/parts/ledger-list';
import { NoticeProvider } from '../src/parts/notice';
import { counted } from '../src/routes/drawing/forecast';

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
const ROWS = [
  row({ carryOver: 'text', action: 'kept', reason: 'letters as they were' }),
  row({
    carryOver: 'text',
    action: 'approximated',
    reason: 'widths to the nearest',
    deviation: { value: 0.02, unit: 'mm' },
    by: 'write',
  }),
  row({ count: 1200 }),
];
/** More than are seen at a glance. */
const MANY = [
  ...ROWS,
  ...['a', 'b', 'c', 'd'].map((n) => row({ carryOver: 'layers', action: 'changed', reason: `layer ${n} renamed` })),
];
const shown = (rows: readonly LedgerRow[] = ROWS): void =>
  void render(
    <NoticeProvider>
      <LedgerList rows={rows} fileName="panel-ledger.csv" />
    </NoticeProvider>,
  );
const heads = (): (string | null)[] => screen.queryAllByRole('heading').map((h) => h.textContent);
const lines = (): (string | null)[] => screen.queryAllByRole('listitem').map((l) => l.textContent);
afterEach(cleanup);

test('rows stand in the order of the strip, losses first, with counts and deviations', () => {
  shown();
  expect(heads()).toEqual(['text', 'colour']);
  expect(lines()).toEqual([
    'approximatedwidths to the nearest, by at most 0.02 mm',
    'keptletters as they were',
    'left outmasks are not carried1,200',
  ]);
});

test('they are searched, and grouped by who did it', async () => {
  shown(MANY);
  await userEvent.type(screen.getByRole('searchbox'), 'carried MASKS');
  expect(heads()).toEqual(['colour']);
  await userEvent.type(screen.getByRole('searchbox'), ' nowhere');
  expect(document.body.textContent).toContain('No row says so.');
  expect(screen.queryByRole('button', { name: 'Save as CSV' })).toBeNull();
  await userEvent.clear(screen.getByRole('searchbox'));
  await userEvent.selectOptions(screen.getByLabelText('Group the ledger'), 'step');
  expect(heads()).toEqual(['Reading', 'Writing']);
});

test('what is found is saved and copied, and nothing else', async () => {
  const made: Blob[] = [];
  vi.stubGlobal('URL', { ...URL, createObjectURL: (b: Blob) => (made.push(b), 'blob:x'), revokeObjectURL: () => {} });
  const click = vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(() => {});
  const user = userEvent.setup();
  shown(MANY);
  await user.type(screen.getByRole('searchbox'), 'masks');
  await user.click(screen.getByRole('button', { name: 'Save as CSV' }));
  expect(click.mock.instances[0]).toMatchObject({ download: 'panel-ledger.csv' });
  const text = await made[0]!.text();
  expect(text.trimEnd().split('\r\n')).toHaveLength(2);
  expect(text).toContain('masks are not carried,1200');
  await user.click(screen.getByRole('button', { name: 'Copy' }));
  expect(await navigator.clipboard.readText()).toContain('masks are not carried');
  expect(screen.getByText('1 row copied')).toBeTruthy();
  click.mockRestore();
  vi.unstubAllGlobals();
});

test('a few rows are seen at a glance: nothing to search or to group', () => {
  shown();
  expect(screen.queryByRole('searchbox')).toBeNull();
  expect(screen.getByRole('button', { name: 'Save as CSV' })).toBeTruthy();
  cleanup();
  shown([row({})]);
  expect(heads()).toEqual([]);
});

test('an empty ledger says so', () => {
  shown([]);
  expect(document.body.textContent).toContain('Nothing was changed or left out.');
});

test('many rows in few words', () => {
  const renamed = row({ carryOver: 'layers', action: 'changed', renamed: { from: 'a/b', to: 'a_b' } });
  expect(counted([...ROWS.slice(1), renamed, row({ action: 'changed', count: 4 })])).toBe(
    '1,200 left out, 1 approximated, 4 changed, 1 renamed',
  );
});

test('a row that knows its objects leads to them, by their ids; others are words only', async () => {
  const onRow = vi.fn();
  const rows = [
    row({
      ids: [
        [3, 5],
        [9, 9],
      ],
    }),
    row({ carryOver: 'text', reason: 'of no object' }),
  ];
  render(
    <NoticeProvider>
      <LedgerList rows={rows} fileName="x.csv" onRow={onRow} />
    </NoticeProvider>,
  );
  await userEvent.click(screen.getByRole('button', { name: 'masks are not carried' }));
  expect(onRow).toHaveBeenCalledWith(rows[0]);
  expect(screen.queryByRole('button', { name: 'of no object' })).toBeNull();
  expect(idsOf(rows[0]!)).toEqual([3, 4, 5, 9]);
  expect(idsOf(row({ ids: [[1, 1_000_000]] }), 10)).toHaveLength(10);
});
