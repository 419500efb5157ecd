import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Resvg } from '@resvg/resvg-js';
import { PNG } from 'pngjs';
import { CASES } from '../core/test/svg/cases.js';
import type { Picture } from '../core/test/svg/compare.js';
import { PART, WIDTH, difference, onPage } from '../core/test/svg/compare.js';
import {
  DEFAULT_TARGETS,
  targetFor,
  NO_DECISIONS,
  SHIPPED_FONTS,
  deliver,
  prepare,
  readDrawing,
  shippedBook,
} from '@scalaria/core';

const fontFile = (file: string): Buffer =>
  readFileSync(fileURLToPath(import.meta.resolve(`@scalaria/core/fonts/${file}`)));
const fonts = shippedBook(SHIPPED_FONTS.map(({ file }) => fontFile(file)));
const faces = ['400', '700']
  .map(
    (w) =>
      `@font-face{font-family:"Spline Sans";font-weight:${w};src:url(data:font/woff2;base64,${fontFile(`spline-sans-latin-${w}-normal.woff2`).toString('base64')})}`,
  )
  .join('');

/** The picture that Chromium makes of an SVG. */
async function drawn(page: Page, svg: string, width: number, height: number): Promise<Picture> {
  await page.setContent(
    `<style>body{margin:0}svg{display:block;text-rendering:geometricPrecision}${faces}</style>${svg.replace(/^<\?xml.*?\?>/, '')}`,
  );
  await page.evaluate(() => document.fonts.ready);
  const png = PNG.sync.read(await page.screenshot({ clip: { x: 0, y: 0, width, height } }));
  return { width: png.width, height: png.height, pixels: png.data };
}

test('what is read and written looks in the browser like the original', async ({ browser }) => {
  test.setTimeout(240_000);
  const context = await browser.newContext({ viewport: { width: 400, height: 300 }, deviceScaleFactor: WIDTH / 100 });
  const page = await context.newPage();
  const wrong: string[] = [];
  const disputes: string[] = [];
  for (const c of CASES) {
    const bytes = new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" ${c.root ?? 'width="100" height="100" viewBox="0 0 100 100"'}>${c.body}</svg>`,
    );
    const source = readDrawing(bytes, 'case.svg').drawing;
    const drawing = prepare(source, { ...NO_DECISIONS, unit: 'mm', pxPerInch: 96 }, []).drawing;
    const made = deliver(drawing, DEFAULT_TARGETS.svg, 'case.svg', fonts);
    const { x, y, width, height } = source.page!;
    const frame = `width="${width}" height="${height}" viewBox="${x} ${y} ${width} ${height}"`;
    const original = await drawn(
      page,
      `<svg xmlns="http://www.w3.org/2000/svg" ${frame}>${c.body}</svg>`,
      width,
      height,
    );
    const ours = await drawn(
      page,
      onPage(new TextDecoder().decode(made.bytes), source.page!, (source.unit!.factor * 25.4) / 96),
      width,
      height,
    );
    // Where the two renderers part ways the case says so, and nowhere else. Their letters never agree to the pixel.
    if (!c.body.includes('<text')) {
      const other = new Resvg(`<svg xmlns="http://www.w3.org/2000/svg" ${frame}>${c.body}</svg>`, {
        fitTo: { mode: 'width', value: original.width },
        background: '#fff',
      }).render();
      const apart = difference(original, { width: other.width, height: other.height, pixels: other.pixels });
      if (apart > PART !== (c.disputed !== undefined)) disputes.push(`${c.name}: ${(apart * 100).toFixed(1)} % apart`);
    }
    const far = difference(original, ours, c.body.includes('<text') ? 1 : 0);
    // A screen places letters by whole steps of its own, which depend on the size of the user unit.
    const limit = c.body.includes('<text') ? 4 * PART : PART;
    if (c.miss ? far < PART : c.disputed?.startsWith('Chromium') ? false : far > limit)
      wrong.push(`${c.name}: ${(far * 100).toFixed(1)} % differs`);
    if (!c.body.includes('<text')) continue;
    const shapes = deliver(drawing, targetFor('svg', { text: 'outlines' }), 'case.svg', fonts);
    const outlined = await drawn(
      page,
      onPage(new TextDecoder().decode(shapes.bytes), source.page!, (source.unit!.factor * 25.4) / 96),
      width,
      height,
    );
    const off = difference(original, outlined, 1);
    if (off > 3 * PART) wrong.push(`${c.name} as outlines: ${(off * 100).toFixed(1)} % differs`);
  }
  expect(wrong).toEqual([]);
  expect(disputes).toEqual([]);
  await context.close();
});
