import { expect, it } from 'vitest';
import type { ErrorCode } from '../src/index.js';
import { DEFAULT_TARGETS, Stopped, UserError, deliver, loadFont, readDrawing, runSteps } from '../src/index.js';
import { inverse, scaling } from '../src/geometry/affine.js';
import { formatDecimal } from '../src/formats/drafting/numbers.js';
import { writeDwg } from '../src/formats/dwg/write.js';
import { writeDxf } from '../src/formats/dxf/write.js';
import { bytesOf, drawingOf, fonts } from './helpers.js';

const thrownBy = (f: () => unknown): unknown => {
  try {
    f();
  } catch (e) {
    return e;
  }
  return null;
};
const empty = drawingOf([]);
const plan = (step: string, params = {}) => [{ id: 's', step, on: true, params }];

it.each<[ErrorCode, () => unknown]>([
  ['unreadable-file', () => readDrawing(bytesOf('nonsense'), 'x.dxf')],
  ['unreadable-font', () => loadFont(bytesOf('no font'))],
  ['unreadable-font', () => loadFont(new Uint8Array(33 * 1024 * 1024))],
  ['cannot-deliver', () => deliver({ ...empty, unit: null }, DEFAULT_TARGETS.dxf, 'x', fonts())],
  ['unwritable-number', () => formatDecimal(NaN)],
  ['unknown-version', () => writeDxf(empty, { version: '1899', unit: 'mm', fonts: fonts() } as never)],
  ['unknown-version', () => writeDwg(empty, { version: '1899', unit: 'mm', fonts: fonts() } as never)],
  ['unknown-step', () => runSteps(empty, plan('no-such'))],
  ['wrong-parameter', () => runSteps(empty, plan('shift-origin', { to: 'moon' }))],
  [
    'stopped',
    () => {
      throw new Stopped();
    },
  ],
])('what a person can mend is told with the code %s', (code, f) => {
  const e = thrownBy(f);
  expect(e).toBeInstanceOf(UserError);
  expect((e as UserError).code).toBe(code);
  expect((e as UserError).message).not.toBe('');
});

it('the engine’s own errors, and mistakes of this program, are none of those', () => {
  const deep = (n: number): number => n + deep(n + 1);
  for (const f of [() => deep(0), () => new Array(-1), () => (1).toFixed(200), () => inverse(scaling(0, 1, 1))])
    expect(thrownBy(f)).not.toBeInstanceOf(UserError);
});
