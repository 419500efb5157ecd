import { describe, expect, it } from 'vitest';
import type { Prepared } from '../../src/index.js';
import {
  CannotDeliver,
  DEFAULT_TARGETS,
  targetFor,
  NO_DECISIONS,
  baseName,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
} from '../../src/index.js';
import { farthest } from '../../src/proof/distance.js';
import { DEMO, bytesOf, demoFile, dxf, fonts, read, textOf } from '../helpers.js';

const { drawing: source } = readDrawing(demoFile(DEMO[0]!), DEMO[0]!);
const prepared: Prepared = prepare(source, NO_DECISIONS, []);
const svg = deliver(prepared.drawing, DEFAULT_TARGETS.svg, 'front.dxf', fonts());
const dxfFile = deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'front.dxf', fonts());

/** Proves a damaged copy: which items are at risk. */
function risk(made: typeof svg, damage: (text: string) => string): string[] {
  const text = textOf(made.bytes);
  const damaged = damage(text);
  expect(damaged).not.toBe(text);
  const proof = proveDelivery(source, prepared, made, bytesOf(damaged), fonts());
  expect(proof.holds).toBe(false);
  return proof.items.filter((i) => i.state === 'atRisk').map((i) => i.id);
}

it('holds for what was written', () => {
  for (const made of [svg, dxfFile])
    expect(proveDelivery(source, prepared, made, made.bytes, fonts()).holds).toBe(true);
});

describe('fails on a damaged SVG', () => {
  it('one circle moved by a tenth of a millimetre', () => {
    expect(risk(svg, (t) => t.replace('<circle cx="0" ', '<circle cx=".1" '))).toContain('distance');
  });
  it('one circle missing', () => {
    const ids = risk(svg, (t) => t.replace(/<circle [^>]*\/>\n/, ''));
    expect(ids).toEqual(expect.arrayContaining(['kind-circle', 'length', 'layer-content']));
  });
  it('one colour off by the last digit', () => {
    expect(risk(svg, (t) => t.replace('#a50029', '#a5002a'))).toEqual(['stroke-colours']);
  });
  it('a letter changed, a text moved', () => {
    expect(risk(svg, (t) => t.replace('KESTREL', 'KESTRAL'))).toEqual(['text']);
    expect(risk(svg, (t) => t.replace(/<text x="3600"/, '<text x="3601"'))).toEqual(['text-place']);
  });
  it('another page size: the unit no longer holds', () => {
    expect(risk(svg, (t) => t.replace(/width="[\d.]+mm"/, 'width="1234mm"'))).toContain('unit');
  });
  it('no unit at all', () => {
    expect(risk(svg, (t) => t.replace(/width="([\d.]+)mm" height="([\d.]+)mm"/, 'width="$1" height="$2"'))).toContain(
      'unit',
    );
  });
  it('a layer renamed', () => {
    expect(risk(svg, (t) => t.replace('<g id="ROOF"', '<g id="ROOFS"'))).toEqual(['layers', 'layer-content']);
  });
  it('cut off in the middle', () => {
    expect(risk(svg, (t) => t.slice(0, t.length / 2)).length).toBeGreaterThan(3);
  });
});

describe('fails on a damaged DXF', () => {
  it('wrong unit in the header', () => {
    expect(risk(dxfFile, (t) => t.replace(/(\$INSUNITS\r\n 70\r\n)4/, '$15'))).toContain('unit');
  });
  it('a coordinate changed', () => {
    expect(risk(dxfFile, (t) => t.replace('7240.0', '7241.0')).length).toBeGreaterThan(0);
  });
  it('an insert that names another block', () => {
    expect(risk(dxfFile, (t) => t.replace(/(AcDbBlockReference\r\n {2}2\r\n)GLASS-CLAMP/, '$1BOLT'))).toContain(
      'blocks',
    );
  });
  it('something else altogether', () => {
    const proof = proveDelivery(source, prepared, dxfFile, bytesOf('nonsense'), fonts());
    expect(proof.items.map((i) => i.id)).toEqual(['readable']);
  });
});

it('an entity that vanished between source and prepared, without a row, is at risk', () => {
  const thinner: Prepared = {
    ...prepared,
    drawing: { ...prepared.drawing, entities: prepared.drawing.entities.slice(1) },
  };
  const made = deliver(thinner.drawing, DEFAULT_TARGETS.dxf, 'x', fonts());
  const proof = proveDelivery(source, thinner, made, made.bytes, fonts());
  expect(proof.items.filter((i) => i.state === 'atRisk').map((i) => i.id)).toEqual(['accounted']);
});

it('the largest distance is measured to the chord, not to its ends', () => {
  const from = Float64Array.of(0, 3, 10, 4);
  const to = Float64Array.of(-5, 0, 20, 0);
  expect(farthest(from, to, 0.01).distance).toBeCloseTo(4, 12);
  expect(farthest(to, from, 0.01).distance).toBeCloseTo(Math.hypot(10, 4), 12);
  expect(farthest(from, new Float64Array(0), 1).distance).toBe(Infinity);
});

describe('delivering', () => {
  it('converts to the unit of the target: an inch becomes 25.4', () => {
    const d = prepare(read(dxf([0, 'LINE', 8, 'A', 10, 0, 20, 0, 11, 1, 21, 0], { units: 1 })), NO_DECISIONS, []);
    const made = deliver(d.drawing, targetFor('dxf', { unit: 'mm' }), 'x', fonts());
    expect(read(made.bytes).entities[0]).toMatchObject({ end: [25.4, 0, 0] });
    expect(read(made.bytes).unit).toEqual({ unit: 'mm', factor: 1 });
  });
  it('refuses while the unit is undecided, and targets that are none', () => {
    const d = prepare(read(dxf([0, 'POINT', 8, 'A', 10, 0, 20, 0])), NO_DECISIONS, []).drawing;
    expect(() => deliver(d, DEFAULT_TARGETS.dxf, 'x', fonts())).toThrow(CannotDeliver);
    expect(() =>
      deliver({ ...d, unit: { unit: 'mm', factor: 1 } }, targetFor('dxf', { version: '1899' }), 'x', fonts()),
    ).toThrow(/1899/);
  });
  it('makes file names of nothing but a name', () => {
    expect(['../../etc/passwd', 'C:\\x\\plan.dxf', '.dxf', 'a:b?c.svg', '', '..'].map(baseName)).toEqual([
      'passwd',
      'plan',
      'drawing',
      'a_b_c',
      'drawing',
      'drawing',
    ]);
  });
});
