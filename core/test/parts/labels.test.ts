import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity, Kept, Text } from '../../src/index.js';
import { CHECKS, runCheck } from '../../src/index.js';
import type { Chord } from '../../src/geometry/clip-chord.js';
import type { LabelRoom } from '../../src/parts/label-place.js';
import { fitsAt, largestThatFits, placeFor } from '../../src/parts/label-place.js';
import { textCorners } from '../../src/text/text-corners.js';
import { fonts } from '../helpers.js';
import { box, chain, circle, drawn, line, stepOn, text } from '../steps/judge.js';

const ring = (...at: number[]): Chord[] =>
  Array.from({ length: at.length / 2 }, (_, i): Chord => {
    const j = (2 * i + 2) % at.length;
    return [at[2 * i]!, at[2 * i + 1]!, at[j]!, at[j + 1]!];
  });
const room = (outline: Chord[], obstacles: Chord[] = []): LabelRoom => ({ outline, obstacles });
const plate = (w: number, h: number): Chord[] => ring(0, 0, w, 0, w, h, 0, h);

describe('where a label fits', () => {
  it('42 × 6 in 40 × 20 with a margin of 2: 36 to have, a factor of 0.857; turned 16, no', () => {
    const part = room(plate(40, 20));
    expect(placeFor(part, [20, 10], 42, 6, 2)).toBeNull();
    expect(placeFor(part, [20, 10], 6, 42, 2)).toBeNull();
    const made = largestThatFits(part, [20, 10], 42, 6, 2, 0.5)!;
    expect(made.factor).toBeCloseTo(36 / 42, 6);
    expect(made.at).toEqual([expect.closeTo(20, 4), expect.closeTo(10, 6)]);
    // 5.14 high: a least height of 5.5 is not to be had.
    expect(made.factor * 6).toBeCloseTo(5.142857, 5);
    expect(largestThatFits(part, [20, 10], 42, 6, 2, 5.5 / 6)).toBeNull();
  });
  it('a U of 100 × 80, walls and base 20: its middle lies in the void, the label belongs in the base at (50, 10)', () => {
    const u = room(ring(0, 0, 100, 0, 100, 80, 80, 80, 80, 20, 20, 20, 20, 80, 0, 80));
    const centroid = [50, 31.82] as const;
    expect(fitsAt(u, ...centroid, 42, 6, 2)).toBe(false);
    expect(placeFor(u, centroid, 42, 6, 2)).toEqual([50, 10]);
    // 96 × 16 clear, to the last.
    expect(placeFor(u, centroid, 96, 16, 2)).toEqual([50, 10]);
    expect(placeFor(u, centroid, 96.01, 16, 2)).toBeNull();
  });
  it('not in a hole, however small the label, and off marks', () => {
    const frame = room(plate(100, 100), ring(20, 20, 80, 20, 80, 80, 20, 80));
    expect(fitsAt(frame, 50, 50, 5, 5, 1)).toBe(false);
    expect(fitsAt(frame, 10, 50, 5, 5, 1)).toBe(true);
    const marked = room(plate(100, 20), [[50, 0, 50, 20]]);
    expect(fitsAt(marked, 50, 10, 20, 6, 2)).toBe(false);
    const [x] = placeFor(marked, [52, 10], 20, 6, 2)!;
    expect(Math.abs(x - 50)).toBeGreaterThanOrEqual(12);
  });
  it('whatever place is found does fit: no corner of it nearer to an edge than the margin', () => {
    const size = fc.integer({ min: 1, max: 60 });
    fc.assert(
      fc.property(
        size,
        size,
        fc.integer({ min: 0, max: 5 }),
        fc.array(fc.tuple(size, size, size, size), { maxLength: 3 }),
        (w, h, margin, holes) => {
          const part = room(
            plate(80, 60),
            holes.flatMap(([x, y, a, b]) => ring(x, y, x + a / 8, y, x + a / 8, y + b / 8, x, y + b / 8)),
          );
          const at = placeFor(part, [40, 30], w, h, margin);
          if (!at) return;
          const [x, y] = at;
          expect(x - w / 2 - margin).toBeGreaterThanOrEqual(-1e-6);
          expect(x + w / 2 + margin).toBeLessThanOrEqual(80 + 1e-6);
          expect(y - h / 2 - margin).toBeGreaterThanOrEqual(-1e-6);
          expect(y + h / 2 + margin).toBeLessThanOrEqual(60 + 1e-6);
          for (const [hx, hy, a, b] of holes) {
            const apartX = Math.max(hx - (x + w / 2), x - w / 2 - (hx + a / 8));
            const apartY = Math.max(hy - (y + h / 2), y - h / 2 - (hy + b / 8));
            expect(Math.max(apartX, apartY)).toBeGreaterThanOrEqual(margin - 1e-6);
          }
        },
      ),
      { numRuns: 200 },
    );
  });
});

/** A text so wide and high as it is drawn, its lower left corner at the origin. */
function sized(words: string, width: number, height: number, more: object = {}): Entity {
  const d = drawn(text(words, 0, 0));
  const corners = (e: Entity): [number, number] => {
    const [a, b, c] = textCorners(e as Text, d, fonts());
    return [b![0] - a![0], c![1] - b![1]];
  };
  const [, h] = corners(d.entities[0]!);
  const high = { ...(d.entities[0] as Text), size: (3 * height) / h };
  const [w] = corners(high);
  return { ...high, widthFactor: width / w, ...more } as Entity;
}
const bring = (d: Drawing, params: Kept = {}) => stepOn(d, 'labels-inside', params);
const at = (e: Entity, x: number, y: number): never => ({ ...e, at: [x, y, 0] }) as never;
const boxOf = (d: Drawing, e: Entity): number[] => {
  const c = textCorners(e as Text, d, fonts());
  const [xs, ys] = [c.map((p) => p[0]), c.map((p) => p[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].map((v) => Number(v.toFixed(4)));
};

describe('labels inside', () => {
  it('what fits stays the very same', () => {
    const d = drawn(box(0, 0, 100, 40), at(sized('No 7', 42, 6), 20, 10));
    expect(bring(d).drawing).toBe(d);
  });
  it('what runs over is moved within its part, no further than is told, and fits then', () => {
    const d = drawn(box(0, 0, 60, 20), at(sized('No 7', 42, 6), 30, 12));
    const made = bring(d);
    const [x0, y0, x1, y1] = boxOf(made.drawing, made.entities[1]!) as [number, number, number, number];
    expect([x1 - x0, y1 - y0]).toEqual([expect.closeTo(42, 3), expect.closeTo(6, 3)]);
    expect(Math.min(x0, y0, 60 - x1, 20 - y1)).toBeGreaterThanOrEqual(2 - 1e-3);
    expect(made.row('labels-brought-in')!.reason).toContain('1 moved');
    expect(made.against).toEqual([]);
    expect(bring(made.drawing).drawing).toBe(made.drawing);
    const check = CHECKS.find((c) => c.id === 'text-over-outline')!;
    const over = (of: Drawing): number => runCheck(check, of, {}, { fonts: fonts() }).length;
    expect([over(d), over(made.drawing)]).toEqual([1, 0]);
  });
  it('turned a quarter where it stands no other way, smaller where it may be, else told or put aside', () => {
    const label = sized('No 7', 42, 6);
    const upright = bring(drawn(box(0, 0, 12, 60), at(label, 2, 20)));
    expect(upright.row('labels-brought-in')!.reason).toContain('1 turned');
    expect(upright.entities[1]).toMatchObject({ rotation: expect.closeTo(Math.PI / 2, 9) });
    const d = drawn(box(0, 0, 40, 20), at(label, 1, 7));
    const smaller = bring(d, { least: 5 });
    expect(smaller.row('labels-brought-in')!.reason).toContain('1 made smaller');
    const [x0, y0, x1, y1] = boxOf(smaller.drawing, smaller.entities[1]!) as [number, number, number, number];
    expect([x1 - x0, y1 - y0]).toEqual([expect.closeTo(36, 2), expect.closeTo(5.142, 2)]);
    expect(smaller.against).toEqual([]);
    const stays = bring(d, { least: 5.5 });
    expect(stays.drawing).toBe(d);
    expect(stays.reasons).toEqual(['label-fits-nowhere']);
    const aside = bring(d, { least: 5.5, aside: 'layer' });
    expect(aside.entities[1]).toMatchObject({ layer: 'LABELS-ASIDE' });
    expect(aside.drawing.layers.map((l) => l.name)).toContain('LABELS-ASIDE');
  });
  it('off holes and marks of its part, and along its own direction', () => {
    const d = drawn(box(0, 0, 100, 60), circle(50, 30, 10), line(10, 10, 90, 10), at(sized('No 7', 42, 6), 30, 27));
    const made = bring(d);
    const [x0, y0, , y1] = boxOf(made.drawing, made.entities[3]!) as [number, number, number, number];
    expect(y0 > 42 - 0.01 || y1 < 18 + 0.01 || x0 > 62 - 0.01).toBe(true);
    expect(made.against).toEqual([]);
    const slanted = chain([0, 0, 42.4264, 42.4264, 28.2843, 56.5685, -14.1421, 14.1421], true);
    const turned = bring(drawn(slanted, at({ ...sized('No 7', 42, 6), rotation: Math.PI / 4 } as Entity, 12, 20)));
    expect(turned.entities[1]).toMatchObject({ rotation: expect.closeTo(Math.PI / 4, 9) });
    expect(turned.row('labels-brought-in')!.reason).toContain('1 moved');
  });
});
