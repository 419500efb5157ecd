import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CUBIC_OFF, arcAsCubics } from '../../src/geometry/arc-cubics.js';
import { endpointToCentre } from '../../src/geometry/ellipses.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { endOf, partOf, piecesOf, pointAt, reversed, startOf, tangentAt } from '../../src/geometry/path-pieces.js';
import type { Piece } from '../../src/geometry/path-pieces.js';
import { pathText } from '../../src/formats/svg/path-text.js';

const n = fc.integer({ min: -500, max: 500 }).map((v) => v / 10);
const bezier = fc
  .oneof(...[4, 6, 8].map((k) => fc.array(n, { minLength: k, maxLength: k })))
  .map((p): Piece => ({ kind: 'bezier', p }));
const arc = fc
  .tuple(
    n,
    n,
    fc.double({ min: 0.1, max: 40, noNaN: true }),
    fc.double({ min: 0.1, max: 40, noNaN: true }),
    n,
    n,
    fc.constantFrom(0.3, -0.5, 1.5, -3, 5),
  )
  .map(([cx, cy, rx, ry, rotation, start, sweep]): Piece => {
    const bare = {
      kind: 'arc' as const,
      cx,
      cy,
      rx,
      ry,
      rotation,
      start,
      sweep,
      from: [0, 0] as const,
      to: [0, 0] as const,
    };
    return { ...bare, from: pointAt(bare, 0), to: pointAt(bare, 1) };
  });
const piece = fc.oneof(bezier, arc);
const unit = fc.double({ min: 0.05, max: 0.95, noNaN: true });
const near = (a: readonly number[], b: readonly number[]): void => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 7));

describe('a piece of a path', () => {
  it('cut in two is the same curve on either side', () => {
    fc.assert(
      fc.property(piece, unit, unit, (p, t, s) => {
        const at = pointAt(p, t);
        near(pointAt(partOf(p, 0, t, startOf(p), at), s), pointAt(p, t * s));
        near(pointAt(partOf(p, t, 1, at, endOf(p)), s), pointAt(p, t + (1 - t) * s));
      }),
    );
  });
  it('turned round runs backwards, and twice is itself', () => {
    fc.assert(
      fc.property(piece, unit, (p, t) => {
        near(pointAt(reversed(p), t), pointAt(p, 1 - t));
        near(pointAt(reversed(reversed(p)), t), pointAt(p, t));
      }),
    );
  });
  it('has the tangent that small steps have', () => {
    fc.assert(
      fc.property(piece, unit, (p, t) => {
        const h = 1e-6;
        const [a, b] = [pointAt(p, t - h), pointAt(p, t + h)];
        const d = tangentAt(p, t);
        for (const k of [0, 1]) expect((b[k]! - a[k]!) / (2 * h)).toBeCloseTo(d[k]!, 3);
      }),
    );
  });
  it('is left out where it has no length; a fill closes what is open', () => {
    const { path } = parsePathData('M0 0L0 0L5 0L5 5M9 9');
    expect(piecesOf(path, false).map((s) => s.pieces.length)).toEqual([2]);
    expect(piecesOf(path, true).map((s) => s.pieces.length)).toEqual([3]);
  });
});

it('an arc as cubics lies off it by no more than is said', () => {
  const a = endpointToCentre(10, 0, 10, 10, 0, true, true, 0, -10)!;
  let from = [10, 0];
  let worst = 0;
  for (const c of arcAsCubics(a, [0, -10])) {
    for (let t = 0; t <= 1; t += 0.01) {
      const [x, y] = pointAt({ kind: 'bezier', p: [...from, ...c] }, t);
      worst = Math.max(worst, Math.abs(Math.hypot(x, y) - 10) / 10);
    }
    from = c.slice(4);
  }
  expect(worst).toBeLessThanOrEqual(CUBIC_OFF);
  expect(worst).toBeGreaterThan(CUBIC_OFF / 2);
});

describe('path data in few letters', () => {
  const short = (d: string, decimals = 3): string => pathText(parsePathData(d).path, decimals);
  it('leaves out what the grammar does not need', () => {
    expect(short('M 10 20 L 30 20 L 30 40 L 40 50 Z')).toBe('M10 20H30V40L40 50Z');
    expect(short('M 0.5 -0.25 L 0.75 0.5')).toBe('M.5-.25.75.5');
    expect(short('M1000 1000L1001 1002L1003 1003')).toBe('M1000 1000l1 2 2 1');
  });
  it('says the same path, whatever stands in it', () => {
    const at = fc.integer({ min: -9000, max: 9000 }).map((v) => v / 8);
    const command = fc.oneof(
      fc.tuple(at, at).map((p) => `L${p.join(' ')}`),
      fc.tuple(at, at).map((p) => `M${p.join(' ')}`),
      fc.tuple(at, at, at, at).map((p) => `Q${p.join(' ')}`),
      fc.tuple(at, at, at, at, at, at).map((p) => `C${p.join(' ')}`),
      fc.constant('Z'),
    );
    fc.assert(
      fc.property(fc.array(command, { maxLength: 12 }), (list) => {
        const { path } = parsePathData(`M1 2L3 4${list.join('')}`);
        const { path: back, error } = parsePathData(pathText(path, 6));
        expect(error).toBeNull();
        expect([...back.cmds]).toEqual([...path.cmds]);
        back.data.forEach((v, i) => expect(v).toBeCloseTo(path.data[i]!, 6));
      }),
    );
  });
});

describe('numbers of path data', () => {
  it('are those that JavaScript reads, to the last bit', () => {
    const text = fc.oneof(
      fc.double({ min: -1e300, max: 1e300, noNaN: true }).map(String),
      fc.tuple(fc.integer(), fc.integer({ min: 0, max: 12 })).map(([m, k]) => (m / 10 ** k).toFixed(k)),
      fc.constantFrom(
        '.5',
        '-.5',
        '+1.0',
        '0.1',
        '123456789012345678',
        '1e-7',
        '9007199254740993',
        '0.30000000000000004',
      ),
    );
    fc.assert(
      fc.property(text, text, (a, b) => {
        const { path } = parsePathData(`M${a} ${b}`);
        expect([...path.data]).toEqual([Number(a), Number(b)]);
      }),
      { numRuns: 2000 },
    );
  });
});
