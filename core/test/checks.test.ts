import { describe, expect, it } from 'vitest';
import { runChecks } from '../src/index.js';
import { demoFile, drawingOf, read, svg } from './helpers.js';

const of = (check: string, entities: object[], settings: Record<string, Record<string, number | string>> = {}) =>
  runChecks(drawingOf(entities as never), settings).filter((f) => f.check === check);
const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A') => ({ kind: 'line', start: [x0, y0, 0], end: [x1, y1, 0], layer }); // prettier-ignore

describe('typed-over dimensions', () => {
  it('in the section of the demo job: the one that says 400 and measures 370', () => {
    const found = runChecks(read(demoFile('kestrel-row-section.dxf'))).filter(
      (f) => f.check === 'typed-over-dimensions',
    );
    expect(found.map((f) => f.message)).toEqual(['The text says 400, the drawing measures 370 mm']);
    expect(found[0]).toMatchObject({ severity: 'error', layer: 'DIMENSIONS', size: 370 });
  });
  const dimension = (override: string, length = 100) => ({
    kind: 'dimension', form: 'aligned', points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [length, 0, 0] }, override, style: 'Standard',
    rotation: 0, oblique: 0, textRotation: 0, ordinateX: false, flags: 32,
  }); // prettier-ignore
  it('two lines of different length with the same number: the wrong one', () => {
    expect(of('typed-over-dimensions', [dimension('100'), dimension('100', 140)]).map((f) => f.ids)).toEqual([[2]]);
  });
  it('a rounded number, a prefix around the value and words are no fault; words are told on request', () => {
    const list = [dimension('100.0', 100.04), dimension('2x <>'), dimension('see plan')];
    expect(of('typed-over-dimensions', list)).toEqual([]);
    expect(of('typed-over-dimensions', list, { 'typed-over-dimensions': { report: 'words' } }).length).toBe(1);
  });
});

it('lines of dimensions and leaders are no outlines', () => {
  const found = runChecks(read(demoFile('kestrel-row-section.dxf')));
  expect(found.filter((f) => f.layer === 'DIMENSIONS' && f.check !== 'typed-over-dimensions')).toEqual([]);
});

describe('doubles', () => {
  it('a line drawn twice, also the other way round', () => {
    expect(of('doubles', [line(0, 0, 9, 3), line(9, 3, 0, 0), line(0, 0, 9, 3)])).toMatchObject([{ ids: [1, 2, 3] }]);
  });
  it('an outline of the same course that begins elsewhere', () => {
    const ring = (p: number[]) => ({
      kind: 'polyline',
      points: Float64Array.from(p),
      dim: 2,
      elevation: 0,
      closed: true,
    });
    expect(of('doubles', [ring([0, 0, 9, 0, 9, 9, 0, 9]), ring([9, 9, 0, 9, 0, 0, 9, 0])]).length).toBe(1);
  });
  it('not on another layer, not the other diagonal of the same box, not an arc that bends the other way', () => {
    expect(of('doubles', [line(0, 0, 9, 9), line(0, 0, 9, 9, 'B')])).toEqual([]);
    expect(of('doubles', [line(0, 0, 9, 9), line(0, 9, 9, 0)])).toEqual([]);
    const arc = (start: number) => ({ kind: 'arc', centre: [0, 0, 0], radius: 5, start, end: start + Math.PI });
    expect(of('doubles', [arc(0), arc(Math.PI)])).toEqual([]);
  });
  it('how close counts is a setting', () => {
    const near = [line(0, 0, 100, 0), line(0, 0.004, 100, 0.004)];
    expect(of('doubles', near)).toEqual([]);
    expect(of('doubles', near, { doubles: { within: 0.01 } }).length).toBe(1);
  });
});

describe('curves without length', () => {
  it('a line to its own start, a polyline of one place; not a short one that is meant, nor a point', () => {
    const dot = { kind: 'polyline', points: Float64Array.of(5, 5, 5, 5), dim: 2, elevation: 0, closed: false };
    const found = of('without-length', [line(0, 0, 100, 0), line(7, 7, 7, 7), dot, line(1, 1, 1.01, 1), { kind: 'point', at: [3, 3, 0] }]); // prettier-ignore
    expect(found.map((f) => f.ids)).toEqual([[2], [3]]);
    expect(found[0]!.at).toEqual({ x: 7, y: 7 });
  });
  it('how short is a setting', () => {
    const found = of('without-length', [line(0, 0, 100, 0), line(1, 1, 1.01, 1)], {
      'without-length': { shortest: 0.02 },
    });
    expect(found.length).toBe(1);
    expect(found[0]!.size).toBeCloseTo(0.01, 12);
  });
});

describe('far from the origin', () => {
  it('says how far, and what single precision tells apart there', () => {
    const [f] = of('far-from-origin', [line(5e6, 0, 5e6 + 100, 0)]);
    // 5,000,050 lies between 2^22 and 2^23: steps of a half.
    expect(f!.message).toMatch(/5000000 mm from its origin; single precision tells 0.5 mm apart/);
  });
  it('a drawing of its own size away is not far', () => {
    expect(of('far-from-origin', [line(500, 0, 600, 0)])).toEqual([]);
  });
});

describe('groups that say nothing', () => {
  const messages = (body: string): string[] =>
    runChecks(read(svg(body), 'x.svg'))
      .filter((f) => f.check === 'redundant-groups')
      .map((f) => f.message);
  it('are told once, by the outermost of a nest', () => {
    expect(messages('<g id="a"><g><g id="c"><path d="M0 0H1"/><path d="M0 0H1"/></g></g></g>')).toEqual([
      'The group “a” holds nothing but 2 groups inside each other, down to “c”',
    ]);
  });
  it('that hold two things, or one shape, say something', () => {
    expect(messages('<g id="a"><g id="b"><path d="M0 0H1"/></g><path d="M0 0H2"/></g>')).toEqual([]);
    expect(messages('<g id="a"><path d="M0 0H1"/></g>')).toEqual([]);
  });
  it('that are empty are counted', () => {
    expect(messages('<g id="a"><path d="M0 0H1"/></g><g id="b"><g/></g><g id="c"/>')).toEqual([
      '2 groups hold nothing',
    ]);
  });
});
