import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { DRAFTING_DEFAULT, newLayer, p, transformDrawing, valuesOf } from '../../src/index.js';
import { sketchPath } from '../../src/steps/example.js';
import { rolesOf } from '../../src/analysis/outline-roles.js';
import { scaling, translation } from '../../src/geometry/affine.js';
import { box, circle, drawn, line, placed, stepOn, text } from './judge.js';

const sort = (d: Drawing, rules: Kept[], more: Kept = {}) => stepOn(d, 'sort-by-rule', { by: 'rules', rules, ...more });
const layersOf = (d: Drawing): string[] => d.entities.map((e) => e.layer);

describe('roles', () => {
  it('of nested circles by their parity: the disc of the area of the ring is an island', () => {
    const roles = rolesOf(drawn(circle(0, 0, 50), circle(0, 0, 40), circle(0, 0, 30)));
    expect(roles.map((r) => [r.role, r.diameter, r.around])).toEqual([
      ['outer', 100, null],
      ['hole', 80, 0],
      ['island', 60, 1],
    ]);
    // 2500π, 1600π, 900π.
    expect(roles.map((r) => r.area)).toEqual([2500, 1600, 900].map((r2) => expect.closeTo(r2 * Math.PI, 8)));
  });
  it('of what is open, of texts, of everything else', () => {
    const point = { kind: 'point', at: [0, 0, 0] } as never;
    expect(rolesOf(drawn(line(0, 0, 9, 0), text('A', 0, 0), point)).map((r) => r.role)).toEqual([
      'open',
      'label',
      'other',
    ]);
  });
  it('of blocks by where they are placed, at the size they have there', () => {
    const d = placed([circle(0, 0, 5)], [{ at: [50, 50], scale: [2, 2, 2] }]);
    const within = { ...d, entities: [...d.entities, { ...drawn(box(0, 0, 100, 100)).entities[0]!, id: 900 }] };
    const roles = rolesOf(within).filter((r) => r.visit.entity.kind === 'circle');
    expect(roles.map((r) => [r.role, r.diameter])).toEqual([['hole', 20]]);
  });
});

describe('sorting by area', () => {
  const plates = drawn(box(0, 0, 300, 190), box(400, 0, 300, 200), circle(500, 100, 50), circle(100, 90, 50));
  const rules = (bound: unknown): Kept[] =>
    [
      { role: 'outer', areaBelow: bound, to: 'SMALL' },
      { role: 'outer', areaFrom: bound, to: 'LARGE' },
      { role: 'hole', to: 'HOLES' },
    ] as Kept[];
  it('below is below, from is with what is just as large, and holes are not taken off', () => {
    const made = sort(plates, rules(60000));
    expect(layersOf(made.drawing)).toEqual(['SMALL', 'LARGE', 'HOLES', 'HOLES']);
    expect(made.against).toEqual([]);
    expect(made.row('sorted-by-rules')!.reason).toContain('SMALL 1, LARGE 1, HOLES 2');
  });
  it('a bound in square millimetres is 93.0002 square inches', () => {
    const set = { area: p.area({ title: 'Area', default: 0 }) };
    const { area } = valuesOf(set, { area: { value: 60000, unit: 'mm' } }, { unit: 'in', factor: 1 });
    expect(area).toBeCloseTo(93.0002, 4);
    const inches = {
      ...transformDrawing(plates, scaling(1 / 25.4, 1 / 25.4, 1)),
      unit: { unit: 'in', factor: 1 },
    } as Drawing;
    expect(layersOf(sort(inches, rules({ value: 60000, unit: 'mm' })).drawing)).toEqual([
      'SMALL',
      'LARGE',
      'HOLES',
      'HOLES',
    ]);
  });
  it('is the same far away, mirrored, and when it is done again', () => {
    for (const map of [translation(3e6, 2e6), scaling(-1, 1, 1)]) {
      const once = sort(transformDrawing(plates, map), rules(60000)).drawing;
      expect(layersOf(once)).toEqual(['SMALL', 'LARGE', 'HOLES', 'HOLES']);
      expect(sort(once, rules(60000)).drawing).toBe(once);
    }
  });
  it('a path with a hole of its own counts whole, and what lies in its hole is an island', () => {
    const d = drawn(
      { kind: 'path', path: sketchPath('M0 0H100V100H0Z M20 20H80V80H20Z') } as never,
      circle(50, 50, 10),
    );
    const [frame, disc] = rolesOf(d);
    expect(frame).toMatchObject({ role: 'outer', area: 10000 });
    expect(disc).toMatchObject({ role: 'island', around: 0 });
  });
});

describe('whether holes go through', () => {
  const depths = { sheet: 10, throughColour: '#ff0000', blindLayers: 'ENGRAVE*' };
  const rules: Kept[] = [
    { role: 'hole', depth: 'through', to: 'THROUGH' },
    { role: 'hole', depth: 'blind', to: 'BLIND' },
  ];
  const red = { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb: 0xff0000 } };
  const hole = (x: number, more: object = {}) => circle(x, 20, 5, more);
  const at = (z: number) => ({ centre: [0, 0, z] });
  const holeOf = (...holes: never[]): Drawing => {
    const d = drawn(box(-10, 0, 400, 40), ...holes);
    return { ...d, layers: [...d.layers, newLayer('ENGRAVE-1')] };
  };
  it('is not told by a diameter: holes of one diameter go two ways, and what nobody decides is told', () => {
    const d = holeOf(
      hole(10, { thickness: -10 }),
      hole(30, { thickness: -4 }),
      hole(50, { look: red }),
      hole(70, { layer: 'ENGRAVE-1' }),
      hole(90),
    );
    const made = sort(d, rules, { depths });
    expect(layersOf(made.drawing).slice(1)).toEqual(['THROUGH', 'BLIND', 'THROUGH', 'BLIND', 'UNDECIDED']);
    expect(made.reasons).toContain('depth-undecided');
    expect(sort(made.drawing, rules, { depths: { sheet: 10 } }).drawing).toBe(made.drawing);
  });
  it('by height before thickness, by thickness before colour, by colour before layer', () => {
    const d = holeOf(
      hole(10, { ...at(-10), centre: [10, 20, -10], thickness: -4 }),
      hole(30, { thickness: -4, look: red }),
      hole(50, { look: red, layer: 'ENGRAVE-1' }),
    );
    expect(layersOf(sort(d, rules, { depths }).drawing).slice(1)).toEqual(['THROUGH', 'BLIND', 'THROUGH']);
  });
  it('by an attribute of the block that is placed, a number or a word', () => {
    const d = placed([circle(0, 0, 5, { layer: 'H' })], [{ at: [20, 20] }]);
    const said = (words: string): Drawing =>
      ({
        ...d,
        layers: [...d.layers, newLayer('H')],
        entities: [
          ...drawn(box(0, 0, 40, 40)).entities.map((e) => ({ ...e, id: 900 })),
          ...d.entities.map((e) => ({
            ...e,
            attributes: [
              { ...(text(words, 0, 0) as object), id: 901, layer: '0', tag: 'DEPTH', look: DRAFTING_DEFAULT },
            ],
          })),
        ],
      }) as never;
    const layer = (words: string) =>
      [...sort(said(words), rules, { depths: { sheet: 10 } }).drawing.blocks.values()][0]!.entities[0]!.layer;
    expect(['10', '4', '3,5', 'Through', 'blind', '10 or so'].map(layer)).toEqual([
      'THROUGH',
      'BLIND',
      'BLIND',
      'THROUGH',
      'BLIND',
      'UNDECIDED',
    ]);
  });
});

describe('rules', () => {
  it('the first that takes an object counts; all named layers are there in order, the empty too; counts add up', () => {
    const d = drawn(line(0, 0, 9, 0), line(0, 1, 9, 1), text('T-01', 0, 0), text('note', 0, 5));
    const made = sort(d, [
      { role: 'label', words: 'T-*', to: 'NUMBERS' },
      { role: 'hole', to: 'HOLES' },
      { role: 'label', to: 'NOTES' },
      { more: { kind: 'line', smallest: 5 }, to: 'MARKS' },
    ]);
    expect(layersOf(made.drawing)).toEqual(['MARKS', 'MARKS', 'NUMBERS', 'NOTES']);
    expect(made.drawing.layers.map((l) => l.name).filter((n) => n !== '0')).toEqual([
      'NUMBERS',
      'HOLES',
      'NOTES',
      'MARKS',
    ]);
    expect(made.row('sorted-by-rules')).toMatchObject({ count: 4 });
    expect(made.reasons).toContain('rules-idle');
  });
  it('what none takes stays, goes onto one layer, or stops the step with its layers named', () => {
    const d = drawn(line(0, 0, 9, 0), text('note', 0, 5));
    const rules = [{ role: 'label', to: 'NOTES' }];
    expect(layersOf(sort(d, rules).drawing)).toEqual(['A', 'NOTES']);
    expect(layersOf(sort(d, rules, { rest: 'one', restLayer: 'REST' }).drawing)).toEqual(['REST', 'NOTES']);
    expect(() => sort(d, rules, { rest: 'ask' })).toThrow('no rule takes what lies on A (1)');
  });
  it('placed blocks go by their name, and what is placed as two things is left where it is, told', () => {
    const d = placed([circle(0, 0, 5, { layer: 'H' })], [{ at: [20, 20] }, { at: [200, 20] }]);
    const two = {
      ...d,
      layers: [...d.layers, newLayer('H')],
      entities: [...d.entities, { ...drawn(box(0, 0, 40, 40)).entities[0]!, id: 900 }],
    };
    const made = sort(two, [
      { more: { block: 'PAN*' }, to: 'FIXINGS' },
      { role: 'hole', to: 'HOLES' },
      { role: 'outer', to: 'OUTLINES' },
    ]);
    expect(layersOf(made.drawing)).toEqual(['FIXINGS', 'FIXINGS', 'OUTLINES']);
    expect([...made.drawing.blocks.values()][0]!.entities[0]!.layer).toBe('H');
    expect(made.reasons).toEqual(expect.arrayContaining(['shown-as-different-things', 'rules-idle']));
  });
  it('objects look as they did, whatever the new layer looks like', () => {
    const d = drawn(line(0, 0, 9, 0, { look: { ...DRAFTING_DEFAULT, stroke: { kind: 'byLayer' } } }));
    const layers = [
      { ...newLayer('A'), paint: { kind: 'rgb', rgb: 0x00aa00 } },
      { ...newLayer('B'), paint: { kind: 'rgb', rgb: 1 } },
    ];
    const made = sort({ ...d, layers } as Drawing, [{ more: { kind: 'line' }, to: 'B' }]);
    expect(made.entities[0]).toMatchObject({ layer: 'B', look: { stroke: { rgb: 0x00aa00 } } });
  });
});
