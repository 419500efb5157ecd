import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('a drawing without a unit is taken in by what speaks for one, by a click and not before', async ({ page }) => {
  const bytes = Buffer.from(
    readFileSync(demoFile('kestrel-row-mullion.dxf'))
      .toString('latin1')
      .replace(/ {2}9\r\n\$INSUNITS\r\n 70\r\n1\r\n/, ''),
    'latin1',
  );
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New job' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Evidence');
  await page.getByRole('button', { name: 'Make job' }).click();
  const file = { name: 'profile.dxf', buffer: bytes, mimeType: 'application/octet-stream' };
  await page.getByLabel('Drawings to take in').setInputFiles([file]);
  await page.getByRole('link', { name: /profile\.dxf/ }).click();
  const evidence = page.getByTestId('unit-evidence');
  await expect(evidence).toContainText('in');
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'undecided');
  await evidence.getByRole('button', { name: 'Take in' }).click();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'changed');
  await expect(page.getByRole('radio', { name: /^in / })).toBeChecked();
  await expect(evidence.getByRole('button', { name: 'Take in' })).toBeHidden();
});
