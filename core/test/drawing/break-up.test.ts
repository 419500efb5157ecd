import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, Insert } from '../../src/index.js';
import { DRAFTING_DEFAULT, newLayer } from '../../src/index.js';
import { breakUp } from '../../src/drawing/break-up.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { LengthSink } from '../../src/drawing/measures.js';
import { curvesOf } from '../../src/drawing/curves.js';
import { walk } from '../../src/drawing/resolve.js';
import { drawingOf } from '../helpers.js';
import { ONCE, PLAIN_TEXT } from '../sketches.js';

const n = fc.integer({ min: -500, max: 500 }).map((v) => v / 10);
const size = fc.integer({ min: 1, max: 300 }).map((v) => v / 10);
const angle = fc.integer({ min: 0, max: 628 }).map((v) => v / 100);
const base = { layer: '0', look: DRAFTING_DEFAULT, id: 1 };
const inner = fc.oneof(
  fc.record({ x: n, y: n, r: size }).map(({ x, y, r }) => ({ kind: 'circle', ...base, centre: [x, y, 0], radius: r })),
  fc
    .record({ x: n, y: n, r: size, start: angle, end: angle })
    .map(({ x, y, r, start, end }) => ({ kind: 'arc', ...base, centre: [x, y, 0], radius: r, start, end })),
  fc
    .record({ x: n, y: n, a: size, turn: angle, start: angle, end: angle, ratio: fc.integer({ min: 1, max: 100 }) })
    .map(({ x, y, a, turn, start, end, ratio }) => ({
      kind: 'ellipse',
      ...base,
      centre: [x, y, 0],
      major: [a * Math.cos(turn), a * Math.sin(turn), 0],
      ratio: ratio / 100,
      start,
      end,
    })),
  fc.array(fc.tuple(n, n, fc.constantFrom(0, 0.5, -1, 0.2)), { minLength: 2, maxLength: 6 }).map((v) => ({
    kind: 'polyline',
    ...base,
    points: Float64Array.from(v.flatMap(([x, y]) => [x, y])),
    dim: 2,
    elevation: 0,
    closed: true,
    bulges: Float64Array.from(v.map((p) => p[2])),
  })),
  fc
    .record({ x: n, y: n, a: n, b: n })
    .map(({ x, y, a, b }) => ({ kind: 'line', ...base, start: [x, y, 0], end: [a, b, 0] })),
);
const scale = fc.constantFrom(1, -1, 2, -0.5, 3.7);
const insertOf = (block: string, v: { x: number; y: number; sx: number; sy: number; turn: number }): Insert => ({
  kind: 'insert',
  ...base,
  layer: 'A',
  block,
  at: [v.x, v.y, 0],
  scale: [v.sx, v.sy, 1],
  rotation: v.turn,
  ...ONCE,
});
const placing = fc.record({ x: n, y: n, sx: scale, sy: scale, turn: angle });

const total = (d: Drawing): number => {
  const sink = new LengthSink();
  walk(d, ({ entity, toWorld }) => curvesOf(entity, toWorld, sink));
  return sink.total;
};
function withBlocks(blocks: Record<string, Entity[]>, top: Entity[]): Drawing {
  const d = drawingOf([]);
  d.layers = [newLayer('0'), newLayer('A', { kind: 'index', index: 3 })];
  for (const [name, entities] of Object.entries(blocks)) d.blocks.set(name, { name, base: [0, 0, 0], entities });
  d.entities = top;
  return d;
}

describe('breaking up an insert', () => {
  it('draws what the insert drew, under unequal, mirrored and nested scales', () => {
    fc.assert(
      fc.property(inner, placing, placing, fc.boolean(), (e, p, q, deep) => {
        const outer = insertOf('outer', p);
        const d = withBlocks({ part: [e as Entity], outer: [insertOf('part', q)] }, [outer]);
        const broken = { ...d, entities: breakUp(outer, d, deep) };
        if (deep) expect(broken.entities.some((x) => x.kind === 'insert')).toBe(false);
        const [a, b] = [boundsOf(d), boundsOf(broken)];
        const tolerance = 1e-7 * (1 + a.diagonal);
        for (const k of ['minX', 'minY', 'maxX', 'maxY'] as const)
          expect(Math.abs(a[k] - b[k])).toBeLessThan(tolerance);
        expect(Math.abs(total(d) - total(broken))).toBeLessThan(1e-6 * (1 + total(d)));
      }),
      { numRuns: 300 },
    );
  });
  it('a circle under scales 2 and 1 is an ellipse of half axes 2r and r', () => {
    const insert = insertOf('part', { x: 0, y: 0, sx: 2, sy: 1, turn: 0 });
    const d = withBlocks({ part: [{ kind: 'circle', ...base, centre: [0, 0, 0], radius: 5 }] }, [insert]);
    expect(breakUp(insert, d)).toMatchObject([{ kind: 'ellipse', major: [10, 0, 0], ratio: 0.5, layer: 'A' }]);
  });
  it('what is by block takes the colour of the insert, what has its own keeps it', () => {
    const insert: Insert = {
      ...insertOf('part', { x: 0, y: 0, sx: 1, sy: 1, turn: 0 }),
      look: { ...DRAFTING_DEFAULT, stroke: { kind: 'index', index: 1 } },
    };
    const line = (stroke: Entity['look']['stroke'], layer: string): Entity =>
      ({
        kind: 'line',
        ...base,
        layer,
        look: { ...DRAFTING_DEFAULT, stroke },
        start: [0, 0, 0],
        end: [1, 0, 0],
      }) as Entity;
    const d = withBlocks({ part: [line({ kind: 'byBlock' }, '0'), line({ kind: 'index', index: 5 }, 'B')] }, [insert]);
    const [first, second] = breakUp(insert, d);
    expect([first!.look.stroke, first!.layer]).toEqual([{ kind: 'index', index: 1 }, 'A']);
    expect([second!.look.stroke, second!.layer]).toEqual([{ kind: 'index', index: 5 }, 'B']);
  });
  it('text keeps its height square to the baseline; attributes become text, definitions go', () => {
    const text = {
      kind: 'text',
      ...base,
      text: 'T',
      at: [1, 1, 0],
      size: 3,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
    } as Entity;
    const definition = { ...text, tag: 'NO', definition: { prompt: '?', constant: false } } as Entity;
    const insert: Insert = {
      ...insertOf('part', { x: 0, y: 0, sx: 2, sy: 4, turn: 0 }),
      attributes: [{ ...text, tag: 'NO', text: 'B-17' } as never],
    };
    const d = withBlocks({ part: [text, definition] }, [insert]);
    const broken = breakUp(insert, d);
    expect(broken.map((e) => e.kind === 'text' && e.text)).toEqual(['T', 'B-17']);
    expect(broken[0]).toMatchObject({ size: 12, widthFactor: 0.5, at: [2, 4, 0] });
    expect(broken[1]).not.toHaveProperty('tag');
  });
  it('an array gives one copy per cell, a block in itself nothing', () => {
    const insert: Insert = {
      ...insertOf('part', { x: 0, y: 0, sx: 1, sy: 1, turn: 0 }),
      columns: 3,
      rows: 2,
      columnSpacing: 10,
      rowSpacing: 20,
    };
    const d = withBlocks(
      { part: [{ kind: 'point', ...base, at: [0, 0, 0] }, insertOf('part', { x: 0, y: 0, sx: 1, sy: 1, turn: 0 })] },
      [insert],
    );
    const at = breakUp(insert, d, true).map((e) => (e.kind === 'point' ? e.at.slice(0, 2) : null));
    expect(at).toEqual([
      [0, 0],
      [10, 0],
      [20, 0],
      [0, 20],
      [10, 20],
      [20, 20],
    ]);
  });
});
