import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { request as rawRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Answer, Running } from './running.js';
import { ask, demoFile, ended, newFolder, start, startAndFail } from './running.js';

const TARGET = { format: 'dxf', version: '2010', unit: 'mm', options: {} };
const text = (t: string): Uint8Array => new TextEncoder().encode(t);
const dxf = (...tags: (string | number)[]): Uint8Array =>
  text(
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
      ...tags,
      0,
      'ENDSEC',
      0,
      'EOF',
      '',
    ].join('\n'),
  );
const line = (layer: string): (string | number)[] => [0, 'LINE', 8, layer, 10, 0, 20, 0, 11, 9, 21, 9];

/** Quickly read, and then minutes of letters to be set along a curve: what keeps a thread busy. */
const heavy = text(
  `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><path id="p" d="M0 0C30 40 60 -40 100 0"/><text font-size=".001"><textPath href="#p">${Array.from({ length: 20_000 }, (_, i) => `kestrel${i}`).join(' ')}</textPath></text></svg>`,
);

/** All files below a folder of blobs, those half-received apart. */
const blobsIn = (folder: string): string[] =>
  readdirSync(join(folder, 'blobs')).flatMap((d) =>
    d === 'incoming' ? [] : readdirSync(join(folder, 'blobs', d)).map((f) => join(folder, 'blobs', d, f)),
  );

async function newJob(url: string): Promise<string> {
  return (await ask(`${url}/api/jobs`, 'POST', { name: 'Kestrel Row' })).body.id;
}
const upload = (url: string, job: string, bytes: Uint8Array, name: string, headers = {}): Promise<Answer> =>
  ask(`${url}/api/jobs/${job}/drawings?name=${encodeURIComponent(name)}&again=yes`, 'POST', bytes, headers);
const deliver = (url: string, drawing: string, headers = {}): Promise<Answer> =>
  ask(`${url}/api/drawings/${drawing}/deliveries`, 'POST', TARGET, headers);

describe('a server that is sent what it cannot use', () => {
  const folder = newFolder();
  let server: Running;
  let job: string;
  beforeAll(async () => {
    server = await start(folder, { SCALARIA_TASK_SECONDS: '8', SCALARIA_KEY: 'kestrel' });
    server.url = server.url.replace(/\/$/, '');
    job = (await asked('/api/jobs', 'POST', { name: 'Kestrel Row' })).body.id;
  });
  afterAll(() => server.stop());
  const KEY = { Authorization: 'Bearer kestrel' };
  const asked = (path: string, method = 'GET', body?: unknown, headers = {}): Promise<Answer> =>
    ask(server.url + path, method, body, { ...KEY, ...headers });
  const put = (bytes: Uint8Array, name: string, headers = {}): Promise<Answer> =>
    upload(server.url, job, bytes, name, { ...KEY, ...headers });

  it('answers a name that no database can hold in words', async () => {
    for (const name of ['a\u0000b', 'a\ud800b'])
      expect(await asked('/api/jobs', 'POST', { name })).toMatchObject({
        status: 400,
        body: { title: expect.stringMatching(/cannot be kept/) as string },
      });
    expect((await asked(`/api/jobs/${job}`, 'PATCH', { name: 'a\u0000b' })).status).toBe(400);
  });

  it('takes drawings whose names and texts hold such characters, says so, and delivers them', async () => {
    for (const name of ['L\\U+0000x', 'L\\U+D83Dx', 'L\u0000x']) {
      const { status, body } = await put(
        dxf(...line(name), 0, 'TEXT', 8, 'A', 10, 0, 20, 0, 40, 5, 1, 'ab\\U+D800cd'),
        'odd.dxf',
      );
      expect(status, JSON.stringify(body)).toBe(201);
      const { body: drawing } = await asked(`/api/drawings/${body.id}`);
      expect(drawing.claims.layers.map((l: { name: string }) => l.name)).toContain('L\ufffdx');
      expect(drawing.ledger.some((r: { reason: string }) => /characters that nothing can hold/.test(r.reason))).toBe(
        true,
      );
      const made = await asked(`/api/drawings/${body.id}/deliveries`, 'POST', TARGET);
      expect(await endedHere(made.body.id)).toMatchObject({ state: 'done', verdict: { holds: true } });
    }
  });
  const endedHere = async (id: string): Promise<Answer['body']> => {
    for (let i = 0; i < 300; i++) {
      const { body } = await asked(`/api/deliveries/${id}`);
      if (!['waiting', 'working'].includes(body.state)) return body;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('the delivery did not end');
  };

  it('answers a template that is no id, and a cookie that is no text', async () => {
    const { body } = await put(dxf(...line('A')), 'a.dxf');
    const bad = await asked(`/api/drawings/${body.id}/deliveries`, 'POST', {
      ...TARGET,
      options: { template: '../../x' },
    });
    expect(bad.status).toBe(400);
    expect((await ask(`${server.url}/api/jobs`, 'GET', undefined, { Cookie: 'scalaria-key=%' })).status).toBe(401);
  });

  it('refuses a length beyond all bounds before reading anything', async () => {
    const url = new URL(server.url);
    const status = await new Promise<number>((resolve, reject) => {
      const r = rawRequest(
        {
          host: url.hostname,
          port: url.port,
          method: 'POST',
          path: `/api/jobs/${job}/drawings?name=a.dxf`,
          headers: { ...KEY, 'Content-Length': 2_000_000_000, 'Content-Type': 'application/octet-stream' },
        },
        (response) => resolve(response.statusCode ?? 0),
      );
      r.on('error', reject);
      r.flushHeaders();
    });
    expect(status).toBe(413);
  });

  it('keeps nothing of what it refused', async () => {
    const before = blobsIn(folder).length;
    expect((await put(text('neither this nor that'), 'x.dxf')).status).toBe(422);
    expect(
      (
        await put(
          text(
            '<svg xmlns="http://www.w3.org/2000/svg" width=".001mm" height="1e-308mm" viewBox="0 0 .001 .000922"><path d="M0 0L1 1"/></svg>',
          ),
          'x.svg',
        )
      ).status,
    ).toBe(422);
    expect(blobsIn(folder).length).toBe(before);
    expect(readdirSync(join(folder, 'blobs', 'incoming'))).toEqual([]);
  });

  it('refuses a picture of 900 million pixels, though each side would pass', async () => {
    const png = new Uint8Array(33);
    png.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
    new DataView(png.buffer).setUint32(16, 30_000);
    new DataView(png.buffer).setUint32(20, 30_000);
    const sent = await asked(`/api/jobs/${job}/pictures?name=vast.png`, 'POST', png);
    expect(sent).toMatchObject({ status: 422, body: { title: expect.stringMatching(/100 million/) as string } });
  });

  it('shows names as they are: no way out of a folder, no turned direction', async () => {
    for (const [sent, kept] of [
      ['..', 'drawing'],
      ['a/..', 'drawing'],
      ['plan\u202efxd.dxf', 'planfxd.dxf'],
    ])
      expect((await put(dxf(...line('A')), sent!)).body.name).toBe(kept);
  });

  it('mends a stored file that was damaged when the sound one is sent again', async () => {
    const bytes = dxf(...line('Mended'));
    const { body } = await put(bytes, 'mended.dxf');
    const known = blobsIn(folder).find((f) => readFileSync(f, 'utf8').includes('Mended'))!;
    writeFileSync(known, Buffer.alloc(statSync(known).size, 48));
    const torn = await asked(`/api/drawings/${body.id}/source`);
    expect(torn).toMatchObject({ status: 500, body: { remedy: expect.stringMatching(/again/) as string } });
    expect((await put(bytes, 'again.dxf')).status).toBe(201);
    expect((await asked(`/api/drawings/${body.id}/source`)).status).toBe(200);
  });

  it('a delivery that takes too long is stopped, and holds up neither uploads nor proofs', async () => {
    const quick = (await put(dxf(...line('A')), 'quick.dxf')).body.id;
    const proven = (await asked(`/api/drawings/${quick}/deliveries`, 'POST', TARGET)).body.id;
    await endedHere(proven);
    const copy = new Uint8Array(
      await (await fetch(`${server.url}/api/deliveries/${proven}/file`, { headers: KEY })).arrayBuffer(),
    );
    const { body: slow } = await put(heavy, 'heavy.svg');
    const { body: delivery } = await asked(`/api/drawings/${slow.id}/deliveries`, 'POST', TARGET);
    await new Promise((resolve) => setTimeout(resolve, 500));
    const all = await Promise.all([
      put(demoFile('kestrel-row-mullion.dxf'), 'one.dxf'),
      put(demoFile('kestrel-row-section.dxf'), 'two.dxf'),
      asked(`/api/deliveries/${proven}/proofs`, 'POST', copy),
    ]);
    expect(all.map((a) => a.status)).toEqual([201, 201, 200]);
    expect((await asked(`/api/deliveries/${delivery.id}`)).body.state).toBe('working');
    expect(await endedHere(delivery.id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/longer than the 8 s/) as string,
    });
    // The thread is free again.
    expect(await endedHere((await asked(`/api/drawings/${quick}/deliveries`, 'POST', TARGET)).body.id)).toMatchObject({
      state: 'done',
    });
  });

  it('two windows: each keeps what it decided; a clash is told with what the other did', async () => {
    const { id } = (await put(demoFile('kestrel-row-section.dxf'), 'shared.dxf')).body;
    const change = (what: object): Promise<Answer> => asked(`/api/drawings/${id}`, 'PATCH', what);
    const { seen } = (await asked(`/api/drawings/${id}`)).body;
    expect((await change({ intake: { unit: 'cm' }, seen })).status).toBe(200);
    const other = await change({ intake: { layers: { mode: 'all', names: [] } }, seen });
    expect(other.status).toBe(200);
    expect(other.body.intake).toMatchObject({ unit: 'cm', layers: { mode: 'all' } });
    const clash = await change({ intake: { unit: 'in' }, seen });
    expect(clash).toMatchObject({ status: 409, body: { title: expect.stringMatching(/Unit is now cm/) as string } });
    // The same once more is no clash: the answer to the first may have been lost.
    expect((await change({ intake: { unit: 'cm' }, seen })).status).toBe(200);
    // And with what is known now it goes through; taken back is taken back.
    const now = (await asked(`/api/drawings/${id}`)).body;
    expect((await change({ intake: { unit: 'in', plane: 'flat' }, seen: now.seen })).body.intake).toMatchObject({
      unit: 'in',
      plane: 'flat',
    });
    expect((await change({ unset: ['plane'] })).body.intake.plane).toBeUndefined();
  });

  it('a request sent twice makes one drawing, one revision, one delivery', async () => {
    const named = (): Record<string, string> => ({ 'Idempotency-Key': randomUUID() });
    const first = named();
    const bytes = demoFile('kestrel-row-mullion.dxf');
    const [a, b] = [await put(bytes, 'twice.dxf', first), await put(bytes, 'twice.dxf', first)];
    expect(b.body.id).toBe(a.body.id);
    const second = named();
    const revise = (): Promise<Answer> =>
      asked(`/api/drawings/${a.body.id}/revisions?name=b.dxf`, 'POST', demoFile('kestrel-row-section.dxf'), second);
    expect([(await revise()).body.revision, (await revise()).body.revision]).toEqual([2, 2]);
    const third = named();
    const ids = [0, 1].map(() => asked(`/api/drawings/${a.body.id}/deliveries`, 'POST', TARGET, third));
    const [x, y] = await Promise.all(ids);
    expect(x!.body.id).toBe(y!.body.id);
    expect((await asked(`/api/drawings/${a.body.id}/deliveries`)).body.length).toBe(1);
    await endedHere(x!.body.id);
  });

  it('revisions sent at once are each answered with their own number', async () => {
    const { id } = (await put(demoFile('kestrel-row-mullion.dxf'), 'many.dxf')).body;
    const sent = await Promise.all(
      [1, 2, 3, 4].map((n) => asked(`/api/drawings/${id}/revisions?name=r${n}.dxf`, 'POST', dxf(...line(`R${n}`)))),
    );
    expect(sent.map((s) => s.body.revision).sort()).toEqual([2, 3, 4, 5]);
  });
});

it('a second server on the same folder is refused, whatever its temporary folder is', async () => {
  const folder = newFolder();
  const running = await start(folder);
  const other = await startAndFail(folder, { TMPDIR: mkdtempSync(join(tmpdir(), 'elsewhere-')) });
  expect(other).toMatchObject({ code: 1, said: expect.stringMatching(/in use by another/) as string });
  await running.stop();
  // And a path too long for a socket is claimed all the same.
  const long = join(folder, 'x'.repeat(120));
  const far = await start(long);
  expect((await startAndFail(long)).said).toMatch(/in use by another/);
  await far.stop('SIGKILL');
  const again = await start(long);
  await again.stop();
});

it('a delivery that ends the server each time is given up; the others are done, one after the other', async () => {
  const folder = newFolder();
  let running = await start(folder);
  const job = await newJob(running.url);
  const slow = (await upload(running.url, job, heavy, 'heavy.svg')).body.id;
  const quick = (await upload(running.url, job, demoFile('kestrel-row-mullion.dxf'), 'quick.dxf')).body.id;
  const { id } = (await deliver(running.url, slow)).body;
  const others: string[] = [];
  for (let i = 0; i < 12; i++) others.push((await deliver(running.url, quick)).body.id);
  for (let kill = 0; kill < 3; kill++) {
    for (let i = 0; i < 100; i++) {
      if ((await ask(`${running.url}/api/deliveries/${id}`)).body.state === 'working') break;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    await running.stop('SIGKILL');
    running = await start(folder);
  }
  expect(await ended(running.url, id)).toMatchObject({
    state: 'failed',
    error: expect.stringMatching(/begun 3 times/) as string,
  });
  const states = await Promise.all(others.map(async (o) => (await ended(running.url, o)).state));
  expect(new Set(states)).toEqual(new Set(['done']));
  await running.stop();
}, 300_000);

/** A small disk of its own, where this machine lets one be made. */
function smallDisk(megabytes: number): string | null {
  const folder = mkdtempSync(join(tmpdir(), 'scalaria-small-'));
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder], { stdio: 'ignore' });
    return folder;
  } catch {
    console.warn('SKIPPED: no small disk can be made here, so a full one is not tried');
    return null;
  }
}

it('a full disk is told in words, nothing cut short is called done, and the server stays up', async (t) => {
  const disk = smallDisk(160);
  if (!disk) return t.skip();
  try {
    const running = await start(disk);
    const job = await newJob(running.url);
    const { id } = (await upload(running.url, job, demoFile('kestrel-row-front-elevation.dxf'), 'a.dxf')).body;
    const free = (): number =>
      Number(execFileSync('df', ['--output=avail', '-k', disk], { encoding: 'utf8' }).split('\n')[1]);
    // All but a little is taken by somebody else.
    const filler = join(disk, 'filler');
    writeFileSync(filler, Buffer.alloc((free() - 24) * 1024));
    const large = new Uint8Array(400_000).fill(32);
    large.set(dxf(...line('A')));
    const sent = await upload(running.url, job, large, 'large.dxf');
    expect(sent).toMatchObject({
      status: 507,
      body: { title: expect.stringMatching(/disk of the server is full/) as string },
    });
    const made = await deliver(running.url, id);
    if (made.status === 202) {
      const { state, size } = await ended(running.url, made.body.id);
      if (state === 'done') {
        const file = await fetch(`${running.url}/api/deliveries/${made.body.id}/file`);
        expect([file.status, (await file.arrayBuffer()).byteLength]).toEqual([200, size]);
      } else expect(state).toBe('failed');
    } else expect(made.status).toBe(507);
    expect((await ask(`${running.url}/api/jobs`)).status).toBe(200);
    // Room is made: everything goes on.
    execFileSync('rm', [filler]);
    expect((await upload(running.url, job, demoFile('kestrel-row-mullion.dxf'), 'b.dxf')).status).toBe(201);
    await running.stop();
  } finally {
    execFileSync('umount', ['-l', disk]);
  }
});
