import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { degreesOf, formatDecimal, parseDecimal, putDecimal, radiansOf } from '../../src/formats/drafting/numbers.js';
import { UserError } from '../../src/index.js';
import { bytesOf } from '../helpers.js';

const parse = (text: string): number => {
  const b = bytesOf(text);
  return parseDecimal(b, 0, b.length);
};

describe('reading numbers', () => {
  it('gives the nearest double for every text that JavaScript writes', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        (v) => void expect(parse(String(v)) + 0).toBe(v + 0),
      ),
      { numRuns: 2000 },
    );
  });
  it('gives the nearest double for fixed decimals of any length', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e9, max: 1e9, noNaN: true }), fc.integer({ min: 0, max: 20 }), (v, digits) => {
        const text = v.toFixed(digits);
        expect(parse(text) + 0).toBe(Number(text) + 0);
      }),
      { numRuns: 2000 },
    );
  });
  it.each([
    ['1.0E-17', 1e-17],
    ['+5', 5],
    ['.5', 0.5],
    ['5.', 5],
    ['-0.25', -0.25],
    ['1d3', 1000],
  ])('reads %s', (text, v) => expect(parse(text)).toBe(v));
  it.each(['', 'abc', '1,5', '1.#INF', '-nan', '0x10', 'Infinity', '1 2', '--1'])('does not read %s', (text) =>
    expect(parse(text)).toBeNaN(),
  );
});

describe('writing numbers', () => {
  it('reads back to the same double, with a decimal point, and never in the form of JavaScript', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (v) => {
        const text = formatDecimal(v);
        expect(text).toMatch(/^-?\d+\.\d+(E[+-]\d\d+)?$/);
        expect(Number(text) + 0).toBe(v + 0);
      }),
      { numRuns: 2000 },
    );
  });
  it.each([
    [0, '0.0'],
    [-0, '0.0'],
    [25.4, '25.4'],
    [1e-17, '1.0E-17'],
    [1e21, '1.0E+21'],
    [0.00001, '0.00001'],
    [1e-7, '0.0000001'],
    [-1234567, '-1234567.0'],
  ])('%d as %s', (v, text) => expect(formatDecimal(v)).toBe(text));
  it('bytes are those of the text, for short numbers and long ones', () => {
    const out = new Uint8Array(64);
    const put = (v: number): string =>
      String.fromCharCode(...out.subarray(0, putDecimal(out, new DataView(out.buffer), 0, v)));
    const short = fc
      .tuple(fc.integer({ min: -1e9, max: 1e9 }), fc.integer({ min: 0, max: 14 }))
      .map(([n, k]) => n / 10 ** k);
    fc.assert(
      fc.property(fc.oneof(short, fc.double({ noNaN: true, noDefaultInfinity: true })), (v) => {
        expect(put(v)).toBe(formatDecimal(v));
      }),
      { numRuns: 5000 },
    );
    for (const v of [
      0,
      -0,
      1,
      -1,
      0.1,
      0.00001,
      123456789012345,
      999999999999999,
      0.3,
      1 / 3,
      4503599627370495.5,
      1e15,
    ])
      expect(put(v)).toBe(formatDecimal(v));
  });
  it('refuses what no file may hold', () => {
    expect(() => formatDecimal(NaN)).toThrow(UserError);
    expect(() => formatDecimal(Infinity)).toThrow(UserError);
  });
});

it('degrees that were read are written again as they were', () => {
  for (let d = 0; d < 360; d += 0.37) {
    const degrees = Number(d.toFixed(2));
    expect(degreesOf(radiansOf(degrees))).toBe(degrees);
  }
});
