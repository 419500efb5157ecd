import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import { excuseFor } from '../../src/proof/excuses.js';
import { pairEntities } from '../../src/proof/pairing.js';
import { fieldsDiffering } from '../../src/proof/same-fields.js';
import { verdictOf } from '../../src/proof/verdict.js';
import { drawingOf } from '../helpers.js';
import { EVERY_KIND, SAMPLES } from '../kinds/samples.js';

const base = { id: 1, key: 'A1', layer: 'GLASS', look: DRAFTING_DEFAULT };
const samples: Entity[] = EVERY_KIND.flatMap((kind) => SAMPLES[kind].map((s) => ({ ...base, ...s, kind }) as Entity));
/** What is about this program, what only its own form says, and what stands for something else. */
const NOT_HELD = new Set(['id', 'key', 'kind', 'raw', 'drawn', 'format', 'data', 'look', 'attributes']);

/** Copies of a value, each with one number, word or switch in it otherwise. */
function* changes(v: unknown): Generator<unknown> {
  if (typeof v === 'number') yield v + 0.5;
  else if (typeof v === 'string') yield `${v}x`;
  else if (typeof v === 'boolean') yield !v;
  else if (v instanceof Float64Array || v instanceof Int32Array) {
    const other = v.slice();
    other[other.length - 1]! += 1;
    yield other;
  } else if (v instanceof Uint8Array) return;
  else if (Array.isArray(v)) {
    for (const [i, item] of v.entries())
      for (const to of changes(item)) yield v.map((w: unknown, k) => (k === i ? to : w));
  } else if (v !== null && typeof v === 'object')
    for (const [name, inner] of Object.entries(v)) for (const to of changes(inner)) yield { ...v, [name]: to };
}

describe('an entity held against another, field by field', () => {
  it('is the same as itself, and as a copy of itself', () => {
    for (const e of samples) {
      expect(fieldsDiffering(e, e, 100, true)).toEqual([]);
      expect(fieldsDiffering(e, structuredClone(e), 100, true), e.kind).toEqual([]);
    }
  });

  it('of every kind: whatever is otherwise in whatever field is told, by the name of the field', () => {
    let asked = 0;
    for (const e of samples)
      for (const [field, value] of Object.entries(e)) {
        if (NOT_HELD.has(field)) continue;
        // How a fill is turned says nothing of a solid one; the plane of a spline follows from its points.
        if (e.kind === 'hatch' && e.solid && ['angle', 'scale', 'pattern'].includes(field)) continue;
        for (const to of changes(value)) {
          asked++;
          const found = fieldsDiffering(e, { ...e, [field]: to } as Entity, 100, true);
          expect(
            found.map((d) => d.field.split('.')[0]),
            `${e.kind} ${field} ${JSON.stringify(to)}`,
          ).toEqual([field]);
        }
      }
    expect(asked).toBeGreaterThan(150);
  });

  it('looks too, each by its own name', () => {
    const e = samples[0]!;
    for (const [field, value] of Object.entries(DRAFTING_DEFAULT)) {
      if (['kind'].includes(field)) continue;
      for (const to of changes(value))
        expect(
          fieldsDiffering(e, { ...e, look: { ...DRAFTING_DEFAULT, [field]: to } as never }, 1, true),
        ).toMatchObject([{ field: `look.${field}` }]);
    }
  });

  it('numbers may lose what a double loses, and not ten times as much', () => {
    const reach = fc.double({ min: 1, max: 1e7, noNaN: true });
    fc.assert(
      fc.property(reach, fc.double({ min: -1, max: 1, noNaN: true }), (far, part) => {
        const at = (x: number): Entity => ({ ...base, kind: 'point', at: [x, 0, 0] });
        const x = far * part;
        expect(fieldsDiffering(at(x), at(x + 0.9e-12 * far), far, true)).toEqual([]);
        expect(fieldsDiffering(at(x), at(x + 1e-11 * far), far, true)).toHaveLength(1);
      }),
    );
  });

  it('a turn more is no other angle; names are the same in capitals; nothing said is nothing', () => {
    const text = samples.find((e) => e.kind === 'text')!;
    expect(fieldsDiffering(text, { ...text, rotation: text.rotation + 2 * Math.PI } as Entity, 1, true)).toEqual([]);
    expect(fieldsDiffering(text, { ...text, layer: 'glass' } as Entity, 1, true)).toEqual([]);
    expect(
      fieldsDiffering(text, { ...text, thickness: 0, normal: [0, 0, 1], backwards: false } as Entity, 1, true),
    ).toEqual([]);
    expect(fieldsDiffering(text, { ...text, text: text.text.toUpperCase() + 'k' } as Entity, 1, true)).toHaveLength(1);
  });
});

describe('entities found again', () => {
  const lines = (keys: (string | undefined)[]): Drawing =>
    drawingOf(keys.map((key, i) => ({ kind: 'line', start: [i, 0, 0], end: [i, 5, 0], ...(key && { key }) }) as never));

  it('by their handles, whatever their order and however these are spelt', () => {
    const keys = fc.uniqueArray(fc.integer({ min: 1, max: 0xffff }), { minLength: 1, maxLength: 30 });
    fc.assert(
      fc.property(keys, fc.infiniteStream(fc.nat()), (list, dice) => {
        const d = lines(list.map((k) => k.toString(16).toUpperCase()));
        const next = (): number => dice.next().value as number;
        const mixed = d.entities
          .map((e) => ({ e: { ...e, key: `00${e.key!.toLowerCase()}` }, at: next() }))
          .sort((a, b) => a.at - b.at)
          .map(({ e }) => e);
        const { pairs, lost, extra } = pairEntities(d, { ...d, entities: mixed }, new Map());
        expect([lost, extra]).toEqual([[], []]);
        for (const { want, got } of pairs) expect(parseInt(got.key!, 16)).toBe(parseInt(want.key!, 16));
        expect(pairs.map((p) => p.want)).toEqual(d.entities);
      }),
    );
  });
  it('by what they are, where handles were given anew', () => {
    const [d, other] = [lines(['A', 'B', 'C']), lines([undefined, undefined, undefined])];
    const { pairs, lost } = pairEntities(d, { ...other, entities: [...other.entities].reverse() }, new Map());
    expect(lost).toEqual([]);
    for (const { want, got } of pairs)
      expect((got as unknown as { start: number[] }).start).toEqual((want as unknown as { start: number[] }).start);
  });
  it('and what is gone or new is left over, with the space that it lay in', () => {
    const [d, other] = [lines(['A', 'B', 'C']), lines(['A', 'C'])];
    const { pairs, lost, extra } = pairEntities(
      d,
      { ...other, entities: other.entities.map((e, i) => ({ ...e, key: ['A', 'C'][i]! })) },
      new Map(),
    );
    expect(pairs).toHaveLength(2);
    expect(lost.map(({ entity, space }) => [entity.key, space])).toEqual([['B', 'model']]);
    expect(extra).toEqual([]);
  });
});

describe('what a row accounts for', () => {
  const row = (code: string, ids: [number, number][], count = 1) =>
    ({ carryOver: 'colour', action: 'changed', code, reason: '', count, onPurpose: true, by: 'write', ids }) as never;
  it('is the field it is about, of the entity it is about, and nothing else', () => {
    const excused = excuseFor([row('width-to-nearest-weight', [[3, 5]])]);
    expect([3, 4, 5].map((id) => excused(id, 'look.width'))).toEqual([true, true, true]);
    expect([excused(2, 'look.width'), excused(6, 'look.width'), excused(4, 'look.stroke')]).toEqual([
      false,
      false,
      false,
    ]);
  });
  it('a row that only counts excuses as many as it counts, the same ones again and again', () => {
    const excused = excuseFor([row('fit-points-beside-control-points', [], 2)]);
    expect([1, 2, 3, 1].map((id) => excused(id, 'fitPoints'))).toEqual([true, true, false, true]);
  });
  it('a row of another reason, or without one, accounts for nothing', () => {
    const excused = excuseFor([
      row('layer-renamed', [[1, 9]]),
      { ...(row('x', [[1, 9]]) as object), code: undefined } as never,
    ]);
    for (const field of ['layer', 'look.width', 'text', 'points.13']) expect(excused(4, field)).toBe(false);
  });
});

it('a verdict counts what is lost, and says when the source is to blame', () => {
  const item = (state: string, more: object = {}) => ({ state, ...more }) as never;
  expect(verdictOf({ holds: true, items: [item('kept'), item('changed', { count: 4 })] })).toBe('The proof holds.');
  expect(verdictOf({ holds: true, items: [item('lost', { count: 3 }), item('lost')] })).toBe(
    'The proof holds, but 4 objects are lost.',
  );
  expect(verdictOf({ holds: true, items: [item('lost', { count: 1 })] })).toBe(
    'The proof holds, but 1 object is lost.',
  );
  expect(verdictOf({ holds: true, items: [item('lost', { about: 'source' })] })).toBe(
    'The proof holds, but the source itself is not whole.',
  );
  expect(verdictOf({ holds: false, items: [item('lost')] })).toBe('The proof does not hold.');
});
