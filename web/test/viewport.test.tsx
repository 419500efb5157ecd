// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { Scene } from '@scalaria/core';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Viewport } from '../src/viewport/viewport';

const drawnBy = vi.hoisted(() => ({
  setPictures: vi.fn(),
  hideIds: vi.fn(),
  setSize: vi.fn(),
  begin: vi.fn(),
  dispose: vi.fn(),
}));
vi.mock('../src/viewport/renderer', () => ({
  Renderer: class {
    constructor() {
      return drawnBy;
    }
  },
}));

/** A window of 800 by 600 pixels whose upper left corner lies at (100, 50) of the page. */
beforeEach(() => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      constructor(private readonly tell: (entries: unknown[]) => void) {}
      observe = (): void => this.tell([{ contentRect: { width: 800, height: 600 } }]);
      disconnect = (): void => {};
    },
  );
  HTMLElement.prototype.getBoundingClientRect = () => ({ left: 100, top: 50, width: 800, height: 600 }) as DOMRect;
  HTMLElement.prototype.setPointerCapture = () => {};
});
afterEach(cleanup);

/** A drawing from (0, 0) to (100, 50). */
const scene = { bounds: { minX: 0, minY: 0, maxX: 100, maxY: 50 }, layers: [], pictures: [] } as unknown as Scene;
const PICTURES = [{ scene }];

const shown = (props: Partial<Parameters<typeof Viewport>[0]> = {}) =>
  render(<Viewport pictures={PICTURES} unit="mm" label="Front" {...props} />);
const box = (): HTMLElement => screen.getByTestId('viewport');
const view = (): number[] => box().getAttribute('data-view')!.split(' ').map(Number);
/** Something the pointer does at pixels of the window. */
const pointer = (kind: 'pointerDown' | 'pointerMove' | 'pointerUp', x: number, y: number, more: object = {}): void =>
  void fireEvent[kind](box(), { clientX: 100 + x, clientY: 50 + y, button: 0, pointerId: 1, ...more });

// 100 wide in 800 pixels less 8 % on either side: 6.72 pixels to a unit.
const SCALE = 6.72;

test('a new drawing is shown whole, in the middle', () => {
  shown();
  expect(view()[0]).toBe(50);
  expect(view()[1]).toBe(25);
  expect(view()[2]).toBeCloseTo(SCALE, 12);
});

test('dragging moves the drawing with the hand, and is no click', () => {
  const onPick = vi.fn();
  shown({ onPick });
  pointer('pointerDown', 400, 300);
  pointer('pointerMove', 402, 301);
  expect(view()[0], 'a hand that trembles moves nothing').toBe(50);
  pointer('pointerMove', 467.2, 266.4);
  pointer('pointerUp', 467.2, 266.4);
  expect(view()[0]).toBeCloseTo(50 - 10, 9);
  expect(view()[1]).toBeCloseTo(25 - 5, 9);
  expect(onPick).not.toHaveBeenCalled();
});

test('a click picks what lies under it, with Shift to what was picked before', () => {
  const onPick = vi.fn();
  shown({ onPick });
  pointer('pointerDown', 400 + 67.2, 300 - 33.6);
  pointer('pointerUp', 400 + 67.2, 300 - 33.6, { shiftKey: true });
  const [x, y, reach, add] = onPick.mock.calls[0] as [number, number, number, boolean];
  expect([x, y, reach]).toEqual([expect.closeTo(60, 9), expect.closeTo(30, 9), expect.closeTo(12 / SCALE, 9)]);
  expect(add).toBe(true);
});

test('the wheel zooms about the pointer: what is under it stays there', () => {
  shown();
  const under = (px: number, py: number): [number, number] => {
    const [x, y, scale] = view() as [number, number, number];
    return [x + (px - 400) / scale, y - (py - 300) / scale];
  };
  const before = under(700, 120);
  const turned = Object.assign(new Event('wheel', { cancelable: true }), {
    deltaY: -300,
    deltaMode: 0,
    clientX: 800,
    clientY: 170,
  });
  act(() => void box().dispatchEvent(turned));
  expect(turned.defaultPrevented, 'the page does not scroll').toBe(true);
  expect(view()[2]).toBeCloseTo(SCALE * Math.exp(0.48), 9);
  expect(under(700, 120)).toEqual([expect.closeTo(before[0], 9), expect.closeTo(before[1], 9)]);
});

test('Shift and dragging draw a frame, from whichever corner', () => {
  const onFrame = vi.fn();
  shown({ onFrame });
  pointer('pointerDown', 467.2, 300, { shiftKey: true });
  pointer('pointerMove', 400, 366.4, { shiftKey: true });
  expect(box().querySelector('rect')).not.toBeNull();
  pointer('pointerUp', 400, 367.2, { shiftKey: true });
  const numbers = onFrame.mock.calls[0] as unknown[];
  expect(numbers).toEqual([
    expect.closeTo(50, 9),
    expect.closeTo(15, 9),
    expect.closeTo(60, 9),
    expect.closeTo(25, 9),
    true,
  ]);
  expect(view()[0], 'nothing moved').toBe(50);
  expect(box().querySelector('rect')).toBeNull();
});

test('keys alone: move, zoom, pick, show all', () => {
  const onPick = vi.fn();
  shown({ onPick });
  const press = (key: string): void => void fireEvent.keyDown(box(), { key });
  press('ArrowRight');
  press('ArrowUp');
  expect(view()[0]).toBeCloseTo(50 + 80 / SCALE, 9);
  expect(view()[1]).toBeCloseTo(25 + 60 / SCALE, 9);
  press('Enter');
  expect((onPick.mock.calls[0] as number[])[0]).toBeCloseTo(50 + 80 / SCALE, 9);
  press('+');
  expect(view()[2]).toBeCloseTo(1.4 * SCALE, 9);
  press('Home');
  expect(view()[2]).toBeCloseTo(SCALE, 9);
  fireEvent.keyDown(box(), { key: '+', ctrlKey: true });
  expect(view()[2], 'the browser has its own keys').toBeCloseTo(SCALE, 9);
});

test('a frame by keys: Enter sets one corner and the other, Escape lets it go', () => {
  const onFrame = vi.fn();
  shown({ onFrame, framing: true });
  const press = (key: string): void => void fireEvent.keyDown(box(), { key });
  press('Enter');
  press('Escape');
  press('ArrowLeft');
  press('Enter');
  press('ArrowRight');
  press('ArrowUp');
  press('Enter');
  const numbers = onFrame.mock.calls[0] as unknown[];
  expect(numbers.slice(0, 4)).toEqual([
    expect.closeTo(50 - 80 / SCALE, 9),
    expect.closeTo(25, 9),
    expect.closeTo(50, 9),
    expect.closeTo(25 + 60 / SCALE, 9),
  ]);
});

test('goes where it is led, and the same drawing keeps its view', () => {
  const { rerender } = shown();
  rerender(<Viewport pictures={PICTURES} unit="mm" label="Front" goTo={{ x: 10, y: 20, size: 2 }} />);
  expect(view().slice(0, 2)).toEqual([10, 20]);
  const there = view();
  rerender(<Viewport pictures={[{ scene: { ...scene } }]} unit="mm" label="Front" goTo={null} />);
  expect(view()).toEqual(there);
  const other = { ...scene, bounds: { minX: 0, minY: 0, maxX: 10, maxY: 5 } } as Scene;
  rerender(<Viewport pictures={[{ scene: other }]} unit="mm" label="Front" goTo={null} />);
  expect(view().slice(0, 2)).toEqual([5, 2.5]);
});

test('what is out of sight is handed to the renderer; leaving lets it go', () => {
  const hiddenIds = new Set([3]);
  const { unmount } = shown({ hiddenIds });
  expect(drawnBy.hideIds).toHaveBeenLastCalledWith(hiddenIds);
  expect(drawnBy.setPictures).toHaveBeenLastCalledWith(PICTURES);
  unmount();
  expect(drawnBy.dispose).toHaveBeenCalled();
});

const extending = (minX: number, maxX: number): typeof PICTURES => [
  { scene: { ...scene, bounds: { minX, minY: 0, maxX, maxY: 50 } } },
];

test('a drawing of another extent is shown whole, but not under a hand that chose where to look', () => {
  const { rerender } = shown({ stays: 'chosen' });
  rerender(<Viewport pictures={extending(0, 200)} unit="mm" label="Front" stays="chosen" />);
  expect(view()[0], 'nobody chose').toBe(100);
  fireEvent.keyDown(box(), { key: '+' });
  const at = view();
  rerender(<Viewport pictures={extending(0, 300)} unit="mm" label="Front" stays="chosen" />);
  expect(view()).toEqual(at);
  rerender(<Viewport pictures={extending(9000, 9100)} unit="mm" label="Front" stays="chosen" />);
  expect(view()[0], 'of what is gone nothing could be seen').toBe(9050);
});

test('while something is tried nothing moves; afterwards it is shown whole', () => {
  const { rerender } = shown({ stays: 'always' });
  const at = view();
  rerender(<Viewport pictures={extending(-40, 300)} unit="mm" label="Front" stays="always" />);
  expect(view()).toEqual(at);
  rerender(<Viewport pictures={extending(-40, 300)} unit="mm" label="Front" stays="chosen" />);
  expect(view()[0]).toBe(130);
  rerender(<Viewport pictures={extending(-40, 300)} unit="mm" label="Front" />);
  expect(view()[0]).toBe(130);
});
