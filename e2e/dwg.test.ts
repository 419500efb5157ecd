import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('a plan comes as DWG without a unit, and leaves as DWG of another version, proven', async ({ page }, info) => {
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New job' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Plan');
  await page.getByRole('button', { name: 'Make job' }).click();
  await page.getByLabel('Drawings to take in').setInputFiles(demoFile('kestrel-row-site-plan.dwg'));
  await page.getByRole('link', { name: /site-plan\.dwg/ }).click();
  await expect(page.getByText(/DWG 2004/).first()).toBeVisible();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'undecided');
  const evidence = page.getByTestId('unit-evidence');
  await evidence.getByRole('button', { name: 'Use mm' }).click();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'changed');

  // The dimension that was typed over.
  await page.getByRole('link', { name: /Check/ }).click();
  await page.getByRole('region', { name: 'Typed-over dimensions' }).getByRole('button').first().click();
  await expect(page.getByText(/The text says 6350, the drawing measures 6400/)).toBeVisible();
  await page.getByRole('region', { name: 'Pictures and references' }).getByRole('button').first().click();
  await expect(page.getByText('The reference drawing “kestrel-row-street.dwg” is missing')).toBeVisible();
  await expect(
    page.getByRole('list', { name: 'Colours' }).getByRole('listitem').filter({ hasText: '#007ca5' }),
  ).toContainText('142');
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save report' }).click();
  const report = await saved;
  expect(report.suggestedFilename()).toBe('kestrel-row-site-plan-findings.html');
  expect(readFileSync(await report.path(), 'utf8')).toContain('The text says 6350, the drawing measures 6400 mm');

  await page.getByRole('link', { name: /Deliver/ }).click();
  await page.getByLabel('Format').selectOption('dwg');
  await page.getByLabel('Version').selectOption('2018');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  const proof = page.getByRole('link', { name: /proof holds/i });
  await expect(proof).toBeVisible({ timeout: 30_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const bytes = readFileSync(await (await download).path());
  expect(bytes.subarray(0, 6).toString('latin1')).toBe('AC1032');
  await proof.click();
  await expect(page.getByTestId('verdict')).toHaveText('The proof holds, but 2 objects are lost.');

  // The delivered file is taken in as a drawing of its own, which now states its unit; a cut copy is told of.
  await page.goto(app.url);
  await page.getByRole('link', { name: /Plan/ }).click();
  const again = info.outputPath('again.dwg');
  writeFileSync(again, bytes);
  await page.getByLabel('Drawings to take in').setInputFiles(again);
  await expect(page.getByRole('link', { name: /again\.dwg/ })).toBeVisible();
  await expect(page.getByText(/DWG 2018/)).toBeVisible();
  const cut = { name: 'cut.dwg', mimeType: 'application/octet-stream', buffer: bytes.subarray(0, 3000) };
  await page.getByLabel('Drawings to take in').setInputFiles([cut]);
  await expect(page.getByText(/list of objects was not found/)).toBeVisible();
});
