// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { PlannedStep, Target } from '@scalaria/core';
import { STEPS } from '@scalaria/core';
import { Deliver } from '../src/routes/drawing/deliver';
import { Prepare } from '../src/routes/drawing/prepare/prepare';
import { useFieldSections } from '../src/routes/drawing/take-in-fields';
import { Around, Opened, deliveryRow, spokenOf } from './support/drawing';

const server = vi.hoisted(() => ({
  rows: [] as unknown[],
  drawings: [] as unknown[],
  parts: undefined as unknown,
  makeJson: vi.fn(),
  sendJson: vi.fn(),
}));
vi.mock('../src/viewport/viewport', () => ({ Viewport: ({ label }: { label: string }) => <div>{label}</div> }));
vi.mock('../src/routes/drawing/view/drawing-view', () => ({
  DrawingView: ({ label, over }: { label: string; over?: ReactNode }) => (
    <div>
      {label}
      {over}
    </div>
  ),
}));
vi.mock('../src/api/hooks', () => ({
  useDeliveries: () => ({ data: server.rows, mutate: async () => {} }),
  useJob: () => ({ data: { drawings: server.drawings } }),
  useJobParts: () => ({ data: server.parts }),
  useDrawingDetail: () => ({ data: undefined }),
}));
vi.mock('../src/api/client', async (actual) => ({
  ...(await actual<object>()),
  makeJson: server.makeJson,
  sendJson: server.sendJson,
}));

beforeEach(() => {
  server.rows = [];
  server.drawings = [];
  server.parts = undefined;
  server.makeJson.mockReset().mockResolvedValue({});
  vi.stubGlobal(
    'EventSource',
    class {
      close() {}
    },
  );
});
afterEach(cleanup);

describe('station four', () => {
  const shown = async (name: string): Promise<void> => {
    render(<Around name={name} station={<Deliver />} />);
    await waitFor(() => expect(screen.queryByText(/Being/)).toBeNull());
  };
  const asked = (): Target => server.makeJson.mock.lastCall?.[1] as Target;

  test('what is asked for is sent as it was chosen, and only what the format knows', async () => {
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.selectOptions(screen.getByLabelText('Text'), 'becomes outlines');
    await userEvent.selectOptions(screen.getByLabelText('Blocks'), 'defined once and reused');
    await userEvent.selectOptions(screen.getByLabelText('Unit'), 'cm');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(server.makeJson.mock.lastCall?.[0]).toBe('/api/drawings/d1/deliveries');
    expect(asked()).toMatchObject({
      format: 'svg',
      version: '1.1',
      unit: 'cm',
      options: { text: 'outlines', blocks: 'shared' },
    });
    // Another format: text has it too, blocks has it not; the unit stays.
    await userEvent.selectOptions(screen.getByLabelText('Format'), 'DXF');
    expect(screen.queryByLabelText('Blocks')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(asked()).toMatchObject({ format: 'dxf', version: '2010', unit: 'cm', options: { text: 'outlines' } });
    expect(asked().options).not.toHaveProperty('blocks');
  });

  test('before the button it says what would become of the drawing, for the format at hand, each with its list', async () => {
    await shown('kestrel-row-front-elevation.dxf');
    const line = (what: string): HTMLElement =>
      document.querySelector(`[data-testid=forecast] [data-carry-over=${what}]`)!;
    await waitFor(() => expect(line('curves')).not.toBeNull());
    // To SVG: what has no word there is left out, and the list says what.
    const curves = within(line('curves'));
    expect(line('curves').textContent).toMatch(/\d+ (left out|approximated|changed)/);
    await userEvent.click(curves.getByRole('button', { expanded: false }));
    expect(curves.getAllByRole('listitem').length).toBeGreaterThan(0);
    // The strip speaks of the file to be written.
    const strip = spokenOf.mock.lastCall?.[0] as { carryOver: string; state: string }[];
    expect(strip.find((c) => c.carryOver === 'curves')!.state).toBe(line('curves').dataset['state']);
    // To DXF, which it came from, no curve is left out.
    await userEvent.selectOptions(screen.getByLabelText('Format'), 'DXF');
    await waitFor(() => expect(document.querySelector('[data-testid=forecast]')).toBeNull());
    await waitFor(() => expect(document.querySelector('[data-testid=forecast]')).not.toBeNull());
    expect(line('curves')?.textContent ?? '').not.toMatch(/left out/);
    expect(document.body.textContent).toMatch(/Kept: .*units/);
  });

  test('what cannot be written is said in its field and nothing is sent', async () => {
    await shown('kestrel-row-front-elevation.dxf');
    const decimals = screen.getByLabelText('Decimals');
    await userEvent.clear(decimals);
    await userEvent.type(decimals, '16{Enter}');
    expect(document.body.textContent).toContain('Decimals must be at most 15.');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(asked().options).not.toHaveProperty('decimals', 16);
  });

  test('questions about artwork are only asked of artwork, a template only where there is one', async () => {
    server.drawings = [
      { id: 'd2', name: 'office.dxf', format: 'dxf', deleted: false },
      { id: 'd3', name: 'art.svg', format: 'svg', deleted: false },
    ];
    await shown('kestrel-row-wayfinding-panel.svg');
    expect(screen.queryByLabelText('Arcs lie within')).toBeNull();
    await userEvent.selectOptions(screen.getByLabelText('Paths of lines and curves become'), 'a polyline of arcs');
    await userEvent.type(screen.getByLabelText('Arcs lie within'), '0,05{Enter}');
    const template = screen.getByLabelText<HTMLSelectElement>('Template');
    expect([...template.options].map((o) => o.text)).toEqual(['none', 'office.dxf']);
    await userEvent.selectOptions(template, 'office.dxf');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(asked().options).toMatchObject({ curves: 'arcs', tolerance: 0.05, template: 'd2' });
    cleanup();
    server.drawings = [];
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.selectOptions(screen.getByLabelText('Format'), 'DXF');
    expect(screen.queryByLabelText('Paths of lines and curves become')).toBeNull();
    expect(screen.queryByLabelText('Template')).toBeNull();
  });

  test('begins as the file was asked for last, and keeps what is chosen', async () => {
    const kept = vi.fn();
    const target = { format: 'dwg', version: '2004', unit: 'cm', options: { text: 'outlines' } } as const;
    render(<Around name="kestrel-row-front-elevation.dxf" station={<Deliver />} state={{ target }} kept={kept} />);
    await waitFor(() => expect(screen.queryByText(/Being/)).toBeNull());
    expect(screen.getByLabelText<HTMLSelectElement>('Format').value).toBe('dwg');
    expect(screen.getByLabelText<HTMLSelectElement>('Version').value).toBe('2004');
    await userEvent.selectOptions(screen.getByLabelText('Version'), '2010');
    expect(kept.mock.lastCall?.[0]).toEqual({ target: { ...target, version: '2010' } });
  });

  test('the file is called after the drawing unless a name is chosen, and only as every system allows', async () => {
    server.rows = [deliveryRow({ id: 'x1', fileName: 'front.svg' })];
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(asked().name).toBe('kestrel-row-front-elevation');
    const name = screen.getByLabelText('Name of the file (.svg)');
    await userEvent.clear(name);
    await userEvent.type(name, 'front');
    expect(screen.getByText(/A file of this name is listed below and stays as it is/)).toBeTruthy();
    await userEvent.type(name, ': north?');
    expect(screen.getByText(/Written as “front_ north_”/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(asked().name).toBe('front_ north_');
  });

  test('a delivery is deleted and can be put back', async () => {
    server.rows = [deliveryRow({ id: 'x1' })];
    server.sendJson.mockReset().mockResolvedValue({});
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.click(screen.getByRole('button', { name: 'Delete a.svg' }));
    expect(server.sendJson).toHaveBeenLastCalledWith('PATCH', '/api/deliveries/x1', { deleted: true });
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    expect(server.sendJson).toHaveBeenLastCalledWith('PATCH', '/api/deliveries/x1', { deleted: false });
  });

  test('what the server refuses is told with what to do', async () => {
    const { ApiError } = await import('../src/api/client');
    server.makeJson.mockRejectedValue(
      new ApiError(409, 'The unit is undecided.', undefined, 'Decide it at station one.'),
    );
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(await screen.findByText(/The unit is undecided\. Decide it at station one\./)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Write 1 file' }).disabled).toBe(false);
  });

  test('numbers of parts are asked for where the drawing has a list of them, and stay asked for with another format', async () => {
    await shown('kestrel-row-front-elevation.dxf');
    expect(screen.queryByTestId('parts-asked')).toBeNull();
    cleanup();
    server.parts = { drawings: [{ id: 'd1', listed: true, rows: [{ number: '7', leftOut: 'bought in' }] }] };
    await shown('kestrel-row-front-elevation.dxf');
    await userEvent.click(screen.getByLabelText('Each part needs a number of its own'));
    expect(screen.getByTestId('parts-asked').textContent).toContain('Left out: 7.');
    await userEvent.selectOptions(screen.getByLabelText('Format'), 'svg');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(server.makeJson.mock.calls[0]![1]).toMatchObject({ format: 'svg', numbered: true });
  });

  test('parts that were chosen are written alone, called after them, and the whole drawing again when that is asked', async () => {
    render(<Around name="kestrel-row-front-elevation.dxf" station={<Deliver />} at="/?parts=07%0A08" />);
    expect((await screen.findByTestId('parts-asked')).textContent).toContain('Parts 07, 08 alone');
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(server.makeJson.mock.calls[0]![1]).toMatchObject({
      parts: ['07', '08'],
      name: 'kestrel-row-front-elevation parts',
    });
    await userEvent.click(screen.getByRole('button', { name: 'Write the whole drawing' }));
    await userEvent.click(screen.getByRole('button', { name: 'Write 1 file' }));
    expect(server.makeJson.mock.calls[1]![1]).not.toHaveProperty('parts');
  });

  test('deliveries tell how they stand, and of each what can be done with it', async () => {
    server.rows = [
      deliveryRow({ id: 'x1', verdict: { holds: true, lost: 2, whole: true } }),
      deliveryRow({ id: 'x2', verdict: { holds: false, lost: 0, whole: true }, revision: 0 }),
      deliveryRow({ id: 'x3', state: 'failed', verdict: null, error: 'No file can hold it.', fileName: null }),
      deliveryRow({ id: 'x4', state: 'working', verdict: null, progress: 0.4 }),
    ];
    await shown('kestrel-row-front-elevation.dxf');
    const lines = [...document.querySelectorAll<HTMLElement>('[data-delivery]')];
    expect(lines.map((l) => l.dataset['delivery'])).toEqual(['done', 'done', 'failed', 'working']);
    expect(within(lines[0]!).getByText('Download').getAttribute('href')).toBe('/api/deliveries/x1/file');
    expect(within(lines[0]!).getByText('The proof holds, but 2 objects are lost.')).toBeTruthy();
    expect(within(lines[1]!).getByText('The proof does not hold.').className).toContain('alarm');
    expect(lines[0]!.textContent).not.toContain('Written from revision');
    expect(lines[1]!.textContent).toContain('Written from revision 0; the drawing is at 1 now.');
    expect(lines[2]!.textContent).toContain('No file can hold it.');
    expect(within(lines[2]!).queryByText('Download')).toBeNull();
    server.sendJson.mockResolvedValue({});
    await userEvent.click(within(lines[3]!).getByRole('button', { name: 'Stop' }));
    expect(server.sendJson).toHaveBeenCalledWith('POST', '/api/deliveries/x4/cancel');
  });
});

describe('station three', () => {
  const start = (name = 'kestrel-row-mullion.dxf') => {
    const kept = vi.fn();
    render(<Around name={name} station={<Prepare />} kept={kept} />);
    return { kept, steps: (): PlannedStep[] => (kept.mock.lastCall?.[0] as { steps: PlannedStep[] }).steps };
  };
  const choose = async (title: string): Promise<void> => {
    await userEvent.click(await screen.findByRole('button', { name: 'Add a step' }));
    await userEvent.click(within(screen.getByRole('region', { name: 'Steps to choose from' })).getByText(title));
  };
  test('a step is tried before it is taken, says what it would do, is changed, switched off and removed', async () => {
    const { kept, steps } = start();
    await choose('Shift origin');
    expect(kept).not.toHaveBeenCalled();
    expect(await screen.findByText('It would change nothing here.')).toBeTruthy();
    const x = screen.getByLabelText('The point, x');
    await userEvent.clear(x);
    await userEvent.type(x, '2{Enter}');
    expect(await within(screen.getByTestId('preview')).findByText(/origin shifted to 2, 0/)).toBeTruthy();
    expect(kept).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'Take this step' }));
    // A length by hand is kept with the unit of the drawing, which is in inches.
    expect(steps()).toMatchObject([
      {
        step: 'shift-origin',
        on: true,
        version: 2,
        params: { to: 'point', point: { x: { value: 2, unit: 'in' }, y: 0 } },
      },
    ]);
    expect(await screen.findByText('1 change')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Change Shift origin' }));
    await userEvent.clear(screen.getByLabelText('The point, x'));
    await userEvent.type(screen.getByLabelText('The point, x'), '3{Enter}');
    await userEvent.click(screen.getByRole('button', { name: 'Leave' }));
    expect(kept).toHaveBeenCalledTimes(1);
    await userEvent.click(screen.getByLabelText('on'));
    expect(steps()[0]!.on).toBe(false);
    await userEvent.click(screen.getByRole('button', { name: 'More for Shift origin' }));
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Remove' }));
    expect(steps()).toEqual([]);
  });
  test('the list is searched by what one wants to do, grouped, each step with its sentence and pictures', async () => {
    start();
    await userEvent.click(await screen.findByRole('button', { name: 'Add a step' }));
    const list = within(screen.getByRole('region', { name: 'Steps to choose from' }));
    expect(list.getAllByRole('region').length).toBeGreaterThan(4);
    expect(await list.findAllByRole('img', { name: /: before and after$/ })).toHaveLength(STEPS.length);
    await userEvent.type(list.getByLabelText('Find a step'), 'chords');
    expect(list.getAllByRole('button').map((b) => b.textContent)).toEqual(
      expect.arrayContaining([expect.stringContaining('Curves to chords')]),
    );
    expect(list.queryByText('Shift origin')).toBeNull();
    await userEvent.type(list.getByLabelText('Find a step'), ' zebra');
    expect(list.getByText(/No step says that/)).toBeTruthy();
  });
  test('the list takes the keyboard when it opens, and gives it back when it is left with Escape', async () => {
    start();
    const add = await screen.findByRole('button', { name: 'Add a step' });
    add.focus();
    await userEvent.keyboard('{Enter}');
    expect(document.activeElement).toBe(screen.getByLabelText('Find a step'));
    await userEvent.keyboard('thin{Escape}');
    expect(screen.queryByRole('region', { name: 'Steps to choose from' })).toBeNull();
    expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Add a step' }));
  });
  test('the drawing is seen as it is after any step; a step that fails says so in its line', async () => {
    const { steps } = start();
    await choose('Set true size');
    await userEvent.clear(screen.getByLabelText('True length'));
    await userEvent.type(screen.getByLabelText('True length'), '2{Enter}');
    await screen.findByText(/scaled/);
    await userEvent.click(screen.getByRole('button', { name: 'Take this step' }));
    await choose('Set true size');
    await userEvent.click(screen.getByRole('button', { name: 'Take this step' }));
    const outcome = async () => (await screen.findByTestId('outcome')).textContent;
    const whole = await outcome();
    expect(steps()).toHaveLength(2);
    await userEvent.click(screen.getAllByTitle('See the drawing as it is after this step')[0]!);
    expect(await screen.findByText(/As it is after step 1 of 2/)).toBeTruthy();
    expect(await outcome()).toBe(whole);
    await userEvent.click(screen.getByRole('button', { name: 'See the last' }));
    await userEvent.click(screen.getAllByRole('button', { name: 'More for Set true size' })[0]!);
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Duplicate' }));
    expect(steps()).toHaveLength(3);
    expect(steps()[0]!.params).toEqual(steps()[1]!.params);
    expect(steps()[0]!.id).not.toBe(steps()[1]!.id);
  });
  test('what is shared by steps is set once for all of them', async () => {
    const { steps } = start();
    await choose('Merge overlaps');
    await userEvent.selectOptions(screen.getByLabelText('Where layers or looks differ'), 'As the first of them');
    await userEvent.click(screen.getByRole('button', { name: 'Take this step' }));
    await choose('Chain into outlines');
    expect(screen.getByLabelText<HTMLSelectElement>('Where layers or looks differ').value).toBe('first');
    await userEvent.selectOptions(screen.getByLabelText('Where layers or looks differ'), 'As most of them');
    await userEvent.click(screen.getByRole('button', { name: 'Take this step' }));
    expect(steps().map((s) => s.params['together'])).toEqual(['most', 'most']);
  });
});

describe('decisions without a form of their own', () => {
  test('are laid out from their fields, and say what was decided', async () => {
    const kept = vi.fn();
    render(<Around name="kestrel-row-wayfinding-panel.svg" station={<Opened use={useFieldSections} />} kept={kept} />);
    const section = within(screen.getByRole('region', { name: 'Clips, patterns, gradients' }));
    await userEvent.selectOptions(section.getByLabelText('Gradients'), 'become their average colour');
    expect(kept.mock.lastCall?.[0]).toMatchObject({
      intake: { art: { clips: 'cut', patterns: 'shapes', gradients: 'mean' } },
    });
    expect(kept.mock.lastCall?.[1]).toBe('clips, patterns, gradients');
    expect(section.getByText('gradients as their mean colour')).toBeTruthy();
  });
  test('that only artwork asks for are not asked of drafting', () => {
    render(<Around name="kestrel-row-mullion.dxf" station={<Opened use={useFieldSections} />} />);
    expect(screen.queryByRole('region')).toBeNull();
  });
});
