import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChecks, runSteps } from '../src/index.js';
import { fitCircle } from '../src/geometry/fit-circle.js';
import { drawingOf, only, read, svg } from './helpers.js';

const ring = (n: number, radius: number, cx = 0, cy = 0, squash = 1): number[] =>
  Array.from({ length: n }, (_, i) => (2 * Math.PI * i) / n).flatMap((t) => [
    cx + radius * Math.cos(t),
    cy + squash * radius * Math.sin(t),
  ]);
const polyline = (points: number[], closed = true) => ({
  kind: 'polyline',
  points: Float64Array.from(points),
  dim: 2,
  elevation: 0,
  closed,
});
const found = (...entities: object[]) =>
  runChecks(drawingOf(entities as never)).filter((f) => f.check === 'hidden-circles');

it('the circle through points is found wherever it lies, however large', () => {
  const n = fc.double({ min: -1e4, max: 1e4, noNaN: true });
  fc.assert(
    fc.property(
      n,
      n,
      fc.double({ min: 0.01, max: 1e4, noNaN: true }),
      fc.integer({ min: 3, max: 60 }),
      (x, y, r, count) => {
        const c = fitCircle(ring(count, r, x, y))!;
        const size = Math.hypot(x, y) + r;
        expect(Math.abs(c.x - x) + Math.abs(c.y - y) + Math.abs(c.radius - r)).toBeLessThan(1e-6 * size);
      },
    ),
  );
  expect(fitCircle([0, 0, 1, 1, 2, 2, 3, 3])).toBeNull();
});

describe('circles drawn as something else', () => {
  it('as chords, open or closed, with their diameter and place', () => {
    const [f] = found(polyline(ring(36, 5, 20, 30)));
    expect(f).toMatchObject({
      message: 'A circle of Ø 10 mm drawn as 36 chords',
      at: { x: expect.closeTo(20, 9), y: expect.closeTo(30, 9) },
    });
    const joined = ring(24, 5);
    expect(found(polyline([...joined, joined[0]!, joined[1]!], false)).length).toBe(1);
  });
  it('polygons, ellipses, half circles and double turns are none', () => {
    expect(found(polyline(ring(6, 5)))).toEqual([]);
    expect(found(polyline(ring(36, 5, 0, 0, 0.99)))).toEqual([]);
    expect(found(polyline(ring(36, 5).slice(0, 36)))).toEqual([]);
    expect(found(polyline([...ring(24, 5), ...ring(24, 5)]))).toEqual([]);
  });
  it('as Béziers, and become circles', () => {
    const k = 5 * 0.5522847498;
    const d = read(
      svg(`<path d="M5 0C5 ${k} ${k} 5 0 5S-5 ${k} -5 0S${-k} -5 0 -5S5 ${-k} 5 0Z" fill="none" stroke="#000"/>`),
      'x.svg',
    );
    expect(runChecks(d).filter((f) => f.check === 'hidden-circles').length).toBe(1);
    const made = runSteps(d, [{ id: 's', step: 'recover-circles', on: true, params: {} }]);
    expect(only(made.drawing, 'circle').radius).toBeCloseTo(5, 2);
    expect(made.ledger[0]!.deviation!.value).toBeLessThan(0.005);
  });
  it('keep their layer, look and handle', () => {
    const d = drawingOf([{ ...polyline(ring(36, 5)), layer: 'HOLES', key: '2F' } as never]);
    const e = only(runSteps(d, [{ id: 's', step: 'recover-circles', on: true, params: {} }]).drawing, 'circle');
    expect(e).toMatchObject({ layer: 'HOLES', key: '2F', look: d.entities[0]!.look });
  });
});
