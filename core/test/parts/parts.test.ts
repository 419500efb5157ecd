import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { PART_FIELDS, defaultsOf, faultOf, listRules, newLayer, transformDrawing, valuesOf } from '../../src/index.js';
import { compose, rotation, scaling, translation } from '../../src/geometry/affine.js';
import { equalParts } from '../../src/parts/equal.js';
import { PART_RULES, findParts } from '../../src/parts/find.js';
import { LIST_RULES, partsList } from '../../src/parts/list.js';
import { NUMBERING, nextNumbers, numberFaults, orderOf } from '../../src/parts/number.js';
import { PART_WORDS, readForm } from '../../src/parts/said.js';
import { box, chain, circle, drawn, line, placed, text } from '../steps/judge.js';

const codes = (d: Drawing, rules = {}): string[] =>
  findParts(d, { ...PART_RULES, ...rules }).findings.map((f) => f.code);

describe('parts by their outlines', () => {
  it('circles of 50, 40 and 30 about one centre are a ring and a disc of one area, and two parts', () => {
    const found = findParts(drawn(circle(0, 0, 50), circle(0, 0, 40), circle(0, 0, 30)));
    expect(found.parts.map((p) => [p.outer, p.holes])).toEqual([
      [0, [1]],
      [2, []],
    ]);
    expect(found.parts.map((p) => p.area)).toEqual([2827.43, 2827.43].map((a) => expect.closeTo(a, 2)));
    expect(found.parts.map((p) => p.cutLength)).toEqual([
      expect.closeTo(180 * Math.PI, 8),
      expect.closeTo(60 * Math.PI, 8),
    ]);
    expect(equalParts(found, 0.01)).toHaveLength(2);
  });
  it('a circle that stands aslant is an ellipse from above: as wide as it is seen', () => {
    const tilted = circle(0, 0, 50, { normal: [0, Math.SQRT1_2, Math.SQRT1_2] });
    const { parts, rings } = findParts(drawn(tilted));
    expect(rings[0]!.diameter).toBeNull();
    expect(parts[0]!.area).toBeCloseTo(Math.PI * 50 * 50 * Math.SQRT1_2, 3);
  });
  it('marks and labels belong to the smallest outline that holds them', () => {
    const d = drawn(
      box(0, 0, 100, 100),
      circle(50, 50, 30),
      circle(50, 50, 20),
      line(5, 5, 15, 5),
      line(45, 50, 55, 50),
      text('P1', 10, 90),
      text('P2', 50, 55),
    );
    const { parts, findings, visits } = findParts(d);
    const ids = (list: readonly number[]): number[] => list.map((i) => visits[i]!.entity.id);
    expect(parts.map((p) => [ids(p.marks), ids(p.labels)])).toEqual([
      [[4], [6]],
      [[5], [7]],
    ]);
    expect(findings).toEqual([]);
  });
  it('what belongs to no part is a finding: open outlines, marks across outlines and in holes, lone marks and texts', () => {
    const gap = chain([200, 0, 260, 0, 260, 40, 200, 40, 200, 1], false);
    const d = drawn(
      box(0, 0, 100, 100),
      circle(50, 50, 30),
      gap,
      line(-20, 10, 50, 10),
      line(45, 50, 55, 50),
      line(0, 300, 9, 300),
      text('lost', 0, 400),
    );
    expect(codes(d)).toEqual(['open-outline', 'mark-crosses', 'mark-in-hole', 'outside-parts', 'outside-parts']);
  });
  it('a text outside all parts is offered to the nearest within a distance', () => {
    const d = drawn(box(0, 0, 10, 10), box(40, 0, 10, 10), text('7', 37, 5), text('8', 25, 30));
    const { parts, findings } = findParts(d, { ...PART_RULES, offer: 4 });
    expect(parts.map((p) => p.offered.length)).toEqual([0, 1]);
    expect(findings).toHaveLength(1);
  });
  it('letters drawn as outlines are no parts: by their layer, by their group, or as small as they are', () => {
    const O = [circle(20, 20, 3, { layer: 'LETTERS' }), circle(20, 20, 2, { layer: 'LETTERS' })];
    const d = drawn(box(0, 0, 40, 40), ...O);
    expect(findParts(d).parts).toHaveLength(2);
    const { parts } = findParts(d, { ...PART_RULES, letters: 'LETT*' });
    expect(parts.map((p) => [p.holes.length, p.labels.length])).toEqual([[0, 2]]);
    // The counter of the O is smaller than 20; the O is a hole then, and its counter a mark.
    expect(findParts(d, { ...PART_RULES, smallest: 20 }).parts).toHaveLength(1);
  });
  it('in blocks, once for each time they are placed', () => {
    const d = placed(
      [box(0, 0, 10, 10), circle(5, 5, 2)],
      [{ at: [0, 0] }, { at: [30, 0] }, { at: [60, 0], scale: [-1, 1, 1] }],
    );
    const list = partsList(d);
    expect(list.rows).toHaveLength(1);
    expect(list.rows[0]!.quantity).toBe(3);
  });
});

describe('parts by other ways', () => {
  it('by block: what stands outside its outline belongs to it all the same; by layer: one name for all on it', () => {
    const d = placed([box(0, 0, 10, 10), text('T-1', 20, 5)], [{ at: [0, 0] }]);
    const rules = { ...PART_RULES, by: [{ how: 'block' as const, named: 'PAN*' }] };
    const { parts, findings } = findParts(d, rules);
    expect(parts).toMatchObject([{ called: 'PANEL' }]);
    expect(parts[0]!.labels).toHaveLength(1);
    expect(findings).toEqual([]);
    const layers = findParts(drawn(box(0, 0, 9, 9, { layer: 'BASE' }), box(20, 0, 9, 9, { layer: 'LID' })), {
      ...PART_RULES,
      by: [{ how: 'layer', named: '' }],
    });
    expect(layers.parts.map((p) => p.called)).toEqual(['BASE', 'LID']);
  });
  it('by group: several outlines in one, or none, are findings', () => {
    const d = drawn(box(0, 0, 9, 9, { node: 0 }), box(20, 0, 9, 9, { node: 0 }), line(0, 50, 9, 50, { node: 1 }));
    const nodes = ['Lid', 'Marks'].map((name) => ({ name, parent: null, hidden: false }));
    const found = findParts({ ...d, nodes }, { ...PART_RULES, by: [{ how: 'group', named: '' }] });
    expect(found.findings.map((f) => [f.code, f.called])).toEqual([
      ['several-outlines', 'Lid'],
      ['outside-parts', ''],
      ['no-outline', 'Marks'],
    ]);
  });
});

describe('equal parts', () => {
  const L = (x: number, y: number): Entity =>
    drawn(chain([x, y, x + 40, y, x + 40, y + 10, x + 10, y + 10, x + 10, y + 30, x, y + 30], true)).entities[0]!;
  const ids = (list: Entity[]): never[] => list.map(({ id: _i, ...e }) => e) as never[];
  const moved = (e: Entity, m: ReturnType<typeof translation>): Entity =>
    transformDrawing({ ...drawn(), entities: [e] } as Drawing, m).entities[0]!;
  const mirror = scaling(-1, 1, 1);
  it('two Ls and one mirrored are 2 + 1, or 3 where faces are alike', () => {
    const d = drawn(...ids([L(0, 0), moved(L(100, 0), rotation(0.7)), moved(L(0, 200), mirror)]));
    const found = findParts(d);
    expect(equalParts(found, 0.01).map((g) => g.members)).toEqual([[0, 1], [2]]);
    const alike = equalParts(found, 0.01, true);
    expect(alike.map((g) => g.members)).toEqual([[0, 1, 2]]);
    expect([...alike[0]!.mirrored]).toEqual([2]);
  });
  it('holes have to lie where they lie; a point in an edge makes no other part', () => {
    const plates = drawn(
      box(0, 0, 100, 60),
      circle(20, 20, 5),
      box(200, 0, 100, 60),
      circle(220, 20, 5),
      // The same, half turned.
      box(400, 0, 100, 60),
      circle(480, 40, 5),
      // The hole on the other side, and one that is larger.
      box(600, 0, 100, 60),
      circle(620, 40, 5),
      box(800, 0, 100, 60),
      circle(820, 20, 5.2),
      chain([1000, 0, 1050, 0, 1100, 0, 1100, 60, 1000, 60], true),
      circle(1020, 20, 5),
    );
    expect(equalParts(findParts(plates), 0.01).map((g) => g.members)).toEqual([[0, 1, 2, 5], [3], [4]]);
    // The other side is its mirror.
    expect(equalParts(findParts(plates), 0.01, true).map((g) => g.members)).toEqual([[0, 1, 2, 3, 5], [4]]);
    // A tenth of a millimetre in the radius is within two.
    expect(equalParts(findParts(plates), 0.25).map((g) => g.members)).toEqual([[0, 1, 2, 4, 5], [3]]);
  });
  it('with many teeth, each point off by less than the bound, though all edges together are much longer', () => {
    const gear = (x: number, more: number): never =>
      chain(
        Array.from({ length: 120 }, (_, i) => {
          const [r, t] = [i % 2 === 0 ? 50 + more : 42 - more, (i * Math.PI) / 60];
          return [x + r * Math.cos(t), r * Math.sin(t)];
        }).flat(),
        true,
      );
    expect(equalParts(findParts(drawn(gear(0, 0), gear(200, 0.009))), 0.01)).toHaveLength(1);
    expect(equalParts(findParts(drawn(gear(0, 0), gear(200, 0.012))), 0.01)).toHaveLength(2);
  });
  it('discs with holes, turned by any angle', () => {
    const flange = (x: number, turn: number, ...at: number[]): never[] => [
      circle(x, 0, 50),
      ...at.map((a) => circle(x + 30 * Math.cos(a + turn), 30 * Math.sin(a + turn), 4)),
    ];
    const d = drawn(
      ...flange(0, 0, 0, 1, 3),
      ...flange(200, 0.4, 0, 1, 3),
      ...flange(400, 0, 0, 1, 2.9),
      ...flange(600, 0, 0, -1, -3),
    );
    expect(equalParts(findParts(d), 0.01).map((g) => g.members)).toEqual([[0, 1], [2], [3]]);
    expect(equalParts(findParts(d), 0.01, true).map((g) => g.members)).toEqual([[0, 1, 3], [2]]);
  });
  it('whatever way a part is turned and moved it stays the same one; a corner that moves by more than the bound makes another', () => {
    const corner = fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 40 }));
    fc.assert(
      fc.property(
        fc.uniqueArray(corner, { minLength: 3, maxLength: 9, selector: (p) => p.join() }),
        fc.double({ min: -4, max: 4, noNaN: true }),
        fc.integer({ min: 1, max: 8 }),
        (corners, turn, away) => {
          // Corners in the order of their direction from the middle: an outline that does not cross itself.
          const [mx, my] = [20.37, 19.71];
          const ring = [...corners].sort((p, q) => Math.atan2(p[1] - my, p[0] - mx) - Math.atan2(q[1] - my, q[0] - mx));
          const one = drawn(chain(ring.flat(), true)).entities[0]!;
          const m = compose(translation(100 * away, 30), rotation(turn));
          const d = drawn(...ids([one, moved(one, m)]));
          const found = findParts(d);
          fc.pre(found.parts.length === 2 && found.parts[0]!.area > 1);
          expect(equalParts(found, 1e-6)).toHaveLength(1);
          const other = drawn(chain([ring[0]![0] + 0.5, ring[0]![1] + 0.3, ...ring.slice(1).flat()], true))
            .entities[0]!;
          const two = findParts(drawn(...ids([one, moved(other, m)])));
          fc.pre(two.parts.length === 2);
          expect(equalParts(two, 1e-3).length).toBe(2);
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('numbers', () => {
  it('go from top to bottom and in each row from left to right, or by size', () => {
    const d = drawn(box(50, 0, 10, 10), box(0, 3, 10, 10), box(0, 100, 30, 30), box(60, 96, 10, 10));
    const { parts } = findParts(d);
    expect(orderOf(parts, { order: 'rows', row: 20 })).toEqual([2, 3, 1, 0]);
    expect(orderOf(parts, { order: 'size', row: 0 })).toEqual([2, 0, 1, 3]);
    // Rows do not depend on the order of reading.
    const back = findParts(drawn(...([...d.entities].reverse().map(({ id: _i, ...e }) => e) as never[])));
    expect(orderOf(back.parts, { order: 'rows', row: 20 })).toEqual([1, 0, 2, 3]);
  });
  it('are given by a pattern, none that is taken', () => {
    expect(nextNumbers([{}, {}, {}], { ...NUMBERING, prefix: 'P-', digits: 3 }, ['p-002', 'X'])).toEqual([
      'P-001',
      'P-003',
      'P-004',
    ]);
    expect(numberFaults(['1', null, '2', '1 ', ''])).toEqual({ missing: [1, 4], twice: new Map([['1', [0, 3]]]) });
  });
  it.each([
    ['{material}-{thickness}', 'PLY-12', { material: 'PLY', thickness: '12' }],
    ['{number} / {name}', ' 07 /  Side left ', { number: '07', name: 'Side left' }],
    ['T-{number}', 'T-', null],
    ['{number}', '12', { number: '12' }],
    ['', 'x', null],
    ['{other}{number}', '{other}4', { number: '4' }],
  ])('form %s of %s', (form, words, said) => {
    expect(readForm(form, words)).toEqual(said);
  });
});

describe('what is asked', () => {
  it('has defaults that stand, and they are those of the list', () => {
    expect(faultOf(PART_FIELDS, defaultsOf(PART_FIELDS))).toBeNull();
    const rules = listRules(valuesOf(PART_FIELDS, {}, null), 1000);
    expect({ ...rules, bound: LIST_RULES.bound }).toEqual({
      ...LIST_RULES,
      words: { ...PART_WORDS, attributes: expect.any(Object) },
    });
    expect(rules.bound).toBeCloseTo(0.001, 12);
  });
});

describe('the list', () => {
  const words = { ...PART_WORDS, layer: '{material}-{thickness}', label: 'No {number}' };
  const layers = (d: Drawing, ...names: string[]): Drawing => ({ ...d, layers: names.map((n) => newLayer(n)) });
  it('has equal parts in one line with their quantity, what is said of them, and measures along and across the grain', () => {
    const on = { layer: 'PLY-12' };
    const d = layers(
      drawn(
        box(0, 0, 60, 20, on),
        circle(10, 10, 3, on),
        circle(50, 10, 3, on),
        box(100, 0, 60, 20, on),
        circle(110, 10, 3, on),
        circle(150, 10, 3, on),
        box(0, 100, 20, 20, { layer: 'MDF-9' }),
        text('No 7', 5, 105),
      ),
      'PLY-12',
      'MDF-9',
      'A',
    );
    const { rows } = partsList(d, { ...LIST_RULES, words, grain: 90 });
    expect(rows).toMatchObject([
      { number: '7', numbered: 'said', material: 'MDF', thickness: '9', quantity: 1, labels: ['No 7'] },
      {
        number: '01',
        numbered: 'new',
        material: 'PLY',
        thickness: '12',
        quantity: 2,
        length: expect.closeTo(20, 9),
        width: expect.closeTo(60, 9),
        members: [0, 1],
      },
    ]);
    expect(rows[1]!.area).toBeCloseTo(1200 - 18 * Math.PI, 8);
    expect(rows[1]!.holes).toEqual([{ diameter: 6, count: 2, through: 0, blind: 0 }]);
    expect(rows[1]!.cutLength).toBeCloseTo(160 + 12 * Math.PI, 8);
  });
  it('keeps equal shapes apart that are called otherwise, and tells numbers that several have', () => {
    const d = drawn(
      box(0, 0, 10, 10),
      text('No 1', 3, 3),
      box(20, 0, 10, 10),
      text('No 2', 23, 3),
      box(40, 0, 10, 30),
      text('No 1', 43, 3),
    );
    const list = partsList(d, { ...LIST_RULES, words });
    expect(list.rows.map((r) => [r.number, r.quantity])).toEqual(
      expect.arrayContaining([
        ['1', 1],
        ['2', 1],
      ]),
    );
    expect(list.rows).toHaveLength(3);
    expect([...list.twice.keys()]).toEqual(['1']);
    expect(list.rows.reduce((sum, r) => sum + r.quantity, 0)).toBe(3);
  });
});

describe('grain, side and charts', () => {
  const list = (d: Drawing, words: object, grain = 0) =>
    partsList(d, { ...LIST_RULES, grain, words: { ...PART_WORDS, ...words } }).rows;
  it('length is along the grain and width across it: as the part says, else as the rules say', () => {
    const d = drawn(box(0, 0, 60, 40), text('G 90 back', 5, 5), box(100, 0, 60, 40));
    const rows = list(d, { label: 'G {grain} {side}' });
    expect(rows.map((r) => [r.length, r.width, r.grain, r.side])).toEqual([
      [expect.closeTo(40, 9), expect.closeTo(60, 9), '90', 'back'],
      [60, 40, '', ''],
    ]);
    expect(list(drawn(box(0, 0, 60, 40)), {}, 90)[0]!.length).toBeCloseTo(40, 9);
    // 45° across a rectangle: (60 + 40) / √2 either way.
    expect(list(drawn(box(0, 0, 60, 40)), {}, 45)[0]!.width).toBeCloseTo(100 / Math.SQRT2, 9);
    // What is no number says nothing of a direction.
    expect(list(drawn(box(0, 0, 60, 40), text('G long way', 5, 5)), { label: 'G {grain}' })[0]!.length).toBe(60);
  });
  it('equal shapes of another grain are other parts', () => {
    const d = drawn(box(0, 0, 60, 40), text('G 90', 5, 5), box(100, 0, 60, 40), text('G 0', 105, 5));
    expect(list(d, { label: 'G {grain}' }).map((r) => r.quantity)).toEqual([1, 1]);
  });
  it('a chart says what layers are of, whatever they are called; the first row that fits counts', () => {
    const d = drawn(
      box(0, 0, 60, 40, { layer: 'CUT_A' }),
      box(100, 0, 60, 50, { layer: 'CUT_B' }),
      box(200, 0, 60, 60, { layer: 'MDF-9' }),
    );
    const row = { layers: '', kind: '', material: '', thickness: '', grain: '' };
    const chart = [
      { ...row, layers: 'CUT_A', material: 'PLY', thickness: '12', grain: '90' },
      { ...row, layers: 'CUT_*, MDF*', thickness: '6', kind: 'RIB' },
    ];
    const rows = list(d, { chart, layer: '{material}-{thickness}' });
    expect(new Map(rows.map((r) => [r.area, [r.material, r.thickness, r.kind, r.grain]]))).toEqual(
      new Map([
        [2400, ['PLY', '12', '', '90']],
        [3000, ['', '6', 'RIB', '']],
        // What the chart does not say is read from the name.
        [3600, ['MDF', '6', 'RIB', '']],
      ]),
    );
  });
});

describe('numbers over revisions', () => {
  const plates = (...at: [number, number, number][]): never[] => at.map(([x, y, w]) => box(x, y, w, 10));
  const list = (d: Drawing, kept?: Parameters<typeof partsList>[2]) => partsList(d, LIST_RULES, kept);
  const numbersOf = (l: ReturnType<typeof partsList>): Record<string, number> =>
    Object.fromEntries(l.rows.map((r) => [r.number, Math.round(r.length)]));
  const first = list(drawn(...plates([0, 0, 11], [50, 0, 22], [100, 0, 33], [150, 0, 44])));
  it('stay with their parts: one new, one gone, one moved; the number of the one that is gone is not given again', () => {
    expect(numbersOf(first)).toEqual({ '01': 11, '02': 22, '03': 33, '04': 44 });
    // Read in another order; 22 is gone, 55 is new and stands first, 44 has moved.
    const second = list(drawn(...plates([-60, 0, 55], [150, 40, 44], [100, 0, 33], [0, 0, 11])), first.keep);
    expect(numbersOf(second)).toEqual({ '01': 11, '03': 33, '04': 44, '05': 55 });
    expect(second.rows.find((r) => r.number === '05')!.numbered).toBe('new');
    expect(second.gone).toEqual(['02']);
    expect(second.keep.retired).toEqual(['02']);
    // It comes back: it is another one, and has a number of its own.
    const third = list(
      drawn(...plates([-60, 0, 55], [150, 40, 44], [100, 0, 33], [0, 0, 11], [50, 0, 22])),
      second.keep,
    );
    expect(numbersOf(third)).toEqual({ '01': 11, '03': 33, '04': 44, '05': 55, '06': 22 });
  });
  it('are the same whatever order is read, and change nothing when they are kept again', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([11, 22, 33, 44], { minLength: 4 }), (order) => {
        const d = drawn(...plates(...order.map((w): [number, number, number] => [(w / 11 - 1) * 50, 0, w])));
        const again = list(d, first.keep);
        expect(numbersOf(again)).toEqual(numbersOf(first));
        expect(again.gone).toEqual([]);
      }),
    );
  });
  it('one more of a part that has its number is one more of it; where the drawing numbers each, it has none', () => {
    const d = drawn(...plates([0, 0, 11], [50, 0, 22], [0, 50, 11]));
    const more = list(d, list(drawn(...plates([0, 0, 11], [50, 0, 22]))).keep);
    expect(more.rows.map((r) => [r.number, r.quantity])).toEqual([
      ['01', 2],
      ['02', 1],
    ]);
    const said = drawn(...plates([0, 0, 11], [0, 50, 11]), text('No 7', 3, 3));
    const { rows } = partsList(said, { ...LIST_RULES, words: { ...PART_WORDS, label: 'No {number}' } });
    expect(rows.map((r) => [r.number, r.numbered]).sort()).toEqual([
      ['01', 'new'],
      ['7', 'said'],
    ]);
  });
  it('what the drawing says goes before what was kept', () => {
    const d = drawn(...plates([0, 0, 11]), text('No 9', 3, 3));
    const made = partsList(d, { ...LIST_RULES, words: { ...PART_WORDS, label: 'No {number}' } }, first.keep);
    expect(made.rows).toMatchObject([{ number: '9', numbered: 'said' }]);
  });
  it('of places of one block each is kept by itself', () => {
    const d = placed([box(0, 0, 10, 10)], [{ at: [0, 0] }, { at: [30, 0] }]);
    const { keep } = list(d);
    expect(keep.given).toHaveLength(2);
    expect(new Set(keep.given.map((k) => JSON.stringify(k.part))).size).toBe(2);
    expect(list(d, keep).gone).toEqual([]);
  });
});
