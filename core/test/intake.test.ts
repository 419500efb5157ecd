import { describe, expect, it } from 'vitest';
import type { IntakeDecisions } from '../src/index.js';
import { NO_DECISIONS, boundsOf, claimsOf, readDrawing, settleUnit, summarise, takeIn } from '../src/index.js';
import { DEMO, demoFile, dxf, only, read, svg } from './helpers.js';

const decide = (d: Partial<IntakeDecisions>): IntakeDecisions => ({ ...NO_DECISIONS, ...d });
const LINE = [0, 'LINE', 8, 'A', 10, 2, 20, 3, 11, 12, 21, 8];

describe('the unit', () => {
  it('of a drafting file without one stays undecided; nothing is guessed', () => {
    const d = read(dxf(LINE));
    expect(settleUnit(d, NO_DECISIONS)).toBeNull();
    expect(takeIn(d, NO_DECISIONS).drawing.unit).toBeNull();
    expect(takeIn(d, decide({ unit: 'in' })).drawing.unit).toEqual({ unit: 'in', factor: 1 });
  });
  it('a decision against the header changes the unit, not the numbers, and is in the ledger', () => {
    const { drawing, ledger } = takeIn(read(dxf(LINE, { units: 4 })), decide({ unit: 'in' }));
    expect(only(drawing, 'line').end).toEqual([12, 8, 0]);
    expect(ledger[0]).toMatchObject({ carryOver: 'units', action: 'changed', onPurpose: true });
  });
  it('of pixels needs a px per inch: 96 px at 96 are an inch, at 72 an inch and a third', () => {
    const d = read(svg('<line x2="96"/>', 'width="96" height="96" viewBox="0 0 96 96"'), 'x.svg');
    expect(settleUnit(d, NO_DECISIONS)).toBeNull();
    expect(only(takeIn(d, decide({ pxPerInch: 96, unit: 'in' })).drawing, 'line').end[0]).toBeCloseTo(1, 12);
    expect(only(takeIn(d, decide({ pxPerInch: 72, unit: 'mm' })).drawing, 'line').end[0]).toBeCloseTo(
      (96 / 72) * 25.4,
      12,
    );
  });
  it('of a physical SVG is kept, whatever unit it is counted in', () => {
    const d = read(svg('<line x2="50"/>', 'width="100mm" height="100mm" viewBox="0 0 50 50"'), 'x.svg');
    expect(only(takeIn(d, NO_DECISIONS).drawing, 'line').end[0]).toBe(100);
    expect(only(takeIn(d, decide({ unit: 'in' })).drawing, 'line').end[0]).toBeCloseTo(100 / 25.4, 12);
  });
});

it('a correction scales everything about the origin', () => {
  const { drawing } = takeIn(read(dxf(LINE, { units: 4 })), decide({ correction: 2.5 }));
  expect(only(drawing, 'line')).toMatchObject({ start: [5, 7.5, 0], end: [30, 20, 0] });
});

describe('the origin', () => {
  const d = read(dxf(LINE, { units: 4 }));
  const at = (origin: IntakeDecisions['origin']): readonly number[] =>
    only(takeIn(d, decide({ origin })).drawing, 'line').start;
  it('lower left, centre, a point', () => {
    expect(at({ mode: 'lowerLeft', x: 0, y: 0 })).toEqual([0, 0, 0]);
    expect(at({ mode: 'centre', x: 0, y: 0 })).toEqual([-5, -2.5, 0]);
    expect(at({ mode: 'point', x: 12, y: 8 })).toEqual([-10, -5, 0]);
    expect(at({ mode: 'keep', x: 9, y: 9 })).toEqual([2, 3, 0]);
  });
  it('lower left of the page, for an SVG', () => {
    const s = read(svg('<line x1="10" y1="90" x2="20" y2="90"/>'), 'x.svg');
    const moved = takeIn(s, decide({ origin: { mode: 'page', x: 0, y: 0 } })).drawing;
    expect(only(moved, 'line').start.slice(0, 2)).toEqual([10, 10]);
  });
});

describe('layers', () => {
  const { drawing } = readDrawing(demoFile(DEMO[0]!), DEMO[0]!);
  it('visible only leaves frozen and off layers behind, with their number', () => {
    const { drawing: taken, ledger } = takeIn(drawing, NO_DECISIONS);
    expect(taken.layers.map((l) => l.name)).not.toContain('SURVEY 2019');
    expect(taken.layers.map((l) => l.name)).not.toContain('SETTING-OUT');
    const row = ledger.find((r) => r.carryOver === 'layers')!;
    expect(row).toMatchObject({
      action: 'dropped',
      onPurpose: true,
      count: drawing.entities.length - taken.entities.length,
    });
  });
  it('chosen ones come along, with what lies on layer 0 in their blocks', () => {
    const { drawing: taken } = takeIn(drawing, decide({ layers: { mode: 'chosen', names: ['FIXINGS'] } }));
    expect(new Set(taken.entities.map((e) => e.layer))).toEqual(new Set(['FIXINGS']));
    expect(boundsOf(taken).width).toBeGreaterThan(4000);
  });
  it('all keeps every entity', () => {
    expect(takeIn(drawing, decide({ layers: { mode: 'all', names: [] } })).drawing.entities.length).toBe(
      drawing.entities.length,
    );
  });
});

it('claims tell format, size, layers with counts, fonts and colours', () => {
  const c = claimsOf(readDrawing(demoFile(DEMO[2]!), DEMO[2]!).drawing);
  expect(c).toMatchObject({ format: 'dxf', version: '2000', unit: { unit: 'in', factor: 1 }, entities: 15 });
  // Axes reach from −0.5 to 4.5; the text stands on −0.6, the axis ends at 2.5.
  expect(c.bounds).toEqual({ minX: -0.5, minY: -0.6, maxX: 4.5, maxY: 2.5 });
  expect(c.layers.find((l) => l.name === 'PORTS')).toMatchObject({ count: 8, colour: '#00ff00' });
  expect(c.colours.map((x) => x.hex)).toContain('#ff7f00');
});

describe('the strip', () => {
  const state = (d: ReturnType<typeof read>, i: IntakeDecisions, of: string): string =>
    summarise(d, i, takeIn(d, i).ledger).find((s) => s.carryOver === of)!.state;
  it('is undecided until the unit is, then changed on purpose', () => {
    const d = read(dxf(LINE));
    expect(state(d, NO_DECISIONS, 'units')).toBe('undecided');
    expect(state(d, decide({ unit: 'mm' }), 'units')).toBe('changed');
    expect(state(d, decide({ unit: 'mm' }), 'curves')).toBe('kept');
  });
  it('says lost for what nobody wanted to lose', () => {
    const { drawing, ledger } = readDrawing(svg('<path mask="url(#m)" d="M0 0H1"/>'), 'x.svg');
    expect(summarise(drawing, NO_DECISIONS, ledger).find((s) => s.carryOver === 'colour')!.state).toBe('lost');
  });
});
