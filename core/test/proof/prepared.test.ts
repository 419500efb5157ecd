import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { translation } from '../../src/geometry/affine.js';
import type { Entity } from '../../src/drawing/entity.js';
import type { Stage } from '../../src/drawing/lineage.js';
import type { Drawing, IntakeDecisions, PlannedStep, Proof, Step } from '../../src/index.js';
import {
  ART_DEFAULT,
  DEFAULT_TARGETS,
  targetFor,
  KINDS_DEFAULT,
  NO_DECISIONS,
  STEPS,
  defaultsOf,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
  runSteps,
} from '../../src/index.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { DEMO, demoFile, drawingOf, fonts } from '../helpers.js';
import { PLAIN_TEXT } from '../sketches.js';

const at = (x: number, y: number, id: string): never =>
  ({ kind: 'line', start: [x, y, 0], end: [x + 1000, y, 0], key: id }) as never;
const rails = (): Drawing => drawingOf([0, 1, 2, 3].map((i) => at(0, 100 * i, `H${i}`)));
const moved = (e: Entity, by: number): Entity => (e.kind === 'line' ? { ...e, end: [e.end[0] + by, e.end[1], 0] } : e);

/** A step of one's own among the steps, run through the whole chain. */
function proofWith(source: Drawing, run: Step['run']): Proof {
  const step: Step = { id: 'own', title: 'Own step', summary: '', carries: ['curves'], params: {}, run };
  const taken = prepare(source, NO_DECISIONS, []);
  const stepped = runSteps(taken.drawing, [{ id: 'x', step: 'own', on: true, params: {} }], { fonts: fonts() }, [step]);
  const prepared = { drawing: stepped.drawing, ledger: stepped.ledger, stages: [...taken.stages, ...stepped.stages] };
  const made = deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'own.dxf', fonts());
  return proveDelivery(source, prepared, made, made.bytes, fonts());
}
const item = (proof: Proof, id: string): Proof['items'][number] => proof.items.find((i) => i.id === id)!;

describe('a step that says nothing', () => {
  it('drops every second entity and moves the end of every line by 500 mm: the proof does not hold', () => {
    for (const name of DEMO) {
      const source = readDrawing(demoFile(name), name).drawing;
      if (!source.unit || source.unit.unit === 'px' || !source.entities.some((e) => e.kind === 'line')) continue;
      const proof = proofWith(source, (d) => ({
        ...d,
        entities: d.entities.filter((_, i) => i % 2 === 0).map((e) => moved(e, 500)),
      }));
      expect(proof.holds).toBe(false);
      expect(item(proof, 'accounted')).toMatchObject({ state: 'atRisk' });
      expect(item(proof, 'accounted').explanation).toMatch(/^\d+ unexplained\. Own step: /);
    }
  });

  it('moves one line in a block by a tenth: unexplained', () => {
    const source = rails();
    source.blocks.set('clamp', {
      name: 'CLAMP',
      base: [0, 0, 0],
      entities: [{ ...source.entities[0]!, id: 50 }],
    } as never);
    const proof = proofWith(source, (d) => {
      const block = d.blocks.get('clamp')!;
      const blocks = new Map([['clamp', { ...block, entities: block.entities.map((e) => moved(e, 0.1)) }]]);
      return { ...d, blocks };
    });
    expect(item(proof, 'accounted').state).toBe('atRisk');
  });

  it('hangs a block by another point: unexplained', () => {
    const source = rails();
    source.blocks.set('clamp', {
      name: 'CLAMP',
      base: [0, 0, 0],
      entities: [{ ...source.entities[0]!, id: 50 }],
    } as never);
    const proof = proofWith(source, (d) => ({
      ...d,
      blocks: new Map([['clamp', { ...d.blocks.get('clamp')!, base: [0, 2, 0] as const }]]),
    }));
    expect(item(proof, 'accounted').explanation).toContain('block CLAMP hangs by another point');
  });
});

describe('a step that adds or doubles', () => {
  it('adds a line and says nothing: unexplained', () => {
    const proof = proofWith(rails(), (d) => ({ ...d, entities: [...d.entities, { ...d.entities[0]!, id: 77 }] }));
    expect(item(proof, 'accounted').explanation).toContain('1 unexplained. Own step: a line is new or was changed');
  });
  it('holds one line twice, or once what was there twice: counted', () => {
    const again = proofWith(rails(), (d) => ({ ...d, entities: [...d.entities, d.entities[0]!] }));
    expect(item(again, 'accounted')).toMatchObject({ state: 'atRisk', expected: '4', found: '5 prepared' });
    const source = rails();
    source.entities.push(source.entities[0]!);
    const once = proofWith(source, (d) => ({ ...d, entities: d.entities.slice(0, 4) }));
    expect(item(once, 'accounted')).toMatchObject({ state: 'atRisk', expected: '5', found: '4 prepared' });
  });
  it('names as gone what is there', () => {
    const proof = proofWith(rails(), (d, _p, { lineage }) => {
      lineage.remove(d.entities[0]!, 'double');
      return { ...d };
    });
    expect(item(proof, 'accounted').explanation).toContain('is named as gone and is there');
  });
  it('names one line as what two became', () => {
    const proof = proofWith(rails(), (d, _p, { lineage }) => {
      const one = { ...d.entities[0]!, id: 77 };
      lineage.replace(d.entities[0]!, [one], 'repainted');
      lineage.replace(d.entities[1]!, [one], 'repainted');
      return { ...d, entities: [one, ...d.entities.slice(2)] };
    });
    expect(item(proof, 'accounted').state).toBe('atRisk');
    expect(item(proof, 'accounted').explanation).toContain('is named twice');
  });
  it('recovers a circle further away than it says', () => {
    const bent = Float64Array.from(
      Array.from({ length: 24 }, (_, i) => [
        10 * Math.cos((i * Math.PI) / 12),
        (i === 3 ? 10.4 : 10) * Math.sin((i * Math.PI) / 12),
      ]).flat(),
    );
    const source = drawingOf([{ kind: 'polyline', points: bent, dim: 2, elevation: 0, closed: true } as never]);
    for (const [within, state] of [
      [0, 'atRisk'],
      [0.5, 'changed'],
    ] as const) {
      const proof = proofWith(source, (d, _p, { lineage }) => {
        const e = d.entities[0]!;
        const made: Entity = { kind: 'circle', id: e.id, layer: e.layer, look: e.look, centre: [0, 0, 0], radius: 10 };
        lineage.replace(e, [made], 'arcs-recovered', within);
        return { ...d, entities: [made] };
      });
      expect(item(proof, 'prepared-place').state).toBe(state);
    }
  });
});

it('what was moved before the drawing was scaled is told in the units of what was prepared', () => {
  const source = drawingOf([
    at(0, 0, 'A'),
    { kind: 'line', start: [1000.4, 0, 0], end: [1000.4, 900, 0], key: 'B' } as never,
  ]);
  const plan: PlannedStep[] = [
    { id: 'j', step: 'join-ends', on: true, params: { gap: 1, how: 'move' } },
    { id: 't', step: 'set-true-size', on: true, params: { measured: 1, actual: 5 } },
  ];
  const one = prepare(source, NO_DECISIONS, plan.slice(0, 1), { fonts: fonts() });
  const both = prepare(source, NO_DECISIONS, plan, { fonts: fonts() });
  const [a, b] = [one, both].map((p) => provePrepared(source, p.drawing, p.stages, fonts()));
  expect(a!.stated!.within).toBeCloseTo(0.4, 9);
  expect(b!.stated!.within).toBeCloseTo(2, 9);
});

describe('a step that says what is not so', () => {
  const say = (change: (e: Entity) => Entity[], within = 0): Proof =>
    proofWith(rails(), (d, _p, { lineage }) => ({
      ...d,
      entities: d.entities.flatMap((e) => {
        const to = change(e);
        lineage.replace(e, to, 'ends-joined', within);
        return to;
      }),
    }));

  it('keeps in place what it moved by 500 mm: told with how far and where', () => {
    const place = item(
      say((e) => [moved(e, 500)]),
      'prepared-place',
    );
    expect(place).toMatchObject({ state: 'atRisk', found: 'off by 500 mm', at: { x: 1500, y: 0 } });
    expect(place.explanation).toContain('Own step: a line on layer A');
  });
  it('moved no further than it says: a change, with the figure; further: at risk', () => {
    expect(
      item(
        say((e) => [moved(e, 0.4)], 0.5),
        'prepared-place',
      ),
    ).toMatchObject({ state: 'changed', expected: 'moved by 0.5 mm at most' });
    expect(
      item(
        say((e) => [moved(e, 0.6)], 0.5),
        'prepared-place',
      ).state,
    ).toBe('atRisk');
  });
  it('shortens by half, or adds a line beside: at risk', () => {
    expect(
      item(
        say((e) => [moved(e, -500)]),
        'prepared-place',
      ).state,
    ).toBe('atRisk');
    expect(
      item(
        say((e) => [{ ...e }, { ...(at(0, 50, 'N') as object), id: 99, layer: 'A', look: e.look } as Entity]),
        'prepared-place',
      ).state,
    ).toBe('atRisk');
  });
  it('names as gone what is there, as changed what never was, or one thing twice', () => {
    const source = rails();
    for (const lie of [
      (d: Drawing, l: Parameters<Step['run']>[2]['lineage']) => l.remove(d.entities[0]!, 'double'),
      (d: Drawing, l: Parameters<Step['run']>[2]['lineage']) =>
        l.replace({ ...d.entities[0]! }, [d.entities[0]!], 'repainted'),
      (d: Drawing, l: Parameters<Step['run']>[2]['lineage']) => l.add([{ ...d.entities[0]! }], 'gap-bridged'),
    ]) {
      const proof = proofWith(source, (d, _p, { lineage }) => {
        lie(d, lineage);
        return { ...d };
      });
      expect(item(proof, 'accounted').state).toBe('atRisk');
    }
  });
  it('moves all by a map but for one', () => {
    const proof = proofWith(rails(), (d, _p, { lineage }) => {
      lineage.move(translation(10, 0));
      const entities = d.entities.map((e, i) =>
        e.kind === 'line'
          ? {
              ...e,
              start: [e.start[0] + 10, e.start[1], 0] as const,
              end: [e.end[0] + (i === 2 ? 10.2 : 10), e.end[1], 0] as const,
            }
          : e,
      );
      return { ...d, entities };
    });
    expect(item(proof, 'prepared-place')).toMatchObject({
      state: 'atRisk',
      found: 'off by 0.2 mm',
      at: { x: 1010.2, y: 200 },
    });
  });
  it('moves a text, or a letter of it', () => {
    const text = {
      kind: 'text',
      text: 'KESTREL',
      at: [0, 0, 0],
      size: 50,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
      font: { family: 'Sans', weight: 400, italic: false },
    } as never;
    for (const change of [{ at: [0, 3, 0] }, { text: 'KESTRAL' }]) {
      const proof = proofWith(drawingOf([text]), (d, _p, { lineage }) => ({
        ...d,
        entities: d.entities.map((e) => {
          const to = { ...e, ...change } as Entity;
          lineage.replace(e, [to], 'repainted');
          return to;
        }),
      }));
      expect(item(proof, 'prepared-place').state).toBe('atRisk');
    }
  });
});

const every: Partial<IntakeDecisions>[] = [
  {},
  { layers: { mode: 'all', names: [] } },
  { plane: 'flat' },
  { correction: 2.5 },
  { origin: { mode: 'lowerLeft', x: 0, y: 0 } },
  { window: { minX: 0, minY: 0, maxX: 4000, maxY: 2000, touching: false } },
  { layersFrom: 'stroke' },
  ...(['break', 'group'] as const).map((blocks) => ({ kinds: { ...KINDS_DEFAULT, blocks } })),
  ...(['lines', 'leaveOut'] as const).map((dimensions) => ({ kinds: { ...KINDS_DEFAULT, dimensions } })),
  ...(['lines', 'outlines', 'leaveOut'] as const).map((hatches) => ({ kinds: { ...KINDS_DEFAULT, hatches } })),
  { art: { ...ART_DEFAULT, clips: 'whole' } as never },
  { art: { ...ART_DEFAULT, patterns: 'colour' } },
  { art: { ...ART_DEFAULT, gradients: 'mean' } },
];
const PARAMS: Record<string, PlannedStep['params'][]> = {
  'shift-origin': [{ to: 'centre' }],
  'set-true-size': [{ measured: 2, actual: 3 }],
  'break-up-blocks': [{ named: '*' }, { named: '*', deep: 'no' }],
  'flatten-dimensions': [{ to: 'lines' }, { to: 'nothing' }],
  'flatten-hatches': ['lines', 'fills', 'outlines', 'nothing'].map((to) => ({ to, which: 'all' })),
  'join-ends': [{ how: 'move' }, { how: 'bridge' }],
  'lettering-on-curve': [{ text: 'Kestrel', along: 'circle', radius: 500, height: 80 }],
  'text-to-outlines': [{ form: 'outlines' }, { form: 'lines' }],
  'sort-by-rule': [
    { by: 'stroke' },
    {
      by: 'rules',
      rules: [
        { role: 'hole', to: 'HOLES' },
        { role: 'label', to: 'NOTES' },
      ],
    },
  ],
  'curves-to-arcs': [{}, { kinds: 'polylines' }],
  'build-regions': [{}, { within: 1, names: 'layer', overlaps: 'apart' }],
  'order-for-cutting': [{}, { how: 'parts', marks: 'among' }],
  'labels-inside': [{}, { least: 1, aside: 'layer' }],
};
const sources = DEMO.map((name) => [name, readDrawing(demoFile(name), name).drawing] as const);
const decided = (d: Drawing): Partial<IntakeDecisions> =>
  d.unit === null ? { unit: 'mm' } : d.unit.unit === 'px' ? { pxPerInch: 96 } : {};
const findings = (
  source: Drawing,
  p: { drawing: Drawing; stages: readonly Stage[] },
): ReturnType<typeof provePrepared> => provePrepared(source, p.drawing, p.stages, fonts());
const quiet = { unexplained: [], displaced: [] };

describe.each(sources)('%s', (_name, source) => {
  it('is explained and in place whatever is decided on taking in', () => {
    for (const decisions of every) {
      const p = prepare(source, { ...NO_DECISIONS, ...decided(source), ...decisions }, [], { fonts: fonts() });
      expect({ decisions, ...findings(source, p) }).toMatchObject({ decisions, ...quiet });
    }
  }, 60_000);

  it.each(STEPS.map((s) => s.id))(
    'is explained and in place after %s',
    (id) => {
      for (const params of PARAMS[id] ?? [{}]) {
        const plan = [
          { id: 's', step: id, on: true, params: { ...defaultsOf(STEPS.find((s) => s.id === id)!.params), ...params } },
        ];
        const p = prepare(source, { ...NO_DECISIONS, ...decided(source) }, plan, { fonts: fonts() });
        expect({ params, ...findings(source, p) }).toMatchObject({ params, ...quiet });
      }
    },
    60_000,
  );
});

it('whatever one step changes of its own accord in one entity is found', () => {
  const plans = STEPS.flatMap(({ id, params }) =>
    (PARAMS[id] ?? [{}]).map((p): PlannedStep => ({
      id: 's',
      step: id,
      on: true,
      params: { ...defaultsOf(params), ...p },
    })),
  );
  fc.assert(
    fc.property(
      fc.nat({ max: sources.length - 1 }),
      fc.constantFrom(...plans),
      fc.nat(),
      fc.boolean(),
      (which, plan, pick, drop) => {
        const source = sources[which]![1];
        const p = prepare(source, { ...NO_DECISIONS, ...decided(source) }, [plan], { fonts: fonts() });
        const last = p.stages.at(-1);
        if (!last || last.after.entities.length === 0) return;
        const k = pick % last.after.entities.length;
        const bad = last.after.entities.flatMap((e, i) => (i !== k ? [e] : drop ? [] : [shifted(e)]));
        const after = { ...last.after, entities: bad };
        const found = findings(source, { drawing: after, stages: [...p.stages.slice(0, -1), { ...last, after }] });
        expect(found.unexplained.length + found.displaced.length).toBeGreaterThan(0);
      },
    ),
    { numRuns: 50 },
  );
}, 120_000);

it('what lies on a sheet stays as it is when the model moves', () => {
  const source = sources.find(([, d]) => d.entities.some((e) => e.kind === 'viewport' && e.number !== 1))![1];
  const plan = { id: 's', step: 'shift-origin', on: true, params: { to: 'centre' } };
  const p = prepare(source, { ...NO_DECISIONS, ...decided(source) }, [plan], { fonts: fonts() });
  const last = p.stages.at(-1)!;
  const with_ = (change: (e: Entity) => Entity): number => {
    const after = { ...last.after, entities: last.after.entities.map((e) => (e.sheet === undefined ? e : change(e))) };
    return findings(source, { drawing: after, stages: [...p.stages.slice(0, -1), { ...last, after }] }).unexplained
      .length;
  };
  const onSheet = source.entities.filter((e) => e.sheet !== undefined);
  const windows = onSheet.filter((e) => e.kind === 'viewport').length;
  expect(with_((e) => e)).toBe(0);
  expect(with_((e) => (e.kind === 'viewport' ? e : { ...e }))).toBe(onSheet.length - windows);
  expect(with_((e) => (e.kind === 'viewport' ? { ...e, width: e.width + 1 } : e))).toBe(windows);
});

/** An entity that is another now, seen or not: its end, corner or place lies a unit further. */
function shifted(e: Entity): Entity {
  // Letters along a path lie where the path does, whatever the place of their text.
  if (e.kind === 'text' && e.along) return { ...e, id: e.id + 100_000 };
  for (const field of ['at', 'start', 'centre'] as const)
    if (field in e) {
      const v = (e as unknown as Record<string, unknown>)[field];
      if (Array.isArray(v)) return { ...e, [field]: [v[0] + 1, v[1], v[2]] } as Entity;
    }
  if ('points' in e && e.points instanceof Float64Array)
    return { ...e, points: e.points.map((v, i) => (i === 0 ? v + 1 : v)) } as Entity;
  if (e.kind === 'path') return { ...e, path: { ...e.path, data: e.path.data.map((v, i) => (i < 2 ? v + 1 : v)) } };
  return { ...e, id: e.id + 100_000 };
}

it('a circle that is recovered claims how far it lies off the chords it was drawn as', () => {
  const points = Float64Array.from(
    Array.from({ length: 48 }, (_, i) => {
      const r = i === 7 ? 100.06 : 100;
      const t = (i * Math.PI) / 24;
      return [r * Math.cos(t), r * Math.sin(t)];
    }).flat(),
  );
  const d = drawingOf([{ kind: 'polyline', points, dim: 2, elevation: 0, closed: true } as never]);
  const { stages } = runSteps(d, [{ id: 's', step: 'recover-circles', on: true, params: {} }]);
  const { claim } = stages[0]!.descents[0]!;
  expect(claim.kind === 'kept' ? claim.within : 0).toBeGreaterThan(0.02);
});

describe('what delivering itself does to the prepared drawing', () => {
  it('is held to the map and to what was asked for: another unit, letters as shapes', () => {
    for (const [name, source] of sources) {
      const p = prepare(source, { ...NO_DECISIONS, ...decided(source) }, [], { fonts: fonts() });
      for (const target of [{ unit: 'in' }, { text: 'outlines' }] as const) {
        const made = deliver(p.drawing, targetFor('dxf', target), name, fonts());
        expect(made.stages.length).toBeGreaterThan(0);
        expect({
          name,
          target,
          ...provePrepared(source, made.written, [...p.stages, ...made.stages], fonts()),
        }).toMatchObject({ name, target, ...quiet });
      }
    }
  }, 60_000);
  it('is at risk where what was written is not what that leads to', () => {
    const source = rails();
    const p = prepare(source, NO_DECISIONS, []);
    const made = deliver(p.drawing, targetFor('dxf', { unit: 'in' }), 'x', fonts());
    const bad = { ...made.written, entities: made.written.entities.map((e, i) => (i === 1 ? moved(e, 0.02) : e)) };
    const last = made.stages.at(-1)!;
    const stages = [...made.stages.slice(0, -1), { ...last, after: bad }];
    const proof = proveDelivery(
      source,
      p,
      { ...made, written: bad, stages },
      deliver({ ...bad }, targetFor('dxf', { unit: 'in' }), 'x', fonts()).bytes,
      fonts(),
    );
    expect(proof.holds).toBe(false);
    expect(item(proof, 'accounted').state).toBe('atRisk');
  });
});
