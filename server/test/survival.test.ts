import { readdirSync } from 'node:fs';
import { request as rawRequest } from 'node:http';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { ask, demoFile, ended, newFolder, start, startAndFail } from './running.js';

const TARGET = { format: 'dxf', version: '2010', unit: 'mm', options: {} };

it('what was accepted is there after a restart, decisions too', async () => {
  const folder = newFolder();
  const first = await start(folder);
  const job = (await ask(`${first.url}/api/jobs`, 'POST', { name: 'Kept' })).body;
  const drawing = (
    await ask(`${first.url}/api/jobs/${job.id}/drawings?name=a.dxf`, 'POST', demoFile('kestrel-row-mullion.dxf'))
  ).body;
  const { intake } = (await ask(`${first.url}/api/drawings/${drawing.id}`)).body;
  await ask(`${first.url}/api/drawings/${drawing.id}`, 'PATCH', { intake: { ...intake, correction: 2 } });
  await first.stop();
  const second = await start(folder);
  expect((await ask(`${second.url}/api/drawings/${drawing.id}`)).body.intake.correction).toBe(2);
  await second.stop();
});

it('killed in the middle of an upload: nothing half-written is shown', async () => {
  const folder = newFolder();
  const first = await start(folder);
  const job = (await ask(`${first.url}/api/jobs`, 'POST', { name: 'Torn' })).body;
  const whole = (
    await ask(`${first.url}/api/jobs/${job.id}/drawings?name=whole.dxf`, 'POST', demoFile('kestrel-row-mullion.dxf'))
  ).body;
  const bytes = demoFile('kestrel-row-front-elevation.dxf');
  const url = new URL(first.url);
  const torn = rawRequest({
    host: url.hostname,
    port: url.port,
    method: 'POST',
    path: `/api/jobs/${job.id}/drawings?name=torn.dxf`,
    headers: { 'Content-Length': bytes.length, 'Content-Type': 'application/octet-stream' },
  });
  torn.on('error', () => {});
  torn.write(bytes.subarray(0, bytes.length >> 1));
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(readdirSync(join(folder, 'blobs', 'incoming')).length).toBe(1);
  await first.stop('SIGKILL');
  const second = await start(folder);
  const { drawings } = (await ask(`${second.url}/api/jobs/${job.id}`)).body;
  expect(drawings.map((d: { id: string }) => d.id)).toEqual([whole.id]);
  expect(readdirSync(join(folder, 'blobs', 'incoming'))).toEqual([]);
  await second.stop();
});

it('killed in the middle of a delivery: it is done after the restart, and its proof holds', async () => {
  const folder = newFolder();
  const first = await start(folder);
  const job = (await ask(`${first.url}/api/jobs`, 'POST', { name: 'Torn' })).body;
  const drawing = (
    await ask(
      `${first.url}/api/jobs/${job.id}/drawings?name=a.dxf`,
      'POST',
      demoFile('kestrel-row-front-elevation.dxf'),
    )
  ).body;
  const ids: string[] = [];
  for (let i = 0; i < 5; i++)
    ids.push((await ask(`${first.url}/api/drawings/${drawing.id}/deliveries`, 'POST', TARGET)).body.id);
  await new Promise((resolve) => setTimeout(resolve, 700));
  await first.stop('SIGKILL');
  const second = await start(folder);
  for (const id of ids) {
    const done = await ended(second.url, id);
    expect(done).toMatchObject({ state: 'done', verdict: { holds: true } });
    const file = await fetch(`${second.url}/api/deliveries/${id}/file`);
    expect((await file.arrayBuffer()).byteLength).toBe(done.size);
  }
  await second.stop();
});

it('a delivery that waits can be stopped', async () => {
  const running = await start(newFolder());
  const job = (await ask(`${running.url}/api/jobs`, 'POST', { name: 'Stop' })).body;
  const drawing = (
    await ask(`${running.url}/api/jobs/${job.id}/drawings?name=a.dxf`, 'POST', demoFile('kestrel-row-mullion.dxf'))
  ).body;
  const { id } = (await ask(`${running.url}/api/drawings/${drawing.id}/deliveries`, 'POST', TARGET)).body;
  expect((await ask(`${running.url}/api/deliveries/${id}/cancel`, 'POST', {})).body.state).toMatch(/cancelled|done/);
  await running.stop();
});

it('says plainly why it cannot start', async () => {
  const folder = newFolder();
  const running = await start(folder);
  const inUse = await startAndFail(folder);
  expect(inUse).toMatchObject({ code: 1 });
  expect(inUse.said).toMatch(/in use by another Scalaria process/);
  await running.stop();

  const taken = createServer();
  await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve));
  const { port } = taken.address() as AddressInfo;
  const noPort = await startAndFail(newFolder(), { SCALARIA_PORT: String(port) });
  expect(noPort).toMatchObject({ code: 1 });
  expect(noPort.said).toMatch(/taken by another program/);
  taken.close();

  const unwritable = await startAndFail('/proc/scalaria');
  expect(unwritable).toMatchObject({ code: 1 });
  expect(unwritable.said).toMatch(/cannot be written to/);

  const open = await startAndFail(newFolder(), { SCALARIA_HOST: '0.0.0.0' });
  expect(open).toMatchObject({ code: 1 });
  expect(open.said).toMatch(/SCALARIA_KEY/);
});

it('asks for its key where one is set', async () => {
  const running = await start(newFolder(), { SCALARIA_KEY: 'kestrel' });
  expect((await ask(`${running.url}/api/jobs`)).status).toBe(401);
  expect((await ask(`${running.url}/api/jobs`, 'GET', undefined, { Authorization: 'Bearer wrong' })).status).toBe(401);
  expect((await ask(`${running.url}/api/jobs`, 'GET', undefined, { Authorization: 'Bearer kestrel' })).status).toBe(
    200,
  );
  await running.stop();
});
