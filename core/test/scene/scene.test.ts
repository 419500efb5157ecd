import { describe, expect, it } from 'vitest';
import {
  FOREGROUND_ALPHA,
  SNAP_KINDS,
  THIN_ALPHA,
  snapPointsOf,
  Stopped,
  buildScene,
  previewSvg,
  readDrawing,
  takeIn,
  NO_DECISIONS,
} from '../../src/index.js';
import { sketchPath } from '../../src/steps/example.js';
import { DEMO, demoFile, drawingOf, dxf, fonts, read, svg } from '../helpers.js';

const scene = (d: Parameters<typeof buildScene>[0]) => buildScene(d, fonts());

describe('a scene', () => {
  it('is relative to its middle, so that far drawings keep their detail in single precision', () => {
    const s = scene(drawingOf([{ kind: 'line', start: [5e6, 5e6, 0], end: [5e6 + 0.001, 5e6, 0] } as never]));
    const l = s.layers[0]!.lines;
    expect(l[3]! - l[0]!).toBeCloseTo(0.001, 6);
    expect(s.bounds).toEqual({ minX: 5e6, minY: 5e6, maxX: 5e6 + 0.001, maxY: 5e6 });
  });
  it('gives each entity a depth above the one before', () => {
    const s = scene(drawingOf([0, 1, 2].map((i) => ({ kind: 'line', start: [0, i, 0], end: [1, i, 0] }) as never)));
    const z = [2, 8, 14].map((i) => s.layers[0]!.lines[i]!);
    expect(z[0]!).toBeLessThan(z[1]!);
    expect(z[1]!).toBeLessThan(z[2]!);
  });
  it('marks the foreground colour and keeps all others', () => {
    const d = read(
      dxf([0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 0, 0, 'LINE', 8, '0', 62, 1, 10, 0, 20, 0, 11, 1, 21, 0]),
    );
    const c = scene(d).layers[0]!.lineColours;
    expect(Array.from(c.slice(0, 4))).toEqual([0, 0, 0, FOREGROUND_ALPHA]);
    expect(Array.from(c.slice(8, 12))).toEqual([255, 0, 0, 255]);
  });
  it('tells letters and wide lines of a drafting drawing from fills, so that they are kept legible as lines are', () => {
    const alphas = (d: Parameters<typeof buildScene>[0]): Set<number> =>
      new Set(scene(d).layers.flatMap((l) => Array.from(l.triangleColours).filter((_, i) => i % 4 === 3)));
    const TEXT = [0, 'TEXT', 8, '0', 62, 5, 10, 0, 20, 0, 40, 2, 1, 'Kestrel'];
    const WIDE = [0, 'LWPOLYLINE', 8, '0', 62, 5, 90, 2, 70, 0, 43, 1, 10, 0, 20, 9, 10, 9, 20, 9];
    const SOLID = [0, 'SOLID', 8, '0', 62, 5, 10, 0, 20, 0, 11, 9, 21, 0, 12, 0, 22, 9, 13, 9, 23, 9];
    expect(alphas(read(dxf(TEXT)))).toEqual(new Set([THIN_ALPHA]));
    expect(alphas(read(dxf(WIDE)))).toEqual(new Set([THIN_ALPHA]));
    expect(alphas(read(dxf(SOLID)))).toEqual(new Set([255]));
    // In an illustration letters often stand on what is filled: they keep their colour.
    expect(alphas(read(svg('<text x="5" y="20" font-size="9" fill="#00f">Kestrel</text>'), 'x.svg'))).toEqual(
      new Set([255]),
    );
  });
  it('fills with holes, draws text as areas, leaves out what is hidden by itself', () => {
    const s = scene(
      read(
        svg('<path fill-rule="evenodd" d="M0 0H10V10H0ZM2 2H8V8H2Z"/><path visibility="hidden" d="M0 0H99"/>'),
        'x.svg',
      ),
    );
    const t = s.layers[0]!.triangles;
    let area = 0;
    for (let i = 0; i < t.length; i += 9)
      area +=
        Math.abs((t[i + 3]! - t[i]!) * (t[i + 7]! - t[i + 1]!) - (t[i + 6]! - t[i]!) * (t[i + 4]! - t[i + 1]!)) / 2;
    expect(area).toBeCloseTo(64, 3);
    expect(scene(read(svg('<text y="9">Kestrel</text>'), 'x.svg')).triangles).toBeGreaterThan(50);
  });
  it('offers ends, middles, centres and quarter points to snap to', () => {
    const found = snapPointsOf(
      drawingOf([
        { kind: 'line', start: [0, 0, 0], end: [4, 0, 0] } as never,
        { kind: 'circle', centre: [10, 0, 0], radius: 1 } as never,
      ]),
    );
    const round = (v: number): number => Math.round(v * 1e6) / 1e6 + 0;
    const points = Array.from(found.kinds).map(
      (k, i) => `${SNAP_KINDS[k]} ${round(found.points[2 * i]!)} ${round(found.points[2 * i + 1]!)}`,
    );
    expect(points.sort()).toEqual([
      'centre 10 0',
      'end 0 0',
      'end 4 0',
      'middle 2 0',
      'quarter point 10 -1',
      'quarter point 10 1',
      'quarter point 11 0',
      'quarter point 9 0',
    ]);
  });
  it('tells the bounds of what is visible from those of everything', () => {
    const { drawing } = readDrawing(demoFile(DEMO[0]!), DEMO[0]!);
    const s = scene(drawing);
    expect(s.bounds!.maxX - s.bounds!.minX).toBe(10000);
    expect(s.visibleBounds!.maxX - s.visibleBounds!.minX).toBe(9000);
  });
  it('can be stopped', () => {
    const many = drawingOf(
      Array.from({ length: 5000 }, (_, i) => ({ kind: 'line', start: [i, 0, 0], end: [i, 1, 0] }) as never),
    );
    expect(() => buildScene(many, fonts(), { work: { signal: { aborted: true } } })).toThrow(Stopped);
  });
});

it('a picture is made of our own numbers and colours, and nothing of the source’s markup', () => {
  const d = takeIn(
    read(svg('<g id="&lt;script&gt;"><path id="x&quot;onload=1" d="M0 0H10V10Z" fill="red"/></g>'), 'x.svg'),
    NO_DECISIONS,
  ).drawing;
  const picture = previewSvg(d);
  expect(picture).toMatch(
    /^<svg [^<]*><g [^<]*><path d="[ML\d. ]+" fill="#ff0000" stroke="none" fill-rule="evenodd"\/><\/g><\/svg>$/,
  );
  expect(previewSvg(drawingOf([]))).not.toContain('path');
});

describe('a pattern in a small picture', () => {
  // 40 by 24 in 320 by 200 with 12 around: 22/3 of the picture for a unit, 13.3 of it left of the drawing.
  const hatched = (step: number): string =>
    previewSvg(
      drawingOf([
        {
          kind: 'hatch',
          loops: [{ path: sketchPath('M0 0H40V24H0Z'), flags: 3 }],
          solid: false,
          pattern: 'LINES',
          elevation: 0,
          angle: 0,
          scale: 1,
          lines: [{ angle: 0, base: [0, 3], step: [0, step], dashes: [] }],
        } as never,
      ]),
    );
  it('is drawn by its lines', () => {
    const across = [...hatched(6).matchAll(/M([\d.]+) ([\d.]+)L([\d.]+) ([\d.]+)/g)].map((m) => m.slice(1).map(Number));
    expect(across.map(([, y]) => y).sort((a, b) => a! - b!)).toEqual([34, 78, 122, 166]);
    for (const [x0, y0, x1, y1] of across) {
      expect([x0, x1].sort((a, b) => a! - b!)).toEqual([13.3, 306.7]);
      expect(y0).toBe(y1);
    }
    expect(hatched(6)).toMatch(/fill="none" stroke="#[0-9a-f]{6}"/);
  });
  it('is its outline where its lines are too many to be told apart', () => {
    const picture = hatched(0.001);
    expect(picture.match(/L/g)).toHaveLength(4);
    expect(picture).toContain('13.3 188.0L306.7 188.0L306.7 12.0L13.3 12.0');
    expect(picture).toMatch(/fill="none" stroke="#[0-9a-f]{6}"/);
  });
});
