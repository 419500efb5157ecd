import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application } from './application.js';
import { dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('coordinates are looked at, mended and taken in; they leave as a proven DXF, and as text again', async ({
  page,
}) => {
  await newJob(app, page, 'Fin');
  await dropFiles(page, [{ name: 'fin.csv', buffer: Buffer.from('-3;10\n3;10\n3;19o\n-3;190\n\n0;0;1\n100;0;1\n') }]);
  const dialog = page.getByRole('dialog', { name: 'Coordinates' });
  // The wrong line is named, and nothing can be taken in half.
  await expect(dialog.getByRole('row', { name: /3.*“19o” is no number/ })).toBeVisible();
  await expect(dialog.getByRole('button', { name: 'Take in' })).toBeDisabled();
  await dialog.getByRole('textbox', { name: /x and y/ }).fill('-3;10\n3;10\n3;190\n-3;190\n\n50;0;1\n150;0;1\n');
  await expect(dialog.getByText('all its numbers lie between −1 and 1, as bulges do')).toBeVisible();
  await expect(dialog.getByText('Say what the third number is.')).toBeVisible();
  await dialog.getByLabel(/How the edge bulges/).check();
  // The circle reaches from −50 to 50, the fin from 10 to 190; −3 to 150 across.
  await expect(dialog.getByRole('status')).toHaveText('2 outlines, 6 points, 153 × 240');
  await dialog.getByLabel('Unit').selectOption({ label: '153 × 240 mm' });
  if (process.env['SHOT']) await page.screenshot({ path: process.env['SHOT'] });
  await dialog.getByRole('button', { name: 'Take in' }).click();

  await page.getByRole('link', { name: /fin\.csv/ }).click();
  await unfold(page, 'Numbers of the text');
  await expect(page.getByRole('combobox', { name: 'Third number' })).toHaveValue('bulge');
  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  const download = async (): Promise<string> => {
    await expect(page.getByRole('link', { name: 'Download', exact: true })).toHaveCount(1);
    const saving = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Download', exact: true }).click();
    return readFileSync((await (await saving).path())!, 'latin1');
  };
  const dxf = await download();
  expect(dxf.match(/\nLWPOLYLINE\r?\n/g)).toHaveLength(2);
  // Unit 4 is the millimetre; both edges of the circle bulge by 1.
  expect(dxf).toMatch(/\$INSUNITS\r?\n\s*70\r?\n\s*4\r?\n/);
  expect(dxf.match(/\n\s*42\r?\n\s*1(\.0+)?\r?\n/g)!.length).toBe(2);

  await page.getByRole('link', { name: /Deliver\s*\d+ file/ }).click();
  await page.getByLabel('Format').selectOption('coordinates');
  await expect(page.getByLabel('Columns')).toHaveValue('bulges');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page
    .getByRole('listitem')
    .filter({ hasText: 'fin.txt' })
    .getByRole('link', { name: /The proof holds/ })
    .click();
  expect(await download()).toBe(
    '# unit: mm\nx\ty\tbulge\n-3\t10\t0\n3\t10\t0\n3\t190\t0\n-3\t190\t0\n\n50\t0\t1\n150\t0\t1\n',
  );
});

test('a text pasted by hand asks what its commas are, and is refused while it is open', async ({ page }) => {
  await newJob(app, page, 'Pasted');
  await page.getByRole('button', { name: 'Coordinates …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Coordinates' });
  await expect(dialog.getByText('Paste or type coordinates.')).toBeVisible();
  await dialog.getByRole('textbox', { name: /x and y/ }).fill('1,2,3,4\n2,2,3,4\n2,5,7,4\n');
  await expect(dialog.getByText('Say which sign comes before decimals.')).toBeVisible();
  await dialog.getByLabel('Commas part the numbers').check();
  await expect(dialog.getByRole('row')).toHaveCount(3);
  await dialog.getByLabel('Commas stand before decimals').check();
  await expect(dialog.getByRole('status')).toHaveText('1 outline, 3 points, 1.3 × 4');
  await dialog.getByRole('button', { name: 'Take in' }).click();
  await page.getByRole('link', { name: /coordinates\.txt/ }).click();
  // The unit is still to be said, with evidence.
  await expect(page.getByText('undecided').first()).toBeVisible();
});
