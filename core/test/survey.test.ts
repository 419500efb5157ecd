import { expect, it } from 'vitest';
import { CHECKS, runCheck } from '../src/index.js';
import { surveyOf } from '../src/drawing/survey.js';
import { dxf, read } from './helpers.js';

it('what no check looked at, since blocks show more than a million objects, is a finding', () => {
  const block = [
    0,
    'BLOCK',
    8,
    '0',
    2,
    'A',
    70,
    0,
    10,
    0,
    20,
    0,
    0,
    'POINT',
    8,
    '0',
    10,
    0,
    20,
    0,
    0,
    'POINT',
    8,
    '0',
    10,
    1,
    20,
    0,
    0,
    'ENDBLK',
    8,
    '0',
  ];
  const insert = (side: number) =>
    read(dxf([0, 'INSERT', 8, '0', 2, 'A', 10, 0, 20, 0, 70, side, 71, side, 44, 2, 45, 2], { blocks: block }));
  const check = CHECKS.find((c) => c.id === 'unread-objects')!;
  expect(runCheck(check, insert(10))).toEqual([]);
  const vast = insert(720);
  // 720 × 720 copies of two points, and the insert itself: 1,036,801 objects.
  expect(surveyOf(vast).beyond).toBe(36_801);
  expect(runCheck(check, vast)).toMatchObject([
    { severity: 'warning', message: expect.stringMatching(/^36801 objects/) as string },
  ]);
}, 60_000);
