import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, prepare } from '../src/index.js';
import { DEMO, demoFile, dxf, hop, read, risks, svg } from './helpers.js';

const sorted = (source: ReturnType<typeof read>, by: string) =>
  prepare(source, { ...NO_DECISIONS, layers: { mode: 'all', names: [] } }, [
    { id: 's', step: 'sort-by-rule', on: true, params: { by } },
  ]);
const BODY =
  '<g id="Sign"><g id="Arrow"><path fill="#ff0000" stroke="#0000ff" stroke-width="2" d="M0 0H1V1Z"/></g><path fill="none" stroke="#0000ff" d="M0 0H1"/></g>';

describe('sorting onto layers by rule', () => {
  it.each([
    ['stroke', ['stroke #0000ff']],
    ['fill', ['fill #ff0000', 'fill none']],
    ['width', ['width 2', 'width 1']],
    ['path', ['Sign / Arrow', 'Sign']],
  ])('an illustration by %s', (by, names) => {
    const { drawing } = sorted(read(svg(BODY), 'a.svg'), by);
    expect(drawing.layers.map((l) => l.name)).toEqual(names);
    expect([...new Set(drawing.entities.map((e) => e.layer))].sort()).toEqual([...names].sort());
  });
  it('a drafting layer keeps its state and hands its colour on', () => {
    const source = read(
      dxf([0, 'LINE', 8, 'W', 10, 0, 20, 0, 11, 1, 21, 0], { units: 4, layers: [0, 'LAYER', 2, 'W', 70, 4, 62, 3] }),
    );
    const { drawing, ledger } = sorted(source, 'stroke');
    expect(drawing.layers).toMatchObject([{ name: 'stroke #00ff00', locked: true }]);
    expect(drawing.entities[0]!.look.stroke).toEqual({ kind: 'index', index: 3 });
    expect(ledger.at(-1)).toMatchObject({ carryOver: 'layers', onPurpose: true, count: 1 });
  });
  it.each(DEMO)('%s keeps its proof', (name) => {
    const { drawing } = sorted(read(demoFile(name), name), 'stroke');
    expect(risks(hop(drawing, { format: 'dxf' }).proof)).toEqual([]);
  });
});
