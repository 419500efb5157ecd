import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Entity } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, proveDelivery, readDrawing } from '../../src/index.js';
import { evenOddLoops } from '../../src/formats/drafting/even-odd.js';
import { overlaid } from '../../src/formats/drafting/overlaid-fills.js';
import type { PathData } from '../../src/geometry/path.js';
import { fillLoops } from '../../src/geometry/path.js';
import { parsePathData } from '../../src/geometry/path-data.js';
import { piecesOf, pointAt } from '../../src/geometry/path-pieces.js';
import { often } from '../depth.js';
import { fonts } from '../helpers.js';

const loopsOf = (d: string): PathData[] => fillLoops(parsePathData(d).path);
type Chord = readonly [x0: number, y0: number, x1: number, y1: number];

/** Loops as closed chords, cut anew: not by what is tested. */
const chordsOf = (loops: readonly PathData[]): Chord[] =>
  loops.flatMap((loop) =>
    piecesOf(loop, true).flatMap(({ pieces }) =>
      pieces.flatMap((p) =>
        Array.from({ length: 24 }, (_, k): Chord => {
          const [a, b] = [pointAt(p, k / 24), pointAt(p, (k + 1) / 24)];
          return [a[0], a[1], b[0], b[1]];
        }),
      ),
    ),
  );

/** How often chords run round a point. */
function winding(chords: readonly Chord[], x: number, y: number): number {
  let n = 0;
  for (const [x0, y0, x1, y1] of chords) {
    if (y0 <= y === y1 <= y) continue;
    if (x0 + ((y - y0) / (y1 - y0)) * (x1 - x0) > x) n += y1 > y0 ? 1 : -1;
  }
  return n;
}

describe('a fill by the nonzero rule', () => {
  it.each<[string, string, number]>([
    ['an inner square run the same way is no hole', 'M55 5h40v40h-40zM65 15h20v20h-20z', 1600],
    ['one run the other way is', 'M5 5h40v40h-40zM15 15v20h20v-20z', 1200],
    ['two that overlap are one', 'M0 0h40v40h-40zM20 0h40v40h-40z', 2400],
  ])('%s, in the hatch as in the art', (_, d, area) => {
    const source = readDrawing(
      new TextEncoder().encode(
        `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><path d="${d}" fill="#0f0"/></svg>`,
      ),
      'a.svg',
    ).drawing;
    for (const format of ['dxf', 'dwg'] as const) {
      const prepared = prepare(source, NO_DECISIONS, [], { fonts: fonts() });
      const made = deliver(prepared.drawing, DEFAULT_TARGETS[format], 'a', fonts());
      const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
      expect(proof.items.filter((i) => i.state === 'atRisk').map((i) => i.title)).toEqual([]);
      const back = readDrawing(made.bytes, `a.${format}`).drawing;
      const hatch = back.entities.find((e): e is Extract<Entity, { kind: 'hatch' }> => e.kind === 'hatch')!;
      let inside = 0;
      const loops = chordsOf(hatch.loops.map((l) => l.path));
      for (let x = 0.25; x < 100; x += 0.5)
        for (let y = -99.75; y < 0; y += 0.5) if (winding(loops, x, y) % 2 !== 0) inside += 0.25;
      expect(inside).toBe(area);
    }
  });

  it('keeps its own loops where both rules show the same, or the rule is even-odd', () => {
    expect(evenOddLoops(loopsOf('M0 0h40v40h-40zM10 10v20h20v-20z'), 'nonzero')).toBeNull();
    expect(evenOddLoops(loopsOf('M0 0h9v9h-9zM20 0h9v9h-9z'), 'nonzero')).toBeNull();
    expect(evenOddLoops(loopsOf('M0 0h40v40h-40zM10 10h20v20h-20z'), 'evenodd')).toBeNull();
  });

  it('shows the same where outlines run along each other, not quite the same', () => {
    // A ring, drawn twice with a little between: as outlined strokes are.
    const ring = (a: number): string =>
      `M${30 + a} 5c16 0 28 12 28 27s-12 26-28 26-27-12-27-26 12-27 27-27zm0 8c-11 0-19 8-19 19s8 18 19 18 20-8 20-18-9-19-20-19z`;
    for (const little of [0, 1e-9, 1e-6, 1e-4, 1e-2])
      for (const sign of [-1, 1]) {
        const loops = loopsOf(ring(0) + ring(sign * little));
        const made = evenOddLoops(loops, 'nonzero');
        // Several hatches on one another where one will not do.
        const groups = made === 'intricate' ? overlaid(loops)! : [made ?? loops];
        const [given, painted] = [chordsOf(loops), groups.map(chordsOf)];
        let wrong = 0;
        for (let x = 0.37; x < 62; x += 2.31)
          for (let y = 0.59; y < 62; y += 2.17)
            if ((winding(given, x, y) !== 0) !== painted.some((c) => winding(c, x, y) % 2 !== 0)) wrong++;
        expect(wrong, String(sign * little)).toBeLessThanOrEqual(3);
      }
  });

  it('shows the same at every point, whatever crosses', () => {
    const n = fc.integer({ min: 0, max: 60 });
    const polygon = fc
      .array(fc.tuple(n, n), { minLength: 3, maxLength: 6 })
      .map((p) => `M${p.map((q) => q.join(' ')).join('L')}z`);
    const curve = fc
      .tuple(n, n, n, n, n, n, n, n)
      .map(([a, b, c, d, e, f, g, h]) => `M${a} ${b}C${c} ${d} ${e} ${f} ${g} ${h}z`);
    fc.assert(
      fc.property(fc.array(fc.oneof(polygon, curve), { minLength: 1, maxLength: 3 }), (list) => {
        const loops = loopsOf(list.join(''));
        const made = evenOddLoops(loops, 'nonzero');
        if (made === 'intricate') return;
        let wrong = 0;
        const [given, even] = [chordsOf(loops), chordsOf(made ?? loops)];
        for (let x = 0.37; x < 60; x += 2.31)
          for (let y = 0.59; y < 60; y += 2.17)
            if ((winding(given, x, y) !== 0) !== (winding(even, x, y) % 2 !== 0)) wrong++;
        // A point may lie on a chord of one and beside that of the other.
        expect(wrong).toBeLessThanOrEqual(4);
      }),
      { numRuns: often(150) },
    );
  });
});
