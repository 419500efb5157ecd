import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { dropFiles, inked, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('an origin as in another drawing, in another unit; texts in another encoding; layers by name; a missing reference', async ({
  page,
}) => {
  await newJob(app, page, 'Place');
  const names = ['section.dxf', 'mullion.dxf', 'front-elevation.dxf', 'site-plan.dwg'];
  await dropFiles(
    page,
    names.map((n) => ({ name: n, buffer: readFileSync(demoFile(`kestrel-row-${n}`)) })),
  );
  await expect(page.getByRole('list', { name: 'Drawings' }).getByRole('listitem')).toHaveCount(4, { timeout: 20_000 });
  const decisions = page.getByRole('list', { name: 'Decisions' });
  const open = async (name: RegExp): Promise<void> => {
    await page.getByRole('link', { name: 'Place', exact: true }).click();
    await page.getByRole('link', { name }).click();
    await expect(page.getByTestId('viewport')).toHaveAttribute('data-view', /\d/);
  };
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  await unfold(page, 'Origin');
  await page
    .getByRole('radiogroup', { name: 'Origin' })
    .getByRole('radio', { name: /Lower left of the drawing/ })
    .check();
  await unfold(page, 'Decisions');
  await expect(decisions).toContainText('lower left of the drawing');

  // The section's corner lies at -1600, -1190 mm: -62.992126, -46.8503937 in.
  await open(/mullion\.dxf/);
  await page.getByLabel('Use the same origin as another drawing of this job').selectOption('section.dxf');
  await expect(decisions).toContainText('at -62.992126, -46.8503937');

  await open(/front-elevation\.dxf/);
  const encoding = page.getByRole('region', { name: 'Text encoding' });
  await unfold(page, 'Text encoding');
  // “Façade côté quai” as Cyrillic has it: ç is E7 and ô F4 in windows-1252, з and ф in windows-1251.
  await expect(encoding).toContainText('Faзade cфtй quai');
  await encoding.getByRole('radio', { name: /Cyrillic windows-1251/ }).check();
  await expect(decisions).toContainText('Cyrillic (windows-1251)');
  // No font here has those letters, and the strip says so.
  await expect(page.locator('[data-carry-over=text]')).toHaveAttribute('data-state', 'atRisk');
  await unfold(page, 'Decisions');
  await page.getByRole('button', { name: 'Take back: Text encoding' }).click();
  await expect(page.locator('[data-carry-over=text]')).toHaveAttribute('data-state', 'kept');

  await unfold(page, 'Layers');
  await page.getByLabel(/^Layer name/).fill('a*, ground');
  await page.getByRole('button', { name: /^Take only these/ }).click();
  await unfold(page, 'Decisions');
  await expect(decisions).toContainText('chosen');

  await open(/site-plan\.dwg/);
  const files = page.getByRole('list', { name: 'Files it names' });
  await expect(files).toContainText('missing');
  await page.getByLabel('Missing files').setInputFiles({
    name: 'kestrel-row-street.dxf',
    mimeType: 'application/octet-stream',
    buffer: readFileSync(demoFile('kestrel-row-mullion.dxf')),
  });
  await expect(files.getByRole('link', { name: 'found' })).toBeVisible();
});

test('a picture that a drawing names is asked for, given, and seen', async ({ page }) => {
  const names = ['sign-study.svg'];
  await newJob(app, page, 'Sign over the shelter');
  await dropFiles(
    page,
    names.map((n) => ({ name: n, buffer: readFileSync(demoFile(`kestrel-row-${n}`)) })),
  );
  await page.getByRole('link', { name: /sign-study\.svg/ }).click();
  await expect(page.getByTestId('viewport')).toHaveAttribute('data-view', /\d/, { timeout: 30_000 });
  const files = page.getByRole('list', { name: 'Files it names' });
  await expect(files).toContainText('missing');
  await expect(page.locator('[data-carry-over=links]')).toBeVisible();
  const before = await inked(page);
  await page.getByLabel('Missing files').setInputFiles(demoFile('kestrel-row-sketch.png'));
  await expect(files.getByRole('link', { name: 'found' })).toBeVisible();
  await expect(files).toContainText('720 × 420 px');
  // Its strokes are there beside the lines of the study.
  await expect.poll(() => inked(page), { timeout: 15_000 }).toBeGreaterThan(before + 2000);
  await page.goBack();
  const pictures = page.getByRole('list', { name: 'Pictures' });
  await expect(pictures).toContainText('kestrel-row-sketch.png');
  await pictures.getByRole('button', { name: /^Take out / }).click();
  await expect(pictures).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(pictures).toContainText('720 × 420 px');
});
