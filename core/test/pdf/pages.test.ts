import { describe, expect, it } from 'vitest';
import type { Drawing, TargetGiven } from '../../src/index.js';
import { NO_DECISIONS, deliver, prepare, proofOf, readBack, readSource, targetFor } from '../../src/index.js';
import { DRAFTING_DEFAULT } from '../../src/drawing/appearance.js';
import { boundsOf } from '../../src/drawing/bounds.js';
import { mmPerUnit } from '../../src/drawing/units.js';
import { columnName, tiling } from '../../src/formats/paged/plan-pages.js';
import { demoFile, drawingOf, fonts, read, risks } from '../helpers.js';
import { hasPoppler, infoOf, rasterOf, svgOf, textOf } from '../poppler.js';

const poppler = hasPoppler('nobody else looks at tiles and sheets');

async function written(drawing: Drawing, target: TargetGiven) {
  const prepared = prepare(drawing, { ...NO_DECISIONS, ...(drawing.unit ? {} : { unit: 'mm' as const }) }, [], {
    fonts: fonts(),
  });
  const made = deliver(prepared.drawing, targetFor('pdf', target), 'test', fonts());
  const { proof } = proofOf(drawing, prepared, made, await readBack(made.bytes, made.name), fonts());
  return { made, proof, codes: made.ledger.map((r) => r.code) };
}
const page = (bytes: Uint8Array, n: number): Promise<Drawing> =>
  readSource(bytes, 'a.pdf', { page: n }).then((r) => r.drawing);
const MM = 25.4 / 72;
/** A grid of lines every 100 over 1200 × 800, so that each tile shows something. */
const grid = (): Drawing =>
  drawingOf([
    ...Array.from(
      { length: 13 },
      (_, i) => ({ kind: 'line', start: [100 * i, 0, 0], end: [100 * i, 800, 0] }) as never,
    ),
    ...Array.from(
      { length: 9 },
      (_, i) => ({ kind: 'line', start: [0, 100 * i, 0], end: [1200, 100 * i, 0] }) as never,
    ),
  ]);

describe('how many tiles', () => {
  it('1200 × 800 on 277 × 190 that overlap by 10: 5 × 5, the last column 132 wide, the last row 80 high', () => {
    const t = tiling([1200, 800], [277, 190], 10);
    expect([t.columns, t.rows]).toEqual([5, 5]);
    expect([1200 - t.at(4, 4)[0], 800 - t.at(4, 4)[1]]).toEqual([132, 80]);
  });
  it('what fits just so takes one, and a hair more takes two', () => {
    expect(tiling([277, 190], [277, 190], 10)).toMatchObject({ columns: 1, rows: 1 });
    expect(tiling([277.01, 190], [277, 190], 10)).toMatchObject({ columns: 2, rows: 1 });
    // Two of 277 that share 10 reach 544.
    expect(tiling([544, 190], [277, 190], 10)).toMatchObject({ columns: 2 });
  });
  it('tiles smaller than their overlap are refused', () => {
    expect(() => tiling([100, 100], [10, 50], 10)).toThrow(/cannot overlap by 10 mm/);
  });
  it('columns are called A to Z, then AA', () => {
    expect([0, 25, 26, 51, 52, 701, 702].map(columnName)).toEqual(['A', 'Z', 'AA', 'AZ', 'BA', 'ZZ', 'AAA']);
  });
});

describe('tiles', () => {
  it('25 of them, each at true size with its name, after one that shows how they lie; proven', async () => {
    const { made, proof } = await written(grid(), { pageSize: 'tiles', turned: 'across' });
    expect(risks(proof)).toEqual([]);
    expect(made.ledger.find((r) => r.code === 'pages-in-tiles')!.args).toEqual({ columns: 5, rows: 5, pages: 25 });
    const first = await page(made.bytes, 1);
    expect(first.pageOf).toEqual({ number: 1, of: 26 });
    const names = (d: Drawing): string[] => d.entities.flatMap((e) => (e.kind === 'text' ? [e.text] : []));
    expect(names(first)).toHaveLength(25);
    // The upper left tile, B2 beside and below it.
    expect(names(await page(made.bytes, 2))).toEqual(['A1']);
    const b2 = await page(made.bytes, 2 + 5 + 1);
    expect(names(b2)).toEqual(['B2']);
    // Lines 100 apart in the drawing are 100 mm apart on the tile: it shows 267 to 544, where 300, 400 and 500 lie.
    const upright = b2.entities.flatMap((e) =>
      e.kind === 'line' && e.layer === 'A' && Math.abs(e.start[0] - e.end[0]) < 1e-3 ? [e.start[0] * MM] : [],
    );
    expect(upright.map((x) => Math.round((x - 10 + 267) * 1000) / 1000)).toEqual([300, 400, 500]);
  });
  it('paper lies so that the fewest are needed', async () => {
    // 1200 × 800 upright: ⌈1190/180⌉ × ⌈790/267⌉ = 7 × 3 = 21, fewer than 25.
    const { made } = await written(grid(), { pageSize: 'tiles' });
    expect(made.ledger.find((r) => r.code === 'pages-in-tiles')!.args).toEqual({ columns: 7, rows: 3, pages: 21 });
  });
  it('those that show nothing are left out, and told by name', async () => {
    const frame = drawingOf([
      {
        kind: 'polyline',
        points: Float64Array.of(0, 0, 1200, 0, 1200, 800, 0, 800),
        dim: 2,
        elevation: 0,
        closed: true,
      } as never,
    ]);
    const { made, proof } = await written(frame, { pageSize: 'tiles', turned: 'across' });
    expect(risks(proof)).toEqual([]);
    // Nine in the middle are bare.
    expect(made.ledger.find((r) => r.code === 'tiles-left-out')!.args).toEqual({
      names: 'B2 C2 D2 B3 C3 D3 B4 C4 D4',
    });
  });
  it('at a scale, dimensions keep their numbers', async () => {
    const { made, proof } = await written(read(demoFile('kestrel-row-section.dxf'), 'a.dxf'), {
      pageSize: 'tiles',
      scale: 5,
    });
    expect(risks(proof)).toEqual([]);
    expect(made.ledger.find((r) => r.code === 'page-scale')!.args).toEqual({ scale: 5 });
  });
  it.skipIf(!poppler)('poppler sees the tile as large as it is, and nothing of it beyond its frame', async () => {
    const { made } = await written(grid(), { pageSize: 'tiles', turned: 'across' });
    expect(infoOf(made.bytes)).toMatch(/Pages:\s+26/);
    const [w, h] = [297, 210];
    const png = rasterOf(made.bytes, 127, 2 + 5 + 1);
    // 5 px to the millimetre: whatever is inked lies within the margin of 10, but for the name below it.
    const inked = (x: number, y: number): boolean => png.data[4 * (y * png.width + x)]! < 128;
    let [outside, inside] = [0, 0];
    for (let y = 0; y < png.height; y++)
      for (let x = 0; x < png.width; x++)
        if (inked(x, y)) {
          const [mx, my] = [x / 5, h - y / 5];
          const name = mx < 25 && my < 10;
          if (mx < 9.7 || mx > w - 9.7 || my < 9.7 || my > h - 9.7) outside += name ? 0 : 1;
          else inside++;
        }
    expect(outside).toBe(0);
    expect(inside).toBeGreaterThan(3000);
  });
});

describe('a bar to check the print by', () => {
  const bars = (d: Drawing): number[] =>
    d.entities.flatMap((e) =>
      e.kind === 'line' && e.layer === 'Page marks' && e.start[1] === e.end[1] ? [(e.end[0] - e.start[0]) * MM] : [],
    );
  it('is 100 mm long whatever the scale, and says so; proven as what was put there', async () => {
    const { made, proof } = await written(grid(), { pageSize: 'paper', paper: 'a4', scale: 5, checkBar: true });
    expect(risks(proof)).toEqual([]);
    const d = await page(made.bytes, 1);
    expect(bars(d)).toEqual([expect.closeTo(100, 3)]);
    expect(d.entities.flatMap((e) => (e.kind === 'text' ? [e.text] : []))).toEqual(['100 mm']);
  });
  it('is shorter where a page has no room for it', async () => {
    const small = drawingOf([{ kind: 'line', start: [0, 0, 0], end: [60, 0, 0] } as never]);
    const { made } = await written(small, { checkBar: true });
    expect(bars(await page(made.bytes, 1))).toEqual([expect.closeTo(50, 3)]);
  });
});

it('dashes are as long on paper as their scale has them', async () => {
  const dashed = (k: number): Drawing => ({
    ...drawingOf([
      {
        ...{ kind: 'line', start: [0, 0, 0], end: [1000 * k, 0, 0] },
        look: { ...DRAFTING_DEFAULT, dash: { kind: 'linetype', name: 'GAP', scale: 1 } },
      } as never,
    ]),
    linetypes: [{ name: 'GAP', description: '', pattern: [60 * k, -30 * k] }],
  });
  const { made } = await written(dashed(1), { pageSize: 'paper', scale: 10 });
  const [e] = (await page(made.bytes, 1)).entities;
  expect(e!.look.dash).toMatchObject({ kind: 'lengths' });
  expect((e!.look.dash as { lengths: readonly number[] }).lengths.map((l) => l * MM)).toEqual(
    [6, 3].map((l) => expect.closeTo(l, 3)),
  );
});

describe('sheets', () => {
  const section = (): Drawing => read(demoFile('kestrel-row-section.dxf'), 'a.dxf');
  it('are pages of their paper, with what their windows show at its scale; proven', async () => {
    const drawing = section();
    const { made, proof, codes } = await written(drawing, { pageSize: 'sheets' });
    expect(risks(proof)).toEqual([]);
    expect(codes).toContain('sheets-as-pages');
    const d = await page(made.bytes, 1);
    const sheet = drawing.sheets[0]!;
    expect(d.pageOf!.of).toBe(drawing.sheets.length);
    expect([d.page!.width, d.page!.height].map((v) => Math.round(v * MM))).toEqual([
      sheet.paper!.width,
      sheet.paper!.height,
    ]);
    // Each window shows so much of the model in so much of the sheet; the roof is there once for each that has it in sight.
    const windows = drawing.entities.filter((e) => e.kind === 'viewport').filter((w) => w.number !== 1 && w.on);
    expect(windows.length).toBeGreaterThan(1);
    const roof = drawing.entities.find((e) => e.layer === 'ROOF')!;
    const wide = boundsOf({ ...drawing, entities: [roof] }).width;
    const scales = windows.map((w) => w.viewHeight / (w.height / sheet.unitsPerMm));
    const shown = d.entities.filter((e) => e.layer === 'ROOF').map((e) => boundsOf({ ...d, entities: [e] }).width * MM);
    for (const w of shown)
      expect(
        scales.some((k) => Math.abs(w * k - wide) < 0.5),
        `${w} of ${wide}`,
      ).toBe(true);
    expect(shown.length).toBeGreaterThan(0);
  });
  it('one that is not there is refused with those that are', async () => {
    await expect(written(section(), { pageSize: 'sheets', sheets: 'none' })).rejects.toThrow(
      /No sheet fits “none”. It has “/,
    );
    await expect(written(grid(), { pageSize: 'sheets' })).rejects.toThrow(/has no sheets/);
  });
  it.skipIf(!poppler)('poppler finds the numbers and the size of what a window shows', async () => {
    const drawing = section();
    const { made } = await written(drawing, { pageSize: 'sheets' });
    const words = textOf(made.bytes).split(/\s+/);
    for (const said of ['2600', '2470']) expect(words, said).toContain(said);
    const seen = read(Buffer.from(svgOf(made.bytes)), 'page.svg');
    const window = drawing.entities.find((e) => e.kind === 'viewport' && e.number !== 1);
    if (window?.kind !== 'viewport') throw new Error('the sheet has no window');
    const scale = window.viewHeight / (window.height / drawing.sheets[0]!.unitsPerMm);
    // The beam under the roof is 2600 long.
    const wide = seen.entities.map((e) => boundsOf({ ...seen, entities: [e] }).width * mmPerUnit(seen.unit)! * scale);
    expect(wide.some((w) => Math.abs(w - 2600) < 1)).toBe(true);
  });
});

describe('part of a drawing', () => {
  const box = { part: 'box', corner: { x: 150, y: 120 }, opposite: { x: 450, y: 320 } } as const;

  it('between two corners is a page of that size with its margin, what it cuts is cut, and the rest is told', async () => {
    const { made, proof, codes } = await written(grid(), { ...box, margin: 10 });
    expect(risks(proof)).toEqual([]);
    // Lines at 200, 300 and 400 upright, at 200 and 300 level; the other 17 lie beyond.
    expect(made.written.entities).toHaveLength(5);
    expect(made.ledger.find((r) => r.code === 'off-all-pages')?.count).toBe(17);
    expect(codes).toContain('placed-on-page');
    const read = await page(made.bytes, 1);
    expect([read.page!.width * MM, read.page!.height * MM].map((v) => Math.round(v * 1000) / 1000)).toEqual([320, 220]);
    // What a reader sees of the line at 200: 10 mm of margin and 50 from the left corner.
    const raster = poppler ? rasterOf(made.bytes, 25.4) : null;
    if (!raster) return;
    // It rounds up what is a hair over a whole pixel.
    expect(Math.abs(raster.width - 320) + Math.abs(raster.height - 220)).toBeLessThanOrEqual(1);
    const dark = (x: number, y: number): boolean =>
      [-1, 0, 1].some((d) => raster.data[4 * (y * raster.width + x + d)]! < 220);
    expect([dark(60, 50), dark(160, 50), dark(100, 50)]).toEqual([true, true, false]);
    // In the margin nothing is drawn.
    expect([dark(60, 4), dark(60, 216)]).toEqual([false, false]);
  });

  it('goes onto paper at a scale, and corners without an area are refused', async () => {
    const { made, proof } = await written(grid(), {
      ...box,
      pageSize: 'paper',
      paper: 'a4',
      scale: 2,
      turned: 'across',
    });
    expect(risks(proof)).toEqual([]);
    expect(made.written.entities).toHaveLength(5);
    await expect(written(grid(), { part: 'box' })).rejects.toThrow(/hold no area/);
  });
});
