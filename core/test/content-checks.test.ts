import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../src/index.js';
import { DRAFTING_DEFAULT, PathBuilder, runChecks } from '../src/index.js';
import { demoFile, drawingOf, read, svg } from './helpers.js';
import { PLAIN_TEXT } from './sketches.js';

const found = (check: string, d: Drawing, settings: Record<string, Record<string, number | string>> = {}) =>
  runChecks(d, settings).filter((f) => f.check === check);
const of = (check: string, entities: object[], settings: Record<string, Record<string, number | string>> = {}) =>
  found(check, drawingOf(entities as never), settings);
const line = (x0: number, y0: number, x1: number, y1: number, z = 0) => ({
  kind: 'line',
  start: [x0, y0, z],
  end: [x1, y1, z],
  layer: 'A',
});
const ring = (p: number[], closed = true) => ({
  kind: 'polyline',
  points: Float64Array.from(p),
  dim: 2,
  elevation: 0,
  closed,
  layer: 'A',
});
const rows = (n: number) => Array.from({ length: n }, (_, i) => line(i, 0, i + 1, 50));
const painted = (rgb: number, more: object = {}) => ({
  ...line(0, 0, 9, rgb % 7),
  look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb }, ...more },
});

describe('stray objects', () => {
  it('one point far away, told with how far', () => {
    const list = [...rows(60), { kind: 'point', at: [5000, 25, 0], layer: 'A' }];
    expect(of('strays', list)).toMatchObject([{ ids: [61], at: { x: 5000, y: 25 }, layer: 'A' }]);
    expect(of('strays', list)[0]!.message).toMatch(/^A point lies 49\d\d mm away from all the rest$/);
  });
  it('not one a little outside, not half of the drawing, not what is far by its setting only', () => {
    expect(of('strays', [...rows(60), line(90, 0, 95, 0)])).toEqual([]);
    expect(
      of('strays', [...rows(20), ...rows(20).map((l) => ({ ...l, start: [5000, 0, 0], end: [5001, 0, 0] }))]),
    ).toEqual([]);
    expect(of('strays', [...rows(60), line(300, 0, 301, 0)], { strays: { times: 10 } })).toEqual([]);
  });
});

describe('off the plane', () => {
  it('a line that rises, and by how much', () => {
    const rising = { kind: 'line', start: [0, 0, 0], end: [30, 40, 12], layer: 'A' };
    expect(of('off-plane', [rising, line(0, 0, 9, 9)])).toMatchObject([
      { message: 'A line rises by 12 mm', size: 12, ids: [1] },
    ]);
  });
  it('a circle on edge rises by its diameter', () => {
    const onEdge = { kind: 'circle', centre: [0, 0, 0], radius: 5, normal: [1, 0, 0], layer: 'A' };
    expect(of('off-plane', [onEdge])).toMatchObject([{ size: 10 }]);
  });
  it('flat curves on another level than most', () => {
    expect(of('off-plane', [line(0, 0, 9, 9), line(0, 5, 9, 5), line(0, 0, 9, 0, 3)]).map((f) => f.message)).toEqual([
      '1 flat curve lies on another level than most, up to 3 mm away',
    ]);
  });
  it('not a drawing that is flat at one height, nor one within its limit', () => {
    expect(of('off-plane', [line(0, 0, 9, 9, 7), line(0, 5, 9, 5, 7)])).toEqual([]);
    expect(of('off-plane', [line(0, 0, 9, 9), line(0, 0, 9, 0, 0.4)], { 'off-plane': { within: 1 } })).toEqual([]);
  });
});

describe('outlines that cross themselves', () => {
  it('a bow tie, at its knot', () => {
    expect(of('self-crossing', [ring([0, 0, 10, 10, 10, 0, 0, 10])])).toMatchObject([{ at: { x: 5, y: 5 }, ids: [1] }]);
  });
  it('a path of curves that crosses itself', () => {
    const path = new PathBuilder().moveTo(0, 0).cubicTo(30, 20, -20, 20, 10, 0).close().build();
    expect(of('self-crossing', [{ kind: 'path', path, fillRule: 'nonzero', layer: 'A' }]).length).toBe(1);
  });
  it('not a square, not one that touches itself in a corner, not an open line that crosses', () => {
    expect(of('self-crossing', [ring([0, 0, 10, 0, 10, 10, 0, 10])])).toEqual([]);
    expect(of('self-crossing', [ring([0, 0, 5, 5, 10, 0, 10, 10, 5, 5, 0, 10])])).toEqual([]);
    expect(of('self-crossing', [ring([0, 0, 10, 10, 10, 0, 0, 10], false)])).toEqual([]);
  });
});

describe('too many points', () => {
  const wave = (n: number) =>
    ring(
      Array.from({ length: 2 * n }, (_, i) => (i % 2 ? Math.sin(i) : i)),
      false,
    );
  it('outlines above the limit, those with most first', () => {
    expect(of('many-nodes', [wave(299), wave(300), wave(900)]).map((f) => f.message)).toEqual([
      'A polyline has 900 points',
      'A polyline has 300 points',
    ]);
    expect(of('many-nodes', [wave(900)], { 'many-nodes': { from: 1000 } })).toEqual([]);
  });
});

describe('empty texts', () => {
  const text = (t: string, more: object = {}) => ({
    kind: 'text',
    text: t,
    at: [3, 4, 0],
    size: 2.5,
    sizeOf: 'capital',
    ...PLAIN_TEXT,
    style: 'Standard',
    layer: 'A',
    ...more,
  });
  it('without characters, of blanks, of what is never seen', () => {
    expect(of('empty-text', [text(''), text(' \t'), text('\u200b')]).map((f) => f.ids)).toEqual([[1], [2], [3]]);
  });
  it('not a full stop, not an attribute that waits for its value', () => {
    expect(of('empty-text', [text('.'), text('', { tag: 'NO', hidden: false })])).toEqual([]);
  });
});

describe('colours too alike', () => {
  it('two that differ by a digit, the rarer one told', () => {
    const list = [painted(0xff0000), painted(0xff0000), painted(0xfe0000)];
    expect(of('similar-colours', list).map((f) => f.message)).toEqual([
      '#fe0000 (1) can hardly be told from #ff0000 (2)',
    ]);
  });
  it('not two that are seen apart, unless the limit says so', () => {
    const list = [painted(0xff0000), painted(0xf00000)];
    expect(of('similar-colours', list)).toEqual([]);
    expect(of('similar-colours', list, { 'similar-colours': { within: 10 } }).length).toBe(1);
  });
});

describe('gradients, patterns, effects', () => {
  it('of an illustration are named before they are lost', () => {
    const d = read(
      svg(
        '<defs><linearGradient id="g"><stop stop-color="red"/><stop offset="1"/></linearGradient></defs><rect width="9" height="9" fill="url(#g)"/><rect x="20" width="9" height="9" fill-opacity=".5"/>',
      ),
      'a.svg',
    );
    expect(
      found('special-paints', d)
        .map((f) => f.message)
        .sort(),
    ).toEqual(['1 object seen through', '1 object with a gradient']);
  });
  it('plain paints are no finding', () => {
    expect(found('special-paints', read(svg('<rect width="9" height="9" fill="red"/>'), 'a.svg'))).toEqual([]);
  });
});

describe('pictures, references, objects of others', () => {
  it('the street that did not come along with the site plan', () => {
    const d = read(demoFile('kestrel-row-site-plan.dwg'), 'plan.dwg');
    expect(found('missing-files', d).map((f) => f.message)).toEqual([
      'The reference drawing “kestrel-row-street.dwg” is missing',
    ]);
  });
  it('a picture by its path, once for all its places; one that is in the file is none', () => {
    const picture = {
      kind: 'image',
      cover: false,
      at: [0, 0, 0],
      u: [1, 0, 0],
      v: [0, 1, 0],
      pixels: [4, 4],
      file: 'C:\\scans\\sketch.png',
      layer: 'A',
    };
    expect(of('missing-files', [picture, picture])).toMatchObject([
      { message: 'A picture “sketch.png” is not in the file', ids: [1, 2] },
    ]);
    expect(of('missing-files', [{ ...picture, data: 'data:image/png;base64,AA==' }])).toEqual([]);
    expect(of('missing-files', [{ ...picture, cover: true }])).toEqual([]);
  });
  it('what is carried unread, by kind', () => {
    const body = (drawn: boolean) => ({
      kind: 'opaque',
      format: 'dxf',
      type: 'REGION',
      raw: '',
      layer: 'A',
      ...(drawn && { drawn: [{ ...line(0, 0, 1, 1), id: 99, look: DRAFTING_DEFAULT }] }),
    });
    expect(of('unread-objects', [body(false), body(true)])).toMatchObject([{ severity: 'warning', ids: [1, 2] }]);
    expect(of('unread-objects', [body(true)])).toMatchObject([{ severity: 'note' }]);
    expect(of('unread-objects', [line(0, 0, 1, 1)])).toEqual([]);
  });
});

describe('nothing but sheets', () => {
  it('objects on a sheet and none in model space', () => {
    expect(of('paper-only', [{ ...line(0, 0, 9, 9), sheet: 'A3' }])).toMatchObject([
      { severity: 'error', message: 'Model space is empty; 1 object lies on A3' },
    ]);
  });
  it('not with anything in model space, not an empty drawing, not a sheet of windows alone', () => {
    expect(of('paper-only', [{ ...line(0, 0, 9, 9), sheet: 'A3' }, line(0, 0, 1, 1)])).toEqual([]);
    expect(of('paper-only', [])).toEqual([]);
  });
});

describe('open outlines', () => {
  it('rails side by side and spokes of a wheel are meant to lie apart; a gap in a line, and in a corner, is not', () => {
    expect(of('open-outlines', [line(0, 0, 1000, 0), line(0, 7, 1000, 7)])).toEqual([]);
    const spokes = [0, 1, 2, 3, 4, 5].map((k) =>
      line(3 * Math.cos(k), 3 * Math.sin(k), 9 * Math.cos(k), 9 * Math.sin(k)),
    );
    expect(of('open-outlines', [...spokes, line(-500, -500, -500, 500)])).toEqual([]);
    expect(of('open-outlines', [line(0, 0, 500, 0), line(503, 0, 1000, 0)])).toMatchObject([{ size: 3 }]);
    expect(of('open-outlines', [line(0, 0, 500, 0), line(503, 4, 503, 500)])).toMatchObject([{ size: 5 }]);
  });
});

it('the pieces of a fill pattern are no outlines of the drawing', () => {
  const d = read(
    svg(
      '<pattern id="p" width="10" height="10" patternUnits="userSpaceOnUse"><path d="M1 1L9 1L9 9L1 9L1 1.4" fill="none" stroke="#000"/></pattern><path d="M0 0H60V60H0Z" fill="url(#p)" stroke="#000"/>',
    ),
    'x.svg',
  );
  expect(d.entities.filter((e) => e.tile).length).toBeGreaterThan(10);
  expect(runChecks(d).filter((f) => f.check === 'open-outlines' || f.check === 'doubles')).toEqual([]);
  const bare: Drawing = { ...d, entities: d.entities.map(({ tile: _t, ...e }) => e as Entity) };
  expect(runChecks(bare).some((f) => f.check === 'open-outlines')).toBe(true);
});
