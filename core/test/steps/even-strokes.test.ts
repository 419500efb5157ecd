import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Appearance, Drawing, Entity } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { momentsOf } from '../../src/geometry/planar/moments.js';
import { stripWidth } from '../../src/geometry/recover/middle-line.js';
import { drawn, kindsOf, lengthOfAll, placed, stepOn } from './judge.js';

const filled: Partial<Appearance> = {
  ...DRAFTING_DEFAULT,
  stroke: { kind: 'none' },
  fill: { kind: 'rgb', rgb: 0x1d2530 },
};
const path = (data: string): never => ({ kind: 'path', path: parsePathData(data).path, look: filled }) as never;
const even = (d: Drawing, params = {}) => stepOn(d, 'even-strokes', params);
const width = (e: Entity | undefined): number => (e?.look.width.kind === 'drawing' ? e.look.width.value : NaN);
/** A stroke drawn and then expanded by the step that does so. */
const expanded = (data: string, value: number, cap: 'butt' | 'round' = 'butt'): Drawing =>
  stepOn(
    drawn({
      kind: 'path',
      path: parsePathData(data).path,
      look: { ...DRAFTING_DEFAULT, width: { kind: 'drawing', value }, cap, join: 'round' },
    } as never),
    'strokes-to-shapes',
  ).drawing;

describe('a strip of area 360 and perimeter 246', () => {
  it('is 3 wide and 120 long: (123 − √13689) / 2', () => {
    expect(stripWidth(360, 246)).toBeCloseTo(3, 12);
    // No shape has a larger area than a square of its perimeter.
    expect(stripWidth(3783, 246)).toBeNull();
    const made = even(drawn(path('M0 0H120V3H0Z')));
    expect(made.entities).toMatchObject([{ kind: 'line' }]);
    expect(width(made.entities[0])).toBeCloseTo(3, 6);
    expect(lengthOfAll(made.drawing)).toBeCloseTo(120, 6);
    expect(made.entities[0]!.look).toMatchObject({
      fill: { kind: 'none' },
      stroke: { kind: 'rgb', rgb: 0x1d2530 },
      cap: 'butt',
    });
    expect(made.against).toEqual([]);
  });
});

describe('expanded strokes come back', () => {
  it.each([
    ['M0 0L100 40', 4, 'butt'],
    ['M0 0C40 60 80 -60 120 0', 5, 'butt'],
    ['M0 0C40 60 80 -60 120 0', 5, 'round'],
    ['M0 0A50 50 0 0 1 50 50', 6, 'round'],
  ] as const)('%s, %f wide, %s', (data, w, cap) => {
    const d = expanded(data, w, cap);
    const made = even(d, { bound: 0.05 });
    expect(made.entities).toHaveLength(1);
    expect(width(made.entities[0])).toBeCloseTo(w, 1);
    expect(made.entities[0]!.look.cap).toBe(cap);
    // Expanded again it has the area that it had.
    const again = stepOn(made.drawing, 'strokes-to-shapes').entities[0] as unknown as { path: never };
    const [before, after] = [
      momentsOf((d.entities[0] as unknown as { path: never }).path).area,
      momentsOf(again.path).area,
    ];
    expect(Math.abs(after / before - 1)).toBeLessThan(0.02);
    expect(made.against).toEqual([]);
  });
  it('a ring is a circle with a width', () => {
    const made = even(
      drawn(path('M20 0A20 20 0 1 1 -20 0A20 20 0 1 1 20 0ZM16 0A16 16 0 1 0 -16 0A16 16 0 1 0 16 0Z')),
    );
    expect(made.entities).toMatchObject([{ kind: 'circle' }]);
    expect((made.entities[0] as { radius: number }).radius).toBeCloseTo(18, 1);
    expect(width(made.entities[0])).toBeCloseTo(4, 1);
    expect(made.against).toEqual([]);
  });
});

describe('what is no stroke', () => {
  it('blobs and squares stay, tapering ones are listed beyond the spread', () => {
    for (const data of ['M0 0H30V20H0Z', 'M10 0A10 10 0 1 1 -10 0A10 10 0 1 1 10 0Z']) {
      const d = drawn(path(data));
      expect(even(d).drawing).toBe(d);
    }
    const taper = drawn(path('M0 0L120 2L120 4L0 8Z'));
    const left = even(taper);
    expect(left.drawing).toBe(taper);
    expect(left.row('stroke-widths-differ')!.count).toBe(1);
    expect(even(taper, { spread: 200 }).entities[0]!.look.fill).toEqual({ kind: 'none' });
  });
  it('a Y of three branches stays', () => {
    const d = expanded('M0 0L0 50M0 50L40 90M0 50L-40 90', 4);
    expect(even(d).drawing).toBe(d);
  });
  it('what has a line of its own, or more than one hole, stays', () => {
    const lined = drawn({
      kind: 'path',
      path: parsePathData('M0 0H120V3H0Z').path,
      look: { ...filled, stroke: { kind: 'rgb', rgb: 0 } },
    } as never);
    expect(even(lined).drawing).toBe(lined);
  });
});

it('points before and after, the largest distance and the widths are told; blocks count in the drawing', () => {
  const made = even(placed([path('M0 0H120V3H0Z')], [{ at: [0, 0], scale: [2, 2, 2] }]));
  expect(kindsOf(made.drawing.blocks.get('panel')!.entities)).toBe('line');
  expect(made.row('strokes-evened')!.args).toMatchObject({ mean: '6', before: 4, after: 2 });
  expect(made.against).toEqual([]);
});

it('any straight strip, wherever it lies and however it is turned', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1e6, max: 1e6 }),
      fc.integer({ min: 0, max: 359 }),
      fc.integer({ min: 1, max: 9 }),
      fc.integer({ min: 5, max: 60 }),
      (x, turn, w, slender) => {
        const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
        const l = w * slender;
        const at = (u: number, v: number): string => `${x + u * c - v * s} ${x + u * s + v * c}`;
        const made = even(drawn(path(`M${at(0, 0)}L${at(l, 0)}L${at(l, w)}L${at(0, w)}Z`)));
        expect(width(made.entities[0])).toBeCloseTo(w, 3);
        expect(lengthOfAll(made.drawing) / l).toBeCloseTo(1, 3);
        expect(made.against).toEqual([]);
      },
    ),
    { numRuns: 60 },
  );
});
