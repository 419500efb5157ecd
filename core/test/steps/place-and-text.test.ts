import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { CHECKS, DRAFTING_DEFAULT, EVERYTHING, refOf, runCheck } from '../../src/index.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { runsOf } from '../../src/drawing/courses.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { arc, chain, circle, drawn, kindsOf, lengthOfAll, line, placed, stepOn } from './judge.js';
import { PLAIN_DIMENSION, PLAIN_TEXT } from '../sketches.js';

const text = (words: string, x: number, y: number, size: number, more: object = {}): never =>
  ({
    kind: 'text',
    text: words,
    at: [x, y, 0],
    size,
    sizeOf: 'capital',
    ...PLAIN_TEXT,
    ...more,
  }) as never;
const box = (d: Drawing) => {
  const b = boundsOf(d);
  return [b.minX, b.minY, b.maxX, b.maxY].map((v) => Number(v.toFixed(6)) + 0);
};

describe('crop', () => {
  const crop = (d: Drawing, x0: number, y0: number, x1: number, y1: number, more: Kept = {}) =>
    stepOn(d, 'crop', { corner: { x: x0, y: y0 }, opposite: { x: x1, y: y1 }, ...more });
  it('cuts curves at the edge and keeps what they are; the rest is taken out', () => {
    const d = drawn(line(-10, 5, 30, 5), circle(10, 5, 8), line(40, 0, 40, 9), line(5, 5, 8, 8));
    const made = crop(d, 0, 0, 20, 10);
    expect(kindsOf(made.entities)).toBe('line arc arc line');
    expect(made.entities[0]).toMatchObject({ start: [0, 5, 0], end: [20, 5, 0] });
    // The circle of radius 8 about (10, 5) keeps two arcs, each twice asin(5/8) long.
    expect(lengthOfAll(made.drawing)).toBeCloseTo(20 + 2 * 8 * 2 * Math.asin(5 / 8) + Math.hypot(3, 3), 9);
    expect(made.against).toEqual([]);
    expect(made.row('cropped-away')!.count).toBe(1);
  });
  it('closes fills along the edge: a square half inside keeps half its area', () => {
    const fill = { look: { ...DRAFTING_DEFAULT, stroke: { kind: 'none' }, fill: { kind: 'rgb', rgb: 0 } } };
    const made = crop(
      drawn({ kind: 'path', path: parsePathData('M-10 0H10V20H-10Z').path, ...fill } as never),
      0,
      0,
      50,
      50,
    );
    expect(Math.abs(areaOfPieces(runsOf(made.entities[0]!)![0]!.pieces))).toBeCloseTo(200, 9);
    expect(made.against).toEqual([]);
  });
  it('texts by their anchor, placed blocks broken up where the edge crosses them', () => {
    const d = placed([line(0, 0, 10, 0), line(0, 5, 3, 5)], [{ at: [-5, 1] }, { at: [2, 2] }, { at: [99, 99] }]);
    const made = crop(
      {
        ...d,
        entities: [
          ...d.entities,
          ...drawn(text('in', 4, 4, 2), text('out', 40, 4, 2)).entities.map((e, i) => ({ ...e, id: 900 + i })),
        ],
      },
      0,
      0,
      20,
      10,
    );
    expect(kindsOf(made.entities)).toBe('line insert text');
    expect(made.entities[0]).toMatchObject({ start: [0, 1, 0], end: [5, 1, 0] });
    expect(made.against).toEqual([]);
    expect(new Set(made.entities.map((e) => e.id)).size).toBe(3);
  });
  it('within an outline of the drawing, far from its origin', () => {
    const d = drawn(chain([1e6, 0, 1e6 + 10, 0, 1e6 + 10, 10, 1e6, 10], true), line(1e6 - 5, 5, 1e6 + 15, 5));
    const made = stepOn(d, 'crop', { to: 'outline', outline: [refOf(d.entities[0]!, d)] });
    expect(made.entities[1]).toMatchObject({ start: [1e6, 5, 0], end: [1e6 + 10, 5, 0] });
    expect(stepOn(d, 'crop', { to: 'outline', outline: [] }).drawing).toBe(d);
    expect(arc).toBeDefined();
  });
});

describe('turn and mirror', () => {
  const turn = (d: Drawing, params: Kept) => stepOn(d, 'turn-and-mirror', params);
  it('quarter turns are exact, mirrors about the centre keep the box', () => {
    const d = drawn(line(0, 0, 40, 0), line(0, 0, 0, 10));
    expect(turn(d, { turn: 90 }).entities).toMatchObject([{ end: [0, 40, 0] }, { end: [-10, 0, 0] }]);
    const made = turn(d, { mirror: 'x', about: 'centre' });
    expect(made.entities).toMatchObject([{ start: [40, 0, 0], end: [0, 0, 0] }, { end: [40, 10, 0] }]);
    expect(box(made.drawing)).toEqual(box(d));
    expect(made.against).toEqual([]);
  });
  it('twice by 180 is as it was; letters stay readable, or are mirrored and it is said', () => {
    const d = drawn(line(3, 4, 40, 9), text('Bay', 5, 5, 2));
    const once = turn(d, { turn: 180, about: 'point', point: { x: 7, y: 1 } });
    const twice = turn(once.drawing, { turn: 180, about: 'point', point: { x: 7, y: 1 } });
    expect(twice.entities[0]).toMatchObject({ start: [3, 4, 0], end: [40, 9, 0] });
    expect(turn(d, { mirror: 'x' }).entities[1]).not.toHaveProperty('backwards');
    const mirrored = turn(d, { mirror: 'x', letters: 'mirrored' });
    expect(mirrored.entities[1]).toMatchObject({ backwards: true });
    expect(mirrored.reasons).toContain('letters-mirrored');
    expect(mirrored.against).toEqual([]);
  });
});

describe('small mends', () => {
  it('strays go, and the check finds none', () => {
    const check = CHECKS.find((c) => c.id === 'strays')!;
    const d = drawn(...Array.from({ length: 60 }, (_, i) => line(i, 0, i, 30)), circle(5000, 0, 2));
    expect(runCheck(check, d)).toHaveLength(1);
    const made = stepOn(d, 'remove-strays');
    expect([made.entities.length, runCheck(check, made.drawing).length]).toEqual([60, 0]);
    expect(made.against).toEqual([]);
  });
  it('what rises out of the plane is laid flat, and the check finds nothing', () => {
    const check = CHECKS.find((c) => c.id === 'off-plane')!;
    const d = drawn({ kind: 'line', start: [0, 0, 0], end: [30, 40, 20] } as never, circle(0, 0, 5));
    expect(runCheck(check, d).length).toBeGreaterThan(0);
    const made = stepOn(d, 'lay-flat');
    expect(made.entities[0]).toMatchObject({ end: [30, 40, 0] });
    expect(runCheck(check, made.drawing)).toEqual([]);
  });
  it('fonts of texts, of pieces of them and of styles are replaced by a chart', () => {
    const font = { family: 'Foreign Sans', weight: 700, italic: false, or: ['x'] };
    const d = {
      ...drawn(text('Bay', 0, 0, 2, { font }), text('B', 0, 9, 2, { runs: [{ text: 'B', scale: 1, rise: 0, font }] })),
      textStyles: [{ name: 'S', font: 'FOREIGN.TTF', bigFont: '', fixedHeight: 0, widthFactor: 1, oblique: 0 }],
    };
    const made = stepOn(d, 'replace-fonts', { chart: [{ from: 'Foreign*', to: 'Spline Sans' }] });
    expect(made.entities).toMatchObject([
      { font: { family: 'Spline Sans', weight: 700 } },
      { runs: [{ font: { family: 'Spline Sans' } }] },
    ]);
    expect(made.drawing.textStyles[0]!.font).toBe('Spline Sans');
    expect(made.against).toEqual([]);
  });
  it('annotation: 2.5 on paper at 1 : 50 is 125, and back; shapes and measured numbers stay', () => {
    const dimension = {
      kind: 'dimension',
      form: 'aligned',
      points: { 10: [0, 9, 0], 11: [5, 9, 0], 13: [0, 0, 0], 14: [10, 0, 0] },
      override: '',
      style: 'S',
      ...PLAIN_DIMENSION,
      flags: 0,
    } as never;
    const d: Drawing = {
      ...drawn(line(0, 0, 10, 0), text('Bay', 0, 0, 2.5), dimension),
      header: new Map([['$LTSCALE', [[40, '1']]]]),
      dimensionStyles: [{ name: 'S', tags: [[140, '2.5']] }],
    };
    const made = stepOn(d, 'annotation-factor', { factor: 50 });
    expect(made.entities).toMatchObject([{ end: [10, 0, 0] }, { size: 125 }, { points: { 14: [10, 0, 0] } }]);
    expect([made.drawing.header.get('$LTSCALE'), made.drawing.dimensionStyles[0]!.tags]).toEqual([
      [[40, '50']],
      [
        [40, '50'],
        [140, '2.5'],
      ],
    ]);
    expect(made.against).toEqual([]);
    const back = stepOn(made.drawing, 'annotation-factor', { factor: 50, way: 'over' });
    expect(back.entities[1]).toMatchObject({ size: 2.5 });
    expect(back.drawing.dimensionStyles[0]!.tags[0]).toEqual([40, '1']);
  });
  it('annotation: with a selection styles and linetypes stay; without one linetypes are scaled though the file does not say by what', () => {
    const d: Drawing = {
      ...drawn(text('Bay', 0, 0, 2.5), line(0, 0, 9, 0, { layer: 'AXES' })),
      linetypes: [{ name: 'DASHED', description: '', pattern: [2, -1] }] as never,
      dimensionStyles: [{ name: 'S', tags: [[140, '2.5']] }],
    };
    const some = stepOn(d, 'annotation-factor', { factor: 50, which: { ...EVERYTHING, kinds: ['text'] } });
    expect(some.entities[0]).toMatchObject({ size: 125 });
    expect(some.drawing.dimensionStyles).toBe(d.dimensionStyles);
    expect(some.drawing.header.has('$LTSCALE')).toBe(false);
    const none = stepOn(d, 'annotation-factor', { factor: 50, which: { ...EVERYTHING, layers: 'NOWHERE' } });
    expect(none.drawing).toBe(d);
    const all = stepOn(d, 'annotation-factor', { factor: 50 });
    expect(all.drawing.header.get('$LTSCALE')).toEqual([[40, '50']]);
    // One text, one style, one setting.
    expect(all.row('annotation-scaled')!.count).toBe(3);
  });
});
