import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import { DEMO, dxf, demoFile, hop, read, risks, textOf } from '../helpers.js';

const insert = (x: number, y: number, more: (string | number)[] = []): (string | number)[] => [
  0,
  'INSERT',
  8,
  'MARKS',
  2,
  'MARK',
  10,
  x,
  20,
  y,
  30,
  0,
  ...more,
];
const blocks = [
  0,
  'BLOCK',
  8,
  '0',
  2,
  'MARK',
  70,
  0,
  10,
  1,
  20,
  1,
  30,
  0,
  0,
  'LINE',
  8,
  '0',
  10,
  0,
  20,
  0,
  30,
  0,
  11,
  4,
  21,
  0,
  31,
  0,
  0,
  'CIRCLE',
  8,
  '0',
  10,
  2,
  20,
  2,
  30,
  0,
  40,
  1,
  0,
  'ENDBLK',
  8,
  '0',
];
const drawing = (...inserts: (string | number)[][]): Drawing => read(dxf(inserts.flat(), { blocks, units: 4 }));
const shared = (d: Drawing) => hop(d, { format: 'svg', blocks: 'shared' });
const uses = (bytes: Uint8Array): string[] => textOf(bytes).match(/<use [^>]*>/g) ?? [];

it.each(DEMO)('%s, its arcs as cubics: the ledger says how far off, and the proof holds', (name) => {
  expect(risks(hop(read(demoFile(name), name), { format: 'svg', arcs: 'cubics' }).proof)).toEqual([]);
});

describe('blocks drawn once and referred to', () => {
  it('where they look alike, moved, turned or mirrored alike; the proof holds', () => {
    const { made, proof, back } = shared(drawing(insert(0, 0), insert(20, 5), insert(40, 0, [50, 90])));
    expect(uses(made.bytes).map((u) => /transform="([^"]*)"/.exec(u)![1])).toEqual([
      'translate(20 -5)',
      // A quarter turn to the left is one to the right where y points down, about the point of the first insert.
      'matrix(0 -1 1 0 40 0)',
    ]);
    expect(back.entities.filter((e) => e.kind === 'circle').length).toBe(3);
    expect(risks(proof)).toEqual([]);
  });
  it('not where scale, layer, arrays or attributes differ: lines would change their width', () => {
    const scaled = insert(20, 0, [41, 2, 42, 2, 43, 2]);
    const array = insert(40, 0, [70, 2, 71, 1, 44, 10]);
    const other = insert(60, 0).map((v) => (v === 'MARKS' ? 'OTHER' : v));
    const { made, proof } = shared(drawing(insert(0, 0), scaled, array, other));
    expect(uses(made.bytes)).toEqual([]);
    expect(risks(proof)).toEqual([]);
  });
  it('two of the same other scale share too', () => {
    const twice = [41, 2, 42, 2, 43, 2];
    expect(uses(shared(drawing(insert(0, 0, twice), insert(30, 0, twice))).made.bytes).length).toBe(1);
  });
  it.each(['kestrel-row-front-elevation.dxf', 'kestrel-row-section.dxf'])('%s: no larger, and proven', (name) => {
    const d = read(demoFile(name));
    const { made, proof } = shared(d);
    expect(risks(proof)).toEqual([]);
    expect(made.bytes.length).toBeLessThanOrEqual(hop(d, { format: 'svg' }).made.bytes.length);
  });
});
