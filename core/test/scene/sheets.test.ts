import { describe, expect, it } from 'vitest';
import { buildScene, previewSvg, readDrawing } from '../../src/index.js';
import { PAPER_ALPHA } from '../../src/scene/scene.js';
import { clippedChord } from '../../src/geometry/clip-chord.js';
import { clippedTriangles } from '../../src/scene/buffers.js';
import { Box2 } from '../../src/geometry/box.js';
import { demoFile, drawingOf, fonts } from '../helpers.js';

const section = () => readDrawing(demoFile('kestrel-row-section.dxf'), 'a.dxf').drawing;
const SHEET = 'Section 1-50';
type Built = ReturnType<typeof buildScene>;
/** Chords of a layer in the drawing's coordinates. */
function chords(s: Built, layer: string): number[][] {
  const l = s.layers.find((x) => x.name === layer)!.lines;
  const out: number[][] = [];
  for (let i = 0; i < l.length; i += 6)
    out.push([l[i]! + s.origin[0], l[i + 1]! + s.origin[1], l[i + 3]! + s.origin[0], l[i + 4]! + s.origin[1]]);
  return out;
}

describe('a sheet', () => {
  const s = buildScene(section(), fonts(), { sheet: SHEET });
  it('is as large as its paper', () => expect(s.bounds).toEqual({ minX: 0, minY: 0, maxX: 420, maxY: 297 }));
  it('shows model space through its windows, at their scale and in their place', () => {
    // The first window: 240 high for 5200 of model space, its middle at 125, 150 over 450, 1000 of the model.
    const k = 240 / 5200;
    const [x0, y0] = [125 + (-40 - 450) * k, 150 + (-120 - 1000) * k];
    const found = chords(s, 'STEEL').some(([a, b]) => Math.abs(a! - x0) < 1e-4 && Math.abs(b! - y0) < 1e-4);
    expect(found).toBe(true);
  });
  it('and so does its small picture, cut to the windows', () => {
    // As large as the paper, with the margin of 12 about it: a millimetre is a unit. The same corner as above:
    // 125 − 490 · 240/5200 = 102.38 and 150 − 1120 · 240/5200 = 98.31, counted downwards 321 − 12 − 98.31 = 210.69.
    const picture = previewSvg(section(), 444, 321, SHEET);
    expect(picture).toMatch(/[ML]114\.4 210\.7/);
    const far = [...picture.matchAll(/[ML]([-\d.]+) ([-\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])]);
    expect(far.every(([x, y]) => x! >= 12 && x! <= 432 && y! >= 12 && y! <= 309)).toBe(true);
    expect(previewSvg(section(), 444, 321).length).toBeGreaterThan(1000);
  });
  it('cuts off what lies outside a window', () => {
    for (const [a, b, c, d] of chords(s, 'ROOF')) {
      const inFirst =
        [a!, c!].every((x) => x >= 20 - 1e-4 && x <= 230 + 1e-4) &&
        [b!, d!].every((y) => y >= 30 - 1e-4 && y <= 270 + 1e-4);
      const inSecond =
        [a!, c!].every((x) => x >= 255 - 1e-4 && x <= 395 + 1e-4) &&
        [b!, d!].every((y) => y >= 120 - 1e-4 && y <= 240 + 1e-4);
      expect(inFirst || inSecond).toBe(true);
    }
  });
  it('leaves out what is frozen in one window, and shows it in the other', () => {
    const right = chords(s, 'DIMENSIONS').filter(([a]) => a! > 250);
    expect(right).toEqual([]);
    expect(chords(s, 'DIMENSIONS').length).toBeGreaterThan(5);
  });
  it('model space knows nothing of the sheet', () => {
    const model = buildScene(section(), fonts());
    expect(model.layers.find((l) => l.name === 'FRAME')!.lines.length).toBe(0);
    expect(model.bounds!.maxX).toBeGreaterThan(2000);
  });
});

describe('what is drawn', () => {
  it('dashes of the linetype of the layer, scaled by the drawing', () => {
    const axis = chords(buildScene(section(), fonts()), 'AXES').filter(
      ([a, , c]) => Math.abs(a!) < 1e-3 && Math.abs(c!) < 1e-3,
    );
    // 4100 long, in rounds of 360 with a dash of 240 and a dot: more than ten dashes, and none longer than 240 but at the ends.
    const lengths = axis.map(([, b, , d]) => Math.abs(d! - b!));
    expect(lengths.length).toBeGreaterThan(20);
    expect(Math.max(...lengths)).toBeLessThan(301);
    expect(lengths.filter((l) => l < 1e-3).length).toBe(11);
  });
  it('a cover is an area of bare ground over what came before', () => {
    const d = drawingOf([
      { kind: 'line', start: [0, 0, 0], end: [9, 9, 0] } as never,
      { kind: 'image', cover: true, at: [0, 0, 0], u: [5, 0, 0], v: [0, 5, 0], pixels: [1, 1] } as never,
    ]);
    const [l] = buildScene(d, fonts()).layers;
    expect(l!.triangleColours[3]).toBe(PAPER_ALPHA);
    expect(l!.triangles[2]).toBeGreaterThan(l!.lines[2]!);
  });
  it('a picture is its frame with its diagonals and its name', () => {
    const d = drawingOf([
      {
        kind: 'image',
        cover: false,
        at: [0, 0, 0],
        u: [1, 0, 0],
        v: [0, 1, 0],
        pixels: [8, 6],
        file: 'plans\\site.png',
      } as never,
    ]);
    const [l] = buildScene(d, fonts()).layers;
    expect(l!.lines.length / 6).toBe(4 + 2);
    expect(l!.triangles.length).toBeGreaterThan(90);
  });
  it('a polyline with a width covers its length times its width', () => {
    const d = drawingOf([
      {
        kind: 'polyline',
        points: Float64Array.of(0, 0, 10, 0),
        dim: 2,
        elevation: 0,
        closed: false,
        widths: Float64Array.of(2, 4, 0, 0),
      } as never,
    ]);
    const t = buildScene(d, fonts()).layers[0]!.triangles;
    let area = 0;
    for (let i = 0; i < t.length; i += 9)
      area +=
        Math.abs((t[i + 3]! - t[i]!) * (t[i + 7]! - t[i + 1]!) - (t[i + 6]! - t[i]!) * (t[i + 4]! - t[i + 1]!)) / 2;
    expect(area).toBeCloseTo(30, 5);
  });
  it('a line without end as far as the drawing reaches', () => {
    const d = drawingOf([
      { kind: 'circle', centre: [0, 0, 0], radius: 10 } as never,
      { kind: 'ray', at: [0, 5, 0], direction: [1, 0, 0], both: false } as never,
    ]);
    expect(chords(buildScene(d, fonts()), 'A').some(([a, b, c, e]) => a === 0 && b === 5 && c === 10 && e === 5)).toBe(
      true,
    );
  });
});

describe('cutting to a window', () => {
  const box = Box2.of(0, 0, 10, 10);
  it('chords: through, inside, outside', () => {
    expect(clippedChord(box, -5, 5, 15, 5)).toEqual([0, 5, 10, 5]);
    expect(clippedChord(box, 1, 1, 2, 2)).toEqual([1, 1, 2, 2]);
    expect(clippedChord(box, -5, 5, -1, 5)).toBeNull();
    expect(clippedChord(box, 5, -5, 5, 20)).toEqual([5, 0, 5, 10]);
  });
  it('triangles keep the area that lies inside', () => {
    const area = (t: Float64Array): number => {
      let sum = 0;
      for (let i = 0; i < t.length; i += 6)
        sum +=
          Math.abs((t[i + 2]! - t[i]!) * (t[i + 5]! - t[i + 1]!) - (t[i + 4]! - t[i]!) * (t[i + 3]! - t[i + 1]!)) / 2;
      return sum;
    };
    expect(area(clippedTriangles(box, Float64Array.of(-100, -100, 300, -100, -100, 300)))).toBeCloseTo(100, 9);
    expect(area(clippedTriangles(box, Float64Array.of(5, 5, 15, 5, 5, 15)))).toBeCloseTo(25, 9);
    expect(clippedTriangles(box, Float64Array.of(20, 20, 30, 20, 20, 30)).length).toBe(0);
  });
});
