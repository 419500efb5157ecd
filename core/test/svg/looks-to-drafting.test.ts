import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { DEFAULT_TARGETS, NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { meanOpacity } from '../../src/drawing/appearance.js';
import { linesOf } from '../../src/text/layout.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { fonts } from '../helpers.js';

const svg = (inside: string): Uint8Array =>
  new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${inside}</svg>`,
  );
function as(version: string, inside: string, format: 'dxf' | 'dwg' = 'dxf') {
  const prepared = prepare(readDrawing(svg(inside), 'a.svg').drawing, NO_DECISIONS, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, { ...DEFAULT_TARGETS[format], version }, 'a.svg', fonts());
  return { made, back: readDrawing(made.bytes, `a.${format}`).drawing };
}
const of = <K extends Entity['kind']>(d: Drawing, kind: K): Extract<Entity, { kind: K }>[] =>
  d.entities.filter((e): e is Extract<Entity, { kind: K }> => e.kind === kind);

describe('how clear a thing is goes along', () => {
  // A step of transparency is 1/255.
  const opacityIn = (inside: string, format: 'dxf' | 'dwg'): number[] => {
    const { back } = as('2010', inside, format);
    return [...of(back, 'hatch'), ...of(back, 'polyline')].map((e) => e.look.opacity);
  };

  it.each<[string, string, number]>([
    ['of the fill', '<rect width="40" height="40" fill="#f00" fill-opacity=".3"/>', 0.3],
    ['of the colour', '<rect width="40" height="40" fill="rgba(255,0,0,.6)"/>', 0.6],
    ['of the whole and the fill', '<rect width="40" height="40" fill="#f00" opacity=".5" fill-opacity=".5"/>', 0.25],
    [
      'of a gradient from full to clear',
      '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></linearGradient><rect width="90" height="45" fill="url(#g)"/>',
      0.5,
    ],
  ])('%s', (_, inside, expected) => {
    const found = [...opacityIn(inside, 'dxf'), ...opacityIn(inside, 'dwg')];
    expect(found.length).toBe(4);
    for (const o of found) expect(Math.abs(o - expected)).toBeLessThanOrEqual(0.5 / 255 + 1e-9);
  });

  it('of a stroke, and not of what lies beside it', () => {
    const { back } = as(
      '2010',
      '<path d="M60 10h30v30" fill="none" stroke="#0f0" stroke-opacity=".5"/><path d="M0 0h9v9" fill="none" stroke="#0f0"/>',
    );
    expect(of(back, 'polyline').map((e) => Math.round(e.look.opacity * 100))).toEqual([50, 100]);
  });

  it('before 2004, where nothing can be clear, a row says so', () => {
    const { made } = as('2000', '<rect width="40" height="40" fill="#f00" fill-opacity=".3"/>');
    expect(made.ledger.filter((r) => r.code === 'transparency-needs-2004').map((r) => r.action)).toEqual(['dropped']);
  });

  it('a gradient is as opaque on average as it is along the way', () => {
    const stop = fc.record({
      offset: fc.double({ min: 0, max: 1, noNaN: true }),
      rgb: fc.constant(0),
      opacity: fc.double({ min: 0, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(stop, { minLength: 1, maxLength: 6 }), (stops) => {
        const sorted = [...stops].sort((a, b) => a.offset - b.offset);
        const at = (t: number): number => {
          const i = sorted.findIndex((s) => s.offset >= t);
          if (i === 0) return sorted[0]!.opacity;
          if (i < 0) return sorted[sorted.length - 1]!.opacity;
          const [a, b] = [sorted[i - 1]!, sorted[i]!];
          return b.offset === a.offset
            ? b.opacity
            : a.opacity + ((b.opacity - a.opacity) * (t - a.offset)) / (b.offset - a.offset);
        };
        let sum = 0;
        for (let k = 0; k < 4000; k++) sum += at((k + 0.5) / 4000) / 4000;
        const mean = meanOpacity({ kind: 'gradient', form: 'linear', stops, rgb: 0, id: 'g' });
        expect(Math.abs(mean - sum)).toBeLessThan(2e-3);
      }),
      { numRuns: 60 },
    );
  });
});

describe('the outline of what is only filled', () => {
  it('has the thinnest pen, whatever pen the shape does not use', () => {
    const { made, back } = as('2010', '<rect width="40" height="40" fill="#f00" stroke-width="26"/>');
    expect(of(back, 'polyline').map((e) => e.look.width)).toEqual([{ kind: 'paper', mm: 0 }]);
    // No pen was approximated, since none was used.
    expect(made.ledger.some((r) => r.code === 'width-to-nearest-weight')).toBe(false);
    const drawn = as('2010', '<rect width="40" height="40" fill="#f00" stroke="#00f" stroke-width="0.5"/>').back;
    expect(of(drawn, 'polyline').map((e) => e.look.width)).toEqual([{ kind: 'paper', mm: 0.5 }]);
  });
});

describe('how heavy and slanted letters are', () => {
  const text =
    '<g font-family="Spline Sans" font-size="10"><text y="20">plain</text><text y="40" font-weight="700">bold</text>' +
    '<text y="60" font-style="italic">slanted</text><text y="80" font-weight="bold" font-style="italic">both</text></g>';
  const faces = (d: Drawing): unknown[] =>
    of(d, 'text').map((e) => {
      const [line] = linesOf(e, d, fonts());
      return [e.text, line!.family, line!.weight, line!.italic];
    });
  const expected = [
    ['plain', 'Spline Sans', 400, false],
    ['bold', 'Spline Sans', 700, false],
    ['slanted', 'Spline Sans', 400, true],
    ['both', 'Spline Sans', 700, true],
  ];
  it.each([
    ['dxf', '2010'],
    ['dxf', '2000'],
    ['dwg', '2010'],
    ['dwg', '2000'],
    ['dwg', 'R14'],
  ] as const)('goes along in the text style of a %s of %s', (format, version) => {
    expect(faces(as(version, text, format).back)).toEqual(expected);
  });
  it('and back to SVG', () => {
    const { back } = as('2010', text);
    const made = deliver(prepare(back, NO_DECISIONS, []).drawing, DEFAULT_TARGETS.svg, 'a.dxf', fonts());
    expect(faces(readDrawing(made.bytes, 'a.svg').drawing)).toEqual(expected);
  });
  it('is seen so by an independent library', () => {
    if (!hasEzdxf('nobody else looks at the faces of text styles')) return;
    const file = join(mkdtempSync(join(tmpdir(), 'faces-')), 'a.dxf');
    writeFileSync(file, as('2010', text).made.bytes);
    const seen = JSON.parse(runEzdxf('looks.py', file)) as {
      faces: Record<string, unknown>;
      texts: [string, string][];
      errors: number;
    };
    expect(seen.errors).toBe(0);
    expect(Object.fromEntries(seen.texts.map(([said, style]) => [said, seen.faces[style]]))).toEqual({
      // The numbers that real files hold for the four faces.
      plain: ['Spline Sans', 34],
      bold: ['Spline Sans', 33554466],
      slanted: ['Spline Sans', 16777250],
      both: ['Spline Sans', 50331682],
    });
  });
  it('is told where no version can say it: in R12, and between regular and bold', () => {
    expect(
      as('R12', text)
        .made.ledger.filter((r) => r.code === 'font-faces-need-r13')
        .map((r) => r.count),
    ).toEqual([3]);
    const light = as('2010', '<text y="20" font-family="Spline Sans" font-weight="300">light</text>').made;
    expect(light.ledger.some((r) => r.code === 'font-weights-to-nearest')).toBe(true);
    expect(as('2010', text).made.ledger.some((r) => r.code === 'font-weights-to-nearest')).toBe(false);
  });
});

describe('lines wider than the heaviest weight', () => {
  const wide =
    '<g fill="none" stroke="#00f"><line x1="10" y1="10" x2="90" y2="10" stroke-width="6"/>' +
    '<path d="M10 30h40v20" stroke-width="3.5"/><path d="M10 70h40" stroke-width="2"/></g>';
  it.each([['dxf'], ['dwg']] as const)('have the width of a polyline in a %s', (format) => {
    const { back, made } = as('2010', wide, format);
    const widths = of(back, 'polyline').map((e) => [...new Set(e.widths ?? [0])]);
    expect(widths).toEqual([[6], [3.5], [0]]);
    expect(made.ledger.filter((r) => r.code === 'wide-lines-with-width').map((r) => r.count)).toEqual([2]);
  });
  it('end flat and turn in sharp corners, which is told where they did not', () => {
    const told = (d: string, more: string): boolean =>
      as('2010', `<path d="${d}" fill="none" stroke="#00f" stroke-width="6" ${more}/>`).made.ledger.some(
        (r) => r.code === 'wide-lines-end-flat',
      );
    expect(told('M10 30h40', 'stroke-linecap="round"')).toBe(true);
    expect(told('M10 30h40v20', 'stroke-linejoin="round"')).toBe(true);
    expect(told('M10 30h40v20z', 'stroke-linecap="round"')).toBe(false);
    expect(told('M10 30h40', 'stroke-linejoin="round"')).toBe(false);
  });
  it('are as wide for an independent library', () => {
    if (!hasEzdxf('nobody else looks at the widths of polylines')) return;
    const file = join(mkdtempSync(join(tmpdir(), 'widths-')), 'a.dxf');
    writeFileSync(file, as('2010', wide).made.bytes);
    const seen = JSON.parse(runEzdxf('looks.py', file)) as { widths: number[]; errors: number };
    expect(seen).toMatchObject({ widths: [6, 3.5, 0], errors: 0 });
  });
  it('come back to SVG as wide', () => {
    const { back } = as('2010', wide);
    const made = deliver(prepare(back, NO_DECISIONS, []).drawing, DEFAULT_TARGETS.svg, 'a.dxf', fonts());
    const again = readDrawing(made.bytes, 'a.svg').drawing;
    expect(again.entities.map((e) => e.look.width)).toEqual([6, 3.5, 2].map((value) => ({ kind: 'drawing', value })));
    expect(made.ledger.some((r) => r.code === 'polyline-widths-not-in-svg')).toBe(false);
  });
  it('are as wide as all others where one width is asked for', () => {
    const { back } = as('2010', wide);
    const target = targetFor('svg', { hairline: 0.1 });
    const made = deliver(prepare(back, NO_DECISIONS, []).drawing, target, 'a.dxf', fonts());
    const again = readDrawing(made.bytes, 'a.svg').drawing;
    expect(again.entities.map((e) => e.look.width)).toEqual(
      [0.1, 0.1, 0.1].map((value) => ({ kind: 'drawing', value })),
    );
  });
  it('are lost, and told to be, where only a weight can say it', () => {
    const { made } = as('2010', '<circle cx="50" cy="50" r="30" fill="none" stroke="#00f" stroke-width="6"/>');
    const row = made.ledger.find((r) => r.code === 'width-beyond-weights');
    expect(row).toMatchObject({ action: 'dropped', count: 1, deviation: { value: 3.89, unit: 'mm' } });
  });
});
