import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

const line = (handle: string, a: number, b: number, c: number, d: number) => [
  0,
  'LINE',
  5,
  handle,
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
const circle = (handle: string, x: number, y: number, r: number) => [
  0,
  'CIRCLE',
  5,
  handle,
  8,
  'CUT',
  10,
  x,
  20,
  y,
  30,
  0,
  40,
  r,
];
const words = (handle: string, text: string) => [
  0,
  'TEXT',
  5,
  handle,
  8,
  'NOTES',
  10,
  10,
  20,
  60,
  30,
  0,
  40,
  5,
  1,
  text,
];
const file = (unit: number, ...entities: (string | number)[][]) =>
  Buffer.from(
    [
      0,
      'SECTION',
      2,
      'HEADER',
      9,
      '$ACADVER',
      1,
      'AC1024',
      9,
      '$INSUNITS',
      70,
      unit,
      0,
      'ENDSEC',
      0,
      'SECTION',
      2,
      'ENTITIES',
      ...entities.flat(),
      0,
      'ENDSEC',
      0,
      'EOF',
      '',
    ].join('\n'),
  );

test('a newer file: decisions are taken over, and what is new, gone, moved and changed is shown', async ({ page }) => {
  await newJob(app, page, 'Revisions');
  const first = file(
    4,
    line('A1', 0, 0, 100, 0),
    line('A2', 0, 0, 0, 80),
    circle('A3', 20, 20, 5),
    circle('A4', 60, 20, 8),
    words('A5', 'Panel A'),
  );
  await dropFiles(page, [
    { name: 'panel.dxf', buffer: first },
    { name: 'mullion.dxf', buffer: readFileSync(demoFile('kestrel-row-mullion.dxf')) },
  ]);
  await page.getByRole('link', { name: /panel\.dxf/ }).click();
  await unfold(page, 'Origin');
  await page
    .getByRole('radiogroup', { name: 'Origin' })
    .getByRole('radio', { name: /Lower left of the drawing/ })
    .check();
  const decisions = page.getByRole('list', { name: 'Decisions' });
  await unfold(page, 'Decisions', 'Revision');
  await expect(decisions).toContainText('lower left of the drawing');

  // The circle at 20, 20 goes up by 10; the one at 60, 20 is gone; a smaller one is new; the text says something else.
  const second = file(
    4,
    line('A1', 0, 0, 100, 0),
    line('A2', 0, 0, 0, 80),
    circle('A3', 20, 30, 5),
    circle('B1', 80, 70, 3),
    words('A5', 'Panel B'),
  );
  await page
    .getByLabel('Newer file of this drawing')
    .setInputFiles({ name: 'panel-b.dxf', buffer: second, mimeType: 'application/octet-stream' });
  await expect(page.getByText('Revision 2 is in; your decisions still apply.')).toBeVisible();
  await expect(decisions).toContainText('lower left of the drawing');
  await page.getByRole('link', { name: 'Compare with an earlier one' }).click();
  await expect(page.getByTestId('comparison')).toHaveText('2 the same, 1 changed, 1 moved, 1 new, 1 gone');
  const list = page.getByRole('list', { name: 'Differences' });
  await expect(list.getByRole('button', { name: /“Panel A” is now “Panel B”/ })).toBeVisible();
  await expect(list.getByRole('button', { name: /circle: moved by 0, 10/ })).toBeVisible();
  await page.keyboard.press(']');
  await expect(list.getByRole('button').first()).toHaveAttribute('aria-current', 'true');
  const before = await page.getByTestId('viewport').getAttribute('data-view');
  await list.getByRole('button', { name: /circle: gone/ }).click();
  await expect(page.getByTestId('viewport')).not.toHaveAttribute('data-view', before!);
  await page.getByRole('checkbox', { name: /moved/ }).uncheck();
  await expect(list.getByRole('listitem')).toHaveCount(3);

  // Decisions go to another drawing of the job by copying.
  await page.keyboard.press('1');
  const here = page.url();
  const copy = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Copy to other drawings …' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('checkbox', { name: /Origin/ }).check();
    await dialog.getByRole('checkbox', { name: /mullion/ }).check();
    await dialog.getByRole('button', { name: 'Copy to 1 drawing' }).click();
    await expect(page.getByText('Decisions copied to 1 drawing.')).toBeVisible();
  };
  await copy();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(page.getByText('Decisions copied to 1 drawing.')).toBeHidden();
  await page.getByRole('link', { name: 'Revisions' }).click();
  await page.getByRole('link', { name: /mullion\.dxf/ }).click();
  await expect(page.getByTestId('viewport')).toHaveAttribute('data-view', /\d/);
  await unfold(page, 'Origin');
  await expect(page.getByRole('list', { name: 'Decisions' }).getByText('lower left of')).toHaveCount(0);
  await page.goto(here);
  await copy();
  await page.getByRole('link', { name: 'Revisions' }).click();
  await page.getByRole('link', { name: /mullion\.dxf/ }).click();
  await expect(page.getByRole('list', { name: 'Decisions' })).toContainText('lower left of the drawing');
});

test('a typed-over dimension is found; a threshold is kept with the job, in each drawing’s unit', async ({ page }) => {
  await newJob(app, page, 'Thresholds');
  await dropFiles(page, [
    { name: 'section.dxf', buffer: readFileSync(demoFile('kestrel-row-section.dxf')) },
    { name: 'mullion.dxf', buffer: readFileSync(demoFile('kestrel-row-mullion.dxf')) },
  ]);
  await page.getByRole('link', { name: /section\.dxf/ }).click();
  await page.getByRole('link', { name: /Check/ }).click();
  const typed = page.getByRole('region', { name: 'Typed-over dimensions' });
  await typed.getByRole('button').first().click();
  await typed.getByRole('button', { name: /^The text says 400, the drawing measures 370 mm/ }).click();
  await expect(typed.getByRole('button', { name: /^The text says 400/ })).toHaveAttribute('aria-current', 'true');

  // The next finding, and the one before, by their keys.
  await page.keyboard.press(']');
  await expect(typed.getByRole('button', { name: /^The text says 400/ })).toHaveAttribute('aria-current', 'false');
  await page.keyboard.press('[');
  await expect(typed.getByRole('button', { name: /^The text says 400/ })).toHaveAttribute('aria-current', 'true');
  const opened = page.waitForEvent('popup');
  await page.getByRole('button', { name: 'Open it as a page' }).click();
  await expect((await opened).getByText('The text says 400, the drawing measures 370 mm')).toBeVisible();

  const outlines = page.getByRole('region', { name: 'Open outlines' });
  const calm = page.getByRole('button', { name: /checks without a finding/ });
  await calm.click();
  await outlines.getByRole('button').first().click();
  await outlines.getByRole('checkbox', { name: /^Widest gap to report: automatic/ }).uncheck();
  await outlines.getByRole('textbox', { name: 'Widest gap to report' }).fill('25.4');
  await page.keyboard.press('Enter');
  await expect(outlines.getByRole('button', { name: 'Back to the standard settings' })).toBeVisible();
  await page.goBack();
  await page.getByRole('link', { name: 'Thresholds' }).click();
  await page.getByRole('link', { name: /mullion\.dxf/ }).click();
  await page.getByRole('link', { name: /Check/ }).click();
  await calm.click();
  await expect(outlines).toContainText('set for this job');
  await outlines.getByRole('button').first().click();
  await expect(outlines.getByRole('textbox', { name: 'Widest gap to report' })).toHaveValue('1');
});

test('a part in a frame, kinds and plane are decided, and the delivery is proven', async ({ page }) => {
  await newJob(app, page, 'Part');
  await dropFiles(page, [{ name: 'site.dwg', buffer: readFileSync(demoFile('kestrel-row-site-plan.dwg')) }]);
  await page.getByRole('link', { name: /site\.dwg/ }).click();
  await page.getByTestId('unit-evidence').getByRole('button', { name: 'Use mm' }).click();
  await unfold(page, 'Part');
  await page.getByRole('button', { name: 'Draw a frame' }).click();
  const box = (await page.getByTestId('viewport').boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height - 40, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByTestId('frame-mark')).toBeVisible();
  await unfold(page, 'Blocks, dimensions, hatches');
  await page.getByLabel(/^Blocks \(/).selectOption('group');
  await page.getByLabel(/^Dimensions and leaders/).selectOption('lines');
  const decisions = page.getByRole('list', { name: 'Decisions' });
  await unfold(page, 'Decisions');
  await expect(decisions.getByRole('listitem')).toHaveCount(3);
  await page.keyboard.press('4');
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /proof holds/i }).click({ timeout: 20_000 });
  await expect(page.getByTestId('verdict')).toHaveText(/^The proof holds, but/);
  await expect(page.locator('[data-item=accounted]')).toContainText('left out on purpose');
});
