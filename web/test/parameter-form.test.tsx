// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import type { Kept, Parameter, ParameterSet } from '@scalaria/core';
import { CHECKS, EVERYTHING, STEPS, defaultsOf, faultOf, lengthWithUnit, p } from '@scalaria/core';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { FormHelp } from '../src/forms/parameter-form';
import { ParameterForm } from '../src/forms/parameter-form';

afterEach(cleanup);

/** A form that keeps what it is told, as the page does; gives what was told last. */
function shown(params: ParameterSet, help: FormHelp = {}, first: Kept = {}): { told: () => Kept | undefined } {
  const onChange = vi.fn<(v: Kept) => void>();
  function Page() {
    const [values, setValues] = useState<Kept>(first);
    const tell = (v: Kept): void => (onChange(v), setValues(v));
    return <ParameterForm params={params} values={values} unit="mm" help={help} onChange={tell} />;
  }
  render(<Page />);
  return { told: () => onChange.mock.lastCall?.[0] };
}

describe('a form laid out from parameters', () => {
  test.each([...STEPS, ...CHECKS].map((x) => [x.title, x] as const))(
    '%s: every control has its name',
    (_, { params }) => {
      shown(params);
      for (const control of document.querySelectorAll('input, select, button')) {
        const id = control.getAttribute('id');
        const label =
          control.closest('label')?.textContent ?? (id && document.querySelector(`label[for="${id}"]`)?.textContent);
        expect(label || control.textContent || control.getAttribute('aria-label'), control.outerHTML).toMatch(/\S/);
      }
      const asked = Object.values(params).filter((one) =>
        Object.entries(one.when ?? {}).every(([k, v]) => params[k]?.default === v),
      );
      for (const { title } of asked) expect(document.body.textContent).toContain(title);
    },
  );

  test('a number is told on Enter, once, and what is none is said beside it and not told', async () => {
    const form = shown({ copies: p.number({ title: 'Copies', default: 2, above: 0 }) });
    const field = screen.getByLabelText('Copies');
    await userEvent.clear(field);
    await userEvent.type(field, '0{Enter}');
    expect(form.told()).toBeUndefined();
    expect(document.body.textContent).toContain('Copies must be above 0.');
    await userEvent.clear(field);
    await userEvent.type(field, '3,5{Enter}');
    expect(form.told()).toEqual({ copies: 3.5 });
  });

  test('a length keeps the unit it was given in; a new one takes that of the drawing', async () => {
    const set = { gap: p.length({ title: 'Gap', default: 1 }), by: p.length({ title: 'By', default: 1 }) };
    const lengths = (v: number) => lengthWithUnit(v, { unit: 'mm', factor: 1 });
    const form = shown(set, { lengths }, { gap: { value: 2, unit: 'in' } });
    for (const label of ['Gap', 'By']) {
      await userEvent.clear(screen.getByLabelText(label));
      await userEvent.type(screen.getByLabelText(label), '5{Enter}');
    }
    expect(form.told()).toEqual({ gap: { value: 5, unit: 'in' }, by: { value: 5, unit: 'mm' } });
    expect(document.body.textContent).toMatch(/Gap\s*in/);
  });

  test('a length that is found by itself is typed only once that is switched off, and found by itself again', async () => {
    const form = shown({
      gap: p.length({ title: 'Widest gap', automatic: 'a hundredth of the size', default: 0, atLeast: 0 }),
    });
    const automatic = screen.getByLabelText<HTMLInputElement>('Widest gap: automatic, a hundredth of the size');
    expect(automatic.checked).toBe(true);
    expect(screen.queryByRole('textbox')).toBeNull();
    await userEvent.click(automatic);
    await userEvent.type(screen.getByRole('textbox', { name: 'Widest gap' }), '2,5{Enter}');
    expect(form.told()).toEqual({ gap: 2.5 });
    expect(automatic.checked).toBe(false);
    await userEvent.click(automatic);
    expect(form.told()).toEqual({ gap: 0 });
    expect(screen.queryByRole('textbox')).toBeNull();
  });

  test('what counts only under another value comes and goes with it, and keeps what was typed', async () => {
    const set = {
      along: p.choice({ title: 'Along', default: 'line', choices: { line: 'A line', circle: 'A circle' } }),
      radius: p.length({ title: 'Radius', default: 50, when: { along: 'circle' } }),
    };
    const form = shown(set);
    expect(screen.queryByLabelText('Radius')).toBeNull();
    await userEvent.selectOptions(screen.getByLabelText('Along'), 'A circle');
    await userEvent.clear(screen.getByLabelText('Radius'));
    await userEvent.type(screen.getByLabelText('Radius'), '12{Enter}');
    await userEvent.selectOptions(screen.getByLabelText('Along'), 'A line');
    expect(screen.queryByLabelText('Radius')).toBeNull();
    expect(form.told()).toEqual({ along: 'line', radius: 12 });
  });

  test('rows of a chart are added, filled and removed', async () => {
    const set = { inks: p.chart({ title: 'Layers', of: 'text', columns: ['from', 'to'], atMost: 2 }) };
    const form = shown(set);
    await userEvent.click(screen.getByText('One more row'));
    await userEvent.type(screen.getByLabelText('from, row 1'), 'ROOF{Enter}');
    await userEvent.type(screen.getByLabelText('to, row 1'), 'A-ROOF{Enter}');
    await userEvent.click(screen.getByText('One more row'));
    expect(form.told()).toEqual({
      inks: [
        { from: 'ROOF', to: 'A-ROOF' },
        { from: '', to: '' },
      ],
    });
    expect(screen.queryByText('One more row')).toBeNull();
    await userEvent.click(screen.getByLabelText('Remove row 1'));
    expect(form.told()).toEqual({ inks: [{ from: '', to: '' }] });
  });

  test('where a template has agreed names only those are charted to; a row for the rest takes them up where they are the same', async () => {
    const set = {
      chart: p.chart({
        title: 'Layers',
        of: 'text',
        columns: ['Layer', 'Becomes'],
        suggest: 'layers',
        agreed: true,
        atMost: 9,
      }),
    };
    const help = {
      layerCounts: [
        { name: 'a-roof', count: 2 },
        { name: 'RAILS', count: 1 },
      ],
      agreed: { of: 'office.dxf', names: ['A-ROOF', 'A-GLAZ'] },
    };
    const form = shown(set, help, { chart: [{ from: 'GLAZING', to: 'GLASS' }] });
    expect(screen.getByLabelText<HTMLSelectElement>('Becomes, row 1').selectedOptions[0]!.text).toBe(
      'GLASS (not in the template)',
    );
    await userEvent.selectOptions(screen.getByLabelText('Becomes, row 1'), 'A-GLAZ');
    await userEvent.click(screen.getByText('A row for each of the rest'));
    expect(form.told()).toEqual({
      chart: [
        { from: 'GLAZING', to: 'A-GLAZ' },
        { from: 'a-roof', to: 'A-ROOF' },
        { from: 'RAILS', to: '' },
      ],
    });
    expect(document.body.textContent).toContain('The names are those of the template, office.dxf.');
  });

  test('several picked things are listed with their words, and one can be let go', async () => {
    const onPick = vi.fn();
    const set = { curves: p.picked({ title: 'Curves', atMost: 3 }) };
    const help = { onPick, picking: null, picked: (ref: string) => `line on ${ref}` };
    const form = shown(set, help, { curves: ['ROOF', 'POSTS'] });
    await userEvent.click(screen.getByText('Pick in the drawing'));
    expect(onPick).toHaveBeenCalledWith('curves');
    await userEvent.click(screen.getByLabelText('Remove line on ROOF'));
    expect(form.told()).toEqual({ curves: ['POSTS'] });
  });

  test('an optional number is nothing while its field is empty', async () => {
    const form = shown({ most: p.optional(p.number({ title: 'At most', default: 3, above: 0 }), 'no limit') });
    const field = screen.getByLabelText<HTMLInputElement>('At most');
    expect([field.value, field.placeholder]).toEqual(['', 'no limit']);
    await userEvent.type(field, '0{Enter}');
    expect(form.told()).toBeUndefined();
    await userEvent.clear(field);
    await userEvent.type(field, '12{Enter}');
    expect(form.told()).toEqual({ most: 12 });
    await userEvent.clear(field);
    await userEvent.tab();
    expect(form.told()).toEqual({ most: null });
  });

  test('an optional group is nothing until it is ticked', async () => {
    const frame = p.group({ title: 'Frame', params: { on: p.yesNo({ title: 'On', default: true }) } });
    const form = shown({ frame: p.optional(frame, 'no frame') });
    await userEvent.click(screen.getByLabelText('Frame'));
    expect(form.told()).toEqual({ frame: { on: true } });
    await userEvent.click(screen.getAllByRole('checkbox')[0]!);
    expect(form.told()).toEqual({ frame: null });
  });

  test('a rule of selection: layers, kind, colours', async () => {
    const form = shown({ which: p.selection({ title: 'Which' }) });
    const which = within(screen.getByRole('group', { name: 'Which' }));
    await userEvent.type(which.getByLabelText('On layers named'), 'A-*{Enter}');
    await userEvent.selectOptions(which.getByLabelText('Kind'), 'circles');
    await userEvent.click(which.getByLabelText('Of one stroke colour'));
    expect(form.told()).toEqual({
      which: { ...EVERYTHING, layers: 'A-*', kinds: ['circle'], stroke: '#000000' },
    });
    expect(which.getByLabelText<HTMLInputElement>(/Of one stroke colour: which/).value).toBe('#000000');
    await userEvent.selectOptions(which.getByLabelText('Kind'), 'arcs');
    await userEvent.click(which.getByLabelText('Remove circles'));
    expect(form.told()).toMatchObject({ which: { kinds: ['arc'] } });
    expect(document.body.textContent).toContain('by rule');
  });
});

test('whatever a form of any kind tells, the judge lets pass', async () => {
  const kinds: Record<string, Parameter> = {
    yes: p.yesNo({ title: 'Yes', default: false }),
    words: p.text({ title: 'Words', default: '', maxLength: 40 }),
    place: p.point({ title: 'Place' }),
    layers: p.layers({ title: 'Layers' }),
    rows: p.list({ title: 'Rows', item: p.number({ title: 'Row', default: 1 }), atMost: 2 }),
    frame: p.group({ title: 'Frame', params: { on: p.yesNo({ title: 'On', default: false }) } }),
    template: p.drawing({ title: 'Template' }),
  };
  const form = shown(kinds, { drawings: [['d1', 'Elevation']] });
  await userEvent.click(screen.getByLabelText('Yes'));
  await userEvent.type(screen.getByLabelText('Words'), 'Bay 3{Enter}');
  await userEvent.clear(screen.getByLabelText('Place, y'));
  await userEvent.type(screen.getByLabelText('Place, y'), '4{Enter}');
  await userEvent.selectOptions(screen.getByLabelText('Layers'), 'these');
  await userEvent.type(screen.getAllByLabelText('Layers').at(-1)!, 'ROOF, POSTS{Enter}');
  await userEvent.click(screen.getByText('One more'));
  await userEvent.click(screen.getByLabelText('On'));
  await userEvent.selectOptions(screen.getByLabelText('Template'), 'Elevation');
  expect(form.told()).toEqual({
    yes: true,
    words: 'Bay 3',
    place: { x: 0, y: 4 },
    layers: { mode: 'chosen', names: ['ROOF', 'POSTS'] },
    rows: [1],
    frame: { on: true },
    template: 'd1',
  });
  expect(faultOf(kinds, form.told())).toBeNull();
  expect(faultOf(kinds, defaultsOf(kinds))).toBeNull();
});

describe('rules in a list', () => {
  const set = {
    rules: p.list({
      title: 'Rules',
      atMost: 3,
      item: p.group({
        title: 'Rule',
        params: {
          below: p.optional(p.area({ title: 'Area below', default: 0, atLeast: 0 }), 'any'),
          more: p.group({
            title: 'Further conditions',
            folded: true,
            params: { block: p.text({ title: 'Blocks named', default: '', maxLength: 20 }) },
          }),
          to: p.text({ title: 'Goes onto layer', default: '', maxLength: 20 }),
        },
      }),
    }),
  };
  const lengths = (v: number) => lengthWithUnit(v, { unit: 'mm', factor: 1 });
  test('are added, set and removed one by one; an area is counted in squares and carries its unit', async () => {
    const form = shown(set, { lengths });
    await userEvent.click(screen.getByText('Add a rule'));
    await userEvent.click(screen.getByText('One more'));
    const second = within(screen.getByRole('group', { name: 'Rule 2' }));
    expect(second.getByText('mm²')).toBeTruthy();
    await userEvent.type(second.getByLabelText('Area below'), '60000{Enter}');
    await userEvent.type(second.getByLabelText('Goes onto layer'), 'SMALL{Enter}');
    await userEvent.click(screen.getByLabelText('Remove rule 1'));
    expect(form.told()).toMatchObject({ rules: [{ below: { value: 60000, unit: 'mm' }, to: 'SMALL' }] });
    expect(faultOf(set, form.told())).toBeNull();
    await userEvent.clear(screen.getByLabelText('Area below'));
    await userEvent.tab();
    expect(form.told()).toMatchObject({ rules: [{ below: null }] });
  });
  test('say how much is said in what is folded away', async () => {
    shown(set, { lengths }, { rules: [{ to: 'A', more: { block: '' } }] });
    const fold = screen.getByText('Further conditions');
    expect(fold.textContent).toBe('Further conditions nothing said');
    await userEvent.click(fold);
    await userEvent.type(screen.getByLabelText('Blocks named'), 'PANEL{Enter}');
    expect(fold.textContent).toBe('Further conditions 1');
  });
});
