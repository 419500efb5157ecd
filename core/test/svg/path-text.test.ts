import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pathText } from '../../src/formats/svg/path-text.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import type { PathData } from '../../src/geometry/path.js';
import { piecesOf, pointAt } from '../../src/geometry/path-pieces.js';
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
  cmds: Uint8Array.from(
    list.flatMap(([, , steps, closed]) => [Cmd.Move, ...steps.map(([cmd]) => cmd), ...(closed ? [Cmd.Close] : [])]),
  ),
  data: Float64Array.from(list.flatMap(([x, y, steps]) => [x, y, ...steps.flatMap(([, numbers]) => numbers)])),
}));

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

  it('half an ellipse stays one arc, and its middle where it was to a few last digits', () => {
    const number = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(
        fc.record({
          cx: number(-500, 500),
          cy: number(-500, 500),
          rx: number(10, 300),
          flat: number(0.2, 1),
          rotation: number(0, 3),
          t: number(0, 6),
        }),
        fc.constantFrom(3, 4, 6),
        fc.boolean(),
        ({ cx, cy, rx, flat, rotation, t }, decimals, ccw) => {
          const ry = rx * flat;
          const at = (a: number): [number, number] => {
            const [px, py] = [rx * Math.cos(a), ry * Math.sin(a)];
            return [
              cx + px * Math.cos(rotation) - py * Math.sin(rotation),
              cy + px * Math.sin(rotation) + py * Math.cos(rotation),
            ];
          };
          const path: PathData = {
            cmds: Uint8Array.of(Cmd.Move, Cmd.Arc),
            data: Float64Array.of(...at(t), rx, ry, rotation, 1, ccw ? 1 : 0, ...at(t + Math.PI)),
          };
          const { path: back } = parsePathData(pathText(path, decimals));
          expect([...back.cmds]).toEqual([Cmd.Move, Cmd.Arc]);
          const piece = piecesOf(back, false)[0]!.pieces[0]!;
          const [x, y] = pointAt(piece, 0.5);
          const want = at(t + (ccw ? 1 : -1) * (Math.PI / 2));
          // The middle of a turned ellipse follows its direction, which has as many digits.
          expect(Math.hypot(x - want[0], y - want[1])).toBeLessThan((10 + rx / 20) * 10 ** -decimals);
        },
      ),
      {
        numRuns: 1000,
        examples: [
          [{ cx: 0, cy: 0, rx: 289.2908, flat: 0.2, rotation: 0.18601617720296398, t: 5.999998089565889 }, 4, false],
        ],
      },
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
