import { execFileSync } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, inked, newJob, pageAt, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

const bytes = (name: string): Buffer => readFileSync(demoFile(name));
const unitless = (): Buffer =>
  Buffer.from(
    bytes('kestrel-row-mullion.dxf')
      .toString('latin1')
      .replace(/ {2}9\r\n\$INSUNITS\r\n 70\r\n1\r\n/, ''),
    'latin1',
  );

test('a drawing without a unit: measured, declared, delivered in millimetres, proven, and still there after a restart', async ({
  page,
}) => {
  await newJob(app, page, 'Mullion');
  await dropFiles(page, [{ name: 'mullion.dxf', buffer: unitless() }]);
  await page.getByRole('link', { name: /mullion\.dxf/ }).click();

  // Station one: nothing is guessed.
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'undecided');
  await expect.poll(() => inked(page)).toBeGreaterThan(500);

  // Measure the width of the profile between the ends of its straight sides.
  await unfold(page, 'Known size');
  await page.getByRole('button', { name: 'Measure a length' }).click();
  await clickAt(page, 0.1875, 0.01);
  await clickAt(page, 3.8125, 0.01);
  await expect(page.getByTestId('measured-raw')).toHaveText('3.625');
  await expect(page.getByTestId('measured')).toContainText('Choose the unit first');

  // Declare inches: the same length in other units.
  await page.getByRole('radiogroup', { name: 'Unit' }).getByRole('radio', { name: /^in/ }).check();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'changed');
  await expect(page.getByTestId('measured')).toContainText('92.075');

  // Its true length is 7.25 in: everything is twice as large.
  await page.getByLabel('True length').fill('7.25');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Scaled by/)).toContainText('2');
  await expect(page.locator('[data-carry-over=scale]')).toHaveAttribute('data-state', 'changed');
  await page.getByRole('button', { name: /Undo/ }).click();
  await expect(page.locator('[data-carry-over=scale]')).toHaveAttribute('data-state', 'kept');

  // The origin on the lower left corner of the profile's middle line.
  await unfold(page, 'Origin');
  await page.getByRole('button', { name: 'Pick a point' }).click();
  await clickAt(page, 2, 2.5);
  await expect(page.locator('[data-carry-over=origin]')).toHaveAttribute('data-state', 'changed');

  // Station four.
  await page.keyboard.press('4');
  await page.getByLabel('Format').selectOption('svg');
  await page.getByLabel('Unit', { exact: true }).selectOption('mm');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await expect(page.locator('[data-delivery=done]')).toBeVisible({ timeout: 20_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const svg = readFileSync((await (await download).path())!, 'utf8');
  // 4 in of profile are 101.6 mm; 2, 2.5 in is the origin: the gasket's centre (−0.0625, 1) lies at −52.3875, 38.1.
  // Lines are a quarter of a millimetre wide, half of it beyond the outline on either side.
  expect(svg).toMatch(/width="127.25mm"/);
  expect(svg).toMatch(/<circle cx="-52.3875" cy="38.1" r="1.5875"/);

  // Station five.
  await page.getByRole('link', { name: /proof holds/i }).click();
  await expect(page.getByTestId('verdict')).toHaveText('The proof holds.');
  await expect(page.locator('[data-item=size]')).toHaveAttribute('data-state', 'kept');

  // A copy with one colour off by a digit does not hold.
  await page.getByLabel('Copy to prove').setInputFiles({
    name: 'touched.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(svg.replace('#00ff00', '#00fe00')),
  });
  await expect(page.getByTestId('verdict')).toHaveText('The proof does not hold.');
  await expect(page.locator('[data-item=stroke-colours]')).toHaveAttribute('data-state', 'atRisk');

  await app.stop('SIGKILL');
  await app.start();
  await page.reload();
  await expect(page.getByTestId('verdict')).toHaveText('The proof holds.');
  await page.keyboard.press('1');
  await unfold(page, 'Unit', 'Origin');
  await expect(page.getByRole('radiogroup', { name: 'Unit' }).getByRole('radio', { name: /^in/ })).toBeChecked();
  await expect(
    page.getByRole('radiogroup', { name: 'Origin' }).getByRole('radio', { name: /picked point/ }),
  ).toBeChecked();
});

test('several files at once: the broken one says what, where and what to do; the others are there', async ({
  page,
}) => {
  await newJob(app, page, 'Several');
  await dropFiles(page, [
    { name: 'front.dxf', buffer: bytes('kestrel-row-front-elevation.dxf') },
    { name: 'wrong.dxf', buffer: Buffer.from('%PDF-1.7 nothing to see') },
    { name: 'panel.svg', buffer: bytes('kestrel-row-wayfinding-panel.svg') },
  ]);
  await expect(page.getByRole('alert')).toContainText('The PDF is damaged');
  await expect(page.getByRole('list', { name: 'Drawings' }).getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: 'Dismiss wrong.dxf' }).click();
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('pan, zoom at the cursor, layers on and off, and what comes along', async ({ page }) => {
  await newJob(app, page, 'Layers');
  await dropFiles(page, [{ name: 'front.dxf', buffer: bytes('kestrel-row-front-elevation.dxf') }]);
  await page.getByRole('link', { name: /front\.dxf/ }).click();
  await expect.poll(() => inked(page)).toBeGreaterThan(9000);
  const all = await inked(page);

  await unfold(page, 'Layers');
  await page.getByRole('button', { name: 'GROUND in view' }).click();
  await expect.poll(() => inked(page)).toBeLessThan(all - 1000);
  await page.getByRole('button', { name: 'GROUND in view' }).click();

  // A zoom holds the point under the cursor; Home shows all again.
  const before = await pageAt(page, 3600, 2230);
  await page.mouse.move(before.x, before.y);
  const unzoomed = await page.getByTestId('viewport').getAttribute('data-view');
  await page.mouse.wheel(0, -600);
  await expect(page.getByTestId('viewport')).not.toHaveAttribute('data-view', unzoomed!);
  const held = await pageAt(page, 3600, 2230);
  expect(Math.hypot(held.x - before.x, held.y - before.y)).toBeLessThan(3);
  const view = await page.getByTestId('viewport').getAttribute('data-view');
  await page.mouse.down();
  await page.mouse.move(before.x + 80, before.y + 30, { steps: 4 });
  await page.mouse.up();
  expect(await page.getByTestId('viewport').getAttribute('data-view')).not.toBe(view);
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect.poll(() => inked(page)).toBeGreaterThan(all - 200);

  // Frozen and off layers stay behind unless asked for.
  await expect(page.getByText('9 of 11 taken in')).toBeVisible();
  await page.getByText('All', { exact: true }).click();
  await expect(page.getByText('11 of 11 taken in')).toBeVisible();
  await page.getByLabel('Take in AXES').uncheck();
  await expect(page.getByText('10 of 11 taken in')).toBeVisible();
});

test('a gap is found and shown; steps are added, ordered, switched off and undone', async ({ page }) => {
  await newJob(app, page, 'Steps');
  const torn = bytes('kestrel-row-mullion.dxf')
    .toString('latin1')
    .replace(/(LWPOLYLINE[\s\S]*?70\r\n)1\r\n/, '$10\r\n');
  await dropFiles(page, [{ name: 'torn.dxf', buffer: Buffer.from(torn, 'latin1') }]);
  await page.getByRole('link', { name: /torn\.dxf/ }).click();
  await expect(page.getByTestId('strip')).toBeVisible();
  await page.keyboard.press('2');
  // The last side of the outline, 0.1875 across each corner's chord, is missing: √2 · 0.1875.
  await expect(page.getByText('checking …')).toHaveCount(0);
  await page.getByRole('button', { name: /checks without a finding/ }).click();
  await page.getByRole('region', { name: 'Open outlines' }).getByRole('button').first().click();
  await page.getByRole('checkbox', { name: /^Widest gap to report: automatic/ }).uncheck();
  await page.getByRole('textbox', { name: 'Widest gap to report' }).fill('0.5');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/does not close: its ends are 0\.2652 in apart/)).toBeVisible();
  await page.getByText(/does not close/).click();

  await page.keyboard.press('3');
  const add = async (name: RegExp): Promise<void> => {
    await page.getByRole('button', { name: 'Add a step' }).click();
    await page.getByRole('button', { name }).click();
  };
  const take = () => page.getByRole('button', { name: 'Take this step' }).click();
  await add(/Set true size/);
  await page.getByLabel('True length').fill('2');
  await page.keyboard.press('Enter');
  // Seen before it is taken.
  await expect(page.getByTestId('preview')).toContainText('Would change');
  await take();
  await expect(page.getByTestId('outcome')).toContainText('10 × 6.2 in');
  await add(/Shift origin/);
  await page.getByLabel('The point, x').fill('1');
  await page.keyboard.press('Enter');
  await take();
  await expect(page.getByTestId('outcome')).toContainText('-2, -1.2');
  // The other way round the shift is doubled too.
  await page.getByRole('button', { name: 'Move Shift origin', exact: true }).focus();
  for (const key of ['Space', 'ArrowUp', 'Space']) {
    await page.keyboard.press(key);
    // Lifting, moving and laying down each take a moment to be seen.
    await page.waitForTimeout(400);
  }
  await expect(page.getByTestId('outcome')).toContainText('-3, -1.2');
  await page.locator('[data-step=set-true-size]').getByLabel('on').uncheck();
  await expect(page.getByTestId('outcome')).toContainText('-1.5, -0.6');
  await page.getByRole('button', { name: /Undo/ }).click();
  await expect(page.getByTestId('outcome')).toContainText('-3, -1.2');
});

test('jobs are renamed, archived and deleted, with a way back', async ({ page }) => {
  await newJob(app, page, 'Short-lived');
  await page.goto(app.url);
  const more = (name: string) => page.getByRole('button', { name: `More for ${name}` });
  await more('Short-lived').click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Longer-lived');
  await page.getByRole('button', { name: 'Rename' }).click();
  await more('Longer-lived').click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByText('Longer-lived', { exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Longer-lived', { exact: true })).toBeVisible();
  await more('Longer-lived').click();
  await page.getByRole('menuitem', { name: 'Archive' }).click();
  await expect(page.getByRole('button', { name: /Archive \(1\)/ })).toBeVisible();
});

test('while 20 MB of DXF are being read the page answers, and the drawing can be dragged', async ({ page }) => {
  await newJob(app, page, 'Large');
  const maker = fileURLToPath(new URL('../scripts/bench-file.mjs', import.meta.url));
  const file = join(app.folder, 'large.dxf');
  execFileSync(process.execPath, [
    '-e',
    `import(${JSON.stringify(maker)}).then((m) => m.makeFile(${JSON.stringify(file)}, 110000))`,
  ]);
  expect(statSync(file).size).toBeGreaterThan(20_000_000);
  await page.getByLabel('Drawings to take in').setInputFiles(file);
  await page.getByRole('link', { name: /large\.dxf/ }).click({ timeout: 60_000 });

  // Still being read: other things on the page work.
  await expect(page.getByText(/Being (read|drawn)/)).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
  await expect(page.getByText(/Being (read|drawn)/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: 'Keys' })).toHaveCount(0);

  const viewport = page.getByTestId('viewport');
  await expect(viewport).toHaveAttribute('data-view', /\d/, { timeout: 60_000 });
  await expect(page.getByText(/Being (read|drawn)/)).toHaveCount(0, { timeout: 60_000 });
  const view = await viewport.getAttribute('data-view');
  await page.mouse.move(500, 400);
  await page.mouse.down();
  await page.mouse.move(560, 430, { steps: 3 });
  await page.mouse.up();
  await expect(viewport).not.toHaveAttribute('data-view', view!);

  // The checks of it take a while: they can be stopped, and begun anew.
  await page.keyboard.press('2');
  // At once: waiting for a calm frame of a drawing in software takes longer than the checks do. They begin anew when the
  // drawing was prepared with the fonts of its job, and are stopped again.
  await page.getByRole('button', { name: 'Stop', exact: true }).waitFor({ state: 'attached', timeout: 60_000 });
  await expect(async () => {
    const stop = page.getByRole('button', { name: 'Stop', exact: true });
    if ((await stop.count()) > 0) await stop.dispatchEvent('click', undefined, { timeout: 500 });
    await expect(page.getByText(/Stopped after \d+ of \d+ checks\./)).toBeVisible({ timeout: 1000 });
  }).toPass({ timeout: 30_000, intervals: [50] });
  await page.getByRole('button', { name: 'Check anew' }).click();
  await expect(page.getByText(/Stopped after/)).toHaveCount(0);
});

test('an SVG in pixels asks how many make an inch, and is as large as that makes it', async ({ page }) => {
  await newJob(app, page, 'Pixels');
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="144" height="72"><rect width="144" height="72" fill="#c4512d"/></svg>';
  await dropFiles(page, [{ name: 'emblem.svg', buffer: Buffer.from(svg) }]);
  await page.getByRole('link', { name: /emblem\.svg/ }).click();
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'undecided');
  await page.getByRole('group', { name: 'Pixels per inch' }).getByRole('radio', { name: '72' }).check();
  const inches = page.getByRole('radiogroup', { name: 'Unit' }).getByRole('radio', { name: /^in/ });
  await expect(inches).toHaveAccessibleName(/^in 2 × 1 50\.8 × 25\.4 mm$/);
  await inches.check();
  await page.getByRole('group', { name: 'Pixels per inch' }).getByRole('radio', { name: '96' }).check();
  await expect(inches).toHaveAccessibleName(/^in 1\.5 × 0\.75 /);
  await expect(page.locator('[data-carry-over=units]')).toHaveAttribute('data-state', 'changed');
});

test('a section with a sheet: looked at in both, written as binary R12 with a template of the job, and proven', async ({
  page,
}) => {
  await newJob(app, page, 'Section');
  const name = 'kestrel-row-section.dxf';
  await dropFiles(page, [
    { name, buffer: bytes(name) },
    { name: 'office.dxf', buffer: bytes('kestrel-row-front-elevation.dxf') },
  ]);
  await expect(page.getByRole('link', { name: /office\.dxf/ })).toBeVisible();
  await page.getByRole('link', { name: /kestrel-row-section\.dxf/ }).click();
  await expect.poll(() => inked(page)).toBeGreaterThan(500);
  const viewport = page.getByTestId('viewport');
  await expect(viewport).toHaveAttribute('data-view', /\d/);
  const model = await viewport.getAttribute('data-view');

  // The sheet is 420 wide where model space is metres; its view is another one.
  await unfold(page, 'Spaces');
  await page.getByRole('button', { name: 'Section 1-50' }).click();
  await expect(page.getByRole('button', { name: 'Section 1-50' })).toHaveAttribute('aria-pressed', 'true');
  await expect.poll(() => viewport.getAttribute('data-view')).not.toBe(model);
  await expect.poll(() => inked(page)).toBeGreaterThan(500);
  await page
    .getByRole('list', { name: 'Spaces' })
    .getByRole('button', { name: /Model space/ })
    .click();
  await expect.poll(() => viewport.getAttribute('data-view')).toBe(model);

  await page.getByRole('link', { name: /Deliver/ }).click();
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByLabel('Version').selectOption('R12');
  await page.getByLabel('Binary form').check();
  await page.getByLabel('Template').selectOption({ label: 'office.dxf' });
  // What would become of it is said before it is written.
  await expect(page.getByTestId('forecast').locator('[data-carry-over=units]')).toContainText('left out');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await expect(page.getByRole('link', { name: /proof holds/i })).toBeVisible({ timeout: 30_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const file = readFileSync(await (await download).path());
  expect(file.subarray(7, 17).toString('latin1')).toBe(' Binary DX'.slice(0, 10));
  expect(file.includes(Buffer.from('POSTS'))).toBe(true);
  await page.getByRole('link', { name: /proof holds/i }).click();
  await expect(page.getByTestId('proof').getByText(/cannot state its unit/)).toBeVisible();
});
