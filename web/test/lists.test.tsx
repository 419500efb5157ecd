// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { BookSection } from '../src/parts/fold-list';
import { FoldList } from '../src/parts/fold-list';
import { LongList } from '../src/parts/long-list';

beforeEach(() => sessionStorage.clear());
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const section = (id: string, more: Partial<BookSection> = {}): BookSection => ({
  id,
  title: id,
  said: `${id} said`,
  body: () => <p>{`inside ${id}`}</p>,
  ...more,
});
const titles = (): string[] => screen.getAllByRole('heading').map((h) => within(h).getByRole('button').textContent);

describe('sections of the field book', () => {
  test('what is open comes first and is opened; all else is a line with its value', () => {
    render(<FoldList sections={[section('Layers'), null, section('Unit', { open: true }), section('Origin')]} />);
    expect(titles().map((t) => t.replace(/^▶/, ''))).toEqual([
      'UnitUnit said',
      'LayersLayers said',
      'OriginOrigin said',
    ]);
    expect(screen.getByText('inside Unit')).toBeTruthy();
    expect(screen.queryByText('inside Layers')).toBeNull();
  });
  test('nothing moves under the hand: a section stays where it was, and open, once it is decided', () => {
    const { rerender } = render(<FoldList sections={[section('Layers'), section('Unit', { open: true })]} />);
    rerender(<FoldList sections={[section('Layers'), section('Unit', { open: false, said: 'mm' })]} />);
    expect(titles().map((t) => t.replace(/^▶/, ''))).toEqual(['Unitmm', 'LayersLayers said']);
    expect(screen.getByText('inside Unit')).toBeTruthy();
  });
  test('what a person opened is open on the next drawing too, and what was closed is not', async () => {
    const first = render(<FoldList sections={[section('Layers'), section('Origin')]} />);
    await userEvent.click(screen.getByRole('button', { name: /Layers/ }));
    await userEvent.click(screen.getByRole('button', { name: /Origin/ }));
    await userEvent.click(screen.getByRole('button', { name: /Origin/ }));
    first.unmount();
    render(<FoldList sections={[section('Layers'), section('Origin')]} />);
    expect(screen.getByText('inside Layers')).toBeTruthy();
    expect(screen.queryByText('inside Origin')).toBeNull();
    expect(screen.getByRole('button', { name: /Layers/ }).getAttribute('aria-expanded')).toBe('true');
  });
});

describe('a long list', () => {
  const rows = (n: number): string[] => Array.from({ length: n }, (_, i) => `row ${i}`);
  const shown = (n: number) =>
    render(
      <LongList label="Rows" rows={rows(n)} keyOf={(r) => r} height={20}>
        {(r) => <span>{r}</span>}
      </LongList>,
    );
  test('of few rows is simply there', () => {
    shown(80);
    expect(screen.getAllByRole('listitem')).toHaveLength(80);
  });
  test('of thousands holds only what is in sight, and says of each row which of how many it is', () => {
    // Nothing is laid out here: the box says itself how high it is.
    vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400);
    vi.spyOn(HTMLElement.prototype, 'clientWidth', 'get').mockReturnValue(300);
    vi.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(20);
    shown(2522);
    const made = screen.getAllByRole('listitem');
    expect(made.length).toBeLessThan(120);
    expect(made[0]!.getAttribute('aria-setsize')).toBe('2522');
    expect(made[0]!.textContent).toBe('row 0');
  });
});
