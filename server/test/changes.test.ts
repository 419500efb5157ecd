import { describe, expect, it } from 'vitest';
import { NO_DECISIONS } from '@scalaria/core';
import { storable } from '../src/database/storable.js';
import type { DrawingChange } from '../src/http/changes.js';
import { changed } from '../src/http/changes.js';

type Row = Parameters<typeof changed>[0];
const row: Row = {
  id: 'd',
  jobId: 'j',
  name: 'plan.dxf',
  intake: NO_DECISIONS,
  steps: [],
  review: {},
  target: null,
  yardsticks: [],
  version: 1,
  changes: {},
  request: null,
  createdAt: new Date(0),
  deletedAt: null,
};
const after = (from: Row, change: DrawingChange): Row => ({ ...from, ...changed(from, change) }) as Row;

describe('changes of two windows', () => {
  it('count up, and remember which field was changed when', () => {
    const once = after(row, { intake: { unit: 'cm' }, seen: 1 });
    expect([once.version, once.changes]).toEqual([2, { 'intake.unit': 2 }]);
    const twice = after(once, {
      name: ' Plan ',
      steps: [{ id: 'a', step: 'join-ends', on: true, params: {} }],
      seen: 2,
    });
    expect([twice.version, twice.name, twice.changes]).toEqual([3, 'Plan', { 'intake.unit': 2, name: 3, steps: 3 }]);
  });
  it('of different fields both count; of the same one the second is a clash, told in words', () => {
    const first = after(row, { intake: { unit: 'cm' }, seen: 1 });
    expect(after(first, { intake: { correction: 2 }, seen: 1 }).intake).toMatchObject({ unit: 'cm', correction: 2 });
    expect(() => changed(first, { intake: { unit: 'in' }, seen: 1 })).toThrow(/Unit is now .*cm/);
    expect(() => changed(first, { intake: { unit: 'in' }, seen: 2 })).not.toThrow();
    const stepped = after(row, { steps: [{ id: 'a', step: 'join-ends', on: true, params: {} }], seen: 1 });
    expect(() => changed(stepped, { steps: [], seen: 1 })).toThrow();
    expect(() => changed(after(row, { deleted: true, seen: 1 }), { deleted: false, seen: 1 })).toThrow(
      /it was deleted/,
    );
    expect(() => changed(after(row, { name: 'B', seen: 1 }), { name: 'C', seen: 1 })).toThrow(/the name is now “B”/);
  });
  it('half a clash changes nothing at all', () => {
    const first = after(row, { intake: { unit: 'cm' }, seen: 1 });
    expect(() => changed(first, { intake: { unit: 'in', correction: 3 }, seen: 1 })).toThrow();
    expect(first.intake.correction).toBe(1);
  });
  it('what already is so is no change and no clash; without a version nothing is', () => {
    const first = after(row, { intake: { unit: 'cm' }, seen: 1 });
    expect(changed(first, { intake: { unit: 'cm' }, seen: 1 })).toEqual({});
    expect(after(first, { intake: { unit: 'in' } }).intake.unit).toBe('in');
  });
  it('what is taken back is gone, not null', () => {
    const flat = after(row, { intake: { plane: 'flat' } });
    expect('plane' in after(flat, { unset: ['plane'] }).intake).toBe(false);
    expect(changed(row, { unset: ['plane'] })).toEqual({});
  });
});

it('what a database cannot hold is replaced wherever it stands, and nothing else is touched', () => {
  const bytes = new Uint8Array([0, 1]);
  const value = { 'a\0': ['b\ud800c', 1, null, true, { deep: '\udc00' }], bytes, fine: 'é😀' };
  expect(storable(value)).toEqual({ 'a\ufffd': ['b\ufffdc', 1, null, true, { deep: '\ufffd' }], bytes, fine: 'é😀' });
  expect(storable(value).bytes).toBe(bytes);
});
