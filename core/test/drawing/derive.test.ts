import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { DRAFTING_DEFAULT, newLayer, plannedStep, runSteps, stepById } from '../../src/index.js';
import { breakUp, mapped } from '../../src/drawing/break-up.js';
import { derive } from '../../src/drawing/derive.js';
import { drawingOf, fonts, hop, only, read, svg } from '../helpers.js';
import { ONCE, PLAIN_TEXT } from '../sketches.js';

const CARRIED = {
  id: 7,
  key: '2F',
  layer: 'ROOF',
  look: DRAFTING_DEFAULT,
  node: 3,
  normal: [0, 1, 0],
  sheet: 'A1',
  thickness: 4,
  extended: '1001\nACAD\n',
  clipTo: { shapes: [] },
  tile: true,
  classes: 'glass',
  rest: '100\nAcDbLine\n999\nx\n',
} as const;
const from = { ...CARRIED, kind: 'line', start: [0, 0, 0], end: [1, 0, 0] } as Entity;

describe('an entity that comes of another', () => {
  it('as a whole has all it had but the tags of its record', () => {
    const { rest: _r, ...all } = CARRIED;
    const made = derive(from, 'whole', { kind: 'point', at: [1, 2, 3] });
    expect(made).toEqual({ ...all, kind: 'point', at: [1, 2, 3] });
  });
  it('as one of several leaves behind what can belong to one only', () => {
    const { rest: _r, key: _k, extended: _e, ...shared } = CARRIED;
    expect(derive(from, 'piece', { kind: 'point', at: [0, 0, 0], id: 8 })).toEqual({
      ...shared,
      id: 8,
      kind: 'point',
      at: [0, 0, 0],
    });
  });
  it('what is stated counts, and what is stated as nothing is gone, not there and undefined', () => {
    const made = derive(from, 'whole', {
      kind: 'point',
      at: [0, 0, 0],
      layer: 'B',
      normal: undefined,
      sheet: undefined,
    });
    expect(made.layer).toBe('B');
    expect(Object.keys(made)).not.toContain('normal');
    expect(Object.keys(made)).not.toContain('sheet');
  });
});

describe('what steps make of an entity keeps what it carried', () => {
  const carried = { extended: '1001\nACAD\n1000\nrow 7\n', classes: 'glass', key: '2F', thickness: 3 };
  const of = (e: object): Drawing => drawingOf([{ ...carried, ...e } as never]);
  const run = (d: Drawing, step: string, params = {}): Drawing =>
    runSteps(d, [plannedStep(stepById(step)!, 's', params)], { fonts: fonts() }).drawing;

  it('a circle recovered from chords', () => {
    const points = Float64Array.from(
      { length: 128 },
      (_, i) => 50 * (i % 2 ? Math.sin : Math.cos)(((i >> 1) * Math.PI) / 32),
    );
    const d = of({ kind: 'polyline', points, dim: 2, elevation: 5, closed: true });
    expect(only(run(d, 'recover-circles', { tolerance: 10 }), 'circle')).toMatchObject(carried);
  });
  it('the first outline of a text; the others share its classes', () => {
    const d = of({
      kind: 'text',
      text: 'K R',
      at: [0, 0, 0],
      size: 5,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
      font: { family: 'Spline Sans' },
    });
    const [first] = run(d, 'text-to-outlines', { form: 'outlines' }).entities;
    expect(first).toMatchObject({ kind: 'path', ...carried });
  });
});

describe('breaking up', () => {
  const insert = (scale: [number, number, number]) =>
    ({
      kind: 'insert',
      id: 1,
      layer: 'A',
      look: DRAFTING_DEFAULT,
      block: 'P',
      at: [0, 0, 0],
      scale,
      rotation: 0,
      ...ONCE,
    }) as const;
  const broken = (parts: object[], scale: [number, number, number]): Entity[] => {
    const d = drawingOf([]);
    d.layers = [newLayer('0'), newLayer('A')];
    const entities = parts.map((e, i) => ({ id: 10 + i, layer: 'A', look: DRAFTING_DEFAULT, ...e }) as Entity);
    d.blocks.set('p', { name: 'P', base: [0, 0, 0], entities });
    return breakUp(insert(scale) as never, d);
  };
  const circle = { kind: 'circle', centre: [0, 0, 0], radius: 1, thickness: 5 };
  const line = { kind: 'line', start: [0, 0, 0], end: [1, 0, 0], thickness: 5 };

  it('what is drawn out is drawn out as far as the insert is high', () => {
    const [c, l] = broken([circle, line], [2, 2, 3]);
    expect([c!.thickness, l!.thickness]).toEqual([15, 15]);
    const [across] = broken([{ ...line, normal: [0, 1, 0] }], [2, 4, 3]);
    expect(across).toMatchObject({ thickness: 20, normal: [0, 1, 0] });
  });
  it('upside down it is drawn out the other way', () => {
    // The plane is seen from the same side as before, mirrored; the height runs against its normal.
    const [c] = broken([circle], [2, 2, -3]);
    const height = (c!.thickness ?? 0) * (c!.normal?.[2] ?? 1);
    expect(height).toBe(-15);
  });
  it('a polyline whose arcs become curves keeps its group, classes and plane', () => {
    const bulged = {
      kind: 'polyline',
      points: Float64Array.of(0, 0, 2, 0),
      bulges: Float64Array.of(1, 0),
      dim: 2,
      elevation: 1,
      closed: false,
      node: 2,
      classes: 'glass',
      extended: '1001\nA\n',
    };
    const [path] = broken([bulged], [2, 1, 1]);
    expect(path).toMatchObject({ kind: 'path', node: 2, classes: 'glass', extended: '1001\nA\n' });
  });
  it('a turned map takes the thickness of a line with it', () => {
    // x → y, y → z, z → x: what stood up along z now stands along x.
    const [turned] = mapped(
      { ...line, id: 1, layer: 'A', look: DRAFTING_DEFAULT } as never,
      [0, 2, 0, 0, 0, 2, 2, 0, 0, 0, 0, 0],
    );
    expect(turned).toMatchObject({ thickness: 10, normal: [1, 0, 0], end: [0, 2, 0] });
  });
});

it('the hatch that stands for a fill belongs to the group of its shape, as its outline does', () => {
  const body =
    '<g id="emblem"><g id="leaf"><path d="M10 10H40V30Z" fill="#336699" stroke="#000"/></g><path d="M0 0H9" stroke="#000"/></g><g id="other"/>';
  const art = read(svg(body));
  for (const format of ['dxf', 'dwg'] as const) {
    const { back } = hop(art, { format });
    const [group, ...more] = back.carried.objects.filter((o) => o.type === 'GROUP');
    expect(more, format).toEqual([]);
    const members = [...group!.raw.matchAll(/^\s*340\r?\n\s*(\w+)/gm)].map((m) => m[1]);
    const kinds = back.entities.filter((e) => members.includes(e.key)).map((e) => e.kind);
    expect(kinds.sort(), format).toEqual(['hatch', 'polyline']);
  }
});
