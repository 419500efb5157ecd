import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { DRAFTING_DEFAULT, newLayer } from '../../src/index.js';
import { LinetypeDashes } from '../../src/drawing/linetype-dashes.js';
import { drawn, line } from '../steps/judge.js';

const type = (name: string, scale = 1) => ({ kind: 'linetype' as const, name, scale });

describe('what linetypes come to', () => {
  const d: Drawing = {
    ...drawn(line(0, 0, 9, 0, { layer: 'AXES', look: { ...DRAFTING_DEFAULT, dash: type('ByLayer', 2) } })),
    header: new Map([['$LTSCALE', [[40, '5']]]]),
    linetypes: [
      { name: 'CENTER', description: '', pattern: [4, -1, 0, -1] },
      { name: 'GAP FIRST', description: '', pattern: [-1, 3] },
      { name: 'Continuous', description: '', pattern: [] },
    ] as never,
    layers: [{ ...newLayer('AXES'), linetype: 'CENTER' }],
  };
  const dashes = new LinetypeDashes(d);
  it('dashes, gaps and dots at the scale of the drawing and of the line', () => {
    expect(dashes.pattern(type('center', 2))).toEqual([40, -10, 0, -10]);
    expect(dashes.lengths(type('center'))).toEqual([20, 5, 0, 5]);
  });
  it('a dash of no length before a pattern that begins with a gap', () => {
    expect(dashes.lengths(type('GAP FIRST'))).toEqual([0, 5, 15]);
  });
  it('nothing for unbroken and unknown ones, and for a scale that is none', () => {
    for (const t of [type('Continuous'), type('NOWHERE'), type('CENTER', 0), type('CENTER', -1)])
      expect(dashes.lengths(t)).toEqual([]);
  });
  it('those of the layer where the line says so; lengths of its own as they are', () => {
    const [e] = d.entities as [Entity];
    expect(dashes.lengths(dashes.of(e))).toEqual([40, 10, 0, 10]);
    const own = { kind: 'lengths' as const, lengths: [3, 2], offset: 1 };
    expect(dashes.lengths(dashes.of({ ...e, look: { ...e.look, dash: own } }))).toEqual([3, 2]);
  });
});
