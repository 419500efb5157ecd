import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { held, stopSignal } from '../src/workers/held';
import { Stops } from '../src/workers/stops';

beforeEach(() => void vi.stubGlobal('crossOriginIsolated', true));
afterEach(() => {
  vi.unstubAllGlobals();
  held.stops = null;
});

test('a run is stopped by its number, with all that began before it and none that begins later', () => {
  const stops = new Stops();
  held.stops = new Int32Array(stops.memory!);
  const [first, second] = [stops.begin(), stops.begin()];
  expect([first, second].map((n) => stopSignal(n).aborted)).toEqual([false, false]);
  stops.stop(first);
  expect([first, second].map((n) => stopSignal(n).aborted)).toEqual([true, false]);
  stops.stop(second);
  // What was stopped stays so, whoever stops an earlier one again.
  stops.stop(first);
  expect([first, second, stops.begin()].map((n) => stopSignal(n).aborted)).toEqual([true, true, false]);
});

test('a run that nobody can stop goes on, and so does every run where memory cannot be shared', () => {
  held.stops = new Int32Array(new Stops().memory!);
  expect(stopSignal(0).aborted).toBe(false);
  vi.stubGlobal('crossOriginIsolated', false);
  const stops = new Stops();
  expect(stops.memory).toBeNull();
  stops.stop(stops.begin());
  held.stops = null;
  expect(stopSignal(1).aborted).toBe(false);
});
