import type { Page } from '@playwright/test';
import { expect } from '@playwright/test';
import { PNG } from 'pngjs';
import type { Application } from './application.js';

/** Where a world point is on the page, by the view that the viewport states. */
export async function pageAt(page: Page, x: number, y: number): Promise<{ x: number; y: number }> {
  const viewport = page.getByTestId('viewport');
  await expect(viewport).toHaveAttribute('data-view', /\d/);
  const [vx, vy, scale] = (await viewport.getAttribute('data-view'))!.split(' ').map(Number) as [
    number,
    number,
    number,
  ];
  const box = (await viewport.boundingBox())!;
  return { x: box.x + box.width / 2 + (x - vx) * scale, y: box.y + box.height / 2 - (y - vy) * scale };
}

export async function clickAt(page: Page, x: number, y: number): Promise<void> {
  const p = await pageAt(page, x, y);
  await page.mouse.move(p.x, p.y);
  await page.mouse.click(p.x, p.y);
}

/** How many pixels of the drawing are not paper. */
export async function inked(page: Page): Promise<number> {
  const png = PNG.sync.read(await page.locator('canvas').screenshot());
  let n = 0;
  for (let i = 0; i < png.data.length; i += 4)
    if (png.data[i]! < 200 || png.data[i + 1]! < 200 || png.data[i + 2]! < 200) n++;
  return n;
}

export async function newJob(app: Application, page: Page, name: string): Promise<void> {
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New job' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Make job' }).click();
  await expect(page.getByRole('heading', { name })).toBeVisible();
}

export const dropFiles = (page: Page, files: { name: string; buffer: Buffer }[]): Promise<void> =>
  page
    .getByLabel('Drawings to take in')
    .setInputFiles(files.map((f) => ({ ...f, mimeType: 'application/octet-stream' })));

/** Opens sections of the field book that are folded to a line. */
export async function unfold(page: Page, ...titles: string[]): Promise<void> {
  for (const title of titles) {
    const head = page
      .getByRole('region', { name: title, exact: true })
      .getByRole('button', { expanded: true })
      .or(page.getByRole('region', { name: title, exact: true }).getByRole('button', { expanded: false }))
      .first();
    await expect(head).toBeVisible();
    if ((await head.getAttribute('aria-expanded')) === 'false') await head.click();
  }
}
