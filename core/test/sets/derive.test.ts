import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ChartRow, Kept, KeptRecipe, Recipe } from '../../src/index.js';
import { changedUnder, derivedFrom, differencesOf, pathWords, resolved } from '../../src/index.js';

const rows = (n: number, to = (i: number) => `A-${i}`): ChartRow[] =>
  Array.from({ length: n }, (_, i) => ({ from: `L${i}`, to: to(i) }));
const charted = (chart: readonly ChartRow[], more: Partial<Recipe> = {}): Recipe => ({
  recipe: 2,
  title: 'Office',
  steps: [{ id: 'chart', step: 'chart-layers', on: true, params: { chart, rest: 'keep' } as unknown as Kept }],
  target: { format: 'dxf', version: '2010' },
  ...more,
});
const chartOf = (r: Recipe) => r.steps![0]!.params['chart'] as unknown as ChartRow[];

describe('forty rows and a child', () => {
  const parent = charted(rows(40));
  const child = charted([...rows(40, (i) => (i < 3 ? `B-${i}` : `A-${i}`)), { from: 'EXTRA', to: 'B-EXTRA' }]);
  const differences = differencesOf(parent, child);

  it('are four differences: three rows changed and one added', () => {
    expect(differences.map((d) => pathWords(d.path))).toEqual([
      'steps › chart › params › chart › L0',
      'steps › chart › params › chart › L1',
      'steps › chart › params › chart › L2',
      'steps › chart › params › chart › EXTRA',
    ]);
    expect(differences[3]).toMatchObject({ is: { from: 'EXTRA', to: 'B-EXTRA' } });
    expect('was' in differences[3]!).toBe(false);
  });
  it('a row of the other 37 that the parent changes is followed, one of the three is not', () => {
    const now = charted(rows(40, (i) => (i === 20 ? 'A-NEW' : i === 1 ? 'A-OTHER' : `A-${i}`)));
    const made = derivedFrom(now, differences, { title: 'Child' });
    expect(chartOf(made)[20]).toEqual({ from: 'L20', to: 'A-NEW' });
    expect(chartOf(made)[1]).toEqual({ from: 'L1', to: 'B-1' });
    expect(chartOf(made)).toHaveLength(41);
    const { followed, kept } = changedUnder(parent, now, differences);
    expect(followed.map((d) => pathWords(d.path))).toEqual(['steps › chart › params › chart › L20']);
    expect(kept.map((d) => pathWords(d.path))).toEqual(['steps › chart › params › chart › L1']);
  });
  it('a row that the parent takes away goes from the child too, and one it adds comes', () => {
    const now = charted([...rows(40).slice(0, 39), { from: 'NEW', to: 'A-NEW' }]);
    const names = chartOf(derivedFrom(now, differences, {})).map((r) => r.from);
    expect(names).not.toContain('L39');
    expect(names.slice(-2)).toEqual(['NEW', 'EXTRA']);
  });
});

describe('differences', () => {
  it('are none between a recipe and itself, whatever it is called', () => {
    const r = charted(rows(3));
    expect(differencesOf(r, { ...r, title: 'Another', basedOn: { title: 'Office', why: 'x' } })).toEqual([]);
  });
  it('tell another order of the same rows, which counts in a chart', () => {
    const r = charted(rows(4));
    const turned = charted(rows(4).reverse());
    const d = differencesOf(r, turned);
    expect(d).toHaveLength(1);
    expect(chartOf(derivedFrom(r, d, {}))).toEqual(chartOf(turned));
  });
  it('take a list whose rows cannot be told apart as one value', () => {
    const r = charted([
      { from: '*', to: 'A' },
      { from: '*', to: 'B' },
    ]);
    expect(differencesOf(r, charted(rows(2)))).toHaveLength(1);
  });
  it('law: a child is its parent with what it has otherwise', () => {
    const row = fc.record({ from: fc.constantFrom('a', 'b', 'c', 'd', 'e', '*'), to: fc.constantFrom('X', 'Y') });
    const recipe = fc.record(
      {
        recipe: fc.constant(2 as const),
        title: fc.constant('Child'),
        note: fc.string(),
        receiver: fc.constantFrom('Shop', 'Office'),
        split: fc.record({ by: fc.constantFrom('layers', 'parts'), empty: fc.boolean() }, { requiredKeys: [] }),
        target: fc.record({ format: fc.constantFrom('dxf' as const, 'svg' as const) }),
        steps: fc.array(
          fc.record({
            id: fc.constantFrom('one', 'two', 'three'),
            step: fc.constant('chart-layers'),
            on: fc.boolean(),
            params: fc.record({ chart: fc.array(row, { maxLength: 5 }) }),
          }),
          { maxLength: 3 },
        ),
      },
      { requiredKeys: ['recipe', 'title'] },
    );
    fc.assert(
      fc.property(recipe, recipe, (a, b) => {
        const [parent, child] = [a, b] as unknown as [Recipe, Recipe];
        const d = differencesOf(parent, child);
        expect(derivedFrom(parent, d, { title: 'Child' })).toEqual(child);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what is based on what', () => {
  const base: KeptRecipe = { id: '0', title: 'Base', whole: charted(rows(2)) };
  const on = (id: string, parent: string, note: string): KeptRecipe => ({
    id,
    title: `R${id}`,
    basedOn: { id: parent, why: 'their shop asks', differences: [{ path: ['note'], is: note }] },
  });
  const all = (...list: KeptRecipe[]) => new Map(list.map((r) => [r.id, r]));
  it('is worked out from the first on, and says what it is based on and why', () => {
    const made = resolved('2', all(base, on('1', '0', 'first'), on('2', '1', 'second')));
    expect(made).toMatchObject({ title: 'R2', note: 'second', basedOn: { title: 'R1', why: 'their shop asks' } });
    expect(chartOf(made)).toHaveLength(2);
  });
  it('never goes round, nor deeper than eight, nor without what it stands on', () => {
    expect(() => resolved('1', all(on('1', '2', ''), on('2', '1', '')))).toThrow(/based on itself/);
    expect(() => resolved('1', all(on('1', '0', '')))).toThrow(/is gone/);
    const chain = (n: number) => all(base, ...Array.from({ length: n }, (_, i) => on(String(i + 1), String(i), '')));
    expect(resolved('8', chain(8)).title).toBe('R8');
    expect(() => resolved('9', chain(9))).toThrow(/8 times/);
  });
});
