import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Yardstick } from '../../src/index.js';
import {
  deliver,
  holdAgainst,
  inOtherUnit,
  measureNow,
  placeOn,
  readDrawing,
  scaleSeen,
  shapePlaceOn,
  sharpest,
  targetFor,
} from '../../src/index.js';
import { upright } from '../../src/intake/intake.js';
import { transformDrawing } from '../../src/drawing/transform.js';
import { compose, rotation, scaling, translation } from '../../src/geometry/affine.js';
import { fonts } from '../helpers.js';
import { box, chain, circle, drawn, text } from '../steps/judge.js';

const BASE = { title: 'Known', unit: 'mm', tolerance: 0.02, source: 'measured on the piece', places: [] } as const;
const ruler = (more: Partial<Yardstick>): Yardstick => ({ ...BASE, id: 'y', what: 'width', expected: 0, ...more });
const plate = (bore = 12): Drawing =>
  drawn(box(0, 0, 250, 80), circle(40, 30, bore / 2), circle(200, 50, 9), text('A1', 20, 60));
const hold = (y: Yardstick, d: Drawing) => holdAgainst([y], d, fonts())[0]!;
const boreOf = (d: Drawing): Yardstick =>
  ruler({ what: 'diameter', expected: 12, places: [shapePlaceOn(d, { x: 40, y: 30 }, 'mm')!] });
const barOf = (d: Drawing): Yardstick =>
  ruler({
    what: 'distance',
    expected: 250,
    places: [placeOn(d, { x: 0, y: 0 }, 'mm')!, placeOn(d, { x: 250, y: 0 }, 'mm')!],
  });

describe('a bore of 12 ± 0.02', () => {
  const bore = boreOf(plate());
  it('holds at 12.015 and fails at 11.955', () => {
    expect(hold(bore, plate(12.015))).toMatchObject({ state: 'holds', measured: expect.closeTo(12.015, 9) });
    const bad = hold(bore, plate(11.955));
    expect(bad).toMatchObject({ state: 'fails' });
    expect(bad.off).toBeCloseTo(-0.045, 9);
  });
  it('could have seen an error of scale of 1.7 in a thousand', () => {
    expect(scaleSeen(bore)! * 1000).toBeCloseTo(1.667, 3);
    expect(inOtherUnit(12, bore)).toEqual({ value: expect.closeTo(0.472441, 6), unit: 'in' });
  });
  it('is undecided, not held, where the bore is gone or its place holds another', () => {
    expect(hold(bore, drawn(box(0, 0, 250, 80)))).toMatchObject({ state: 'undecided', measured: null });
    expect(hold(bore, drawn(box(0, 0, 250, 80), circle(40, 30, 25)))).toMatchObject({ state: 'undecided' });
    expect(hold(bore, { ...plate(), unit: null })).toMatchObject({
      state: 'undecided',
      why: 'the drawing says no unit',
    });
  });
});

describe('the longest known length', () => {
  it('is the sharpest, and shows points of another inch (72 for 72.27) as -0.93 on 250', () => {
    const d = plate();
    const [bar, bore] = [barOf(d), boreOf(d)];
    expect(sharpest([bore, bar])).toBe(bar);
    expect(scaleSeen(bar)! * 1e6).toBeCloseTo(80, 6);
    const shrunk = transformDrawing(d, scaling(72 / 72.27, 72 / 72.27, 1));
    const found = hold(bar, shrunk);
    expect(found.state).toBe('fails');
    expect(found.off).toBeCloseTo(-0.934, 3);
    // The bore is off by 0.045 then: one that is known to a tenth would not have told.
    expect(hold({ ...bore, tolerance: 0.1 }, shrunk).state).toBe('holds');
  });
  it('finds its places in a file of another format, moved to its own corner', () => {
    const d = transformDrawing(plate(), translation(30, -12));
    const bar = ruler({
      what: 'distance',
      expected: 250,
      places: [placeOn(d, { x: 30, y: -12 }, 'mm')!, placeOn(d, { x: 280, y: -12 }, 'mm')!],
    });
    for (const format of ['svg', 'dxf', 'dwg'] as const) {
      const made = deliver(d, targetFor(format), 'plate.dxf', fonts());
      const back = upright(readDrawing(made.bytes, made.name).drawing);
      expect(hold(bar, back)).toMatchObject({ state: 'holds', measured: expect.closeTo(250, 6) });
      expect(hold(boreOf(plate()), back)).toMatchObject({ state: 'holds', measured: expect.closeTo(12, 6) });
    }
  });
  it('measures the corner that was moved, and nothing where two lie alike', () => {
    const d = plate();
    const moved = drawn(chain([0, 0, 250.1, 0, 250.1, 80, 0, 80], true), circle(40, 30, 6));
    expect(hold(barOf(d), moved).off).toBeCloseTo(0.1, 9);
    const twins = drawn(box(0, 0, 250, 80), chain([124, 0, 124, 10], false), chain([126, 0, 126, 10], false));
    const middle = ruler({
      what: 'distance',
      expected: 125,
      places: [placeOn(d, { x: 0, y: 0 }, 'mm')!, { ...placeOn(d, { x: 125, y: 5 }, 'mm')! }],
    });
    expect(hold(middle, twins).state).toBe('undecided');
  });
  it('law: whatever is moved and scaled evenly is found, and measures as much more', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.integer({ min: -10000, max: 10000 }),
        fc.integer({ min: -10000, max: 10000 }),
        (k, x, y) => {
          const d = plate();
          const there = transformDrawing(d, compose(translation(x, y), scaling(k, k, 1)));
          const [bar, bore] = holdAgainst([barOf(d), { ...boreOf(d), id: 'b' }], there, fonts());
          expect(bar!.measured as number).toBeCloseTo(250 * k, 6);
          expect(bore!.measured as number).toBeCloseTo(12 * k, 6);
          expect(bar!.state).toBe(Math.abs(250 * k - 250) <= 0.02 ? 'holds' : 'fails');
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('the other kinds', () => {
  const d = plate();
  it('measure the whole drawing', () => {
    const now = (more: Partial<Yardstick>) => measureNow(ruler(more), d, fonts());
    expect(now({ what: 'width' })).toBe(250);
    expect(now({ what: 'height' })).toBe(80);
    expect(now({ what: 'outlines' })).toBe(1);
    expect(now({ what: 'holes', diameter: 18 })).toBe(1);
    expect(now({ what: 'holes', diameter: 20 })).toBe(0);
    expect(now({ what: 'width', unit: 'in' })).toBeCloseTo(250 / 25.4, 12);
    expect(now({ what: 'text', words: 'A1' })).toBeCloseTo(3, 9);
    expect(now({ what: 'text', words: 'A2' })).toBeNull();
  });
  it('measure an area with the square of the unit, and see half the error in its scale', () => {
    const place = shapePlaceOn(d, { x: 125, y: 40 }, 'mm')!;
    const area = ruler({ what: 'area', expected: 20000, tolerance: 20, places: [place] });
    expect(hold(area, d)).toMatchObject({ state: 'holds', measured: 20000 });
    expect(scaleSeen(area)).toBeCloseTo(0.0005, 12);
    expect(measureNow({ ...area, unit: 'cm' }, d, fonts())).toBeCloseTo(200, 9);
  });
  it('measure angles and colours, which no scale shows in', () => {
    const at = (x: number, y: number) => placeOn(d, { x, y }, 'mm')!;
    const corner = ruler({ what: 'angle', expected: 90, places: [at(250, 0), at(0, 0), at(0, 80)] });
    expect(hold(corner, transformDrawing(d, scaling(3, 3, 1)))).toMatchObject({ state: 'holds' });
    expect(scaleSeen(corner)).toBeNull();
    const line = ruler({ what: 'stroke', expected: '#000000', places: [shapePlaceOn(d, { x: 40, y: 30 }, 'mm')!] });
    expect(hold(line, d)).toMatchObject({ state: 'holds', measured: '#000000' });
    expect(hold({ ...line, expected: '#5a3d7b' }, d).state).toBe('fails');
  });
  it('are undecided after a turn, which nobody said: no place is guessed', () => {
    expect(hold(boreOf(d), transformDrawing(d, rotation(0.7))).state).not.toBe('holds');
  });
});
