// @vitest-environment happy-dom
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { expect, test, vi } from 'vitest';
import { NUMBERING } from '@scalaria/core';
import type { DrawingParts, JobPartRow, JobParts } from '../src/api/types';
import { CoverageBar } from '../src/routes/job-parts/coverage-bar';
import { CorrectionsDialog } from '../src/routes/job-parts/corrections-dialog';
import { PartsTable } from '../src/routes/job-parts/parts-table';
import { isShown, proposals, sorted, tableRows, tableUnit } from '../src/routes/job-parts/rows';
import { sized } from './support/sized';

// A box as high as ten lines or so: only those in sight are made.
sized(900, 500);

const row = (key: string, more: Partial<JobPartRow> = {}): JobPartRow => ({
  key,
  number: key,
  numbered: 'kept',
  name: '',
  kind: '',
  material: 'PLY',
  thickness: '12',
  grain: '',
  side: '',
  quantity: 1,
  leftOut: null,
  byHand: [],
  said: {},
  members: 1,
  length: 10,
  width: 5,
  area: 50,
  cutLength: 30,
  holes: [],
  mirrored: 0,
  marks: 0,
  labels: [],
  wentOut: [],
  ...more,
});
const drawing = (
  id: string,
  unit: string | null,
  rows: JobPartRow[],
  more: Partial<DrawingParts> = {},
): DrawingParts => ({
  id,
  name: `${id}.dxf`,
  listed: true,
  state: 'ready',
  revision: 1,
  unit,
  fault: null,
  rows,
  findings: [],
  gone: [],
  ...more,
});
const job = (...drawings: DrawingParts[]): JobParts => ({ rules: {}, drawings });
const numbersOf = (rows: readonly { number: string }[]): string[] => rows.map((r) => r.number);

test('parts of all drawings are measured in one unit: 2 in by 1 in are 50.8 by 25.4 mm', () => {
  const inch = row('b', {
    length: 2,
    width: 1,
    area: 2,
    cutLength: 6,
    holes: [{ diameter: 0.5, count: 1, through: 0, blind: 0 }],
  });
  const parts = job(
    drawing('A', 'mm', [row('a')]),
    drawing('B', 'in', [inch]),
    drawing('C', null, [row('c')], { listed: false }),
  );
  expect(tableUnit(parts)).toBe('mm');
  const [, b] = tableRows(parts);
  expect(tableRows(parts)).toHaveLength(2);
  expect([b!.length, b!.width, b!.area, b!.cutLength, b!.holes[0]!.diameter]).toEqual(
    [50.8, 25.4, 1290.32, 152.4, 12.7].map((v) => expect.closeTo(v, 9)),
  );
  // What has no unit is told in its own numbers.
  expect(tableRows(job(drawing('A', 'mm', []), drawing('D', null, [row('d')])))[0]).toMatchObject({
    unit: 'units',
    length: 10,
  });
});

test('a number is missing or there twice over all drawings; what is left out needs none', () => {
  const rows = tableRows(
    job(
      drawing('A', 'mm', [
        row('1', { number: 'P1' }),
        row('2', { number: '' }),
        row('3', { number: '', leftOut: 'why' }),
      ]),
      drawing('B', 'mm', [row('1', { number: 'p1 ' })]),
    ),
  );
  expect(rows.map((r) => r.numberState)).toEqual(['twice', 'none', 'given', 'twice']);
  expect(rows.filter((r) => isShown(r, '', 'faults'))).toHaveLength(3);
  expect(rows.filter((r) => isShown(r, '', 'out'))).toHaveLength(1);
  expect(rows.filter((r) => isShown(r, 'PLY 12 b.dxf', 'all'))).toHaveLength(1);
});

test('numbers sort as people count, and a third press is the order of the drawings again', () => {
  const rows = tableRows(
    job(
      drawing(
        'A',
        'mm',
        ['P10', 'P9', 'P1'].map((n) => row(n, { number: n })),
      ),
    ),
  );
  expect(numbersOf(sorted(rows, { by: 'number', down: false }))).toEqual(['P1', 'P9', 'P10']);
  expect(numbersOf(sorted(rows, { by: 'number', down: true }))).toEqual(['P10', 'P9', 'P1']);
  expect(numbersOf(sorted(rows, null))).toEqual(['P10', 'P9', 'P1']);
  const long = tableRows(job(drawing('A', 'mm', [row('a', { length: 100 }), row('b', { length: 20 })])));
  expect(numbersOf(sorted(long, { by: 'length', down: false }))).toEqual(['b', 'a']);
});

test('proposed numbers are those that no part has or had, each once, counted apart for each kind', () => {
  const rows = tableRows(
    job(
      drawing('A', 'mm', [row('x', { number: '02' }), row('y', { number: '' })]),
      drawing('B', 'mm', [row('y', { number: '' }), row('z', { number: '' })]),
    ),
  );
  const asked = rows.filter((r) => r.number === '');
  expect([...proposals(asked, rows, ['01', '04'], {}).values()]).toEqual(['03', '05', '06']);
  const byKind = { numbering: { ...NUMBERING, prefix: '{material}-', order: 'rows' } } as never;
  expect([...proposals(rows, rows, ['PLY-01'], byKind).values()]).toEqual(['PLY-02', 'PLY-03', 'PLY-04', 'PLY-05']);
});

test('the bar of coverage says its sum', () => {
  render(<CoverageBar coverage={{ parts: 27, delivered: 20, leftOut: 1, open: 6 }} />);
  expect(screen.getByTestId('coverage').textContent).toBe('27 parts = 20 delivered + 1 left out + 6 still to go out');
});

test('lines are ticked one by one, through with Shift, and all; a head sorts', async () => {
  const user = userEvent.setup();
  const rows = tableRows(
    job(
      drawing(
        'A',
        'mm',
        ['1', '2', '3', '4'].map((n) => row(n)),
      ),
    ),
  );
  const onTick = vi.fn();
  const onSort = vi.fn();
  render(
    <MemoryRouter>
      <PartsTable
        rows={rows}
        sort={null}
        onSort={onSort}
        ticked={new Set()}
        onTick={onTick}
        proposed={new Map([['A 2', '77']])}
      />
    </MemoryRouter>,
  );
  expect(screen.getAllByRole('row')).toHaveLength(5);
  expect(within(screen.getAllByRole('row')[2]!).getByText('77')).toBeTruthy();
  await user.click(screen.getByLabelText('Tick part 1'));
  expect(onTick).toHaveBeenLastCalledWith(['A 1'], true);
  await user.keyboard('{Shift>}');
  await user.click(screen.getByLabelText('Tick part 3'));
  await user.keyboard('{/Shift}');
  expect(onTick).toHaveBeenLastCalledWith(['A 1', 'A 2', 'A 3'], true);
  await user.click(screen.getByLabelText('Tick all that are shown'));
  expect(onTick).toHaveBeenLastCalledWith(['A 1', 'A 2', 'A 3', 'A 4'], true);
  await user.click(screen.getByRole('button', { name: 'Area' }));
  expect(onSort).toHaveBeenLastCalledWith('area');
});

test('corrections tell two drawings of one file apart, and change nothing before they are taken', async () => {
  const user = userEvent.setup();
  const rows = tableRows(job(drawing('aaaaaaaa-1', 'mm', [row('k')]), drawing('bbbbbbbb-2', 'mm', [row('k')])));
  const onTake = vi.fn();
  render(<CorrectionsDialog rows={rows} onClose={() => {}} onTake={onTake} />);
  await user.click(screen.getByLabelText('Table'));
  await user.paste('part,material\nk-bbbbbbbb,MDF\nk-cccccccc,MDF\n');
  expect(screen.getByTestId('corrections').textContent).toContain(
    '1 part would change, 0 say what is so already, 1 line cannot',
  );
  expect(onTake).not.toHaveBeenCalled();
  await user.click(screen.getByRole('button', { name: 'Change 1 part' }));
  expect(onTake.mock.calls[0]![0]).toMatchObject({
    changes: [{ key: 'k-bbbbbbbb', change: { words: { material: 'MDF' } } }],
  });
});
