import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { CHECKS, newLayer, runCheck } from '../../src/index.js';
import { drawn, line, placed, stepOn } from './judge.js';

const rgb = (v: number) => ({ kind: 'rgb', rgb: v }) as const;
const lines = (counts: Record<string, number>): Drawing =>
  drawn(
    ...Object.entries(counts).flatMap(([layer, n]) => Array.from({ length: n }, (_, i) => line(i, 0, i, 9, { layer }))),
  );
const counts = (d: Drawing): Record<string, number> => {
  const out: Record<string, number> = {};
  for (const e of d.entities) out[e.layer] = (out[e.layer] ?? 0) + 1;
  return out;
};

describe('charting layers', () => {
  const chart = (d: Drawing, rows: [string, string][], more: Kept = {}) =>
    stepOn(d, 'chart-layers', { chart: rows.map(([from, to]) => ({ from, to })), ...more });
  const bay = () => lines({ GROUND: 2, POSTS: 4, GLAZING: 13, ROOF: 1, AXES: 12 });
  const ROWS: [string, string][] = [
    ['GLAZING', 'A-GLAZ'],
    ['POSTS', 'A-COLS'],
    ['*', 'A-MISC'],
  ];

  it('13 + 4 + 15 of 32: the first row that fits counts, and the sums agree', () => {
    const made = chart(bay(), ROWS);
    expect(counts(made.drawing)).toEqual({ 'A-GLAZ': 13, 'A-COLS': 4, 'A-MISC': 15 });
    expect(made.row('layers-charted')!.count).toBe(32);
    expect(made.drawing.layers.map((l) => l.name)).toEqual(['A-MISC', 'A-COLS', 'A-GLAZ']);
    expect(made.against).toEqual([]);
  });
  it('what * stood for may stand in the new name', () => {
    const made = chart(lines({ 'A-ROOF': 1, 'B-ROOF': 1 }), [
      ['A-*', 'ARCH-*'],
      ['*-ROOF', 'R-*-*'],
    ]);
    expect(counts(made.drawing)).toEqual({ 'ARCH-ROOF': 1, 'R-B-': 1 });
  });
  it('names that differ only in capitals are one in drafting, and names of 255 letters are taken', () => {
    expect(counts(chart(lines({ Posts: 2, GROUND: 1 }), [['POSTS', 'A-COLS']]).drawing)).toEqual({
      'A-COLS': 2,
      GROUND: 1,
    });
    const long = 'x'.repeat(255);
    expect(counts(chart(lines({ POSTS: 1 }), [['POSTS', long]]).drawing)).toEqual({ [long]: 1 });
  });
  it('the rest stays, goes onto one layer, is left out, or stops the step until each has a row', () => {
    const rows: [string, string][] = [['GLAZING', 'A-GLAZ']];
    expect(counts(chart(bay(), rows).drawing)).toMatchObject({ GROUND: 2, 'A-GLAZ': 13 });
    expect(counts(chart(bay(), rows, { rest: 'one', restLayer: 'REST' }).drawing)).toEqual({ 'A-GLAZ': 13, REST: 19 });
    const left = chart(bay(), rows, { rest: 'drop' });
    expect(counts(left.drawing)).toEqual({ 'A-GLAZ': 13 });
    expect(left.against).toEqual([]);
    expect(() => chart(bay(), rows, { rest: 'ask' })).toThrow(/no row of the chart takes GROUND, POSTS, ROOF, AXES/);
  });
  it('rows that take nothing are told', () => {
    expect(
      chart(bay(), [...ROWS.slice(0, 2), ['FENCE', 'A-X'], ['*', 'A-MISC']]).row('chart-rows-idle')!.reason,
    ).toContain('FENCE');
  });
  it('keeps how it looks now, or takes the look of the layer that is there', () => {
    const d = lines({ POSTS: 1, 'A-COLS': 1 });
    d.layers.splice(0, 2, { ...newLayer('POSTS', rgb(0xff0000)), weight: 0.5 }, newLayer('A-COLS', rgb(0x0000ff)));
    const now = chart(d, [['POSTS', 'A-COLS']]).entities[0]!;
    expect([now.look.stroke, now.look.width]).toEqual([rgb(0xff0000), { kind: 'paper', mm: 0.5 }]);
    const target = chart(d, [['POSTS', 'A-COLS']], { look: 'target' }).entities[0]!;
    expect(target.look.stroke).toEqual({ kind: 'byLayer' });
  });
  it('what is hidden stays hidden on a visible layer, unless it is to be shown', () => {
    const d = lines({ POSTS: 1, 'A-COLS': 1 });
    d.layers[0] = { ...d.layers[0]!, frozen: true };
    expect(chart(d, [['POSTS', 'A-COLS']]).entities[0]!.look.visible).toBe(false);
    expect(chart(d, [['POSTS', 'A-COLS']], { visible: 'shown' }).entities[0]!.look.visible).toBe(true);
  });
  it('layers that are only used in blocks are charted; layer 0 in them stays', () => {
    const d = placed([line(0, 0, 9, 0, { layer: 'POSTS' }), line(0, 0, 0, 9, { layer: '0' })], [{ at: [0, 0] }]);
    d.layers.push(newLayer('POSTS'), newLayer('0'));
    const made = chart(d, [
      ['POSTS', 'A-COLS'],
      ['*', 'A-MISC'],
    ]);
    expect(made.drawing.blocks.get('panel')!.entities.map((e) => e.layer)).toEqual(['A-COLS', '0']);
    expect(made.drawing.layers.map((l) => l.name)).toContain('A-COLS');
    expect(made.against).toEqual([]);
  });
});

describe('keeping layers', () => {
  const keep = (d: Drawing, params: Kept) => stepOn(d, 'keep-layers', params);
  it('by pattern, or leaving those out; the rest of the list goes too', () => {
    const d = lines({ 'A-ROOF': 1, 'A-COLS': 2, AXES: 3 });
    expect(counts(keep(d, { names: 'A-*' }).drawing)).toEqual({ 'A-ROOF': 1, 'A-COLS': 2 });
    const made = keep(d, { how: 'drop', names: 'A-*' });
    expect([counts(made.drawing), made.drawing.layers.map((l) => l.name)]).toEqual([{ AXES: 3 }, ['AXES']]);
    expect(made.against).toEqual([]);
    expect(keep(d, { names: '*' }).drawing).toBe(d);
  });
});

describe('tidying groups', () => {
  const node = (name: string, parent: number | null, hidden = false) => ({ name, parent, hidden });
  /** root ▸ Group 12 ▸ emblem ▸ { (no name) ▸ arrow (2), letters ▸ Group 3 (3), empty }. */
  const emblem = (): Drawing => ({
    ...drawn(...[4, 4, 6, 6, 6].map((n, i) => line(i, 0, i, 9, { node: n }))),
    nodes: [
      node('root', null),
      node('Group 12', 0),
      node('emblem', 1),
      node('', 2),
      node('arrow', 3),
      node('letters', 2),
      node('Group 3', 5),
      node('empty', 2),
    ],
  });
  const pathOf = (d: Drawing, n: number | undefined): string => {
    const names: string[] = [];
    for (let i: number | null = n ?? null; i !== null; i = d.nodes[i]!.parent)
      if (/^[a-z]/.test(d.nodes[i]!.name)) names.unshift(d.nodes[i]!.name);
    return names.join('/');
  };
  it('8 groups become 4; the paths of shapes by names that speak, and the order, stay', () => {
    const d = emblem();
    const made = stepOn(d, 'tidy-groups');
    expect(made.drawing.nodes.map((n) => n.name)).toEqual(['root', 'emblem', 'arrow', 'letters']);
    expect(made.entities.map((e) => pathOf(made.drawing, e.node))).toEqual(d.entities.map((e) => pathOf(d, e.node)));
    expect(made.entities.map((e) => pathOf(made.drawing, e.node))).toEqual([
      'root/emblem/arrow',
      'root/emblem/arrow',
      'root/emblem/letters',
      'root/emblem/letters',
      'root/emblem/letters',
    ]);
    expect(made.entities.map((e) => e.id)).toEqual(d.entities.map((e) => e.id));
    expect(made.against).toEqual([]);
  });
  it('hidden ones carry their state and stay; what is called glazing is not nameless', () => {
    const d = { ...drawn(line(0, 0, 9, 9, { node: 1 })), nodes: [node('g1', null, true), node('glazing', 0)] };
    expect(stepOn(d, 'tidy-groups').drawing).toBe(d);
  });
  it('the check says nothing then, or the step says why a nest stays', () => {
    const check = CHECKS.find((c) => c.id === 'redundant-groups')!;
    const nest = {
      ...drawn(line(0, 0, 9, 9, { node: 2 })),
      nodes: [node('Group', null), node('g', 0), node('arrow', 1)],
    };
    expect(runCheck(check, nest)).toHaveLength(1);
    expect(runCheck(check, stepOn(nest, 'tidy-groups').drawing)).toEqual([]);
    const both = { ...drawn(line(0, 0, 9, 9, { node: 1 })), nodes: [node('emblem', null), node('arrow', 0)] };
    expect(stepOn(both, 'tidy-groups').row('groups-that-speak')!.count).toBe(1);
  });
});
