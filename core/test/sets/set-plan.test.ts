import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Recipe, SetSource } from '../../src/index.js';
import {
  NO_DECISIONS,
  STEPS,
  fieldPiece,
  fileFacts,
  planSet,
  plannedStep,
  prepare,
  recipeOf,
  runSteps,
  sourceFacts,
  stepById,
  stepsUnder,
  targetFor,
  textPiece,
} from '../../src/index.js';
import { newLayer } from '../../src/drawing/drawing.js';
import { fonts } from '../helpers.js';
import { box, circle, drawn, insert, line } from '../steps/judge.js';

const onLayer = (layer: string, e: never): never => ({ ...(e as object), layer }) as never;

const ASKED = { job: 'Kestrel Row', date: '2026-11-30' };
/** A drawing with so many filled layers, and so many empty ones. */
const layered = (filled: number, empty: number): Drawing => {
  const d = drawn(...Array.from({ length: filled }, (_, i) => onLayer(`F${i}`, line(0, i, 10, i))));
  return { ...d, layers: [...d.layers, ...Array.from({ length: empty }, (_, i) => newLayer(`E${i}`))] };
};
const source = (id: string, drawing: Drawing, more: Partial<SetSource> = {}): SetSource => ({
  id,
  name: id,
  revision: 1,
  facts: sourceFacts(drawing, []),
  parts: null,
  ...more,
});
const filledOnly = (d: Drawing): Drawing => ({ ...d, layers: d.layers.filter((l) => l.name !== '0') });
const three = [
  source('plan', filledOnly(layered(4, 1))),
  source('elevation', filledOnly(layered(2, 2))),
  source('section', filledOnly(layered(3, 0))),
];

describe('three drawings, a file for each layer', () => {
  it('are nine files of filled layers, three empty ones told', () => {
    const { files, leftOut } = planSet(three, { recipe: 2, split: { by: 'layers' } }, ASKED);
    expect(files).toHaveLength(9);
    expect(files.map((f) => f.name)).toEqual([
      ...['plan-F0', 'plan-F1', 'plan-F2', 'plan-F3', 'elevation-F0', 'elevation-F1'],
      ...['section-F0', 'section-F1', 'section-F2'],
    ]);
    expect(files[0]!.why).toBe('1 object on layer F0');
    expect(leftOut.map((l) => l.why)).toEqual(['empty', 'empty', 'empty']);
  });
  it('are twelve with the empty ones', () => {
    const { files, leftOut } = planSet(three, { recipe: 2, split: { by: 'layers', empty: true } }, ASKED);
    expect(files).toHaveLength(12);
    expect(leftOut).toEqual([]);
  });
  it('are those that are named alone, and the rest is told', () => {
    const { files, leftOut } = planSet(three, { recipe: 2, split: { by: 'layers', only: 'F0, E*' } }, ASKED);
    expect(files.map((f) => f.piece)).toEqual(['F0', 'F0', 'F0']);
    expect(leftOut.filter((l) => l.objects > 0)).toHaveLength(6);
  });
});

describe('names of a set', () => {
  const recipe: Recipe = {
    recipe: 2,
    receiver: 'LS',
    naming: [
      textPiece('KR-'),
      fieldPiece('receiver'),
      textPiece('-'),
      { what: 'number', series: 'shop', digits: 3, first: 14 },
      textPiece('-'),
      fieldPiece('material'),
      textPiece('-'),
      fieldPiece('thickness'),
    ],
    split: { by: 'stock' },
  };
  const part = (number: string, material: string, thickness: string) => ({
    number,
    name: '',
    kind: '',
    material,
    thickness,
    leftOut: null,
  });
  it('go on from where the last set ended, one file for each material and thickness', () => {
    const parts = [part('1', 'alu', '3mm'), part('2', 'alu', '3mm'), part('3', '', '3mm')];
    const { files, series } = planSet([source('panels', layered(1, 0), { parts })], recipe, ASKED);
    expect(files.map((f) => f.name)).toEqual(['KR-LS-014-alu-3mm', 'KR-LS-015-3mm']);
    expect(files[0]!.parts).toEqual(['1', '2']);
    expect(series).toEqual({ shop: 16 });
    expect(planSet([source('panels', layered(1, 0), { parts })], recipe, { ...ASKED, series }).files[0]!.name).toBe(
      'KR-LS-016-alu-3mm',
    );
  });
  it('take no number for a file that cannot be written', () => {
    const parts = [part('', 'alu', '3mm')];
    const { files, series } = planSet([source('panels', layered(1, 0), { parts })], recipe, ASKED);
    expect(files[0]).toMatchObject({ name: '', stop: expect.stringMatching(/1 part has no number/) as string });
    expect(series).toEqual({});
  });
});

describe('what a recipe expects', () => {
  const open = drawn(line(0, 0, 10, 0), line(10, 0.02, 10, 10), line(10, 10, 0, 10), line(0, 10, 0, 0));
  const recipe: Recipe = { recipe: 2, expects: { checks: ['open-outlines'] } };
  it('stops a drawing whose outlines are open, and says why', () => {
    const facts = sourceFacts(open, ['open-outlines']);
    const [file] = planSet([source('a', open, { facts })], recipe, ASKED).files;
    expect(file!.stop).toMatch(/^Open outlines: 1 found/);
  });
  it('lets through what somebody set aside, and keeps the word why', () => {
    const facts = sourceFacts(open, ['open-outlines'], {
      review: { aside: { 'open-outlines|*': 'a slit, on purpose' } },
    });
    expect(planSet([source('a', open, { facts })], recipe, ASKED).files[0]!.stop).toBeNull();
    expect(facts.waived).toEqual([{ check: 'open-outlines', count: 1, why: 'a slit, on purpose' }]);
  });
  it('stops a drawing without a unit, unless that is not expected', () => {
    const bare = source('a', { ...open, unit: null });
    expect(planSet([bare], { recipe: 2 }, ASKED).files[0]!.stop).toMatch(/its unit/);
    expect(planSet([bare], { recipe: 2, expects: { unit: false } }, ASKED).files[0]!.stop).toBeNull();
  });
});

describe('the parts of a drawing', () => {
  const madeOf = (d: Drawing, steps: readonly { readonly id: string }[]) =>
    prepare(d, NO_DECISIONS, steps as never, { fonts: fonts() }).drawing;
  it('are together the whole, blocks with objects of several layers too', () => {
    const { entities } = drawn(onLayer('TOP', box(0, 0, 4, 2)), onLayer('0', circle(2, 1, 0.2)));
    const blocks = new Map([['desk', { name: 'DESK', base: [0, 0, 0] as const, entities }]]);
    const d = {
      ...drawn(onLayer('A', line(0, 0, 9, 9)), onLayer('PLACED', insert('DESK'))),
      blocks,
    } as never as Drawing;
    const all = { ...d, layers: ['0', 'A', 'PLACED', 'TOP'].map((n) => newLayer(n)) };
    const facts = sourceFacts(all, []);
    expect(facts.mixed).toBe(true);
    const { files } = planSet([source('a', all, { facts })], { recipe: 2, split: { by: 'layers' } }, ASKED);
    const counts = files.map((f) => fileFacts(madeOf(all, f.steps)).layers.reduce((n, l) => n + l.objects, 0));
    expect(files.map((f) => f.piece)).toEqual(['A', 'PLACED', 'TOP']);
    expect(counts).toEqual(files.map((f) => f.objects));
    expect(counts.reduce((a, b) => a + b, 0)).toBe(facts.objects);
  });
  it('law: by layers or groups every object is in one file, or told as left out', () => {
    const name = fc.constantFrom('A', 'B', 'a,b', 'C*', 'D\\E', ' F');
    const objects = fc.array(
      fc.record({ layer: name, x: fc.integer({ min: 0, max: 50 }), group: fc.integer({ min: -1, max: 2 }) }),
      {
        minLength: 1,
        maxLength: 12,
      },
    );
    fc.assert(
      fc.property(objects, fc.constantFrom('layers' as const, 'groups' as const), (list, by) => {
        const made = drawn(...list.map((o) => onLayer(o.layer, circle(o.x, 0, 1))));
        const d = {
          ...made,
          nodes: ['G', 'H,1', 'K*'].map((n) => ({ name: n, parent: null, hidden: false })),
          entities: made.entities.map((e, i) => (list[i]!.group < 0 ? e : { ...e, node: list[i]!.group })),
        } as Drawing;
        const facts = sourceFacts(d, []);
        const { files, leftOut } = planSet([source('a', d, { facts })], { recipe: 2, split: { by } }, ASKED);
        const counts = files.map((f) => madeOf(d, f.steps).entities.length);
        expect(counts).toEqual(files.map((f) => f.objects));
        expect(counts.reduce((a, b) => a + b, 0) + leftOut.reduce((n, l) => n + l.objects, 0)).toBe(list.length);
        const names = files.map((f) => f.name.toLowerCase());
        expect(new Set(names).size).toBe(names.length);
      }),
      { numRuns: 80 },
    );
  });
});

describe('agreed layers', () => {
  const agreed = {
    layers: ['OUTLINE', 'HOLES', 'SMALL'].map((name) => ({ name, colour: null, weight: null })),
    others: 'refuse',
  };
  const sheet = drawn(onLayer('HOLES', circle(1, 1, 1)), onLayer('OUTLINE', box(0, 0, 9, 9)));
  const run = (d: Drawing, more: object = {}) =>
    runSteps(d, [plannedStep(stepById('agree-layers')!, 'x', { ...agreed, ...more } as never)]).drawing;
  it('are all there in their order, empty ones too', () => {
    const names = run(sheet).layers.map((l) => l.name);
    expect(names.filter((n) => n !== '0')).toEqual(['OUTLINE', 'HOLES', 'SMALL']);
    expect(fileFacts(run(sheet)).layers.find((l) => l.name === 'SMALL')).toEqual({ name: 'SMALL', objects: 0 });
  });
  it('refuse what lies on any other, by name and number', () => {
    expect(() => run(drawn(onLayer('NOTES', line(0, 0, 1, 1))))).toThrow(/not agreed: NOTES 1/);
  });
  it('or send it where it is said to go', () => {
    const made = run(drawn(onLayer('NOTES', line(0, 0, 1, 1))), { others: 'one', onto: 'SMALL' });
    expect(made.entities[0]!.layer).toBe('SMALL');
    expect(() => run(sheet, { others: 'one', onto: 'ELSE' })).toThrow(/not in the list/);
  });
  it('stand at the end of every file of a set', () => {
    const { files } = planSet([source('a', sheet)], { recipe: 2, split: { by: 'layers' }, agreed } as never, ASKED);
    for (const f of files) {
      const made = prepare(sheet, NO_DECISIONS, f.steps as never, { fonts: fonts() }).drawing;
      expect(made.layers.map((l) => l.name).filter((n) => n !== '0')).toEqual(['OUTLINE', 'HOLES', 'SMALL']);
    }
  });
});

describe('a recipe made of what was done', () => {
  const step = (id: string, params: object = {}) => plannedStep(stepById(id)!, id, params as never);
  it('keeps rules, and tells what names objects of the drawing', () => {
    const { recipe, behind } = recipeOf(
      'Shop',
      [step('join-ends'), step('keep-parts', { parts: ['line/1/2'] }), { ...step('clear-doubles'), on: false }],
      targetFor('dxf', { name: 'panel' }),
    );
    expect(recipe.steps!.map((s) => s.step)).toEqual(['join-ends']);
    expect(recipe.target).not.toHaveProperty('name');
    expect(behind).toEqual([{ what: 'Keep parts', why: 'it names picked objects of this drawing' }]);
  });
  it.each(STEPS.filter((s) => s.ofOneDrawing).map((s) => [s.title, s] as const))(
    '%s is of one drawing: as its own example has it, it stays behind',
    (title, s) => {
      const { recipe, behind } = recipeOf('Shop', [step(s.id, s.example.params)], null);
      expect(recipe).not.toHaveProperty('steps');
      expect(behind.map((b) => b.what)).toEqual([title]);
    },
  );
  it('stands for the steps of the drawing it was made on, and comes after those of another', () => {
    const own = [step('join-ends')];
    const { recipe } = recipeOf('Shop', own, null);
    expect(stepsUnder(recipe, own).map((s) => s.id)).toEqual(['join-ends']);
    expect(stepsUnder({ ...recipe, ownSteps: 'before' }, own).map((s) => s.id)).toEqual(['join-ends', 'join-ends-2']);
  });
});

describe('a set gathered into one file', () => {
  it('is one file around the first drawing; what keeps one of them back keeps the set back', () => {
    const sources = [source('plan', layered(2, 0)), source('bench', layered(3, 0)), source('bin', layered(1, 0))];
    const { files } = planSet(sources, { recipe: 2, split: { by: 'set', arrange: 'row', gap: 25 } }, ASKED);
    expect(files).toHaveLength(1);
    expect(files[0]).toMatchObject({ name: 'plan', objects: 6, why: '3 drawings gathered around plan' });
    expect(files[0]!.before[0]).toMatchObject({
      step: 'gather-drawings',
      params: { drawings: [{ drawing: 'bench' }, { drawing: 'bin' }], arrange: 'row', gap: 25 },
    });
    const bare = { ...sources[1]!, facts: { ...sources[1]!.facts, unit: null } };
    const stopped = planSet([sources[0]!, bare], { recipe: 2, split: { by: 'set' } }, ASKED).files[0]!;
    expect(stopped.stop).toMatch(/^bench: nobody has said its unit/);
  });
});
