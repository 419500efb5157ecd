import { beforeAll, describe, expect, test } from 'vitest';
import type { Drawing, Renderer } from '../../src/index.js';
import { DEFAULT_TARGETS, DRAFTING_DEFAULT, NO_DECISIONS, deliver, prepare, proveDelivery } from '../../src/index.js';
import { dxf, fonts, read } from '../helpers.js';
import { renderer as opened } from '../witness/renderer.js';
import { drawingOf, lines, pictured } from './drawn.js';

let renderer: Renderer;
beforeAll(async () => {
  renderer = await opened();
});

const counts = (d: Drawing): Record<string, number> =>
  Object.fromEntries(pictured(d, { pixels: 200 }).ledger.map((r) => [r.code ?? '', r.count]));
const seen = (d: Drawing, options = {}): [string | undefined, boolean] => {
  const prepared = prepare(d, NO_DECISIONS, []);
  const made = deliver(
    prepared.drawing,
    { ...DEFAULT_TARGETS.png, options: { pixels: 400, ...options } },
    'a',
    fonts(),
  );
  const witness = { renderer, source: new Uint8Array() };
  const proof = proveDelivery(d, prepared, made, made.bytes, fonts(), { witness });
  return [proof.items.find((i) => i.id === 'seen-file')?.state, proof.holds];
};

describe('what a picture does not show is told', () => {
  test('inserts of a block in itself, and of one that is not there', () => {
    const blocks = [0, 'BLOCK', 8, '0', 2, 'A', 70, 0, 10, 0, 20, 0, 30, 0, 3, 'A', 1, ''];
    const line = [0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 9, 21, 9];
    const insert = (name: string): (string | number)[] => [0, 'INSERT', 8, '0', 2, name, 10, 0, 20, 0];
    const d = read(
      dxf([...line, ...insert('A'), ...insert('GONE')], {
        units: 4,
        blocks: [...blocks, ...line, ...insert('A'), 0, 'ENDBLK', 8, '0'],
      }),
    );
    expect(counts(d)).toMatchObject({ 'inserts-in-themselves': 1, 'inserts-of-missing-block': 1 });
  });

  test('letters that no font has, and paints that have no place', () => {
    const [base] = lines([0, 0, 40, 20]);
    const text = {
      kind: 'text',
      layer: '0',
      look: DRAFTING_DEFAULT,
      text: 'stop \u{12000}',
      at: [0, 0, 0],
      size: 5,
      sizeOf: 'capital',
      rotation: 0,
      widthFactor: 1,
      oblique: 0,
      horizontal: 'left',
      vertical: 'baseline',
      style: 'Plain',
    } as const;
    const paint = { kind: 'pattern', rgb: 0x336699, id: 'p' } as const;
    const d = drawingOf([text, { ...base!, look: { ...base!.look, stroke: paint } }]);
    d.textStyles.push({ name: 'Plain', font: 'Spline Sans' } as (typeof d.textStyles)[number]);
    expect(counts(d)).toMatchObject({ 'letters-missing': 1, 'paints-to-plain-colour': 1 });
  });

  test('nothing of the sort is told of a plain drawing', () => {
    // Nor of its resolution: 4800 pixels to the metre are a whole number.
    expect(Object.keys(counts(drawingOf(lines([0, 0, 40, 20], 1))))).toEqual(['drawn-as-pixels']);
  });
});

describe('what the other renderer draws too', () => {
  test('a polyline that is wide at one end and pointed at the other', () => {
    const arrow = drawingOf([
      {
        kind: 'polyline',
        layer: '0',
        look: { ...DRAFTING_DEFAULT, stroke: { kind: 'rgb', rgb: 0x993311 } },
        points: Float64Array.of(5, 5, 60, 30, 90, 30),
        dim: 2,
        elevation: 0,
        closed: false,
        widths: Float64Array.of(0, 12, 12, 2, 0, 0),
      },
    ]);
    expect(seen(arrow)).toEqual(['kept', true]);
    expect(seen(arrow, { hairline: 1 })).toEqual(['kept', true]);
  });
});
