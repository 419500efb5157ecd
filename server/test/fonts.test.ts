import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, ended, newFolder, start } from './running.js';

let server: Running;
let job: string;
const at = (path: string): string => server.url + path;
const font = (name: string): Uint8Array =>
  readFileSync(fileURLToPath(import.meta.resolve(`@scalaria/core/fonts/${name}`)));
const give = (bytes: Uint8Array, name: string) =>
  ask(at(`/api/jobs/${job}/fonts?name=${encodeURIComponent(name)}`), 'POST', bytes);

beforeAll(async () => {
  server = await start(newFolder());
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row' })).body.id;
});
afterAll(() => server.stop());

describe('fonts of a job', () => {
  it('are read, say what their licence allows, come back as bytes, and go', async () => {
    const bytes = font('source-serif-4-latin-400-italic.woff2');
    const { status, body } = await give(bytes, 'signs.woff2');
    expect(status).toBe(201);
    expect(body).toMatchObject({
      family: 'Source Serif 4',
      style: '400 italic',
      embedding: 'free',
      fileName: 'signs.woff2',
    });
    const back = new Uint8Array(await (await fetch(at(`/api/fonts/${body.id}/file`))).arrayBuffer());
    expect(Buffer.from(back).equals(Buffer.from(bytes))).toBe(true);
    expect((await ask(at(`/api/jobs/${job}/fonts`))).body.fonts.length).toBe(1);
    await ask(at(`/api/fonts/${body.id}`), 'PATCH', { deleted: true });
    expect((await ask(at(`/api/jobs/${job}/fonts`))).body.fonts).toEqual([]);
  });
  it('that are none are refused with words', async () => {
    const { status, body } = await give(new TextEncoder().encode('no font at all'), 'x.ttf');
    expect(status).toBe(422);
    expect(body.title).toMatch(/x\.ttf.*no font/);
    expect(body.remedy).toMatch(/TTF/);
  });
  it('need a job, and a chart of texts', async () => {
    const none = '00000000-0000-0000-0000-000000000000';
    expect((await ask(at(`/api/jobs/${none}/fonts`))).status).toBe(404);
    expect((await ask(at(`/api/jobs/${job}/font-chart`), 'PUT', { a: 1 })).status).toBe(400);
  });
});

it('a delivery takes its letters from the chart and the fonts of its job, as they were when it was asked for', async () => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="30mm" viewBox="0 0 90 30"><text x="5" y="20" font-family="Old Face" font-size="12">Gleis</text></svg>';
  const drawing = (await ask(at(`/api/jobs/${job}/drawings?name=sign.svg`), 'POST', new TextEncoder().encode(svg))).body
    .id;
  const target = { format: 'svg', version: '1.1', unit: 'mm', options: { decimals: 4, text: 'outlines' } };
  const deliver = async (): Promise<string> => {
    const made = await ask(at(`/api/drawings/${drawing}/deliveries`), 'POST', target);
    const row = await ended(server.url, made.body.id);
    expect(row).toMatchObject({ state: 'done', verdict: { holds: true } });
    return (await fetch(at(`/api/deliveries/${made.body.id}/file`))).text();
  };
  const plain = await deliver();
  await ask(at(`/api/jobs/${job}/font-chart`), 'PUT', { 'Old Face': 'Spline Sans Mono' });
  const charted = await deliver();
  expect(charted).not.toBe(plain);
  expect(await deliver()).toBe(charted);
});
