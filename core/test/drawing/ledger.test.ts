import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { REASONS, Ledger, because, reasonWords } from '../../src/index.js';

const entry = { carryOver: 'curves', action: 'approximated', reason: 'points-fell-together' } as const;

describe('rows of the ledger', () => {
  it('keep the largest deviation of all that say the same, in whatever order it comes', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 1 }), (values) => {
        const ledger = new Ledger('write');
        for (const value of values) ledger.add({ ...entry, deviation: { value, unit: 'mm' } });
        expect(ledger.rows).toHaveLength(1);
        expect(ledger.rows[0]!.deviation).toEqual({ value: Math.max(...values), unit: 'mm' });
      }),
    );
  });
  it('know that a hundredth of a metre is more than nine millimetres, and less than half an inch', () => {
    const ledger = new Ledger('write');
    const told = (value: number, unit: string): unknown => {
      ledger.add({ ...entry, deviation: { value, unit } });
      return ledger.rows[0]!.deviation;
    };
    expect(told(9, 'mm')).toEqual({ value: 9, unit: 'mm' });
    expect(told(0.01, 'm')).toEqual({ value: 0.01, unit: 'm' });
    expect(told(9.9, 'mm')).toEqual({ value: 0.01, unit: 'm' });
    expect(told(0.5, 'in')).toEqual({ value: 0.5, unit: 'in' });
  });
  it('count what they stand for, with ids as ranges', () => {
    const ledger = new Ledger('write');
    for (const id of [1, 2, 3, 7, 8, 12]) ledger.add({ ...entry, id });
    expect(ledger.rows[0]).toMatchObject({
      count: 6,
      ids: [
        [1, 3],
        [7, 8],
        [12, 12],
      ],
    });
  });
  it('say the same when code and arguments are the same, and something else when one argument is', () => {
    const ledger = new Ledger('write');
    const told = (from: string, to: string): void =>
      ledger.add({ carryOver: 'units', action: 'changed', reason: because('unit-converted', { from, to }) });
    told('mm', 'in');
    told('mm', 'in');
    told('mm', 'ft');
    expect(ledger.rows.map((r) => [r.code, r.args, r.reason, r.count])).toEqual([
      ['unit-converted', { from: 'mm', to: 'in' }, 'converted from mm to in', 2],
      ['unit-converted', { from: 'mm', to: 'ft' }, 'converted from mm to ft', 1],
    ]);
  });
});

describe('reasons', () => {
  it('every code has words of its own, and every brace of it is filled', () => {
    const all = Object.values(REASONS);
    expect(new Set(all).size).toBe(all.length);
    for (const [code, words] of Object.entries(REASONS)) {
      const names = [...words.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
      const args = Object.fromEntries(names.map((n) => [n, 'x']));
      expect(reasonWords({ code: code as keyof typeof REASONS, args }), code).not.toMatch(/[{}]|undefined/);
    }
  });
  it('every code is given somewhere', () => {
    const folder = fileURLToPath(new URL('../../src', import.meta.url));
    const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter(
      (f) => f.endsWith('.ts') && !f.endsWith('reasons.ts'),
    );
    const source = files.map((f) => readFileSync(join(folder, f), 'utf8')).join('\n');
    expect(Object.keys(REASONS).filter((code) => !source.includes(`'${code}'`))).toEqual([]);
  });
});
