import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Pixels } from '../../src/formats/picture/png.js';
import { Coverage } from '../../src/geometry/raster/coverage.js';
import { areaOfPieces } from '../../src/geometry/piece-area.js';
import { pointAt } from '../../src/geometry/path-pieces.js';
import { withoutSpeckles } from '../../src/tracing/components.js';
import {
  bestThreshold,
  brightnessOf,
  byBrightness,
  byColours,
  histogramOf,
  onWhite,
  proposedColours,
  withoutGround,
} from '../../src/tracing/labels.js';
import type { TraceRules, Traced, TracedArea } from '../../src/tracing/trace.js';
import { trace } from '../../src/tracing/trace.js';
import { BLACK, BLUE, RED, WHITE, painted } from './painted.js';

const RULES: TraceRules = { bound: 0.4, corner: Math.PI / 5, recover: true, corners: 'joined' };
const going = (): void => {};
const dark = (p: Pixels, rules: Partial<TraceRules> = {}, threshold = 128): Traced =>
  trace(byBrightness(p, threshold), { ...RULES, ...rules }, going);
const areaOf = (a: TracedArea): number => Math.abs(a.loops.reduce((s, l) => s + areaOfPieces(l), 0));

/** The part of pixels that differ by more than half where what was traced is drawn again on its own pixels. */
function redrawn(p: Pixels, t: Traced): { differs: number; inked: number } {
  const c = new Coverage(p.width, p.height);
  for (const { loops } of t.areas)
    for (const loop of loops)
      for (const piece of loop)
        for (let k = 0; k < 16; k++) c.edge(...pointAt(piece, k / 16), ...pointAt(piece, (k + 1) / 16));
  const out = new Float64Array(p.width * p.height);
  c.sweep('nonzero', (y, from, to, part) => {
    for (let x = from; x < to; x++) out[y * p.width + x] = part;
  });
  const brightness = brightnessOf(onWhite(p).rgb);
  let [differs, inked] = [0, 0];
  out.forEach((part, i) => {
    if (brightness[i]! < 250) inked++;
    if (Math.abs(1 - part - brightness[i]! / 255) > 0.5) differs++;
  });
  return { differs, inked };
}

describe('what is traced by brightness', () => {
  test('a disc with a smooth edge is one circle, a tenth of a pixel off at the most', () => {
    const [cx, cy, r] = [131.3, 127.8, 100];
    const t = dark(painted(260, 256, (x, y) => (Math.hypot(x - cx, y - cy) <= r ? BLACK : WHITE)));
    expect(t.areas).toHaveLength(1);
    const [loop] = t.areas[0]!.loops;
    expect(loop!.map((p) => p.kind)).toEqual(['arc', 'arc']);
    const arc = loop![0]!;
    if (arc.kind !== 'arc') throw new Error('no arc');
    expect(Math.abs(arc.rx - r)).toBeLessThan(0.1);
    expect(Math.hypot(arc.cx - cx, arc.cy - cy)).toBeLessThan(0.05);
    expect(Math.abs(areaOf(t.areas[0]!) / (Math.PI * r * r) - 1)).toBeLessThan(0.002);
  });

  test('a rectangle that fills whole pixels has four corners, exactly there', () => {
    const t = dark(painted(80, 60, (x, y) => (x > 10 && x < 70 && y > 8 && y < 48 ? BLACK : WHITE)));
    const [loop] = t.areas[0]!.loops;
    expect(loop!.map((p) => p.kind)).toEqual(['bezier', 'bezier', 'bezier', 'bezier']);
    expect(areaOf(t.areas[0]!)).toBe(2400);
  });

  test('law: a turned rectangle keeps its size and its place, wherever it lies', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: Math.PI, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: 20, max: 45, noNaN: true }),
        (angle, shift, half) => {
          const [c, s] = [Math.cos(angle), Math.sin(angle)];
          const inside = (x: number, y: number): boolean => {
            const [dx, dy] = [x - 64 - shift, y - 64 + shift];
            return Math.abs(c * dx + s * dy) < half && Math.abs(c * dy - s * dx) < half / 2;
          };
          const p = painted(128, 128, (x, y) => (inside(x, y) ? BLACK : WHITE));
          const t = dark(p);
          expect(t.areas).toHaveLength(1);
          expect(t.areas[0]!.loops[0]!.length).toBeLessThanOrEqual(6);
          expect(Math.abs(areaOf(t.areas[0]!) / (2 * half * half) - 1)).toBeLessThan(0.01);
          expect(redrawn(p, t).differs).toBeLessThan(0.002 * 128 * 128);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('a ring is one area with a hole', () => {
    const t = dark(painted(120, 120, (x, y) => (Math.abs(Math.hypot(x - 60, y - 60) - 40) < 12 ? BLACK : WHITE)));
    expect(t.areas).toHaveLength(1);
    expect(t.areas[0]!.loops).toHaveLength(2);
    const [outer, hole] = t.areas[0]!.loops.map(areaOfPieces);
    expect(Math.sign(outer!)).toBe(-Math.sign(hole!));
    expect(areaOf(t.areas[0]!) / (Math.PI * (52 ** 2 - 28 ** 2))).toBeCloseTo(1, 2);
  });

  test('cells that touch in a point are one area or two, as was chosen', () => {
    const p = painted(60, 60, (x, y) => (x > 10 && x < 50 && y > 10 && y < 50 && x < 30 === y < 30 ? BLACK : WHITE));
    const joined = dark(p);
    const parted = dark(p, { corners: 'parted' });
    expect([joined.areas.length, parted.areas.length]).toEqual([1, 2]);
    expect([joined.crosswise, parted.crosswise]).toEqual([1, 1]);
    for (const t of [joined, parted]) expect(t.areas.reduce((s, a) => s + areaOf(a), 0)).toBeCloseTo(800, 6);
  });

  test('clean art comes back as its pixels, with a tenth of the points that their sides have', () => {
    // A leaf of two arcs with a stem, and a wave.
    const art = (x: number, y: number): number => {
      const leaf = Math.hypot(x - 90, y - 150) < 110 && Math.hypot(x - 210, y - 150) < 110;
      const stem = Math.abs(x - 150) < 4 && y > 200 && y < 280;
      const wave = y > 20 + 10 * Math.sin(x / 18) && y < 34 + 10 * Math.sin(x / 18);
      return leaf || stem || wave ? BLACK : WHITE;
    };
    const p = painted(300, 300, art);
    const t = dark(p);
    const { differs } = redrawn(p, t);
    expect(differs / (300 * 300)).toBeLessThan(0.002);
    expect(t.points).toBeLessThan(0.1 * t.pixelPoints);
    // The same picture is traced the same.
    expect(JSON.stringify(dark(p))).toBe(JSON.stringify(t));
  });

  test('the threshold that is proposed lies between ink and paper, and speckles go', () => {
    const p = painted(100, 100, (x, y) => (Math.hypot(x - 50, y - 50) < 30 ? 0x303030 : 0xe0e0e0));
    for (const [x, y] of [
      [5, 5],
      [90, 12],
      [91, 12],
      [50, 50],
    ] as const)
      p.data.fill(x === 50 ? 255 : 0, 3 * (y * 100 + x), 3 * (y * 100 + x + 1));
    const threshold = bestThreshold(histogramOf(brightnessOf(onWhite(p).rgb)));
    expect(threshold).toBeGreaterThan(0x40);
    expect(threshold).toBeLessThan(0xd0);
    const all = trace(byBrightness(p, threshold), RULES, going);
    expect(all.areas).toHaveLength(3);
    const { labelled, speckles } = withoutSpeckles(byBrightness(p, threshold), 4);
    const clean = trace(labelled, RULES, going);
    expect([clean.areas.length, clean.areas[0]!.loops.length, speckles]).toEqual([1, 1, 3]);
  });

  test('an empty picture has nothing, and a full one its border', () => {
    expect(dark(painted(20, 20, () => WHITE, 1)).areas).toEqual([]);
    const full = dark(painted(20, 30, () => BLACK, 1));
    expect(full.areas.map(areaOf)).toEqual([600]);
  });
});

describe('what is traced by colours', () => {
  const two = painted(100, 40, (x) => (x < 60 ? RED : BLUE), 1);

  test('two colours side by side: their areas are exact, their common edge is one', () => {
    const palette = proposedColours(two, 8);
    expect(palette).toEqual([RED, BLUE]);
    const t = trace(byColours(two, palette), RULES, going);
    expect(t.areas.map(areaOf)).toEqual([2400, 1600]);
    const between = t.edges.filter((e) => e.right !== 255 && e.left !== 255);
    expect(between).toHaveLength(1);
    expect(between[0]!.pieces).toHaveLength(1);
  });

  test('a mixture on an edge belongs to what it lies between, not to a third colour that it is like', () => {
    // Red on white mixes to pink, which is a colour of its own elsewhere.
    const PINK = 0xe8988f;
    const p = painted(120, 60, (x, y) =>
      Math.hypot(x - 30, y - 30) < 20 ? RED : Math.hypot(x - 90, y - 30) < 20 ? PINK : WHITE,
    );
    const palette = proposedColours(p, 8);
    expect(palette).toHaveLength(3);
    const t = trace(withoutGround(byColours(p, palette), palette.indexOf(WHITE)), RULES, going);
    expect(t.areas).toHaveLength(2);
    for (const a of t.areas) expect(areaOf(a) / (Math.PI * 400)).toBeCloseTo(1, 2);
  });

  test('law: three areas that meet leave no gap and no overlap', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 25, max: 75, noNaN: true }),
        fc.double({ min: 25, max: 75, noNaN: true }),
        fc.double({ min: 0.3, max: 1.2, noNaN: true }),
        (x0, y0, turn) => {
          const p = painted(100, 100, (x, y) => {
            const a = (Math.atan2(y - y0, x - x0) + turn + 2 * Math.PI) % (2 * Math.PI);
            return a < 2 ? RED : a < 4 ? BLUE : 0x40a050;
          });
          const t = trace(byColours(p, [RED, BLUE, 0x40a050]), RULES, going);
          expect(t.areas).toHaveLength(3);
          expect(t.areas.reduce((s, a) => s + areaOf(a), 0)).toBeCloseTo(10_000, 6);
          // Where they meet is where their edges lead.
          const ends = t.edges.flatMap((e) =>
            e.closed ? [] : [pointAt(e.pieces[0]!, 0), pointAt(e.pieces[e.pieces.length - 1]!, 1)],
          );
          expect(Math.min(...ends.map(([x, y]) => Math.hypot(x - x0, y - y0)))).toBeLessThan(0.6);
        },
      ),
      { numRuns: 30 },
    );
  });

  test('what is clear belongs to nothing', () => {
    const data = new Uint8Array(4 * 40 * 40);
    for (let y = 10; y < 30; y++) for (let x = 10; x < 30; x++) data.set([208, 48, 32, 255], 4 * (y * 40 + x));
    const p: Pixels = { width: 40, height: 40, channels: 4, data };
    const t = trace(byColours(p, proposedColours(p, 4)), RULES, going);
    expect(t.areas.map(areaOf)).toEqual([400]);
  });
});
