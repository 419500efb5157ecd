import { describe, expect, it } from 'vitest';
import type { Entity } from '../../src/index.js';
import { readDrawing } from '../../src/index.js';
import { svg } from '../helpers.js';

const taken = (body: string): { shape: Entity; rows: (string | undefined)[] } => {
  const { drawing, ledger } = readDrawing(svg(body), 'a.svg');
  return { shape: drawing.entities[0]!, rows: ledger.map((r) => r.code) };
};
const width = (e: Entity): number => (e.look.width.kind === 'drawing' ? e.look.width.value : NaN);
const dashes = (e: Entity): readonly number[] => (e.look.dash.kind === 'lengths' ? e.look.dash.lengths : []);
const pen = (more: string): string => `fill="none" stroke="#000" stroke-width="10" ${more}`;

describe('a round pen under a transform that scales unequally', () => {
  // The page counts in mm; half as wide, twice as high: by hand, the pen is an ellipse 5 wide and 20 high.
  it.each([
    ['level', 'M10 20H90', 20, 4 * 0.5],
    ['upright', 'M10 5V40', 5, 4 * 2],
    // Along (1, 4) in the drawing, of (2, 2) in the shape: 10 · (½ · 2) · √8 / √17.
    ['aslant', 'M10 10L20 20', (10 * Math.sqrt(8)) / Math.sqrt(17), (4 * Math.sqrt(17)) / Math.sqrt(8)],
  ])('draws a %s line as wide as it is across', (_, d, wide, dash) => {
    const { shape, rows } = taken(`<path d="${d}" ${pen('stroke-dasharray="4"')} transform="scale(.5 2)"/>`);
    expect(width(shape)).toBeCloseTo(wide, 9);
    expect(dashes(shape)[0]).toBeCloseTo(dash, 9);
    expect(rows).not.toContain('pen-not-round');
  });

  it('draws lines of several directions in the mean width of their parts, and says so', () => {
    // 40 level (80 · ½) at 20, 40 upright (20 · 2) at 5.
    const { shape, rows } = taken(`<path d="M10 5h80v20" ${pen('')} transform="scale(.5 2)"/>`);
    expect(width(shape)).toBeCloseTo((40 * 20 + 40 * 5) / 80, 9);
    expect(rows).toContain('pen-not-round');
  });

  it('stays as it is where the scales are equal, turned or mirrored, and where lines do not scale', () => {
    for (const t of ['scale(2)', 'rotate(30) scale(2)', 'scale(-2 2)', 'matrix(0 2 2 0 0 0)'])
      expect(width(taken(`<path d="M10 5h9v9" ${pen('')} transform="${t}"/>`).shape), t).toBeCloseTo(20, 9);
    const fixed = taken(`<path d="M10 5h9v9" ${pen('vector-effect="non-scaling-stroke"')} transform="scale(.5 2)"/>`);
    expect(width(fixed.shape)).toBeCloseTo(10, 9);
    expect(fixed.rows).not.toContain('pen-not-round');
  });
});
