import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, readDrawing } from '../../src/index.js';
import { meanOpacity } from '../../src/drawing/appearance.js';
import { fonts } from '../helpers.js';

const svg = (inside: string): Uint8Array =>
  new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${inside}</svg>`,
  );
function as(version: string, inside: string) {
  const prepared = prepare(readDrawing(svg(inside), 'a.svg').drawing, NO_DECISIONS, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, { ...DEFAULT_TARGETS.dxf, version }, 'a.svg', fonts());
  return { made, back: readDrawing(made.bytes, 'a.dxf').drawing };
}
const of = <K extends Entity['kind']>(d: Drawing, kind: K): Extract<Entity, { kind: K }>[] =>
  d.entities.filter((e): e is Extract<Entity, { kind: K }> => e.kind === kind);

describe('how clear a thing is goes along', () => {
  // A step of transparency is 1/255.
  const opacityIn = (inside: string): number[] =>
    [...of(as('2010', inside).back, 'hatch'), ...of(as('2010', inside).back, 'polyline')].map((e) => e.look.opacity);

  it.each<[string, string, number]>([
    ['of the fill', '<rect width="40" height="40" fill="#f00" fill-opacity=".3"/>', 0.3],
    ['of the colour', '<rect width="40" height="40" fill="rgba(255,0,0,.6)"/>', 0.6],
    ['of the whole and the fill', '<rect width="40" height="40" fill="#f00" opacity=".5" fill-opacity=".5"/>', 0.25],
    ['of a gradient from full to clear', '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></linearGradient><rect width="90" height="45" fill="url(#g)"/>', 0.5],
  ])('%s', (_, inside, expected) => {
    const found = opacityIn(inside);
    expect(found.length).toBeGreaterThan(1);
    for (const o of found) expect(Math.abs(o - expected)).toBeLessThanOrEqual(0.5 / 255 + 1e-9);
  }); // prettier-ignore

  it('of a stroke, and not of what lies beside it', () => {
    const { back } = as(
      '2010',
      '<path d="M60 10h30v30" fill="none" stroke="#0f0" stroke-opacity=".5"/><path d="M0 0h9v9" fill="none" stroke="#0f0"/>',
    );
    expect(of(back, 'polyline').map((e) => Math.round(e.look.opacity * 100))).toEqual([50, 100]);
  });

  it('before 2004, where nothing can be clear, a row says so', () => {
    const { made } = as('2000', '<rect width="40" height="40" fill="#f00" fill-opacity=".3"/>');
    expect(made.ledger.filter((r) => r.code === 'transparency-needs-2004').map((r) => r.action)).toEqual(['dropped']);
  });

  it('a gradient is as opaque on average as it is along the way', () => {
    const stop = fc.record({
      offset: fc.double({ min: 0, max: 1, noNaN: true }),
      rgb: fc.constant(0),
      opacity: fc.double({ min: 0, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(stop, { minLength: 1, maxLength: 6 }), (stops) => {
        const sorted = [...stops].sort((a, b) => a.offset - b.offset);
        const at = (t: number): number => {
          const i = sorted.findIndex((s) => s.offset >= t);
          if (i === 0) return sorted[0]!.opacity;
          if (i < 0) return sorted[sorted.length - 1]!.opacity;
          const [a, b] = [sorted[i - 1]!, sorted[i]!];
          return b.offset === a.offset
            ? b.opacity
            : a.opacity + ((b.opacity - a.opacity) * (t - a.offset)) / (b.offset - a.offset);
        };
        let sum = 0;
        for (let k = 0; k < 4000; k++) sum += at((k + 0.5) / 4000) / 4000;
        const mean = meanOpacity({ kind: 'gradient', form: 'linear', stops, rgb: 0, id: 'g' });
        expect(Math.abs(mean - sum)).toBeLessThan(2e-3);
      }),
      { numRuns: 60 },
    );
  });
});

describe('the outline of what is only filled', () => {
  it('has the thinnest pen, whatever pen the shape does not use', () => {
    const { made, back } = as('2010', '<rect width="40" height="40" fill="#f00" stroke-width="26"/>');
    expect(of(back, 'polyline').map((e) => e.look.width)).toEqual([{ kind: 'paper', mm: 0 }]);
    // No pen was approximated, since none was used.
    expect(made.ledger.some((r) => r.code === 'width-to-nearest-weight')).toBe(false);
    const drawn = as('2010', '<rect width="40" height="40" fill="#f00" stroke="#00f" stroke-width="0.5"/>').back;
    expect(of(drawn, 'polyline').map((e) => e.look.width)).toEqual([{ kind: 'paper', mm: 0.5 }]);
  });
});
