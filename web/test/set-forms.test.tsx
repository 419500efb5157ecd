// @vitest-environment happy-dom
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test, vi } from 'vitest';
import type { NamePiece, Recipe } from '@scalaria/core';
import { FIRST_STATES, trackerCsv } from '@scalaria/core';
import type { SetPlanView, TrackedFile } from '../src/api/types';
import { PlanTold } from '../src/routes/deliveries/plan-told';
import { PlannedTable } from '../src/routes/deliveries/planned-table';
import { StatesDialog } from '../src/routes/deliveries/states-dialog';
import { TrackerDialog } from '../src/routes/deliveries/tracker-dialog';
import { NamingEditor } from '../src/routes/recipes/naming-editor';
import { sized } from './support/sized';

sized(900, 900);

function Naming({ recipe, first = [] }: { recipe: Recipe; first?: NamePiece[] }) {
  const [pieces, setPieces] = useState<NamePiece[]>(first);
  return <NamingEditor recipe={recipe} pieces={pieces} ending=".dxf" onChange={setPieces} />;
}
const example = (): string => screen.getByTestId('name-example').textContent;

test('a name is put together piece by piece, and its example follows', async () => {
  const user = userEvent.setup();
  render(<Naming recipe={{ recipe: 2, receiver: 'LS', split: { by: 'layers' } }} />);
  expect(example()).toBe('For example Front elevation-CUT.dxf or Front elevation-Engraved lettering.dxf');
  await user.click(screen.getByRole('button', { name: 'Add a running number' }));
  await user.click(screen.getByRole('button', { name: 'Add fixed words' }));
  await user.click(screen.getByRole('button', { name: 'Add what is known' }));
  await user.selectOptions(screen.getByLabelText('Says'), 'Layer');
  await user.selectOptions(screen.getByLabelText('Letters'), 'small letters');
  await user.selectOptions(screen.getByLabelText('Blanks'), 'blanks as _');
  expect(example()).toBe('For example 001-cut.dxf or 002-engraved_lettering.dxf');
  // The running number goes to the end: first past the dash, then past the layer.
  await user.click(screen.getByRole('button', { name: 'Piece 1 further back' }));
  await user.click(screen.getByRole('button', { name: 'Piece 2 further back' }));
  expect(example()).toBe('For example -cut001.dxf or -engraved_lettering002.dxf');
  await user.click(screen.getByRole('button', { name: 'Take piece 1 away' }));
  expect(example()).toBe('For example cut001.dxf or engraved_lettering002.dxf');
  expect(screen.getByRole('button', { name: 'Piece 2 further back' })).toHaveProperty('disabled', true);
});

test.each([
  ['sheets', 'For example Front elevation-Plan.dxf or Front elevation-Details of the roof.dxf'],
  ['groups', 'For example Front elevation-Frame.dxf or Front elevation-Glazing bars.dxf'],
  ['stock', 'For example Front elevation.dxf or Front elevation-birch plywood-18 mm.dxf'],
  ['drawing', 'For example Front elevation.dxf'],
])('by %s files are called after their drawing and what they hold of it', (by, words) => {
  render(<Naming recipe={{ recipe: 2, split: { by } }} />);
  expect(example()).toContain(words);
});

const planned = (key: string, more: object = {}): SetPlanView['files'][number] =>
  ({
    ...{ key, source: 'a', piece: key, why: `2 objects on layer ${key}`, objects: 2, name: key, asked: null },
    ...{ clashes: false, stop: null },
    ...more,
  }) as never;
const PLAN = {
  files: [
    planned('CUT'),
    planned('FOLD'),
    planned('AUX_', { asked: 'AUX' }),
    planned('CUT-2', { asked: 'cut', clashes: true }),
    planned('OPEN', { stop: 'Open outlines: 1 found', objects: 1 }),
  ],
  leftOut: [{ source: 'a', what: 'layer 0', why: 'empty', objects: 0 }],
  ending: '.dxf',
} as unknown as SetPlanView;

function Table({ keys }: { keys: (without: ReadonlySet<string>) => void }) {
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  return (
    <PlannedTable
      plan={PLAN}
      nameOf={new Map([['a', 'plan.dxf']])}
      without={without}
      onWithout={(key, on) => {
        const next = new Set(without);
        if (on) next.delete(key);
        else next.add(key);
        setWithout(next);
        keys(next);
      }}
    />
  );
}

test('every file of a set is listed with its reason before it is written; what cannot be has no tick', async () => {
  const user = userEvent.setup();
  const keys = vi.fn();
  render(<Table keys={keys} />);
  expect(screen.getByTestId('sums').textContent).toBe(
    '5 files = 4 to be written + 1 that cannot be · 9 objects in them · 1 left out',
  );
  expect(screen.getAllByRole('checkbox')).toHaveLength(4);
  expect(screen.getByText('not every system takes that name: AUX')).toBeTruthy();
  expect(screen.getByText('another file has that name: cut')).toBeTruthy();
  await user.click(screen.getByRole('checkbox', { name: 'Write FOLD.dxf' }));
  expect(keys).toHaveBeenLastCalledWith(new Set(['FOLD']));
  expect(screen.getByTestId('sums').textContent).toContain('3 to be written + 1 that cannot be + 1 left out by hand');
});

test('a set is looked through by what is wrong with it, and by words', async () => {
  const user = userEvent.setup();
  render(<Table keys={() => {}} />);
  const rows = (): string[] =>
    screen
      .getAllByRole('row')
      .slice(1)
      .map((r) => r.textContent);
  const show = (words: string): Promise<void> =>
    user.selectOptions(screen.getByLabelText('Which files are shown'), words);
  await show('those that cannot be written');
  expect(rows()).toHaveLength(1);
  expect(rows()[0]).toContain('Open outlines: 1 found');
  await show('those whose name had to change');
  expect(rows()).toHaveLength(2);
  await show('what goes into no file');
  expect(rows()[0]).toContain('layer 0');
  await show('all files');
  await user.type(screen.getByLabelText('Search the files'), 'fold');
  expect(rows()).toHaveLength(1);
});

test('states are renamed with the rows that are in them, and no two have one name', async () => {
  const user = userEvent.setup();
  const keep = vi.fn();
  render(<StatesDialog states={['to draw', 'sent', 'done']} onClose={() => {}} onKeep={keep} />);
  const kept = (): HTMLElement => screen.getByRole('button', { name: 'Keep' });
  const second = screen.getByLabelText('State 2');
  await user.clear(second);
  expect(screen.getByText('Each state needs a name.')).toBeTruthy();
  await user.type(second, 'DONE');
  expect(screen.getByText('Two states have one name.')).toBeTruthy();
  expect(kept()).toHaveProperty('disabled', true);
  await user.clear(second);
  await user.type(second, 'on its way');
  await user.click(screen.getByRole('button', { name: 'Take state done away' }));
  await user.click(screen.getByRole('button', { name: 'Add a state' }));
  await user.type(screen.getByLabelText('State 3'), 'paid');
  await user.click(kept());
  expect(keep).toHaveBeenCalledWith([
    { name: 'to draw', was: 'to draw' },
    { name: 'on its way', was: 'sent' },
    { name: 'paid', was: null },
  ]);
});

const tracked = (id: string, more: Partial<TrackedFile> = {}): TrackedFile => ({
  ...{ id, number: '014', file: `${id}.dxf`, holds: '', receiver: 'LS', material: '', thickness: '', note: '' },
  ...{ thicknessTrue: '', boards: 3, priceCents: 8450, state: 'ready', who: '', when: '', revision: 1, newest: 1 },
  ...{ parts: [], drawingId: null, drawings: [], fileId: null },
  ...more,
});

test('a table that comes back shows what it would change before anything is changed, and what it cannot', async () => {
  const user = userEvent.setup();
  const take = vi.fn();
  const rows = [tracked('walls'), tracked('doors')];
  render(<TrackerDialog rows={rows} states={FIRST_STATES} onClose={() => {}} onTake={take} />);
  const button = (): HTMLElement => within(screen.getByRole('dialog')).getByRole('button', { name: /^Change/ });
  expect(button()).toHaveProperty('disabled', true);
  const csv = trackerCsv(rows);
  const put = async (text: string): Promise<void> => {
    const field = screen.getByLabelText('Table');
    await user.clear(field);
    await user.click(field);
    await user.paste(text);
  };
  await put(csv);
  expect(screen.getByText('0 changed, 0 planned anew')).toBeTruthy();
  expect(button()).toHaveProperty('disabled', true);
  const lines = csv.trim().split(/\r?\n/);
  await put([lines[0], lines[1]!.replace('ready', 'sent'), lines[2]!.replace('ready', 'nowhere')].join('\n'));
  expect(screen.getByText('1 changed, 0 planned anew, 1 that cannot be taken')).toBeTruthy();
  expect(screen.getByText(/^Line 3: /)).toBeTruthy();
  await user.click(button());
  expect(take).toHaveBeenCalledWith([{ id: 'walls', fields: { state: 'sent' } }], []);
});

test('what a set would hold and lose is told drawing by drawing before it is written', () => {
  const source = (name: string, more: object = {}) => ({
    ...{ id: name, name, revision: 1, ready: true, objects: 0, layers: [], losses: [], waived: [] },
    ...more,
  });
  const sources = [
    source('plan.dxf', {
      objects: 3,
      layers: [
        { name: 'CUT', objects: 2 },
        { name: 'FOLD', objects: 1 },
        { name: 'OLD', objects: 0 },
      ],
      losses: [{ action: 'dropped', reason: 'gradients cannot be held', count: 4 }],
      waived: [{ check: 'open-outlines', count: 2, why: 'they are folds' }],
    }),
    source('bench.dxf', { ready: false, objects: 1, layers: [{ name: '0', objects: 1 }] }),
  ];
  const view = render(<PlanTold plan={{ ...PLAN, looking: 1, sources } as never} />);
  const told = (title: string): string => screen.getByRole('region', { name: title }).textContent;
  expect(told('Layers')).toContain('plan.dxf 3 objects on 2 layers, 1 empty');
  expect(told('Layers')).toContain('CUT2FOLD1OLD0');
  expect(told('Layers')).toContain('bench.dxf 1 object on 1 layer, as the file says');
  expect(told('What would be lost')).toContain('gradients cannot be held (4)');
  expect(told('Let through')).toContain('plan.dxf: open-outlines (2): they are folds');
  view.rerender(<PlanTold plan={{ ...PLAN, looking: 1, sources: [sources[1]] } as never} />);
  expect(told('What would be lost')).toContain('Not known yet.');
  view.rerender(<PlanTold plan={{ ...PLAN, looking: 0, sources: [source('bench.dxf')] } as never} />);
  expect(told('What would be lost')).toContain('Nothing.');
});
