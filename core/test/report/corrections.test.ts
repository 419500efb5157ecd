import { describe, expect, it } from 'vitest';
import type { AskedOfAuthor } from '../../src/index.js';
import { correctionsCsv, correctionsPage, isStillFound } from '../../src/index.js';
import { cellsOf } from '../../src/drawing/csv.js';

const one: AskedOfAuthor = {
  ...{ id: '1', drawing: 'plan.dxf', revision: 1, mendedIn: null, seenIn: 1, what: 'the number <1200> is typed over' },
  ...{ layer: 'DIM', at: { x: 10, y: 20 }, unit: 'mm', measured: '1000', proposed: '1000', answer: '' },
  ...{ state: 'asked', picture: '<svg></svg>' },
};

describe('corrections to the author', () => {
  it('are a page that needs nothing else, with what, measured, proposed and state', () => {
    const page = correctionsPage('Kestrel Row', '2026-11-30', [
      one,
      { ...one, id: '2', state: 'mended', mendedIn: 3 },
      { ...one, id: '3', seenIn: 2 },
    ]);
    expect(page).toContain('3 in all, 2 not answered yet');
    expect(page).toContain('the number &lt;1200&gt; is typed over');
    expect(page).toContain('mended in revision 3');
    expect(page).toContain('still there in revision 2');
    expect(page).not.toMatch(/<script|src="http|href="http/);
  });
  it('are a table', () => {
    const [head, line] = cellsOf(correctionsCsv([one])) as [string[], string[]];
    expect(line).toHaveLength(head.length);
    expect(line[head.indexOf('state')]).toBe('asked');
  });
  it('are mended once the same check finds nothing at their place', () => {
    const asked = { check: 'typed-over-dimensions', what: one.what, at: one.at };
    const found = (more: object) => [
      { check: 'typed-over-dimensions', message: 'another', at: { x: 10.4, y: 20 }, ...more },
    ];
    expect(isStillFound(asked, found({}), 0.5)).toBe(true);
    expect(isStillFound(asked, found({ at: { x: 12, y: 20 } }), 0.5)).toBe(false);
    expect(isStillFound(asked, found({ check: 'doubles' }), 0.5)).toBe(false);
    expect(isStillFound(asked, found({ at: null, message: one.what }), 0.5)).toBe(true);
    expect(isStillFound(asked, [], 0.5)).toBe(false);
  });
});
