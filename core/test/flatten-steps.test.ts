import { describe, expect, it } from 'vitest';
import type { Drawing, PlannedStep } from '../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, boundsOf, deliver, prepare, proveDelivery, runSteps } from '../src/index.js';
import { DEMO, demoFile, drawingOf, dxf, fonts, read, risks } from './helpers.js';

const step = (id: string, params: Record<string, string | number> = {}): PlannedStep => ({
  id: 's',
  step: id,
  on: true,
  params,
});
const run = (d: Drawing, s: PlannedStep): Drawing => runSteps(d, [s], { fonts: fonts() }).drawing;
const kinds = (d: Drawing): string[] => d.entities.map((e) => e.kind);

describe('flattening hatches', () => {
  const square = { cmds: Uint8Array.of(0, 1, 1, 1, 5), data: Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10) };
  const hatch = (pattern: boolean) => ({
    kind: 'hatch',
    loops: [{ path: square, flags: 0 }],
    solid: !pattern,
    pattern: pattern ? 'LINES' : 'SOLID',
    elevation: 0,
    angle: 0,
    scale: 1,
    ...(pattern && { lines: [{ angle: 0, base: [0, 1], step: [0, 2], dashes: [] }] }),
  });
  const d = drawingOf([hatch(true), hatch(false)] as never);
  it('to the lines of their pattern: five of them, ten long', () => {
    const [e, solid] = run(d, step('flatten-hatches', { to: 'lines' })).entities;
    expect(e!.kind === 'path' && e.path.cmds.filter((c) => c === 0).length).toBe(5);
    expect(e!.kind === 'path' && Array.from(e.path.data.slice(0, 4)).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      0, 1, 10, 1,
    ]);
    expect(solid!.kind).toBe('hatch');
  });
  it('to plain fills, to outlines, to nothing', () => {
    expect(run(d, step('flatten-hatches', { to: 'fills' })).entities.map((e) => e.kind === 'hatch' && e.solid)).toEqual(
      [true, true],
    );
    expect(kinds(run(d, step('flatten-hatches', { to: 'outlines', which: 'all' })))).toEqual(['path', 'path']);
    expect(kinds(run(d, step('flatten-hatches', { to: 'nothing' })))).toEqual(['hatch']);
  });
});

describe('flattening dimensions', () => {
  it('leaves what showed them, where it was', () => {
    const d = read(demoFile('kestrel-row-section.dxf'));
    const flat = run(d, step('flatten-dimensions'));
    expect(kinds(d)).toContain('dimension');
    expect(kinds(flat)).not.toContain('dimension');
    const [a, b] = [boundsOf(d), boundsOf(flat)];
    for (const side of ['minX', 'minY', 'maxX', 'maxY'] as const) expect(b[side]).toBeCloseTo(a[side], 6);
    expect(kinds(run(d, step('flatten-dimensions', { to: 'nothing' }))).length).toBeLessThan(kinds(d).length);
  });
});

describe('breaking up blocks', () => {
  const blocks = [
    0,
    'BLOCK',
    8,
    '0',
    2,
    'IN',
    70,
    0,
    10,
    0,
    20,
    0,
    30,
    0,
    0,
    'CIRCLE',
    8,
    '0',
    10,
    0,
    20,
    0,
    30,
    0,
    40,
    1,
    0,
    'ENDBLK',
    8,
    '0',
    0,
    'BLOCK',
    8,
    '0',
    2,
    'OUT',
    70,
    0,
    10,
    0,
    20,
    0,
    30,
    0,
    0,
    'INSERT',
    8,
    '0',
    2,
    'IN',
    10,
    0,
    20,
    0,
    30,
    0,
    0,
    'ENDBLK',
    8,
    '0',
  ];
  const insert = (name: string) => [0, 'INSERT', 8, 'A', 2, name, 10, 5, 20, 0, 30, 0, 41, 2, 42, 1, 43, 1];
  const d = read(dxf([...insert('IN'), ...insert('OUT')], { blocks, units: 4 }));
  it('a circle under an unequal scale becomes an exact ellipse, on the layer of its insert', () => {
    const [e] = run(d, step('break-up-blocks', { named: 'IN' })).entities;
    expect(e).toMatchObject({ kind: 'ellipse', layer: 'A', centre: [5, 0, 0], ratio: 0.5 });
  });
  it('by name, with blocks within blocks or without', () => {
    expect(kinds(run(d, step('break-up-blocks', { named: 'O*' })))).toEqual(['insert', 'ellipse']);
    expect(kinds(run(d, step('break-up-blocks', { named: 'nothing, like this' })))).toEqual(['insert', 'insert']);
    expect(kinds(run(d, step('break-up-blocks')))).toEqual(['ellipse', 'ellipse']);
  });
});

it.each(DEMO)('%s, flattened through and through, is proven as DXF and SVG', (name) => {
  const d = read(demoFile(name), name);
  const steps = [step('break-up-blocks'), step('flatten-dimensions'), step('flatten-hatches', { to: 'lines' })];
  const prepared = prepare(d, NO_DECISIONS, steps, { fonts: fonts() });
  for (const format of ['dxf', 'svg'] as const) {
    const made = deliver(prepared.drawing, DEFAULT_TARGETS[format], name, fonts());
    expect(risks(proveDelivery(d, prepared, made, made.bytes, fonts())), format).toEqual([]);
  }
});
