import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../src/index.js';
import { CHECKS, DRAFTING_DEFAULT, MOST_FINDINGS, PathBuilder, runCheck, takeIn, NO_DECISIONS } from '../src/index.js';
import { drawingOf, dxf, fonts, read, svg } from './helpers.js';
import { PLAIN_DIMENSION, PLAIN_TEXT } from './sketches.js';

const run = (id: string, d: Drawing, settings: Record<string, number | string> = {}) =>
  runCheck(
    CHECKS.find((c) => c.id === id)!,
    d,
    settings,
    { fonts: fonts() },
  );
const of = (id: string, entities: object[], settings: Record<string, number | string> = {}) =>
  run(id, drawingOf(entities as never), settings);

const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A') => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
  layer,
});
const ring = (p: number[], extra: object = {}) => ({
  kind: 'polyline',
  points: Float64Array.from(p),
  dim: 2,
  elevation: 0,
  closed: true,
  layer: 'A',
  ...extra,
});
const arc = (r: number, start: number, end: number, cx = 0) => ({
  kind: 'arc',
  centre: [cx, 0, 0],
  radius: r,
  start,
  end,
  layer: 'A',
});
/** Something large, so that tolerances that follow the drawing's size are known: a diagonal of 500. */
const frame = line(0, -1000, 300, -600, 'FRAME');

describe('overlaps', () => {
  it('two lines on one course for part of their way, also the other way round', () => {
    const [f] = of('overlapping', [frame, line(0, 0, 60, 80), line(90, 120, 30, 40)]);
    // From (30, 40) to (60, 80): 50 long, its middle at (45, 60).
    expect(f).toMatchObject({ ids: [2, 3], at: { x: 45, y: 60 } });
    expect(f!.size).toBeCloseTo(50, 9);
    expect(f!.message).toContain('50 mm');
  });
  it('upright lines whose last digits differ', () => {
    expect(of('overlapping', [frame, line(5, 0, 5 + 1e-10, 60), line(5, 30, 5 - 1e-10, 90)]).length).toBe(1);
  });
  it('arcs about one centre', () => {
    const [f] = of('overlapping', [frame, arc(50, 0, 2), arc(50, 1, 3)]);
    expect(f!.size).toBeCloseTo(50, 6);
    expect(f!.at!.x).toBeCloseTo(50 * Math.cos(1.5), 6);
    expect(of('overlapping', [frame, arc(50, 0, 2), arc(51, 1, 3), arc(50, 1, 3, 9)])).toEqual([]);
  });
  it('not ends that meet, not side by side, not another layer, not doubles, which are told elsewhere', () => {
    expect(of('overlapping', [frame, line(0, 0, 50, 0), line(50, 0, 90, 0)])).toEqual([]);
    expect(of('overlapping', [frame, line(0, 0, 50, 0), line(0, 0.01, 90, 0.01)])).toEqual([]);
    expect(of('overlapping', [frame, line(0, 0, 50, 0), line(10, 0, 90, 0, 'B')])).toEqual([]);
    expect(of('overlapping', [frame, line(0, 0, 50, 0), line(50, 0, 0, 0)])).toEqual([]);
  });
  it('the common edge of two areas only on request', () => {
    const two = [frame, ring([0, 0, 50, 0, 50, 50, 0, 50]), ring([50, 0, 90, 0, 90, 50, 50, 50])];
    expect(of('overlapping', two)).toEqual([]);
    expect(of('overlapping', two, { shared: 'yes' }).length).toBe(1);
  });
});

describe('outlines touching in a point', () => {
  it('corner to corner, and corner to edge', () => {
    const square = ring([0, 0, 50, 0, 50, 50, 0, 50]);
    expect(of('touching-outlines', [square, ring([50, 50, 90, 50, 90, 90, 50, 90])])).toMatchObject([
      { at: { x: 50, y: 50 } },
    ]);
    expect(of('touching-outlines', [square, ring([50, 25, 90, 0, 90, 50])])).toMatchObject([{ at: { x: 50, y: 25 } }]);
  });
  it('an outline that comes back to a corner of its own', () => {
    const eight = ring([0, 0, 20, 0, 30, 20, 50, 0, 70, 0, 70, 40, 50, 40, 30, 20, 20, 40, 0, 40]);
    expect(of('touching-outlines', [eight])).toMatchObject([{ at: { x: 30, y: 20 }, ids: [1] }]);
  });
  it('not a common edge, not a hair apart, not an outline whose first point is given again', () => {
    const square = ring([0, 0, 50, 0, 50, 50, 0, 50]);
    expect(of('touching-outlines', [square, ring([50, 0, 90, 0, 90, 50, 50, 50])])).toEqual([]);
    expect(of('touching-outlines', [square, ring([50.001, 50.001, 90, 50, 90, 90, 50, 90])])).toEqual([]);
    expect(of('touching-outlines', [ring([0, 0, 50, 0, 50, 50, 0, 50, 0, 0])])).toEqual([]);
  });
});

describe('neighbours', () => {
  const square = ring([0, 0, 50, 0, 50, 50, 0, 50]);
  it('whose common edge has a corner on one side only', () => {
    const found = of('unshared-points', [square, ring([50, 0, 90, 0, 90, 25, 50, 25])]);
    expect(found).toMatchObject([{ ids: [2, 1], at: { x: 50, y: 25 } }]);
  });
  it('also where an arc runs past it', () => {
    const half = {
      kind: 'path',
      layer: 'A',
      path: new PathBuilder().moveTo(-50, 0).arcTo(50, 50, 0, false, false, 50, 0).close().build(),
    };
    const [f] = of('unshared-points', [half, ring([0, 50, 50, 50, 50, 0])]);
    expect(f?.at).toEqual({ x: 0, y: 50 });
  });
  it('not those that share all points, nor those that touch once', () => {
    expect(of('unshared-points', [square, ring([50, 0, 90, 0, 90, 50, 50, 50])])).toEqual([]);
    expect(of('unshared-points', [square, ring([50, 25, 90, 0, 90, 50])])).toEqual([]);
  });
});

describe('curves in many pieces', () => {
  const chords = (n: number, turn: number, layer = 'A') => {
    const out: object[] = [];
    let [x, y, a] = [0, 0, 0];
    for (let i = 0; i < n; i++) {
      const [u, v] = [x + 10 * Math.cos(a), y + 10 * Math.sin(a)];
      // Every other one drawn backwards.
      out.push(i % 2 ? line(u, v, x, y, layer) : line(x, y, u, v, layer));
      [x, y, a] = [u, v, a + (turn * Math.PI) / 180];
    }
    return out;
  };
  it('a run of lines that turn a little, told once with how many', () => {
    const [f, ...rest] = of('broken-curves', chords(12, 10));
    expect(rest).toEqual([]);
    expect(f!.ids.length).toBe(12);
    expect(f!.message).toContain('12 separate curves');
  });
  it('not so few, not around corners, not where three meet, not one polyline', () => {
    expect(of('broken-curves', chords(7, 10))).toEqual([]);
    expect(of('broken-curves', chords(12, 10), { from: 13 })).toEqual([]);
    expect(of('broken-curves', chords(12, 45))).toEqual([]);
    const tree = chords(12, 10) as { start: number[]; end: number[] }[];
    const joint = tree[6]!.start;
    expect(of('broken-curves', [...tree, line(joint[0]!, joint[1]!, 200, 300)])).toEqual([]);
  });
  it('a whole circle of lines is one run', () => {
    expect(of('broken-curves', chords(36, 10))[0]?.ids.length).toBe(36);
  });
});

describe('out of sight', () => {
  const hidden = () =>
    read(
      dxf(
        [
          0,
          'LINE',
          8,
          'NOTES',
          10,
          1,
          20,
          2,
          30,
          0,
          11,
          9,
          21,
          2,
          31,
          0,
          0,
          'LINE',
          8,
          'CUT',
          10,
          0,
          20,
          0,
          30,
          0,
          11,
          9,
          21,
          0,
          31,
          0,
        ],
        {
          units: 4,
          layers: [
            0,
            'LAYER',
            2,
            'NOTES',
            70,
            0,
            62,
            -3,
            6,
            'CONTINUOUS',
            0,
            'LAYER',
            2,
            'CUT',
            70,
            0,
            62,
            1,
            6,
            'CONTINUOUS',
            0,
            'LAYER',
            2,
            'EMPTY',
            70,
            1,
            62,
            1,
            6,
            'CONTINUOUS',
          ],
        },
      ),
    );
  it('a layer that is off and holds something; one that is frozen and empty is no finding', () => {
    expect(run('hidden-content', hidden()).map((f) => f.message)).toEqual([
      'The layer “NOTES” is off and holds 1 object',
    ]);
  });
  it('nothing once the visible alone was taken in', () => {
    expect(run('hidden-content', takeIn(hidden(), NO_DECISIONS).drawing)).toEqual([]);
  });
});

describe('decimals', () => {
  it('coordinates a hair off a round value', () => {
    const [f] = of('long-decimals', [line(0, 0, 99.9999987, 50), line(99.9999987, 50, 20.0000003, 10.0000004)]);
    expect(f!.message).toBe('4 of 8 coordinates miss a round value by a hair, such as 99.9999987 instead of 100');
  });
  it('not round ones, not those that are meant to be odd, nor a single one', () => {
    expect(of('long-decimals', [line(0, 0, 100, 50.01), line(12.34, 50, 20, 1e5)])).toEqual([]);
    expect(
      of('long-decimals', [
        line(0.123456, 7.654321, 33.3333333, 66.6666667),
        line(Math.PI, Math.E, Math.SQRT2, 1.7320508),
      ]),
    ).toEqual([]);
    expect(of('long-decimals', [line(0, 0, 99.9999987, 50)])).toEqual([]);
  });
});

describe('unit', () => {
  it('none at all, and pixels that nobody has given a size', () => {
    expect(run('unit', { ...drawingOf([line(0, 0, 9, 9)] as never), unit: null })).toMatchObject([
      { severity: 'error' },
    ]);
    expect(run('unit', read(svg('<path d="M0 0h9"/>', 'width="90" height="90"'), 'x.svg'))).toMatchObject([
      { severity: 'error' },
    ]);
  });
  it('a size that is hard to believe', () => {
    const sized = (unit: 'm' | 'mm', size: number) =>
      run('unit', { ...drawingOf([line(0, 0, size, 0)] as never), unit: { unit, factor: 1 } });
    expect(sized('m', 45_000)[0]!.message).toBe('In m the drawing is 45 km across');
    expect(sized('mm', 0.4)[0]!.message).toBe('In mm the drawing is only 0.4 mm across');
    expect(sized('mm', 45_000)).toEqual([]);
  });
  it('dimensions that speak of another unit than the header', () => {
    const d = drawingOf([
      {
        kind: 'dimension',
        form: 'aligned',
        points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [4, 0, 0] },
        override: '4 in',
        style: 'Standard',
        ...PLAIN_DIMENSION,
        flags: 32,
      },
      {
        kind: 'dimension',
        form: 'aligned',
        points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [7, 0, 0] },
        override: '7 in',
        style: 'Standard',
        ...PLAIN_DIMENSION,
        flags: 32,
      },
    ] as never);
    // One kind of reason alone contests nothing, however often it is found.
    expect(run('unit', { ...d, unit: { unit: 'mm', factor: 1 } })).toEqual([]);
    d.header.set('$LUNITS', [[70, '4']]);
    expect(run('unit', { ...d, unit: { unit: 'mm', factor: 1 } })[0]!.message).toMatch(
      /^The drawing is in mm, but the evidence is for in: dimensions say 4 in .*; lengths are displayed in feet and inches/,
    );
    expect(run('unit', { ...d, unit: { unit: 'in', factor: 1 } })).toEqual([]);
  });
});

describe('letters', () => {
  const text = (words: string, extra: object = {}) => ({
    kind: 'text',
    text: words,
    at: [10, 10, 0],
    size: 5,
    sizeOf: 'capital',
    ...PLAIN_TEXT,
    layer: 'A',
    ...extra,
  });
  it('a font that is not at hand, and a character that none has', () => {
    const d = drawingOf([
      text('Kestrel Row \u{1FB00}', { font: { family: 'Elder Grotesk', weight: 400, italic: false } }),
    ] as never);
    const found = run('missing-letters', d);
    expect(found.map((f) => f.severity).sort()).toEqual(['error', 'warning']);
    expect(found.find((f) => f.severity === 'error')!.message).toContain('U+1FB00');
    expect(found.find((f) => f.severity === 'warning')!.message).toContain('“Elder Grotesk” is missing (1 text)');
  });
  it('not a font that is', () => {
    const own = { family: 'Spline Sans', weight: 400, italic: false };
    expect(of('missing-letters', [text('Kestrel Row', { font: own })])).toEqual([]);
  });
  it('a label wider than the outline it stands in, by how much, at any turn', () => {
    const box = ring([0, 0, 40, 0, 40, 30, 0, 30]);
    const [f] = of('text-over-outline', [box, text('Bicycle store')]);
    expect(f).toMatchObject({ ids: [2, 1] });
    const tall = ring([0, 0, 30, 0, 30, 40, 0, 40]);
    const [g] = of('text-over-outline', [tall, text('Bicycle store', { rotation: Math.PI / 2, at: [20, 10, 0] })]);
    expect(g!.size).toBeCloseTo(f!.size!, 6);
  });
  it('not one that fits, nor one that stands in nothing, nor one whose middle lies outside', () => {
    const box = ring([0, 0, 90, 0, 90, 30, 0, 30]);
    expect(of('text-over-outline', [box, text('Bicycle store')])).toEqual([]);
    expect(of('text-over-outline', [text('Bicycle store')])).toEqual([]);
    expect(of('text-over-outline', [ring([0, 0, 12, 0, 12, 30, 0, 30]), text('Bicycle store')])).toEqual([]);
  });
});

describe('stacked shapes', () => {
  const fill = { look: { ...DRAFTING_DEFAULT, fill: { kind: 'rgb', rgb: 0x336699 } } } as Partial<Entity>;
  const stacked = (list: object[]) => {
    const d = drawingOf(list as never);
    return run('stacked-shapes', { ...d, entities: d.entities.map((e) => ({ ...e, ...fill }) as Entity) });
  };
  const base = ring([0, 0, 90, 0, 90, 90, 0, 90]);
  it('two on a third, told for the one below', () => {
    const found = stacked([base, ring([10, 10, 20, 10, 20, 20, 10, 20]), ring([80, 80, 120, 80, 120, 120, 80, 120])]);
    expect(found).toMatchObject([{ ids: [1, 2, 3] }]);
  });
  it('two that cross without a corner of one in the other', () => {
    expect(stacked([ring([0, 40, 90, 40, 90, 50, 0, 50]), ring([40, 0, 50, 0, 50, 90, 40, 90])]).length).toBe(1);
  });
  it('not neighbours, not at another height, not without a fill', () => {
    expect(stacked([base, ring([90, 0, 120, 0, 120, 90, 90, 90])])).toEqual([]);
    expect(stacked([base, ring([10, 10, 20, 10, 20, 20, 10, 20], { elevation: 5 })])).toEqual([]);
    expect(of('stacked-shapes', [base, ring([10, 10, 20, 10, 20, 20, 10, 20])])).toEqual([]);
  });
});

it('more findings than are listed are counted', () => {
  const points = Array.from({ length: MOST_FINDINGS + 7 }, (_, i) => line(i, i % 13, i, i % 13));
  const found = of('without-length', [frame, ...points]);
  expect(found.length).toBe(MOST_FINDINGS + 1);
  expect(found[MOST_FINDINGS]).toMatchObject({ more: 7, message: '… and 7 more of them' });
});

describe('blocks', () => {
  const nest = (depth: number) => {
    const insert = (block: string) => ({
      id: 0,
      kind: 'insert',
      block,
      at: [0, 0, 0],
      scale: [1, 1, 1],
      rotation: 0,
      rows: 1,
      columns: 1,
      rowSpacing: 0,
      columnSpacing: 0,
      attributes: [],
      layer: '0',
      look: DRAFTING_DEFAULT,
    });
    const d = drawingOf([insert('B0')] as never);
    for (let i = 0; i < depth; i++) {
      const inner = i + 1 < depth ? insert(`B${i + 1}`) : { ...line(0, 0, 5, 5, '0'), id: 0, look: DRAFTING_DEFAULT };
      d.blocks.set(`b${i}`, { name: `B${i}`, base: [0, 0, 0], entities: [{ ...inner, id: 100 + i } as never] });
    }
    return run('uneven-inserts', d).map((f) => f.message);
  };
  it('nested deeper than the limit are told, once for the nest', () => {
    expect(nest(5)).toEqual(['“B0” nests blocks 5 deep']);
    expect(nest(4)).toEqual([]);
  });
});
