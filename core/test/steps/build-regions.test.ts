import { describe, expect, it } from 'vitest';
import type { Drawing, Kept, Polyline } from '../../src/index.js';
import { DRAFTING_DEFAULT, newLayer } from '../../src/index.js';
import { arc, box, circle, drawn, line, placed, stepOn, text } from './judge.js';

const three = (): Drawing => drawn(box(0, 0, 100, 40), box(0, 40.003, 50, 39.997), box(50, 40, 50, 40));
const build = (d: Drawing, params: Kept = {}) => stepOn(d, 'build-regions', { within: 0.01, ...params });
const rows = (made: ReturnType<typeof build>) => made.lists[0]!.rows;

describe('build regions', () => {
  it('three neighbours share their points bit for bit, and the list says areas, points and neighbours', () => {
    const made = build(three());
    expect(made.against).toEqual([]);
    const points = made.entities.map((e) => {
      const p = (e as Polyline).points;
      return Array.from({ length: p.length / 2 }, (_, i) => `${p[2 * i]},${p[2 * i + 1]}`);
    });
    expect(points.map((p) => p.length)).toEqual([5, 4, 4]);
    expect(points[0]).toEqual(expect.arrayContaining(['0,40', '50,40', '100,40']));
    expect(points[1]).toEqual(expect.arrayContaining(['0,40', '50,40']));
    expect(rows(made)).toEqual([
      ['Region 1', 4000, 280, 5, 'Region 2, Region 3'],
      ['Region 2', 2000, 180, 4, 'Region 1, Region 3'],
      ['Region 3', 2000, 180, 4, 'Region 1, Region 2'],
    ]);
    expect(made.row('regions-built')).toMatchObject({ count: 2, deviation: { value: 0.003, unit: 'mm' } });
  });
  it('twice is once, and outlines that need nothing stay the very same', () => {
    const before = three();
    const once = build(before).drawing;
    expect(build(once).drawing).toBe(once);
    // The third has its points already.
    expect(once.entities[2]).toBe(before.entities[2]);
    const alone = drawn(circle(0, 0, 5), box(20, 0, 10, 10));
    expect(build(alone).drawing).toBe(alone);
  });
  it('what an overlap goes to; given up edges are told, and the proof does not miss them', () => {
    const two = drawn(box(0, 0, 10, 10), box(6, 6, 8, 8));
    const made = build(two);
    expect(rows(made).map((r) => r[1])).toEqual([84, 64]);
    expect(made.row('edges-given-up')).toMatchObject({ action: 'dropped', onPurpose: true, count: 2 });
    expect(made.row('areas-in-several-outlines')).toMatchObject({ action: 'changed', count: 1 });
    expect(made.against).toEqual([]);
    expect(rows(build(two, { overlaps: 'lower' })).map((r) => r[1])).toEqual([100, 48]);
    expect(
      rows(build(two, { overlaps: 'apart' }))
        .map((r) => r[1])
        .sort(),
    ).toEqual([16, 48, 84]);
  });
  it('loose lines and arcs hold regions; what dangles stays as a line, on its layer', () => {
    const made = build(
      drawn(line(0, 0, 20, 0), line(20, 0, 20, 10, { layer: 'B' }), arc(10, 10, 10, 0, 180), line(0, 10, 0, -4)),
    );
    // 20 × 10 and half a disc of radius 10.
    expect(rows(made)).toHaveLength(1);
    expect(rows(made)[0]![1]).toBeCloseTo(200 + 50 * Math.PI, 6);
    expect(made.entities.filter((e) => e.kind === 'line')).toMatchObject([{ start: [0, 0, 0], end: [0, -4, 0] }]);
    expect(made.against).toEqual([]);
    expect(build(made.drawing).drawing).toBe(made.drawing);
  });
  it('names by the text inside, by layer, by colour, by number; each in a group of its name', () => {
    const d = drawn(box(0, 0, 10, 10), box(10, 0, 10, 10), text('Bay 1', 3, 3), text('Bay 1', 13, 3));
    const made = build(d, { names: 'text' });
    expect(rows(made).map((r) => r[0])).toEqual(['Bay 1', 'Bay 1-2']);
    expect(made.drawing.nodes.map((n) => n.name)).toEqual(['Bay 1', 'Bay 1-2']);
    expect(made.entities.slice(0, 2).map((e) => e.node)).toEqual([0, 1]);
    expect(build(made.drawing, { names: 'text' }).drawing).toBe(made.drawing);
    expect(rows(build(d, { names: 'layer' })).map((r) => r[0])).toEqual(['A', 'A-2']);
    expect(rows(build(d, { names: 'number' })).map((r) => r[0])).toEqual(['Region 1', 'Region 2']);
    const red = { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb: 0xff0000 } };
    expect(rows(build(drawn(box(0, 0, 10, 10, { look: red })), { names: 'colour' })).map((r) => r[0])).toEqual([
      '#ff0000',
    ]);
  });
  it('in blocks at the size they are placed at, each size for itself', () => {
    const d = placed(
      [box(0, 0, 10, 10), box(10.05, 0, 10, 10)],
      [{ at: [0, 0] }, { at: [100, 0], scale: [0.1, 0.1, 0.1] }],
    );
    // 0.05 is within 0.1 at full size, and 0.005 at a tenth of it.
    const made = build(d, { within: 0.1 });
    expect(made.against).toEqual([]);
    expect(rows(made).map((r) => r[1])).toEqual([100, 100.5, 1, 1.005]);
  });
  it('with holes they are paths, looks and layers of their own outline', () => {
    const d = { ...drawn(box(0, 0, 100, 100), circle(50, 50, 20, { layer: 'HOLES' })) };
    const made = build({ ...d, layers: [...d.layers, newLayer('HOLES')] } as Drawing, { inner: 'holes' });
    expect(made.entities).toHaveLength(1);
    expect(made.entities[0]).toMatchObject({ kind: 'path', layer: 'A' });
    expect(rows(made)[0]![1]).toBeCloseTo(10000 - 400 * Math.PI, 5);
    expect(made.against).toEqual([]);
  });
});
