import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

async function takeIn(page: Page, job: string, name: string, buffer: Buffer): Promise<void> {
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New job' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill(job);
  await page.getByRole('button', { name: 'Make job' }).click();
  await page.getByLabel('Drawings to take in').setInputFiles([{ name, buffer, mimeType: 'application/octet-stream' }]);
  await page.getByRole('link', { name }).click();
}

test('an illustration: layers by a rule, a font nobody has, single lines for a machine, and the proof', async ({
  page,
}) => {
  await takeIn(page, 'Signs', 'panel.svg', readFileSync(demoFile('kestrel-row-wayfinding-panel.svg')));

  // Layers by colour of fill, shown before anything is written.
  await unfold(page, 'Layers');
  await page.getByLabel('Layers are made from').selectOption('fill');
  const made = page.getByLabel('Layers by this rule');
  await expect(made).toContainText('fill #c4512d');
  await page.getByLabel('Layers are made from').selectOption('groups');
  await expect(made).toBeHidden();

  // The caption asks for a font nobody has: a narrow one stands in until the chart says otherwise.
  await unfold(page, 'Fonts');
  const caption = page.locator('[data-font="Harbour Narrow"]');
  await expect(caption).toContainText('closest match');
  await expect(caption.getByRole('button', { name: /first ↔/ })).toBeVisible();
  await caption.getByLabel(/are taken from/).selectOption('Source Serif 4');
  await expect(caption).toContainText('by the font chart');

  // A font given to the job is there to choose.
  const font = readFileSync(
    fileURLToPath(import.meta.resolve('@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff2')),
  );
  await page.getByLabel('Font files').setInputFiles([{ name: 'given.woff2', buffer: font, mimeType: 'font/woff2' }]);
  await expect(page.getByText('may be put into files').first()).toBeVisible();
  await page.reload();
  await unfold(page, 'Fonts', 'Clips, patterns, gradients');
  await expect(caption).toContainText('by the font chart');

  // Gradients become one colour; the strip says it was on purpose.
  await page.getByLabel('Gradients', { exact: true }).selectOption('mean');
  await expect(page.locator('[data-carry-over=colour]')).toHaveAttribute('data-state', 'changed');

  await page.getByRole('link', { name: /Deliver/ }).click();
  await page.getByLabel('Text', { exact: true }).selectOption('lines');
  await page.getByLabel('Paths of lines and curves become').selectOption('arcs');
  await page.getByLabel('Arcs lie within').fill('0.05');
  await page.getByLabel('Arcs lie within').press('Enter');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  const row = page.locator('[data-delivery=done]');
  await expect(row).toBeVisible({ timeout: 60_000 });
  await expect(row.getByRole('link', { name: /proof holds/i })).toBeVisible();
});

test('lettering is set on a curve that is picked in the drawing, and taken back', async ({ page }) => {
  const body =
    '<path d="M10 60A40 40 0 0 1 90 60" fill="none" stroke="#1f2a37"/><rect x="2" y="2" width="96" height="96" fill="none" stroke="#c4512d"/>';
  await takeIn(
    page,
    'Emblem',
    'emblem.svg',
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${body}</svg>`,
    ),
  );
  await page.getByRole('link', { name: /Prepare/ }).click();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('button', { name: /Lettering on a curve/ }).click();
  await page.getByLabel('Along').selectOption('curve');
  await expect(page.getByText('no curve is picked')).toBeVisible();
  await page.getByRole('button', { name: 'Pick in the drawing' }).click();
  // The top of the arc: half way across, 20 down from the top.
  const viewport = page.getByTestId('viewport');
  const [vx, vy, scale] = (await viewport.getAttribute('data-view'))!.split(' ').map(Number) as [
    number,
    number,
    number,
  ];
  const box = (await viewport.boundingBox())!;
  await page.mouse.click(box.x + box.width / 2 + (50 - vx) * scale, box.y + box.height / 2 - (-20 - vy) * scale);
  await expect(page.getByText(/path on 0, 125\.66/)).toBeVisible();
  await expect(page.getByText('text written as outlines of its letters')).toBeVisible();
  await page.getByRole('button', { name: 'Take this step' }).click();
  await expect(page.locator('[data-carry-over=text]')).toHaveAttribute('data-state', 'changed');
  // What was picked is still told after the page was left.
  await page.getByRole('link', { name: /Check/ }).click();
  await page.getByRole('link', { name: /Prepare/ }).click();
  await page.getByRole('button', { name: 'Change Lettering on a curve' }).click();
  await expect(page.getByText(/path on 0, 125\.66/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('No steps yet')).toBeVisible();
});

test('an SVG of pixels counts 72, 90 or 96 to the inch, or what is typed', async ({ page }) => {
  await takeIn(
    page,
    'Pixels',
    'px.svg',
    Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 720 360"><rect width="720" height="360"/></svg>'),
  );
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'undecided');
  for (const [perInch, width] of [
    ['72', '254'],
    ['90', '203.2'],
    ['96', '190.5'],
  ] as const) {
    await page.getByRole('radio', { name: new RegExp(`^${perInch}`) }).check();
    await expect(page.getByText(new RegExp(`${width.replace('.', '\\.')} ×`)).first()).toBeVisible();
  }
});
