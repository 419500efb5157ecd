import { describe, expect, it } from 'vitest';
import type { Appearance, Drawing, Kept } from '../../src/index.js';
import { CHECKS, DRAFTING_DEFAULT, EVERYTHING, newLayer, runCheck } from '../../src/index.js';
import { colourDifference } from '../../src/drawing/colour-difference.js';
import { greyOf } from '../../src/steps/ink-only.js';
import { drawn, line, placed, stepOn } from './judge.js';

const rgb = (v: number) => ({ kind: 'rgb', rgb: v }) as const;
const painted = (look: Partial<Appearance>, layer = 'A'): never =>
  line(0, 0, 9, 9, { look: { ...DRAFTING_DEFAULT, ...look }, layer });
const strokes = (d: Drawing) => d.entities.map((e) => e.look.stroke);
const widths = (d: Drawing) => d.entities.map((e) => e.look.width);

describe('mapping colours', () => {
  const map = (d: Drawing, params: Kept) => stepOn(d, 'map-colours', params);
  const chart = [
    { from: '#ff0000', to: '#112233' },
    { from: '#ff0000', to: '#445566' },
  ];
  it('by a chart, the first row counting; what comes from a layer changes in the layer', () => {
    const d = drawn(painted({ stroke: rgb(0xff0000) }), painted({}), painted({ stroke: rgb(0x00ff00) }));
    d.layers[0] = newLayer('A', rgb(0xff0000)) as never;
    const made = map(d, { chart });
    expect(strokes(made.drawing)).toEqual([rgb(0x112233), { kind: 'byLayer' }, rgb(0x00ff00)]);
    expect(made.drawing.layers[0]!.paint).toEqual(rgb(0x112233));
    expect(made.against).toEqual([]);
  });
  it('where only some are meant, what they have from their layer is stated on them', () => {
    const d = drawn(painted({}), painted({}, 'B'));
    d.layers.splice(0, 2, newLayer('A', rgb(0xff0000)), newLayer('B', rgb(0xff0000)));
    const made = map(d, { chart, which: { layers: 'B', kinds: [], stroke: '', fill: '' } });
    expect(strokes(made.drawing)).toEqual([{ kind: 'byLayer' }, rgb(0x112233)]);
    expect(made.drawing.layers.map((l) => l.paint)).toEqual([rgb(0xff0000), rgb(0xff0000)]);
  });
  it('to the nearest of a list, or the nearest index, with the difference told', () => {
    const d = drawn(painted({ stroke: rgb(0xfa0505) }), painted({ stroke: rgb(0x101010) }));
    const made = map(d, { by: 'list', list: ['#ff0000', '#000000'] });
    expect(strokes(made.drawing)).toEqual([rgb(0xff0000), rgb(0)]);
    expect(made.row('colours-to-nearest')!.args!['difference']).toBe(
      Math.max(colourDifference(0xfa0505, 0xff0000), colourDifference(0x101010, 0)).toFixed(1),
    );
    expect(strokes(map(d, { by: 'index' }).drawing)[0]).toEqual({ kind: 'index', index: 1 });
  });
  it('in blocks and on gradients with all their stops', () => {
    const fill = {
      kind: 'gradient',
      form: 'linear',
      id: 'g',
      rgb: 0xff0000,
      stops: [{ offset: 0, rgb: 0xff0000, opacity: 1 }],
    } as never;
    const made = map(placed([painted({ fill })], [{ at: [0, 0] }]), { chart });
    expect(made.drawing.blocks.get('panel')!.entities[0]!.look.fill).toMatchObject({
      rgb: 0x112233,
      stops: [{ rgb: 0x112233 }],
    });
  });
});

describe('ink only', () => {
  const ink = (d: Drawing, params: Kept = {}) => stepOn(d, 'ink-only', params);
  it('lines become black, fills grey by their lightness, white stays white or goes', () => {
    const d = drawn(
      painted({ stroke: rgb(0xc4512d), fill: rgb(0xe0b978) }),
      painted({ stroke: { kind: 'none' }, fill: rgb(0xffffff) }),
    );
    const looks = ink(d).drawing.entities.map((e) => [e.look.stroke, e.look.fill]);
    expect(looks).toEqual([
      [{ kind: 'index', index: 7 }, rgb(greyOf(0xe0b978))],
      [{ kind: 'none' }, rgb(0xffffff)],
    ]);
    expect(ink(d, { fills: 'black', white: false }).drawing.entities[1]!.look.fill).toEqual({
      kind: 'index',
      index: 7,
    });
    expect(ink(d, { fills: 'none', white: false }).drawing.entities[1]!.look.stroke).toEqual({
      kind: 'index',
      index: 7,
    });
  });
  it('the grey of a grey is itself, of red that of its lightness; white lines are told', () => {
    expect([greyOf(0x808080), greyOf(0), greyOf(0xffffff)]).toEqual([0x808080, 0, 0xffffff]);
    // Red has 0.2126 of the luminance of white: 0.4985 on the curve of sRGB, 127.
    expect(greyOf(0xff0000)).toBe(0x7f7f7f);
    const made = ink(drawn(painted({ stroke: rgb(0xffffff) })));
    expect(made.row('white-became-ink')!.count).toBe(1);
  });
  it('white lines are counted one by one, though they share a look, those that have it from their layer among them', () => {
    const white = painted({ stroke: rgb(0xffffff) });
    const d = drawn(white, white, painted({ stroke: rgb(0) }), painted({ stroke: { kind: 'byLayer' } }));
    const layers = d.layers.map((l) => ({ ...l, paint: rgb(0xffffff) }));
    const onWhite = { ...d, layers };
    for (const which of [{ ...EVERYTHING }, { ...EVERYTHING, kinds: ['line'] }])
      expect(ink(onWhite, { which }).row('white-became-ink')!.count).toBe(3);
    expect(ink(drawn(painted({ stroke: rgb(0) }))).row('white-became-ink')).toBeUndefined();
  });
});

describe('widths', () => {
  const paper = (mm: number) => ({ kind: 'paper', mm }) as const;
  it.each([
    [25.4 / 96, 0.25, -0.0146],
    [25.4 / 72, 0.35, -0.0028],
    [(2 * 25.4) / 96, 0.53, 0.0008],
    [(3 * 25.4) / 72, 1.06, 0.0017],
    [0.1, 0.09, -0.01],
  ])('%f mm becomes %f, %f off', (mm, weight, off) => {
    const made = stepOn(drawn(painted({ width: paper(mm) })), 'snap-weights');
    expect(widths(made.drawing)).toEqual([paper(weight)]);
    expect(Number.parseFloat(String(made.row('weights-snapped')!.args!['difference']))).toBeCloseTo(off, 4);
  });
  it('widths in units of the drawing count in its unit; those that nobody states stay', () => {
    const d: Drawing = {
      ...drawn(painted({ width: { kind: 'drawing', value: 0.02 } }), painted({})),
      unit: { unit: 'in', factor: 1 },
    };
    expect(widths(stepOn(d, 'snap-weights').drawing)).toEqual([paper(0.5), { kind: 'byLayer' }]);
  });
  it('one hairline for all: lines, layers, and polylines that have a width of their own', () => {
    const wide = {
      kind: 'polyline',
      points: Float64Array.of(0, 0, 9, 0),
      dim: 2,
      elevation: 0,
      closed: false,
      widths: Float64Array.of(2, 2, 2, 2),
    } as never;
    const made = stepOn(drawn(painted({ width: paper(1) }), wide), 'one-hairline', { width: 0.05 });
    expect(widths(made.drawing)).toEqual([paper(0.05), paper(0.05)]);
    expect(made.entities[1]).not.toHaveProperty('widths');
    expect(made.drawing.layers[0]!.weight).toBe(0.05);
    expect(made.against).toEqual([]);
  });
});

describe('plain paints and colours alike', () => {
  it('what is seen through becomes the colour it has on white, gradients their mean', () => {
    const stops = [
      { offset: 0, rgb: 0x000000, opacity: 1 },
      { offset: 1, rgb: 0xffffff, opacity: 1 },
    ];
    const fill = { kind: 'gradient', form: 'linear', id: 'g', rgb: 0x808080, stops } as never;
    const d = drawn(painted({ stroke: rgb(0x0000ff), opacity: 0.5 }), painted({ fill, stroke: { kind: 'none' } }));
    const check = CHECKS.find((c) => c.id === 'special-paints')!;
    expect(runCheck(check, d)).toHaveLength(2);
    const made = stepOn(d, 'plain-paints');
    expect(made.entities.map((e) => [e.look.stroke, e.look.fill, e.look.opacity])).toEqual([
      [rgb(0x8080ff), { kind: 'none' }, 1],
      [{ kind: 'none' }, rgb(0x808080), 1],
    ]);
    expect(runCheck(check, made.drawing)).toEqual([]);
  });
  it('colours that nobody can tell apart become the one used most; the check is silent then', () => {
    const d = drawn(
      painted({ stroke: rgb(0xc4512d) }),
      painted({ stroke: rgb(0xc4512d) }),
      painted({ stroke: rgb(0xc5522e) }),
      painted({ stroke: rgb(0x2d6f7c) }),
    );
    const check = CHECKS.find((c) => c.id === 'similar-colours')!;
    expect(runCheck(check, d)).toHaveLength(1);
    const made = stepOn(d, 'even-out-colours');
    expect(strokes(made.drawing)).toEqual([0xc4512d, 0xc4512d, 0xc4512d, 0x2d6f7c].map(rgb));
    expect(runCheck(check, made.drawing)).toEqual([]);
  });
});
