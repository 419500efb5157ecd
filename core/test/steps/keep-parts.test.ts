import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { refOf } from '../../src/index.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { box, circle, drawn, line, placed, stepOn, text } from './judge.js';

const PLATES = (): Drawing =>
  drawn(
    box(0, 0, 60, 40),
    circle(30, 20, 5),
    line(10, 5, 20, 5),
    text('P1', 5, 30),
    box(1_000_000, 0, 60, 40),
    circle(1_000_030, 20, 5),
    line(0, 500, 9, 500),
  );
const idsOf = (d: Drawing): number[] => d.entities.map((e) => e.id);
const pick = (d: Drawing, ...places: number[]): string[] => places.map((i) => refOf(d.entities[i]!, d));

describe('keep parts', () => {
  it('one stays with its hole, its mark and its label, where it was; all else goes, and the proof agrees', () => {
    const d = PLATES();
    const made = stepOn(d, 'keep-parts', { parts: pick(d, 0) });
    expect(idsOf(made.drawing)).toEqual([1, 2, 3, 4]);
    expect(boundsOf(made.drawing)).toMatchObject({ minX: 0, minY: 0, maxX: 60, maxY: 40 });
    expect(made.against).toEqual([]);
    expect(made.row('parts-kept')!.count).toBe(3);
    const far = stepOn(d, 'keep-parts', { parts: pick(d, 4) });
    expect(idsOf(far.drawing)).toEqual([5, 6]);
    expect(boundsOf(far.drawing)).toMatchObject({ minX: 1_000_000, maxX: 1_000_060 });
  });
  it('one is left out, and what belongs to no part stays', () => {
    const d = PLATES();
    const made = stepOn(d, 'keep-parts', { how: 'drop', parts: pick(d, 0) });
    expect(idsOf(made.drawing)).toEqual([5, 6, 7]);
    expect(made.against).toEqual([]);
  });
  it('of places of a block one stays; of a block that holds two parts, the one that was picked in it', () => {
    const d = placed([box(0, 0, 10, 10), circle(5, 5, 2)], [{ at: [0, 0] }, { at: [30, 0], scale: [2, 2, 2] }]);
    const one = stepOn(d, 'keep-parts', { parts: pick(d, 1) });
    expect(one.drawing.entities).toEqual([d.entities[1]]);
    expect(one.against).toEqual([]);
    const two = placed([box(0, 0, 10, 10), circle(5, 5, 2), box(20, 0, 10, 10)], [{ at: [100, 0], scale: [2, 2, 2] }]);
    const inner = [...two.blocks.values()][0]!.entities[2]!;
    const made = stepOn(two, 'keep-parts', { parts: [refOf(inner, two)] });
    expect(made.drawing.entities).toHaveLength(1);
    // The second box of the block begins at 20, twice as large from 100 on: 140 to 160.
    expect(boundsOf(made.drawing)).toMatchObject({ minX: 140, maxX: 160, minY: 0, maxY: 20 });
    expect(made.against).toEqual([]);
  });
  it('says no rather than write a wrong file: a part that is gone, or an outline of none', () => {
    const d = PLATES();
    const gone = refOf(box(7, 7, 3, 3) as never, d);
    expect(() => stepOn(d, 'keep-parts', { parts: [...pick(d, 0), gone] })).toThrow('1 of the 2 parts');
    expect(() => stepOn(d, 'keep-parts', { parts: pick(d, 6) })).toThrow('outline of no part');
    expect(stepOn(d, 'keep-parts', { parts: [] }).drawing).toBe(d);
  });
});
