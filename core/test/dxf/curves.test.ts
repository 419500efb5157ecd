import { describe, expect, it } from 'vitest';
import { readDrawing } from '../../src/index.js';
import { hop, risks, svg, textOf } from '../helpers.js';

const leaf = 'M10 50C10 20 40 10 50 10L60 10A20 15 0 0 1 80 40Q70 80 20 70Z';
const source = () =>
  readDrawing(
    svg(
      `<g id="Emblem"><rect width="1" height="1" fill="none" stroke="#000"/><g id="leaf"><path id="outline" fill="none" stroke="#000" d="${leaf}"/><path fill="none" stroke="#000" d="M0 0H5V5"/></g></g>`,
    ),
    'x.svg',
  ).drawing;
const kinds = (d: { entities: { kind: string }[] }): string[] => d.entities.map((e) => e.kind);
/** The handles of each group, by name. */
function groups(bytes: Uint8Array): Map<string, number> {
  const tags = textOf(bytes).split('\n');
  const out = new Map<string, number>();
  let name = '';
  let inside = false;
  for (let i = 0; i + 1 < tags.length; i += 2) {
    const [code, value] = [tags[i]!.trim(), tags[i + 1]!.trim()];
    if (code === '0') inside = value === 'GROUP';
    else if (inside && code === '300') out.set((name = value), 0);
    else if (inside && code === '340') out.set(name, out.get(name)! + 1);
  }
  return out;
}

describe('a path that mixes lines, arcs and Béziers', () => {
  it('becomes one exact spline', () => {
    const { back, proof } = hop(source(), { format: 'dxf' });
    expect(kinds(back)).toEqual(['polyline', 'spline', 'polyline']);
    expect(risks(proof)).toEqual([]);
  });
  it('becomes a closed polyline of arcs within the tolerance, and the ledger says how far off', () => {
    const { back, made, proof } = hop(source(), { format: 'dxf', curves: 'arcs', tolerance: 0.01 });
    expect(kinds(back)).toEqual(['polyline', 'polyline', 'polyline']);
    expect(back.entities[1]).toMatchObject({ closed: true });
    const row = made.ledger.find((r) => r.action === 'approximated' && r.deviation);
    expect(row?.deviation?.value).toBeGreaterThan(1e-4);
    expect(row?.deviation?.value).toBeLessThanOrEqual(0.01);
    expect(risks(proof)).toEqual([]);
  });
  it('needs fewer arcs where more is allowed', () => {
    const corners = (tolerance: number): number => {
      const e = hop(source(), { format: 'dxf', curves: 'arcs', tolerance }).back.entities[1]!;
      return e.kind === 'polyline' ? e.points.length / 2 : 0;
    };
    expect(corners(0.001)).toBeGreaterThan(corners(0.1));
  });
  it('becomes its pieces, exactly, held together by a group of its name', () => {
    const { back, made, proof } = hop(source(), { format: 'dxf', curves: 'pieces' });
    // Cubic, line, elliptic arc, quadratic, closing line.
    expect(kinds(back)).toEqual(['polyline', 'spline', 'line', 'ellipse', 'spline', 'line', 'polyline']);
    expect(groups(made.bytes).get('outline')).toBe(5);
    expect(risks(proof)).toEqual([]);
  });
});

it('groups of an illustration become groups of a drafting file, by their names', () => {
  const { made } = hop(source(), { format: 'dxf' });
  expect([...groups(made.bytes)]).toEqual([['leaf', 2]]);
});
