import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, prove, readDrawing, targetFor } from '../../src/index.js';
import { orderItem } from '../../src/proof/order-item.js';
import { box, chain, circle, drawn } from '../steps/judge.js';
import { fonts } from '../helpers.js';

const PLATES = (): Drawing => ({
  ...drawn(
    ...[0, 1, 2, 3, 4, 5].flatMap((i) => [
      box(100 * i, 0, 60, 40, { layer: i % 2 === 0 ? 'A' : 'B' }),
      circle(100 * i + 30, 20, 8, { layer: i % 2 === 0 ? 'B' : 'A' }),
    ]),
    chain([0, 100, 20, 130, 40, 100], false),
  ),
  unit: { unit: 'mm', factor: 1 },
});
const ordered = (): Drawing =>
  prepare(PLATES(), NO_DECISIONS, [{ id: 'a', step: 'order-for-cutting', on: true, params: { how: 'inner' } }], {
    fonts: fonts(),
  }).drawing;

describe('the order in which curves are drawn', () => {
  it('means nothing until it is that of cutting', () => {
    expect(orderItem(PLATES(), PLATES(), 1, 1e-6)).toBeNull();
    expect(ordered().ordered).toBe(true);
  });
  it.each([
    ['dxf', '2010'],
    ['dxf', 'R12'],
    ['dwg', '2000'],
    ['dwg', '2010'],
    ['svg', '2'],
  ] as const)('is kept in %s %s, over layers that take turns and in another unit', (format, version) => {
    const expected = ordered();
    for (const unit of ['mm', 'in'] as const) {
      const target = targetFor(format, { version, unit });
      const made = deliver(expected, target, 'plates.dxf', fonts());
      const found = readDrawing(made.bytes, `plates.${format}`).drawing;
      const proof = prove(made.written, found, { ledger: made.ledger, unit, fonts: fonts() });
      expect(proof.items.find((i) => i.id === 'order')).toMatchObject({
        state: 'kept',
        expected: '13 one after the other',
      });
      expect(proof.items.filter((i) => i.state === 'atRisk')).toEqual([]);
    }
  });
  it('breaks the proof where two have changed places, and says how many stand out of their turn', () => {
    const expected = ordered();
    const swapped = [...expected.entities];
    [swapped[2], swapped[9]] = [swapped[9]!, swapped[2]!];
    const item = orderItem(expected, { ...expected, entities: swapped }, 1, 1e-6)!;
    expect(item).toMatchObject({ state: 'atRisk', count: 2 });
    expect(item.at).toBeDefined();
    const less = orderItem(expected, { ...expected, entities: expected.entities.slice(1) }, 1, 1e-6)!;
    expect(less).toMatchObject({ state: 'undecided', found: '12 in order' });
  });
  it('counts as few as would have to move: of any shuffle what is left rises', () => {
    const expected = ordered();
    const n = expected.entities.length;
    fc.assert(
      fc.property(fc.nat(n - 1), fc.nat(n - 1), (from, to) => {
        const moved = [...expected.entities];
        moved.splice(to, 0, ...moved.splice(from, 1));
        const item = orderItem(expected, { ...expected, entities: moved }, 1, 1e-6)!;
        expect(item.count ?? 0).toBe(from === to ? 0 : 1);
      }),
    );
  });
});
