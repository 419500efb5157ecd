import { describe, expect, it } from 'vitest';
import { measuredValue, numberIn, readDimensionText } from '../../src/drawing/dimension.js';
import { dimensionPicture } from '../../src/drawing/dimension-picture.js';
import { styleOverrides } from '../../src/drawing/dimension-style.js';
import type { Dimension } from '../../src/drawing/entity.js';
import { formatAngle, formatLength } from '../../src/drawing/length-format.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import { PLAIN_DIMENSION } from '../sketches.js';

const dim = (form: Dimension['form'], points: Dimension['points'], more: Partial<Dimension> = {}): Dimension => ({
  kind: 'dimension',
  id: 1,
  layer: '0',
  look: DRAFTING_DEFAULT,
  form,
  points,
  override: '',
  style: 'S',
  ...PLAIN_DIMENSION,
  flags: 32,
  ...more,
});
const styled = (...tags: [number, string][]) => ({ dimensionStyles: [{ name: 'S', tags }] });
const plain = styled([271, '2'], [277, '2']);

describe('what a dimension measures', () => {
  it('linear: along its direction; aligned: the distance', () => {
    const points = { 13: [0, 0, 0], 14: [30, 40, 0] } as const;
    expect(measuredValue(dim('linear', points))).toBe(30);
    expect(measuredValue(dim('linear', points, { rotation: Math.PI / 2 }))).toBeCloseTo(40, 12);
    expect(measuredValue(dim('aligned', points))).toBe(50);
  });
  it('linear in a mirrored plane: its x runs the other way, the length is the same', () => {
    const d = dim('linear', { 13: [0, 0, 0], 14: [30, 40, 0] }, { normal: [0, 0, -1] });
    expect(measuredValue(d)).toBeCloseTo(30, 12);
  });
  it('radius and diameter from centre and edge, edge and edge', () => {
    expect(measuredValue(dim('radius', { 10: [1, 1, 0], 15: [4, 5, 0] }))).toBe(5);
    expect(measuredValue(dim('diameter', { 10: [-4, -3, 0], 15: [4, 3, 0] }))).toBe(10);
  });
  it('three-point angle: on the side of the arc', () => {
    const points = { 13: [1, 0, 0], 14: [0, 1, 0], 15: [0, 0, 0] } as const;
    expect(measuredValue(dim('angular3', { ...points, 10: [1, 1, 0] }))).toBeCloseTo(Math.PI / 2, 12);
    expect(measuredValue(dim('angular3', { ...points, 10: [-1, -1, 0] }))).toBeCloseTo((3 * Math.PI) / 2, 12);
  });
  it('two-line angle: of the four at the crossing, the one the arc lies in', () => {
    // The x axis and the line at 30 degrees.
    const points = { 13: [0, 0, 0], 14: [10, 0, 0], 15: [0, 0, 0], 10: [Math.sqrt(3), 1, 0] } as const;
    expect(measuredValue(dim('angular', { ...points, 16: [5, 1, 0] }))).toBeCloseTo(Math.PI / 6, 12);
    expect(measuredValue(dim('angular', { ...points, 16: [0, 5, 0] }))).toBeCloseTo((5 * Math.PI) / 6, 12);
    expect(measuredValue(dim('angular', { ...points, 16: [-5, -1, 0] }))).toBeCloseTo(Math.PI / 6, 12);
  });
  it('ordinate: the x or y of the feature from the origin', () => {
    const points = { 10: [10, 20, 0], 13: [17, 45, 0] } as const;
    expect(measuredValue(dim('ordinate', points, { ordinateX: true }))).toBe(7);
    expect(measuredValue(dim('ordinate', points))).toBe(25);
  });
  it('arc length: radius times angle', () => {
    const d = dim('arc', { 13: [2, 0, 0], 14: [0, 2, 0], 15: [0, 0, 0], 10: [1.5, 1.5, 0] });
    expect(measuredValue(d)).toBeCloseTo(Math.PI, 12);
  });
  it('says nothing without its points', () => {
    expect(measuredValue(dim('aligned', { 13: [0, 0, 0] }))).toBeNull();
  });
});

describe('what a dimension shows against what it measures', () => {
  const of = (override: string, length = 100, style = plain) =>
    readDimensionText(dim('aligned', { 13: [0, 0, 0], 14: [length, 0, 0] }, { override }), style);
  it('the value itself, with or without words around it', () => {
    expect(of('')).toMatchObject({ verdict: 'measured', shown: '100.00' });
    expect(of('<>')).toMatchObject({ verdict: 'measured', shown: '100.00' });
    expect(of('approx. <> mm')).toMatchObject({ verdict: 'measured', shown: 'approx. 100.00 mm' });
    expect(of(' ')).toMatchObject({ verdict: 'hidden', shown: '' });
  });
  it('a rounded number is told from one typed over', () => {
    expect(of('100', 100.3).verdict).toBe('rounded');
    expect(of('100', 100.6)).toMatchObject({ verdict: 'typedOver', typed: 100, expected: 100.6 });
    expect(of('100.3', 100.34).verdict).toBe('rounded');
    expect(of('100,3', 100.34).verdict).toBe('rounded');
    expect(of('99').verdict).toBe('typedOver');
    expect(of('{\\fArial|b0;99}').shown).toBe('99');
    expect(of('see note').verdict).toBe('words');
  });
  it('the factor and rounding of the style count', () => {
    expect(of('', 100, styled([271, '1'], [144, '25.4'])).shown).toBe('2540.0');
    expect(of('2540', 100, styled([271, '1'], [144, '25.4'])).verdict).toBe('rounded');
    expect(of('', 12.37, styled([271, '2'], [45, '0.25'])).shown).toBe('12.25');
    expect(of('', 12.5, styled([271, '3'], [78, '8'], [278, '44'])).shown).toBe('12,5');
    expect(of('', 12.5, styled([271, '1'], [3, '<> mm'])).shown).toBe('12.5 mm');
  });
  it('overrides of one dimension come before its style', () => {
    const extended = '1001\nACAD\n1000\nDSTYLE\n1002\n{\n1070\n271\n1070\n0\n1002\n}\n';
    expect(styleOverrides(extended)).toEqual(new Map([[271, '0']]));
    const d = dim('aligned', { 13: [0, 0, 0], 14: [10.4, 0, 0] }, { extended });
    expect(readDimensionText(d, plain).shown).toBe('10');
  });
  it('radius and diameter carry their sign, angles their degree', () => {
    expect(readDimensionText(dim('radius', { 10: [0, 0, 0], 15: [5, 0, 0] }), plain).shown).toBe('R5.00');
    expect(readDimensionText(dim('diameter', { 10: [0, 0, 0], 15: [5, 0, 0] }), plain).shown).toBe('Ø5.00');
    const angle = dim('angular3', { 13: [1, 0, 0], 14: [0, 1, 0], 15: [0, 0, 0], 10: [1, 1, 0] });
    expect(readDimensionText(angle, styled([179, '0'])).shown).toBe('90°');
    expect(readDimensionText({ ...angle, override: '91°' }, plain).verdict).toBe('typedOver');
  });
});

describe('numbers in texts', () => {
  it.each([
    ['12.5 mm', 12.5, 0.05],
    ['12,5', 12.5, 0.05],
    ['1,250', 1250, 0.5],
    ['1.250,5', 1250.5, 0.05],
    ['Ø20', 20, 0.5],
    ['3\'-4"', 40, 0.5],
    ['3\'-4 1/2"', 40.5, 0.25],
    ['7/16', 0.4375, 0.03125],
    ['2 1/4', 2.25, 0.125],
    ['-3', -3, 0.5],
  ])('%s is %d, give or take %d', (text, value, half) => expect(numberIn(text)).toEqual({ value, half }));
  it('a comma is a decimal mark where the style says so', () =>
    expect(numberIn('1,250', ',')).toEqual({ value: 1.25, half: 0.0005 }));
  it('words have none', () => expect(numberIn('varies')).toBeNull());
});

describe('lengths and angles as drafting writes them', () => {
  const p = (precision: number, more = {}) => ({ precision, ...more });
  it.each([
    [formatLength(1234.5678, 'decimal', p(2)), '1234.57'],
    [formatLength(0.5, 'decimal', p(2, { noLeadingZero: true })), '.50'],
    [formatLength(-0.001, 'decimal', p(1)), '0.0'],
    [formatLength(15500, 'scientific', p(2)), '1.55E+04'],
    [formatLength(40.5, 'architectural', p(4)), `3'-4 1/2"`],
    [formatLength(6, 'architectural', p(4, { noZeroFeet: true })), '6"'],
    [formatLength(36, 'architectural', p(4, { noZeroInches: true })), "3'"],
    [formatLength(11.99, 'architectural', p(2)), `1'-0"`],
    [formatLength(40.5, 'engineering', p(2)), `3'-4.50"`],
    [formatLength(40.5, 'fractional', p(3)), '40 1/2'],
    [formatAngle(Math.PI / 6, 'degrees', p(1)), '30.0°'],
    [formatAngle(Math.PI / 6, 'grads', p(2)), '33.33g'],
    [formatAngle(1, 'radians', p(3)), '1.000r'],
    [formatAngle((30.5083 * Math.PI) / 180, 'degreesMinutesSeconds', p(4)), `30°30'30"`],
    [formatAngle(Math.PI / 4, 'bearing', p(0)), 'N 45° E'],
    [formatAngle((200 * Math.PI) / 180, 'bearing', p(0)), 'S 70° W'],
  ])('%s', (got, want) => expect(got).toBe(want));
});

describe('a dimension without its picture', () => {
  it('is drawn with two extension lines, a dimension line, two arrows and its text', () => {
    const d = dim('linear', { 10: [100, 20, 0], 13: [0, 0, 0], 14: [100, 0, 0] });
    const parts = dimensionPicture(d, plain);
    expect(parts.map((e) => e.kind).sort()).toEqual(['face', 'face', 'polyline', 'polyline', 'polyline', 'text']);
    const lines = parts.flatMap((e) =>
      e.kind === 'polyline' ? [Array.from(e.points, (v) => Number(v.toFixed(9)))] : [],
    );
    expect(lines).toContainEqual([0, 20, 100, 20]);
    const text = parts.find((e) => e.kind === 'text');
    expect(text?.kind === 'text' && [text.text, text.at[0]]).toEqual(['100.00', 50]);
  });
  it('an angle has an arc about its vertex through its point', () => {
    const d = dim('angular', { 13: [0, 0, 0], 14: [10, 0, 0], 15: [0, 0, 0], 10: [0, 10, 0], 16: [3, 4, 0] });
    const arc = dimensionPicture(d, plain).find((e) => e.kind === 'arc');
    expect(arc?.kind === 'arc' && [arc.radius, arc.start, arc.end]).toEqual([5, 0, Math.PI / 2]);
  });
});
