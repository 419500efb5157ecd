import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { FontBook, SINGLE_LINE, fontUses, loadFont } from '../../src/index.js';
import { Box2 } from '../../src/geometry/box.js';
import { IDENTITY } from '../../src/geometry/affine.js';
import { Cmd } from '../../src/geometry/path.js';
import type { PathData } from '../../src/geometry/path.js';
import { DRAFTING_DEFAULT } from '../../src/drawing/appearance.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../../src/drawing/measures.js';
import { drawingOf, fonts, read, svg } from '../helpers.js';

const file = (name: string): Uint8Array => readFileSync(fileURLToPath(import.meta.resolve(name)));
const entity = (path: PathData) => ({ kind: 'path' as const, id: 0, layer: '', look: DRAFTING_DEFAULT, path });
const boxOf = (path: PathData): Box2 => {
  const sink = new BoundsSink(new Box2());
  addEntityBounds(entity(path), IDENTITY, sink);
  return sink.box;
};
const strokes = (path: PathData): number => path.cmds.filter((c) => c === Cmd.Move).length;

describe('shaping', () => {
  it('kerns: A and V stand closer together than apart', () => {
    const f = fonts();
    const w = (t: string): number => f.outline(t, 'Source Serif 4').advance;
    expect(w('AV')).toBeLessThan(w('A') + w('V') - 0.02);
  });
  it('sets ligatures as one glyph and keeps marks over their letters', () => {
    const f = fonts();
    expect(f.outline('e\u0301', 'Spline Sans').missing).toEqual([]);
    expect(f.outline('e\u0301', 'Spline Sans').advance).toBeCloseTo(f.outline('é', 'Spline Sans').advance, 9);
  });
  it('takes bold and italic from their own files, and leans what has no italic', () => {
    const f = fonts();
    expect(f.outline('n', 'Spline Sans', 700).advance).not.toBe(f.outline('n', 'Spline Sans').advance);
    expect(f.outline('n', 'Source Serif 4', 400, true).path.data).not.toEqual(
      f.outline('n', 'Source Serif 4').path.data,
    );
    const [upright, leaning] = [f.outline('l', 'Spline Sans').path, f.outline('l', 'Spline Sans', 400, true).path].map(
      boxOf,
    );
    expect(leaning!.width - upright!.width).toBeCloseTo(0.2 * upright!.height, 6);
  });
});

describe('right-to-left text', () => {
  const book = new FontBook([
    ...fonts().fonts,
    loadFont(file('@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff2')),
    loadFont(file('@fontsource/noto-naskh-arabic/files/noto-naskh-arabic-arabic-400-normal.woff2')),
  ]);
  it('is set from the right: the first letter stands last', () => {
    // Lamed rises above all other letters of the word: it is the last of לל… and must stand leftmost.
    const path = book.outline('שול', 'Spline Sans').path;
    const tall = boxOf(path);
    let x = Infinity;
    flattenEntity(entity(path), IDENTITY, 0.001, {
      moveTo: (px, py) => void (py > tall.maxY - 0.02 && (x = Math.min(x, px))),
      lineTo: (px, py) => void (py > tall.maxY - 0.02 && (x = Math.min(x, px))),
    });
    expect(x).toBeLessThan(tall.minX + tall.width / 3);
  });
  it('stands in a line of Latin where it belongs, whatever the fonts', () => {
    const made = book.outline('Gleis שול 7', 'Spline Sans');
    expect(made.missing).toEqual([]);
    expect(made.advance).toBeCloseTo(
      ['Gleis ', 'שול', ' 7'].reduce((sum, t) => sum + book.outline(t, 'Spline Sans').advance, 0),
      1,
    );
  });
  it('joins letters that join', () => {
    const joined = book.outline('ببب', 'Spline Sans').advance;
    expect(joined).toBeLessThan(3 * book.outline('ب', 'Spline Sans').advance * 0.9);
  });
});

describe('what stands for a font that is not there', () => {
  it('the chart, then the kind its name speaks of, then the first', () => {
    const f = fonts().with({ 'Old Face': 'Sofia Sans Condensed' });
    expect(f.standIn('old face')).toEqual({ family: 'Sofia Sans Condensed', how: 'chart' });
    expect(f.standIn('spline sans mono')).toEqual({ family: 'Spline Sans Mono', how: 'own' });
    expect(f.standIn('Some Serif')).toEqual({ family: 'Source Serif 4', how: 'kind' });
    expect(f.standIn('Some Narrow Thing')).toEqual({ family: 'Sofia Sans Condensed', how: 'kind' });
    expect(f.standIn('Unheard Of')).toEqual({ family: 'Spline Sans', how: 'standard' });
  });
  it('each use says where, how often, and which characters are missing', () => {
    const d = read(svg('<g id="Signs"><text x="5" y="9" font-family="Unheard Of">Gleis 漢 7</text></g>'), 'x.svg');
    expect(fontUses(d, fonts())).toMatchObject([
      {
        asked: 'Unheard Of',
        texts: 1,
        layers: ['Signs'],
        how: 'standard',
        at: { x: 5, y: 9 },
        wider: null,
        missing: [{ char: '漢', count: 1 }],
      },
    ]);
  });
  it('and how much wider it comes out, where the drawing states a width', () => {
    const width = fonts().outline('Gleis', 'Spline Sans').advance * 10;
    const body = `<text font-size="10" font-family="Unheard Of" textLength="${width / 1.25}" lengthAdjust="spacingAndGlyphs">Gleis</text>`;
    expect(fontUses(read(svg(body), 'x.svg'), fonts())[0]!.wider).toBeCloseTo(0.25, 6);
  });
});

describe('single-line lettering', () => {
  const f = fonts();
  it('has letters with marks, figures and the signs of drafting, all as open strokes', () => {
    const made = f.outline('Straße Łódź Ångström 0123 ° ± Ø × ² €', SINGLE_LINE);
    expect(made.missing).toEqual([]);
    expect(made.strokes).toBe(true);
    expect(f.outline('漢', SINGLE_LINE).missing).toEqual(['漢']);
    expect(strokes(f.outline('i', SINGLE_LINE).path)).toBe(2);
  });
  it('stands on the same line as high as the font it stands for', () => {
    const lines = f.single('H', 'Source Serif 4', 400, false, false);
    expect(boxOf(lines.path).minY).toBeCloseTo(0, 9);
    expect(boxOf(lines.path).maxY).toBeCloseTo(f.capital('Source Serif 4'), 9);
  });
  it('and as wide, when fitted', () => {
    const own = f.outline('Platform', 'Source Serif 4').advance;
    expect(f.single('Platform', 'Source Serif 4', 400, false, true).advance).toBeCloseTo(own, 9);
    expect(f.single('Platform', 'Source Serif 4', 400, false, false).advance).not.toBeCloseTo(own, 2);
  });
});

describe('compiled stroke fonts', () => {
  const bytes = (...parts: (string | number[])[]): Uint8Array =>
    Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p)));
  const u16 = (n: number): number[] => [n & 255, n >> 8];
  // Shape 0: capitals 6 high. Shape 65: up 6 (direction 4), right 4 (direction 0) without the pen, back down, then on.
  const shapes = [
    [0, [...'x'].map((c) => c.charCodeAt(0)).concat([0, 6, 2, 0, 0])],
    [65, [0, 0x64, 2, 0x40, 1, 0x6c, 2, 8, 2, 0, 0]],
    // A quarter of a turn of radius 3 from the right, counter-clockwise; then a half circle by its bulge.
    [66, [0, 10, 3, 0x02, 12, 0, 6, 127, 0]],
  ] as [number, number[]][];
  const font = (count = shapes.length): Uint8Array =>
    bytes(
      'Plain shapes V1.0\r\n\x1a',
      u16(0),
      u16(66),
      u16(count),
      ...shapes.map(([n, d]) => [...u16(n), ...u16(d.length)]),
      ...shapes.map(([, d]) => d),
    );
  const loaded = () => new FontBook([loadFont(font(), 'plan')]);

  it('draw strokes of the pen, on a grid that capitals measure', () => {
    const made = loaded().outline('A', 'plan');
    expect(made.strokes).toBe(true);
    const k = 0.7 / 6;
    expect(Array.from(made.path.data).map((v) => v / k)).toEqual(
      [0, 0, 0, 6, 4, 6, 4, 0].map((v) => expect.closeTo(v, 9)),
    );
    // The pen ends 2 to the right of its last stroke.
    expect(made.advance / k).toBeCloseTo(6, 9);
  });
  it('turn octants and bulges into true arcs', () => {
    const { path } = loaded().outline('B', 'plan');
    const k = 0.7 / 6;
    expect([...path.cmds]).toEqual([Cmd.Move, Cmd.Arc, Cmd.Arc]);
    expect(path.data[2]! / k).toBeCloseTo(3, 9);
    expect([path.data[7]! / k, path.data[8]! / k]).toEqual([expect.closeTo(-3, 9), expect.closeTo(3, 9)]);
    expect([path.data[14]! / k, path.data[15]! / k]).toEqual([expect.closeTo(-3, 9), expect.closeTo(9, 9)]);
    expect(path.data[9]! / k).toBeCloseTo(3, 9);
  });
  it('what a font lacks is missing, and a cut-off file is refused', () => {
    expect(loaded().outline('A漢', 'plan').missing).toEqual(['漢']);
    expect(() => loadFont(font().subarray(0, 24), 'plan')).toThrow(/cut off|no height/);
  });
  it('draw nothing without end', () => {
    const loop = bytes(
      'Plain shapes V1.0\r\n\x1a',
      u16(0),
      u16(65),
      u16(2),
      [...u16(0), ...u16(5)],
      [...u16(65), ...u16(4)],
      shapes[0]![1],
      [0, 7, 65, 0],
    );
    expect(new FontBook([loadFont(loop, 'x')]).outline('A', 'x').path.cmds.length).toBe(0);
  });
});

it('fonts that forbid embedding say so', () => {
  const made = loadFont(file('@scalaria/core/fonts/spline-sans-latin-400-normal.woff2'));
  expect(made.kind === 'outline' && [made.font.family, made.font.embedding, made.font.weight]).toEqual([
    'Spline Sans',
    'free',
    400,
  ]);
});

it('drawings without text ask for no font', () => {
  expect(fontUses(drawingOf([{ kind: 'line', start: [0, 0, 0], end: [1, 0, 0] } as never]), fonts())).toEqual([]);
});
