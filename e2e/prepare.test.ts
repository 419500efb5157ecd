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

/** A DXF in millimetres of these tags of entities. */
const inMm = (entities: readonly (string | number)[]): Buffer =>
  Buffer.from(
    [
      ...[0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC'],
      ...[0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF'],
    ].join('\n') + '\n',
  );
const lineTags = (layer: string, ...at: [number, number, number, number]): (string | number)[] => {
  const [x0, y0, x1, y1] = at;
  return [0, 'LINE', 8, layer, 10, x0, 20, y0, 30, 0, 11, x1, 21, y1, 31, 0];
};
const ringTags = (layer: string, ...at: number[]): (string | number)[] => [
  ...[0, 'LWPOLYLINE', 8, layer, 90, at.length / 2, 70, 1],
  ...at.flatMap((v, i) => [i % 2 === 0 ? 10 : 20, v]),
];

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
  const dxf = inMm(tags);
  await open(page, 'Layers', 'bay.dxf', dxf);
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
  const dxf = inMm([0, 'CIRCLE', 8, 'CUT', 10, 20, 20, 10, 30, 0, 40, 10]);
  await open(page, 'Next day', 'disc.dxf', dxf);
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
    inMm(circles.flatMap(([handle, x]) => [0, 'CIRCLE', 5, handle, 8, 'CUT', 10, x, 20, 0, 30, 0, 40, 30]));
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

test('neighbours become regions that share their points, and go onto layers by rules of area', async ({ page }) => {
  test.setTimeout(120_000);
  // A 100 × 40; above it 50 wide up to 80, one from y = 40.003 and one from y = 40.
  const three = inMm([
    ...ringTags('PLAN', 0, 0, 100, 0, 100, 40, 0, 40),
    ...ringTags('PLAN', 0, 40.003, 50, 40.003, 50, 80, 0, 80),
    ...ringTags('PLAN', 50, 40, 100, 40, 100, 80, 50, 80),
  ]);
  await open(page, 'Regions', 'seams.dxf', three);
  await page.keyboard.press('3');
  await tryStep(page, 'Build regions');
  await page.getByLabel(/automatic, a ten-millionth/).uncheck();
  await page.getByLabel('Points and edges are the same within').last().fill('0.01');
  await page.getByLabel('Points and edges are the same within').last().press('Enter');
  await expect(preview(page)).toContainText('made into 3 regions');
  await preview(page).locator('summary', { hasText: 'Regions' }).click();
  const rows = preview(page).getByRole('row');
  await expect(rows).toHaveCount(4);
  await expect(rows.nth(1)).toContainText('4000');
  await expect(rows.nth(2)).toContainText('2000');
  await take(page);
  await tryStep(page, 'Sort by rule');
  await page.getByLabel('A layer for each').selectOption('rules');
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByRole('button', { name: 'One more' }).click();
  const rule = async (n: number, bound: string, value: string, layer: string): Promise<void> => {
    const group = page.getByRole('group', { name: `Rule ${n}` });
    await group.getByLabel('What is').selectOption('outer');
    await group.getByLabel(bound).fill(value);
    await group.getByLabel(bound).press('Enter');
    await group.getByLabel('Goes onto layer').fill(layer);
    await group.getByLabel('Goes onto layer').press('Enter');
  };
  await rule(1, 'Area below', '2000', 'NONE');
  await rule(2, 'Area from', '4000', 'LARGE');
  await expect(preview(page)).toContainText('NONE 0, LARGE 1, the rest 2');
  await take(page);
  const out = (await deliver(page, 'dxf', '2010')).toString('latin1');
  const entities = out.slice(out.indexOf('ENTITIES'));
  const shared = (x: number, y: number): number =>
    [...entities.matchAll(new RegExp(`10\\r?\\n\\s*${x}(?:\\.0)?\\r?\\n\\s*20\\r?\\n\\s*${y}(?:\\.0)?\\r?\\n`, 'g'))]
      .length;
  expect([shared(0, 40), shared(50, 40), shared(100, 40)]).toEqual([2, 3, 2]);
  expect(out).not.toContain('40.003');
  expect(out).toMatch(/AcDbLayerTableRecord\r?\n\s*2\r?\nNONE/);
});

test('a street that a site plan refers to is found, taken in, seen, and no longer missing in the file', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await open(page, 'Street', 'site-plan.dwg', readFileSync(demoFile('kestrel-row-site-plan.dwg')));
  await page.getByRole('radio', { name: /^mm/ }).check();
  await page.keyboard.press('3');
  await tryStep(page, 'Take references in');
  await expect(preview(page)).toContainText('kestrel-row-street.dwg');
  await page.getByRole('button', { name: 'Leave', exact: true }).click();
  const outcome = page.getByTestId('outcome');
  await expect(outcome).toContainText('-11320');
  await page.goBack();
  await page.goBack();
  await dropFiles(page, [{ name: 'kestrel-row-street.dxf', buffer: inMm(lineTags('KERB', 0, -15000, 50000, -15000)) }]);
  await page.getByRole('link', { name: /site-plan\.dwg/ }).click();
  await expect(page.getByTestId('strip')).toBeVisible();
  await page.keyboard.press('3');
  await tryStep(page, 'Take references in');
  await expect(preview(page)).toContainText('reference kestrel-row-street.dxf taken in, with 1 objects');
  await take(page);
  await expect(page.locator('[data-step=take-references-in]')).toContainText(/change/);
  // The kerb lies further down than all the rest.
  await expect(outcome).toContainText('-15000');
  const out = (await deliver(page, 'dxf', '2010')).toString('latin1');
  expect(out).toContain('kestrel-row-street-KERB');
  expect(out).not.toContain('kestrel-row-street.dwg');
});
