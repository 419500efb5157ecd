import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application } from './application.js';
import { clickAt, dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

interface Plate {
  x: number;
  width: number;
  y?: number;
  hole?: number;
  label?: string;
}

/** A DXF in millimetres of plates 40 high, each perhaps with a hole and a label in it. */
function plates(...list: Plate[]): Buffer {
  const tags = list.flatMap(({ x, width, y = 0, hole, label }): (string | number)[] => [
    ...[0, 'LWPOLYLINE', 8, 'PLY-12', 90, 4, 70, 1],
    ...[10, x, 20, y, 10, x + width, 20, y, 10, x + width, 20, y + 40, 10, x, 20, y + 40],
    ...(hole ? [0, 'CIRCLE', 8, 'PLY-12', 10, x + width / 2, 20, y + 20, 40, hole] : []),
    ...(label ? [0, 'TEXT', 8, 'PLY-12', 10, x + 3, 20, y + 3, 40, 5, 1, label] : []),
  ]);
  const head = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'];
  return Buffer.from([...head, ...tags, 0, 'ENDSEC', 0, 'EOF'].join('\n') + '\n');
}

/** A job with one drawing whose outlines are parts, on the page of its parts. */
async function partsOf(page: Page, job: string, file: Buffer): Promise<void> {
  await newJob(app, page, job);
  await dropFiles(page, [{ name: 'screens.dxf', buffer: file }]);
  await expect(page.getByRole('link', { name: /screens\.dxf/ })).toBeVisible();
  await page.getByRole('navigation', { name: 'Pages of the job' }).getByText('Parts').click();
  await page.getByRole('checkbox', { name: 'screens.dxf' }).check();
  await expect(lines(page).first()).toBeVisible();
}
const table = (page: Page) => page.getByRole('table', { name: 'Parts' });
const lines = (page: Page) => table(page).locator('[data-part]');
const line = (page: Page, size: string) => lines(page).filter({ hasText: size });
const coverage = (page: Page) => page.getByTestId('coverage');
const numbers = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Number those without' }).click();
  await page.getByRole('button', { name: /^Give \d+ number/ }).click();
  await expect(page.getByTestId('numbers')).toContainText('a number of its own');
};

test('numbers are proposed, given, taken back, and kept over a revision with one part new, one gone, one moved', async ({
  page,
}) => {
  await partsOf(page, 'Numbers', plates({ x: 0, width: 30, hole: 5 }, { x: 60, width: 50 }, { x: 150, width: 70 }));
  await expect(page.getByTestId('numbers')).toContainText('3 parts without a number');
  await page.getByRole('button', { name: 'Number those without' }).click();
  await expect(line(page, '30 × 40 mm')).toContainText('01proposed');
  await page.getByRole('button', { name: 'Leave', exact: true }).click();
  await expect(line(page, '30 × 40 mm')).toContainText('no number');
  await numbers(page);
  await expect(line(page, '50 × 40 mm')).toContainText('02');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('numbers')).toContainText('3 parts without a number');
  await numbers(page);

  // The plate of 50 is gone, one of 90 is new and stands first, that of 70 was moved.
  await line(page, '30 × 40 mm').getByRole('link').click();
  await expect(page.getByTestId('part')).toContainText('Part 01');
  await expect(page.getByTestId('part')).toContainText('1 outline, 1 hole');
  await page.keyboard.press('1');
  await unfold(page, 'Revision');
  await page.getByLabel('Newer file of this drawing').setInputFiles([
    {
      name: 'screens.dxf',
      mimeType: 'application/octet-stream',
      buffer: plates({ x: -200, width: 90 }, { x: 400, width: 70 }, { x: 0, width: 30, hole: 5 }),
    },
  ]);
  await expect(page.getByText(/Revision 2 is in/)).toBeVisible();
  await page.getByRole('link', { name: 'Numbers' }).click();
  await page.getByRole('navigation', { name: 'Pages of the job' }).getByText('Parts').click();
  await expect(line(page, '90 × 40 mm')).toContainText('no number');
  await expect(line(page, '70 × 40 mm')).toContainText('03');
  await expect(line(page, '30 × 40 mm')).toContainText('01');
  await expect(page.getByText('Gone, and not given again: 02')).toBeVisible();
  await numbers(page);
  await expect(line(page, '90 × 40 mm')).toContainText('04');
});

test('a delivery stops at the part without a number, and goes through once it has one; one part goes out alone', async ({
  page,
}) => {
  await partsOf(page, 'Stops', plates({ x: 0, width: 30, hole: 5 }, { x: 60, width: 50 }));
  await line(page, '30 × 40 mm').getByRole('checkbox').check();
  await page.getByLabel('Number', { exact: true }).fill('A-7');
  await page.getByLabel('Number', { exact: true }).press('Enter');
  await expect(line(page, '30 × 40 mm')).toContainText('A-7');
  await line(page, '50 × 40 mm').getByRole('link').click();
  await expect(page.getByTestId('part')).toContainText('No number yet');
  await page.keyboard.press('4');
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByLabel('Each part needs a number of its own').check();
  // It is foretold, and told again to whoever asks for it all the same.
  const refused = page.getByText('It cannot be written: a part has no number: 50 × 40.');
  await expect(refused).toHaveCount(1);
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await expect(refused).toHaveCount(2);
  await expect(page.locator('[data-delivery]')).toHaveCount(0);
  await page.getByTestId('parts-asked').getByRole('link', { name: 'Parts of the job' }).click();
  await numbers(page);
  await expect(coverage(page)).toContainText('2 parts = 0 delivered + 0 left out + 2 still to go out');
  await page.goBack();
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  const done = page.locator('[data-delivery=done]');
  await expect(done.getByRole('link', { name: /proof holds/i })).toBeVisible({ timeout: 60_000 });
  await page.getByTestId('parts-asked').getByRole('link', { name: 'Parts of the job' }).click();
  await expect(coverage(page)).toContainText('2 parts = 2 delivered + 0 left out + 0 still to go out');

  await line(page, '30 × 40 mm').getByRole('checkbox').check();
  await page.getByRole('link', { name: 'Write part A-7 alone' }).click();
  await expect(page.getByTestId('parts-asked')).toContainText('Part A-7 alone');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  const alone = done.filter({ hasText: 'A-7.dxf' });
  await expect(alone.getByRole('link', { name: /proof holds/i })).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await alone.getByRole('link', { name: 'Download' }).click();
  const dxf = readFileSync((await (await download).path())!, 'utf8').split(/\r?\n/);
  expect([dxf.filter((l) => l === 'LWPOLYLINE').length, dxf.filter((l) => l === 'CIRCLE').length]).toEqual([1, 1]);
  await alone.getByRole('link', { name: /proof holds/i }).click();
  await expect(page.getByText('This file holds part A-7 alone')).toBeVisible();
});

test('the table is copied, corrected and pasted back: what it changes is shown first', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await partsOf(page, 'Table', plates({ x: 0, width: 30, hole: 5 }, { x: 60, width: 50 }, { x: 150, width: 70 }));
  await numbers(page);
  await page.getByRole('button', { name: 'Copy table' }).click();
  await expect(page.getByText('3 lines are copied')).toBeVisible();
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n').map((l) => l.split('\t'));
  const [head] = copied as [string[]];
  const at = (name: string): number => head.indexOf(name);
  expect(copied[1]![at('holes')]).toBe('1 × Ø 10');
  // 30 × 40 less a hole of radius 5.
  expect(Number(copied[1]![at('area')])).toBeCloseTo(1200 - 25 * Math.PI, 5);

  const correcting = page.getByRole('dialog');
  await page.getByRole('button', { name: 'Take corrections in' }).click();
  await correcting.getByLabel('Table').fill(copied.map((l) => l.join('\t')).join('\n'));
  await expect(page.getByTestId('corrections')).toContainText('0 parts would change, 3 say what is so already');
  copied[1]![at('material')] = 'MDF';
  copied[2]![at('left out because')] = 'bought in';
  copied[3]![at('quantity')] = '4';
  copied.push(['', '77']);
  await correcting.getByLabel('Table').fill(copied.map((l) => l.join('\t')).join('\n'));
  await expect(page.getByTestId('corrections')).toContainText('material: nothing → MDF');
  await expect(page.getByTestId('corrections')).toContainText('Line 5: no part has the number 77.');
  await correcting.getByRole('button', { name: 'Change 3 parts' }).click();
  await expect(correcting).toHaveCount(0);
  await expect(line(page, '30 × 40 mm')).toContainText('MDF');
  await expect(line(page, '50 × 40 mm')).toContainText('left outbought in');
  await expect(coverage(page)).toContainText('6 parts = 0 delivered + 1 left out + 5 still to go out');
  await page.reload();
  await expect(line(page, '70 × 40 mm').getByRole('cell').nth(6)).toHaveText('4');
});

test('parts are found live by rules, told apart in the picture, and chosen by a click', async ({ page }) => {
  const file = plates({ x: 0, width: 30, hole: 5, label: 'No 7' }, { x: 60, width: 50 }, { x: 62, width: 3, y: 100 });
  await partsOf(page, 'Found', file);
  await line(page, '50 × 40 mm').getByRole('link').click();
  await expect(page.getByTestId('part')).toContainText('50 × 40 mm');
  await page.getByRole('button', { name: 'Show all' }).click();
  await clickAt(page, 20, 20);
  await expect(page.getByTestId('part')).toContainText('1 outline, 1 hole, 1 label');
  const found = page.getByTestId('found');
  await expect(found).toContainText('3 parts');
  await page.getByLabel('Labels read').fill('No {number}');
  await page.getByLabel('Labels read').press('Enter');
  await page.getByRole('button', { name: 'Keep for the job' }).click();
  await expect(page.getByTestId('part')).toContainText('Part 7');
  await page.getByRole('link', { name: 'Parts of the job' }).click();
  await expect(line(page, '30 × 40 mm')).toContainText('7by the drawing');
});
