import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Entity } from '../../src/index.js';
import { IDENTITY, compose, inverse, rotation, scaling, transformDrawing, translation } from '../../src/index.js';
import { applyPoint } from '../../src/geometry/affine.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import { drawingOf } from '../helpers.js';

const KINDS: (Omit<Entity, 'id' | 'layer' | 'look'> & { kind: string })[] = [
  { kind: 'line', start: [1, 2, 0], end: [5, -3, 0] } as never,
  { kind: 'circle', centre: [3, 4, 0], radius: 2 } as never,
  { kind: 'arc', centre: [1, 1, 0], radius: 3, start: 0.3, end: 4 } as never,
  { kind: 'arc', centre: [1, 1, 2], radius: 3, start: 0.3, end: 4, normal: [0, 0, -1] } as never,
  { kind: 'arc', centre: [1, 1, 2], radius: 3, start: 0.3, end: 4, normal: [0.3, 0.5, 0.8] } as never,
  { kind: 'ellipse', centre: [2, 0, 0], major: [3, 1, 0], ratio: 0.5, start: 0.2, end: 2.5 } as never,
  {
    kind: 'polyline',
    points: Float64Array.of(0, 0, 4, 0, 4, 4),
    dim: 2,
    elevation: 1,
    closed: true,
    bulges: Float64Array.of(0.4, 0, -1),
  } as never,
  {
    kind: 'polyline',
    points: Float64Array.of(0, 0, 4, 0, 4, 4),
    dim: 2,
    elevation: 1,
    closed: true,
    bulges: Float64Array.of(0.4, 0, -1),
    normal: [1, 2, -3],
  } as never,
  {
    kind: 'spline',
    degree: 2,
    knots: Float64Array.of(0, 0, 0, 1, 1, 1),
    points: Float64Array.of(0, 0, 0, 2, 5, 0, 4, 0, 0),
    closed: false,
    periodic: false,
  } as never,
];

const chords = (e: Entity, tolerance = 0.001): number[][] => {
  const out: number[][] = [];
  const add = (x: number, y: number, z: number): void => void out.push([x, y, z]);
  flattenEntity(e, IDENTITY, tolerance, { moveTo: add, lineTo: add });
  return out;
};

describe('moving a drawing', () => {
  it('moves every curve as it moves its points: turn, scale, mirror, shift', () => {
    const n = fc.double({ min: -10, max: 10, noNaN: true });
    fc.assert(
      fc.property(n, n, n, fc.double({ min: 0.1, max: 5, noNaN: true }), fc.boolean(), (x, y, angle, k, mirror) => {
        const m = compose(translation(x, y), compose(rotation(angle), scaling(k, mirror ? -k : k, k)));
        const d = drawingOf(KINDS);
        const moved = transformDrawing(d, m);
        d.entities.forEach((e, i) => {
          const before = chords(e).map((p) => applyPoint(m, p as never));
          const after = chords(moved.entities[i]!, 0.001 * k);
          // A mirrored arc runs the other way; its set of points is the same.
          const apart = (p: readonly number[], q: readonly number[]): number =>
            Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!);
          const [a0, a1, b0, b1] = [after[0]!, after.at(-1)!, before[0]!, before.at(-1)!];
          // A whole circle may start anywhere.
          if (e.kind !== 'circle')
            expect(Math.min(apart(a0, b0) + apart(a1, b1), apart(a0, b1) + apart(a1, b0)), e.kind).toBeLessThan(1e-9);
          const mid = before[Math.floor(before.length / 2)]!;
          const near = Math.min(...after.map((p) => Math.hypot(p[0]! - mid[0]!, p[1]! - mid[1]!, p[2]! - mid[2]!)));
          expect(near, `${e.kind} middle`).toBeLessThan(0.2 * k);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('and back gives the same numbers within rounding', () => {
    const m = compose(translation(7, -3), compose(rotation(0.6), scaling(2, 2, 2)));
    const d = drawingOf(KINDS);
    const back = transformDrawing(transformDrawing(d, m), inverse(m));
    d.entities.forEach((e, i) => {
      const [a, b] = [chords(e), chords(back.entities[i]!)];
      a.forEach((p, k) => p.forEach((v, j) => expect(b[k]![j]).toBeCloseTo(v, 9)));
    });
  });

  it('turned over twice is the same to the last bit', () => {
    const d = drawingOf(KINDS.slice(0, 3));
    const twice = transformDrawing(transformDrawing(d, scaling(1, -1, 1)), scaling(1, -1, 1));
    expect(twice.entities).toEqual(d.entities);
  });

  it('keeps text readable under a mirror', () => {
    const d = drawingOf([
      {
        kind: 'text',
        text: 'A',
        at: [1, 2, 0],
        size: 3,
        sizeOf: 'capital',
        rotation: 0.5,
        widthFactor: 1,
        oblique: 0,
        horizontal: 'left',
        vertical: 'baseline',
      } as never,
    ]);
    expect(transformDrawing(d, scaling(1, -1, 1)).entities[0]).toMatchObject({
      at: [1, -2, 0],
      rotation: -0.5,
      size: 3,
    });
  });

  it('tells what cannot follow', () => {
    const opaque = { kind: 'opaque', format: 'dxf', type: 'THING', raw: '' };
    const lost: string[] = [];
    const moved = transformDrawing(
      drawingOf([opaque as never, { ...opaque, picture: '*D1' } as never]),
      translation(1, 0),
      (e, became) => lost.push(`${e.id} ${became}`),
    );
    expect(lost).toEqual(['1 stale', '2 insert']);
    expect(moved.entities.map((e) => e.kind)).toEqual(['opaque', 'insert']);
  });

  it('refuses maps that change shapes', () => {
    expect(() => transformDrawing(drawingOf([]), scaling(1, 2, 1))).toThrow(RangeError);
  });
});
