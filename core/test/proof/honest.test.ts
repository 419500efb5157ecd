import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Proof } from '../../src/index.js';
import {
  CHECKS,
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
  runChecks,
  summarise,
  verdictOf,
} from '../../src/index.js';
import { demoFile, fonts } from '../helpers.js';

const whole = readFileSync(new URL('../files/every-kind.dxf', import.meta.url));
const svg = (inside: string): Uint8Array =>
  new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${inside}`,
  );

/** A file through the whole chain, as server and shell do it. */
function through(bytes: Uint8Array, name: string, format: 'dxf' | 'svg' = 'dxf') {
  const read = readDrawing(bytes, name);
  const prepared = prepare(read.drawing, NO_DECISIONS, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, DEFAULT_TARGETS[format], name, fonts());
  const proof = proveDelivery(read, prepared, made, made.bytes, fonts());
  const strip = summarise(read.drawing, NO_DECISIONS, [...read.ledger, ...prepared.ledger]);
  return { read, proof, strip: Object.fromEntries(strip.map((s) => [s.carryOver, s.state])) };
}
const lost = (proof: Proof): string[] => proof.items.filter((i) => i.state === 'lost').map((i) => i.title);

describe('a file that breaks off', () => {
  // In the middle of the entities, of the blocks, and of the tables.
  it.each([0.95, 0.8, 0.5])('at %f of its bytes is told in strip, checks and verdict', (part) => {
    const { read, proof, strip } = through(whole.subarray(0, Math.floor(whole.length * part)), 'cut.dxf');
    expect(strip).toMatchObject({
      curves: 'lost',
      layers: 'atRisk',
      text: 'atRisk',
      colour: 'atRisk',
      links: 'atRisk',
    });
    expect(lost(proof)).toContain('The source could be read to its end');
    expect(verdictOf({ ...proof, holds: true })).toMatch(/^The proof holds, but the source itself is not whole/);
    const [first] = runChecks(read.drawing, {}, {});
    expect(first).toMatchObject({ check: 'damaged-file', severity: 'error' });
    expect(first!.message).toMatch(/^The file ends .*: line \d+$/);
  });
  it('as SVG too', () => {
    const { proof, strip } = through(svg('<rect width="50" height="50" stroke="#000"/><g><circle r="3"'), 'a.svg');
    expect(strip['curves']).toBe('lost');
    expect(verdictOf(proof)).toMatch(/^The proof holds, but the source itself is not whole/);
  });
  it('and a whole one is not', () => {
    const { read, proof, strip } = through(whole, 'every-kind.dxf');
    expect(proof.items.filter((i) => i.about === 'source')).toEqual([]);
    expect([strip['layers'], strip['text']]).toEqual(['kept', 'kept']);
    expect(runChecks(read.drawing, {}, {}).filter((f) => f.check === 'damaged-file')).toEqual([]);
    expect(CHECKS[0]!.id).toBe('damaged-file');
  });
});

describe('what nobody gave', () => {
  it('a reference and letters that no font has are in strip and verdict, in whatever format', () => {
    for (const format of ['dxf', 'svg'] as const) {
      const name = 'kestrel-row-site-plan.dwg';
      const read = readDrawing(demoFile(name), name);
      const decided = { ...NO_DECISIONS, unit: 'mm' as const };
      const prepared = prepare(read.drawing, decided, [], { fonts: fonts() });
      const made = deliver(prepared.drawing, DEFAULT_TARGETS[format], name, fonts());
      const proof = proveDelivery(read, prepared, made, made.bytes, fonts());
      const strip = summarise(read.drawing, decided, [...read.ledger, ...prepared.ledger]);
      expect(Object.fromEntries(strip.map((s) => [s.carryOver, s.state])), format).toMatchObject({
        links: 'lost',
        text: 'atRisk',
      });
      const said = lost(proof).join('\n');
      expect(said, format).toContain('kestrel-row-street.dwg');
      expect(said, format).toContain('“≈”');
      expect(verdictOf(proof), format).toMatch(/^The proof holds, but \d+ objects are lost\.$/);
    }
  });
  it('a picture that only has a name', () => {
    const { proof, strip } = through(svg('<image href="sketch.png" width="40" height="30"/></svg>'), 'a.svg');
    expect(strip['links']).toBe('lost');
    expect(lost(proof).join()).toContain('sketch.png');
  });
  it('and nothing is said where nothing is missing', () => {
    const { strip } = through(svg('<text y="20" font-family="Spline Sans">Kestrel Row – Ø 3</text></svg>'), 'a.svg');
    expect([strip['links'], strip['text']]).toEqual(['kept', 'kept']);
  });
});

it('an empty drawing is written truly, and nobody is told that all is well', () => {
  const { read, proof } = through(svg('</svg>'), 'empty.svg');
  expect(verdictOf(proof)).toBe('The proof holds, but the source itself is not whole.');
  expect(lost(proof)).toEqual(['Something to be seen']);
  expect(runChecks(read.drawing, {}, {})[0]).toMatchObject({ check: 'damaged-file', severity: 'error' });
});

describe('what reading does not understand is a row', () => {
  it.each<[string, string, string, RegExp]>([
    ['a media query', '<style>@media print{rect{fill:red}}</style>', 'colour', /@media/],
    ['a selector', '<style>rect:not(.a){fill:red}</style>', 'colour', /rect:not/],
    ['an element', '<gizmo/>', 'curves', /<gizmo> is not known/],
    ['a use of nothing', '<use href="#nowhere"/>', 'curves', /points at nothing/],
    ['a transform', '<g transform="turn(3)"><rect width="2" height="2"/></g>', 'origin', /makes no sense/],
    ['a path that ends in an error', '<path d="M0 0L5 5Q3" fill="none" stroke="#000"/>', 'curves', /path|number|data/i],
  ])('%s', (_, inside, carryOver, words) => {
    const { read, proof, strip } = through(svg(`${inside}<rect width="50" height="50" stroke="#000"/></svg>`), 'a.svg');
    const row = read.ledger.find((r) => words.test(r.reason));
    expect(row, JSON.stringify(read.ledger.map((r) => r.reason))).toMatchObject({
      carryOver,
      action: 'dropped',
      onPurpose: false,
      by: 'read',
    });
    expect(strip[carryOver]).toBe('lost');
    expect(lost(proof).some((t) => words.test(t))).toBe(true);
    expect(verdictOf(proof)).toBe('The proof holds, but 1 object is lost.');
  });
  it('scripts and what lies elsewhere are left out on purpose, and lose nothing', () => {
    const { read, proof, strip } = through(
      svg('<script>alert(1)</script><rect width="50" height="50" stroke="#000" onclick="x()"/></svg>'),
      'a.svg',
    );
    expect(read.ledger.filter((r) => r.action === 'dropped').map((r) => [r.carryOver, r.onPurpose])).toEqual([
      ['links', true],
      ['links', true],
    ]);
    expect(strip['links']).toBe('changed');
    expect(verdictOf(proof)).toBe('The proof holds.');
  });
});
