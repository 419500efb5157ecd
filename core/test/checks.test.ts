import { describe, expect, it } from 'vitest';
import { runChecks } from '../src/index.js';
import { demoFile, drawingOf, dxf, read, svg } from './helpers.js';
import { PLAIN_DIMENSION } from './sketches.js';

const of = (check: string, entities: object[], settings: Record<string, Record<string, number | string>> = {}) =>
  runChecks(drawingOf(entities as never), settings).filter((f) => f.check === check);
const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A') => ({
  kind: 'line',
  start: [x0, y0, 0],
  end: [x1, y1, 0],
  layer,
});

describe('typed-over dimensions', () => {
  it('in the section of the demo job: the one that says 400 and measures 370', () => {
    const found = runChecks(read(demoFile('kestrel-row-section.dxf'))).filter(
      (f) => f.check === 'typed-over-dimensions',
    );
    expect(found.map((f) => f.message)).toEqual(['The text says 400, the drawing measures 370 mm']);
    expect(found[0]).toMatchObject({ severity: 'error', layer: 'DIMENSIONS', size: 370 });
  });
  const dimension = (override: string, length = 100) => ({
    kind: 'dimension',
    form: 'aligned',
    points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [length, 0, 0] },
    override,
    style: 'Standard',
    ...PLAIN_DIMENSION,
    flags: 32,
  });
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
    const found = of('without-length', [
      line(0, 0, 100, 0),
      line(7, 7, 7, 7),
      dot,
      line(1, 1, 1.01, 1),
      { kind: 'point', at: [3, 3, 0] },
    ]);
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

describe('layer names', () => {
  const of2 = (names: string[], settings: Record<string, string> = {}): string[] => {
    const d = drawingOf(names.map((layer) => line(0, 0, 1, 0, layer)) as never);
    return runChecks(d, { 'layer-names': settings })
      .filter((f) => f.check === 'layer-names')
      .map((f) => f.message);
  };
  it('that differ only in capitals, hold what no name may, or end in a blank', () => {
    expect(of2(['Walls', 'WALLS'])).toEqual(['“Walls” and “WALLS” differ only in capitals']);
    expect(of2(['a/b', 'c'])).toEqual(['“a/b” holds /, which no name may']);
    expect(of2(['a '])).toEqual(['“a ” begins or ends with a blank']);
    expect(of2(['Walls', 'Wall', 'Fenêtres 2', 'x'.repeat(255)])).toEqual([]);
  });
  it('for R12: 31 letters, digits and three signs', () => {
    expect(of2(['A'.repeat(31), 'A-1_$'], { for: 'r12' })).toEqual([]);
    expect(of2(['A'.repeat(32), 'Fenêtres'], { for: 'r12' }).length).toBe(2);
  });
  it('empty layers are told on request', () => {
    const d = {
      ...drawingOf([line(0, 0, 1, 0)] as never),
      layers: [
        ...drawingOf([line(0, 0, 1, 0)] as never).layers,
        { ...drawingOf([line(0, 0, 1, 0)] as never).layers[0]!, name: 'Spare' },
      ],
    };
    const told = (empty: string) => runChecks(d, { 'layer-names': { empty } }).filter((f) => f.check === 'layer-names');
    expect(told('yes').map((f) => f.message)).toEqual(['Nothing lies on “Spare”']);
    expect(told('no')).toEqual([]);
  });
});

describe('blocks', () => {
  const blocks = ['M', 'N'].flatMap((name) => [
    0,
    'BLOCK',
    8,
    '0',
    2,
    name,
    70,
    0,
    10,
    0,
    20,
    0,
    30,
    0,
    0,
    'CIRCLE',
    8,
    '0',
    10,
    0,
    20,
    0,
    30,
    0,
    40,
    1,
    0,
    'ENDBLK',
    8,
    '0',
  ]);
  const inserts = (...scales: [number, number][]) =>
    read(
      dxf(
        scales.flatMap(([x, y], i) => [0, 'INSERT', 8, 'A', 2, 'M', 10, 9 * i, 20, 0, 30, 0, 41, x, 42, y, 43, 1]),
        { blocks, units: 4 },
      ),
    );
  const found = (...scales: [number, number][]) =>
    runChecks(inserts(...scales)).filter((f) => f.check === 'uneven-inserts');
  it('under an unequal scale are told with their place; mirrored ones are not unequal', () => {
    expect(found([1, 1], [2, 1], [3, 1]).map((f) => [f.message, f.at])).toEqual([
      ['2 placed blocks “M” are stretched unequally (2 × 1)', { x: 9, y: 0 }],
      ['One block is never placed: N', null],
    ]);
    expect(found([-1, 1], [2, 2]).map((f) => f.severity)).toEqual(['note']);
  });
});
