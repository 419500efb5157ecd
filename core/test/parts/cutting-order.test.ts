import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Contour, CuttingHow } from '../../src/parts/cutting-order.js';
import { cuttingOrder, isAllowed, wayOf } from '../../src/parts/cutting-order.js';
import type { Drawing, Kept } from '../../src/index.js';
import { previewOf } from '../../src/proof/preview.js';
import { fonts } from '../helpers.js';
import { splitSubpaths } from '../../src/geometry/path.js';
import type { PathData } from '../../src/geometry/path.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { box, circle, drawn, line, stepOn } from '../steps/judge.js';

/**
 * Squares of 100 at (0, 0) and (120, 0), holes of radius 5 at (25, 50), (75, 50), (145, 50), (195, 50); circles set in at angle 0,
 * squares at their lower left.
 */
const at = (x: number, y: number, inside = -1): Contour => ({ start: [x, y], end: [x, y], inside });
const SIX = [at(0, 0), at(120, 0), at(30, 50, 0), at(80, 50, 0), at(150, 50, 1), at(200, 50, 1)];
const [A, B, h1, h2, h3, h4] = [0, 1, 2, 3, 4, 5];

describe('six contours of two parts', () => {
  it.each([
    ['free', [h1, h2, h3, h4, B, A], 442.65],
    ['inner', [h1, h2, h3, h4, B, A], 442.65],
    ['parts', [h1, h2, A, h3, h4, B], 505.1],
  ] as [CuttingHow, number[], number][])('%s', (how, order, way) => {
    const made = cuttingOrder(SIX, [0, 0], how);
    expect(made.order).toEqual(order);
    expect(made.way).toBeCloseTo(way, 2);
  });
  it('80 of 720 orders are allowed; the shortest of all, 280.65, cuts an outline before its holes', () => {
    const all = permutations([0, 1, 2, 3, 4, 5]);
    const ways = all.map((o) => [wayOf(SIX, [0, 0], o), isAllowed(SIX, o)] as const);
    expect(ways.filter(([, is]) => is)).toHaveLength(80);
    expect(Math.min(...ways.map(([w]) => w))).toBeCloseTo(280.65, 2);
    expect(Math.min(...ways.flatMap(([w, is]) => (is ? [w] : [])))).toBeCloseTo(442.65, 2);
    expect(wayOf(SIX, [0, 0], [h1, h2, h3, h4, A, B])).toBeCloseTo(554.46, 2);
  });
});

function permutations(list: number[]): number[][] {
  if (list.length <= 1) return [list];
  return list.flatMap((x, i) => permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [x, ...rest]));
}

describe('laws', () => {
  let shorter = 0;
  const coordinate = fc.integer({ min: 0, max: 200 });
  /** Contours that lie in contours before them, some of them open. */
  const anyContours = (least: number, most: number) =>
    fc
      .array(fc.tuple(coordinate, coordinate, fc.nat(), fc.boolean(), fc.integer({ min: -5, max: 5 })), {
        minLength: least,
        maxLength: most,
        size: 'max',
      })
      .map((list) =>
        list.map(([x, y, holder, isOuter, dx], i): Contour => ({
          start: [x, y],
          end: [x + dx, y],
          inside: i === 0 || isOuter ? -1 : holder % i,
        })),
      );
  const ways = fc.constantFrom<CuttingHow>('free', 'inner', 'parts');
  it('all are there once, what lies inside comes first, and the way is no longer than that of the order given', () => {
    fc.assert(
      fc.property(anyContours(1, 60), ways, (contours, how) => {
        const { order, way } = cuttingOrder(contours, [0, 0], how);
        expect([...order].sort((a, b) => a - b)).toEqual(contours.map((_, i) => i));
        expect(isAllowed(contours, order)).toBe(true);
        expect(way).toBeCloseTo(wayOf(contours, [0, 0], order), 9);
        const own = contours.map((_, i) => i);
        if (how === 'free' && isAllowed(contours, own))
          expect(way).toBeLessThanOrEqual(wayOf(contours, [0, 0], own) + 1e-9);
        if (how === 'inner') {
          const outer = order.map((i) => contours[i]!.inside < 0);
          expect(outer.indexOf(true)).toBe(outer.length - outer.filter(Boolean).length);
        }
      }),
      { numRuns: 150 },
    );
  });
  it('of many the way is shorter than by always going to the nearest, or as long', () => {
    fc.assert(
      fc.property(anyContours(30, 60), (contours) => {
        const left = new Set(contours.keys());
        const waits = contours.map((_, i) => contours.filter((c) => c.inside === i).length);
        const greedy: number[] = [];
        for (let [x, y] = [0, 0]; left.size > 0;) {
          const away = (i: number): number => Math.hypot(contours[i]!.start[0] - x, contours[i]!.start[1] - y);
          const next = [...left].filter((i) => waits[i] === 0).reduce((a, b) => (away(b) < away(a) ? b : a));
          greedy.push(next);
          left.delete(next);
          if (contours[next]!.inside >= 0) waits[contours[next]!.inside]!--;
          [x, y] = contours[next]!.end as [number, number];
        }
        const { way } = cuttingOrder(contours, [0, 0]);
        expect(way).toBeLessThanOrEqual(wayOf(contours, [0, 0], greedy) + 1e-9);
        shorter += way < wayOf(contours, [0, 0], greedy) * 0.97 ? 1 : 0;
      }),
      { numRuns: 40 },
    );
    expect(shorter).toBeGreaterThan(20);
  });
  it('of few the shortest of all is found', () => {
    fc.assert(
      fc.property(anyContours(1, 6), (contours) => {
        const best = Math.min(
          ...permutations(contours.map((_, i) => i)).flatMap((o) =>
            isAllowed(contours, o) ? [wayOf(contours, [0, 0], o)] : [],
          ),
        );
        expect(cuttingOrder(contours, [0, 0]).way).toBeCloseTo(best, 9);
      }),
      { numRuns: 40 },
    );
  });
  it('ordering what was ordered changes nothing', () => {
    fc.assert(
      fc.property(anyContours(13, 40), ways, (contours, how) => {
        const { order, way } = cuttingOrder(contours, [0, 0], how);
        const place = new Map(order.map((i, n) => [i, n]));
        const again = order.map((i): Contour => ({ ...contours[i]!, inside: place.get(contours[i]!.inside) ?? -1 }));
        const second = cuttingOrder(again, [0, 0], how);
        expect(second.way).toBeLessThanOrEqual(way + 1e-9);
      }),
      { numRuns: 60 },
    );
  });
  it('can be stopped', () => {
    const many = Array.from({ length: 3000 }, (_, i) => at((i * 37) % 101, (i * 53) % 97));
    let asked = 0;
    expect(() =>
      cuttingOrder(many, [0, 0], 'free', () => {
        if (++asked > 3) throw new Error('stopped');
      }),
    ).toThrow('stopped');
  });
});

describe('the step', () => {
  const order = (d: Drawing, params: Kept = {}) => stepOn(d, 'order-for-cutting', params);
  const plates = (): Drawing =>
    drawn(
      box(0, 0, 100, 100),
      box(120, 0, 100, 100),
      circle(25, 50, 5),
      circle(75, 50, 5),
      circle(145, 50, 5),
      circle(195, 50, 5),
    );
  it('draws what is cut first first: 442.65 between cuts; objects themselves stay the very same', () => {
    const before = plates();
    const made = order(before);
    expect(made.entities.map((e) => e.id)).toEqual([3, 4, 5, 6, 2, 1]);
    expect(new Set(made.entities)).toEqual(new Set(before.entities));
    expect(made.row('ordered-for-cutting')!.reason).toContain('became 442.65');
    expect(made.against).toEqual([]);
    expect(made.lists[0]!.rows[0]).toEqual([1, 'circle', 'A', 58.31, 31.42]);
    expect(order(made.drawing).drawing).toBe(made.drawing);
    expect(previewOf(before, made, fonts())).toMatchObject({ looked: 6, changed: 6, become: 6, farthest: null });
  });
  it('engraves before it cuts, and cuts layers in the order that is asked', () => {
    const d = drawn(box(0, 0, 50, 50), line(10, 10, 40, 10), box(100, 0, 50, 50, { layer: 'KISS' }), circle(25, 25, 5));
    expect(order(d).entities.map((e) => e.id)).toEqual([2, 4, 1, 3]);
    expect(order(d, { layers: 'KISS, A' }).entities.map((e) => e.id)).toEqual([3, 2, 4, 1]);
    expect(
      order(d, { marks: 'among' })
        .entities.map((e) => e.id)
        .indexOf(4),
    ).toBeLessThan(3);
  });
  it('draws a path of several outlines from the inside out, its shape the very same', () => {
    const path = (d: string): never => ({ kind: 'path', path: parsePathData(d).path }) as never;
    const made = order(drawn(path('M0 0H90V90H0Z M200 0H220V20H200Z M10 10H80V80H10Z M30 30H40V40H30Z')));
    const [e] = made.entities as unknown as [{ path: PathData }];
    // The innermost first, then its holder, then the two that nothing holds, as they stood.
    expect(splitSubpaths(e.path).map((p) => p.data[0])).toEqual([30, 10, 0, 200]);
    expect(made.against).toEqual([]);
    expect(made.row('paths-from-inside-out')!.count).toBe(1);
    expect(order(made.drawing).drawing).toBe(made.drawing);
    // An open curve around others holds nothing.
    expect(order(drawn(path('M0 0H90V90H0 M10 10H80V80H10Z'))).reasons).not.toContain('paths-from-inside-out');
  });
  it('leaves what is no curve where it is, and tells what would be cut twice', () => {
    const point = { kind: 'point', at: [0, 0, 0] } as never;
    const made = order(drawn(box(0, 0, 50, 50), point, circle(25, 25, 5), circle(25, 25, 5)));
    expect(made.entities.map((e) => e.id)).toEqual([3, 2, 4, 1]);
    expect(made.reasons).toContain('cut-more-than-once');
  });
});
