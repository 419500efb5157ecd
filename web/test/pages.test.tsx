// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { usePageSection } from '../src/routes/drawing/take-in-page';
import type { PagePicture } from '../src/workers/taking-in';
import { Around, Opened } from './support/drawing';

const sent = vi.fn();
const mutate = vi.fn();
vi.mock('../src/api/hooks', () => ({ useJob: () => ({ data: undefined, mutate }) }));
vi.mock('../src/api/client', () => ({
  getBytes: () => Promise.resolve(new ArrayBuffer(8)),
  sendJson: (...what: unknown[]) => sent(...what) as unknown,
}));
afterEach(() => {
  cleanup();
  sent.mockReset();
  mutate.mockReset();
});

/** A worker that finds pages as they are asked for, and tells how many it was let look at. */
function finder(of: number, breaksAt = Infinity) {
  const looked: number[] = [];
  const pages = async (_bytes: ArrayBuffer, first: number, onPage: (p: PagePicture) => Promise<boolean>) => {
    for (let number = first; number <= of; number++) {
      if (number >= breaksAt) throw new Error(`Page ${number} is damaged`);
      looked.push(number);
      if (!(await onPage({ number, size: [210, 297], svg: '<svg/>' } as unknown as PagePicture))) return;
    }
  };
  return { looked, pages };
}

function shown(of: number, { number = 1, breaksAt }: { number?: number; breaksAt?: number } = {}) {
  const kept = vi.fn();
  const { looked, pages } = finder(of, breaksAt);
  render(
    <Around
      name="kestrel-row-mullion.dxf"
      station={<Opened use={usePageSection} />}
      kept={kept}
      state={{ claims: { pageOf: { number, of } }, worker: { pages } }}
    />,
  );
  return { kept, looked };
}
const listed = (): number => screen.getAllByRole('button', { name: /^Page \d+$/ }).length;

test('a file without pages has no such section', () => {
  const { container } = render(<Around name="kestrel-row-mullion.dxf" station={<Opened use={usePageSection} />} />);
  expect(container.querySelector('section')).toBeNull();
});

test('pages come one by one, twelve at a time, and none is looked at twice', async () => {
  const { looked } = shown(30, { number: 3 });
  expect(screen.getByText('Page 3 of 30')).toBeTruthy();
  await waitFor(() => expect(listed()).toBe(12));
  expect(screen.getByRole('button', { name: 'Page 3' }).getAttribute('aria-pressed')).toBe('true');
  expect(screen.getAllByText('210 × 297 mm')).toHaveLength(12);
  await userEvent.click(screen.getByRole('button', { name: '12 more of 30' }));
  await waitFor(() => expect(listed()).toBe(24));
  await userEvent.click(screen.getByRole('button', { name: '6 more of 30' }));
  await waitFor(() => expect(listed()).toBe(30));
  expect(screen.queryByRole('button', { name: /more of/ })).toBeNull();
  expect(looked).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
});

test('another page is chosen by its picture, or taken in as a drawing of its own', async () => {
  const { kept } = shown(3);
  await waitFor(() => expect(listed()).toBe(3));
  await userEvent.click(screen.getByRole('button', { name: 'Page 2' }));
  expect(kept.mock.lastCall?.[0]).toMatchObject({ intake: { fromPage: 2 } });
  expect(kept.mock.lastCall?.[1]).toBe('page 2');
  // The one that is open is not offered.
  const also = screen.getAllByRole('button', { name: 'Take in also' });
  expect(also).toHaveLength(2);
  sent.mockResolvedValueOnce({});
  await userEvent.click(also[1]!);
  expect(sent.mock.lastCall?.[2]).toEqual({ page: 3 });
  expect(await screen.findByText('Page 3 is a drawing of its own now.')).toBeTruthy();
  expect(mutate).toHaveBeenCalledTimes(1);
  sent.mockRejectedValueOnce(new Error('This page is a drawing of the job already.'));
  await userEvent.click(also[0]!);
  expect(await screen.findByText('This page is a drawing of the job already.')).toBeTruthy();
  expect(mutate).toHaveBeenCalledTimes(1);
});

test('what cannot be looked at is said, and the pages before it stay', async () => {
  shown(5, { breaksAt: 3 });
  expect((await screen.findByRole('alert')).textContent).toBe('Page 3 is damaged');
  expect(listed()).toBe(2);
});

test('letters come as text or as they are drawn, widths of the paper or of the drawing; one page is no list', async () => {
  const { kept } = shown(1);
  expect(screen.getByRole('heading', { name: 'Page' })).toBeTruthy();
  expect(screen.queryByRole('list', { name: 'Pages' })).toBeNull();
  const letters = within(screen.getByRole('radiogroup', { name: 'Letters' }));
  await userEvent.click(letters.getByLabelText('Letters as the outlines in the file'));
  expect(kept.mock.lastCall?.[0]).toMatchObject({ intake: { letters: 'outlines' } });
  expect(screen.getByText('the only one, letters as outlines')).toBeTruthy();
  const widths = within(screen.getByRole('radiogroup', { name: 'Line widths' }));
  await userEvent.click(widths.getByLabelText('Line widths scale with the drawing'));
  expect(kept.mock.lastCall?.[0]).toMatchObject({ intake: { letters: 'outlines', pens: 'drawing' } });
});
