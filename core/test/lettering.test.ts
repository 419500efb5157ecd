import { describe, expect, it } from 'vitest';
import type { Entity, PlannedStep } from '../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, proveDelivery, refOf, runSteps } from '../src/index.js';
import { IDENTITY } from '../src/geometry/affine.js';
import { flattenEntity } from '../src/drawing/flatten.js';
import { drawingOf, fonts, risks } from './helpers.js';
import { PLAIN_TEXT } from './sketches.js';

const base = drawingOf([
  { kind: 'line', start: [0, 0, 0], end: [100, 0, 0] } as never,
  { kind: 'circle', centre: [200, 0, 0], radius: 30 } as never,
]);
const set = (params: Record<string, string | number>) => {
  const step = { id: 's', step: 'lettering-on-curve', on: true, params: { text: 'HHH', height: 5, ...params } };
  const { drawing, ledger } = runSteps(base, [step], { fonts: fonts() });
  return { letters: drawing.entities.slice(2), drawing, ledger };
};
const ref = (): string => refOf(base.entities[0]!, base);
const points = (list: Entity[]): [number, number][] => {
  const out: [number, number][] = [];
  for (const e of list)
    flattenEntity(e, IDENTITY, 0.01, { moveTo: (x, y) => out.push([x, y]), lineTo: (x, y) => out.push([x, y]) });
  return out;
};
const distances = (list: Entity[], x: number, y: number): number[] =>
  points(list).map((p) => Math.hypot(p[0] - x, p[1] - y));

describe('lettering on a circle', () => {
  it('stands outside: feet on the circle, heads as far out as capitals are high', () => {
    const { letters } = set({ along: 'circle', x: 200, y: 0, radius: 30 });
    const d = distances(letters, 200, 0);
    expect(letters.length).toBe(3);
    // The foot of a letter is straight: its ends stand off the circle by less than a tenth.
    expect(Math.min(...d)).toBeCloseTo(30, 1);
    expect(Math.max(...d)).toBeGreaterThan(35);
    expect(Math.max(...d)).toBeLessThan(35.3);
    const ys = points(letters).map((p) => p[1]);
    expect(Math.min(...ys)).toBeGreaterThan(28);
  });
  it('stands inside when asked to, and off the circle by the gap', () => {
    const inside = distances(
      set({ along: 'circle', x: 200, y: 0, radius: 30, side: 'under', angle: 270 }).letters,
      200,
      0,
    );
    expect(Math.max(...inside)).toBeLessThan(30.3);
    expect(Math.min(...inside)).toBeLessThan(25.1);
    const off = distances(set({ along: 'circle', x: 200, y: 0, radius: 30, gap: 2 }).letters, 200, 0);
    expect(Math.min(...off)).toBeCloseTo(32, 1);
  });
  it('reads from left to right on top and at the bottom', () => {
    const middles = (side: string, angle: number): number[] =>
      set({ along: 'circle', x: 200, y: 0, radius: 30, text: 'HI', side, angle }).letters.map((e) => {
        const xs = points([e]).map((p) => p[0]);
        return (Math.min(...xs) + Math.max(...xs)) / 2;
      });
    for (const [h, i] of [middles('over', 90), middles('under', 270)]) expect(h).toBeLessThan(i!);
  });
});

it('lettering and text turned to outlines are accounted for: the proof holds', () => {
  const source = {
    ...base,
    entities: [
      ...base.entities,
      {
        kind: 'text',
        id: 9,
        layer: 'A',
        look: base.entities[0]!.look,
        text: 'Row 7',
        at: [0, 40, 0],
        size: 5,
        sizeOf: 'capital',
        ...PLAIN_TEXT,
        letters: [{ at: 1, dx: 0.2, dy: 0, turn: 0 }],
      } as Entity,
    ],
    nextId: 10,
  };
  const steps: PlannedStep[] = [
    { id: 'a', step: 'lettering-on-curve', on: true, params: { text: 'HH', along: 'circle', radius: 30, height: 5 } },
    { id: 'b', step: 'text-to-outlines', on: true, params: { form: 'outlines' } },
  ];
  const prepared = prepare(source, NO_DECISIONS, steps, { fonts: fonts() });
  const made = deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'x.dxf', fonts());
  expect(risks(proveDelivery(source, prepared, made, made.bytes, fonts()))).toEqual([]);
});

describe('lettering on a picked curve', () => {
  it('begins at its start, sits in its middle, ends at its end', () => {
    const xs = (align: string): number[] =>
      points(set({ along: 'curve', curve: ref(), align }).letters).map((p) => p[0]);
    const [start, middle, end] = [xs('start'), xs('middle'), xs('end')];
    expect(Math.min(...start)).toBeLessThan(2);
    expect((Math.min(...middle) + Math.max(...middle)) / 2).toBeCloseTo(50, 0);
    expect(Math.max(...end)).toBeGreaterThan(98);
  });
  it('under it, letters hang from it upside down, read the other way', () => {
    const ys = points(set({ along: 'curve', curve: ref(), side: 'under' }).letters).map((p) => p[1]);
    expect(Math.max(...ys)).toBeCloseTo(0, 6);
    expect(Math.min(...ys)).toBeCloseTo(-5, 1);
  });
  it('in single lines, spaced, on a layer of its own', () => {
    const wide = set({ along: 'curve', curve: ref(), spacing: 4, form: 'lines', layer: 'Engrave' });
    expect(wide.letters.every((e) => e.layer === 'Engrave' && e.look.fill.kind === 'none')).toBe(true);
    expect(wide.drawing.layers.some((l) => l.name === 'Engrave')).toBe(true);
  });
  it('says when no curve is picked, when it is gone, and when letters find no room', () => {
    expect(set({ along: 'curve' }).ledger[0]?.reason).toMatch(/no curve is picked/);
    expect(set({ along: 'curve', curve: 'line/00000000/99' }).ledger[0]).toMatchObject({
      onPurpose: false,
      reason: expect.stringMatching(/cannot be told for certain/) as string,
    });
    const long = set({ along: 'curve', curve: ref(), height: 20 });
    expect(long.letters.length).toBe(3);
    expect(set({ along: 'curve', curve: ref(), height: 60 }).ledger.some((r) => /no room/.test(r.reason))).toBe(true);
  });
});
