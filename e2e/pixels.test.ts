import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { Application, demoFile } from './application.js';
import { dropFiles, newJob } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('a sketch is traced, wiped against its picture, and leaves as a proven SVG', async ({ page }) => {
  await newJob(app, page, 'Sketch');
  await dropFiles(page, [{ name: 'sketch.png', buffer: readFileSync(demoFile('kestrel-row-sketch.png')) }]);
  await page.getByRole('button', { name: 'Trace sketch.png' }).click();
  await expect(page.getByText(/\d+ changes/)).toBeVisible();
  await page
    .getByRole('button', { name: /^Change/ })
    .first()
    .click();
  // The picture and what was made of it, laid over each other.
  await expect(page.getByText('Wipe', { exact: true })).toBeVisible();
  // Side by side both are in sight, smaller; the differences are counted by a renderer that had no part in tracing.
  const viewport = page.getByTestId('viewport');
  const scale = async (): Promise<number> => Number((await viewport.getAttribute('data-view'))!.split(' ')[2]);
  const alone = await scale();
  await page.getByText('Side by side', { exact: true }).click();
  await expect.poll(scale).toBeLessThan(0.85 * alone);
  await page.getByText('Differences', { exact: true }).click();
  await expect(page.getByText(/^\d+ of 302\s400 pixels are of another area: [\d.]+ %$/)).toBeVisible();
  await expect(page.getByText('only in the picture')).toBeVisible();
  await page.getByText('Overlay', { exact: true }).click();
  await page.getByLabel('They become').selectOption('edges');
  await page.getByLabel('They become').selectOption('areas');
  await page.getByLabel('Curves lie within').fill('0.6');
  await page.keyboard.press('Enter');
  await page
    .getByRole('button', { name: /^(Put it into the plan|Keep|Apply|Take)/ })
    .first()
    .click();

  // Asked for again, the drawing that is there is opened.
  await page.getByRole('link', { name: 'Sketch', exact: true }).click();
  await page.getByRole('button', { name: 'Trace sketch.png' }).click();
  await expect(page.getByText(/\d+ changes/)).toBeVisible();

  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('svg');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  await expect(page.getByText('Picture and what was traced of it, drawn')).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download', exact: true }).click();
  const svg = readFileSync((await (await saving).path())!, 'utf8');
  // Paths alone, on a page as large as the scan states: 720 pixels at 150.0124 to the inch.
  expect(svg).not.toContain('<image');
  expect(svg.match(/<path/g)!.length).toBeGreaterThan(10);
  expect(Number(/width="([\d.]+)mm"/.exec(svg)![1])).toBeCloseTo((720 * 25.4) / 150.0124, 2);
});

test('a section sheet leaves as a picture whose pixels, and the file beside it, say its true size', async ({
  page,
}) => {
  await newJob(app, page, 'Picture');
  await dropFiles(page, [{ name: 'section.dxf', buffer: readFileSync(demoFile('kestrel-row-section.dxf')) }]);
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('png');
  await page.getByLabel('The picture shows').selectOption('sheet');
  await page.getByLabel('It is as large as').selectOption('resolution');
  // A3 at 150 to the inch, foretold before anything is written.
  await expect(page.getByTestId('picture-size')).toContainText('2481 × 1754 pixels, 4.4 million');
  await expect(page.getByTestId('picture-size')).toContainText('17.4 MB open');
  await expect(page.getByTestId('picture-size')).toContainText(/\d+ kB as a file/);
  // One that is too large is refused with what could be had.
  await page.getByLabel('Pixels to the inch').fill('5000');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('picture-size')).toContainText(/Ask for up to [\d.]+ pixels per inch/);
  await page.getByLabel('Pixels to the inch').fill('150');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await expect(page.getByRole('link', { name: /The proof holds/ })).toBeVisible();

  const beside = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download section.pgw' }).click();
  const world = readFileSync((await (await beside).path())!, 'utf8')
    .trim()
    .split('\n')
    .map(Number);
  expect(world[0]).toBeCloseTo(25.4 / 150, 12);
  expect([world[4], world[5]].map((v) => Number(v!.toFixed(4)))).toEqual([0.0847, 296.9153]);

  await page.getByRole('link', { name: /The proof holds/ }).click();
  await expect(page.getByText('What was prepared and the picture, drawn')).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download', exact: true }).click();
  const png = PNG.sync.read(readFileSync((await (await saving).path())!));
  expect([png.width, png.height]).toEqual([2481, 1754]);
  // The frame of the sheet stands 10 mm from its edge: 59 pixels.
  const row = 900;
  const dark = Array.from({ length: 200 }, (_, x) => png.data[4 * (row * png.width + x)]!).findIndex((v) => v < 128);
  expect(Math.abs(dark - (10 * 150) / 25.4)).toBeLessThan(2);
});

test('what is in sight leaves as a picture of it', async ({ page }) => {
  await newJob(app, page, 'Sight');
  await dropFiles(page, [{ name: 'panel.svg', buffer: readFileSync(demoFile('kestrel-row-wayfinding-panel.svg')) }]);
  await page.getByRole('link', { name: /panel\.svg/ }).click();
  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('jpeg');
  await page.getByLabel('Margin', { exact: true }).fill('0');
  await page.keyboard.press('Enter');
  const viewport = page.getByTestId('viewport');
  await expect(viewport).toHaveAttribute('data-view', /\d/);
  await page.getByRole('button', { name: 'Show what is in sight' }).click();
  await expect(page.getByLabel('The picture shows')).toHaveValue('box');
  const { width, height } = (await viewport.boundingBox())!;
  const size = await page.getByTestId('picture-size').textContent();
  const [, w, h] = /(\d+) × (\d+) pixels/.exec(size!)!.map(Number);
  expect(Math.abs(w! / h! - width / height)).toBeLessThan(0.01);
});
