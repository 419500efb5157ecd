// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test } from 'vitest';
import { NoticeProvider } from '../src/parts/notice';
import { StepTable } from '../src/routes/drawing/prepare/step-table';

afterEach(cleanup);

const rowsOf = (n: number) => Array.from({ length: n }, (_, i) => [`Region ${i + 1}`, 4000.00000004, 'Region 9']);
const shown = (n: number) =>
  render(
    <NoticeProvider>
      <StepTable list={{ title: 'Regions', columns: ['Name', 'Area, mm²', 'Neighbours'], rows: rowsOf(n) }} />
    </NoticeProvider>,
  );

test('a list says how many rows it has, and shows them under their headings', async () => {
  shown(3);
  await userEvent.click(screen.getByText('Regions'));
  const table = within(screen.getByRole('table'));
  expect(table.getAllByRole('columnheader').map((h) => h.textContent)).toEqual(['Name', 'Area, mm²', 'Neighbours']);
  expect(table.getAllByRole('row')).toHaveLength(4);
  expect(table.getAllByText('4000')).toHaveLength(3);
});

test('of a long list the first rows are shown and all are copied, apart by tabs', async () => {
  userEvent.setup();
  shown(450);
  await userEvent.click(screen.getByText('Regions'));
  expect(screen.getAllByRole('row')).toHaveLength(201);
  await userEvent.click(screen.getByLabelText('Copy the list of regions'));
  const lines = (await navigator.clipboard.readText()).split('\n');
  expect(lines).toHaveLength(451);
  expect(lines[1]).toBe('Region 1\t4000.00000004\tRegion 9');
});
