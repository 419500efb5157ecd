import { expect, it } from 'vitest';
import { powerOfTen, tensOf } from '../../src/geometry/power-of-ten.js';
import { stepOn, drawn, line } from '../steps/judge.js';

it('powers of ten are those that are written, whatever the engine makes of 10 ** -4', () => {
  for (let n = -20; n <= 20; n++) expect(String(powerOfTen(n))).toBe(String(JSON.parse(`1e${n}`)));
  expect(powerOfTen(-4)).toBe(0.0001);
  expect(powerOfTen(-5)).toBe(0.00001);
});

it('the tens of a number are those of its first digit', () => {
  expect([1, 9.99, 10, 1000, 0.001, 0.0999, 1e15].map(tensOf)).toEqual([0, 0, 1, 3, -3, -2, 15]);
});

it('coordinates rounded to four decimals are the doubles nearest to these', () => {
  const { drawing } = stepOn(drawn(line(1.23456, 0.00068, 1000.00016, 3)), 'round-coordinates', {
    to: 'decimals',
    decimals: 4,
  });
  expect(drawing.entities[0]).toMatchObject({ start: [1.2346, 0.0007, 0], end: [1000.0002, 3, 0] });
});
