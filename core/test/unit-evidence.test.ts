import { describe, expect, it } from 'vitest';
import type { UnitName } from '../src/index.js';
import { unitEvidence, unitVerdict } from '../src/index.js';
import { demoFile, drawingOf, dxf, read } from './helpers.js';
import { PLAIN_DIMENSION, PLAIN_TEXT } from './sketches.js';

const line = (length: number) => ({ kind: 'line', start: [0, 0, 0], end: [length, 0, 0] });
const circle = (diameter: number) => ({ kind: 'circle', centre: [0, 0, 0], radius: diameter / 2 });
const text = (size: number) => ({
  kind: 'text',
  text: 'a',
  at: [0, 0, 0],
  size,
  sizeOf: 'capital',
  ...PLAIN_TEXT,
});
const box = (w: number, h: number) => ({
  kind: 'polyline',
  points: Float64Array.of(0, 0, w, 0, w, h, 0, h),
  dim: 2,
  elevation: 0,
  closed: true,
});
const dimension = (override: string, length: number) => ({
  kind: 'dimension',
  form: 'aligned',
  points: { 10: [0, 9, 0], 13: [0, 0, 0], 14: [length, 0, 0] },
  override,
  style: 'Standard',
  ...PLAIN_DIMENSION,
  flags: 32,
});
const unitless = (entities: object[]) => ({ ...drawingOf(entities as never), unit: null });
const best = (entities: object[]): UnitName => unitEvidence(unitless(entities))[0]!.unit;
const reasons = (entities: object[], unit: UnitName): string[] =>
  unitEvidence(unitless(entities))
    .find((s) => s.unit === unit)!
    .reasons.map((r) => r.text);

describe('what speaks for a unit', () => {
  it('a number with a unit typed into a dimension, against what is measured', () => {
    expect(best([dimension('25 mm', 25), line(25)])).toBe('mm');
    expect(best([dimension('25.4 mm', 1)])).toBe('in');
    expect(best([dimension('2,5 m', 2.5), dimension('<> m', 4)])).toBe('m');
    expect(best([dimension('3"', 76.2)])).toBe('mm');
    expect(reasons([dimension('25.4 mm', 1)], 'in')).toContain('dimensions say 25.4 mm where 1 is measured');
  });
  it('a frame as large as a sheet, at full size or at a usual scale', () => {
    expect(reasons([box(420, 297)], 'mm')).toContain('a frame of 420 × 297 fits an A3 sheet');
    expect(reasons([box(11, 17)], 'in')).toContain('a frame of 11 × 17 fits a B (tabloid) sheet');
    expect(reasons([box(59.4, 42)], 'm')).toContain('a frame of 59.4 × 42 fits an A2 sheet at 1:100');
    expect(reasons([box(421, 290)], 'mm').join()).not.toMatch(/sheet/);
  });
  it('holes that drills make, in millimetres or in fractions of an inch', () => {
    expect(best([circle(4.5), circle(9), circle(6.6)])).toBe('mm');
    expect(best([circle(0.25), circle(0.1875), circle(0.3125)])).toBe('in');
  });
  it('lettering of a usual height', () => {
    expect(reasons([text(2.5)], 'mm')).toContain('text 2.5 high prints 2.5 mm high at 1:1');
    expect(reasons([text(0.25)], 'm')).toContain('text 0.25 high prints 2.5 mm high at 1:100');
  });
  it('lengths that are round in one system only', () => {
    const sixteenths = [1.0625, 2.1875, 3.3125, 0.4375, 5.5625].map(line);
    expect(best(sixteenths)).toBe('in');
    expect(best([5, 10, 25, 40, 115].map(line))).toBe('mm');
  });
  it('feet and inches as the display of lengths; a stated unit counts, and can be outweighed', () => {
    const d = unitless([line(120)]);
    d.header.set('$LUNITS', [[70, '4']]);
    expect(unitEvidence(d)[0]!.unit).toBe('in');
    const wrong = {
      ...drawingOf([dimension('25.4 mm', 1), dimension('50.8 mm', 2)] as never),
      unit: { unit: 'm' as const, factor: 1 },
    };
    expect(unitEvidence(wrong)[0]!.unit).toBe('in');
  });
  it('a size that is hard to believe speaks against', () => {
    const s = unitEvidence(unitless([line(40_000)]));
    expect(s.find((x) => x.unit === 'm')!.reasons.some((r) => r.weight < 0 && /km across/.test(r.text))).toBe(true);
  });
  it('nothing speaks for anything in an empty drawing', () => {
    expect(unitEvidence(read(dxf([]))).every((s) => s.score === 0)).toBe(true);
  });
});

describe('how sure evidence makes one', () => {
  const verdict = (entities: object[], stated: UnitName | null = null) =>
    unitVerdict(unitEvidence({ ...unitless(entities), ...(stated && { unit: { unit: stated, factor: 1 } }) }), stated);
  it('one height of text weighs little, several that agree at one scale weigh more', () => {
    const weight = (entities: object[], unit: UnitName): number =>
      unitEvidence(unitless(entities))
        .find((s) => s.unit === unit)!
        .reasons.filter((r) => r.source === 'lettering')
        .reduce((n, r) => n + r.weight, 0);
    expect(weight([text(2)], 'cm')).toBeLessThanOrEqual(0.4);
    // 125, 175 and 250 mm print 2.5, 3.5 and 5 mm high at 1:50; as centimetres they would fit no scale together.
    const three = [text(125), text(175), text(250)];
    expect(weight(three, 'mm')).toBeGreaterThan(1);
    expect(reasons(three, 'mm')).toContain('texts 125, 175, 250 high print 2.5, 3.5, 5 mm high at 1:50');
  });
  it('the paper of a sheet says nothing, whatever it measures', () => {
    const d = unitless([line(37.3)]);
    const paper = { width: 420, height: 297, left: 0, bottom: 0, right: 0, top: 0 };
    const sheet = { name: 'Sheet 1', block: '*Paper_Space', order: 1, unitsPerMm: 1, paper };
    const all = unitEvidence({ ...d, sheets: [sheet] } as never).flatMap((s) => s.reasons.map((r) => r.source));
    expect(all).not.toContain('frames');
  });
  it('a tie is told as one, with all that are as likely', () => {
    // A single lettering height fits millimetres and centimetres alike, and so does the size of the whole.
    const v = verdict([line(105), line(105), line(35), line(70), line(15)]);
    expect(v === null || v.sure !== 'tie' || v.units.length > 1).toBe(true);
    const even = unitVerdict(
      [
        { unit: 'mm', score: 1.2, reasons: [] },
        { unit: 'cm', score: 1.1, reasons: [] },
        { unit: 'in', score: 0.2, reasons: [] },
      ],
      null,
    );
    expect(even).toMatchObject({ sure: 'tie', units: ['mm', 'cm'] });
  });
  it('a stated unit is contested by two independent reasons only', () => {
    const one = [dimension('25.4 mm', 1), dimension('50.8 mm', 2), dimension('76.2 mm', 3)];
    expect(unitEvidence({ ...unitless(one), unit: { unit: 'm', factor: 1 } })[0]!.unit).toBe('in');
    expect(verdict(one, 'm')).toBeNull();
    expect(verdict([...one, circle(0.25), circle(0.1875), circle(0.3125)], 'm')).toMatchObject({ units: ['in'] });
    expect(verdict([...one, circle(0.25), circle(0.1875), circle(0.3125)], 'in')).toBeNull();
  });
  it('siblings of the job speak too, one of the same size most of all', () => {
    const near = (n: number) => ({ name: 'front.dxf', unit: 'mm' as const, size: { width: n, height: 0 } });
    const score = (siblings: Parameters<typeof unitEvidence>[1]): number =>
      unitEvidence(unitless([line(100)]), siblings).find((s) => s.unit === 'mm')!.score;
    const alone = score([]);
    expect(score([near(55)]) - alone).toBeCloseTo(0.5, 9);
    expect(score([near(100)]) - alone).toBeCloseTo(1.5, 9);
    expect(score([{ ...near(55), unit: 'in' as never }])).toBeCloseTo(alone, 9);
  });
});

it('the demo drawings, their stated unit taken away, speak for the unit they are in', () => {
  const of = (name: string): UnitName => unitEvidence({ ...read(demoFile(name)), unit: null })[0]!.unit;
  expect(of('kestrel-row-mullion.dxf')).toBe('in');
  expect(of('kestrel-row-front-elevation.dxf')).toBe('mm');
  expect(of('kestrel-row-section.dxf')).toBe('mm');
});
