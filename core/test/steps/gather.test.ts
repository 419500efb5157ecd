import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Kept } from '../../src/index.js';
import { gatheredName, plannedStep, runStep, stepById } from '../../src/index.js';
import { chordsOf, nearestOf } from '../../src/analysis/nearest.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { fonts } from '../helpers.js';
import { box, circle, drawn } from './judge.js';

const inches = (d: Drawing): Drawing => ({ ...d, unit: { unit: 'in', factor: 1 } });
function gather(into: Drawing, others: Record<string, Drawing>, params: Kept) {
  const references = Object.entries(others).map(([id, drawing]) => ({ name: gatheredName(id), drawing }));
  return runStep(into, plannedStep(stepById('gather-drawings')!, 'g', params), { references, fonts: fonts() });
}
const row = (drawing: string, more: object = {}) => ({ drawing, name: drawing, x: 0, y: 0, ...more });

describe('drawings gathered into one', () => {
  const plate = drawn(box(0, 0, 100, 50));
  const disc = inches(drawn(circle(0, 0, 1)));
  it('come at their true size, from their own unit: a disc of 2 in is 50.8 mm across', () => {
    const made = gather(plate, { disc }, { drawings: [row('disc', { x: 300, y: 0 })] });
    expect(made.drawing.entities).toHaveLength(2);
    expect(made.drawing.entities[1]).toMatchObject({ kind: 'circle', layer: 'disc-A' });
    const found = boundsOf(made.drawing);
    expect(found.maxX).toBeCloseTo(300 + 25.4, 9);
    const { unexplained, displaced } = provePrepared(plate, made.drawing, made.stages, fonts());
    expect([...unexplained, ...displaced]).toEqual([]);
  });
  it('tell the smallest distance: 300 - 100 - 25.4 = 174.6', () => {
    const { ledger, lists } = gather(plate, { disc }, { drawings: [row('disc', { x: 300, y: 25 })] });
    expect(ledger.map((r) => r.reason)).toContain('this drawing and disc lie nearest to each other: 174.6 mm apart');
    expect(lists[0]!.rows[0]!.slice(0, 2)).toEqual(['this drawing', 'disc']);
  });
  it('say so where they lie over each other', () => {
    const { ledger } = gather(plate, { disc }, { drawings: [row('disc', { x: 100, y: 25 })] });
    expect(ledger.map((r) => r.reason)).toContain('this drawing and disc lie over each other');
  });
  it('stand in a row as far apart as is said, on layers of the same name where that is asked', () => {
    const made = gather(
      plate,
      { a: disc, b: drawn(box(5, 5, 20, 20)) },
      {
        ...{ drawings: [row('a'), row('b')], arrange: 'row', gap: 10, layers: 'same' },
      },
    );
    const found = boundsOf(made.drawing);
    expect(found.maxX).toBeCloseTo(100 + 10 + 50.8 + 10 + 20, 9);
    expect(found.minY).toBeCloseTo(0, 9);
    expect(new Set(made.drawing.entities.map((e) => e.layer))).toEqual(new Set(['A']));
  });
  it('are refused where a unit is unknown, a drawing is gone, or its kind is another', () => {
    const asked = { drawings: [row('disc')] };
    expect(() => gather({ ...plate, unit: null }, { disc }, asked)).toThrow(/unit of this drawing/);
    expect(() => gather(plate, { disc: { ...disc, unit: null } }, asked)).toThrow(/unit of “disc”/);
    expect(() => gather(plate, {}, asked)).toThrow(/not there/);
    expect(() => gather(plate, { disc: { ...disc, format: 'svg' } }, asked)).toThrow(/artwork/);
  });
});

describe('the nearest of two drawings', () => {
  it('law: is what comparing every two chords says', () => {
    const at = fc.integer({ min: 0, max: 40 });
    const lines = fc.array(fc.tuple(at, at, at, at), { minLength: 1, maxLength: 12 });
    const apart = (p: readonly number[], q: readonly number[]): number => {
      // By sampling, from above; it can only be a little too large.
      let least = Infinity;
      const on = (s: readonly number[], t: number) =>
        [s[0]! + (s[2]! - s[0]!) * t, s[1]! + (s[3]! - s[1]!) * t] as const;
      for (let i = 0; i <= 40; i++)
        for (let j = 0; j <= 40; j++) {
          const [a, b] = [on(p, i / 40), on(q, j / 40)];
          least = Math.min(least, Math.hypot(a[0] - b[0], a[1] - b[1]));
        }
      return least;
    };
    fc.assert(
      fc.property(lines, lines, (a, b) => {
        const found = nearestOf(Float64Array.from(a.flat()), Float64Array.from(b.flat()))!;
        const sampled = Math.min(...a.flatMap((p) => b.map((q) => apart(p, q))));
        expect(found.distance).toBeLessThanOrEqual(sampled + 1e-9);
        expect(found.distance).toBeGreaterThanOrEqual(sampled - 1.5);
        expect(Math.hypot(found.a[0] - found.b[0], found.a[1] - found.b[1])).toBeCloseTo(found.distance, 9);
      }),
      { numRuns: 60 },
    );
  });
  it('has chords no further from their curves than asked', () => {
    const chords = chordsOf(drawn(circle(0, 0, 10)), 0.01);
    for (let i = 0; i < chords.length; i += 4) {
      const middle = Math.hypot((chords[i]! + chords[i + 2]!) / 2, (chords[i + 1]! + chords[i + 3]!) / 2);
      expect(10 - middle).toBeLessThan(0.0101);
    }
  });
});
