import { Ajv } from 'ajv';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Kept, Parameter, ParameterSet } from '../../src/index.js';
import {
  CHECKS,
  STEPS,
  defaultsOf,
  faultOf,
  faultsOf,
  jsonSchemaOf,
  lengthWithUnit,
  p,
  soundOf,
  valuesOf,
} from '../../src/index.js';

/** One of every kind there is: the compiler asks for one more when there is another. */
const SAMPLES: { readonly [K in Parameter['kind']]: Parameter } = {
  length: p.length({ title: 'Gap', default: 1, above: 0, atMost: 100 }),
  area: p.area({ title: 'Area', default: 4, above: 0, atMost: 1e6 }),
  angle: p.angle({ title: 'Turn', default: 90, atLeast: -360 }),
  number: p.number({ title: 'Copies', default: 2, whole: true, atLeast: 1, atMost: 9 }),
  yesNo: p.yesNo({ title: 'Deep', default: true }),
  text: p.text({ title: 'Words', default: 'Kestrel Row', maxLength: 20 }),
  choice: p.choice({ title: 'How', default: 'one', choices: { one: 'One', two: 'Two' } }),
  colour: p.colour({ title: 'Ink', default: '#1a2b3c' }),
  font: p.font({ title: 'Font', default: 'Spline Sans' }),
  point: p.point({ title: 'Place' }),
  picked: p.picked({ title: 'Curves', atMost: 2 }),
  layers: p.layers({ title: 'Layers' }),
  selection: p.selection({ title: 'Which' }),
  drawing: p.drawing({ title: 'Template' }),
  file: p.file({ title: 'Chart' }),
  list: p.list({ title: 'Heights', item: p.length({ title: 'Height', default: 5, above: 0 }), atMost: 3 }),
  chart: p.chart({ title: 'Inks', of: 'colour', columns: ['from', 'to'], atMost: 2 }),
  group: p.group({
    title: 'Frame',
    params: { on: p.yesNo({ title: 'On', default: false }), by: p.length({ title: 'By', default: 1 }) },
  }),
  optional: p.optional(p.number({ title: 'At most', default: 3, above: 0 }), 'no limit'),
};
const KIND_NAMES = Object.keys(SAMPLES) as Parameter['kind'][];

/** What anybody might send: values that fit some kind, values that nearly do, and anything at all. */
const likely = fc.constantFrom<unknown>(
  0,
  1,
  2,
  2.5,
  -1,
  9,
  10,
  100,
  101,
  -360,
  -361,
  Number.MAX_VALUE,
  true,
  false,
  null,
  '',
  'one',
  'two',
  'three',
  'toString',
  '__proto__',
  'Spline Sans',
  '#1a2b3c',
  '#1A2B3',
  '#1a2b3g',
  'x'.repeat(21),
  'x'.repeat(1001),
  [],
  ['a'],
  ['a', 'b', 'c'],
  [1, 5, 9],
  [1, 2, 3, 4],
  [0],
  {},
  { x: 1, y: 2 },
  { x: 1, y: { value: 2, unit: 'in' } },
  { x: 1 },
  { x: 1, y: 2, z: 3 },
  { value: 5, unit: 'mm' },
  { value: 0, unit: 'mm' },
  { value: 5, unit: 'parsecs' },
  { value: 5 },
  { value: '5', unit: 'mm' },
  { value: 5, unit: 'mm', by: 'hand' },
  { mode: 'all', names: [] },
  { mode: 'chosen', names: ['ROOF'] },
  { mode: 'some', names: [] },
  { mode: 'all', names: [1] },
  { layers: '*', kinds: ['line'], stroke: '', fill: '#ffffff' },
  { layers: '*', kinds: ['lines'], stroke: '', fill: '' },
  { layers: '', kinds: [], stroke: 'red', fill: '' },
  { layers: '', kinds: [] },
  [{ from: '#000000', to: '#ff0000' }],
  [{ from: 'black', to: '#ff0000' }],
  [{ from: '#000000' }],
  [{ from: '#000000', to: '#ff0000', by: 1 }],
  { on: true, by: 2 },
  { on: 1 },
  { by: { value: 1, unit: 'cm' } },
  { off: true },
);

describe('what is wrong with parameters', () => {
  test.each(KIND_NAMES)('%s: our judge and JSON Schema agree about whatever is sent', (kind) => {
    const set: ParameterSet = { it: SAMPLES[kind] };
    const accepts = new Ajv({ strict: false }).compile(jsonSchemaOf(set));
    const same = (value: unknown): void => {
      const sent = { it: value };
      expect(faultsOf(set, sent).length === 0, JSON.stringify(value)?.slice(0, 100)).toBe(accepts(sent));
    };
    fc.assert(fc.property(fc.oneof({ arbitrary: likely, weight: 3 }, fc.jsonValue({ maxDepth: 3 })), same), {
      numRuns: 400,
    });
    expect(faultOf(set, defaultsOf(set)), 'its default').toBeNull();
  });

  test('each kind refuses something, and says where', () => {
    for (const kind of KIND_NAMES) expect(faultOf({ it: SAMPLES[kind] }, { it: { odd: [] } }), kind).not.toBeNull();
    expect(faultsOf({ it: SAMPLES.list }, { it: [5, 0, -1] }).map((f) => f.path.join('.'))).toEqual(['it.1', 'it.2']);
    expect(faultsOf({ it: SAMPLES.group }, { it: { by: 'far' } })).toEqual([
      { path: ['it', 'by'], message: 'By must be a length' },
    ]);
    expect(faultOf({ it: SAMPLES.length }, { it: { value: 0, unit: 'mm' } })).toBe('Gap must be above 0');
    expect(faultOf({}, { it: 1 })).toBe('"it" is not a parameter');
    expect(faultOf({ it: SAMPLES.yesNo }, null)).toBe('parameters are an object');
    expect(faultOf({ it: SAMPLES.yesNo }, { constructor: true })).toBe('"constructor" is not a parameter');
  });

  test('only what is wrong is left out where settings must not stop anybody', () => {
    const set = { gap: SAMPLES.length, how: SAMPLES.choice };
    expect(soundOf(set, { gap: -3, how: 'two', old: 1 })).toEqual({ how: 'two' });
  });
});

describe('lengths', () => {
  const set = {
    gap: p.length({ title: 'Gap', default: 2 }),
    at: p.point({ title: 'Place' }),
    rows: p.list({ title: 'Rows', item: p.length({ title: 'Row', default: 1 }), atMost: 5 }),
    frame: p.optional(p.group({ title: 'Frame', params: { by: p.length({ title: 'By', default: 3 }) } }), 'none'),
    turn: p.angle({ title: 'Turn', default: 30 }),
  };
  const inch = { value: 1, unit: 'in' as const };

  test('are counted in the unit of the drawing, wherever they stand', () => {
    const kept: Kept = {
      gap: { value: 5, unit: 'cm' },
      at: { x: inch, y: 7 },
      rows: [inch, 4],
      frame: { by: { value: 0.5, unit: 'ft' } },
    };
    const values = valuesOf(set, kept, { unit: 'mm', factor: 1 });
    expect(values).toEqual({ gap: 50, at: { x: 25.4, y: 7 }, rows: [25.4, 4], frame: { by: 152.4 }, turn: 30 });
  });

  test('plain numbers are the drawing’s own, and what is missing is the default', () => {
    const values = valuesOf(set, { gap: 5, frame: {} }, null);
    expect(values).toEqual({ gap: 5, at: { x: 0, y: 0 }, rows: [], frame: { by: 3 }, turn: 30 });
  });

  test('a coordinate that is more than one of its unit takes fewer of them', () => {
    const { gap } = valuesOf(set, { gap: { value: 50, unit: 'mm' } }, { unit: 'cm', factor: 2.5 });
    expect(gap).toBe(2);
  });

  test('0.05 mm is 0.00197 in in a drawing in inches', () => {
    const { gap } = valuesOf(set, { gap: { value: 0.05, unit: 'mm' } }, { unit: 'in', factor: 1 });
    expect(gap.toPrecision(3)).toBe('0.00197');
  });

  test('that carry a unit stop where nobody has stated the drawing’s, and say what to do', () => {
    for (const unit of [null, { unit: 'px' as const, factor: 1 }])
      expect(() => valuesOf(set, { gap: inch }, unit)).toThrow(/Gap is given in in, but nobody has stated the unit/);
  });

  test('given by hand keep the unit of the drawing they were given for', () => {
    expect(lengthWithUnit(3, { unit: 'm', factor: 1 })).toEqual({ value: 3, unit: 'm' });
    expect(lengthWithUnit(3, null)).toBe(3);
    expect(lengthWithUnit(3, { unit: 'px', factor: 1 })).toBe(3);
  });
});

test('every step and check says what it asks for in full: defaults that stand, titles, whens that can come true', () => {
  for (const { id, params } of [...STEPS, ...CHECKS]) {
    expect(faultOf(params, defaultsOf(params)), id).toBeNull();
    for (const [name, one] of Object.entries(params)) {
      expect(one.title, `${id}.${name}`).toMatch(/\S/);
      // One value, or several of which each counts.
      for (const [other, wanted] of Object.entries(one.when ?? {}))
        for (const value of [wanted].flat() as Kept[string][])
          expect(faultOf(params, { [other]: value }), `${id}.${name} when ${other}`).toBeNull();
    }
  }
});
