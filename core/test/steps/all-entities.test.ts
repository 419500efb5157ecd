import { describe, expect, it } from 'vitest';
import type { Entity } from '../../src/index.js';
import { changedParts, newLayer } from '../../src/index.js';
import { changeAll } from '../../src/steps/all-entities.js';
import { line, placed, stepOn } from './judge.js';

describe('a change of all entities', () => {
  const d = placed([line(0, 0, 9, 0), line(0, 0, 0, 9)], [{ at: [0, 0] }]);
  it('that changes nothing gives the very same drawing', () => {
    expect(changeAll(d, (e) => e)).toBe(d);
  });
  it('leaves lists and blocks that stay the very same', () => {
    const other = {
      ...d,
      blocks: new Map([...d.blocks, ['other', { name: 'OTHER', base: [0, 0, 0], entities: [] }]]),
    } as never;
    const made = changeAll(other, (e, block) => (block && e.id === 500 ? ({ ...e, layer: 'NEW' } as Entity) : e));
    expect(made.entities).toBe(d.entities);
    expect(made.blocks.get('other')).toBe((other as typeof d).blocks.get('other'));
    expect(made.blocks.get('panel')!.entities.map((e) => e.layer)).toEqual(['NEW', 'A']);
  });
  it('takes out what becomes nothing', () => {
    const made = changeAll(d, (e, block) => (block && e.id === 501 ? null : e));
    expect(made.blocks.get('panel')!.entities.map((e) => e.id)).toEqual([500]);
    expect(d.blocks.get('panel')!.entities).toHaveLength(2);
  });
  it('a step that has nothing to do in a block does not show its inserts as changed', () => {
    const loose = {
      ...d,
      layers: [...d.layers, newLayer('LOOSE')],
      entities: [
        ...d.entities,
        { ...(line(20, 0, 30, 0, { layer: 'LOOSE' }) as Entity), id: 700, look: d.entities[0]!.look },
      ],
    };
    const made = stepOn(loose as typeof d, 'chart-layers', { chart: [{ from: 'LOOSE', to: 'B' }] });
    expect(changedParts(loose as typeof d, made.drawing).old.map((e) => e.id)).toEqual([700]);
  });
});
