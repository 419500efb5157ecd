import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

const SHELL = fileURLToPath(new URL('../cli/bin/scalaria.mjs', import.meta.url));

/** A DXF in millimetres of lines, each on its layer, from the left to so far. */
function lines(...list: [layer: string, y: number, to: number][]): Buffer {
  const tags = list.flatMap(([layer, y, to]) => [0, 'LINE', 8, layer, 10, 0, 20, y, 11, to, 21, y]);
  const head = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'];
  return Buffer.from([...head, ...tags, 0, 'ENDSEC', 0, 'EOF'].join('\n') + '\n');
}
/** A plate of 250 × 80 with a bore of 12. */
const plate = (width = 250): Buffer => {
  const tags = [
    ...[0, 'LWPOLYLINE', 8, 'PLATE', 90, 4, 70, 1],
    ...[10, 0, 20, 0, 10, width, 20, 0, 10, width, 20, 80, 10, 0, 20, 80],
    ...[0, 'CIRCLE', 8, 'PLATE', 10, 40, 20, 30, 40, 6],
  ];
  const head = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'];
  return Buffer.from([...head, ...tags, 0, 'ENDSEC', 0, 'EOF'].join('\n') + '\n');
};

const section = (page: Page, title: string) => page.getByRole('region', { name: title, exact: true });
const open = async (page: Page, title: string): Promise<void> => {
  const head = section(page, title).first().getByRole('button').first();
  if ((await head.getAttribute('aria-expanded')) === 'false') await head.click();
};
const pagesOf = (page: Page) => page.getByRole('navigation', { name: 'Pages of the job' });

async function takeIn(page: Page, job: string, files: { name: string; buffer: Buffer }[]): Promise<void> {
  await newJob(app, page, job);
  // One after the other, so that they stand in this order.
  for (const f of files) {
    await dropFiles(page, [f]);
    await expect(page.getByRole('link', { name: new RegExp(f.name) })).toBeVisible();
  }
}
/** A recipe, made in the page, that writes a file for each layer. */
async function newRecipe(page: Page, title: string): Promise<void> {
  await page.goto(`${app.url}/recipes`);
  await page.getByRole('button', { name: 'New recipe' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill(title);
  await page.getByRole('button', { name: 'Make recipe' }).click();
  await expect(page.getByRole('region', { name: `Recipe ${title}` })).toBeVisible();
}
async function unpacked(page: Page): Promise<{ folder: string; names: string[] }> {
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: /^Save .*\.zip$/ }).click();
  const file = await saving;
  const folder = mkdtempSync(join(tmpdir(), 'scalaria-set-'));
  await file.saveAs(join(folder, 'set.zip'));
  execFileSync('unzip', ['-q', 'set.zip', '-d', 'out'], { cwd: folder });
  return { folder: join(folder, 'out'), names: readdirSync(join(folder, 'out')).sort() };
}

test('a set of three drawings, from the recipe to the archive, verified by two programs that are not the page', async ({
  page,
}) => {
  await takeIn(page, 'Set of three', [
    { name: 'plan.dxf', buffer: lines(['WALLS', 0, 90], ['DOORS', 5, 40], ['NOTES', 9, 10]) },
    { name: 'elevation.dxf', buffer: lines(['WALLS', 0, 70], ['ROOF', 30, 80]) },
    { name: 'section.dxf', buffer: lines(['WALLS', 0, 60], ['GROUND', -5, 99]) },
  ]);
  const job = page.url();
  await newRecipe(page, 'Shop by layer');
  await page.getByLabel('Receiver').fill('LS');
  await open(page, 'Files');
  await page.getByLabel('A file for each').selectOption('layers');
  await open(page, 'Names');
  await page.getByRole('button', { name: 'Add what is known' }).click();
  await page.getByLabel('Says').selectOption('receiver');
  await page.getByRole('button', { name: 'Add fixed words' }).click();
  await page.getByRole('button', { name: 'Add a running number' }).click();
  await page.getByRole('button', { name: 'Add fixed words' }).click();
  await page.getByRole('button', { name: 'Add what is known' }).click();
  await page.getByLabel('Says').nth(1).selectOption('layer');
  await expect(page.getByTestId('name-example')).toContainText('LS-001-CUT.dxf');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByRole('region', { name: 'Changes' })).toHaveCount(0);

  await page.goto(job);
  await pagesOf(page).getByText('Deliveries').click();
  await page.getByRole('button', { name: 'New set' }).click();
  await page.getByRole('combobox', { name: 'Recipe', exact: true }).selectOption({ label: 'Shop by layer' });
  const planned = page.getByRole('table', { name: 'Files of the set' });
  await expect(planned.getByText('LS-001-WALLS.dxf')).toBeVisible();
  await expect(page.getByTestId('sums')).toContainText('7 files = 7 to be written');
  // One is left out by hand, and told.
  await page.getByRole('checkbox', { name: 'Write LS-003-NOTES.dxf' }).uncheck();
  await expect(page.getByTestId('sums')).toContainText('6 to be written + 1 left out by hand');
  await page.getByRole('button', { name: 'Write 6 files' }).click();
  await expect(page.getByTestId('set-state')).toHaveText('6 files = 6 proven');
  await expect(page.getByText('All sums of the manifest add up.')).toBeVisible();

  const { folder, names } = await unpacked(page);
  expect(names).toEqual([
    'LS-001-WALLS.dxf',
    'LS-002-DOORS.dxf',
    'LS-004-WALLS.dxf',
    'LS-005-ROOF.dxf',
    'LS-006-WALLS.dxf',
    'LS-007-GROUND.dxf',
    'manifest.csv',
    'manifest.json',
    'report.html',
  ]);
  const verified = execFileSync('node', [SHELL, 'verify', folder], { encoding: 'utf8' });
  expect(verified).toContain('all 6 files are as the manifest says');
  const report = await page.context().newPage();
  await report.goto(`file://${join(folder, 'report.html')}`);
  await expect(report.getByText('6 files: all proofs hold.')).toBeVisible();
  await expect(report.getByText('left out by hand')).toBeVisible();
  await report.close();

  // A newer revision: the set is done again, and says what differs.
  await page.getByRole('link', { name: 'plan.dxf' }).click();
  await page.waitForURL(/take-in/);
  await unfold(page, 'Revision');
  await page.getByLabel('Newer file of this drawing').setInputFiles([
    {
      name: 'plan.dxf',
      mimeType: 'application/octet-stream',
      buffer: lines(['WALLS', 0, 95], ['DOORS', 5, 40], ['NOTES', 9, 10]),
    },
  ]);
  await expect(page.getByText(/Revision 2 is in/)).toBeVisible();
  await page.goto(`${job}/deliveries`);
  await page.getByRole('link', { name: 'Shop by layer' }).click();
  await expect(page.getByText('rev. 1, newer here')).toBeVisible();
  await page.getByRole('button', { name: 'Do the set again' }).click();
  await expect(page.getByRole('link', { name: 'The set before' })).toBeVisible();
  await expect(page.getByTestId('set-state')).toHaveText('6 files = 6 proven');
  const made = page.getByRole('table', { name: 'Files of the set' });
  await expect(made.getByRole('row').filter({ hasText: 'LS-002-DOORS.dxf' })).toContainText('unchanged');
  await expect(made.getByRole('row').filter({ hasText: 'LS-005-ROOF.dxf' })).toContainText(
    'unchanged, not written again',
  );
  await expect(made.getByRole('row').filter({ hasText: 'LS-001-WALLS.dxf' })).toContainText('changed');
});

test('into a folder: what is there with the same bytes is not written, a name that is taken is asked about once', async ({
  page,
}) => {
  await takeIn(page, 'Folder', [{ name: 'plan.dxf', buffer: lines(['WALLS', 0, 90]) }]);
  const job = page.url();
  await newRecipe(page, 'Folder recipe');
  await page.goto(`${job}/deliveries/new`);
  await page.getByRole('combobox', { name: 'Recipe', exact: true }).selectOption({ label: 'Folder recipe' });
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await expect(page.getByTestId('set-state')).toHaveText('1 file = 1 proven');
  // The choice of a folder, as the browser would answer it: one of the page's own.
  await page.evaluate(() => {
    Object.assign(window, { showDirectoryPicker: () => navigator.storage.getDirectory() });
  });
  const list = () =>
    page.evaluate(async () => {
      const out: string[] = [];
      const root = (await navigator.storage.getDirectory()) as unknown as AsyncIterable<[string, FileSystemHandle]>;
      for await (const [name] of root) out.push(name);
      return out.sort();
    });
  const save = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Save into a folder' }).click();
    await page.getByRole('button', { name: 'Save right into a folder' }).click();
  };
  await save();
  await expect(page.getByText(/: 4 written\./)).toBeVisible();
  expect(await list()).toEqual(['manifest.csv', 'manifest.json', 'plan.dxf', 'report.html']);
  await save();
  await expect(page.getByText(/: 0 written, 4 unchanged\./)).toBeVisible();
  await page.evaluate(async () => {
    const root = await navigator.storage.getDirectory();
    const to = await (await root.getFileHandle('plan.dxf')).createWritable();
    await to.write('another file');
    await to.close();
  });
  await save();
  await expect(page.getByRole('dialog')).toContainText('1 name is taken by other files');
  await expect(page.getByRole('dialog').getByText('plan.dxf')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Save 4 files' }).click();
  await expect(page.getByText(/: 1 written, 3 unchanged\./)).toBeVisible();
  expect(await list()).toContain('plan-2.dxf');
});

test('a recipe is derived with a word why, follows its parent, goes out as a file and comes back', async ({ page }) => {
  await newRecipe(page, 'Office');
  await page.getByRole('button', { name: 'Derive another' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Title').fill('Office, R12');
  await dialog.getByRole('button', { name: 'Derive', exact: true }).click();
  await expect(dialog).toContainText('Say why it is otherwise.');
  await dialog.getByLabel('Why is it otherwise?').fill('their old machine');
  await dialog.getByRole('button', { name: 'Derive', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Recipe Office, R12' })).toBeVisible();
  await open(page, 'Written as');
  await page.getByLabel('Version').selectOption('R12');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await open(page, 'Based on');
  await expect(page.getByRole('row', { name: /target › version/ })).toContainText('R12');
  await page.getByRole('link', { name: /^Office for anybody/ }).click();
  await page.getByLabel('Receiver').fill('The office');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByRole('region', { name: 'Changes' })).toHaveCount(0);
  await page.getByRole('link', { name: /^Office, R12/ }).click();
  await expect(page.getByText('“Office” has changed since you looked.')).toBeVisible();
  await expect(page.getByLabel('Receiver')).toHaveValue('The office');
  await page.getByRole('button', { name: 'Noted' }).click();
  await expect(page.getByText('“Office” has changed since you looked.')).toHaveCount(0);
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save as a file' }).click();
  const path = join(mkdtempSync(join(tmpdir(), 'scalaria-recipe-')), 'office.json');
  await (await saving).saveAs(path);
  const data = JSON.parse(readFileSync(path, 'utf8')) as { title: string; target: { version: string } };
  expect(data).toMatchObject({ recipe: 2, title: 'Office, R12', target: { version: 'R12' }, receiver: 'The office' });
  writeFileSync(path, JSON.stringify({ ...data, title: 'Came back', folds: 3 }));
  await page.getByLabel('A recipe to take in').setInputFiles(path);
  await expect(page.getByText(/"folds".* not known here/)).toBeVisible();
  writeFileSync(path, JSON.stringify({ ...data, title: 'Came back' }));
  await page.getByLabel('A recipe to take in').setInputFiles(path);
  await expect(page.getByRole('region', { name: 'Recipe Came back' })).toBeVisible();
});

test('a yardstick holds in the file, and fails in a copy that was damaged', async ({ page }) => {
  await takeIn(page, 'Yardstick', [{ name: 'plate.dxf', buffer: plate() }]);
  await page.getByRole('link', { name: /plate\.dxf/ }).click();
  await page.waitForURL(/take-in/);
  await page.goto(page.url().replace('take-in', 'check'));
  const sticks = section(page, 'Yardsticks');
  await expect(sticks).toBeVisible();
  // The length of the lower edge, from corner to corner.
  await sticks.getByRole('button', { name: 'Measure a length' }).click();
  await clickAt(page, 0, 0);
  await clickAt(page, 250, 0);
  await sticks.getByRole('button', { name: 'Keep as: distance between two places' }).click();
  await expect(page.getByLabel('Has to be')).toHaveValue('250');
  await page.getByLabel('Called').fill('Length of the bar');
  await page.getByRole('button', { name: 'Keep the yardstick' }).click();
  await expect(sticks.getByText('holds')).toBeVisible();
  await expect(sticks).toContainText('9.8425 in');
  // The bore, by pointing at it.
  await sticks.getByRole('button', { name: 'Measure a shape' }).click();
  await clickAt(page, 46, 30);
  await sticks.getByRole('button', { name: 'Keep as: diameter of a circle' }).click();
  await expect(page.getByLabel('Has to be')).toHaveValue('12');
  await page.getByRole('button', { name: 'Keep the yardstick' }).click();
  await expect(sticks.locator('[data-yardstick=holds]')).toHaveCount(2);
  await expect(sticks.getByText('the sharpest')).toBeVisible();

  await page.keyboard.press('4');
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  await expect(page.getByText('Yardstick: Length of the bar')).toBeVisible();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const path = await (await saving).path();
  const folder = mkdtempSync(join(tmpdir(), 'scalaria-copy-'));
  mkdirSync(folder, { recursive: true });
  const copy = join(folder, 'plate.dxf');
  // Every number of the outline as points of another inch have them.
  const text = readFileSync(path, 'utf8').replace(/(LWPOLYLINE[\s\S]*?)(?=\n {2}0\r?\n)/, (all) =>
    all.replaceAll('250.0', '249.066'),
  );
  writeFileSync(copy, text);
  await page.getByLabel('Copy to prove').setInputFiles(copy);
  await expect(page.getByTestId('verdict')).toHaveText('The proof does not hold.');
  const row = page.locator('tr, li').filter({ hasText: 'Yardstick: Length of the bar' }).first();
  await expect(row).toContainText('249.066 mm');
});

test('one emblem in three ways: counted, wiped against each other, the winner taken', async ({ page }) => {
  await takeIn(page, 'Trials', [
    { name: 'emblem.svg', buffer: readFileSync(demoFile('kestrel-row-route-emblem.svg')) },
  ]);
  await page.getByRole('link', { name: /emblem\.svg/ }).click();
  await page.waitForURL(/take-in/);
  // Its size is in pixels: how many make an inch has to be said.
  const address = page
    .url()
    .replace(/.*drawings\//, `${app.url}/api/drawings/`)
    .replace('/take-in', '');
  await page.request.patch(address, { data: { intake: { pxPerInch: 96 } } });
  await page.goto(page.url().replace('take-in', 'deliver'));
  await page.getByRole('link', { name: 'Try several ways' }).click();
  const table = page.getByRole('table', { name: /Ways of writing/ });
  await expect(table.getByRole('row', { name: /^Proof/ }).getByText('holds', { exact: true })).toHaveCount(3);
  await expect(page.getByText('loses least', { exact: true })).toBeVisible();
  await expect(table.getByRole('row', { name: /^Colours to the digit/ })).toContainText('0 of 4');
  await page.locator('figure path').first().hover({ force: true });
  await expect(page.getByText(/^One click selects: /)).toBeVisible();
  await page.getByRole('slider').fill('0.2');
  await page.getByRole('button', { name: 'Write it so' }).first().click();
  await expect(page.getByText(/is how this drawing is written now/)).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByLabel('Paths of lines and curves become')).toHaveValue('arcs');
  await expect(page.getByText('Nothing written yet.')).toBeVisible();
});

test('a chart of a recipe takes its names from a drawing, with how much is on each, and none twice', async ({
  page,
}) => {
  await takeIn(page, 'Names', [
    { name: 'names.dxf', buffer: lines(['WALLS', 0, 90], ['WALLS', 3, 80], ['DOORS', 5, 40]) },
  ]);
  await newRecipe(page, 'Charted');
  await open(page, 'Steps');
  await page.getByRole('combobox', { name: 'Add a step' }).selectOption({ label: 'Chart layers' });
  const steps = section(page, 'Steps');
  const each = steps.getByRole('button', { name: 'A row for each of the rest' });
  await expect(each).toHaveCount(0);
  await steps.getByLabel('Take names from').selectOption({ label: 'names.dxf (Names)' });
  await each.click();
  await expect(steps.getByLabel('Layer, row 1')).toHaveValue('WALLS');
  await expect(steps.getByText('takes WALLS, 2 objects')).toBeVisible();
  await expect(steps.getByText('takes DOORS, 1 object', { exact: true })).toBeVisible();
  await expect(each).toHaveCount(0);
  await steps.getByLabel('Becomes, row 1').fill('A-WALL');
  await steps.getByLabel('Becomes, row 1').press('Enter');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByRole('region', { name: 'Changes' })).toHaveCount(0);
  // What belongs to one drawing is offered by no recipe.
  await expect(page.getByRole('option', { name: 'Keep sheets' })).toHaveCount(1);
  await expect(page.getByRole('option', { name: 'Give layers back' })).toHaveCount(0);
});

test('the tracker knows each file, what it costs and where it is, and keeps that over a reload', async ({ page }) => {
  await takeIn(page, 'Tracker', [{ name: 'plan.dxf', buffer: lines(['WALLS', 0, 90], ['DOORS', 5, 40]) }]);
  const job = page.url();
  await newRecipe(page, 'Tracked');
  await open(page, 'Files');
  await page.getByLabel('A file for each').selectOption('layers');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByRole('region', { name: 'Changes' })).toHaveCount(0);
  await page.goto(`${job}/deliveries/new`);
  await page.getByRole('combobox', { name: 'Recipe', exact: true }).selectOption({ label: 'Tracked' });
  await page.getByRole('button', { name: 'Write 2 files' }).click();
  await expect(page.getByTestId('set-state')).toHaveText('2 files = 2 proven');
  await page.goto(`${job}/deliveries/tracker`);
  await expect(page.getByTestId('drawings-covered')).toHaveText('1 in the job = 1 in a file + 0 in none');
  const say = async (file: string, boards: string, price: string): Promise<void> => {
    await page.getByRole('checkbox', { name: `Tick ${file}` }).check();
    await page.getByLabel('Boards').fill(boards);
    await page.getByLabel('Boards').press('Enter');
    await page.getByLabel('Price of a board').fill(price);
    await page.getByLabel('Price of a board').press('Enter');
    await page.getByLabel('State', { exact: true }).selectOption('sent');
    await expect(page.getByRole('row').filter({ hasText: file })).toContainText('sent');
    await page.getByRole('checkbox', { name: `Tick ${file}` }).uncheck();
  };
  await say('plan-WALLS.dxf', '3', '84.50');
  await say('plan-DOORS.dxf', '1', '46,20');
  await expect(page.getByTestId('sums')).toContainText('2 files · 4 boards · cost 299.70');
  await page.reload();
  await expect(page.getByTestId('sums')).toContainText('2 files · 4 boards · cost 299.70');
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByLabel('State 3').fill('on its way');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'plan-DOORS.dxf' })).toContainText('on its way');
  await page.getByRole('button', { name: 'Plan a file' }).click();
  await expect(page.getByTestId('sums')).toContainText('3 files');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('sums')).toContainText('2 files');
});

test('a file that comes back has its own layers again', async ({ page }) => {
  await takeIn(page, 'Back', [
    { name: 'plan.dxf', buffer: lines(['WALLS', 0, 90], ['DOORS', 5, 40], ['ROOF', 9, 30]) },
  ]);
  await page.getByRole('link', { name: /plan\.dxf/ }).click();
  await page.waitForURL(/take-in/);
  const id = /drawings\/([^/]+)/.exec(page.url())![1]!;
  const seen = ((await (await page.request.get(`${app.url}/api/drawings/${id}`)).json()) as { seen: number }).seen;
  const steps = [{ id: 'c', step: 'chart-layers', on: true, params: { chart: [{ from: '*', to: 'ALL' }] } }];
  await page.request.patch(`${app.url}/api/drawings/${id}`, { data: { steps, seen } });
  await page.goto(`${app.url}/drawings/${id}/deliver`);
  await page.getByLabel('Format').selectOption('dxf');
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  await page.getByRole('link', { name: /The proof holds/ }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const text = readFileSync((await (await saving).path())!, 'utf8');
  const back = join(mkdtempSync(join(tmpdir(), 'scalaria-back-')), 'back.dxf');
  // One of the lines was taken away there.
  writeFileSync(back, text.replace(/ {2}0\r?\nLINE\r?\n[\s\S]*?(?= {2}0\r?\n)/, ''));
  await page.getByLabel('File that came back').setInputFiles(back);
  await expect(page.getByTestId('came-back')).toContainText('2 objects on their own layers again: 2 found by place');
  await expect(page.getByTestId('came-back')).toContainText('1 object gone, 0 new');
  await page.getByRole('link', { name: 'Open back.dxf' }).click();
  await expect(page.getByText('Give layers back')).toBeVisible();
});
