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
  await evidence.getByRole('button', { name: 'Use in' }).click();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'changed');
  await expect(page.getByRole('radio', { name: /^in / })).toBeChecked();
  await expect(evidence.getByRole('button', { name: 'Use in' })).toBeHidden();
});

test('a gap is found, gone to, and mended in one click', async ({ page }) => {
  const tags = (list: (string | number)[]): string => list.join('\n');
  const line = (a: number, b: number, c: number, d: number) => [
    0,
    'LINE',
    8,
    'CUT',
    10,
    a,
    20,
    b,
    30,
    0,
    11,
    c,
    21,
    d,
    31,
    0,
  ];
  const text = tags([
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$INSUNITS',
    70,
    4,
    0,
    'ENDSEC',
    0,
    'SECTION',
    2,
    'ENTITIES',
    ...line(0, 0, 100, 0),
    ...line(100.4, 0.3, 100.4, 80),
    ...line(100.4, 80, 0, 80),
    ...line(0, 80, 0, 0),
    ...line(0, 80, 0, 0),
    0,
    'ENDSEC',
    0,
    'EOF',
    '',
  ]);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New job' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Cut');
  await page.getByRole('button', { name: 'Make job' }).click();
  const file = { name: 'panel.dxf', buffer: Buffer.from(text), mimeType: 'application/octet-stream' };
  await page.getByLabel('Drawings to take in').setInputFiles([file]);
  await page.getByRole('link', { name: /panel\.dxf/ }).click();
  await page.getByRole('link', { name: /Check/ }).click();
  const open = page.getByRole('region', { name: 'Open outlines' });
  await open.getByRole('button').first().click();
  await open.getByRole('button', { name: /miss each other by 0\.5 mm/ }).click();
  await open.getByRole('button', { name: 'Join these ends' }).click();
  await expect(open.getByText('none found')).toBeVisible();
  const doubles = page.getByRole('region', { name: 'Doubles' });
  await doubles.getByRole('button').first().click();
  await doubles.getByRole('button', { name: 'Clear these doubles' }).click();
  await expect(doubles.getByText('none found')).toBeVisible();
  await page.getByRole('link', { name: /Prepare/ }).click();
  await page.getByTitle('See the drawing as it is after this step').first().click();
  await expect(page.getByText('ends that nearly met brought together')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-step]')).toHaveCount(1);
});
