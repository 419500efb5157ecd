import { expect, it } from 'vitest';
import { namePattern } from '../../src/index.js';

const fits = (pattern: string, ...names: string[]) => names.filter(namePattern(pattern));

it('letters, any letters, several patterns, whatever capitals', () => {
  expect(fits('A-*', 'A-WALL', 'a-door', 'S-WALL', 'A')).toEqual(['A-WALL', 'a-door']);
  expect(fits('*wall', 'A-WALL', 'A-WALL-2')).toEqual(['A-WALL']);
  expect(fits('cut, *axes*', 'CUT', 'CUT2', 'MAIN AXES 1')).toEqual(['CUT', 'MAIN AXES 1']);
});
it('what means something in other patterns means itself here', () => {
  expect(fits('a.b+(c)[d]$^{1}|\\', 'a.b+(c)[d]$^{1}|\\', 'axb')).toEqual(['a.b+(c)[d]$^{1}|\\']);
});
it('an empty pattern fits all', () => {
  expect(fits(' , ', 'A', '')).toEqual(['A', '']);
});
