import { describe, expect, test } from 'vitest';
import type { Drawing, Entity, Kept } from '../../src/index.js';
import { NO_DECISIONS, areaOf, plannedStep, prepare, readDrawing, stepById } from '../../src/index.js';
import type { Pixels } from '../../src/formats/picture/png.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { BLACK, BLUE, RED, WHITE, painted } from '../tracing/painted.js';

/** A picture of ten pixels to the millimetre, taken in and traced. */
function traced(
  picture: Pixels,
  params: Kept = {},
): { drawing: Drawing; ledger: ReturnType<typeof prepare>['ledger']; shapes: Entity[] } {
  const { drawing: source } = readDrawing(packedPng(picture, 254), 'scan.png');
  const { drawing, ledger } = prepare(source, NO_DECISIONS, [plannedStep(stepById('trace-pictures')!, 't', params)]);
  return { drawing, ledger, shapes: drawing.entities.filter((e) => e.kind !== 'image') };
}
const areas = (shapes: readonly Entity[]): number[] => shapes.map((e) => Math.abs(areaOf(e) ?? 0));
const fillOf = (e: Entity): string => (e.look.fill.kind === 'rgb' ? e.look.fill.rgb.toString(16) : 'none');
/** How a path runs, in its own letters' places. */
const box = (e: Entity): number[] => {
  if (e.kind !== 'path') throw new Error(e.kind);
  const xs = e.path.data.filter((_, i) => i % 2 === 0);
  const ys = e.path.data.filter((_, i) => i % 2 === 1);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};

describe('tracing a picture', () => {
  test('at its resolution: a disc of 20 mm is a circle of 20 mm, in the ink of the picture', () => {
    const { drawing, shapes, ledger } = traced(
      painted(260, 240, (x, y) => (Math.hypot(x - 130, y - 120) < 100 ? 0x102040 : WHITE)),
    );
    expect(drawing.unit).toEqual({ unit: 'mm', factor: 1 });
    expect(shapes).toHaveLength(1);
    const [c] = shapes;
    if (c?.kind !== 'circle') throw new Error('no circle');
    expect(c.radius).toBeCloseTo(10, 2);
    expect([c.centre[0], c.centre[1]].map((v) => Number(v.toFixed(2)))).toEqual([13, 12]);
    expect(fillOf(c)).toBe('102040');
    expect(drawing.entities.some((e) => e.kind === 'image')).toBe(false);
    expect(ledger.find((r) => r.code === 'traced-as')?.args).toMatchObject({ areas: 1, points: 2 });
  });

  const two = painted(100, 40, (x) => (x < 60 ? RED : BLUE), 1);
  test('two colours side by side are areas of 24 and 16 mm² on layers of their own, or edges, each once', () => {
    const filled = traced(two, { by: 'colours', ground: 'none' });
    expect(filled.shapes.map(fillOf)).toEqual(['d03020', '2050c0']);
    areas(filled.shapes).forEach((a, i) => expect(a).toBeCloseTo([24, 16][i]!, 9));
    expect(filled.shapes.map((e) => e.layer)).toEqual(['Traced #d03020', 'Traced #2050c0']);
    const edges = traced(two, { by: 'colours', ground: 'none', made: 'edges' });
    const upright = edges.shapes.filter(
      (e) => e.kind === 'path' && box(e)[0] === box(e)[2] && Math.abs(box(e)[0]! - 6) < 1e-9,
    );
    expect(upright).toHaveLength(1);
    // With the ground left out, the one along the border is not traced.
    expect(traced(two, { by: 'colours' }).shapes.map(fillOf)).toEqual(['2050c0']);
  });

  test('colours count as others by hand', () => {
    const three = painted(90, 30, (x) => (x < 30 ? RED : x < 60 ? 0xb02818 : BLUE), 1);
    expect(traced(three, { by: 'colours', ground: 'none' }).shapes).toHaveLength(2);
    const apart = painted(90, 30, (x) => (x < 30 ? RED : x < 60 ? 0x40a050 : BLUE), 1);
    expect(traced(apart, { by: 'colours', ground: 'none' }).shapes).toHaveLength(3);
    const merged = traced(apart, { by: 'colours', ground: 'none', merged: [{ from: '#40a050', to: '#2050c0' }] });
    expect(merged.shapes.map(fillOf).sort()).toEqual(['2050c0', 'd03020']);
    areas(merged.shapes)
      .sort((a, b) => a - b)
      .forEach((a, i) => expect(a).toBeCloseTo([9, 18][i]!, 6));
  });

  test('part of a picture alone, where it lies in it', () => {
    const rows = painted(120, 60, (x, y) => (x % 40 > 10 && x % 40 < 30 && y > 20 && y < 40 ? BLACK : WHITE));
    expect(traced(rows).shapes).toHaveLength(3);
    const { shapes } = traced(rows, { crop: 'box', from: { x: 4, y: 0 }, to: { x: 8, y: 6 } });
    expect(shapes.map(box).map((b) => b.map((v) => Number(v.toFixed(3))))).toEqual([[5, 2, 7, 4]]);
  });

  test('a scan that lies aslant is levelled by a line, and squared by four corners', () => {
    const turn = (4 * Math.PI) / 180;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    // A block of 120 × 60 about the middle of 200 × 160, turned by four degrees.
    const p = painted(200, 160, (x, y) => {
      const [u, v] = [c * (x - 100) + s * (y - 80), -s * (x - 100) + c * (y - 80)];
      return Math.abs(u) < 60 && Math.abs(v) < 30 ? BLACK : WHITE;
    });
    // Its corners in millimetres, y upwards.
    const at = (u: number, v: number): { x: number; y: number } => ({
      x: (100 + c * u - s * v) / 10,
      y: (160 - (80 + s * u + c * v)) / 10,
    });
    const level = traced(p, { straighten: 'line', first: at(-60, -30), second: at(60, -30) });
    expect(level.shapes).toHaveLength(1);
    const [x0, y0, x1, y1] = box(level.shapes[0]!);
    [x1! - x0!, y1! - y0!].forEach((v, i) => expect(Math.abs(v - [12, 6][i]!)).toBeLessThan(0.04));
    expect(areas(level.shapes)[0]).toBeCloseTo(72, 0);
    const four = traced(p, {
      straighten: 'four',
      first: at(90, -60),
      second: at(-90, -60),
      third: at(90, 60),
      fourth: at(-90, 60),
    });
    const [u0, v0, u1, v1] = box(four.shapes[0]!);
    [u1! - u0!, v1! - v0!].forEach((v, i) => expect(Math.abs(v - [12, 6][i]!)).toBeLessThan(0.04));
  });

  test('light ink on a dark ground, a threshold of one’s own, and the picture beneath', () => {
    const p = painted(60, 60, (x, y) =>
      Math.hypot(x - 30, y - 30) < 20 ? 0xf0f0f0 : Math.hypot(x - 30, y - 30) < 26 ? 0x808080 : 0x101010,
    );
    const light = traced(p, { ink: 'light', threshold: 180, picture: 'stays' });
    expect(light.drawing.entities.map((e) => e.kind)).toEqual(['image', 'circle']);
    const radius = (params: Kept): number => {
      const [e] = traced(p, params).shapes;
      return e?.kind === 'circle' ? e.radius : NaN;
    };
    expect(radius({ ink: 'light', threshold: 180 })).toBeCloseTo(2, 1);
    expect(radius({ ink: 'light', threshold: 60 })).toBeCloseTo(2.6, 1);
  });

  test('noise is told, and softened where that is asked for', () => {
    let seed = 7;
    const noise = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    const p = painted(120, 120, (x, y) => (Math.hypot(x - 60, y - 60) < 40 ? BLACK : WHITE));
    for (let i = 0; i < p.data.length; i += 3) {
      const v = Math.round(Math.min(255, Math.max(0, p.data[i]! * 0.6 + 50 + 70 * (noise() - 0.5))));
      p.data.fill(v, i, i + 3);
    }
    const rough = traced(p);
    expect(rough.ledger.some((r) => r.code === 'no-line-art')).toBe(true);
    const points = (t: ReturnType<typeof traced>): number =>
      Number(t.ledger.find((r) => r.code === 'traced-as')!.args!['points']);
    const soft = traced(p, { soften: 2, bound: 0.8 });
    expect(points(soft)).toBeLessThan(points(rough) / 3);
    expect(areas(soft.shapes)[0]! / (Math.PI * 16)).toBeCloseTo(1, 1);
  });

  test('a picture that is not at hand stays, and is told', () => {
    const { drawing: source } = readDrawing(packedPng(two, 254), 'scan.png');
    const bare = {
      ...source,
      entities: source.entities.map((e) => (e.kind === 'image' ? { ...e, data: 'data:image/png;base64,AAAA' } : e)),
    };
    const { drawing, ledger } = prepare(bare, NO_DECISIONS, [plannedStep(stepById('trace-pictures')!, 't')]);
    expect(drawing.entities.map((e) => e.kind)).toEqual(['image']);
    expect(ledger.some((r) => r.code === 'picture-not-at-hand')).toBe(true);
  });

  /** The picture of two colours as it was read, with its image changed. */
  const withImage = (
    change: (e: Extract<Entity, { kind: 'image' }>) => Entity,
    more: Partial<Drawing> = {},
  ): Drawing => {
    const { drawing } = readDrawing(packedPng(two, 254), 'scan.png');
    return { ...drawing, entities: drawing.entities.map((e) => (e.kind === 'image' ? change(e) : e)), ...more };
  };
  const run = (d: Drawing, params: Kept = {}): { kinds: string[]; codes: (string | undefined)[]; shapes: Entity[] } => {
    const { drawing, ledger } = prepare(d, NO_DECISIONS, [plannedStep(stepById('trace-pictures')!, 't', params)]);
    const shapes = drawing.entities.filter((e) => e.kind !== 'image');
    return { kinds: drawing.entities.map((e) => e.kind), codes: ledger.map((r) => r.code), shapes };
  };

  test('what the boundary of a picture hides is not traced', () => {
    // A triangle of it, in its own pixels: half of 100 × 40.
    const clip = Float64Array.of(-0.5, -0.5, 99.5, -0.5, -0.5, 39.5, -0.5, -0.5);
    const { shapes } = run(
      withImage((e) => ({ ...e, clip })),
      { by: 'colours', ground: 'none' },
    );
    expect(areas(shapes).reduce((a, b) => a + b, 0)).toBeCloseTo(20, 0);
    expect(shapes).toHaveLength(2);
  });

  test('what cannot be traced stays and is told, and is not counted as traced', () => {
    const tilted = run(withImage((e) => ({ ...e, v: [0, 0.6, 0.8] })));
    expect([tilted.kinds, tilted.codes.includes('picture-tilted'), tilted.codes.includes('pictures-traced')]).toEqual([
      ['image'],
      true,
      false,
    ]);
    const point = { x: 1, y: 1 };
    const corners = run(
      withImage((e) => e),
      { straighten: 'four', first: point, second: point, third: point, fourth: point },
    );
    expect([corners.kinds, corners.codes.includes('corners-hold-no-picture')]).toEqual([['image'], true]);
    const beside = run(
      withImage((e) => e),
      { crop: 'box', from: { x: 50, y: 50 }, to: { x: 60, y: 60 } },
    );
    expect([beside.kinds, beside.codes.includes('corners-hold-no-picture')]).toEqual([['image'], true]);
    const source = withImage((e) => e);
    const inBlock: Drawing = {
      ...source,
      entities: [],
      blocks: new Map([['B', { name: 'B', base: [0, 0, 0], entities: source.entities } as never]]),
    };
    expect(run(inBlock).codes).toContain('pictures-in-blocks-not-traced');
  });
});
