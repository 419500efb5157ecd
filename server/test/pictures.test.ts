import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, ended, newFolder, start } from './running.js';

const demo = (name: string): Uint8Array =>
  readFileSync(fileURLToPath(new URL(`../../demo/files/${name}`, import.meta.url)));
let server: Running;
let job = '';
const at = (path: string): string => server.url + path;
const give = (bytes: Uint8Array, name: string) =>
  ask(at(`/api/jobs/${job}/pictures?name=${encodeURIComponent(name)}`), 'POST', bytes);

beforeAll(async () => {
  server = await start(newFolder());
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row' })).body.id;
});
afterAll(() => server.stop());

it('pictures of a job say their size, come back as bytes, go and come again', async () => {
  const bytes = demo('kestrel-row-sketch.png');
  const { status, body } = await give(bytes, '../scans/sketch.png');
  expect(status).toBe(201);
  expect(body).toMatchObject({ name: 'sketch.png', mediaType: 'image/png', width: 720, height: 420 });
  expect(body.pxPerInch).toBeCloseTo(150, 1);
  const answer = await fetch(at(`/api/pictures/${body.id}/file`));
  expect(answer.headers.get('content-type')).toBe('image/png');
  expect(Buffer.from(await answer.arrayBuffer()).equals(Buffer.from(bytes))).toBe(true);
  const list = async (): Promise<unknown[]> => (await ask(at(`/api/jobs/${job}/pictures`))).body.pictures;
  expect((await list()).length).toBe(1);
  await ask(at(`/api/pictures/${body.id}`), 'PATCH', { deleted: true });
  expect(await list()).toEqual([]);
  await ask(at(`/api/pictures/${body.id}`), 'PATCH', { deleted: false });
  expect((await list()).length).toBe(1);
  await ask(at(`/api/pictures/${body.id}`), 'PATCH', { deleted: true });
});

it('what is no picture, or one too large to show, is refused with words', async () => {
  const none = await give(new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'plan.png');
  expect(none.status).toBe(422);
  expect(none.body.title).toMatch(/plan\.png is neither PNG nor JPEG/);
  expect(none.body.remedy).toMatch(/PNG or JPEG/);
  const wide = demo('kestrel-row-sketch.png').slice();
  new DataView(wide.buffer).setUint32(16, 40_000);
  expect((await give(wide, 'wide.png')).body.title).toMatch(/40000 × 420 px/);
  expect((await ask(at('/api/jobs/00000000-0000-0000-0000-000000000000/pictures'))).status).toBe(404);
});

it('a delivery holds the pictures that the drawing names, as they were when it was asked for', async () => {
  const study = await ask(at(`/api/jobs/${job}/drawings?name=study.svg`), 'POST', demo('kestrel-row-sign-study.svg'));
  const target = { format: 'svg', version: '1.1', unit: 'mm', options: { decimals: 4, text: 'keep' } };
  const deliver = async (): Promise<string> => {
    const made = await ask(at(`/api/drawings/${study.body.id}/deliveries`), 'POST', target);
    const row = await ended(server.url, made.body.id);
    expect(row).toMatchObject({ state: 'done', verdict: { holds: true } });
    return (await fetch(at(`/api/deliveries/${made.body.id}/file`))).text();
  };
  expect((await deliver()).includes('<image')).toBe(false);
  const other = await give(demo('kestrel-row-sketch.png'), 'another.png');
  expect((await deliver()).includes('<image')).toBe(false);
  const { body } = await give(demo('kestrel-row-sketch.png'), 'kestrel-row-SKETCH.png');
  const held = await deliver();
  expect(held.includes(Buffer.from(demo('kestrel-row-sketch.png')).toString('base64'))).toBe(true);
  for (const id of [body.id, other.body.id]) await ask(at(`/api/pictures/${id}`), 'PATCH', { deleted: true });
  expect((await deliver()).includes('<image')).toBe(false);
});
