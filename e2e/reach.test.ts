import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { dropFiles, newJob } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What an independent judge of reach has to say of the page, in words. */
async function barriers(page: Page): Promise<string[]> {
  await page.evaluate(AXE);
  return page.evaluate(async () => {
    interface Found {
      violations: { id: string; nodes: { html: string }[] }[];
    }
    const { axe } = window as unknown as { axe: { run: (of: Document, o: object) => Promise<Found> } };
    const { violations } = await axe.run(document, { resultTypes: ['violations'] });
    return violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`));
  });
}

/** A set of the job, written by a recipe; its id. */
async function setOf(page: Page, job: string): Promise<string> {
  const id = /jobs\/([^/]+)/.exec(job)![1]!;
  const { drawings } = (await (await page.request.get(`${app.url}/api/jobs/${id}`)).json()) as {
    drawings: { id: string }[];
  };
  const recipe = { recipe: 2, title: 'Reach', target: { format: 'dxf', version: '2010' } };
  await page.request.post(`${app.url}/api/recipes`, { data: { title: 'Reach', recipe } });
  const data = { recipe, drawings: drawings.map((d) => d.id), date: '2026-03-14' };
  for (;;) {
    await page.request.post(`${app.url}/api/jobs/${id}/sets/plan`, { data });
    const made = await page.request.post(`${app.url}/api/jobs/${id}/sets`, { data });
    if (made.status() === 202) return ((await made.json()) as { id: string }).id;
    expect(made.status()).toBe(409);
    await page.waitForTimeout(300);
  }
}

test('no screen has a barrier, on either ground, wide or narrow', async ({ page }) => {
  test.setTimeout(300_000);
  await newJob(app, page, 'Reach');
  await dropFiles(page, [
    { name: 'elevation.dxf', buffer: readFileSync(demoFile('kestrel-row-front-elevation.dxf')) },
    { name: 'panel.svg', buffer: readFileSync(demoFile('kestrel-row-wayfinding-panel.svg')) },
  ]);
  const links = page.getByRole('link', { name: /elevation\.dxf|panel\.svg/ });
  await expect(links).toHaveCount(2);
  expect(await barriers(page), 'the job').toEqual([]);
  const addresses = await links.evaluateAll((all) =>
    all.map((l) => (l as HTMLAnchorElement).href.replace(/\/take-in$/, '')),
  );
  const parts = `${page.url()}/parts`;
  await page.goto(parts);
  await page.getByRole('checkbox', { name: 'panel.svg' }).check();
  await expect(page.getByRole('table', { name: 'Parts' }).locator('[data-part]').first()).toBeVisible();
  const job = page.url().replace(/\/parts$/, '');
  const set = await setOf(page, job);
  for (const ground of ['paper', 'night']) {
    for (const path of [
      `${job}/deliveries`,
      `${job}/deliveries/new`,
      `${job}/deliveries/tracker`,
      `${job}/deliveries/corrections`,
      `${job}/deliveries/${set}`,
      `${app.url}/recipes`,
    ]) {
      await page.goto(path);
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeAttached();
      await expect(page.getByText(/^(opening|Looking|Listing)/)).toHaveCount(0);
      expect(await barriers(page), `${path} on ${ground}`).toEqual([]);
      await page.setViewportSize({ width: 1024, height: 768 });
      const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
      expect(over, `${path} at 1024`).toBeLessThanOrEqual(0);
      await page.setViewportSize({ width: 1280, height: 800 });
    }
    await page.goto(`${addresses[0]}/trials`);
    await expect(page.getByText('loses least', { exact: true })).toBeVisible();
    expect(await barriers(page), `the trials on ${ground}`).toEqual([]);
    for (const drawing of addresses)
      for (const station of ['take-in', 'check', 'prepare', 'deliver', 'prove', 'revisions', 'parts']) {
        await page.goto(`${drawing}/${station}`);
        await expect(page.locator('canvas')).toBeVisible();
        await expect(page.getByText(/^Being (read|drawn)/)).toHaveCount(0);
        expect(await page.evaluate(() => document.documentElement.dataset['ground'])).toBe(ground);
        expect(await barriers(page), `${station} on ${ground}`).toEqual([]);
        await page.keyboard.press('?');
        const keys = await page.getByRole('dialog', { name: 'Keys' }).locator('dt').allTextContents();
        expect(keys, `a key for each thing at ${station}`).toEqual([...new Set(keys)]);
        await page.keyboard.press('Escape');
        await expect(page.getByRole('dialog')).toHaveCount(0);
        // Nothing asks to be scrolled sideways on a small screen.
        await page.setViewportSize({ width: 1024, height: 768 });
        const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
        expect(over, `${station} at 1024`).toBeLessThanOrEqual(0);
        await page.setViewportSize({ width: 1280, height: 800 });
      }
    await page.keyboard.press('?');
    await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
    expect(await barriers(page), `the keys on ${ground}`).toEqual([]);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await page.goto(parts);
    await page.getByLabel('Tick all that are shown').check();
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    expect(await barriers(page), `the parts on ${ground}`).toEqual([]);
    await page.setViewportSize({ width: 1024, height: 768 });
    const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(over, 'the parts at 1024').toBeLessThanOrEqual(0);
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(app.url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    expect(await barriers(page), `the jobs on ${ground}`).toEqual([]);
    await page.getByRole('button', { name: /ground/i }).click();
  }
});

test('the first key leads past the head of the page to its contents', async ({ page }) => {
  await page.goto(app.url);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.keyboard.press('Tab');
  const skip = page.getByRole('link', { name: 'To the contents' });
  await expect(skip).toBeFocused();
  await expect(skip).toBeInViewport();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toBeFocused();
});
