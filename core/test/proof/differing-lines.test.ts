import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Drawing } from '../../src/index.js';
import { differingLines, readDrawing, upright } from '../../src/index.js';
import { DEMO, demoFile, drawingOf, fonts, hop, read } from '../helpers.js';
import { PLAIN_TEXT } from '../sketches.js';

const line = (x0: number, y0: number, x1: number, y1: number) => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
});
const of = (...entities: object[]): Drawing => drawingOf(entities as never);
const differing = (a: Drawing, b: Drawing): { gone: number[]; added: number[] } => {
  const d = differingLines(a, b, fonts());
  return { gone: [...d.gone], added: [...d.added] };
};

describe('what differs alone', () => {
  it('is nothing between a drawing and itself, whatever the order of its lines', () => {
    const lines = [line(0, 0, 100, 0), line(100, 0, 100, 50), line(0, 0, 0, 50)];
    expect(differing(of(...lines), of(...[...lines].reverse()))).toEqual({ gone: [], added: [] });
  });
  it('is the line that moved, as it was and as it is, and none beside it', () => {
    const rest = [line(0, 0, 100, 0), line(0, 80, 100, 80)];
    const d = differing(of(...rest, line(10, 10, 60, 10)), of(...rest, line(10, 12, 60, 12)));
    expect(d).toEqual({ gone: [10, 10, 60, 10], added: [10, 12, 60, 12] });
  });
  it('knows a curve again in whatever kind it is held', () => {
    // A circle of radius 10, and the same as two arcs: chords of both lie within the limit of each other.
    const arc = (start: number, end: number) => ({ kind: 'arc', centre: [0, 0, 0], radius: 10, start, end });
    const round = of({ kind: 'circle', centre: [0, 0, 0], radius: 10 });
    expect(differing(round, of(arc(0, 2), arc(2, 2 * Math.PI)))).toEqual({ gone: [], added: [] });
    // A tenth of a millimetre more is told on either side.
    const d = differing(round, of({ kind: 'circle', centre: [0, 0, 0], radius: 10.1 }));
    expect(Math.min(d.gone.length, d.added.length)).toBeGreaterThan(8);
  });
  it('frames a text that says something else, and one of two that say the same', () => {
    const text = (words: string, x: number) => ({
      kind: 'text',
      text: words,
      at: [x, 0, 0],
      size: 5,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
    });
    const d = differing(of(text('A', 0), text('A', 50)), of(text('A', 0), text('B', 50)));
    // Four sides each, beginning where the text stands.
    expect([d.gone.length, d.added.length]).toEqual([16, 16]);
    expect(d.gone.slice(0, 2)).toEqual([50, 0]);
  });
  it('the other way round what was gone is added', () => {
    const place = fc.integer({ min: 0, max: 40 });
    const some = fc.array(fc.tuple(place, place, place, place), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(some, some, (a, b) => {
        // A frame that both have, so that both are as large and measured as finely.
        const frame = [line(-1, -1, 41, -1), line(-1, -1, -1, 41), line(41, -1, 41, 41), line(-1, 41, 41, 41)];
        const [p, q] = [a, b].map((l) => of(...frame, ...l.map((x) => line(...x))));
        const [there, back] = [differing(p!, q!), differing(q!, p!)];
        expect(there.gone).toEqual(back.added);
        expect(there.added).toEqual(back.gone);
      }),
      { numRuns: 60 },
    );
  });
  it.each(DEMO)('is nothing between %s and the DXF written from it', (name) => {
    const { made } = hop(read(demoFile(name)), { format: 'dxf' });
    const back = upright(readDrawing(made.bytes, made.name).drawing);
    expect(differing(upright(made.written), back)).toEqual({
      gone: [],
      added: [],
    });
  });
});
