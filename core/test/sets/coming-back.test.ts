import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, Target } from '../../src/index.js';
import {
  NO_DECISIONS,
  comingBack,
  deliver,
  originsOf,
  plannedStep,
  prepare,
  readDrawing,
  runSteps,
  sentIn,
  stepById,
  targetFor,
} from '../../src/index.js';
import { newLayer } from '../../src/drawing/drawing.js';
import { hex } from '../../src/drawing/palette.js';
import { fonts } from '../helpers.js';
import { circle, drawn, line } from '../steps/judge.js';

const on = (layer: string, e: never): never => ({ ...(e as object), layer }) as never;
/** Thirty-two objects on eight layers, four each, every layer in a colour of its own. */
function source(): Drawing {
  const made = drawn(...Array.from({ length: 32 }, (_, i) => on(`L${i % 8}`, circle(10 * i, 0, 2 + (i % 5)))));
  const layers = made.layers.map((l, i) => newLayer(l.name, { kind: 'rgb', rgb: 0x101010 * (i + 1) }));
  const file = deliver({ ...made, layers }, targetFor('dxf'), 'plan.dxf', fonts());
  return readDrawing(file.bytes, file.name).drawing;
}
const chart = (rows: { from: string; to: string }[], rest = 'keep') =>
  plannedStep(stepById('chart-layers')!, 'c', { chart: rows, rest } as never);

/** What left by a chart, each object with what it was. */
function sentBy(d: Drawing, steps: Parameters<typeof prepare>[2], target: Target = targetFor('dxf')) {
  const prepared = prepare(d, NO_DECISIONS, steps);
  const made = deliver(prepared.drawing, target, 'plan.dxf', fonts());
  const file = readDrawing(made.bytes, made.name).drawing;
  const sent = sentIn(made.written, file, [...prepared.stages, ...made.stages]);
  return { file, sent };
}

describe('thirty-two objects that left on one layer', () => {
  const d = source();
  const { file, sent } = sentBy(d, [chart([{ from: '*', to: 'ALL' }])]);
  // Two are gone, one was moved, three are new.
  const [first, ...others] = file.entities.slice(2) as [Entity, ...Entity[]];
  const moved = {
    ...first,
    centre: [(first as unknown as { centre: number[] }).centre[0]! + 500, 40, 0],
  } as never as Entity;
  const fresh = [900, 910, 920].map(
    (x, i) => ({ ...first, id: 9000 + i, key: `F0${i}`, centre: [x, 9, 0], radius: 1.5 }) as never as Entity,
  );
  const returned: Drawing = { ...file, entities: [moved, ...others, ...fresh], nextId: 9100 };
  const found = comingBack(d, sent, file, returned);

  it('come back: 29 by their place and 1 by its handle, 2 are gone, 3 new ones stay undecided', () => {
    expect(sent).toHaveLength(32);
    expect(found).toMatchObject({ byPlace: 29, byHandle: 1, gone: 2, fresh: 3, charted: 0, beyond: 0 });
    expect(found.undecided).toEqual([
      { layer: 'ALL', objects: 3, from: ['L0', 'L1', 'L2', 'L3', 'L4', 'L5', 'L6', 'L7'] },
    ]);
  });
  it('are on their own layers again, in their own colours', () => {
    const made = runSteps(returned, [found.step!]).drawing;
    const was = new Map(d.entities.map((e, i) => [i, e.layer]));
    const back = made.entities.slice(0, 30);
    expect(back.map((e) => e.layer)).toEqual(Array.from({ length: 30 }, (_, i) => was.get(i + 2)));
    expect(made.entities.slice(30).map((e) => e.layer)).toEqual(['ALL', 'ALL', 'ALL']);
    const colours = Object.fromEntries(
      made.layers.map((l) => [l.name, l.paint.kind === 'rgb' ? hex(l.paint.rgb) : '']),
    );
    expect(colours['L2']).toBe('#303030');
    expect(back.every((e) => e.look.stroke.kind === 'byLayer')).toBe(true);
  });
  it('law: a file that comes back untouched has every object back on its layer', () => {
    const same = comingBack(d, sent, file, file);
    expect(same).toMatchObject({ byPlace: 32, byHandle: 0, gone: 0, fresh: 0 });
    const made = runSteps(file, [same.step!]).drawing;
    expect(made.entities.map((e) => e.layer)).toEqual(d.entities.map((e) => e.layer));
  });
});

describe('the chart backwards', () => {
  const d = drawn(on('WALLS', line(0, 0, 9, 0)), on('DOORS', line(0, 3, 9, 3)), on('WINDOWS', line(0, 6, 9, 6)));
  const { file, sent } = sentBy(d, [
    chart([
      { from: 'WALLS', to: 'A-WALL' },
      { from: '*', to: 'A-OPEN' },
    ]),
  ]);
  const fresh = ['A-WALL', 'A-OPEN', 'NOTES'].map(
    (layer, i) =>
      ({
        ...file.entities[0]!,
        layer,
        id: 500 + i,
        key: `E0${i}`,
        start: [i, 90, 0],
        end: [i, 95, 0],
      }) as never as Entity,
  );
  const returned = { ...file, entities: [...file.entities, ...fresh], nextId: 900 };
  const found = comingBack(d, sent, file, returned);
  it('takes what is new where a layer came from one alone, and leaves and lists the rest', () => {
    expect(found).toMatchObject({ fresh: 3, charted: 1 });
    expect(found.undecided).toEqual([
      { layer: 'A-OPEN', objects: 1, from: ['DOORS', 'WINDOWS'] },
      { layer: 'NOTES', objects: 1, from: [] },
    ]);
    const made = runSteps(returned, [found.step!]).drawing;
    expect(made.entities.map((e) => e.layer)).toEqual(['WALLS', 'DOORS', 'WINDOWS', 'WALLS', 'A-OPEN', 'NOTES']);
  });
});

describe('where objects came from', () => {
  it('is followed through steps that move, join and take away', () => {
    const d = drawn(on('A', line(0, 0, 5, 0)), on('A', line(5, 0, 10, 0)), on('B', circle(50, 0, 3)));
    const steps = [
      plannedStep(stepById('shift-origin')!, 's'),
      plannedStep(stepById('chain-outlines')!, 'c'),
      plannedStep(stepById('keep-layers')!, 'k', { names: 'A' }),
    ];
    const prepared = prepare(d, NO_DECISIONS, steps);
    const origins = originsOf(prepared.stages);
    expect(prepared.drawing.entities.map((e) => origins(e).map((o) => o.layer))).toEqual(
      prepared.drawing.entities.length === 1 ? [['A', 'A']] : [['A'], ['A']],
    );
  });
});
