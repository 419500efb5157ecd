import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, IntakeDecisions } from '../src/index.js';
import {
  targetFor,
  DRAFTING_DEFAULT,
  NO_DECISIONS,
  boundsOf,
  deliver,
  prepare,
  proveDelivery,
  takeIn,
} from '../src/index.js';
import { layFlat } from '../src/drawing/lay-flat.js';
import { demoFile, drawingOf, fonts, only, read, risks } from './helpers.js';
import { PLAIN_DIMENSION } from './sketches.js';

const line = (x0: number, y0: number, z0: number, x1: number, y1: number, z1: number, extra: object = {}) => ({
  kind: 'line',
  start: [x0, y0, z0],
  end: [x1, y1, z1],
  layer: 'A',
  ...extra,
});
const insert = (block: string, at: number[], extra: object = {}) => ({
  kind: 'insert',
  block,
  at,
  scale: [1, 1, 1],
  rotation: 0,
  rows: 1,
  columns: 1,
  rowSpacing: 0,
  columnSpacing: 0,
  attributes: [],
  layer: 'A',
  ...extra,
});
const taken = (d: Drawing, decisions: Partial<IntakeDecisions>) => takeIn(d, { ...NO_DECISIONS, ...decisions });
const withBlock = (entities: object[], content: object[]): Drawing => {
  const d = drawingOf(entities as never);
  const inner = drawingOf(content as never).entities.map((e) => ({ ...e, id: e.id + 500 }));
  d.blocks.set('b', { name: 'B', base: [0, 0, 0], entities: inner });
  return { ...d, nextId: 1000 };
};

describe('a part by a window', () => {
  const list = [
    line(1, 1, 0, 4, 4, 0),
    line(2, 2, 0, 20, 2, 0),
    line(11, 11, 0, 19, 19, 0),
    { kind: 'circle', centre: [10, 5, 0], radius: 3, layer: 'A' },
    line(-5, 12, 0, 12, -5, 0),
  ];
  const window = { minX: 0, minY: 0, maxX: 10, maxY: 10, touching: false };
  const ids = (touching: boolean) =>
    taken(drawingOf(list as never), { window: { ...window, touching } }).drawing.entities.map((e) => e.id);
  it('wholly inside, or touched too; a line that passes by the corner outside is neither', () => {
    expect(ids(false)).toEqual([1]);
    // The last line passes through (3.5, 3.5): it is in the window with both ends outside.
    expect(ids(true)).toEqual([1, 2, 4, 5]);
  });
  it('is in the coordinates of the file, whatever unit and origin are decided', () => {
    const d = taken(drawingOf(list as never), {
      window,
      unit: 'mm',
      correction: 2,
      origin: { mode: 'point', x: 2, y: 2 },
    });
    expect(d.drawing.entities.map((e) => (e as { start?: unknown }).start)).toEqual([[0, 0, 0]]);
  });
  it('an insert counts by what it shows; what stays behind is in the ledger', () => {
    const d = withBlock([insert('B', [8, 8, 0]), insert('B', [3, 3, 0])], [line(0, 0, 0, 5, 0, 0)]);
    const { drawing, ledger } = taken(d, { window });
    expect(drawing.entities.map((e) => e.id)).toEqual([2]);
    expect(ledger.find((r) => r.reason.includes('outside the frame'))).toMatchObject({
      action: 'dropped',
      count: 1,
      onPurpose: true,
    });
  });
});

describe('laid flat', () => {
  const flat = (e: object) => layFlat(drawingOf([e] as never));
  it('a line that rises: seen from above, and how much shorter', () => {
    const r = flat(line(0, 0, 0, 30, 40, 120));
    expect(only(r.drawing, 'line')).toMatchObject({ start: [0, 0, 0], end: [30, 40, 0] });
    // 130 long in space, 50 from above.
    expect(r).toMatchObject({ changed: 1, shorter: 1, farthest: 120 });
    expect(r.lost).toBeCloseTo(1 - 50 / 130, 12);
  });
  it('a circle in a plane tilted by 60° becomes an ellipse half as high', () => {
    const s = Math.sqrt(3) / 2;
    const r = flat({ kind: 'circle', centre: [0, 0, 0], radius: 8, normal: [0, -s, 0.5], layer: 'A' });
    const e = only(r.drawing, 'ellipse');
    expect(e.ratio).toBeCloseTo(0.5, 12);
    expect(Math.abs(e.major[0])).toBeCloseTo(8, 12);
    expect(e.major[1]).toBeCloseTo(0, 12);
    expect(e.major[2]).toBe(0);
    expect(e.normal).toBeUndefined();
  });
  it('a circle on edge becomes a line as long as its diameter', () => {
    const r = flat({ kind: 'circle', centre: [0, 0, 5], radius: 8, normal: [0, 1, 0], layer: 'A' });
    const l = only(r.drawing, 'line');
    expect(Math.hypot(l.end[0] - l.start[0], l.end[1] - l.start[1])).toBeCloseTo(16, 3);
    expect([l.start[2], l.end[2]]).toEqual([0, 0]);
  });
  it('outlines at a height come down; what is flat stays the same entity', () => {
    const outline = {
      kind: 'polyline',
      points: Float64Array.of(0, 0, 9, 0, 9, 9),
      bulges: Float64Array.of(0, 0.5, 0),
      dim: 2,
      elevation: 7,
      closed: true,
      layer: 'A',
    };
    const r = flat(outline);
    expect(boundsOf(r.drawing).width).toBeCloseTo(
      boundsOf(drawingOf([{ ...outline, elevation: 0 }] as never)).width,
      12,
    );
    expect(r).toMatchObject({ changed: 1, shorter: 0, farthest: 7 });
    const still = drawingOf([{ ...outline, elevation: 0 }, line(0, 0, 0, 1, 1, 0)] as never);
    expect(layFlat(still).drawing).toBe(still);
  });
  it('a dimension in a tilted plane cannot be, which puts curves at risk', () => {
    const tilted = {
      kind: 'dimension',
      form: 'aligned',
      points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [9, 0, 5] },
      override: '',
      style: 'Standard',
      ...PLAIN_DIMENSION,
      flags: 32,
      normal: [0, 0.6, 0.8],
      layer: 'A',
    };
    const { drawing, ledger } = taken(drawingOf([tilted] as never), { plane: 'flat' });
    expect(only(drawing, 'dimension').points[14]).toEqual([9, 0, 5]);
    expect(ledger.find((r) => r.reason.startsWith('not laid flat'))).toMatchObject({
      carryOver: 'curves',
      action: 'approximated',
      onPurpose: false,
      count: 1,
    });
  });
  it('what blocks hold too; an upright line without end is gone, and that is told', () => {
    const d = withBlock(
      [insert('B', [1, 2, 3]), { kind: 'ray', at: [0, 0, 0], direction: [0, 0, 1], both: true, layer: 'A' }],
      [line(0, 0, 4, 5, 0, 4)],
    );
    const { drawing, ledger } = taken(d, { plane: 'flat' });
    expect(only(drawing, 'insert').at).toEqual([1, 2, 0]);
    expect((drawing.blocks.get('b')!.entities[0] as { start: unknown }).start).toEqual([0, 0, 0]);
    expect(ledger.map((r) => [r.carryOver, r.count])).toContainEqual(['curves', 3]);
    expect(ledger.some((r) => r.becomes?.gone === 1 && r.becomes.entities === 0)).toBe(true);
  });
});

describe('kinds on the way in', () => {
  const kinds = { blocks: 'keep', dimensions: 'keep', hatches: 'keep' } as const;
  it('blocks as groups: what they show, in a group named after each', () => {
    const d = withBlock(
      [insert('B', [10, 0, 0]), insert('B', [20, 0, 0])],
      [line(0, 0, 0, 5, 0, 0), line(0, 0, 0, 0, 5, 0)],
    );
    const { drawing, ledger } = taken(d, { kinds: { ...kinds, blocks: 'group' } });
    expect(drawing.entities.map((e) => [e.kind, e.node])).toEqual([
      ['line', 0],
      ['line', 0],
      ['line', 1],
      ['line', 1],
    ]);
    expect(drawing.nodes.map((n) => n.name)).toEqual(['B', 'B']);
    expect(new Set(drawing.entities.map((e) => e.id)).size).toBe(4);
    expect(ledger.find((r) => r.carryOver === 'links')).toMatchObject({ count: 2, onPurpose: true });
  });
  it('blocks broken up, dimensions as lines or left out, hatches as outlines', () => {
    const section = read(demoFile('kestrel-row-section.dxf'));
    const count = (d: Drawing, kind: Entity['kind']) => d.entities.filter((e) => e.kind === kind).length;
    expect(count(section, 'dimension')).toBeGreaterThan(0);
    const lines = taken(section, { kinds: { ...kinds, dimensions: 'lines' } }).drawing;
    expect(count(lines, 'dimension')).toBe(0);
    expect(lines.entities.length).toBeGreaterThan(section.entities.length);
    expect(count(taken(section, { kinds: { ...kinds, dimensions: 'leaveOut' } }).drawing, 'dimension')).toBe(0);
    const hatches = taken(section, { kinds: { ...kinds, hatches: 'outlines' } }).drawing;
    expect(count(hatches, 'hatch')).toBe(0);
  });
  it('whatever is decided, the proof of the delivery accounts for every entity', () => {
    for (const name of ['kestrel-row-section.dxf', 'kestrel-row-front-elevation.dxf']) {
      const source = read(demoFile(name));
      const box = boundsOf(source);
      for (const decisions of [
        { kinds: { blocks: 'group', dimensions: 'lines', hatches: 'lines' } },
        { kinds: { blocks: 'break', dimensions: 'leaveOut', hatches: 'leaveOut' }, plane: 'flat' },
        { window: { minX: box.minX, minY: box.minY, maxX: (box.minX + box.maxX) / 2, maxY: box.maxY, touching: true } },
      ] as Partial<IntakeDecisions>[]) {
        const all: IntakeDecisions = { ...NO_DECISIONS, ...decisions };
        const prepared = prepare(source, all, [], { fonts: fonts() });
        const made = deliver(prepared.drawing, targetFor('dxf', { unit: 'mm' }), 'test.x', fonts());
        const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
        expect(risks(proof), `${name} ${JSON.stringify(decisions)}`).toEqual([]);
      }
    }
  });
});

it('looks stay the entities’ own', () => {
  const d = withBlock([insert('B', [1, 0, 5])], [line(0, 0, 0, 5, 0, 0, { look: DRAFTING_DEFAULT })]);
  expect(taken(d, { plane: 'flat' }).drawing.entities[0]!.look).toEqual(d.entities[0]!.look);
});
