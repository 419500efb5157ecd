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

/** A street of one kerb, 50 m long, as R12 text. */
const street = (y: number): Uint8Array =>
  new TextEncoder().encode(
    `0\nSECTION\n2\nENTITIES\n0\nLINE\n8\nKERB\n10\n0\n20\n${y}\n11\n50000\n21\n${y}\n0\nENDSEC\n0\nEOF\n`,
  );

it('a delivery takes in the reference drawings of the job, as they were when it was asked for', async () => {
  const post = (name: string, bytes: Uint8Array) => ask(at(`/api/jobs/${job}/drawings?name=${name}`), 'POST', bytes);
  const plan = (await post('site-plan.dwg', demo('kestrel-row-site-plan.dwg'))).body;
  const { steps: before, claims } = (await ask(at(`/api/drawings/${plan.id}`))).body;
  expect(before).toEqual([]);
  expect(claims.references).toEqual(['kestrel-row-street.dwg']);
  const steps = [{ id: 's', step: 'take-references-in', on: true, params: {} }];
  const intake = { ...(await ask(at(`/api/drawings/${plan.id}`))).body.intake, unit: 'mm' };
  expect((await ask(at(`/api/drawings/${plan.id}`), 'PATCH', { steps, intake })).status).toBe(200);
  const target = { format: 'dxf', version: 'R12', unit: 'mm', options: {} };
  const deliver = async (): Promise<string> => {
    const made = await ask(at(`/api/drawings/${plan.id}/deliveries`), 'POST', target);
    expect(await ended(server.url, made.body.id)).toMatchObject({ state: 'done' });
    return (await fetch(at(`/api/deliveries/${made.body.id}/file`))).text();
  };
  expect(await deliver()).not.toContain('KERB\r\n');
  const ref = (await post('kestrel-row-street.dxf', street(-9123))).body;
  await post('another.dxf', street(-7123));
  const first = await deliver();
  expect(first).toMatch(/KESTREL-ROW-STREET-KERB/i);
  expect(first).toContain('-9123');
  // A newer street is taken in by the next delivery; what it looked like before does not come back.
  const revised = await ask(at(`/api/drawings/${ref.id}/revisions?name=street.dxf`), 'POST', street(-8123));
  expect(revised.status).toBeLessThan(300);
  const second = await deliver();
  expect(second).toContain('-8123');
  expect(second).not.toContain('-7123');
  const { rows } = (await ask(at(`/api/drawings/${plan.id}/forecast`), 'POST', target)).body;
  const codes = (rows as { code?: string }[]).map((r) => r.code);
  expect(codes).toContain('reference-taken-in');
  expect(codes).not.toContain('reference-missing');
});
