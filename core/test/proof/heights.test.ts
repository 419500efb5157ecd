import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../../src/index.js';
import {
  DEFAULT_TARGETS,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
  verdictOf,
} from '../../src/index.js';
import { leavesPlane } from '../../src/drawing/leaves-plane.js';
import { drawingOf, fonts } from '../helpers.js';

function toSvg(source: Drawing) {
  const prepared = prepare(
    source,
    { ...NO_DECISIONS, unit: source.unit ? null : 'mm', layers: { mode: 'all', names: [] } },
    [],
    { fonts: fonts() },
  );
  const made = deliver(prepared.drawing, DEFAULT_TARGETS.svg, 'a', fonts());
  const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
  return { text: new TextDecoder().decode(made.bytes), ledger: made.ledger, proof };
}
const N = [0, 0.6, 0.8] as const;

describe('what leaves the plane, written to SVG', () => {
  it('is told, counted and accounted for: the proof holds, and says what is lost', () => {
    // 3-4-5: a line of length 5 is seen 3 long.
    const { ledger, proof } = toSvg(
      drawingOf([
        { kind: 'line', start: [0, 0, 0], end: [3, 0, 4] } as never,
        { kind: 'line', start: [0, 0, 7], end: [9, 0, 7] } as never,
      ]),
    );
    const rows = ledger.filter((r) => r.code === 'heights-left-out');
    expect(rows.map((r) => [r.count, r.action, Object.values(r.added ?? {})])).toEqual([[1, 'dropped', [-2]]]);
    expect(proof.items.filter((i) => i.state === 'atRisk')).toEqual([]);
    expect(verdictOf(proof)).toBe('The proof holds, but 1 object is lost.');
  });

  it('a circle that stands aslant is seen as an ellipse, as high as its plane leans', () => {
    const { text, proof } = toSvg(drawingOf([{ kind: 'circle', centre: [10, 2, 1], radius: 5, normal: N } as never]));
    // Half axes 5 and 5 · 0.8.
    expect(text).not.toContain('<circle');
    expect(proof.items.find((i) => i.id === 'size')!.found).toMatch(/^10 × 8 /);
    expect(proof.items.filter((i) => i.state === 'atRisk')).toEqual([]);
  });

  it('a flat drawing has no such row, at whatever height it lies', () => {
    const flat = drawingOf([
      { kind: 'polyline', points: Float64Array.of(0, 0, 5, 9, 0, 5), dim: 3, elevation: 0, closed: false } as never,
      { kind: 'circle', centre: [1, 1, 9], radius: 2, normal: [0, 0, -1] } as never,
    ]);
    expect(toSvg(flat).ledger.filter((r) => r.code === 'heights-left-out')).toEqual([]);
    for (const e of flat.entities) expect(leavesPlane(e, [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0])).toBe(false);
  });

  it('one of each kind, tilted or not: every difference is accounted for', () => {
    const source = readDrawing(readFileSync(new URL('../files/every-kind.dxf', import.meta.url)), 'a.dxf').drawing;
    const risky = (d: Drawing): string[] =>
      toSvg(d)
        .proof.items.filter((i) => i.state === 'atRisk')
        .map((i) => `${i.title}: ${i.explanation}`);
    expect(risky(source)).toEqual([]);
    for (const e of source.entities)
      if (e.sheet === undefined) expect(risky({ ...source, entities: [e] }), `${e.kind} ${e.key}`).toEqual([]);
  });
});
