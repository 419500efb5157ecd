import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { HandleSet } from '../../src/formats/drafting/handle-set.js';
import { Handles, handleNumber, handleText } from '../../src/formats/drafting/handles.js';
import { Pointers } from '../../src/formats/drafting/pointers.js';
import { dxf, read } from '../helpers.js';

const lines = (...keys: string[]) =>
  read(dxf(keys.flatMap((k, i) => [0, 'LINE', 5, k, 8, '0', 10, i, 20, 0, 11, i, 21, 1])));

describe('handles', () => {
  it('read hexadecimal digits of either case; anything else is none', () => {
    expect(['1F', 'ff', '0', 'FFFFFFFFFFFF'].map(handleNumber)).toEqual([31, 255, 0, 2 ** 48 - 1]);
    for (const text of ['', 'G', '-1', '1 ', 'FFFFFFFFFFFFF', undefined]) expect(handleNumber(text)).toBe(-1);
    fc.assert(fc.property(fc.nat(2 ** 31 - 1), (n) => void expect(handleNumber(handleText(n))).toBe(n)));
  });

  it('are kept once; who comes second, or has none, gets one above all others', () => {
    const h = new Handles(lines('A0', '2F'));
    expect([h.keep('A0', true), h.keep('2F', true)]).toEqual(['A0', '2F']);
    const [second, none, foreign] = [h.keep('A0', true), h.keep(undefined, true), h.keep('30', false)];
    for (const fresh of [second, none, foreign]) expect(handleNumber(fresh)).toBeGreaterThan(0xa0);
    expect(new Set([second, none, foreign]).size).toBe(3);
    expect(handleNumber(h.seed)).toBeGreaterThan(Math.max(...[second, none, foreign].map(handleNumber)));
  });

  it('come in their one form, as words and as numbers alike', () => {
    const drawing = lines('0a1', 'b2');
    const words = new Handles(drawing);
    const numbers = new Handles(drawing);
    for (const key of ['0a1', 'b2', undefined, 'b2'])
      expect(words.keep(key, true)).toBe(handleText(numbers.keepNumber(key, true)));
  });
});

describe('a set of handles', () => {
  const list = fc.array(fc.oneof(fc.nat(300), fc.nat(2 ** 31), fc.constant(2 ** 40 + 5)), { maxLength: 40 });
  it('holds what was added and nothing else, pages apart', () => {
    fc.assert(
      fc.property(list, list, (some, others) => {
        const set = new HandleSet();
        const seen = new Set<number>();
        for (const h of some) {
          expect(set.addNumber(h)).toBe(!seen.has(h));
          seen.add(h);
        }
        for (const h of [...some, ...others]) expect(set.has(h)).toBe(seen.has(h));
        expect(set.has(-1)).toBe(false);
      }),
    );
  });
  it('takes all of another, and leaves that as it was', () => {
    fc.assert(
      fc.property(list, list, (a, b) => {
        const [to, from] = [new HandleSet(), new HandleSet()];
        a.forEach((h) => to.addNumber(h));
        b.forEach((h) => from.addNumber(h));
        to.addAll(from);
        for (const h of [...a, ...b]) expect(to.has(h)).toBe(true);
        for (const h of a) expect(from.has(h)).toBe(b.includes(h));
      }),
    );
  });
});

describe('pointers of carried tags', () => {
  const known = (): HandleSet => {
    const set = new HandleSet();
    for (const h of [0x1a, 0x2b]) set.addNumber(h);
    return set;
  };
  it('that lead nowhere become 0, reactors among them go, and with the last of them their braces', () => {
    const p = new Pointers(known);
    expect(
      p.clean([
        [330, '1A'],
        [340, '99'],
        [360, '0'],
        [70, '99'],
      ]),
    ).toEqual([
      [330, '1A'],
      [340, '0'],
      [360, '0'],
      [70, '99'],
    ]);
    expect(
      p.clean([
        [102, '{ACAD_REACTORS'],
        [330, '99'],
        [330, '2B'],
        [102, '}'],
      ]),
    ).toEqual([
      [102, '{ACAD_REACTORS'],
      [330, '2B'],
      [102, '}'],
    ]);
    expect(
      p.clean([
        [102, '{ACAD_REACTORS'],
        [330, '99'],
        [102, '}'],
        [8, '0'],
      ]),
    ).toEqual([[8, '0']]);
  });
  it('of a dictionary go with their names; leading zeros and blanks say nothing', () => {
    const p = new Pointers(known);
    expect(
      p.clean(
        [
          [3, 'GONE'],
          [350, '99'],
          [3, 'HERE'],
          [350, ' 001a'],
        ],
        true,
      ),
    ).toEqual([
      [3, 'HERE'],
      [350, ' 001a'],
    ]);
  });
});
