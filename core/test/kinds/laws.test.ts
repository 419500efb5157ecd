import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Affine } from '../../src/geometry/affine.js';
import { applyPoint, compose, inverse, rotation, scaling, translation } from '../../src/geometry/affine.js';
import { windowMap } from '../../src/drawing/sheet-window.js';
import { shapeOf } from '../../src/drawing/entity-shape.js';
import type { Viewport } from '../../src/drawing/entity.js';
import type { Drawing, Entity, EntityKind } from '../../src/index.js';
import type { Resolved } from '../../src/drawing/resolve.js';
import { DRAFTING_DEFAULT, compareDrawings, transformDrawing, walk } from '../../src/index.js';
import { breakUp } from '../../src/drawing/break-up.js';
import { farthest } from '../../src/proof/distance.js';
import { measure } from '../../src/proof/measure.js';
import { pairedTexts } from '../../src/proof/paired-texts.js';
import { fonts } from '../helpers.js';
import { EVERY_KIND, SAMPLES, sampleDrawing } from './samples.js';

const coordinate = fc.double({ min: -50, max: 50, noNaN: true });
const similarity = fc
  .tuple(
    coordinate,
    coordinate,
    fc.double({ min: -3, max: 3, noNaN: true }),
    fc.double({ min: 0.2, max: 6, noNaN: true }),
    fc.boolean(),
  )
  .map(([x, y, turn, k, mirror]) => ({
    k,
    mirror,
    m: compose(translation(x, y), compose(rotation(turn), scaling(k, mirror ? -k : k, k))),
  }));

/** The largest distance between what two drawings show once the first is moved. */
function apart(before: Drawing, after: Drawing, m: Affine, tolerance: number): number {
  const [a, b] = [measure(before, m, tolerance, fonts()), measure(after, 1, tolerance, fonts())];
  return Math.max(farthest(a.chords, b.chords, tolerance).distance, farthest(b.chords, a.chords, tolerance).distance);
}

/** Kinds that a similarity leaves something to compare of: what lies on a sheet is not of model space. */
const MOVING = EVERY_KIND.filter((k) => k !== 'viewport');

describe.each(MOVING)('%s', (kind: EntityKind) => {
  it('moved and then drawn is drawn and then moved: curves, lengths, texts', () => {
    fc.assert(
      fc.property(similarity, ({ m, k, mirror }) => {
        const d = sampleDrawing([kind]);
        // Rays are cut where the rest of the drawing ends, so something has to lie beside them.
        if (kind === 'ray')
          d.entities.push(...sampleDrawing(['circle']).entities.map((e) => ({ ...e, id: e.id + 50 })));
        const moved = transformDrawing(d, m);
        if (kind === 'ray') return void expectRay(d, moved, m);
        const [a, b] = [measure(d, m, 0.001 * k, fonts()), measure(moved, 1, 0.001 * k, fonts())];
        const off = Math.max(
          farthest(a.chords, b.chords, 0.001 * k).distance,
          farthest(b.chords, a.chords, 0.001 * k).distance,
        );
        expect(off).toBeLessThan(0.003 * k);
        const sum = (s: Map<string, number>): number => [...s.values()].reduce((n, v) => n + v, 0);
        expect(Math.abs(sum(b.strokes) - sum(a.strokes))).toBeLessThan(1e-5 * (1 + sum(a.strokes)));
        expect(Math.abs(sum(b.fills) - sum(a.fills))).toBeLessThan(1e-5 * (1 + sum(a.fills)));
        // The number of a dimension follows its scale.
        if (mirror || (kind === 'dimension' && k !== 1)) return;
        expect(pairedTexts(a.texts, b.texts, 1e-6 * k)).toMatchObject({ missing: [], extra: 0 });
        expect(pairedTexts(a.texts, b.texts, 1e-6 * k).farthestMove).toBeLessThan(1e-6 * k);
        expect(pairedTexts(a.texts, b.texts, 1e-6 * k).tallest).toBeLessThan(1e-6 * k);
      }),
      { numRuns: 25 },
    );
  });

  it('moved there and back is where it was', () => {
    fc.assert(
      fc.property(similarity, ({ m }) => {
        const d = sampleDrawing([kind]);
        if (kind === 'opaque') return;
        const back = transformDrawing(transformDrawing(d, m), inverse(m));
        expect(apart(d, back, scaling(1, 1, 1), 0.001)).toBeLessThan(1e-3);
      }),
      { numRuns: 10 },
    );
  });
});

/** Fields that hold lengths and nothing else, by kind: under a scale they are multiplied, under all else they stay. */
const LENGTHS: Partial<Record<EntityKind, string[]>> = {
  circle: ['radius', 'thickness'],
  arc: ['radius'],
  polyline: ['widths', 'thickness'],
  line: ['thickness'],
  hatch: ['scale'],
  text: ['size'],
  richText: ['size', 'width'],
  insert: ['columnSpacing', 'rowSpacing'],
  viewport: ['width', 'height'],
};
it.each(Object.entries(LENGTHS) as [EntityKind, string[]][])(
  'lengths of a %s are multiplied, and by nothing but the scale',
  (kind, fields) => {
    fc.assert(
      fc.property(similarity, ({ m, k, mirror }) => {
        const d = sampleDrawing([kind]);
        d.entities = d.entities.map((e) => ({ ...e, thickness: 1.5, sheet: undefined }) as Entity);
        const moved = transformDrawing(d, m);
        d.entities.forEach((e, i) => {
          for (const field of fields) {
            const [a, b] = [e, moved.entities[i]!].map(
              (x) => (x as unknown as Record<string, number | Float64Array | undefined>)[field],
            );
            if (a === undefined) continue;
            const [was, is] = [a, b].map((v) => (typeof v === 'number' ? [v] : [...v!]));
            // A mirror turns the rows of an array over.
            was!.forEach((v, n) => expect(is![n]).toBeCloseTo(field === 'rowSpacing' && mirror ? -v * k : v * k, 9));
          }
        });
      }),
      { numRuns: 20 },
    );
  },
);

/** A line without ends goes through the moved place, in the moved direction. */
function expectRay(before: Drawing, after: Drawing, m: Affine): void {
  const [a, b] = [before.entities[0], after.entities[0]];
  if (a?.kind !== 'ray' || b?.kind !== 'ray') throw new Error('no ray');
  const along = applyPoint(m, [a.at[0] + a.direction[0], a.at[1] + a.direction[1], 0]);
  const cross = (along[0] - b.at[0]) * b.direction[1] - (along[1] - b.at[1]) * b.direction[0];
  expect(Math.abs(cross)).toBeLessThan(1e-9 * Math.hypot(...along, 1));
  expect(Math.hypot(...b.direction)).toBeCloseTo(1, 12);
}

it('a window of a sheet goes on showing the same places after the model moved', () => {
  fc.assert(
    fc.property(similarity, coordinate, coordinate, ({ m, mirror }, x, y) => {
      if (mirror) return;
      const d = sampleDrawing(['viewport']);
      const moved = transformDrawing(d, m);
      const on = (v: Entity, p: readonly [number, number, number]): readonly number[] =>
        applyPoint(windowMap(v as Viewport)!, p);
      const before = on(d.entities[0]!, [x, y, 0]);
      const after = on(moved.entities[0]!, applyPoint(m, [x, y, 0]));
      for (const i of [0, 1]) expect(after[i]).toBeCloseTo(before[i]!, 6);
    }),
  );
});

/** Numbers of an entity that say nothing of its shape. */
const SILENT = new Set(['id', 'flags', 'number', 'elevation', 'hiddenEdges', 'textRotation', 'dim', 'normal']);
/** Every number within a value, as a way to change it. */
function numbersIn(value: unknown, path: string[] = []): string[][] {
  if (typeof value === 'number') return [path];
  if (value instanceof Float64Array) return [...value.keys()].map((i) => [...path, String(i)]);
  if (value === null || typeof value !== 'object' || ArrayBuffer.isView(value)) return [];
  return Object.entries(value).flatMap(([k, v]) =>
    SILENT.has(k) || k === 'look' || k === 'drawn' || k === 'attributes' ? [] : numbersIn(v, [...path, k]),
  );
}
function withNumber<T>(value: T, [first, ...rest]: string[], change: (v: number) => number): T {
  if (first === undefined) return change(value as number) as T;
  if (value instanceof Float64Array) return value.map((v, i) => (String(i) === first ? change(v) : v)) as T;
  const copy = (Array.isArray(value) ? [...value] : { ...value }) as Record<string, unknown>;
  copy[first] = withNumber(copy[first], rest, change);
  return copy as T;
}

describe('comparing revisions', () => {
  // Each changed by a part in ten thousand, and of 0 by a little: far less than a person means by "the same".
  it.each(EVERY_KIND.filter((k) => k !== 'viewport' && k !== 'opaque' && k !== 'dimension'))(
    'sees every number of a %s that changed',
    (kind) => {
      const d = sampleDrawing([kind]);
      d.entities.forEach((e, i) => {
        for (const path of numbersIn(e)) {
          // What a line of no end is along, its length does not say; knots are counted from one another.
          if (UNSEEN.test(`${kind} ${path.join('.')}`)) continue;
          const after = {
            ...d,
            entities: d.entities.map((x, k) =>
              k === i ? withNumber(x, path, (v) => (v === 0 ? 1e-3 : v * 1.0001)) : x,
            ),
          };
          expect({ path: path.join('.'), same: compareDrawings(d, after).differences.length === 0 }).toEqual({
            path: path.join('.'),
            same: false,
          });
        }
      });
    },
  );
});
/** Flags of a loop say how it was found, not where it lies. */
const UNSEEN = /^hatch loops\.\d+\.flags/;

describe('an insert taken apart', () => {
  const paints = [{ kind: 'byBlock' }, { kind: 'byLayer' }, { kind: 'index', index: 3 }] as const;
  const dash = (name: string) =>
    fc.double({ min: 0.25, max: 4, noNaN: true }).map((scale) => ({ kind: 'linetype' as const, name, scale }));
  const look = fc.record({
    stroke: fc.constantFrom(...paints),
    opacity: fc.constantFrom(1, 0.5, 0.25),
    dash: fc.oneof(dash('ByBlock'), dash('DOTS'), dash('ByLayer')),
    width: fc.constantFrom(
      { kind: 'byBlock' as const },
      { kind: 'paper' as const, mm: 0.35 },
      { kind: 'byLayer' as const },
    ),
  });

  it('is seen as it was: curves, colours, widths, dashes with their scale, opacity', () => {
    fc.assert(
      fc.property(look, look, fc.constantFrom('0', 'A'), (inner, outer, layer) => {
        const d = sampleDrawing(['insert'], outer);
        const block = d.blocks.get('clamp')!;
        d.blocks.set('clamp', {
          ...block,
          entities: block.entities.map((e) => ({ ...e, layer, look: { ...DRAFTING_DEFAULT, ...inner } })),
        });
        const parts = d.entities.flatMap((e) => breakUp(e as never, d, true));
        const taken = { ...d, entities: parts };
        expect(apart(d, taken, scaling(1, 1, 1), 1e-3)).toBeLessThan(2e-3);
        const seen = (drawing: Drawing): string[] => {
          const out: string[] = [];
          walk(
            drawing,
            ({ entity, resolved }) =>
              void (entity.kind !== 'insert' && out.push(`${entity.kind} ${wordsOf(resolved)}`)),
          );
          return out.sort();
        };
        expect(seen(taken)).toEqual(seen(d));
      }),
      { numRuns: 200 },
    );
  });
  const wordsOf = ({ layer, stroke, fill, strokeOpacity, fillOpacity, width, dash: d }: Resolved): string =>
    JSON.stringify([layer.toLowerCase(), stroke, fill, strokeOpacity, fillOpacity, width, d]);
});

it('every sample has a shape of its own', () => {
  const d = sampleDrawing(EVERY_KIND);
  const all = d.entities.map((e) => JSON.stringify(shapeOf(e, d, new Map())));
  expect(new Set(all).size).toBe(EVERY_KIND.reduce((n, k) => n + SAMPLES[k].length, 0));
});
