import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { dropFiles, newJob, unfold } from './on-page.js';
import { readFileSync } from 'node:fs';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

const SECTION = { name: 'section.dxf', buffer: readFileSync(demoFile('kestrel-row-section.dxf')) };

test('the field book scrolls by itself: the page stays where it is', async ({ page }) => {
  await newJob(app, page, 'Scrolling');
  await dropFiles(page, [SECTION]);
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  const book = page.getByRole('complementary', { name: 'Field book' });
  await unfold(page, 'Unit', 'Layers', 'Origin', 'What the file says');
  await expect(book.getByRole('radiogroup', { name: 'Origin' })).toBeVisible();
  for (const path of ['take-in', 'check', 'prepare', 'deliver']) {
    await page.goto(`${page.url().replace(/\/[^/]*$/, '')}/${path}`);
    await expect(page.getByRole('complementary', { name: 'Field book' })).toBeVisible();
    const box = (await page.getByRole('complementary', { name: 'Field book' }).boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    for (let i = 0; i < 12; i++) await page.mouse.wheel(0, 900);
    const { height, top } = await page.evaluate(() => ({
      height: document.documentElement.scrollHeight,
      top: window.scrollY,
    }));
    expect(height, path).toBeLessThanOrEqual(800);
    expect(top, path).toBe(0);
    await expect(page.getByRole('navigation', { name: 'Stations' })).toBeInViewport();
  }
});

test('two windows of one drawing: each keeps what it decided, and is told what the other did', async ({
  page,
  context,
}) => {
  await newJob(app, page, 'Two windows');
  await dropFiles(page, [SECTION]);
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  const decisions = (p: typeof page) => p.getByRole('list', { name: 'Decisions' });
  const origin = (p: typeof page) => p.getByRole('radiogroup', { name: 'Origin' });
  const layers = (p: typeof page) => p.getByRole('radiogroup', { name: 'Which layers are taken in' });
  await unfold(page, 'Origin', 'Layers');
  await expect(origin(page).getByRole('radio').first()).toBeVisible();
  const other = await context.newPage();
  await other.goto(page.url());
  await unfold(other, 'Origin', 'Layers');
  await expect(origin(other).getByRole('radio').first()).toBeVisible();

  await origin(page)
    .getByRole('radio', { name: /Lower left of the drawing/ })
    .check();
  await unfold(page, 'Decisions');
  await expect(decisions(page)).toContainText('lower left of the drawing');
  // The other window is told without a hand being moved in it, and shows what counts.
  await expect(other.getByText(/Changed in another window: Origin is now/)).toBeVisible();
  await unfold(other, 'Decisions');
  await expect(decisions(other)).toContainText('lower left of the drawing');
  await layers(other).getByText('All', { exact: true }).click();
  await expect(decisions(page)).toContainText('all, hidden ones too');

  // Both decide the origin at once: the one that comes second is shown both sides, and can have its own all the same.
  await other.route('**/api/drawings/*/seen', (r) => r.abort());
  await origin(page)
    .getByRole('radio', { name: /Centre of the drawing/ })
    .check();
  await expect(decisions(page)).toContainText('centre of the drawing');
  // Only clicked: the refusal may come so soon that what was chosen is never seen.
  await origin(other)
    .getByRole('radio', { name: /As in the file/ })
    .click();
  await expect(other.getByText(/Origin: here undecided, in the other window centre of the drawing/)).toBeVisible();
  // What was not kept is not offered to be taken back; what was decided before is.
  await expect(other.getByRole('button', { name: /Undo: origin/ })).toBeHidden();
  await expect(decisions(other)).toContainText('centre of the drawing');
  await other.getByRole('button', { name: 'Use mine' }).click();
  await expect(decisions(other)).not.toContainText('centre of the drawing');
  await expect(decisions(page)).not.toContainText('centre of the drawing');
});
