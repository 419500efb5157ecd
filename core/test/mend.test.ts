import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../src/index.js';
import {
  CHECKS,
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  runChecks,
  runSteps,
  stepById,
  valuesOf,
} from '../src/index.js';
import { drawingOf, fonts, risks } from './helpers.js';

const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A') => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
  layer,
});
const polyline = (points: number[], more: object = {}) => ({
  kind: 'polyline',
  points: Float64Array.from(points),
  dim: 2,
  elevation: 0,
  closed: false,
  layer: 'A',
  ...more,
});
const arc = (x: number, y: number, radius: number, start: number, end: number) => ({
  kind: 'arc',
  centre: [x, y, 0],
  radius,
  start,
  end,
  layer: 'A',
});
const made = (entities: object[]): Drawing => drawingOf(entities as never);
const run = (d: Drawing, step: string, params: Kept = {}) => runSteps(d, [{ id: 's', step, on: true, params }]);
const gaps = (d: Drawing) => runChecks(d).filter((f) => f.check === 'open-outlines');

describe('joining ends', () => {
  it('two straight ends meet half way; the ledger says how far they went', () => {
    const { drawing, ledger } = run(made([line(0, 0, 100, 0), line(100.4, 0.3, 100.4, 80)]), 'join-ends');
    expect(drawing.entities.map((e) => e.kind === 'line' && [e.start, e.end])).toEqual([
      [
        [0, 0, 0],
        [100.2, 0.15, 0],
      ],
      [
        [100.2, 0.15, 0],
        [100.4, 80, 0],
      ],
    ]);
    expect(ledger[0]!.deviation).toEqual({ value: 0.25, unit: 'mm' });
    expect(gaps(drawing)).toEqual([]);
  });
  it('a straight end goes to a curved one; two curved ones get a short line', () => {
    const toArc = run(made([line(0, 0, 99.7, 0), arc(100, 10, 10, -Math.PI / 2, 0)]), 'join-ends').drawing;
    expect(toArc.entities[0]).toMatchObject({ end: [expect.closeTo(100, 9), expect.closeTo(0, 9), 0] });
    const arcs = run(made([arc(0, 10, 10, -Math.PI / 2, 0), arc(20.2, 10, 10, Math.PI, 1.5 * Math.PI)]), 'join-ends', {
      gap: 0.5,
    }).drawing;
    expect(arcs.entities.map((e) => e.kind)).toEqual(['arc', 'arc', 'line']);
    expect(gaps(arcs).filter((f) => f.size! < 0.5)).toEqual([]);
  });
  it('an outline whose ends nearly meet is closed, arcs and all', () => {
    const open = polyline([0, 0, 100, 0, 100, 50, 0, 50, 0, 0.3], { bulges: Float64Array.of(0, 0.5, 0, 0, 0) });
    const [e] = run(made([open]), 'join-ends').drawing.entities;
    expect(e).toMatchObject({ closed: true });
    expect(e!.kind === 'polyline' && [e.points.length / 2, [...e.bulges!]]).toEqual([4, [0, 0.5, 0, 0]]);
    expect(gaps(run(made([open]), 'join-ends').drawing)).toEqual([]);
  });
  it('by a short line on request; nothing wider than asked, nothing across layers', () => {
    const bridged = run(made([line(0, 0, 100, 0), line(100.4, 0.3, 100.4, 80)]), 'join-ends', {
      how: 'bridge',
    }).drawing;
    expect(bridged.entities[2]).toMatchObject({ kind: 'line', start: [100, 0, 0], end: [100.4, 0.3, 0] });
    const kept = made([line(0, 0, 100, 0), line(100.4, 0.3, 100.4, 80)]);
    expect(run(kept, 'join-ends', { gap: 0.2 }).drawing.entities).toEqual(kept.entities);
  });
});

describe('clearing doubles', () => {
  const d = made([line(0, 0, 9, 0), line(9, 0, 0, 0), line(0, 0, 9, 0, 'B'), line(4, 4, 4, 4), line(0, 5, 5, 5)]);
  it('the first of each stays, whichever way the others run; other layers are other lines', () => {
    expect(run(d, 'clear-doubles', { what: 'doubles' }).drawing.entities.map((e) => e.id)).toEqual([1, 3, 4, 5]);
  });
  it('curves without length go too', () => {
    expect(run(d, 'clear-doubles').drawing.entities.map((e) => e.id)).toEqual([1, 3, 5]);
    expect(run(d, 'clear-doubles', { what: 'lengthless' }).drawing.entities.map((e) => e.id)).toEqual([1, 2, 3, 5]);
  });
});

it('every mend names a step that takes its parameters, and leaves nothing of what was found', () => {
  const bad = made([
    line(0, 0, 100, 0),
    line(100.4, 0.3, 100.4, 80),
    line(0, 0, 100, 0),
    line(7, 7, 7, 7),
    polyline([0, 200, 50, 200, 50, 240, 0, 240, 0, 200.2]),
  ]);
  for (const check of CHECKS) {
    if (!check.mend) continue;
    expect(stepById(check.mend.step), check.id).toBeDefined();
    const settings = valuesOf(check.params, {}, bad.unit);
    const found = check.run(bad, settings);
    const { drawing } = run(bad, check.mend.step, check.mend.params(settings, bad.unit, found));
    expect(check.run(drawing, valuesOf(check.params, {}, drawing.unit)), check.id).toEqual([]);
  }
});

it.each([
  // R12 has 31 letters, digits, $, - and _.
  ['r12', ['Tür/links', 'Tur-links-', 'ROOF', 'a'.repeat(40)], ['Tur-links', 'Tur-links-', 'ROOF', 'a'.repeat(31)]],
  ['r12', ['A B', 'A.B', 'a/b'], ['A-B', 'A-B-2', 'a-b-3']],
  ['dxf', ['Posts*', 'Posts|old', 'GLAZING', ' edge '], ['Posts-', 'Posts-old', 'GLAZING', 'edge']],
] as const)(
  'layer names that %s does not take are charted to such that it does, each to its own',
  (receiver, names, expected) => {
    const check = CHECKS.find((c) => c.id === 'layer-names')!;
    const bad = made(names.map((layer, i) => line(0, 10 * i, 9, 10 * i, layer)));
    const settings = valuesOf(check.params, { for: receiver }, bad.unit);
    const { drawing } = run(bad, check.mend!.step, check.mend!.params(settings, bad.unit, check.run(bad, settings)));
    expect(drawing.entities.map((e) => e.layer)).toEqual(expected);
    expect(check.run(drawing, settings)).toEqual([]);
  },
);

it('a mended drawing is proven', () => {
  const bad = made([line(0, 0, 100, 0), line(100.4, 0.3, 100.4, 80), line(0, 0, 100, 0), line(7, 7, 7, 7)]);
  const steps = ['clear-doubles', 'join-ends'].map((step) => ({ id: step, step, on: true, params: {} }));
  const prepared = prepare(bad, NO_DECISIONS, steps);
  const file = deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'x.dxf', fonts());
  expect(risks(proveDelivery(bad, prepared, file, file.bytes, fonts()))).toEqual([]);
});
