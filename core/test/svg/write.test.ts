import { Resvg } from '@resvg/resvg-js';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { DEFAULT_TARGETS, deliver, readDrawing } from '../../src/index.js';
import { shortNumber } from '../../src/formats/svg/path-text.js';
import { plainId } from '../../src/formats/svg/names.js';
import { cubicPieces } from '../../src/geometry/nurbs-cubics.js';
import { DEMO, demoFile, drawingOf, fonts, hop, only, risks, svg, textOf } from '../helpers.js';
import { PLAIN_TEXT } from '../sketches.js';

describe('names', () => {
  it('become plain ids, whatever is in them', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, unit: 'grapheme' }), (name) => {
        expect(plainId(name)).toMatch(/^[A-Za-z_][\w.-]*$/);
      }),
      { numRuns: 1000 },
    );
    expect(['Stop 1', 'Öffnung', '8-fold marks', '漢', '-', 'A.b_c'].map(plainId)).toEqual([
      'Stop-1',
      'Offnung',
      'n8-fold-marks',
      'group',
      'group',
      'A.b_c',
    ]);
  });
  it('that an id cannot say, or says otherwise, stand in a title', () => {
    const layers = ['_x20_', 'a_x41_', '0', 'Layer 1', ' edge ', 'plain', 'Öl', '漢'];
    const d = drawingOf(layers.map((layer) => ({ kind: 'line', start: [0, 0, 0], end: [1, 0, 0], layer })) as never);
    const { made } = hop(d, { format: 'svg' });
    expect(textOf(made.bytes)).toContain('<g id="plain">\n');
    expect(textOf(made.bytes)).not.toMatch(/id="[^"]*_x20_[^"]*">\n/);
    const back = readDrawing(made.bytes, 'a.svg').drawing;
    expect(back.layers.map((l) => l.name).sort()).toEqual([...layers].sort());
  });
});

it('numbers have no needless digits', () => {
  expect([1, -0.5, 0.1 + 0.2, 1e-9, -0, 100, 12.34567891].map((v) => shortNumber(v, 6))).toEqual([
    '1',
    '-.5',
    '.3',
    '0',
    '0',
    '100',
    '12.345679',
  ]);
});

describe('the page', () => {
  const d = drawingOf([{ kind: 'line', start: [10, 20, 0], end: [110, 70, 0] } as never]);
  it('is at true size, with user units as the drawing’s own and y turned over', () => {
    const { made } = hop(d, { format: 'svg', page: 'outlines' });
    expect(textOf(made.bytes)).toContain('width="100mm" height="50mm" viewBox="10 -70 100 50"');
    expect(textOf(made.bytes)).toContain('x1="10" y1="-20" x2="110" y2="-70"');
  });
  it('in inches is 25.4 times smaller; in metres it is stated in millimetres', () => {
    expect(textOf(hop(d, { format: 'svg', unit: 'in', page: 'outlines' }).made.bytes)).toContain('width="3.937008in"');
    const metres = textOf(hop(d, { format: 'svg', unit: 'm', page: 'outlines' }).made.bytes);
    expect(metres).toContain('width="100mm"');
    expect(metres).toContain('viewBox=".01 -.07 .1 .05"');
  });
});

describe('elements', () => {
  const body = (e: object, style: 'plain' | 'inline' | 'sheet' = 'plain'): string =>
    textOf(hop(drawingOf([e as never]), { format: 'svg', style }).made.bytes);
  it('circles stay circles, arcs are true arcs turned the right way', () => {
    expect(body({ kind: 'circle', centre: [1, 2, 0], radius: 3 })).toContain('<circle cx="1" cy="-2" r="3"');
    // A quarter from (1,0) up to (0,1): on the page from (1,0) to (0,−1), sweep flag 0.
    expect(body({ kind: 'arc', centre: [0, 0, 0], radius: 1, start: 0, end: Math.PI / 2 })).toContain(
      'd="M1 0A1 1 0 0 0 0-1"',
    );
  });
  it('extended data is named as lost', () => {
    const line = { kind: 'line', start: [0, 0, 0], end: [1, 1, 0], extended: '1001\nAPP' };
    const { ledger } = hop(drawingOf([line as never]), { format: 'svg' }).made;
    expect(ledger.filter((r) => r.action === 'dropped').map((r) => r.reason)).toEqual([
      'extended data has no place in SVG',
    ]);
  });
  it('three ways of style', () => {
    const line = { kind: 'line', start: [0, 0, 0], end: [1, 1, 0] };
    expect(body(line)).toContain(' stroke="#000000"');
    expect(body(line, 'inline')).toMatch(/style="[^"]*stroke:#000000/);
    expect(body(line, 'sheet')).toMatch(/\.s1\{[^}]*stroke:#000000/);
  });
  it('text is upright, its em from the height of capitals', () => {
    const out = body({
      kind: 'text',
      text: 'a < b & "c"',
      at: [0, 0, 0],
      size: 7,
      sizeOf: 'capital',
      ...PLAIN_TEXT,
    });
    expect(out).toContain('>a &lt; b &amp; &quot;c&quot;</text>');
    expect(out).not.toContain('transform');
    // Spline Sans: capitals are 1396 of 2000 units high.
    const em = Number(/font-size="([\d.]+)"/.exec(out)![1]);
    expect(7 / em).toBeGreaterThan(0.65);
    expect(7 / em).toBeLessThan(0.75);
  });
});

it('a rational circle becomes cubics within the tolerance asked for', () => {
  const w = Math.SQRT1_2;
  const circle = {
    degree: 2,
    knots: Float64Array.of(0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 4),
    points: Float64Array.of(1, 0, 0, 1, 1, 0, 0, 1, 0, -1, 1, 0, -1, 0, 0, -1, -1, 0, 0, -1, 0, 1, -1, 0, 1, 0, 0),
    weights: Float64Array.of(1, w, 1, w, 1, w, 1, w, 1),
  };
  for (const tolerance of [1e-3, 1e-6]) {
    const { pieces, deviation } = cubicPieces(circle, tolerance);
    expect(deviation).toBeLessThanOrEqual(tolerance);
    for (const { start, numbers } of pieces) {
      const [x0, y0] = start;
      const [x1, y1, x2, y2, x3, y3] = numbers as [number, number, number, number, number, number];
      const mid = Math.hypot((x0 + 3 * x1 + 3 * x2 + x3) / 8, (y0 + 3 * y1 + 3 * y2 + y3) / 8);
      expect(Math.abs(mid - 1)).toBeLessThanOrEqual(tolerance * 1.01);
    }
  }
});

describe('round trips', () => {
  it.each(DEMO)('%s to SVG and back: the proof holds', (name) => {
    const { drawing } = readDrawing(demoFile(name), name);
    for (const style of ['plain', 'inline', 'sheet'] as const)
      expect(risks(hop(drawing, { format: 'svg', style }).proof)).toEqual([]);
  });

  it('SVG → DXF → SVG keeps layers, colours and geometry', () => {
    const { drawing } = readDrawing(demoFile(DEMO[3]!), DEMO[3]!);
    const dxf = hop(drawing, { format: 'dxf' });
    expect(risks(dxf.proof)).toEqual([]);
    const again = hop(dxf.back, { format: 'svg' });
    expect(risks(again.proof)).toEqual([]);
    expect(again.back.layers.map((l) => l.name).filter((n) => n !== '0')).toEqual(drawing.layers.map((l) => l.name));
  });

  it('written twice it is the same, and ids stay as they were', () => {
    const source = svg('<g id="a"><path id="keep-me" d="M0 0C1 1 2 1 3 0"/></g>');
    const first = hop(readDrawing(source, 'x.svg').drawing, { format: 'svg' });
    const second = hop(first.back, { format: 'svg' });
    expect(textOf(second.made.bytes)).toBe(textOf(first.made.bytes));
    expect(textOf(first.made.bytes)).toContain('id="keep-me"');
  });

  it('a drawing far from the origin loses nothing', () => {
    const far = drawingOf([
      { kind: 'circle', centre: [5e6, 4e6, 0], radius: 0.5 } as never,
      { kind: 'line', start: [5e6, 4e6, 0], end: [5e6 + 1, 4e6, 0] } as never,
    ]);
    const { proof, back } = hop(far, { format: 'svg' });
    expect(risks(proof)).toEqual([]);
    expect(only(back, 'circle').radius).toBe(0.5);
  });
});

describe('what it looks like', () => {
  const pixels = (bytes: Uint8Array | string): Uint8Array =>
    new Resvg(typeof bytes === 'string' ? bytes : textOf(bytes), {
      fitTo: { mode: 'width', value: 300 },
      background: 'white',
      font: { loadSystemFonts: false },
    }).render().pixels;
  const CASES: [string, string][] = [
    [
      'nested transforms',
      '<g transform="translate(50 50) rotate(30)"><rect x="-30" y="-10" width="60" height="20" fill="#c00"/><circle r="8" fill="#00c" transform="scale(2 1)"/></g>',
    ],
    ['even-odd star', '<path fill-rule="evenodd" d="M50 5L79 95 2 39H98L21 95Z" fill="#063"/>'],
    ['nonzero star', '<path d="M50 5L79 95 2 39H98L21 95Z" fill="#063"/>'],
    [
      'arcs of every flag',
      '<g fill="none" stroke="#333" stroke-width="2"><path d="M10 50A30 20 30 0 0 60 60"/><path d="M10 50A30 20 30 1 0 60 60"/><path d="M30 40A20 20 0 0 1 60 30"/><path d="M30 40A20 20 0 1 1 60 30"/></g>',
    ],
    [
      'round rectangles',
      '<rect x="5" y="5" width="60" height="40" rx="10" fill="#888"/><rect x="30" y="50" width="60" height="40" rx="20" ry="8" fill="none" stroke="#000" stroke-width="3"/>',
    ],
    [
      'dashes, caps, joins',
      '<path d="M10 10L50 90 90 10" fill="none" stroke="#000" stroke-width="6" stroke-linejoin="round" stroke-dasharray="12 8" stroke-linecap="round"/>',
    ],
    [
      'opacity',
      '<rect width="60" height="60" fill="red"/><rect x="30" y="30" width="60" height="60" fill="blue" fill-opacity=".5" opacity=".8"/>',
    ],
    [
      'smooth curves',
      '<path d="M5 50C20 0 40 0 50 50S80 100 95 50" fill="none" stroke="#050" stroke-width="3"/><path d="M5 80Q25 60 50 80T95 80" fill="none" stroke="#500"/>',
    ],
    [
      'use and symbol',
      '<defs><symbol id="s" viewBox="0 0 10 10"><path d="M0 0H10L5 10Z"/></symbol></defs><use href="#s" x="10" y="10" width="30" height="30" fill="#a0a"/><use href="#s" x="50" y="40" width="40" height="50" fill="#0aa"/>',
    ],
    ['a mirror', '<g transform="matrix(-1 0 0 1 100 0)"><path d="M10 10H60A20 20 0 0 1 60 50H10Z" fill="#960"/></g>'],
  ];
  it.each(CASES)('%s: ours and the original draw the same', (_, body) => {
    const original = svg(body);
    const { made } = hop(readDrawing(original, 'x.svg').drawing, { format: 'svg' });
    // Ours is cut to what is drawn; show it on the page of the original.
    const ours = textOf(made.bytes).replace(
      /width="[^"]*" height="[^"]*" viewBox="[^"]*"/,
      'width="100mm" height="100mm" viewBox="0 0 100 100"',
    );
    const [a, b] = [pixels(original), pixels(ours)];
    let inked = 0;
    let wrong = 0;
    for (let i = 0; i < a.length; i += 4) {
      const ink = (p: Uint8Array): boolean => p[i]! < 250 || p[i + 1]! < 250 || p[i + 2]! < 250;
      if (!ink(a) && !ink(b)) continue;
      inked++;
      if (Math.abs(a[i]! - b[i]!) + Math.abs(a[i + 1]! - b[i + 1]!) + Math.abs(a[i + 2]! - b[i + 2]!) > 60) wrong++;
    }
    expect(inked).toBeGreaterThan(100);
    expect(wrong / inked).toBeLessThan(0.02);
  });
});

it('the page holds the whole of a text: the tails of its letters and its height, whichever way it is turned', () => {
  for (const rotation of [0, Math.PI / 2, Math.PI]) {
    const d = drawingOf([
      {
        kind: 'text',
        text: 'gjpqy',
        at: [0, 0, 0],
        size: 10,
        sizeOf: 'em',
        rotation,
        widthFactor: 1,
        oblique: 0,
        horizontal: 'left',
        vertical: 'baseline',
        font: { family: 'Spline Sans', weight: 400, italic: false },
      } as never,
    ]);
    const [x, y, w, h] = /viewBox="([^"]*)"/
      .exec(textOf(deliver(d, DEFAULT_TARGETS.svg, 'x', fonts()).bytes))![1]!
      .split(' ')
      .map(Number);
    // The deepest tail of this font lies a fifth of an em below the baseline, and more than half of a small letter above it.
    const along = [Math.cos(rotation), -Math.sin(rotation)];
    const up = [-Math.sin(rotation), -Math.cos(rotation)];
    for (const [a, b] of [
      [0.5, -2],
      [15, -2],
      [0.5, 5],
    ])
      for (const [v, from, size] of [
        [along[0]! * a! + up[0]! * b!, x, w],
        [along[1]! * a! + up[1]! * b!, y, h],
      ] as const) {
        expect(v).toBeGreaterThanOrEqual(from! - 1e-6);
        expect(v).toBeLessThanOrEqual(from! + size! + 1e-6);
      }
  }
});
