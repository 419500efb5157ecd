import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../src/index.js';
import { IDENTITY, compareDrawings, transformDrawing, translation } from '../src/index.js';
import { generatedDrawing, richEntity } from './generated.js';
import { DEMO, demoFile, drawingOf, read } from './helpers.js';
import { PLAIN_TEXT } from './sketches.js';

const line = (x0: number, y0: number, x1: number, y1: number, extra: object = {}) => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
  layer: 'A',
  ...extra,
});
const circle = (x: number, y: number, radius: number, extra: object = {}) => ({
  kind: 'circle',
  centre: [x, y, 0],
  radius,
  layer: 'A',
  ...extra,
});
const text = (words: string, x: number, y: number, extra: object = {}) => ({
  kind: 'text',
  text: words,
  at: [x, y, 0],
  size: 5,
  sizeOf: 'capital',
  ...PLAIN_TEXT,
  layer: 'A',
  ...extra,
});
const compare = (before: object[], after: object[], within?: number) =>
  compareDrawings(drawingOf(before as never), drawingOf(after as never), within);
const said = (before: object[], after: object[]) =>
  compare(before, after).differences.map((d) => `${d.what}: ${d.words}`);

describe('two revisions', () => {
  it('of the same drawing are the same, in every demo file', () => {
    for (const name of DEMO.filter((n) => n.endsWith('.dxf'))) {
      const c = compareDrawings(read(demoFile(name)), read(demoFile(name)));
      expect(c.differences).toEqual([]);
      expect(c.same).toBe(read(demoFile(name)).entities.filter((e) => e.sheet === undefined).length);
      expect(c.layers).toEqual({ added: [], gone: [] });
    }
  });

  it('what is new, gone, moved and changed', () => {
    const before = [line(0, 0, 100, 0), circle(20, 20, 5), circle(50, 20, 8), text('Store', 5, 40, { key: 'T1' })];
    const after = [
      line(0, 0, 100, 0),
      circle(20, 30, 5),
      circle(60, 70, 9),
      text('Bicycle store', 5, 40, { key: 'T1' }),
    ];
    const { same, differences } = compare(before, after);
    expect(same).toBe(1);
    expect(differences.map((d) => [d.what, d.words, d.before, d.after])).toEqual([
      ['changed', '“Store” is now “Bicycle store”', [4], [4]],
      ['moved', 'moved by 0, 10', [2], [2]],
      ['new', 'new', [], [3]],
      ['gone', 'gone', [3], []],
    ]);
    expect(differences[3]!.at).toEqual({ x: 50, y: 20 });
  });

  it('a line drawn the other way, another order, and noise below the limit are no difference', () => {
    expect(compare([line(0, 0, 100, 0), circle(9, 9, 3)], [circle(9 + 1e-9, 9, 3), line(100, 0, 0, 0)])).toMatchObject({
      same: 2,
      differences: [],
    });
    expect(compare([circle(9, 9, 3)], [circle(9.004, 9, 3)], 0.01).differences).toEqual([]);
    expect(compare([circle(9, 9, 3)], [circle(9.004, 9, 3)], 0.001).differences.length).toBe(1);
  });

  it('another layer or another look in the same place', () => {
    expect(said([line(0, 0, 9, 0)], [line(0, 0, 9, 0, { layer: 'B' })])).toEqual(['changed: layer “A” is now “B”']);
    const red = drawingOf([line(0, 0, 9, 0)] as never);
    const look = { ...red.entities[0]!.look, stroke: { kind: 'rgb' as const, rgb: 0xff0000 } };
    const after: Drawing = { ...red, entities: red.entities.map((e) => ({ ...e, look }) as Entity) };
    expect(compareDrawings(red, after).differences[0]!.words).toBe('colour, width or dashes');
  });

  it('what moved together is told once; a handle given anew to something far away is not followed', () => {
    const two = [line(0, 0, 30, 0), line(0, 0, 0, 40)];
    const moved = [line(7, 3, 37, 3), line(7, 3, 7, 43)];
    expect(said([...two, circle(0, 0, 1)], [...moved, circle(0, 0, 1)])).toEqual(['moved: 2 objects moved by 7, 3']);
    expect(said([circle(0, 0, 5, { key: 'A1' })], [circle(900, 0, 6, { key: 'A1' })])).toEqual([
      'new: new',
      'gone: gone',
    ]);
  });

  it('an insert whose block was redrawn', () => {
    const insert = {
      kind: 'insert',
      block: 'DOOR',
      at: [5, 5, 0],
      scale: [1, 1, 1],
      rotation: 0,
      rows: 1,
      columns: 1,
      rowSpacing: 0,
      columnSpacing: 0,
      attributes: [],
      layer: 'A',
      key: 'I1',
    };
    const made = (length: number): Drawing => {
      const d = drawingOf([insert] as never);
      d.blocks.set('door', {
        name: 'DOOR',
        base: [0, 0, 0],
        entities: drawingOf([line(0, 0, length, 0)] as never).entities,
      });
      return d;
    };
    expect(compareDrawings(made(10), made(10)).differences).toEqual([]);
    expect(compareDrawings(made(10), made(11)).differences.map((d) => d.words)).toEqual([
      'its block or attributes were redrawn',
    ]);
  });

  it('layers that came and went, in whatever capitals', () => {
    const layered = (...names: string[]) => ({ ...drawingOf([]), layers: names.map((name) => ({ name }) as never) });
    expect(compareDrawings(layered('Cut', 'Old'), layered('CUT', 'New')).layers).toEqual({
      added: ['New'],
      gone: ['Old'],
    });
  });
});

const generated = fc.array(richEntity, { maxLength: 12 }).map((list) => generatedDrawing(list));

describe('laws, on drawings of every kind of entity', () => {
  it('a drawing is the same as itself, and every difference is told from both sides', () => {
    fc.assert(
      fc.property(generated, generated, (a, b) => {
        const own = compareDrawings(a, a);
        expect(own.differences).toEqual([]);
        const model = (d: Drawing): number => d.entities.filter((e) => e.sheet === undefined).length;
        const c = compareDrawings(a, b);
        const count = (side: 'before' | 'after'): number => c.differences.reduce((n, d) => n + d[side].length, 0);
        expect(c.same + count('before')).toBe(model(a));
        expect(c.same + count('after')).toBe(model(b));
      }),
      { numRuns: 60 },
    );
  });
  it('moved as a whole, nothing is new and nothing gone', () => {
    const d = read(demoFile('kestrel-row-mullion.dxf'));
    const c = compareDrawings(d, transformDrawing(d, translation(0.5, -0.25, 0)));
    expect(c.differences.map((x) => [x.what, x.words])).toEqual([
      ['moved', `${d.entities.length} objects moved by 0.5, -0.25`],
    ]);
    expect(compareDrawings(d, transformDrawing(d, IDENTITY)).same).toBe(d.entities.length);
  });
});
