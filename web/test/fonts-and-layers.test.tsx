// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { IntakeDecisions } from '@scalaria/core';
import { ApiError } from '../src/api/client';
import type { JobFonts } from '../src/api/types';
import { useFontSection } from '../src/routes/drawing/take-in-fonts';
import { useLayerSection } from '../src/routes/drawing/take-in-layers';
import { Around, Opened, demo } from './support/drawing';

const server = vi.hoisted(() => ({ sendJson: vi.fn(), sendBytes: vi.fn() }));
vi.mock('../src/api/client', async (actual) => ({
  ...(await actual<object>()),
  sendJson: server.sendJson,
  sendBytes: server.sendBytes,
}));
beforeEach(() => {
  server.sendJson
    .mockReset()
    .mockImplementation(async (_m: string, _p: string, chart: unknown) => ({ fonts: [], chart }));
  server.sendBytes.mockReset().mockResolvedValue({});
});
afterEach(cleanup);

const ELEVATION = 'kestrel-row-front-elevation.dxf';

describe('the fonts that a drawing asks for', () => {
  const given = (more: Partial<JobFonts>): JobFonts => ({ fonts: [], chart: {}, ...more });
  const shown = async (fonts?: JobFonts) => {
    const refresh = vi.fn();
    const onGoTo = vi.fn();
    render(
      <Around
        name={ELEVATION}
        station={<Opened use={() => useFontSection(onGoTo)} />}
        state={{ fonts: { given: fonts, refresh } }}
      />,
    );
    await screen.findByRole('heading', { name: 'Fonts' });
    return { refresh, onGoTo };
  };

  test('each with how many texts ask for it and what is used; its name leads to the first of them', async () => {
    const { onGoTo } = await shown();
    const row = document.querySelector<HTMLElement>('[data-font=""]')!;
    expect(row.textContent).toMatch(/7 texts/);
    expect(within(row).getByText('used instead')).toBeTruthy();
    await userEvent.click(within(row).getByRole('button', { name: 'no font named' }));
    expect(onGoTo).toHaveBeenCalledWith({ x: expect.any(Number) as number, y: expect.any(Number) as number });
  });

  test('another family is kept in the chart of the job, beside what stands there', async () => {
    const { refresh } = await shown(given({ chart: { other: 'Spline Sans', '': 'Spline Sans' } }));
    await userEvent.selectOptions(
      screen.getByLabelText('Letters of texts without a named font are taken from'),
      'Source Serif',
    );
    // One name in whatever capitals has one line.
    expect(server.sendJson).toHaveBeenCalledWith('PUT', '/api/jobs/j1/font-chart', {
      other: 'Spline Sans',
      '': 'Source Serif',
    });
    await waitFor(() =>
      expect(refresh).toHaveBeenCalledWith({ fonts: [], chart: { other: 'Spline Sans', '': 'Source Serif' } }),
    );
  });

  test('given files are sent one after the other; one that is refused is told, the others go on', async () => {
    server.sendBytes.mockRejectedValueOnce(new ApiError(422, 'This is no font.', undefined, 'Give a TTF.'));
    const { refresh } = await shown();
    await userEvent.upload(screen.getByLabelText('Font files'), [new File(['0'], 'a.ttf'), new File(['1'], 'b.ttf')]);
    expect(await screen.findByText(/This is no font\. Give a TTF\./)).toBeTruthy();
    expect(server.sendBytes.mock.calls.map((c) => c[0] as string)).toEqual([
      '/api/jobs/j1/fonts?name=a.ttf',
      '/api/jobs/j1/fonts?name=b.ttf',
    ]);
    expect(refresh).toHaveBeenCalled();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add a font file' }).disabled).toBe(false);
  });

  test('fonts of the job say what their licence allows, and are taken out by name', async () => {
    await shown(
      given({
        fonts: [
          { id: 'f1', family: 'House', style: 'Bold', fileName: 'h.ttf', embedding: 'forbidden', size: 1, blob: 'b' },
        ],
      }),
    );
    expect(screen.getByText('its licence forbids putting it into files').className).toContain('alarm');
    await userEvent.click(screen.getByRole('button', { name: 'Take out House Bold' }));
    expect(server.sendJson).toHaveBeenCalledWith('PATCH', '/api/fonts/f1', { deleted: true });
  });
});

describe('the layers that are taken in', () => {
  function Page() {
    const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
    return <Opened use={() => useLayerSection({ hidden, onHidden: setHidden })} />;
  }
  const shown = () => {
    const kept = vi.fn();
    render(<Around name={ELEVATION} station={<Page />} kept={kept} />);
    return {
      decided: (): IntakeDecisions['layers'] => (kept.mock.lastCall?.[0] as { intake: IntakeDecisions }).intake.layers,
      kept,
    };
  };
  const layers = demo(ELEVATION).layers;
  const coming = (): string[] =>
    layers.map((l) => l.name).filter((n) => screen.queryByLabelText<HTMLInputElement>(`Take in ${n}`)?.checked);

  test('only the visible ones unless more are asked for, and how many hidden ones hold something', async () => {
    const { decided } = shown();
    const visible = layers.filter((l) => !l.off && !l.frozen).map((l) => l.name);
    expect(coming()).toEqual(visible);
    expect(visible.length).toBeLessThan(layers.length);
    expect(screen.getByText(/hidden and holds? .* of .* objects/)).toBeTruthy();
    await userEvent.click(screen.getByLabelText('All'));
    expect(decided()).toEqual({ mode: 'all', names: [] });
    expect(coming()).toEqual(layers.map((l) => l.name));
  });

  test('one taken out makes the choice by name; taken in again it is as before', async () => {
    const { decided } = shown();
    const [first] = coming();
    await userEvent.click(screen.getByLabelText(`Take in ${first!}`));
    expect(decided().mode).toBe('chosen');
    expect(decided().names).not.toContain(first);
    await userEvent.click(screen.getByLabelText(`Take in ${first!}`));
    expect(decided().names).toContain(first);
  });

  test('a pattern lists what fits, takes only that, or leaves that behind', async () => {
    const { decided } = shown();
    await userEvent.type(screen.getByLabelText(/^Layer name/), 'P*');
    const fits = layers.map((l) => l.name).filter((n) => /^p/i.test(n));
    expect([...document.querySelectorAll<HTMLElement>('[data-layer]')].map((r) => r.dataset['layer'])).toEqual(fits);
    await userEvent.click(screen.getByRole('button', { name: `Take only these ${fits.length}` }));
    expect(decided()).toEqual({ mode: 'chosen', names: fits });
    await userEvent.click(screen.getByRole('button', { name: 'Leave these out' }));
    expect(decided()).toEqual({ mode: 'chosen', names: [] });
  });

  test('out of view is not left behind', async () => {
    const { kept } = shown();
    const [first] = coming();
    const eye = screen.getByRole('button', { name: `${first!} in view` });
    await userEvent.click(eye);
    expect(eye.getAttribute('aria-pressed')).toBe('false');
    expect(coming()).toContain(first);
    expect(kept).not.toHaveBeenCalled();
  });
});
