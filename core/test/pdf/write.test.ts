import { unzlibSync } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing, TargetGiven } from '../../src/index.js';
import {
  NO_DECISIONS,
  deliver,
  prepare,
  proofOf,
  readBack,
  readSource,
  settleUnit,
  targetFor,
} from '../../src/index.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { mmPerUnit } from '../../src/drawing/units.js';
import { LINE_WIDTHS_OF } from './looks.js';
import { generatedDrawing, richEntity } from '../generated.js';
import { DEMO, demoFile, drawingOf, fonts, read, risks, svg } from '../helpers.js';
import { fontsOf, hasPoppler, infoOf, laidOver, rasterOf, svgOf, textOf } from '../poppler.js';

const MM = 25.4 / 72;
const poppler = hasPoppler('nobody else reads the PDF files that are written');

async function written(drawing: Drawing, target: TargetGiven = {}, name = 'test') {
  const px = drawing.unit?.unit === 'px' ? { pxPerInch: 96 } : {};
  const intake = {
    ...NO_DECISIONS,
    layers: { mode: 'all' as const, names: [] },
    ...px,
    ...(drawing.unit ? {} : { unit: 'mm' as const }),
  };
  const prepared = prepare(drawing, intake, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, targetFor('pdf', target), name, fonts());
  const { proof, back } = proofOf(drawing, prepared, made, await readBack(made.bytes, made.name), fonts());
  return { made, proof, back: back!, prepared: prepared.drawing };
}
/** All that a file draws with, unpacked: the streams of its pages. */
const contentOf = (bytes: Uint8Array): string => {
  const text = Buffer.from(bytes).toString('latin1');
  return [...text.matchAll(/\/Length (\d+) >>\nstream\n/g)]
    .map((m) => unzlibSync(bytes.subarray(m.index + m[0].length, m.index + m[0].length + Number(m[1]))))
    .map((s) => Buffer.from(s).toString('latin1'))
    .filter((s) => / (m|l|re)\n/.test(s))
    .join('\n');
};
const plate = (): Drawing =>
  drawingOf([
    {
      kind: 'polyline',
      points: Float64Array.of(0, 0, 100, 0, 100, 60, 0, 60),
      dim: 2,
      elevation: 0,
      closed: true,
    } as never,
    { kind: 'circle', centre: [50, 30, 0], radius: 6 } as never,
    { kind: 'line', start: [0, -10, 0], end: [100, -10, 0], layer: 'BAR' } as never,
  ]);

describe('drawings of the demo job', () => {
  it.each(DEMO)('%s is written as a PDF and proven', async (name) => {
    const drawing = read(demoFile(name), name);
    const { proof } = await written(drawing, {}, name);
    expect(risks(proof)).toEqual([]);
  });
  it('a proof fails on another drawing, on another scale, and on a file cut off', async () => {
    const source = plate();
    const prepared = prepare(source, NO_DECISIONS, []);
    const made = deliver(prepared.drawing, targetFor('pdf'), 'a', fonts());
    const other = deliver(prepared.drawing, targetFor('pdf', { pageSize: 'paper', scale: 2 }), 'a', fonts());
    const verdict = async (bytes: Uint8Array): Promise<boolean> =>
      proofOf(source, prepared, made, await readBack(bytes, 'a.pdf'), fonts()).proof.holds;
    expect(await verdict(made.bytes)).toBe(true);
    expect(await verdict(other.bytes)).toBe(false);
    expect(await verdict(made.bytes.subarray(0, 40))).toBe(false);
  });
});

/** Numbers that vanish when they are moved: what they are numbers of is gone in any file. */
const vanishes = (v: unknown): boolean => {
  if (typeof v === 'number') return v !== 0 && Math.abs(v) < 1e-9;
  if (typeof v !== 'object' || v === null) return false;
  return (ArrayBuffer.isView(v) ? [...(v as Float64Array)] : Object.values(v)).some(vanishes);
};
/** A line without end that stands upright, or nearly so, is seen as a point. */
const isSeen = (e: { kind?: string; direction?: readonly number[] }): boolean =>
  !vanishes(e) && (e.kind !== 'ray' || Math.hypot(e.direction![0]!, e.direction![1]!) > 1e-3);

it('law: whatever is drawn comes back, proven', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(richEntity.filter(isSeen), { minLength: 1, maxLength: 6 }), async (list) => {
      const frame = {
        kind: 'polyline',
        layer: 'A',
        points: Float64Array.of(-90, -90, 90, 95),
        dim: 2,
        elevation: 0,
        closed: false,
      };
      const { proof } = await written(generatedDrawing([...list, frame]));
      expect(risks(proof)).toEqual([]);
    }),
    { numRuns: 40 },
  );
});

describe('the page', () => {
  it('is as large as the drawing with its margin, its corner the origin, at true size', async () => {
    const { made, back } = await written(plate());
    expect(back.page).toMatchObject({ x: 0, y: 0 });
    expect(back.page!.width * MM).toBeCloseTo(120, 4);
    expect(back.page!.height * MM).toBeCloseTo(90, 4);
    const box = boundsOf(back);
    expect([box.minX, box.minY, box.maxX, box.maxY].map((v) => v * MM)).toEqual(
      [10, 10, 110, 80].map((v) => expect.closeTo(v, 4)),
    );
    expect(made.ledger.find((r) => r.code === 'placed-on-page')!.args).toEqual({ x: 10, y: 20 });
  });
  it('paper at 1:50 shows 5000 mm as 100; what does not fit is refused with both sizes', async () => {
    const large = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [5000, 0, 0] } as never]);
    const { back } = await written(large, { pageSize: 'paper', scale: 50 });
    expect([back.page!.width, back.page!.height].map((v) => v * MM)).toEqual(
      [297, 210].map((v) => expect.closeTo(v, 3)),
    );
    expect(boundsOf(back).width * MM).toBeCloseTo(100, 4);
    await expect(written(large, { pageSize: 'paper', scale: 10 })).rejects.toThrow(/500 × 0 mm.*277 × 190 mm/);
  });
  it('fitted, it says at what scale, and that it is not to be measured', async () => {
    const { made, back } = await written(plate(), { pageSize: 'paper', fit: 'fitted', paper: 'a4' });
    // 277 of 100 mm across, 190 of 70 up: 2.7 and 2.714.
    expect(boundsOf(back).width * MM).toBeCloseTo((190 / 70) * 100, 3);
    expect(made.ledger.find((r) => r.code === 'page-fitted')!.reason).toContain('0.3684211: not to be measured');
  });
  it('longer than 5080 mm it counts in larger units, and says who will not see that', async () => {
    const { made, back, proof } = await written(
      drawingOf([{ kind: 'line', start: [0, 0, 0], end: [8000, 0, 0] } as never]),
    );
    expect(back.unit).toEqual({ unit: 'in', factor: 2 / 72 });
    expect(boundsOf(back).width * 2 * MM).toBeCloseTo(8000, 2);
    expect(made.ledger.map((r) => r.code)).toContain('pdf-larger-units');
    expect(risks(proof)).toEqual([]);
  });
  it('the same drawing gives the same bytes', async () => {
    const [a, b] = [await written(plate()), await written(plate())];
    expect(Buffer.compare(a.made.bytes, b.made.bytes)).toBe(0);
  });
});

describe('ink', () => {
  const art = svg(
    '<path d="M1 1h9v9z" fill="#c4512d"/><path d="M20 1h9v9z" fill="#fff" stroke="#00f"/>' +
      '<linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient><path d="M40 1h9v9z" fill="url(#g)"/>',
  );
  it('black only: no colour is said but black and white', async () => {
    const { made, proof } = await written(read(art, 'a.svg'), { ink: 'black' });
    const said = contentOf(made.bytes).match(/[^\n]* (rg|RG|g|G|k|K|sc|SC|scn|SCN)$/gm)!;
    expect(new Set(said.filter((s) => !s.includes('/Pattern')))).toEqual(new Set(['0 g', '1 g', '0 G']));
    // The gradient leads from black to black.
    expect(Buffer.from(made.bytes).toString('latin1')).toMatch(/\/C0 \[0 0 0\] \/C1 \[0 0 0\]/);
    expect(risks(proof)).toEqual([]);
  });
  it('one width for all lines, and colours by a chart', async () => {
    const { back, proof } = await written(read(art, 'a.svg'), {
      hairline: 0.1,
      colours: [{ from: '#0000ff', to: '#ff0000' }],
    });
    expect(LINE_WIDTHS_OF(back)).toEqual([expect.closeTo(0.1, 4)]);
    expect(back.entities.map((e) => e.look.stroke)).toContainEqual({ kind: 'rgb', rgb: 0xff0000 });
    expect(risks(proof)).toEqual([]);
  });
});

describe.skipIf(!poppler)('as another reader sees it', () => {
  it('page, circle and bar are as large as they are, within 0.01 mm', async () => {
    const { made } = await written(plate());
    const [, w, h] = /MediaBox:\s+0\.00\s+0\.00\s+([\d.]+)\s+([\d.]+)/.exec(infoOf(made.bytes))!;
    expect([Number(w) * MM, Number(h) * MM]).toEqual([expect.closeTo(120, 2), expect.closeTo(90, 2)]);
    // Poppler's picture of the page, in its own points.
    const seen = read(Buffer.from(svgOf(made.bytes)), 'page.svg');
    const boxes = seen.entities.map((e) => {
      const box = boundsOf({ ...seen, entities: [e] });
      return [box.width, box.height].map((v) => v * mmPerUnit(seen.unit)!);
    });
    expect(boxes).toContainEqual([expect.closeTo(100, 2), expect.closeTo(60, 2)]);
    expect(boxes).toContainEqual([expect.closeTo(12, 2), expect.closeTo(12, 2)]);
    expect(boxes).toContainEqual([expect.closeTo(100, 2), expect.closeTo(0, 2)]);
  });
  it('text is text, in fonts that the file holds in part', async () => {
    const { made } = await written(
      read(
        svg('<text x="5" y="20" font-family="Spline Sans" font-weight="700" font-size="8">Kestrel Row, 12 °C</text>'),
        'a.svg',
      ),
    );
    expect(textOf(made.bytes)).toContain('Kestrel Row, 12 °C');
    expect(fontsOf(made.bytes)).toMatch(/AAAAAA\+SplineSans-Bold\s+CID Type 0C\s+Identity-H\s+yes yes yes/);
  });
  it('dimensions at 1:50 say how long things are, not how long they are on the paper', async () => {
    const { made, proof } = await written(read(demoFile('kestrel-row-section.dxf'), 'a.dxf'), {
      pageSize: 'paper',
      scale: 50,
    });
    expect(risks(proof)).toEqual([]);
    const words = textOf(made.bytes).split(/\s+/);
    for (const said of ['2600', '2470', '400', 'R30']) expect(words, said).toContain(said);
    for (const wrong of ['52', '49.4', '49']) expect(words, wrong).not.toContain(wrong);
  });
  it('letters as outlines leave no font', async () => {
    const { made } = await written(read(svg('<text x="5" y="20" font-size="8">Kestrel</text>'), 'a.svg'), {
      text: 'outlines',
    });
    expect(textOf(made.bytes).trim()).toBe('');
    expect(fontsOf(made.bytes).trim().split('\n')).toHaveLength(2);
  });
  it.each(['kestrel-row-wayfinding-panel.svg', 'kestrel-row-section.dxf', 'kestrel-row-site-plan.dwg'])(
    '%s: what we read of the page, drawn again, is the page that poppler draws',
    async (name) => {
      const { made } = await written(
        read(demoFile(name), name),
        { pageSize: 'paper', fit: 'fitted', text: 'outlines' },
        name,
      );
      const source = await readSource(made.bytes, 'a.pdf');
      const again = deliver(
        prepare(source.drawing, NO_DECISIONS, []).drawing,
        targetFor('pdf', { margin: 0 }),
        'again',
        fonts(),
      );
      expect(settleUnit(source.drawing, NO_DECISIONS)).not.toBeNull();
      const [a, b] = [rasterOf(made.bytes, 150), rasterOf(again.bytes, 150)];
      // The second page is as large as what is drawn: it is laid over where the first has it.
      const box = boundsOf(source.drawing);
      const dx = Math.round((box.minX / 72) * 150);
      const dy = Math.round(((source.drawing.page!.height - box.maxY) / 72) * 150);
      const { differs, inked } = laidOver(a, b, dx, dy);
      expect(inked).toBeGreaterThan(10_000);
      expect(differs / (a.width * a.height)).toBeLessThan(0.005);
    },
  );
});
