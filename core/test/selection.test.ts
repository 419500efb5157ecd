import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, Selection } from '../src/index.js';
import {
  DRAFTING_DEFAULT,
  faultOf,
  newLayer,
  p,
  plannedStep,
  refOf,
  runSteps,
  stepById,
  valuesOf,
} from '../src/index.js';
import { lostPicks, selectedBy } from '../src/analysis/selection.js';
import { drawingOf } from './helpers.js';
import { ONCE } from './sketches.js';

const rule = (some: Partial<Selection>): Selection => ({ ...p.selection({ title: '' }).default, ...some });
const circle = (layer: string, more: object = {}): never =>
  ({ kind: 'circle', layer, centre: [0, 0, 0], radius: 1, ...more }) as never;
const line = (layer: string, more: object = {}): never =>
  ({ kind: 'line', layer, start: [0, 0, 0], end: [1, 0, 0], ...more }) as never;
const RED = { kind: 'rgb', rgb: 0xff0000 } as const;

/** Layer ROOF is red, POSTS blue; a block with a line on layer 0 stands on POSTS, and one thing lies on a sheet. */
function sample(): Drawing {
  const insert = {
    kind: 'insert',
    layer: 'POSTS',
    block: 'CLAMP',
    at: [0, 0, 0],
    scale: [1, 1, 1],
    rotation: 0,
    ...ONCE,
  } as never;
  const d = drawingOf([
    circle('ROOF'),
    line('ROOF', { look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb: 0x00ff00 } } }),
    line('POSTS'),
    insert,
    line('A-NOTES', { sheet: 'A1' }),
  ]);
  d.layers = [
    newLayer('0'),
    newLayer('ROOF', RED),
    newLayer('POSTS', { kind: 'rgb', rgb: 0x0000ff }),
    newLayer('A-NOTES'),
  ];
  const inner = {
    kind: 'line',
    id: 90,
    layer: '0',
    look: DRAFTING_DEFAULT,
    start: [0, 0, 0],
    end: [1, 1, 0],
  } as Entity;
  d.blocks.set('clamp', { name: 'CLAMP', base: [0, 0, 0], entities: [inner] });
  return d;
}

describe('a selection by rule', () => {
  const ids = (some: Partial<Selection>): number[] => {
    const d = sample();
    const all = [...d.entities, ...[...d.blocks.values()].flatMap((b) => b.entities)];
    return all.filter(selectedBy(rule(some), d)).map((e) => e.id);
  };
  it('without conditions is everything; every condition that is given must hold', () => {
    expect(ids({})).toEqual([1, 2, 3, 4, 5, 90]);
    expect(ids({ kinds: ['circle', 'insert'] })).toEqual([1, 4]);
    expect(ids({ layers: 'roof' })).toEqual([1, 2]);
    expect(ids({ layers: 'roof', kinds: ['line'] })).toEqual([2]);
    expect(ids({ layers: 'A-*, ROOF' })).toEqual([1, 2, 5]);
  });
  it('counts colours and layers as they are seen: by layer, and from layer 0 as the insert has it', () => {
    expect(ids({ stroke: '#FF0000' })).toEqual([1]);
    expect(ids({ stroke: '#00ff00' })).toEqual([2]);
    expect(ids({ stroke: '#0000ff', kinds: ['line'] })).toEqual([3, 90]);
    expect(ids({ layers: 'POSTS', kinds: ['line'] })).toEqual([3, 90]);
    expect(ids({ fill: '#ff0000' })).toEqual([]);
  });
});

it('a step leaves alone what its rule does not take', () => {
  const chords = (layer: string): never => {
    const points = Float64Array.from(
      { length: 64 },
      (_, i) => 50 * (i % 2 ? Math.sin : Math.cos)(((i >> 1) * Math.PI) / 16),
    );
    return { kind: 'polyline', layer, points, dim: 2, elevation: 0, closed: true } as never;
  };
  const d = drawingOf([chords('ROOF'), chords('POSTS')]);
  const step = plannedStep(stepById('recover-circles')!, 's', {
    tolerance: 20,
    which: { ...rule({ layers: 'ROOF' }) },
  });
  const made = runSteps(d, [step]);
  expect(made.drawing.entities.map((e) => e.kind)).toEqual(['circle', 'polyline']);
  expect(made.ledger.map((r) => [r.code, r.count])).toEqual([['arcs-recovered', 1]]);
});

describe('conditions of place, size, group and hand', () => {
  const ids = (d: Drawing, some: Partial<Selection>): number[] =>
    d.entities.filter(selectedBy(rule(some), d)).map((e) => e.id);
  const at = (x: number, r: number): never => circle('A', { centre: [x, 0, 0], radius: r });
  it('sizes count the longer side of the box, both ends included', () => {
    const d = drawingOf([at(0, 5), at(0, 10), at(0, 20)]);
    expect(ids(d, { smallest: 20 })).toEqual([2, 3]);
    expect(ids(d, { smallest: 20, largest: 20 })).toEqual([2]);
    expect(ids(d, { largest: 19.999 })).toEqual([1]);
  });
  it('within an outline is wholly within it', () => {
    const box = {
      kind: 'polyline',
      layer: 'A',
      points: Float64Array.of(-30, -30, 30, -30, 30, 30, -30, 30),
      dim: 2,
      elevation: 0,
      closed: true,
    } as never;
    const d = drawingOf([box, at(0, 10), at(25, 10), at(90, 2)]);
    const inside = [refOf(d.entities[0]!, d)];
    expect(ids(d, { inside })).toEqual([2]);
    // An outline that is not there any more takes nothing, and is counted.
    const other = drawingOf([at(0, 10)]);
    expect(ids(other, { inside })).toEqual([]);
    expect(lostPicks(rule({ inside }), other)).toBe(1);
  });
  it('a group is meant with all groups in it; picked ones are meant alone', () => {
    const d = {
      ...drawingOf([circle('A', { node: 1 }), circle('A', { node: 2, radius: 2 }), circle('A', { radius: 3 })]),
      nodes: [
        { name: 'emblem', parent: null, hidden: false },
        { name: 'wing', parent: 0, hidden: false },
        { name: 'rail', parent: null, hidden: false },
      ],
    };
    expect(ids(d, { group: 'emblem' })).toEqual([1]);
    expect(ids(d, { group: 'wing, rail' })).toEqual([1, 2]);
    expect(ids(d, { only: [refOf(d.entities[2]!, d)] })).toEqual([3]);
  });
  it('what was kept before there were these conditions takes what it took', () => {
    const old = { layers: 'A', kinds: [], stroke: '', fill: '' };
    expect(faultOf({ which: p.selection({ title: 'Which' }) }, { which: old })).toBeNull();
    const values = valuesOf(
      { which: p.selection({ title: 'Which' }) },
      { which: { ...old, smallest: { value: 1, unit: 'in' } } },
      { unit: 'mm', factor: 1 },
    );
    expect(values.which).toMatchObject({ layers: 'A', smallest: 25.4, largest: 0, group: '', only: [] });
  });
});
