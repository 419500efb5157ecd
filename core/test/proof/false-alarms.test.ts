import { describe, expect, it } from 'vitest';
import type { Drawing, Proof, Target } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
  targetFor,
} from '../../src/index.js';
import { drawingOf, fonts } from '../helpers.js';
import { renderer } from '../witness/renderer.js';
import { ONCE, PLAIN_TEXT } from '../sketches.js';

const svg = (inside: string): Drawing =>
  readDrawing(
    new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${inside}</svg>`,
    ),
    'a.svg',
  ).drawing;
function through(source: Drawing, target: Target): Proof {
  const prepared = prepare(source, { ...NO_DECISIONS, unit: source.unit ? null : 'mm' }, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, target, 'a', fonts());
  return proveDelivery(source, prepared, made, made.bytes, fonts());
}
const risks = (p: Proof): string[] =>
  p.items.filter((i) => i.state === 'atRisk').map((i) => `${i.title}: ${i.explanation}`);

describe('a proof does not fail without a fault', () => {
  it('for the line that closes a fill', () => {
    for (const d of [
      'M60 60L90 60L75 90',
      'M60 60L90 60A20 20 0 0 1 75 90',
      'M10 10L30 10L20 30M50 10C60 30 70 30 80 10',
    ])
      for (const format of ['dxf', 'dwg', 'svg'] as const)
        expect(risks(through(svg(`<path d="${d}"/>`), DEFAULT_TARGETS[format])), `${d} ${format}`).toEqual([]);
    expect(risks(through(svg('<polyline points="10,10 40,10 25,40"/>'), DEFAULT_TARGETS.dxf))).toEqual([]);
  });

  it('for a fill that is bounded anew, whatever its line is painted in', () => {
    // Two squares that overlap and run the same way: by the nonzero rule one shape of 28 around, not of 32.
    for (const stroke of ['none', '#000', '#c00'])
      for (const format of ['dxf', 'dwg'] as const)
        expect(
          risks(
            through(
              svg(`<path d="M10 10h4v4h-4zM12 12h4v4h-4z" fill="#fc0" stroke="${stroke}"/>`),
              DEFAULT_TARGETS[format],
            ),
          ),
        ).toEqual([]);
    // Round ones too, which release 12 fills in corners.
    const round = svg('<circle cx="50" cy="40" r="20" fill="#c00" stroke="#000" stroke-width="0.5"/>');
    for (const version of ['R12', '2000', '2018'])
      expect(risks(through(round, targetFor('dxf', { version }))), version).toEqual([]);
    // An open piece within a filled one: what closes it lies inside, where nothing is bounded.
    const open = svg('<path d="M10 10h40v40h-40zM20 20h20c5 9 5 14 0 20" fill="#fc0" stroke="#000"/>');
    expect(risks(through(open, DEFAULT_TARGETS.dxf))).toEqual([]);
  });

  it('for fills without area, which become lines and are told of', () => {
    const flat = svg('<path d="M10 10l5 5zM20 10h9z" fill="#c66"/><path d="M0 0h9v9z" fill="#c00"/>');
    for (const target of [DEFAULT_TARGETS.dxf, targetFor('dxf', { version: 'R12' })]) {
      const proof = through(flat, target);
      expect(risks(proof)).toEqual([]);
      const { ledger } = deliver(prepare(flat, NO_DECISIONS, []).drawing, target, 'a', fonts());
      expect(ledger.map((r) => r.code)).toContain('flat-fill-as-line');
    }
  });

  it('for sharp corners of fills, whose outlines have the thinnest pen there is', async () => {
    const judge = await renderer();
    const bytes = new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">${Array.from({ length: 12 }, (_, i) => `<path d="M2 ${4 * i + 2}L58 ${4 * i + 3}L2 ${4 * i + 4}L50 ${4 * i + 3}z" fill="#236"/>`).join('')}</svg>`,
    );
    const source = readDrawing(bytes, 'a.svg');
    const prepared = prepare(source.drawing, NO_DECISIONS, []);
    const made = deliver(prepared.drawing, targetFor('dxf', { unit: 'mm' }), 'a', fonts());
    const proof = proveDelivery(source, prepared, made, made.bytes, fonts(), {
      witness: { renderer: judge, source: bytes },
    });
    expect(proof.items.find((i) => i.id === 'seen-file')?.state).toBe('kept');
    expect(risks(proof)).toEqual([]);
  });

  it('for the only layer, which holds a single group', () => {
    const source = svg('<g data-layer="" id="Cut"><g id="g7"><rect width="20" height="20" stroke="#000"/></g></g>');
    expect(source.layers.map((l) => l.name)).toEqual(['Cut']);
    expect(risks(through(source, DEFAULT_TARGETS.svg))).toEqual([]);
    const marked = svg(
      '<g xmlns:x="urn:x" x:groupmode="layer" x:label="Cut" id="layer1"><g id="g7"><rect width="20" height="20" stroke="#000"/></g></g>',
    );
    expect(risks(through(marked, DEFAULT_TARGETS.svg))).toEqual([]);
    expect(risks(through(marked, DEFAULT_TARGETS.dxf))).toEqual([]);
  });

  it('for a block that had to be called otherwise', () => {
    const d = drawingOf([
      {
        kind: 'insert',
        block: 'Part A',
        at: [1, 2, 0],
        scale: [1, 1, 1],
        rotation: 0,
        ...ONCE,
      } as never,
    ]);
    const inner = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [3, 1, 0] } as never]).entities;
    d.blocks.set('part a', { name: 'Part A', base: [0, 0, 0], entities: inner.map((e) => ({ ...e, id: 900 })) });
    const proof = through(d, { ...DEFAULT_TARGETS.dxf, version: 'R12' });
    expect(risks(proof)).toEqual([]);
    // And no layer is said to be renamed.
    expect(proof.items.find((i) => i.id === 'layers')!.explanation).toBe('');
  });

  it('for digits that were asked not to be written, which have their row', () => {
    const source = svg(
      '<path d="M3.14159 2.71828L61.80339 14.14213C70.1234 20.4321 80.9876 30.1239 90.5555 41.4142" stroke="#000" fill="none"/><circle cx="33.3333" cy="66.6666" r="11.1111" stroke="#00f" fill="none"/>',
    );
    for (const decimals of [0, 1, 2]) {
      const proof = through(source, targetFor('svg', { decimals }));
      expect(risks(proof), `${decimals}`).toEqual([]);
      const row = proof.items.find((i) => /decimals, as asked for/.test(i.title))!;
      expect([row.state, row.explanation]).toEqual(['changed', `by at most ${10 ** -decimals} mm`]);
    }
    expect(through(source, DEFAULT_TARGETS.svg).items.some((i) => /decimals/.test(i.title))).toBe(false);
  });

  it.each(['spline', 'arcs', 'pieces'])('for letters on a sheet that became outlines, as %s', (curves) => {
    const sheet = { id: 1, layer: 'A', look: DRAFTING_DEFAULT, sheet: 'Sheet' };
    const text = {
      ...sheet,
      kind: 'text',
      text: 'Bay 8',
      at: [10, 10, 0],
      size: 5,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
      style: 'Standard',
    };
    const d: Drawing = {
      ...drawingOf([{ kind: 'line', start: [0, 0, 0], end: [3, 1, 0] } as never]),
      sheets: [{ name: 'Sheet', block: '*Paper_Space', order: 1, unitsPerMm: 1 }],
    };
    const source = { ...d, entities: [...d.entities, { ...text, id: 500 } as never] };
    for (const version of ['2010', 'R12'])
      expect(risks(through(source, targetFor('dxf', { text: 'outlines', curves, version })))).toEqual([]);
  });
});
