import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Entity } from '../../src/index.js';
import { IDENTITY, boundsOf } from '../../src/index.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import { BlockReach } from '../../src/drawing/block-reach.js';
import { applyPoint } from '../../src/geometry/affine.js';
import { insertMatrix } from '../../src/drawing/resolve.js';
import { Box2 } from '../../src/geometry/box.js';
import { dxf, only, read } from '../helpers.js';

const insert = (block: string, x: number, y: number, ...more: (string | number)[]): (string | number)[] => [
  0,
  'INSERT',
  8,
  '0',
  2,
  block,
  10,
  x,
  20,
  y,
  ...more,
];
const block = (name: string, ...entities: (string | number)[]): (string | number)[] => [
  0,
  'BLOCK',
  8,
  '0',
  2,
  name,
  70,
  0,
  10,
  1,
  20,
  2,
  ...entities,
  0,
  'ENDBLK',
  8,
  '0',
];
const PAD = block('PAD', 0, 'CIRCLE', 8, '0', 10, 1, 20, 2, 40, 3, 0, 'LINE', 8, '0', 10, 1, 20, 2, 11, 6, 21, 2);
const FRAME = [0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 100, 21, 100];

describe('extents with blocks', () => {
  it('of an insert at the rim: its circle of 3 reaches left, its line of 5 to the right', () => {
    const d = read(dxf([...FRAME, ...insert('PAD', 1, 50), ...insert('PAD', 98, 50)], { blocks: PAD }));
    expect({ ...boundsOf(d) }).toMatchObject({ minX: -2, minY: 0, maxX: 103, maxY: 100 });
  });
  it('of an insert turned by 90° and doubled: the line points up by 10', () => {
    const d = read(dxf([...FRAME, ...insert('PAD', 50, 99, 41, 2, 42, 2, 43, 2, 50, 90)], { blocks: PAD }));
    expect(boundsOf(d).maxY).toBeCloseTo(109, 12);
    expect(boundsOf(d).maxX).toBe(100);
  });
  it('are the same whatever the order, and however deep the blocks', () => {
    const nested = [...PAD, ...block('TWO', ...insert('PAD', 0, 0), ...insert('PAD', 30, 5, 50, 30))];
    const n = fc.integer({ min: -150, max: 150 });
    fc.assert(
      fc.property(fc.array(fc.tuple(n, n, fc.integer({ min: 0, max: 359 })), { maxLength: 8 }), (places) => {
        const list = places.map(([x, y, turn]) => insert('TWO', x, y, 50, turn, 41, 1.5, 42, 1.5, 43, 1.5));
        const d = read(dxf([...FRAME, ...list.flat()], { blocks: nested }));
        // Worked out by chords of each piece.
        const want = Box2.of(0, 0, 100, 100);
        const meet = (entities: readonly Entity[], m: typeof IDENTITY): void => {
          for (const e of entities) {
            if (e.kind === 'insert') {
              const b = d.blocks.get(e.block.toLowerCase())!;
              const own = insertMatrix(e, b);
              const through = (p: readonly [number, number, number]): readonly [number, number, number] =>
                applyPoint(m, applyPoint(own, p));
              const [o, x, y] = [through([0, 0, 0]), through([1, 0, 0]), through([0, 1, 0])];
              meet(b.entities, [x[0] - o[0], x[1] - o[1], 0, y[0] - o[0], y[1] - o[1], 0, 0, 0, 1, o[0], o[1], 0]);
            } else flattenEntity(e, m, 1e-5, { moveTo: (x, y) => want.add(x, y), lineTo: (x, y) => want.add(x, y) });
          }
        };
        meet(d.entities, IDENTITY);
        const got = boundsOf(d);
        for (const side of ['minX', 'minY', 'maxX', 'maxY'] as const)
          expect(Math.abs(got[side] - want[side])).toBeLessThan(1e-3);
      }),
      { numRuns: 60 },
    );
  });
  it('of a block that holds itself, or what a box does not tell, are not guessed', () => {
    const d = read(
      dxf([...insert('LOOP', 5, 5), ...insert('PAD', 50, 50, 70, 3, 44, 10)], {
        blocks: [...PAD, ...block('LOOP', ...insert('LOOP', 0, 0))],
      }),
    );
    const reach = new BlockReach(d.blocks);
    const [loop, row] = d.entities.filter((e) => e.kind === 'insert');
    const all = Box2.of(-1e9, -1e9, 1e9, 1e9);
    expect([reach.within(loop!, all), reach.within(row!, all)]).toEqual([false, false]);
    expect(boundsOf(d).maxX).toBe(75);
    expect(only(read(dxf(FRAME)), 'line')).toBeDefined();
  });
});
