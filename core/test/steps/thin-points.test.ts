import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing, Kept } from '../../src/index.js';
import { runsOf } from '../../src/drawing/courses.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { nodeCount } from '../../src/geometry/path.js';
import { apart, arc, chain, cornersOf, drawn, line, placed, stepOn } from './judge.js';
import { PLAIN_DIMENSION } from '../sketches.js';

const thin = (d: Drawing, bound: number, more: Kept = {}) =>
  stepOn(d, 'thin-points', { strength: 'bound', bound, ...more });
const path = (data: string, more: object = {}): never =>
  ({ kind: 'path', path: parsePathData(data).path, ...more }) as never;
const WORKED = [0, 0, 25, 0.03, 50, 0.05, 75, 0.02, 100, 0, 100, 40];

describe('under a bound', () => {
  it('0.05: three points, 0.05 off at most; 0.04: four, since (50, 0.05) stays', () => {
    const d = drawn(chain(WORKED));
    const wide = thin(d, 0.05);
    expect(cornersOf(wide.entities[0])).toEqual([0, 0, 100, 0, 100, 40]);
    expect(wide.row('points-thinned')).toMatchObject({ count: 3, deviation: { value: 0.05, unit: 'mm' } });
    expect(apart(d, wide.drawing)).toBeCloseTo(0.05, 9);
    const narrow = thin(d, 0.04);
    expect(cornersOf(narrow.entities[0])).toEqual([0, 0, 50, 0.05, 100, 0, 100, 40]);
    // (25, 0.03) lies 0.005 above the straight to (50, 0.05), (75, 0.02) as much below the one from there.
    expect(narrow.row('points-thinned')!.deviation!.value).toBeCloseTo(0.005, 5);
    for (const made of [wide, narrow]) expect(made.against).toEqual([]);
  });
  it('the bound is a length: 0.05 mm in a drawing of inches is 0.00197', () => {
    const inch = (k: number): Drawing => ({
      ...drawn(chain(WORKED.map((v) => v * k))),
      unit: { unit: 'in', factor: 1 },
    });
    const mm = { strength: 'bound', bound: { value: 0.05, unit: 'mm' } };
    expect(cornersOf(stepOn(inch(1 / 25.4), 'thin-points', mm).entities[0])).toHaveLength(6);
    expect(stepOn(inch(1), 'thin-points', mm).entities[0]).toMatchObject({ points: Float64Array.from(WORKED) });
  });
  it('corners that turn by more than said stay, however little they stand out', () => {
    const notch = chain([0, 0, 40, 0, 40, 0.02, 41, 0.02, 41, 0, 100, 0]);
    expect(cornersOf(thin(drawn(notch), 0.05).entities[0])).toHaveLength(12);
    expect(cornersOf(thin(drawn(notch), 0.05, { corner: 95 }).entities[0])).toEqual([0, 0, 100, 0]);
  });
});

describe('needless points alone', () => {
  const plain = (d: Drawing) => stepOn(d, 'thin-points', { strength: 'redundant' });
  it('on the straight between their neighbours, the first of a closed outline among them', () => {
    const made = plain(drawn(chain([50, 0, 100, 0, 100, 30, 100, 60, 0, 60, 0, 0], true)));
    expect(cornersOf(made.entities[0])).toEqual([100, 0, 100, 60, 0, 60, 0, 0]);
    expect(plain(drawn(chain(WORKED))).entities[0]).toMatchObject({ points: Float64Array.from(WORKED) });
  });
  it('on the arc between them: two eighths of a circle are a quarter', () => {
    const [c, eighth] = [50 * Math.SQRT1_2, Math.tan(Math.PI / 16)];
    const d = drawn(chain([50, 0, c, c, 0, 50, -40, 50], false, { bulges: Float64Array.of(eighth, eighth, 0, 0) }));
    const made = plain(d);
    expect(cornersOf(made.entities[0])).toEqual([50, 0, 0, 50, -40, 50]);
    expect((made.entities[0] as { bulges: Float64Array }).bulges[0]).toBeCloseTo(Math.tan(Math.PI / 8), 12);
    expect(made.against).toEqual([]);
  });
  it('far from the origin too', () => {
    const far = chain([1e6, 1e6, 1e6 + 50, 1e6, 1e6 + 100, 1e6, 1e6 + 100, 1e6 + 9]);
    expect(cornersOf(plain(drawn(far)).entities[0])).toHaveLength(6);
  });
});

describe('neighbours', () => {
  // Two areas with a wavy common edge from (50, 0) to (50, 60).
  const wave = [50, 0, 50.02, 15, 49.97, 30, 50.03, 45, 50, 60];
  const back = [50, 60, 50.03, 45, 49.97, 30, 50.02, 15, 50, 0];
  it('keep equal points on the edge they share, whichever way each runs', () => {
    const d = drawn(chain([0, 0, ...wave, 0, 60], true), chain([100, 0, 100, 60, ...back], true));
    const made = thin(d, 0.1);
    expect(made.entities.map(cornersOf)).toEqual([
      [0, 0, 50, 0, 50, 60, 0, 60],
      [100, 0, 100, 60, 50, 60, 50, 0],
    ]);
    expect(made.against).toEqual([]);
  });
  it('a point where another goes off, or a curve ends, stays', () => {
    const d = drawn(chain([0, 0, 30, 0.01, 60, 0, 100, 0]), chain([30, 0.01, 30, 50]));
    expect(cornersOf(thin(d, 0.1).entities[0])).toEqual([0, 0, 30, 0.01, 100, 0]);
    const ended = drawn(chain([0, 0, 30, 0.01, 60, 0, 100, 0]), line(60, 0, 60, 50));
    expect(cornersOf(thin(ended, 0.1).entities[0])).toEqual([0, 0, 60, 0, 100, 0]);
  });
  it('where one is left whole, its neighbour keeps the points of their edge', () => {
    // A sliver of 0.02 over the edge: it would fall below three points.
    const d = drawn(
      chain([0, 0, 50, 0.02, 100, 0], true),
      chain([100, 0, 50, 0.02, 0, 0, 0, -40, 50, -40.01, 100, -40], true),
    );
    const made = thin(d, 0.1);
    expect(made.reasons).toContain('thin-sliver');
    expect(cornersOf(made.entities[0])).toHaveLength(6);
    expect(cornersOf(made.entities[1])).toEqual([100, 0, 50, 0.02, 0, 0, 0, -40, 100, -40]);
  });
});

describe('what keeps an outline whole', () => {
  it('it would cross itself', () => {
    // A hairpin whose inner side bulges out past the outer, both within the bound.
    const d = drawn(chain([0, 0, 50, 3, 100, 0, 100, 1, 50, 3.5, 0, 1.2], true));
    const made = thin(d, 3.2, { corner: 170 });
    if (made.reasons.includes('thin-crossing')) expect(cornersOf(made.entities[0])).toHaveLength(12);
    expect(made.against).toEqual([]);
  });
  it('a width that changes along it', () => {
    const made = thin(drawn(chain(WORKED, false, { widths: Float64Array.of(0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6) })), 1);
    expect(made.reasons).toEqual(['thin-varying-width']);
    const even = thin(drawn(chain(WORKED, false, { widths: new Float64Array(12).fill(2) })), 0.05);
    expect([...(even.entities[0] as { widths: Float64Array }).widths]).toEqual([2, 2, 2, 2, 2, 2]);
  });
});

it('in space the distance counts in space', () => {
  const climb = {
    kind: 'polyline',
    dim: 3,
    elevation: 0,
    closed: false,
    points: Float64Array.of(0, 0, 0, 50, 0, 3, 100, 0, 0),
  } as never;
  expect((thin(drawn(climb), 2).entities[0] as { points: Float64Array }).points).toHaveLength(9);
  expect((thin(drawn(climb), 3).entities[0] as { points: Float64Array }).points).toHaveLength(6);
});

describe('free curves', () => {
  it('a cubic cut in three is one again, exactly', () => {
    const made = thin(drawn(path('M0 0C10 40 60 40 80 0')), 1e-3);
    expect(made.reasons).toEqual([]);
    // De Casteljau at a half, twice over.
    const cut = path('M0 0C5 20 20 30 36.25 30C52.5 30 70 20 80 0');
    const d = drawn(cut);
    const one = thin(d, 1e-6);
    expect(nodeCount((one.entities[0] as { path: { cmds: Uint8Array; data: Float64Array } }).path)).toBe(2);
    expect(apart(d, one.drawing)).toBeLessThan(1e-3);
  });
  it('a circle of sixteen cubics needs fewer under a bound, and stays within it', () => {
    const k = (4 / 3) * Math.tan(Math.PI / 32);
    const at = (i: number): [number, number] => [50 * Math.cos((i * Math.PI) / 8), 50 * Math.sin((i * Math.PI) / 8)];
    let data = `M${at(0).join(' ')}`;
    for (let i = 0; i < 16; i++) {
      const [[x0, y0], [x3, y3]] = [at(i), at(i + 1)];
      data += `C${x0 - k * y0} ${y0 + k * x0} ${x3 + k * y3} ${y3 - k * x3} ${x3} ${y3}`;
    }
    const d = drawn(path(`${data}Z`));
    const made = thin(d, 0.02);
    const nodes = nodeCount((made.entities[0] as { path: { cmds: Uint8Array; data: Float64Array } }).path);
    expect(nodes).toBeLessThanOrEqual(6);
    expect(apart(d, made.drawing)).toBeLessThanOrEqual(0.02 * 1.01 + 1e-4);
    expect(made.against).toEqual([]);
  });
});

it('in blocks of two sizes the bound is that of the drawing, and dimensions hang on the curve', () => {
  const made = thin(placed([chain(WORKED)], [{ at: [0, 0] }, { at: [0, 90], scale: [2, 2, 2] }]), 0.05);
  expect([...made.drawing.blocks.values()].map((b) => cornersOf(b.entities[0]).length)).toEqual([6, 8]);
  expect(made.against).toEqual([]);
  const dimension = {
    kind: 'dimension',
    form: 'aligned',
    points: { 10: [50, 20, 0], 11: [25, 22, 0], 13: [0, 0, 0], 14: [50, 0.05, 0] },
    override: '',
    style: 'STANDARD',
    ...PLAIN_DIMENSION,
    flags: 0,
  } as never;
  const measured = thin(drawn(chain(WORKED), dimension), 0.05);
  expect(measured.entities[1]).toMatchObject({ points: { 13: [0, 0, 0], 14: [50, 0, 0] } });
  expect(measured.reasons).toContain('anchors-rehung');
  expect(measured.against).toEqual([]);
  expect(arc).toBeDefined();
});

describe('for any line', () => {
  const wander = fc.array(
    fc.tuple(fc.double({ min: -5, max: 9, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true })),
    { minLength: 3, maxLength: 60 },
  );
  it('nothing strays beyond the bound, and thinning again changes nothing', () => {
    fc.assert(
      fc.property(wander, fc.boolean(), fc.constantFrom(0.05, 0.5, 2), (steps, closed, bound) => {
        let [x, y] = [0, 0];
        const d = drawn(
          chain(
            steps.flatMap(([dx, dy]) => [(x += dx), (y += dy)]),
            closed,
          ),
        );
        const made = thin(d, bound);
        expect(made.against).toEqual([]);
        expect(apart(d, made.drawing)).toBeLessThanOrEqual(bound * (1 + 1e-9) + 1e-9);
        expect(cornersOf(thin(made.drawing, bound).entities[0])).toEqual(cornersOf(made.entities[0]));
      }),
      { numRuns: 120 },
    );
  });
  it('areas of closed outlines change by no more than the bound along their length', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 40, max: 43, noNaN: true }), { minLength: 8, maxLength: 80 }), (radii) => {
        const points = radii.flatMap((r, i) => [
          r * Math.cos((2 * Math.PI * i) / radii.length),
          r * Math.sin((2 * Math.PI * i) / radii.length),
        ]);
        const d = drawn(chain(points, true));
        const [before, after] = [d, thin(d, 0.5).drawing].map((q) => areaOfPieces(runsOf(q.entities[0]!)![0]!.pieces));
        expect(Math.abs(after! - before!)).toBeLessThanOrEqual(0.5 * 2 * Math.PI * 43);
      }),
    );
  });
});
