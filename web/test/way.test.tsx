// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { StepList } from '@scalaria/core';
import { plannedStep, readDrawing, runStep, stepById } from '@scalaria/core';
import { WayMarks, WayPlayer, useWay } from '../src/routes/drawing/prepare/way';
import { fonts } from './support/drawing';

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const square = (x: number): (string | number)[] => [
  ...[0, 'LWPOLYLINE', 8, 'A', 90, 4, 70, 1, 10, x, 20, 0, 10, x + 100, 20, 0, 10, x + 100, 20, 100, 10, x, 20, 100],
];
const hole = (x: number): (string | number)[] => [0, 'CIRCLE', 8, 'A', 10, x, 20, 50, 40, 5];
const tags = [0, 'SECTION', 2, 'ENTITIES', ...[0, 120].flatMap(square), ...[25, 75, 145, 195].flatMap(hole)];
const plates = readDrawing(new TextEncoder().encode([...tags, 0, 'ENDSEC', 0, 'EOF'].join('\n')), 'a.dxf').drawing;

/** Two plates with two holes each: by hand the shortest allowed way is h1 h2 h3 h4 B A, 442.65 long. */
const lists = (): StepList[] => runStep(plates, plannedStep(stepById('order-for-cutting')!, 's'), { fonts }).lists;

function Shown({ of }: { of: StepList[] }) {
  const way = useWay(of);
  const m = {
    screen: (x: number, y: number): [number, number] => [x, 200 - y],
    view: { x: 0, y: 0, scale: 1 },
    size: { width: 400, height: 200 },
  };
  return (
    <>
      <WayPlayer of={way} />
      <svg>{way.shown && <WayMarks m={m} shown={way.shown} />}</svg>
    </>
  );
}
const numbers = (): (string | null)[] =>
  [...screen.getByTestId('way-marks').querySelectorAll('text')].map((t) => t.textContent);
const legs = (): string => screen.getByTestId('way-marks').querySelector('path')!.getAttribute('d')!;

test('the way goes from the head to each start in turn, and is as long as it was told', () => {
  render(<Shown of={lists()} />);
  expect(numbers()).toEqual(['1', '2', '3', '4', '5', '6']);
  const all = [...legs().matchAll(/M(\S+) (\S+)L(\S+) (\S+?)(?=M|$)/g)].map((l) => l.slice(1).map(Number));
  expect(all).toHaveLength(6);
  expect(all[0]!.slice(0, 2)).toEqual([0, 200]);
  const long = all.reduce((n, [a, b, c, d]) => n + Math.hypot(c! - a!, d! - b!), 0);
  expect(long).toBeCloseTo(442.65, 0);
});

test('it is played from its beginning to its end, can be halted, and shows what a slider asks for', () => {
  render(<Shown of={lists()} />);
  fireEvent.click(screen.getByRole('button', { name: 'Play' }));
  expect(screen.getByRole('status').textContent).toBe('0 of 6 cuts');
  act(() => void vi.advanceTimersByTime(200));
  expect(screen.getByRole('status').textContent).toBe('2 of 6 cuts');
  expect(numbers()).toEqual(['1', '2']);
  fireEvent.click(screen.getByRole('button', { name: 'Pause' }));
  act(() => void vi.advanceTimersByTime(2000));
  expect(numbers()).toEqual(['1', '2']);
  fireEvent.change(screen.getByLabelText('Way of the head in the picture'), { target: { value: '4' } });
  expect(numbers()).toEqual(['1', '2', '3', '4']);
  fireEvent.click(screen.getByRole('button', { name: 'Play' }));
  act(() => void vi.advanceTimersByTime(2000));
  expect(screen.getByRole('status').textContent).toBe('6 of 6 cuts');
  expect(screen.getByRole('button', { name: 'Play' })).toBeTruthy();
});

test('a step that lists no way shows none', () => {
  render(<Shown of={[{ title: 'Regions', columns: ['No'], rows: [[1]] }]} />);
  expect(screen.queryByTestId('way')).toBeNull();
  expect(screen.queryByTestId('way-marks')).toBeNull();
});
