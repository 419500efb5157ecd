import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, demoFile, ended, newFolder, start } from './running.js';

let running: Running;
const at = (path: string): string => running.url + path;
beforeAll(async () => void (running = await start(newFolder())));
afterAll(() => running.stop());

const newJob = async (name: string): Promise<string> =>
  ((await ask(at('/api/jobs'), 'POST', { name })).body as { id: string }).id;
const take = (job: string, name: string, bytes: Uint8Array<ArrayBuffer>, more = '') =>
  ask(at(`/api/jobs/${job}/drawings?name=${name}${more}`), 'POST', bytes);
const MULLION = 'kestrel-row-mullion.dxf';
/** The same drawing with a line of comment more: other bytes. */
const touched = (bytes: Uint8Array): Uint8Array<ArrayBuffer> =>
  new TextEncoder().encode(`999\r\nchecked\r\n${new TextDecoder('latin1').decode(bytes)}`);

describe('the same file twice', () => {
  it('is recognised by its bytes, whatever it is called, and taken in again only when that is said', async () => {
    const job = await newJob('twice');
    const first = (await take(job, MULLION, demoFile(MULLION))).body as { id: string };
    const again = await take(job, 'other-name.dxf', demoFile(MULLION));
    expect(again.status).toBe(409);
    expect(again.body).toMatchObject({ same: first.id });
    expect((again.body as { title: string }).title).toContain('byte for byte revision 1 of “kestrel-row-mullion.dxf”');
    expect((await take(job, 'other-name.dxf', demoFile(MULLION), '&again=yes')).status).toBe(201);
    // Another job knows nothing of it.
    expect((await take(await newJob('other'), MULLION, demoFile(MULLION))).status).toBe(201);
  });
  it('is no new revision; an older one may come back as the newest', async () => {
    const job = await newJob('revisions');
    const { id } = (await take(job, 'a.dxf', demoFile(MULLION))).body as { id: string };
    const newer = (bytes: Uint8Array<ArrayBuffer>) =>
      ask(at(`/api/drawings/${id}/revisions?name=a.dxf`), 'POST', bytes);
    const same = await newer(demoFile(MULLION));
    expect([same.status, (same.body as { title: string }).title]).toEqual([
      409,
      'a.dxf is byte for byte the revision at hand (1): nothing was taken in.',
    ]);
    expect((await newer(touched(demoFile(MULLION)))).body).toMatchObject({ revision: 2 });
    expect((await newer(demoFile(MULLION))).body).toMatchObject({ revision: 3 });
  });
});

describe('what was deleted', () => {
  it('is listed with its job, the last first, and put back where it was', async () => {
    const job = await newJob('bin');
    const { id } = (await take(job, 'a.dxf', demoFile(MULLION))).body as { id: string };
    const picture = (
      await ask(at(`/api/jobs/${job}/pictures?name=sketch.png`), 'POST', demoFile('kestrel-row-sketch.png'))
    ).body as { id: string };
    const target = { format: 'dxf', version: '2010', unit: null, name: 'for the shop' };
    const delivery = (await ask(at(`/api/drawings/${id}/deliveries`), 'POST', target)).body as { id: string };
    await ended(running.url, delivery.id);
    const gone = async (): Promise<Record<string, { id: string; name: string }[]>> =>
      (await ask(at(`/api/jobs/${job}/bin`))).body as Record<string, { id: string; name: string }[]>;
    expect(await gone()).toEqual({ drawings: [], deliveries: [], fonts: [], pictures: [] });
    await ask(at(`/api/deliveries/${delivery.id}`), 'PATCH', { deleted: true });
    await ask(at(`/api/pictures/${picture.id}`), 'PATCH', { deleted: true });
    expect((await ask(at(`/api/drawings/${id}/deliveries`))).body).toEqual([]);
    expect((await gone())['deliveries']).toMatchObject([
      { id: delivery.id, name: 'for the shop.dxf', drawing: 'a.dxf' },
    ]);
    expect((await gone())['pictures']).toMatchObject([{ id: picture.id, name: 'sketch.png' }]);
    // The file of a deleted delivery is still there.
    expect((await fetch(at(`/api/deliveries/${delivery.id}/file`))).status).toBe(200);
    await ask(at(`/api/deliveries/${delivery.id}`), 'PATCH', { deleted: false });
    expect((await ask(at(`/api/drawings/${id}/deliveries`))).body).toMatchObject([{ id: delivery.id }]);
    await ask(at(`/api/drawings/${id}`), 'PATCH', { deleted: true });
    expect((await gone())['drawings']).toMatchObject([{ id, name: 'a.dxf' }]);
    await ask(at(`/api/jobs/${job}`), 'PATCH', { deleted: true });
    expect((await ask(at('/api/bin'))).body).toMatchObject([{ id: job, name: 'bin', deleted: true }]);
  });
});

describe('how a file is asked for', () => {
  it('is kept with the drawing, and is where the next drawing of the job begins, but for its name', async () => {
    const job = await newJob('targets');
    const one = (await take(job, 'a.dxf', demoFile(MULLION))).body as { id: string };
    const two = (await take(job, 'b.dxf', touched(demoFile(MULLION)))).body as { id: string };
    const target = { format: 'dwg', version: '2004', unit: 'mm', options: { text: 'outlines' } };
    const of = async (id: string) => (await ask(at(`/api/drawings/${id}`))).body as { target: unknown; seen: number };
    expect((await of(one.id)).target).toBeNull();
    const seen = (await of(one.id)).seen;
    await ask(at(`/api/drawings/${one.id}`), 'PATCH', { target });
    expect((await of(one.id)).target).toEqual(target);
    expect((await of(two.id)).target).toBeNull();
    // A window that saw an older version of it is no clash: it is a form as it was left.
    expect(
      (await ask(at(`/api/drawings/${one.id}`), 'PATCH', { target: { ...target, unit: 'cm' }, seen })).status,
    ).toBe(200);
    const made = (await ask(at(`/api/drawings/${one.id}/deliveries`), 'POST', { ...target, name: 'shop' })).body as {
      id: string;
    };
    await ended(running.url, made.id);
    expect((await ask(at(`/api/deliveries/${made.id}`))).body).toMatchObject({
      fileName: 'shop.dwg',
      target: { name: 'shop' },
    });
    expect((await of(two.id)).target).toEqual(target);
  });
  it('is told beforehand: what would be lost and changed, without writing it', async () => {
    const job = await newJob('forecast');
    const bytes = demoFile('kestrel-row-wayfinding-panel.svg');
    const { id } = (await take(job, 'panel.svg', bytes)).body as { id: string };
    const target = { format: 'dxf', version: '2000', unit: null };
    const { status, body } = await ask(at(`/api/drawings/${id}/forecast`), 'POST', target);
    expect(status).toBe(200);
    const { strip, rows } = body as {
      strip: { carryOver: string; state: string }[];
      rows: { code: string; action: string }[];
    };
    expect(strip).toHaveLength(8);
    expect(strip.find((s) => s.carryOver === 'colour')!.state).toBe('lost');
    expect(rows.some((r) => r.action === 'dropped')).toBe(true);
    expect((await ask(at(`/api/drawings/${id}/deliveries`))).body).toEqual([]);
    const none = await ask(at(`/api/drawings/${id}/forecast`), 'POST', { ...target, version: '1999' });
    expect([none.status, (none.body as { title: string }).title]).toEqual([400, expect.stringContaining('1999')]);
  });
});

describe('a window that looks whether another changed the drawing', () => {
  it('is told its version, its newest revision and whether it was deleted, and no more', async () => {
    const job = await newJob('seen');
    const { id } = (await take(job, 'a.dxf', demoFile(MULLION))).body as { id: string };
    const seen = async () => (await ask(at(`/api/drawings/${id}/seen`))).body;
    expect(await seen()).toEqual({ seen: 1, revision: 1, deleted: false });
    await ask(at(`/api/drawings/${id}`), 'PATCH', { review: { purpose: 'cut', aside: { 'doubles|*': 'drawn so' } } });
    await ask(at(`/api/drawings/${id}/revisions?name=a.dxf`), 'POST', touched(demoFile(MULLION)));
    expect(await seen()).toEqual({ seen: 2, revision: 2, deleted: false });
    expect((await ask(at(`/api/drawings/${id}`))).body).toMatchObject({
      review: { purpose: 'cut', aside: { 'doubles|*': 'drawn so' } },
    });
    expect((await ask(at(`/api/drawings/${id}`), 'PATCH', { review: { purpose: 'carving' } })).status).toBe(400);
  });
});

describe('a small picture', () => {
  it('is drawn on the ground at hand: black becomes ink by night, fills keep their colours', async () => {
    const job = await newJob('pictures');
    const { id } = (await take(job, 'f.dxf', demoFile('kestrel-row-front-elevation.dxf'))).body as { id: string };
    const svg = async (query: string): Promise<string> =>
      (await fetch(at(`/api/drawings/${id}/picture${query}`))).text();
    const [paper, night] = [await svg(''), await svg('?ground=night')];
    expect(paper).toContain('fill="#7f3f00"');
    expect(night).toContain('fill="#7f3f00"');
    expect(night).not.toContain('stroke="#000000"');
    // The same shapes, whatever their colours.
    const shapes = (s: string): string[] => [...s.matchAll(/ d="([^"]*)"/g)].map((m) => m[1]!);
    expect(shapes(night)).toEqual(shapes(paper));
  });
});
