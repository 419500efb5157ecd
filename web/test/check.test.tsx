// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { Review } from '@scalaria/core';
import { Check } from '../src/routes/drawing/check';
import { Around } from './support/drawing';

const seen = vi.hoisted(() => ({ goTo: null as unknown }));
vi.mock('../src/viewport/viewport', () => ({
  Viewport: ({ label, goTo }: { label: string; goTo?: unknown }) => {
    seen.goTo = goTo;
    return <div>{label}</div>;
  },
}));
afterEach(cleanup);

const SECTION = 'kestrel-row-section.dxf';

describe('station two', () => {
  const shown = async () => {
    const kept = vi.fn();
    render(<Around name={SECTION} station={<Check />} kept={kept} />);
    await waitFor(() => expect(screen.queryByText('checking …')).toBeNull(), { timeout: 20_000 });
    return { review: (): Review => (kept.mock.lastCall?.[0] as { review: Review }).review };
  };
  const lines = (): string[] =>
    screen
      .getAllByRole('region')
      .filter((r) => within(r).queryByRole('button', { expanded: false }))
      .map((r) => r.getAttribute('aria-label')!);

  test('one line for each check that found something, the worst first; it is opened on demand', async () => {
    await shown();
    // A typed-over dimension is a fault; missing corners on shared edges are for information, unless somebody builds from it.
    expect(lines().slice(0, 2)).toEqual(['Typed-over dimensions', 'Shared edges with missing points']);
    expect(screen.queryByText(/The text says 400/)).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: /Typed-over dimensions/ }));
    await userEvent.click(screen.getByRole('button', { name: /The text says 400, the drawing measures 370 mm/ }));
    expect(seen.goTo).toMatchObject({ x: expect.any(Number) as number });
  }, 30_000);

  test('a purpose decides which checks are asked, and is kept with the drawing', async () => {
    const { review } = await shown();
    await userEvent.selectOptions(screen.getByLabelText('Made ready for'), 'Print');
    expect(review()).toEqual({ purpose: 'print' });
    await waitFor(() => expect(screen.queryByText('Shared edges with missing points')).toBeNull(), { timeout: 20_000 });
    await userEvent.click(await screen.findByRole('button', { name: /checks without a finding/ }));
    expect(screen.getByText(/^Not asked for print: .*Shared edges with missing points/)).toBeTruthy();
  }, 40_000);

  test('a finding is set aside with a word why, is told of apart from the rest, and is brought back', async () => {
    const { review } = await shown();
    await userEvent.click(screen.getByRole('button', { name: /Typed-over dimensions/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Set aside …' }));
    const ask = screen.getByLabelText(/no concern here/);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Set aside' }).disabled).toBe(true);
    await userEvent.type(ask, 'agreed with the client{Enter}');
    expect(review().aside).toEqual({ 'typed-over-dimensions|*': 'agreed with the client' });
    expect(screen.getByText(/agreed with the client/)).toBeTruthy();
    expect(screen.queryByText(/The text says 400/)).toBeNull();
    await waitFor(() =>
      expect(screen.getByRole('region', { name: 'Findings' }).textContent).toMatch(/Findings\d+ for info/),
    );
    await userEvent.click(screen.getByRole('button', { name: /^Bring back: Typed-over dimensions/ }));
    expect(review().aside).toEqual({});
  }, 40_000);
});
