import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, newJob, unfold } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

async function open(page: Page, job: string, name: string, buffer: Buffer): Promise<void> {
  await newJob(app, page, job);
  await dropFiles(page, [{ name, buffer }]);
  await page.getByRole('link', { name: new RegExp(name.replace('.', '\\.')) }).click();
  await expect(page.getByTestId('strip')).toBeVisible();
}

/** Chooses a step from the list; it is tried, not taken. */
async function tryStep(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByLabel('Find a step').fill(name);
  await page
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click();
}
const take = (page: Page): Promise<void> => page.getByRole('button', { name: 'Take this step' }).click();
const preview = (page: Page) => page.getByTestId('preview');

async function deliver(page: Page, format: string, version?: string): Promise<Buffer> {
  await page.keyboard.press('4');
  await page.getByLabel('Format').selectOption(format);
  if (version) await page.getByLabel('Version').selectOption(version);
  await page.getByRole('button', { name: 'Write 1 file' }).click();
  const done = page
    .locator('[data-delivery=done]')
    .filter({ hasText: `.${format}` })
    .first();
  await expect(done.getByRole('link', { name: /proof holds/i })).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await done.getByRole('link', { name: 'Download' }).click();
  return readFileSync((await (await download).path())!);
}

/** Lines of a DXF that name entities of a kind. */
const count = (dxf: string, kind: string): number => dxf.split(/\r?\n/).filter((l) => l === kind).length;

test('an emblem: everything that a check can mend is mended from the list of findings, and the proof holds', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await open(page, 'Emblem', 'emblem.svg', readFileSync(demoFile('kestrel-row-route-emblem.svg')));
  await page.getByRole('radio', { name: /^96/ }).check();
  await page.keyboard.press('2');
  await expect(page.getByText('checking …')).toHaveCount(0);
  const mends: [string, string][] = [
    ['Circles drawn as something else', 'Make these circles'],
    ['Too many points', 'Thin these points'],
    ['Needless groups', 'Tidy these groups'],
    ['Gradients, patterns, effects', 'Make these plain'],
    ['Colours too alike', 'Even out these colours'],
  ];
  for (const [check, words] of mends) {
    const section = page.getByRole('region', { name: check });
    const head = section.getByRole('button').first();
    if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click();
    await section.getByRole('button', { name: words }).click();
    await expect(section.getByText('none found')).toBeVisible({ timeout: 30_000 });
  }
  await page.keyboard.press('3');
  await expect(page.locator('[data-step]')).toHaveCount(5);
  // Its middle lines are seen before they are taken.
  await tryStep(page, 'Even strokes');
  await expect(preview(page)).toContainText('long thin shapes became lines of one width');
  await page.getByText('Wipe', { exact: true }).click();
  await expect(page.getByLabel('Where before and after meet')).toBeVisible();
  await take(page);
  await expect(page.locator('[data-step=even-strokes]')).toContainText(/\d changes|1 change/);
  const svg = (await deliver(page, 'svg')).toString('utf8');
  expect(svg.match(/<circle/g)).toHaveLength(3);
  expect(svg).not.toContain('Gradient');
  expect(svg).not.toContain('Group 12');
});

test('a panel of loose lines and arcs becomes one outline with true holes, in DXF R12 and DWG 2010', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await open(page, 'Screen', 'panels.dxf', readFileSync(demoFile('kestrel-row-screen-panels.dxf')));
  await page.keyboard.press('3');
  await tryStep(page, 'Keep layers');
  await page.getByLabel('Names', { exact: true }).fill('PLY-12');
  await page.getByLabel('Names', { exact: true }).press('Enter');
  await take(page);
  await tryStep(page, 'Chain into outlines');
  await expect(preview(page)).toContainText('1 closed, 0 open');
  await take(page);
  await tryStep(page, 'Recover arcs');
  await expect(preview(page)).toContainText('40 circles');
  await expect(preview(page)).toContainText(/Moves at most/);
  await take(page);
  await tryStep(page, 'Thin points');
  await take(page);
  await tryStep(page, 'Round coordinates');
  await take(page);
  await expect(page.getByTestId('outcome')).toContainText('600 × 400 mm');
  const r12 = (await deliver(page, 'dxf', 'R12')).toString('latin1');
  expect([count(r12, 'CIRCLE'), count(r12, 'POLYLINE'), count(r12, 'LINE'), count(r12, 'VERTEX')]).toEqual([
    40, 1, 0, 8,
  ]);
  const dwg = await deliver(page, 'dwg', '2010');
  expect(dwg.subarray(0, 6).toString('latin1')).toBe('AC1024');
});

test('six layers are charted onto two, and two come back', async ({ page }) => {
  const layers = ['GROUND', 'POSTS', 'GLAZING', 'ROOF', 'AXES', 'RAILS'];
  const tags = layers.flatMap((l, i) => [0, 'LINE', 8, l, 10, i * 10, 20, 0, 30, 0, 11, i * 10, 21, 50, 31, 0]);
  const dxf = [
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
    ...tags,
    0,
    'ENDSEC',
    0,
    'EOF',
  ].join('\n');
  await open(page, 'Layers', 'bay.dxf', Buffer.from(`${dxf}\n`));
  await page.keyboard.press('3');
  await tryStep(page, 'Chart layers');
  await page.getByRole('button', { name: 'One more row' }).click();
  const fill = async (label: string, value: string): Promise<void> => {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.getByLabel(label, { exact: true }).press('Enter');
  };
  await fill('Layer, row 1', 'POSTS');
  await fill('Becomes, row 1', 'A-COLS');
  await expect(page.getByText('takes POSTS, 1 object', { exact: true })).toBeVisible();
  await expect(page.getByText(/No row takes .*GROUND/)).toBeVisible();
  await page.getByLabel('Layers that no row takes').selectOption('ask');
  await expect(page.getByRole('alert')).toContainText('no row of the chart takes');
  await page.getByRole('button', { name: 'One more row' }).click();
  await fill('Layer, row 2', '*');
  await fill('Becomes, row 2', 'A-MISC');
  await expect(preview(page)).toContainText('A-MISC 5');
  await take(page);
  const out = (await deliver(page, 'dxf', '2010')).toString('latin1');
  const used = new Set(
    [...out.slice(out.indexOf('ENTITIES')).matchAll(/AcDbEntity\r?\n\s*8\r?\n(\S+)/g)].map((m) => m[1]),
  );
  expect([...used].sort()).toEqual(['A-COLS', 'A-MISC']);
});

test('step two of five is changed the next day, and the later ones follow', async ({ page }) => {
  const dxf = [
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
    0,
    'CIRCLE',
    8,
    'CUT',
    10,
    20,
    20,
    10,
    30,
    0,
    40,
    10,
    0,
    'ENDSEC',
    0,
    'EOF',
  ].join('\n');
  await open(page, 'Next day', 'disc.dxf', Buffer.from(`${dxf}\n`));
  await page.keyboard.press('3');
  await tryStep(page, 'Shift origin');
  await page.getByLabel('New origin').selectOption('lowerLeft');
  await take(page);
  await tryStep(page, 'Set true size');
  await page.getByLabel('True length').fill('2');
  await page.getByLabel('True length').press('Enter');
  await take(page);
  await tryStep(page, 'One hairline');
  await take(page);
  await tryStep(page, 'Round coordinates');
  await take(page);
  await tryStep(page, 'Turn and mirror');
  await page.getByLabel('Turn, anticlockwise').fill('90');
  await page.getByLabel('Turn, anticlockwise').press('Enter');
  await take(page);
  const outcome = page.getByTestId('outcome');
  await expect(outcome).toContainText('40 × 40 mm');
  await expect(outcome).toContainText('-40, 0');
  await app.stop('SIGKILL');
  await app.start();
  await page.reload();
  await expect(outcome).toContainText('-40, 0');
  await page.getByRole('button', { name: 'Change Set true size' }).click();
  await page.getByLabel('True length').fill('3');
  await page.getByLabel('True length').press('Enter');
  await page.getByRole('button', { name: 'Keep these settings' }).click();
  await expect(outcome).toContainText('60 × 60 mm');
  await expect(outcome).toContainText('-60, 0');
  // Each step shows the drawing as it is after it.
  await page.getByTitle('See the drawing as it is after this step').first().click();
  await expect(outcome).toContainText('20 × 20 mm');
  await expect(page.locator('[data-step=one-hairline]')).toHaveCount(1);
});

test('what was picked follows its curve into a revision of another order', async ({ page }) => {
  const file = (circles: [string, number][]): Buffer =>
    Buffer.from(
      [
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
        ...circles.flatMap(([handle, x]) => [0, 'CIRCLE', 5, handle, 8, 'CUT', 10, x, 20, 0, 30, 0, 40, 30]),
        0,
        'ENDSEC',
        0,
        'EOF',
      ].join('\n') + '\n',
    );
  await open(
    page,
    'Picks',
    'discs.dxf',
    file([
      ['2A', 0],
      ['2B', 200],
    ]),
  );
  await page.keyboard.press('3');
  await tryStep(page, 'Lettering on a curve');
  await page.getByLabel('Along').selectOption('curve');
  await page.getByRole('button', { name: 'Pick in the drawing' }).first().click();
  await clickAt(page, 230, 0);
  await expect(preview(page)).toContainText('text written as outlines of its letters');
  await take(page);
  await expect(page.getByTestId('outcome')).toContainText('Size');
  const before = await page.getByTestId('outcome').textContent();
  await page.keyboard.press('1');
  await unfold(page, 'Revision');
  await page.getByLabel('Newer file of this drawing').setInputFiles([
    {
      name: 'discs.dxf',
      mimeType: 'application/octet-stream',
      buffer: file([
        ['31', -300],
        ['2B', 200],
        ['2A', 0],
      ]),
    },
  ]);
  await expect(page.getByText(/Revision 2 is in/)).toBeVisible();
  await page.keyboard.press('3');
  // The letters stand about the disc at 200 as before, though a disc more comes first.
  await page.getByRole('button', { name: 'Change Lettering on a curve' }).click();
  await expect(preview(page)).toContainText('text written as outlines of its letters');
  await expect(page.getByText('not found in this drawing')).toHaveCount(0);
  await page.getByRole('button', { name: 'Leave' }).click();
  await expect(page.getByTestId('outcome')).not.toHaveText(before!);
  await expect(page.getByTestId('outcome')).toContainText('-330');
});

test('trying a step can be left and undone: nothing of it stays', async ({ page }) => {
  await open(page, 'Left', 'panels.dxf', readFileSync(demoFile('kestrel-row-screen-panels.dxf')));
  await page.keyboard.press('3');
  await tryStep(page, 'Remove strays');
  await expect(preview(page)).toContainText('objects far outside all the rest were taken out');
  await page.getByRole('heading', { name: 'Remove strays' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('No steps yet')).toBeVisible();
  await tryStep(page, 'Remove strays');
  await take(page);
  await expect(page.getByTestId('outcome')).toContainText('1300 × ');
  await page.keyboard.press('Control+z');
  await expect(page.getByText('No steps yet')).toBeVisible();
});
