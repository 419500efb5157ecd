import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

/** Points on a page for millimetres on it. */
const pt = (mm: number): number => (mm * 72) / 25.4;
/** Lengths of the lines of a DXF, by its group codes alone. */
function lineLengths(dxf: string): number[] {
  return dxf
    .split(/\r?\n {2}0\r?\nLINE\r?\n/)
    .slice(1)
    .map((record) => {
      const code = (n: number): number =>
        Number(new RegExp(`\\r?\\n ?${n}\\r?\\n([^\\r\\n]+)`).exec(record)?.[1] ?? NaN);
      return Math.hypot(code(11) - code(10), code(21) - code(20));
    });
}

test('a page of a PDF, its scale by a known length, leaves as a DXF at true size, proven', async ({ page }) => {
  await newJob(app, page, 'Leaflet');
  await dropFiles(page, [{ name: 'leaflet.pdf', buffer: readFileSync(demoFile('kestrel-row-leaflet.pdf')) }]);
  await page.getByRole('link', { name: /leaflet\.pdf/ }).click();

  // Two pages to choose from, as pictures; the second is the map.
  await unfold(page, 'Page 1 of 2');
  await page.getByRole('button', { name: 'Page 2', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Page 2 of 2' })).toBeVisible();

  // The first goes into the job as a drawing of its own, once.
  await page.getByRole('button', { name: 'Take in also' }).click();
  await expect(page.getByText('Page 1 is a drawing of its own now.')).toBeVisible();
  await page.getByRole('button', { name: 'Take in also' }).click();
  await expect(page.getByText(/is here already/)).toBeVisible();

  // What is written on it speaks for 1 : 500; the platform is 30 m long, and is measured.
  await unfold(page, 'True size', 'Known size');
  await page.getByRole('radiogroup', { name: 'Unit' }).getByRole('radio', { name: /^mm/ }).check();
  await expect(page.getByRole('list', { name: 'Evidence for a scale' })).toContainText('“1 : 500” is written on it');
  await page.getByRole('button', { name: 'Measure a length' }).click();
  await clickAt(page, pt(50), pt(64));
  await clickAt(page, pt(110), pt(64));
  await page.getByLabel('True length').fill('30000');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Scaled by/)).toContainText('500');

  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const lengths = lineLengths(readFileSync((await (await saving).path())!, 'utf8'));
  // The dimension line of the platform, and the street of 95 m, within a millimetre.
  for (const want of [30_000, 95_000])
    expect(
      lengths.some((l) => Math.abs(l - want) < 1),
      String(want),
    ).toBe(true);
});

test('a section goes onto A3 at 1:50: as large as it is there, with the numbers it had', async ({ page }) => {
  await newJob(app, page, 'Paper');
  await dropFiles(page, [{ name: 'section.dxf', buffer: readFileSync(demoFile('kestrel-row-section.dxf')) }]);
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('pdf');
  await page.getByLabel('Page', { exact: true }).selectOption('paper');
  await page.getByLabel('Paper', { exact: true }).selectOption('a3');
  await page.getByLabel('Scale, 1 to').fill('5');
  await page.keyboard.press('Enter');
  // At 1:5 it does not fit, and says so before anything is written.
  await expect(page.getByText(/the paper holds 277 × 400 mm|the paper holds 400 × 277 mm/)).toBeVisible();
  await page.getByLabel('Scale, 1 to').fill('50');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const file = (await (await saving).path())!;
  // Poppler, which is not ours, measures the page and reads the numbers.
  const [, w, h] = /Page size:\s+([\d.]+) x ([\d.]+) pts/.exec(execFileSync('pdfinfo', [file], { encoding: 'utf8' }))!;
  expect([Number(w), Number(h)].map((v) => Math.round((v * 25.4) / 72)).sort()).toEqual([297, 420]);
  const words = execFileSync('pdftotext', [file, '-'], { encoding: 'utf8' }).split(/\s+/);
  expect(words).toContain('2600');
  expect(words).not.toContain('52');
});
