import { describe, expect, it } from 'vitest';
import type { Entity } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import { Lineage } from '../../src/drawing/lineage.js';
import { transformDrawing } from '../../src/drawing/transform.js';
import { IDENTITY, scaling } from '../../src/geometry/affine.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { fonts } from '../helpers.js';
import { arc, chain, drawn, line, stepOn } from '../steps/judge.js';

const red = { look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb' as const, rgb: 0xc4512d } } };

/** What the proof says where what a step made is drawn otherwise than the step left it. */
function provenWith(made: ReturnType<typeof stepOn>, change: (e: Entity) => Entity): string[] {
  const to = new Map(made.entities.map((e) => [e, change(e)]));
  const other = (e: Entity): Entity => to.get(e) ?? e;
  const drawing = { ...made.drawing, entities: made.entities.map(other) };
  const stages = made.stages.map((s) => ({
    ...s,
    after: drawing,
    descents: s.descents.map((d) => ({ ...d, to: d.to.map(other) })),
  }));
  const { unexplained, displaced } = provePrepared(made.before, drawing, stages, fonts());
  expect(displaced).toEqual([]);
  return unexplained.map((d) => d.what);
}

describe('a step that changes shapes alone', () => {
  const made = stepOn(
    drawn(line(0, 0, 40, 0, red), line(40, 0, 40, 30, red), arc(20, 30, 20, 0, 180, red)),
    'chain-outlines',
  );
  it.each<[string, (e: Entity) => Entity]>([
    ['another colour', (e) => ({ ...e, look: { ...e.look, stroke: { kind: 'rgb', rgb: 0 } } })],
    ['another width', (e) => ({ ...e, look: { ...e.look, width: { kind: 'paper', mm: 0.5 } } })],
    ['dashes', (e) => ({ ...e, look: { ...e.look, dash: { kind: 'lengths', lengths: [2, 1], offset: 0 } } })],
    ['another layer', (e) => ({ ...e, layer: 'ELSEWHERE' })],
  ])('may not give %s', (_what, change) => {
    expect(made.against).toEqual([]);
    expect(provenWith(made, (e) => ({ ...e }))).toEqual([]);
    expect(provenWith(made, change)).toHaveLength(1);
  });
  it('may make of a polyline of one width a curve drawn in it, and of no other', () => {
    const wide = drawn(
      chain([0, 0, 40, 0, 40, 30], false, {
        bulges: Float64Array.from([0.3, 0, 0]),
        widths: new Float64Array(6).fill(2),
      }),
    );
    const curve = stepOn(wide, 'curves-to-beziers');
    expect(curve.entities[0]!.look.width).toEqual({ kind: 'drawing', value: 2 });
    expect(curve.against).toEqual([]);
    const to = (value: number) => (e: Entity) => ({
      ...e,
      look: { ...e.look, width: { kind: 'drawing' as const, value } },
    });
    expect(provenWith(curve, to(2))).toEqual([]);
    expect(provenWith(curve, to(1))).toHaveLength(1);
  });
  it('leaves wide circles of chords as wide as they were', () => {
    const ring = Array.from({ length: 128 }, (_, i) => [
      20 * Math.cos((i * Math.PI) / 64),
      20 * Math.sin((i * Math.PI) / 64),
    ]).flat();
    const circle = stepOn(drawn(chain(ring, true, { widths: new Float64Array(256).fill(3) })), 'recover-arcs');
    // A circle has no width of its own: the polyline stays one, of arcs as wide.
    const [e] = circle.entities as [Extract<Entity, { kind: 'polyline' }>];
    expect([e.kind, new Set(e.widths), e.bulges?.some((v) => v !== 0)]).toEqual(['polyline', new Set([3]), true]);
    expect(circle.against).toEqual([]);
  });
});

describe('what a page shows', () => {
  const before = drawn(line(0, 0, 40, 0, red), line(0, 10, 40, 10, red));
  /** Both lines at half their size on a page, changed before they are looked at. */
  const onPage = (change: (e: Entity) => Entity): string[] => {
    const half = scaling(0.5, 0.5, 0.5);
    const lineage = new Lineage();
    const entities = transformDrawing(before, half).entities.map((e, i) => {
      const made = change({ ...e, id: 100 + i });
      lineage.placed(before.entities[i]!, made, half, false);
      return made;
    });
    const after = { ...before, entities };
    const stage = { title: 'Pages', before, after, map: IDENTITY, descents: lineage.descents };
    return provePrepared(before, after, [stage], fonts()).unexplained.map((d) => d.what);
  };

  it('lies where it belongs and is painted as before, as wide as its scale makes it', () => {
    expect(onPage((e) => e)).toEqual([]);
    expect(onPage((e) => ({ ...e, look: { ...e.look, width: { kind: 'drawing', value: 0.1 } } }))).toEqual([]);
  });
  it.each<[string, (e: Entity) => Entity]>([
    ['on another layer', (e) => ({ ...e, layer: 'ELSEWHERE' })],
    ['in another colour', (e) => ({ ...e, look: { ...e.look, stroke: { kind: 'rgb', rgb: 0 } } })],
    ['with an area', (e) => ({ ...e, look: { ...e.look, fill: { kind: 'rgb', rgb: 0 } } })],
    ['out of sight', (e) => ({ ...e, look: { ...e.look, visible: false } })],
  ])('is missed %s', (_what, change) => {
    expect(onPage(change)).toHaveLength(2);
    expect(onPage((e) => (e.id === 100 ? change(e) : e))).toEqual([
      'line is drawn otherwise, or lies on another layer',
    ]);
  });
});
