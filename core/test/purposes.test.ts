import { describe, expect, it } from 'vitest';
import type { Finding, Purpose } from '../src/index.js';
import {
  CHECKS,
  PURPOSES,
  findingKey,
  runChecks,
  underPurpose,
  voiceOf,
  wholeCheckKey,
  withoutAside,
} from '../src/index.js';
import { DEMO, demoFile, drawingOf, read } from './helpers.js';

const square = (x: number, y: number, s = 10) => ({
  kind: 'polyline',
  points: Float64Array.of(x, y, x + s, y, x + s, y + s, x, y + s),
  dim: 2,
  elevation: 0,
  closed: true,
});
const finding = (more: Partial<Finding> = {}): Finding => ({
  check: 'doubles',
  severity: 'warning',
  message: '2 curves (lines) lie on each other',
  at: { x: 1.23456789, y: 2 },
  size: null,
  layer: 'CUT',
  ids: [1, 2],
  ...more,
});
const purposes = Object.keys(PURPOSES) as Purpose[];

describe('a purpose', () => {
  it('never silences what damages a file, its unit, its letters or its references', () => {
    for (const check of [
      'damaged-file',
      'unit',
      'missing-letters',
      'missing-files',
      'seen-otherwise',
      'unread-objects',
    ])
      for (const p of purposes) expect(voiceOf(check, p), `${check} for ${p}`).toBe('own');
  });
  it('only ever names checks that there are, and makes no finding worse', () => {
    const ids = new Set(CHECKS.map((c) => c.id));
    const rank = { note: 0, warning: 1, error: 2 };
    for (const p of purposes)
      for (const id of ids) {
        const all = (['note', 'warning', 'error'] as const).map((severity) => finding({ check: id, severity }));
        const told = underPurpose(all, id, p);
        expect(told.length === 0 || told.length === all.length).toBe(true);
        told.forEach((f, i) => expect(rank[f.severity]).toBeLessThanOrEqual(rank[all[i]!.severity]));
      }
  });
  it('is asked by all who run the checks: what is silent is not found at all', () => {
    // Two squares that touch in a corner only: a fault for whoever cuts or builds, nothing for print.
    const d = drawingOf([square(0, 0), square(10, 10)] as never);
    const found = (p: Purpose): string[] =>
      runChecks(d, {}, undefined, p).flatMap((f) => (f.check === 'touching-outlines' ? [f.severity] : []));
    expect(found('cut')).toEqual(['warning']);
    expect(found('solid')).toEqual(['warning']);
    expect(found('drafting')).toEqual(['note']);
    expect(found('print')).toEqual([]);
  });
  it('for any use is the least that each demo drawing is told under any other', () => {
    for (const name of DEMO) {
      const d = read(demoFile(name), name);
      const checks = (p: Purpose): Set<string> => new Set(runChecks(d, {}, undefined, p).map((f) => f.check));
      const any = checks('any');
      for (const p of purposes) for (const c of checks(p)) expect(any.has(c), `${name}: ${c} for ${p}`).toBe(true);
    }
  });
});

describe('what touches in a point', () => {
  const touches = (entities: object[]): number =>
    runChecks(drawingOf(entities as never), {}, undefined, 'cut').filter((f) => f.check === 'touching-outlines').length;
  it('is not told of in a net: what meets there hangs together by its edges', () => {
    const net = [0, 1, 2].flatMap((i) => [0, 1, 2].map((k) => square(10 * i, 10 * k)));
    expect(touches(net)).toBe(0);
  });
  it('is told of where one square of the net is missing', () => {
    // Without the two squares beside it, the corner that the other two share is all that holds them.
    expect(touches([square(0, 0), square(10, 10), square(20, 10)])).toBe(1);
  });
  it('is not told of between faces', () => {
    const face = (x: number, y: number) => ({
      kind: 'face',
      corners: [x, y, 0, x + 10, y, 0, x + 10, y + 10, 0, x, y + 10, 0],
      solid: false,
      hiddenEdges: 0,
    });
    expect(touches([face(0, 0), face(10, 10)])).toBe(0);
  });
});

describe('what is set aside', () => {
  it('is known again by check, layer, place to six digits and words', () => {
    expect(findingKey(finding())).toBe(findingKey(finding({ at: { x: 1.23456791, y: 2 }, ids: [7] })));
    expect(findingKey(finding())).not.toBe(findingKey(finding({ at: { x: 1.2346, y: 2 } })));
    expect(findingKey(finding())).not.toBe(findingKey(finding({ layer: 'ENGRAVE' })));
    expect(findingKey(finding({ message: 'x'.repeat(9999) })).length).toBeLessThanOrEqual(400);
  });
  it('leaves all others, and nothing twice', () => {
    const list = [finding(), finding({ layer: 'B' }), finding({ check: 'strays' })];
    const one = withoutAside(list, { [findingKey(list[0]!)]: 'known' });
    expect([one.told, one.aside]).toEqual([[list[1], list[2]], [list[0]]]);
    const whole = withoutAside(list, { [wholeCheckKey('doubles')]: 'known' });
    expect([whole.told, whole.aside]).toEqual([[list[2]], [list[0], list[1]]]);
    expect(withoutAside(list, {}).told).toEqual(list);
  });
});
