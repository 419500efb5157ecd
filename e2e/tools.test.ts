import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Application, demoFile } from './application.js';
import { clickAt, dropFiles, inked, newJob, pageAt } from './on-page.js';

const app = new Application();
test.beforeAll(() => app.start());
test.afterAll(() => app.stop());

test('a drawing is asked: select, alike, hide, only this, frame, measure in two units, find an action', async ({
  page,
}) => {
  await newJob(app, page, 'Tools');
  await dropFiles(page, [{ name: 'mullion.dxf', buffer: readFileSync(demoFile('kestrel-row-mullion.dxf')) }]);
  await page.getByRole('link', { name: /mullion\.dxf/ }).click();
  await expect.poll(() => inked(page)).toBeGreaterThan(5000);
  const all = await inked(page);

  // The gasket: a circle of 1/8 in about (-1/16, 1).
  await clickAt(page, -0.0625, 1.0625);
  const selection = page.getByTestId('selection');
  await expect(selection).toContainText('0.125 in · 3.175 mm');
  // An axis, and with it all that lies on its layer.
  await clickAt(page, -0.4, 1);
  await expect(selection).toContainText('5 in · 127 mm');
  await page.getByRole('button', { name: 'Select all …' }).click();
  await page.getByRole('menuitem', { name: 'on the same layer' }).click();
  await expect(page.getByRole('heading', { name: /^\d+ objects$/ })).toBeVisible();

  await page.keyboard.press('h');
  await expect(selection).toHaveCount(0);
  await expect.poll(() => inked(page)).toBeLessThan(all);
  const without = await inked(page);
  await clickAt(page, -0.4, 1);
  await expect(selection).toHaveCount(0);
  await page.keyboard.press('u');
  await expect.poll(() => inked(page)).toBeGreaterThan(without);

  await clickAt(page, -0.0625, 1.0625);
  await expect(selection).toContainText('0.125 in');
  await page.getByRole('button', { name: 'Show only selection' }).click();
  await expect.poll(() => inked(page)).toBeLessThan(without);
  await page.getByRole('button', { name: /^Show \d+ hidden$/ }).click();
  await expect.poll(() => inked(page)).toBeGreaterThan(without);

  // A frame around all of it, without the mouse's tool being chosen: Shift and drag.
  await page.keyboard.press('Escape');
  const [from, to] = [await pageAt(page, -0.3, 0.8), await pageAt(page, 0.02, 1.2)];
  await page.keyboard.down('Shift');
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await expect(selection).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(selection).toHaveCount(0);

  // Any action is found by its words.
  await page.keyboard.press('/');
  await page.getByLabel('What do you want to do?').fill('meas curv');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Click a curve. Esc stops.')).toBeVisible();
  await clickAt(page, -0.0625, 1.0625);
  const measured = page.getByTestId('measured');
  await expect(measured).toContainText('0.0625 in');
  await expect(measured).toContainText('1.5875 mm');
  // π × 1/16² in², worked out by hand: 0.01227185
  await expect(measured).toContainText('0.0122718');
  await page.keyboard.press('Escape');
  await page.keyboard.press('m');
  await clickAt(page, 0.1875, 0.01);
  await clickAt(page, 3.8125, 0.01);
  await expect(measured).toContainText('3.625 in');
  await expect(measured).toContainText('92.075 mm');
});

/** Brings a place of the drawing under the cross in the middle, with keys alone. */
async function keysTo(page: Page, x: number, y: number): Promise<void> {
  const viewport = page.getByTestId('viewport');
  await viewport.press('Home');
  const off = async (): Promise<{ dx: number; dy: number; width: number; height: number }> => {
    const [vx, vy, scale] = (await viewport.getAttribute('data-view'))!.split(' ').map(Number) as [
      number,
      number,
      number,
    ];
    const { width, height } = (await viewport.boundingBox())!;
    return { dx: (x - vx) * scale, dy: (y - vy) * scale, width, height };
  };
  // One press moves by a tenth of the view, so the way is found from close by and seen again from farther off.
  for (let zoomed = 0; zoomed < 9;) {
    const { dx, dy, width, height } = await off();
    if (Math.abs(dx) > width / 20) await viewport.press(dx > 0 ? 'ArrowRight' : 'ArrowLeft');
    else if (Math.abs(dy) > height / 20) await viewport.press(dy > 0 ? 'ArrowUp' : 'ArrowDown');
    else {
      await viewport.press('+');
      zoomed++;
    }
  }
  for (let i = 0; i < 12; i++) {
    const { dx, dy } = await off();
    if (Math.hypot(dx, dy) < 5) return;
    await viewport.press('-');
  }
  throw new Error(`no way by keys to ${x}, ${y}`);
}

test('all of it with the keyboard: pick, measure, a frame, hide, the list of keys, the ground', async ({ page }) => {
  await newJob(app, page, 'Keys');
  await dropFiles(page, [{ name: 'mullion.dxf', buffer: readFileSync(demoFile('kestrel-row-mullion.dxf')) }]);
  await page.getByRole('link', { name: /mullion\.dxf/ }).press('Enter');
  const viewport = page.getByTestId('viewport');
  await expect.poll(() => inked(page)).toBeGreaterThan(5000);
  const all = await inked(page);
  await viewport.focus();
  const selection = page.getByTestId('selection');

  // The gasket, 1/8 in across.
  await keysTo(page, -0.0625, 1.0625);
  await viewport.press('Enter');
  await expect(selection).toContainText('0.125 in · 3.175 mm');
  await viewport.press('h');
  await expect(selection).toHaveCount(0);
  await viewport.press('u');

  // A distance between two ends that the cross snaps to.
  await viewport.press('m');
  await keysTo(page, 0.1875, 0);
  await viewport.press('Enter');
  await keysTo(page, 3.8125, 0);
  await viewport.press('Enter');
  await expect(page.getByTestId('measured')).toContainText('3.625 in');
  await viewport.press('Escape');

  // A frame about the gasket: two corners, then once more given up half way.
  await viewport.press('f');
  await keysTo(page, -0.3, 0.8);
  await viewport.press('Enter');
  await keysTo(page, 0.02, 1.2);
  await viewport.press('Enter');
  await expect(selection).toContainText('0.125 in');
  await viewport.press('Enter');
  await viewport.press('Escape');
  await expect(selection).toContainText('0.125 in');
  await viewport.press('Escape');
  await expect(selection).toHaveCount(0);

  await viewport.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('set a corner of a frame');
  await page.keyboard.press('Escape');
  // Stations by number, and the ground by a letter.
  await page.keyboard.press('2');
  await expect(page).toHaveURL(/check$/);
  await page.keyboard.press('1');
  await expect(page).toHaveURL(/take-in$/);
  const ground = (): Promise<string> => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  const before = await ground();
  await page.keyboard.press('n');
  await expect.poll(ground).not.toBe(before);
  await page.keyboard.press('n');
  // The drawing is cut anew for the station, and the canvas with it.
  await expect(page.getByTestId('viewport')).toHaveAttribute('data-view', /\d/);
  await page.getByTestId('viewport').press('Home');
  await expect(async () => expect(await inked(page)).toBeGreaterThan(all * 0.9)).toPass({ timeout: 15_000 });
});
