// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactElement } from 'react';
import { useState } from 'react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { IntakeDecisions } from '@scalaria/core';
import { MeasuredTrue } from '../src/routes/drawing/take-in-known';
import { useLayerSection } from '../src/routes/drawing/take-in-layers';
import { useOriginSection } from '../src/routes/drawing/take-in-origin';
import { useUnitSection } from '../src/routes/drawing/take-in-unit';
import type { Tools } from '../src/routes/drawing/view/use-tools';
import { Around, Opened } from './support/drawing';

vi.mock('../src/api/hooks', () => ({ useJob: () => ({ data: undefined }) }));
vi.mock('../src/routes/drawing/use-asked', () => ({ useAsked: () => null }));
afterEach(cleanup);

const ELEVATION = 'kestrel-row-front-elevation.dxf';
const MULLION = 'kestrel-row-mullion.dxf';
const PANEL = 'kestrel-row-wayfinding-panel.svg';

/** A section with a drawing around it; gives what was decided last. */
function shown(name: string, station: ReactElement): { decided: () => IntakeDecisions; words: () => string } {
  const kept = vi.fn();
  render(<Around name={name} station={station} kept={kept} />);
  return {
    decided: () => (kept.mock.lastCall?.[0] as { intake: IntakeDecisions }).intake,
    words: () => kept.mock.lastCall?.[1] as string,
  };
}

describe('the unit', () => {
  test('every candidate with the size that the whole would have; another is chosen from all there are', async () => {
    const { decided, words } = shown(MULLION, <Opened use={useUnitSection} />);
    const inches = screen.getByLabelText<HTMLInputElement>(/^in[\d ]/);
    expect(inches.checked).toBe(true);
    // 5 by 3.1 inches counted as millimetres, as metres.
    expect(screen.getByLabelText(/^mm[\d ]/).closest('label')!.textContent).toMatch(/5 × 3\.1/);
    await userEvent.click(screen.getByLabelText(/^cm[\d ]/));
    expect([decided().unit, words()]).toEqual(['cm', 'unit cm']);
    expect(screen.getByText('cm, chosen')).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('Another unit'), 'dm – decimetres');
    expect(decided().unit).toBe('dm');
  });
  test('of an SVG that states its size only says in what it is counted', async () => {
    const { decided } = shown(PANEL, <Opened use={useUnitSection} />);
    expect(screen.getByRole('heading', { name: 'True size' })).toBeTruthy();
    expect(screen.getByLabelText(/^cm[\d ]/).closest('label')!.textContent).toMatch(/60 × 90/);
    await userEvent.click(screen.getByLabelText(/^cm[\d ]/));
    expect(decided().unit).toBe('cm');
    expect(screen.getByText(/0\.1 cm, chosen/)).toBeTruthy();
  });
});

describe('the origin', () => {
  const origin = <Opened use={() => useOriginSection({ picking: false, onPick: () => {}, onStop: () => {} })} />;
  test('each choice says where it lies, and a point can be typed, one coordinate after the other', async () => {
    const { decided } = shown(PANEL, origin);
    const at = (name: string): string => screen.getByLabelText(new RegExp(`^${name}`)).closest('label')!.textContent;
    // The page is 600 by 900 mm and hangs below its origin once it is turned over.
    expect(at('Lower left of the page')).toContain('0, −900');
    expect(at('Centre of the drawing')).toContain('300, −450');
    await userEvent.click(screen.getByLabelText(/^Centre of the drawing/));
    expect(decided().origin).toEqual({ mode: 'centre', x: 0, y: 0 });
    await userEvent.type(screen.getByLabelText('x'), '12,5{Enter}');
    expect(decided().origin).toMatchObject({ mode: 'point', x: 12.5 });
    await userEvent.clear(screen.getByLabelText('y'));
    await userEvent.type(screen.getByLabelText('y'), '-3{Enter}');
    expect(decided().origin).toEqual({ mode: 'point', x: 12.5, y: -3 });
  });
  test('drafting has no page to put it on', () => {
    shown(ELEVATION, origin);
    expect(screen.queryByLabelText(/^Lower left of the page/)).toBeNull();
  });
});

describe('the layers', () => {
  function Layers() {
    const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
    return <Opened use={() => useLayerSection({ hidden, onHidden: setHidden })} />;
  }
  test('one layer left behind makes a choice of all others', async () => {
    const { decided } = shown(ELEVATION, <Layers />);
    const which = within(screen.getByRole('radiogroup', { name: 'Which layers are taken in' }));
    await userEvent.click(which.getByLabelText('All'));
    expect(decided().layers).toEqual({ mode: 'all', names: [] });
    await userEvent.click(screen.getByLabelText('Take in AXES'));
    expect(decided().layers.mode).toBe('chosen');
    expect(decided().layers.names).not.toContain('AXES');
    expect(decided().layers.names).toContain('ROOF');
    await userEvent.click(screen.getByLabelText('Take in AXES'));
    expect(decided().layers.names).toContain('AXES');
  });
});

describe('a known size', () => {
  const tools = (x: number): Tools =>
    ({
      measured: {
        tool: 'distance',
        points: [
          { x: 0, y: 0 },
          { x, y: 0 },
        ],
      },
      tool: 'distance',
      setTool: () => {},
      clearMeasured: () => {},
    }) as unknown as Tools;
  test('what measures 2 inches and is 10 cm long: everything is 1.9685 times as large', async () => {
    const { decided } = shown(MULLION, <MeasuredTrue tools={tools(2)} />);
    await userEvent.selectOptions(screen.getByLabelText('Unit of the true size'), 'cm');
    await userEvent.type(screen.getByLabelText('True length'), '10{Enter}');
    expect(decided().correction).toBeCloseTo(10 / 2.54 / 2, 12);
  });
  test('set twice it does not add up', async () => {
    const { decided } = shown(MULLION, <MeasuredTrue tools={tools(2)} />);
    const field = screen.getByLabelText('True length');
    await userEvent.type(field, '4{Enter}');
    expect(decided().correction).toBe(2);
    await userEvent.clear(field);
    await userEvent.type(field, '3{Enter}');
    expect(decided().correction).toBe(1.5);
  });
});
