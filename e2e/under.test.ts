import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

/** A frame of 300 × 200 mm and a mark in it. */
const FRAME = `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nLWPOLYLINE\n8\nA\n90\n4\n70\n1\n10\n0\n20\n0\n10\n300\n20\n0\n10\n300\n20\n200\n10\n0\n20\n200\n0\nENDSEC\n0\nEOF\n`;

test('a scan is laid under a drawing by two points of known distance, seen, left out, and delivered when asked', async ({
  page,
}) => {
  await newJob(app, page, 'Under');
  await dropFiles(page, [
    { name: 'frame.dxf', buffer: Buffer.from(FRAME) },
    { name: 'scan.png', buffer: readFileSync(demoFile('kestrel-row-sketch.png')) },
  ]);
  await page.getByRole('link', { name: /frame\.dxf/ }).click();
  await unfold(page, 'Picture under the drawing');
  const section = page.getByRole('region', { name: 'Picture under the drawing', exact: true });
  await section.getByLabel('Picture').selectOption('scan.png');
  // As large as the scan states: 720 pixels at 150.0124 to the inch are 121.91 mm.
  await expect(page.getByTestId('under-size')).toContainText('121.91 × ');
  await section.getByRole('button', { name: 'Two points and their distance' }).click();
  await clickAt(page, 20, 30);
  await clickAt(page, 80, 30);
  await section.getByLabel('They are apart by').fill('120');
  await page.keyboard.press('Enter');
  // Twice as large, but for the pixels of the screen that a click is off by.
  await expect
    .poll(async () => Number(/^([\d.]+) ×/.exec((await page.getByTestId('under-size').textContent())!)![1]))
    .toBeGreaterThan(238);
  const size = Number(/^([\d.]+) ×/.exec((await page.getByTestId('under-size').textContent())!)![1]);
  expect(Math.abs(size / 243.83 - 1)).toBeLessThan(0.02);
  if (process.env['SHOT']) await page.screenshot({ path: process.env['SHOT'] });

  const write = async (count: number): Promise<string> => {
    await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
    await page.getByLabel('Format').selectOption('dxf');
    await page.getByRole('button', { name: 'Write 1 file' }).click();
    const holds = page.getByRole('link', { name: /The proof holds/ });
    await expect(holds).toHaveCount(count);
    // The newest stands first.
    await holds.first().click();
    await expect(page.getByRole('link', { name: 'Download', exact: true })).toHaveCount(1);
    const saving = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Download', exact: true }).click();
    return readFileSync((await (await saving).path())!, 'latin1');
  };
  expect(await write(1)).not.toContain('AcDbRasterImage');

  // A world file says the place to the digit: half a millimetre to a pixel, its upper left pixel centred at 10.25, 190.
  await page
    .getByRole('link', { name: /Take in/ })
    .first()
    .click();
  await unfold(page, 'Picture under the drawing');
  await section
    .getByLabel('File that says where the picture lies')
    .setInputFiles({ name: 'scan.pgw', mimeType: 'text/plain', buffer: Buffer.from('0.5\n0\n0\n-0.5\n10.25\n190\n') });
  await expect(page.getByTestId('under-size')).toContainText('360 × ');
  await section.getByLabel('delivered with the drawing').check();
  const dxf = await write(2);
  const image = /\n *0\r?\nIMAGE\r?\n[\s\S]*?AcDbRasterImage\r?\n([\s\S]*?)\n {2}0\r?\n/.exec(dxf)![1]!.split(/\r?\n/);
  const value = (code: string): number =>
    Number(image[image.findIndex((l, i) => i % 2 === 0 && l.trim() === code) + 1]);
  expect([value('10'), value('11'), value('13')]).toEqual([10, 0.5, 720]);
  expect(dxf).toMatch(/\r?\n\s*1\r?\nscan\.png\r?\n/);
  // The picture that it names is there to be laid beside it.
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByRole('link', { name: 'Download scan.png' }).click();
  const picture = readFileSync((await (await saving).path())!);
  expect(picture.equals(readFileSync(demoFile('kestrel-row-sketch.png')))).toBe(true);
});
