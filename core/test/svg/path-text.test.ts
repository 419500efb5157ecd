import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pathText } from '../../src/formats/svg/path-text.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import type { PathData } from '../../src/geometry/path.js';
import { CMD_LENGTH, Cmd } from '../../src/geometry/path.js';

const place = fc.oneof(
  fc.double({ min: -1000, max: 1000, noNaN: true }),
  fc.integer({ min: -40, max: 40 }).map((n) => n / 8),
  fc.double({ min: -4e6, max: 4e6, noNaN: true }),
);
const step = fc
  .constantFrom(Cmd.Line, Cmd.Quad, Cmd.Cubic)
  .chain((cmd) =>
    fc.tuple(fc.constant(cmd), fc.array(place, { minLength: CMD_LENGTH[cmd], maxLength: CMD_LENGTH[cmd] })),
  );
/** Each course begins with a move, as the reader makes them, and may be closed. */
const course = fc.tuple(place, place, fc.array(step, { maxLength: 8 }), fc.boolean());
const paths: fc.Arbitrary<PathData> = fc.array(course, { minLength: 1, maxLength: 4 }).map((list) => ({
  cmds: Uint8Array.from(list.flatMap(([, , steps, closed]) => [Cmd.Move, ...steps.map(([cmd]) => cmd), ...(closed ? [Cmd.Close] : [])])),
  data: Float64Array.from(list.flatMap(([x, y, steps]) => [x, y, ...steps.flatMap(([, numbers]) => numbers)])),
})); // prettier-ignore

describe('path data as text', () => {
  it('reads back as the same path, no number further away than half its last digit, however long the path', () => {
    fc.assert(
      fc.property(paths, fc.constantFrom(0, 1, 3, 4, 6, 9, 12), (path, decimals) => {
        const { path: back, error } = parsePathData(pathText(path, decimals));
        expect(error).toBeNull();
        expect([...back.cmds]).toEqual([...path.cmds]);
        path.data.forEach((v, i) =>
          expect(Math.abs(back.data[i]! - v)).toBeLessThanOrEqual(0.5000001 * 10 ** -decimals + 4e-9),
        );
      }),
      { numRuns: 500 },
    );
  });

  it('says nothing that the grammar does not ask for', () => {
    const of = (cmds: number[], data: number[]): PathData => ({
      cmds: Uint8Array.from(cmds),
      data: Float64Array.from(data),
    });
    // Worked out by hand from the grammar of SVG 2, section 9.3: absolute or relative, whichever is shorter.
    expect(pathText(of([0, 1, 1, 5], [10, 10, 20, 10, 20.5, 10.25]), 2)).toBe('M10 10H20l.5.25Z');
    expect(pathText(of([0, 1, 1], [100, 100, 101, 99, 102, 98]), 3)).toBe('M100 100l1-1 1-1');
    expect(pathText(of([0, 3], [0, 0, 0.5, 0.5, -0.5, 0.25, 1, 0]), 3)).toBe('M0 0C.5.5-.5.25 1 0');
    // Halves go away from zero, in what is said and in what is counted from.
    expect(pathText(of([0, 1, 1], [-0.5, 0.5, 1000.5, 1000.5, 1001.5, 1001.5]), 0)).toBe('M-1 1 1001 1001l1 1');
  });
});
