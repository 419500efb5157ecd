import { describe, expect, it } from 'vitest';
import type { Appearance, Drawing, Kept } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import { momentsOf } from '../../src/geometry/planar/moments.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { arc, chain, circle, drawn, placed, stepOn } from './judge.js';

const pen = (value: number, more: Partial<Appearance> = {}): object => ({
  look: { ...DRAFTING_DEFAULT, width: { kind: 'drawing', value }, cap: 'butt', join: 'miter', ...more },
});
const path = (data: string, more: object): never =>
  ({ kind: 'path', path: parsePathData(data).path, ...more }) as never;
const shapes = (d: Drawing, params: Kept = {}) => stepOn(d, 'strokes-to-shapes', params);
const areas = (d: Drawing, params: Kept = {}): number[] =>
  shapes(d, params).entities.map((e) => (e.kind === 'path' ? momentsOf(e.path).area : 0));

describe('what a pen of 3 covers along 120', () => {
  it.each([
    ['butt', 360],
    ['square', 369],
    ['round', 360 + Math.PI * 2.25],
  ] as const)('with %s caps: %f', (cap, area) => {
    const made = shapes(drawn(path('M0 0H120', pen(3, { cap }))));
    expect(made.entities).toHaveLength(1);
    expect(areas(drawn(path('M0 0H120', pen(3, { cap }))))[0]).toBeCloseTo(area, 9);
    expect(made.entities[0]!.look).toMatchObject({ stroke: { kind: 'none' }, fill: { kind: 'byLayer' } });
    expect(made.against).toEqual([]);
  });
});

describe('corners, crossings and curves', () => {
  it('100 × 60 closed, width 4: 1280 with mitres, 1276.57 with round corners', () => {
    const box = (join: 'miter' | 'round') => drawn(chain([0, 0, 100, 0, 100, 60, 0, 60], true, pen(4, { join })));
    expect(areas(box('miter'))[0]).toBeCloseTo(104 * 64 - 96 * 56, 9);
    expect(areas(box('round'))[0]).toBeCloseTo(1280 - 4 * (4 - Math.PI), 9);
    expect(shapes(box('round')).against).toEqual([]);
  });
  it('two strokes of 40 × 4 that cross: 304, not 320', () => {
    expect(areas(drawn(path('M-20 0H20M0 -20V20', pen(4))))[0]).toBeCloseTo(304, 9);
  });
  it('a mitre longer than its limit is cut straight', () => {
    const sharp = (miter: number) => areas(drawn(path('M0 0L50 0L0 4', pen(2, { miter }))))[0]!;
    expect(sharp(100)).toBeGreaterThan(sharp(4) + 5);
  });
  it('arcs have arcs of their own centre on both sides: a ring, a half of one, and one tighter than the pen', () => {
    expect(areas(drawn(circle(0, 0, 10, pen(4))))[0]).toBeCloseTo(Math.PI * (144 - 64), 9);
    expect(areas(drawn(arc(0, 0, 10, 0, 180, pen(4))))[0]).toBeCloseTo((Math.PI * (144 - 64)) / 2, 9);
    // Half a turn of radius 1 under a pen of 4: half a disc of radius 3 and half one of radius 1.
    expect(areas(drawn(arc(0, 0, 1, 0, 180, pen(4))))[0]).toBeCloseTo((Math.PI * 9) / 2 + Math.PI / 2, 9);
  });
  it('a free curve within a bound: area near its length times the width', () => {
    const d = drawn(path('M0 0C40 60 80 -60 120 0', pen(2)));
    const made = shapes(d, { tolerance: 0.001 });
    // ∫ of the speed of this cubic, by Simpson's rule in 2000 parts.
    let length = 0;
    const speed = (t: number): number =>
      Math.hypot(120 * ((1 - t) ** 2 + 2 * t * (1 - t) + t * t), 180 * (1 - t) ** 2 - 720 * t * (1 - t) + 180 * t * t);
    for (let k = 0; k < 2000; k++)
      length += (speed(k / 2000) + 4 * speed((k + 0.5) / 2000) + speed((k + 1) / 2000)) / 12000;
    expect(momentsOf((made.entities[0] as unknown as { path: never }).path).area).toBeCloseTo(2 * length, 1);
    expect(made.against).toEqual([]);
  });
  it('dashes of 10 and gaps of 5 along 120 are eight shapes', () => {
    const d = drawn(path('M0 0H120', pen(3, { dash: { kind: 'lengths', lengths: [10, 5], offset: 0 } })));
    const [e] = shapes(d).entities;
    expect((e as { path: { cmds: Uint8Array } }).path.cmds.filter((c) => c === 0)).toHaveLength(8);
    expect(areas(d)[0]).toBeCloseTo(8 * 30, 9);
  });
});

it('a fill stays under the shape of its line; widths on paper count in the unit; blocks at two sizes', () => {
  const filled = shapes(drawn(chain([0, 0, 9, 0, 9, 9], true, pen(1, { fill: { kind: 'rgb', rgb: 255 } }))));
  expect(filled.entities.map((e) => [e.look.fill, e.look.stroke])).toEqual([
    [{ kind: 'rgb', rgb: 255 }, { kind: 'none' }],
    [{ kind: 'byLayer' }, { kind: 'none' }],
  ]);
  expect(filled.against).toEqual([]);
  const inches: Drawing = {
    ...drawn(path('M0 0H10', pen(0, { width: { kind: 'paper', mm: 2.54 } }))),
    unit: { unit: 'in', factor: 1 },
  };
  expect(areas(inches)[0]).toBeCloseTo(1, 9);
  const paper = pen(0, { width: { kind: 'paper', mm: 1 } });
  const made = shapes(placed([path('M0 0H10', paper)], [{ at: [0, 0] }, { at: [0, 30], scale: [2, 2, 2] }]));
  // One millimetre on paper is half a unit where the block is twice as large.
  const own = [...made.drawing.blocks.values()].map(
    (b) => momentsOf((b.entities[0] as unknown as { path: never }).path).area,
  );
  expect(own.map((v) => Number(v.toFixed(6)))).toEqual([10, 5]);
  expect(made.against).toEqual([]);
});

it('a width of the drawing grows with its block', () => {
  const made = shapes(placed([path('M0 0H10', pen(1))], [{ at: [0, 0], scale: [2, 2, 2] }]));
  // Drawn, 20 long and 2 wide; in the block, 10 long and 1 wide.
  const [block] = [...made.drawing.blocks.values()];
  expect(momentsOf((block!.entities[0] as unknown as { path: never }).path).area).toBeCloseTo(10, 9);
});

it('dashes of a linetype are as long as they are drawn: by the scale of all linetypes, whatever the size of a block', () => {
  const dashed = pen(1, { dash: { kind: 'linetype', name: 'SHORT', scale: 1 } });
  const withTypes = (d: Drawing): Drawing => ({
    ...d,
    header: new Map([['$LTSCALE', [[40, '3']]]]),
    linetypes: [{ name: 'SHORT', description: '', pattern: [2, -1] }] as never,
  });
  // 6 long and 3 apart: three of them along 24.
  const made = shapes(withTypes(drawn(path('M0 0H24', dashed))));
  expect(momentsOf((made.entities[0] as unknown as { path: never }).path).area).toBeCloseTo(18, 9);
  expect(made.against).toEqual([]);
  // The same line from a block of half its size.
  const inBlock = shapes(withTypes(placed([path('M0 0H12', dashed)], [{ at: [0, 0], scale: [2, 2, 2] }])));
  const [block] = [...inBlock.drawing.blocks.values()];
  expect(momentsOf((block!.entities[0] as unknown as { path: never }).path).area).toBeCloseTo(9, 9);
  expect(inBlock.against).toEqual([]);
});
