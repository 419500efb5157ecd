import { describe, expect, it } from 'vitest';
import { refOf } from '../../src/drawing/entity-ref.js';
import type { Entity, Path } from '../../src/drawing/entity.js';
import { momentsOf } from '../../src/geometry/planar/moments.js';
import { Box2 } from '../../src/geometry/box.js';
import { Warp } from '../../src/geometry/warp.js';
import { arcEdge, edgeByLength, edgeByX, graphEdge } from '../../src/geometry/warp-edge.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { fonts } from '../helpers.js';
import { arc, chain, circle, drawn, lengthOfAll, line, stepOn } from './judge.js';
import { PLAIN_TEXT } from '../sketches.js';

const boxOf = (x0: number, y0: number, x1: number, y1: number): Box2 => {
  const box = new Box2();
  box.add(x0, y0);
  box.add(x1, y1);
  return box;
};
const BOX = chain([0, 0, 100, 0, 100, 20, 0, 20], true);
const area = (e: Entity): number =>
  Math.abs(e.kind === 'path' ? momentsOf(e.path).area : shoelace(e as unknown as { points: Float64Array }));
function shoelace({ points: p }: { points: Float64Array }): number {
  let sum = 0;
  for (let i = 0; i < p.length; i += 2) {
    const k = (i + 2) % p.length;
    sum += (p[i]! * p[k + 1]! - p[k]! * p[i + 1]!) / 2;
  }
  return sum;
}

describe('a sheet between two edges', () => {
  it('takes a quarter of the way along and half the way up worked out by hand', () => {
    const warp = new Warp(
      boxOf(0, 0, 100, 20),
      graphEdge(0, 100, () => [0, 0], 1),
      graphEdge(10, 90, () => [20, 0], 1),
    );
    expect(warp.at(25, 10)).toEqual([27.5, 10]);
    expect(warp.at(100, 20)).toEqual([90, 20]);
  });
  it('goes along an edge by its length: a third of two sides of 30 and 60', () => {
    const bent = edgeByLength([
      { kind: 'bezier', p: [0, 0, 30, 0] },
      { kind: 'bezier', p: [30, 0, 30, 60] },
    ])!;
    expect(bent.at(1 / 3).x).toBeCloseTo(30, 12);
    expect(bent.at(1 / 3).y).toBeCloseTo(0, 12);
    expect(bent.at(0.5).y).toBeCloseTo(15, 12);
    expect(bent.breaks).toEqual([expect.closeTo(1 / 3, 12)]);
  });
  it('finds the middle of a parabola by length, and elsewhere what its arc length says', () => {
    // y = x² from 0 to 1: ∫₀ˣ √(1 + 4t²) dt = x/2·√(1 + 4x²) + asinh(2x)/4.
    const arcLength = (x: number): number => (x / 2) * Math.sqrt(1 + 4 * x * x) + Math.asinh(2 * x) / 4;
    const edge = edgeByLength([{ kind: 'bezier', p: [0, 0, 0.5, 0, 1, 1] }])!;
    for (const u of [0.1, 0.25, 0.5, 0.9]) {
      const { x, y, dx, dy } = edge.at(u);
      expect(arcLength(x)).toBeCloseTo(u * arcLength(1), 11);
      expect(y).toBeCloseTo(x * x, 12);
      expect(Math.hypot(dx, dy)).toBeCloseTo(arcLength(1), 9);
    }
  });
  it('goes straight up where that is asked, and refuses an edge that turns back', () => {
    const edge = edgeByX([{ kind: 'bezier', p: [0, 0, 0.5, 0, 1, 1] }])!;
    expect(edge.at(0.3).y).toBeCloseTo(0.09, 12);
    expect(edgeByX([{ kind: 'bezier', p: [0, 0, 10, 0, -5, 3, 4, 4] }])).toBeNull();
  });
  it('counts what folds', () => {
    const level = (y: number) => graphEdge(0, 100, () => [y, 0], 1);
    expect(new Warp(boxOf(0, 0, 100, 20), level(0), level(20)).folds(8)).toEqual({ folded: 0, turnedOver: false });
    expect(new Warp(boxOf(0, 0, 100, 20), level(20), level(0)).folds(8)).toEqual({ folded: 0, turnedOver: true });
    // The upper edge falls below the lower one half way: half of the sheet is turned over.
    const folded = new Warp(
      boxOf(0, 0, 1, 1),
      level(0),
      graphEdge(0, 100, (u) => [20 - 40 * u, -40], 1),
    ).folds(8);
    expect(folded.folded).toBe(32);
  });
});

describe('warping', () => {
  it('tapers a box of 2000 to 1800, straight as it was', () => {
    const made = stepOn(drawn(BOX), 'warp', { form: 'taper', ratio: 80 });
    expect(made.against).toEqual([]);
    expect(area(made.entities[0]!)).toBeCloseTo(1800, 9);
    expect((made.entities[0] as unknown as { points: Float64Array }).points.length).toBe(8);
  });
  it('bends a box round 60 and 80 to an area of 2333.33, and its middle line to a length of 116.67', () => {
    const angle = ((100 / 60) * 180) / Math.PI;
    const made = stepOn(drawn(BOX, line(0, 10, 100, 10)), 'warp', { form: 'bend', angle, bound: 1e-5 });
    expect(made.against).toEqual([]);
    expect(area(made.entities[0]!)).toBeCloseTo(7000 / 3, 2);
    const [middle] = [made.entities[1]!];
    expect(lengthOfAll({ ...made.drawing, entities: [middle] })).toBeCloseTo(350 / 3, 4);
    // The foot of the middle stays: the inner circle is round (50, −60).
    const path = (made.entities[0] as Path).path;
    expect(Math.hypot(path.data[0]! - 50, path.data[1]! + 60)).toBeCloseTo(60, 9);
  });
  it('bends down as it bends up', () => {
    const [up, down] = [90, -90].map((angle) => stepOn(drawn(BOX), 'warp', { form: 'bend', angle }));
    expect(area(down!.entities[0]!)).toBeCloseTo(area(up!.entities[0]!), 3);
    expect(down!.against).toEqual([]);
  });
  it('keeps the area of what waves and rises: everything moves straight up', () => {
    for (const form of ['wave', 'rise']) {
      const made = stepOn(drawn(BOX, circle(50, 10, 8)), 'warp', { form, waves: 3, bound: 1e-4 });
      expect(made.against).toEqual([]);
      expect(area(made.entities[0]!)).toBeCloseTo(2000, 2);
      expect(area(made.entities[1]!)).toBeCloseTo(64 * Math.PI, 2);
    }
  });
  it('swells by a fifth of the height: the area grows by twice two thirds of 4 over 100', () => {
    const made = stepOn(drawn(BOX), 'warp', { form: 'swell' });
    expect(area(made.entities[0]!)).toBeCloseTo(2000 + 2 * (2 / 3) * 4 * 100, 2);
  });
  it('stretches art between two picked curves, whichever way they were drawn, and leaves those alone', () => {
    const edges = [arc(50, -60, 60, 40, 140), arc(50, -60, 80, 40, 140)];
    const d = drawn(BOX, ...edges);
    const refs = d.entities.slice(1).map((e) => [refOf(e, d)]);
    const made = stepOn(d, 'warp', { form: 'curves', lower: refs[0]!, upper: refs[1]!, bound: 1e-4 });
    expect(made.against).toEqual([]);
    expect(made.entities.slice(1)).toEqual(d.entities.slice(1));
    // A sector of 100° between 60 and 80.
    expect(area(made.entities[0]!)).toBeCloseTo(((100 * Math.PI) / 360) * (6400 - 3600), 2);
    const swapped = stepOn(d, 'warp', { form: 'curves', lower: refs[1]!, upper: refs[0]! });
    expect(swapped.reasons).toContain('warp-turned-over');
  });
  it('bends art at the corner of an edge, in a corner', () => {
    const d = drawn(
      line(0, 5, 100, 5),
      line(0, 0, 100, 0),
      line(0, 10, 100, 10),
      chain([0, 50, 50, 100, 100, 50]),
      chain([0, 80, 50, 130, 100, 80]),
    );
    const refs = d.entities.slice(3).map((e) => [refOf(e, d)]);
    const made = stepOn(d, 'warp', { form: 'curves', lower: refs[0]!, upper: refs[1]! });
    expect(made.against).toEqual([]);
    const { points } = made.entities[0] as unknown as { points: Float64Array };
    expect([...points].map((v) => Number(v.toFixed(9)))).toEqual([0, 65, 50, 115, 100, 65]);
  });
  it('refuses edges that cross, and says where', () => {
    const d = drawn(BOX, line(0, 0, 100, 50), line(0, 50, 100, 0));
    const [lower, upper] = d.entities.slice(1).map((e) => [refOf(e, d)]);
    expect(() => stepOn(d, 'warp', { form: 'curves', lower: lower!, upper: upper! })).toThrow('cross at 50, 25');
  });
  it('leaves texts and open fills that are drawn, and says so', () => {
    const text = {
      kind: 'text',
      text: 'A',
      at: [0, 0, 0],
      size: 5,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
    } as never;
    const made = stepOn(drawn(BOX, text), 'warp', {});
    expect(made.entities[1]).toMatchObject({ at: [0, 0, 0] });
    expect(made.row('not-warped')?.count).toBe(1);
  });
  it('is exact far away', () => {
    const far = chain([3e6, 2e6, 3e6 + 100, 2e6, 3e6 + 100, 2e6 + 20, 3e6, 2e6 + 20], true);
    const made = stepOn(drawn(far), 'warp', { form: 'bend', angle: 90 });
    expect(made.against).toEqual([]);
    expect(area(made.entities[0]!)).toBeCloseTo(
      area(stepOn(drawn(BOX), 'warp', { form: 'bend', angle: 90 }).entities[0]!),
      3,
    );
  });
});

it('splines of a high degree are followed within a bound, and where they end up is claimed with it', () => {
  // Degree 5 on six points: one Bézier.
  const points = [0, 0, 0, 20, 40, 0, 40, -40, 0, 60, 40, 0, 80, -40, 0, 100, 20, 0];
  const spline = {
    kind: 'spline',
    degree: 5,
    closed: false,
    knots: Float64Array.from([0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1]),
    points: Float64Array.from(points),
  } as never;
  const made = stepOn(drawn(spline, BOX), 'warp', { form: 'taper', ratio: 500, bound: 0.01 });
  expect(made.against).toEqual([]);
  expect(made.row('warped-between-edges')?.deviation?.value).toBeGreaterThan(0.01);
});

it('the proof fails where what was stretched lies elsewhere, or is another curve', () => {
  const made = stepOn(drawn(BOX), 'warp', { form: 'bend', angle: 90 });
  const [was] = made.entities as [Path];
  const moved = (k: number, by: number): Path => {
    const data = was.path.data.slice();
    data[k]! += by;
    return { ...was, path: { ...was.path, data } };
  };
  for (const [k, by, holds] of [
    [0, 0.05, false],
    [5, 0.05, false],
    [5, 1e-7, true],
  ] as const) {
    const to = moved(k, by);
    const drawing = { ...made.drawing, entities: [to] };
    const stages = made.stages.map((s) => ({
      ...s,
      after: drawing,
      descents: s.descents.map((d) => ({ ...d, to: [to] })),
    }));
    const { displaced, unexplained } = provePrepared(made.before, drawing, stages, fonts());
    expect(unexplained).toEqual([]);
    expect(displaced.length).toBe(holds ? 0 : 1);
  }
});

it('wide polylines that become free curves are drawn as wide as they were', () => {
  const wide = chain([0, 0, 40, 0, 40, 30], false, {
    bulges: Float64Array.from([0.3, 0, 0]),
    widths: new Float64Array(6).fill(2),
  });
  for (const [step, params] of [
    ['warp', {}],
    ['curves-to-beziers', {}],
    ['curves-to-chords', {}],
    ['curves-to-arcs', {}],
    ['recover-arcs', {}],
    ['thin-points', {}],
  ] as const) {
    const [e] = stepOn(drawn(wide), step, params).entities as [Entity];
    const own = e.kind === 'polyline' ? e.widths?.[0] : (e.look.width as { value?: number }).value;
    expect([step, own]).toEqual([step, 2]);
  }
});

it('an arc as an edge says its own direction', () => {
  const e = arcEdge(0, 0, 10, Math.PI, -Math.PI);
  const [a, b] = [e.at(0.4999999), e.at(0.5000001)];
  expect((b.x - a.x) / 2e-7).toBeCloseTo(e.at(0.5).dx, 4);
  expect(e.at(0.5).y).toBeCloseTo(10, 12);
});
