import { request as rawRequest } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, demoFile, ended, newFolder, start } from './running.js';

let server: Running;
let job: string;
const at = (path: string): string => server.url + path;
const TARGET = { format: 'svg', version: '1.1', unit: 'mm', options: {} };

beforeAll(async () => {
  server = await start(newFolder(), { SCALARIA_UPLOAD_MB: '1' });
  job = (await ask(at('/api/jobs'), 'POST', { name: ' Kestrel Row ' })).body.id;
});
afterAll(() => server.stop());

const upload = (bytes: Uint8Array, name: string) =>
  ask(at(`/api/jobs/${job}/drawings?name=${encodeURIComponent(name)}&again=yes`), 'POST', bytes);
const text = (t: string): Uint8Array => new TextEncoder().encode(t);

describe('jobs', () => {
  it('are made, renamed, archived, deleted and brought back', async () => {
    const { body } = await ask(at('/api/jobs'), 'POST', { name: 'Second' });
    expect(body).toMatchObject({ name: 'Second', archived: false, drawings: 0, pictureOf: null });
    const change = (what: object) => ask(at(`/api/jobs/${body.id}`), 'PATCH', what);
    expect((await change({ name: 'Renamed', archived: true })).body).toMatchObject({ name: 'Renamed', archived: true });
    await change({ deleted: true });
    const names = async (): Promise<string[]> => (await ask(at('/api/jobs'))).body.map((j: { name: string }) => j.name);
    expect(await names()).not.toContain('Renamed');
    await change({ deleted: false });
    expect(await names()).toContain('Renamed');
  });
  it('need a name, and nothing else goes in', async () => {
    for (const bad of [{}, { name: '' }, { name: '  ' }, { name: 'x', more: 1 }, { name: 5 }]) {
      expect((await ask(at('/api/jobs'), 'POST', bad)).status, JSON.stringify(bad)).toBe(400);
    }
    expect((await ask(at('/api/jobs/not-an-id'))).status).toBe(404);
    expect((await ask(at('/api/jobs/00000000-0000-0000-0000-000000000000'))).status).toBe(404);
  });
});

describe('revisions', () => {
  it('take over decisions and steps, keep every earlier file, and count up', async () => {
    const first = demoFile('kestrel-row-mullion.dxf');
    const { body } = await upload(first, 'mullion.dxf');
    const intake = {
      unit: 'mm',
      pxPerInch: null,
      correction: 1,
      layers: { mode: 'visible', names: [] },
      origin: { mode: 'keep', x: 0, y: 0 },
      plane: 'flat',
    };
    await ask(at(`/api/drawings/${body.id}`), 'PATCH', { intake });
    const next = demoFile('kestrel-row-section.dxf');
    const sent = await ask(at(`/api/drawings/${body.id}/revisions?name=mullion-b.dxf`), 'POST', next);
    expect(sent.status).toBe(201);
    expect(sent.body).toMatchObject({
      id: body.id,
      revision: 2,
      fileName: 'mullion-b.dxf',
      name: 'mullion.dxf',
      intake,
    });
    const { body: list } = await ask(at(`/api/drawings/${body.id}/revisions`));
    expect(list.map((r: { number: number; fileName: string }) => [r.number, r.fileName])).toEqual([
      [2, 'mullion-b.dxf'],
      [1, 'mullion.dxf'],
    ]);
    const bytes = async (path: string) =>
      Buffer.from(await (await fetch(at(`/api/drawings/${body.id}${path}`))).arrayBuffer());
    expect((await bytes('/revisions/1/source')).equals(Buffer.from(first))).toBe(true);
    expect((await bytes('/source')).equals(Buffer.from(next))).toBe(true);
    for (const bad of ['3', '0', 'x', '1.5'])
      expect((await ask(at(`/api/drawings/${body.id}/revisions/${bad}/source`))).status).toBe(404);
  });
  it('a file that cannot be read makes none', async () => {
    const { body } = await upload(demoFile('kestrel-row-mullion.dxf'), 'mullion.dxf');
    expect((await ask(at(`/api/drawings/${body.id}/revisions?name=x.dxf`), 'POST', text('nothing'))).status).toBe(422);
    expect((await ask(at(`/api/drawings/${body.id}`))).body.revision).toBe(1);
  });
  it('two at once get two numbers', async () => {
    const { body } = await upload(demoFile('kestrel-row-mullion.dxf'), 'mullion.dxf');
    // Other bytes than those at hand, and than each other.
    const send = (note: string) =>
      ask(
        at(`/api/drawings/${body.id}/revisions?name=y.dxf`),
        'POST',
        text(`999\r\n${note}\r\n${Buffer.from(demoFile('kestrel-row-mullion.dxf')).toString('latin1')}`),
      );
    await Promise.all([send('one'), send('two')]);
    expect((await ask(at(`/api/drawings/${body.id}/revisions`))).body.map((r: { number: number }) => r.number)).toEqual(
      [3, 2, 1],
    );
  });
});

describe('the encoding of texts', () => {
  it('once decided, the file is read anew: layers are claimed by the names they have in it, also in the next revision', async () => {
    // “Оси” in windows-1251, in a file that states none.
    const layer = Buffer.from([0xce, 0xf1, 0xe8]);
    const file = Buffer.concat([
      Buffer.from('0\nSECTION\n2\nENTITIES\n0\nLINE\n8\n'),
      layer,
      Buffer.from('\n10\n0\n20\n0\n11\n9\n21\n9\n0\nENDSEC\n0\nEOF\n'),
    ]);
    const { body } = await upload(file, 'axes.dxf');
    const layers = async (): Promise<string[]> =>
      (await ask(at(`/api/drawings/${body.id}`))).body.claims.layers.map((l: { name: string }) => l.name);
    expect(await layers()).toContain('Îñè');
    const { intake } = (await ask(at(`/api/drawings/${body.id}`))).body;
    const change = (encoding: string | null) =>
      ask(at(`/api/drawings/${body.id}`), 'PATCH', { intake: { ...intake, encoding } });
    expect((await change('windows-1251')).body.claims.layers.map((l: { name: string }) => l.name)).toContain('Оси');
    await ask(at(`/api/drawings/${body.id}/revisions?name=axes-b.dxf`), 'POST', file);
    expect(await layers()).toContain('Оси');
    await change(null);
    expect(await layers()).toContain('Îñè');
    expect((await change('no-such')).status).toBe(400);
  });
});

describe('thresholds of checks', () => {
  it('are kept with the job and come with each of its drawings', async () => {
    const { body } = await upload(demoFile('kestrel-row-mullion.dxf'), 'mullion.dxf');
    const checks = { 'open-outlines': { widest: 2.5 } };
    expect((await ask(at(`/api/jobs/${job}`), 'PATCH', { checks })).status).toBe(200);
    expect((await ask(at(`/api/drawings/${body.id}`))).body.checks).toEqual(checks);
  });
  it('a check or a setting that is none is refused', async () => {
    for (const checks of [
      { nothing: {} },
      { 'open-outlines': { wide: 1 } },
      { 'open-outlines': { widest: -1 } },
      { 'open-outlines': { widest: 'x' } },
    ])
      expect((await ask(at(`/api/jobs/${job}`), 'PATCH', { checks })).status, JSON.stringify(checks)).toBe(400);
  });
});

describe('taking files in', () => {
  it('reads a drawing and says what it claims; the bytes stay as they are', async () => {
    const bytes = demoFile('kestrel-row-mullion.dxf');
    const { status, body } = await upload(bytes, 'kestrel-row-mullion.dxf');
    expect(status).toBe(201);
    expect(body).toMatchObject({ format: 'dxf', unit: 'in', entities: 15 });
    const detail = (await ask(at(`/api/drawings/${body.id}`))).body;
    expect(detail.claims.layers.length).toBe(6);
    const back = new Uint8Array(await (await fetch(at(`/api/drawings/${body.id}/source`))).arrayBuffer());
    expect(Buffer.from(back).equals(Buffer.from(bytes))).toBe(true);
    const picture = await fetch(at(`/api/drawings/${body.id}/picture`));
    expect(picture.headers.get('content-type')).toMatch(/svg/);
    expect(await picture.text()).toMatch(/^<svg.*<path/);
  });
  it('refuses what is no drawing, with what, where and what to do; the others go on', async () => {
    const [bad, good] = await Promise.all([
      upload(text('%PDF-1.7'), 'plan.dxf'),
      upload(demoFile('kestrel-row-side-elevation.dxf'), 'side.dxf'),
    ]);
    expect(bad.status).toBe(422);
    expect(bad.body.title).toMatch(/plan\.dxf: The PDF is damaged/);
    expect(bad.body.remedy.length).toBeGreaterThan(10);
    expect(good.status).toBe(201);
  });
  it('refuses what is too large, and takes no path from a name', async () => {
    expect((await upload(new Uint8Array(1_200_000), 'big.dxf')).status).toBe(413);
    expect((await upload(demoFile('kestrel-row-mullion.dxf'), '../../etc/passwd')).body.name).toBe('passwd');
    expect((await upload(demoFile('kestrel-row-mullion.dxf'), '..\\x\u0000y.dxf')).body.name).toBe('xy.dxf');
  });
  it('a deleted drawing can be brought back', async () => {
    const { body } = await upload(demoFile('kestrel-row-mullion.dxf'), 'gone.dxf');
    const listed = async (): Promise<boolean> =>
      (await ask(at(`/api/jobs/${job}`))).body.drawings.some((d: { id: string }) => d.id === body.id);
    await ask(at(`/api/drawings/${body.id}`), 'PATCH', { deleted: true });
    expect(await listed()).toBe(false);
    await ask(at(`/api/drawings/${body.id}`), 'PATCH', { deleted: false });
    expect(await listed()).toBe(true);
  });
});

describe('delivering and proving', () => {
  let drawing: string;
  beforeAll(async () => {
    drawing = (await upload(demoFile('kestrel-row-mullion.dxf'), 'mullion.dxf')).body.id;
  });

  it('writes, tells its progress, proves; a damaged copy does not hold', async () => {
    const made = await ask(at(`/api/drawings/${drawing}/deliveries`), 'POST', TARGET);
    expect(made.status).toBe(202);
    const events = await (await fetch(at(`/api/deliveries/${made.body.id}/events`))).text();
    expect(events.trim().split('\n\n').at(-1)).toBe('data: {"state":"done","progress":1}');
    const done = (await ask(at(`/api/deliveries/${made.body.id}`))).body;
    expect(done).toMatchObject({ state: 'done', verdict: { holds: true }, fileName: 'mullion.svg' });
    const file = await fetch(at(`/api/deliveries/${made.body.id}/file`));
    expect(file.headers.get('content-disposition')).toContain('mullion.svg');
    // Uploaded art must never run in the page of the application.
    expect(file.headers.get('content-type')).toBe('application/octet-stream');
    const svg = await file.text();
    expect(svg).toContain('width="127.25mm" height="');
    const good = await ask(at(`/api/deliveries/${made.body.id}/proofs`), 'POST', text(svg));
    expect(good.body.holds).toBe(true);
    const bad = await ask(
      at(`/api/deliveries/${made.body.id}/proofs`),
      'POST',
      text(svg.replace('#00ff00', '#00ff01')),
    );
    expect(bad.body.holds).toBe(false);
  });

  it('the same decisions give the same bytes', async () => {
    const files: string[] = [];
    for (let i = 0; i < 2; i++) {
      const { body } = await ask(at(`/api/drawings/${drawing}/deliveries`), 'POST', {
        ...TARGET,
        format: 'dxf',
        version: '2010',
      });
      await ended(server.url, body.id);
      files.push(await (await fetch(at(`/api/deliveries/${body.id}/file`))).text());
    }
    expect(files[0]).toBe(files[1]);
  });

  it('keeps decisions and steps, and refuses those that make no sense', async () => {
    const { body } = await ask(at(`/api/drawings/${drawing}`));
    const change = (what: object) => ask(at(`/api/drawings/${drawing}`), 'PATCH', what);
    expect((await change({ intake: { ...body.intake, unit: 'furlong' } })).status).toBe(400);
    expect((await change({ intake: { ...body.intake, correction: 0 } })).status).toBe(400);
    expect((await change({ steps: [{ id: 'a', step: 'no-such', on: true, params: {} }] })).body.title).toMatch(
      /no-such/,
    );
    expect(
      (await change({ steps: [{ id: 'a', step: 'set-true-size', on: true, params: { measured: 0 } }] })).body.title,
    ).toMatch(/above 0/);
    const steps = [{ id: 'a', step: 'shift-origin', on: true, params: { to: 'lowerLeft' }, version: 2 }];
    expect((await change({ steps })).body.steps).toEqual(steps);
    // A plan of before its version comes back as it is said today.
    const before = [{ id: 'a', step: 'shift-origin', on: true, params: { to: 'point', x: 3, y: 4 } }];
    const today = [{ ...steps[0], params: { to: 'point', point: { x: 3, y: 4 } } }];
    expect((await change({ steps: before })).body.steps).toEqual(today);
    expect((await ask(at(`/api/drawings/${drawing}`))).body.steps).toEqual(today);
    expect((await change({ steps: [{ ...steps[0], version: 99 }] })).body.title).toMatch(/newer version/);
  });

  it('refuses while the unit is undecided, and targets that are none', async () => {
    const plain = demoFile('kestrel-row-mullion.dxf');
    const unitless = text(new TextDecoder().decode(plain).replace(/ {2}9\r\n\$INSUNITS\r\n 70\r\n1\r\n/, ''));
    const { body } = await upload(unitless, 'unitless.dxf');
    expect(body.unit).toBeNull();
    const refused = await ask(at(`/api/drawings/${body.id}/deliveries`), 'POST', TARGET);
    expect(refused.status).toBe(409);
    expect(refused.body.remedy).toMatch(/station one/);
    expect((await ask(at(`/api/drawings/${body.id}/deliveries`), 'POST', { ...TARGET, version: '9' })).status).toBe(
      400,
    );
  });
});

describe('maps of characters', () => {
  it('are those that the standard names, and no other file is', async () => {
    const got = await fetch(at('/api/character-maps/90ms-RKSJ-H'));
    expect([got.status, (await got.arrayBuffer()).byteLength > 100]).toEqual([200, true]);
    for (const no of ['no-such-map', '..%2F..%2Fpackage.json', '%2e%2e', 'a%00b', 'x'.repeat(200)])
      expect((await fetch(at(`/api/character-maps/${no}`))).status, no).toBe(404);
  });
});

describe('who may ask', () => {
  const status = (headers: Record<string, string>): Promise<number> =>
    new Promise((resolve, reject) => {
      const url = new URL(server.url);
      rawRequest({ host: url.hostname, port: url.port, path: '/api/jobs', headers }, (r) => {
        r.resume();
        resolve(r.statusCode ?? 0);
      })
        .once('error', reject)
        .end();
    });
  it('only those who address this machine, from its own pages', async () => {
    const { host } = new URL(server.url);
    expect(await status({ host })).toBe(200);
    expect(await status({ host: 'evil.example' })).toBe(403);
    expect(await status({ host, origin: 'http://evil.example' })).toBe(403);
    expect(await status({ host, origin: 'null' })).toBe(403);
    expect(await status({ host, origin: `http://${host}` })).toBe(200);
  });
});

it('describes itself', async () => {
  const { body } = await ask(at('/api/openapi.json'));
  expect(Object.keys(body.paths)).toEqual(
    expect.arrayContaining(['/api/jobs/{job}/drawings', '/api/deliveries/{delivery}/events']),
  );
  expect(
    body.paths['/api/drawings/{drawing}'].patch.requestBody.content['application/json'].schema.properties.intake,
  ).toBeTruthy();
});

it('answers unknown addresses with words', async () => {
  const { status, body } = await ask(at('/api/nothing'));
  expect(status).toBe(404);
  expect(body.title).toMatch(/no such address/);
});
