import { describe as group, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Draft, Drawing, Entity, OutOfSight } from '../../src/index.js';
import { Box2, ItemIndex, Snapper, snapPointsOf, areaOf, buildScene, curveAt, describe } from '../../src/index.js';
import { DEMO, demoFile, drawingOf, fonts, read, svg } from '../helpers.js';
import { ONCE } from '../sketches.js';

const SEEN: OutOfSight = { layers: new Set(), ids: new Set() };
const hiding = (ids: number[], layers: string[] = []): OutOfSight => ({ ids: new Set(ids), layers: new Set(layers) });

const line = (x0: number, y0: number, x1: number, y1: number, more = {}): unknown => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
  ...more,
});
const circle = (x: number, y: number, radius: number, more = {}): unknown => ({
  kind: 'circle',
  centre: [x, y, 0],
  radius,
  ...more,
});
const polyline = (points: number[], closed: boolean, more = {}): unknown => ({
  kind: 'polyline',
  points: Float64Array.from(points),
  dim: 2,
  elevation: 0,
  closed,
  ...more,
});

function opened(d: Drawing): { items: ItemIndex; snapper: Snapper; ids: number[] } {
  const scene = buildScene(d, fonts());
  const items = new ItemIndex(d, scene.items);
  return { items, snapper: new Snapper(snapPointsOf(d), items), ids: d.entities.map((e) => e.id) };
}
const of = (...list: unknown[]): ReturnType<typeof opened> & { d: Drawing } => {
  const d = drawingOf(list as never);
  return { d, ...opened(d) };
};
const only = (entity: unknown): Entity => drawingOf([entity] as never).entities[0]!;

group('the area an entity encloses', () => {
  it('of a circle, a half disc of bulges, an ellipse and a rectangle far away', () => {
    expect(areaOf(only(circle(3, 4, 2)))).toBeCloseTo(4 * Math.PI, 12);
    // A half circle of radius 5 and its diameter.
    expect(areaOf(only(polyline([0, 0, 10, 0], true, { bulges: Float64Array.of(1, 0) })))).toBeCloseTo(
      12.5 * Math.PI,
      10,
    );
    const ellipse = { kind: 'ellipse', centre: [1, 1, 0], major: [6, 0, 0], ratio: 0.5, start: 0, end: 2 * Math.PI };
    expect(areaOf(only(ellipse))).toBeCloseTo(18 * Math.PI, 10);
    const [x, y] = [5e6, 7e6];
    expect(areaOf(only(polyline([x, y, x + 0.25, y, x + 0.25, y + 0.5, x, y + 0.5], true)))).toBeCloseTo(0.125, 9);
  });
  it('of cubics: the parabola y = x² over 0 to 1 under its chord encloses 1/6', () => {
    // x²: control points (0,0) (1/3,0) (2/3,1/3) (1,1).
    const d = read(svg('<path d="M0 0C.3333333333333333 0 .6666666666666666 .3333333333333333 1 1Z"/>'), 'x.svg');
    expect(areaOf(d.entities[0]!)).toBeCloseTo(1 / 6, 12);
  });
  it('takes holes off whichever way they run, and adds islands', () => {
    const square = (a: number, b: number): string => `M${a} ${a}H${b}V${b}H${a}Z`;
    const turned = (a: number, b: number): string => `M${a} ${a}V${b}H${b}V${a}Z`;
    for (const hole of [square(2, 8), turned(2, 8)]) {
      const d = read(svg(`<path fill-rule="evenodd" d="${square(0, 10)}${hole}${square(4, 6)}"/>`), 'x.svg');
      expect(areaOf(d.entities[0]!)).toBeCloseTo(100 - 36 + 4, 10);
    }
  });
  it('of a closed spline equals that of the polygon it is fitted to when its degree is one', () => {
    const spline = {
      kind: 'spline',
      degree: 1,
      knots: Float64Array.of(0, 0, 1, 2, 3, 3),
      points: Float64Array.of(0, 0, 0, 4, 0, 0, 0, 3, 0, 0, 0, 0),
      closed: true,
      periodic: false,
    };
    expect(areaOf(only(spline))).toBeCloseTo(6, 12);
  });
  it('is none for open outlines, arcs and lines', () => {
    expect(areaOf(only(polyline([0, 0, 4, 0, 4, 3], false)))).toBeNull();
    expect(areaOf(only(line(0, 0, 1, 1)))).toBeNull();
    expect(areaOf(only({ kind: 'arc', centre: [0, 0, 0], radius: 1, start: 0, end: 3 }))).toBeNull();
  });
  it('grows with the square of the scale', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -9, max: 9, noNaN: true }), fc.double({ min: -9, max: 9, noNaN: true })), {
          minLength: 3,
          maxLength: 9,
        }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        (list, k) => {
          const one = areaOf(only(polyline(list.flat(), true)));
          const big = areaOf(
            only(
              polyline(
                list.flat().map((v) => v * k),
                true,
              ),
            ),
          );
          if (one !== null && one > 1e-6) expect(big! / one).toBeCloseTo(k * k, 6);
        },
      ),
    );
  });
});

group('finding under a point', () => {
  it('takes the nearest line within reach, the last drawn of equals, and nothing beyond', () => {
    const { items, ids } = of(line(0, 0, 10, 0), line(0, 1, 10, 1), line(0, 1, 10, 1));
    expect(items.at(5, 0.2, 0.5, SEEN)?.id).toBe(ids[0]);
    expect(items.at(5, 0.9, 0.5, SEEN)?.id).toBe(ids[1]);
    expect(items.at(5, 3, 0.5, SEEN)).toBeNull();
  });
  it('gives the insert, not what is in it; and a line before the area it lies on', () => {
    const d = drawingOf([
      {
        kind: 'insert',
        block: 'B',
        at: [100, 50, 0],
        scale: [1, 1, 1],
        rotation: 0,
        ...ONCE,
      },
    ] as never);
    d.blocks.set('b', { name: 'B', base: [0, 0, 0], entities: [only(line(0, 0, 4, 0))] } as never);
    expect(opened(d).items.at(102, 50.1, 0.5, SEEN)?.kind).toBe('insert');
    const s = read(
      svg('<rect width="9" height="9" fill="#888"/><rect x="3" y="3" width="3" height="3" fill="#333"/>'),
      'x.svg',
    );
    const inner = s.entities[1]!;
    const { items } = opened(s);
    const flip = (y: number): number => y;
    expect(items.at(4.5, flip(4.5), 0.2, SEEN)?.id).toBe(inner.id);
    expect(items.at(1.5, flip(1.5), 0.2, SEEN)?.id).toBe(s.entities[0]!.id);
  });
  it('passes over hidden layers and hidden entities', () => {
    const { items, ids } = of(line(0, 0, 10, 0, { layer: 'A' }), line(0, 0.1, 10, 0.1, { layer: 'B' }));
    expect(items.at(5, 0.1, 1, hiding([ids[1]!]))?.id).toBe(ids[0]);
    expect(items.at(5, 0, 1, hiding([], ['A']))?.id).toBe(ids[1]);
    expect(items.at(5, 0, 1, hiding([ids[1]!], ['A']))).toBeNull();
  });
});

group('a frame', () => {
  const { items, ids } = of(line(1, 1, 2, 2), line(1, 1, 20, 1), circle(5, 5, 1), circle(0, 0, 40));
  it('takes what lies wholly in it', () => {
    expect(items.within(Box2.of(0, 0, 10, 10), false, SEEN).sort()).toEqual([ids[0], ids[2]].sort());
  });
  it('takes what reaches into it when asked to, but not a curve that only goes round it', () => {
    expect(items.within(Box2.of(0, 0, 10, 10), true, SEEN).sort()).toEqual([ids[0], ids[1], ids[2]].sort());
    expect(items.within(Box2.of(27, 27, 30, 30), true, SEEN)).toEqual([ids[3]]);
  });
});

group('what is alike', () => {
  const { items, ids } = of(
    circle(0, 0, 2, { layer: 'A' }),
    circle(50, 0, 2, { layer: 'B' }),
    circle(9, 9, 3, { layer: 'A' }),
    line(0, 0, 4, 4, { layer: 'B' }),
  );
  it('by layer, kind and size', () => {
    const first = new Set([ids[0]!]);
    expect(items.alike(first, 'layer', SEEN)).toEqual([ids[0], ids[2]]);
    expect(items.alike(first, 'kind', SEEN)).toEqual([ids[0], ids[1], ids[2]]);
    // A line as large as the circle is not alike.
    expect(items.alike(first, 'size', SEEN)).toEqual([ids[0], ids[1]]);
    expect(items.alike(first, 'block', SEEN)).toEqual([]);
  });
  it('by the colour that is seen, whoever says it', () => {
    const d = drawingOf([line(0, 0, 1, 0), line(0, 1, 1, 1), line(0, 2, 1, 2)] as never);
    const red = { kind: 'rgb', rgb: 0xff0000 } as const;
    (d.entities[0] as Draft<Entity>).look = { ...d.entities[0]!.look, stroke: red };
    (d.entities[2] as Draft<Entity>).look = { ...d.entities[2]!.look, stroke: { kind: 'index', index: 1 } };
    const o = opened(d);
    expect(o.items.alike(new Set([o.ids[0]!]), 'colour', SEEN)).toEqual([o.ids[0], o.ids[2]]);
  });
});

group('snapping', () => {
  it('prefers ends, then where lines meet, then the foot of a perpendicular, then the curve', () => {
    const { snapper } = of(line(0, 0, 10, 10), line(0, 10, 10, 0), line(20, 0, 20, 10));
    expect(snapper.at(0.1, 0.1, 0.5, SEEN)).toEqual({ x: 0, y: 0, kind: 'end' });
    const crossed = of(line(0, 0, 10, 10), line(0, 6, 10, 2));
    // x = 6 − 0.4 x.
    const meets = crossed.snapper.at(4.2, 4.4, 0.4, SEEN)!;
    expect(meets.kind).toBe('crossing');
    expect(meets.x).toBeCloseTo(6 / 1.4, 9);
    expect(meets.y).toBeCloseTo(6 / 1.4, 9);
    expect(snapper.at(20.1, 7.1, 0.5, SEEN, { x: 3, y: 7 })).toEqual({ x: 20, y: 7, kind: 'perpendicular' });
    const on = snapper.at(20.1, 8.1, 0.5, SEEN)!;
    expect([on.x, on.kind]).toEqual([20, 'on the curve']);
    expect(on.y).toBeCloseTo(8.1, 12);
    expect(snapper.at(15, 8, 0.5, SEEN)).toBeNull();
  });
  it('finds where a line meets a circle to seven digits, and a point of a circle', () => {
    const { snapper } = of(circle(0, 0, 5), line(-9, 3, 9, 3));
    const p = snapper.at(4.1, 3.05, 0.3, SEEN)!;
    expect(p.kind).toBe('crossing');
    expect(p.x).toBeCloseTo(4, 7);
    const on = snapper.at(3.6, -3.6, 0.3, SEEN)!;
    expect(on.kind).toBe('on the curve');
    expect(Math.hypot(on.x, on.y)).toBeCloseTo(5, 7);
  });
  it('does not see what is hidden', () => {
    const { snapper, ids } = of(line(0, 0, 10, 10), line(0, 6, 10, 2));
    expect(snapper.at(4.2, 4.4, 0.4, hiding([ids[1]!]))?.kind).toBe('on the curve');
  });
});

group('a selection in words', () => {
  const facts = (d: Drawing, items: ItemIndex, ids: number[]): Record<string, unknown> =>
    Object.fromEntries(
      describe(d, items, new Set(ids))!.facts.map((f) => [f.label, 'text' in f ? f.text : f.value] as const),
    );
  it('tells a circle by its diameter and area', () => {
    const { d, items, ids } = of(circle(0, 0, 2.5, { layer: 'HOLES' }));
    const f = facts(d, items, ids);
    expect(describe(d, items, new Set(ids))!.title).toBe('Circle');
    expect(f).toMatchObject({ layer: 'HOLES', radius: 2.5, diameter: 5 });
    expect(f['area']).toBeCloseTo(6.25 * Math.PI, 12);
    expect(f['circumference']).toBeCloseTo(5 * Math.PI, 12);
  });
  it('adds up several', () => {
    const { d, items, ids } = of(line(0, 0, 3, 4), line(0, 0, 0, 5), polyline([0, 0, 2, 0, 2, 2, 0, 2], true));
    const f = facts(d, items, ids);
    expect(f['kinds']).toBe('2 lines, 1 polyline');
    expect(f['total length']).toBeCloseTo(18, 12);
    expect(f['area (1 closed)']).toBeCloseTo(4, 12);
    expect([f['width'], f['height']]).toEqual([3, 5]);
    expect(describe(d, items, new Set())).toBeNull();
  });
  it('says something of every entity of every demo drawing', () => {
    for (const name of DEMO) {
      const d = read(demoFile(name), name);
      const { items } = opened(d);
      for (const e of d.entities.filter((x) => x.sheet === undefined)) {
        const told = describe(d, items, new Set([e.id]));
        if (!told) continue;
        expect(told.facts[0]).toEqual({ label: 'layer', text: e.layer });
        for (const f of told.facts)
          if ('value' in f) expect(Number.isFinite(f.value), `${name} ${e.kind} ${f.label}`).toBe(true);
      }
    }
  });
  it('warns of a dimension whose text is not its length', () => {
    const name = 'kestrel-row-site-plan.dwg';
    const d = read(demoFile(name), name);
    const { items } = opened(d);
    const warned = d.entities.filter((e) => e.kind === 'dimension' && 'warning' in facts(d, items, [e.id]));
    expect(warned).toHaveLength(1);
  });
});

group('the curve under a point', () => {
  it('has the radius of the arc that lies there, in blocks and polylines too', () => {
    const slot = polyline([0, 0, 10, 0, 10, 4, 0, 4], true, { bulges: Float64Array.of(0, 1, 0, 1) });
    const { items } = of(slot, circle(30, 0, 7));
    expect(curveAt(items, 12, 2, 0.3, SEEN)?.round).toMatchObject({ x: 10, y: 2, radius: 2 });
    expect(curveAt(items, 5, 0, 0.3, SEEN)?.round).toBeNull();
    const c = curveAt(items, 37, 0, 0.3, SEEN)!;
    expect(c.round?.radius).toBe(7);
    expect(c.area).toBeCloseTo(49 * Math.PI, 10);
  });
  it('has the radius of a circle made of four Béziers, to a thousandth', () => {
    const k = 0.5522847498;
    const q = (x: number, y: number): string => `${50 + 10 * x} ${50 + 10 * y}`;
    const d = read(
      svg(
        `<path fill="none" stroke="#000" d="M${q(1, 0)}C${q(1, k)} ${q(k, 1)} ${q(0, 1)}C${q(-k, 1)} ${q(-1, k)} ${q(-1, 0)}C${q(-1, -k)} ${q(-k, -1)} ${q(0, -1)}C${q(k, -1)} ${q(1, -k)} ${q(1, 0)}Z"/>`,
      ),
      'x.svg',
    );
    const { items } = opened(d);
    expect(curveAt(items, 60, 50, 0.2, SEEN)?.round?.radius).toBeCloseTo(10, 2);
  });
});

group('a closer look', () => {
  it('cuts only what is asked for, finer, about a middle of its own', () => {
    const d = drawingOf([circle(0, 0, 1), circle(1e6, 0, 1), line(0, 0, 1e6, 0)] as never);
    const whole = buildScene(d, fonts());
    const bounds = Box2.of(-1, -1, 1e6 + 1, 1);
    const part = buildScene(d, fonts(), { tolerance: 1e-6, part: { entities: [d.entities[1]!], bounds } });
    const far = whole.layers[0]!.lineOwners.filter((id) => id === d.entities[1]!.id).length;
    expect(part.layers[0]!.lineOwners.length).toBeGreaterThan(4 * far);
    expect(new Set(part.layers[0]!.lineOwners)).toEqual(new Set([d.entities[1]!.id]));
    expect(part.origin[0]).toBeCloseTo(1e6, 6);
  });
});

group('widths of lines', () => {
  it('say paper or drawing, and round only where lines join', () => {
    const d = drawingOf([
      polyline([0, 0, 4, 0, 4, 3], false),
      polyline([0, 0, 4, 0, 4, 3], true),
      line(0, 0, 1, 1),
    ] as never);
    (d.entities[0] as Draft<Entity>).look = { ...d.entities[0]!.look, width: { kind: 'paper', mm: 0.5 }, cap: 'butt' };
    (d.entities[1] as Draft<Entity>).look = { ...d.entities[1]!.look, width: { kind: 'drawing', value: 0.25 } };
    const l = buildScene(d, fonts()).layers[0]!;
    expect([...l.lineWidths]).toEqual([-0.5, -0.5, 0.25, 0.25, 0.25, 0]);
    // An open corner joins once; a closed one all round.
    expect([...l.lineEnds]).toEqual([2, 1, 3, 3, 3, 0]);
  });
  it('take no room when there are none', () => {
    expect(buildScene(drawingOf([line(0, 0, 1, 1)] as never), fonts()).layers[0]!.lineWidths).toHaveLength(0);
  });
});

it('of an end, a middle and a centre in nearly one place the end is taken, though another is a little nearer', () => {
  // The middle of the long line lies at (50, 0), where the short one begins; a circle has its centre there too.
  const { snapper } = of(line(0, 0, 100, 0), line(50, 0.0005, 50, 30), circle(50, -0.0005, 8));
  const none = { hiddenLayers: new Set<string>(), isolated: null } as never;
  for (const y of [-0.001, 0, 0.001]) expect(snapper.at(50, y, 2, none)?.kind).toBe('end');
});
