import { open } from './zz-shot.mjs';
const { browser, page, B } = await open();
const jobs = await (await fetch(B + '/api/jobs')).json(); const job = jobs[0]; const d = await (await fetch(`${B}/api/jobs/${job.id}`)).json();
const plan = d.drawings.find(x => x.name.includes('plan'));
await page.goto(`${B}/jobs/${job.id}`); await page.waitForTimeout(2500); await page.screenshot({ path: '/tmp/t/job.png' });
await page.goto(`${B}/drawings/${plan.id}/take-in`); await page.waitForTimeout(6000); console.log(page.url()); await page.screenshot({ path: '/tmp/t/takein.png' });
await page.goto(`${B}/drawings/${plan.id}/deliver`); await page.waitForTimeout(4000); await page.screenshot({ path: '/tmp/t/deliver.png' });
await browser.close();
