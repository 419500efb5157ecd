import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, newFolder, start } from './running.js';

let server: Running;
let job: string;
const at = (path: string): string => server.url + path;
const leaflet = readFileSync(fileURLToPath(new URL('../../demo/files/kestrel-row-leaflet.pdf', import.meta.url)));

beforeAll(async () => {
  server = await start(newFolder());
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row leaflet' })).body.id;
});
afterAll(() => server.stop());

describe('a PDF', () => {
  let drawing: string;
  it('is taken in by its first page, and says of how many', async () => {
    const made = await ask(at(`/api/jobs/${job}/drawings?name=leaflet.pdf`), 'POST', leaflet);
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    drawing = made.body.id;
    const { claims } = (await ask(at(`/api/drawings/${drawing}`))).body;
    expect([claims.format, claims.pageOf]).toEqual(['pdf', { number: 1, of: 2 }]);
    // Cover: a field, a dot and three lines of words.
    expect(claims.kinds).toEqual({ path: 2, text: 3 });
  });
  it('shows another page once that is decided, and what the file claims is of that page', async () => {
    const { seen } = (await ask(at(`/api/drawings/${drawing}`))).body;
    const now = await ask(at(`/api/drawings/${drawing}`), 'PATCH', { intake: { fromPage: 2 }, seen });
    expect(now.status, JSON.stringify(now.body)).toBe(200);
    expect(now.body.claims.pageOf).toEqual({ number: 2, of: 2 });
    expect(now.body.claims.kinds.line).toBeGreaterThan(10);
    const back = await ask(at(`/api/drawings/${drawing}`), 'PATCH', {
      intake: { fromPage: null },
      seen: now.body.seen,
    });
    expect(back.body.claims.pageOf).toEqual({ number: 1, of: 2 });
  });
  it('gives each page to a drawing of its own, once', async () => {
    const take = (page: unknown) => ask(at(`/api/drawings/${drawing}/pages`), 'POST', { page });
    const second = await take(2);
    expect([second.status, second.body.name]).toEqual([201, 'leaflet.pdf, page 2']);
    const again = await take(2);
    expect([again.status, again.body.same]).toEqual([409, second.body.id]);
    const none = await take(3);
    expect([none.status, none.body.title]).toEqual([422, expect.stringContaining('There is no page 3')]);
    expect((await take(0)).status).toBe(400);
    const { claims, intake } = (await ask(at(`/api/drawings/${second.body.id}`))).body;
    expect([claims.pageOf, intake.fromPage]).toEqual([{ number: 2, of: 2 }, 2]);
  });
  it('is sent for a page at once; the same page twice is recognised, another is not', async () => {
    const other = (await ask(at('/api/jobs'), 'POST', { name: 'Other' })).body.id as string;
    const send = (page: string) => ask(at(`/api/jobs/${other}/drawings?name=leaflet.pdf${page}`), 'POST', leaflet);
    expect((await send('&page=2')).status).toBe(201);
    expect((await send('&page=2')).status).toBe(409);
    expect((await send('')).status).toBe(201);
    expect((await send('&page=none')).status).toBe(400);
  });
  it('that is damaged or locked is refused in words, and nothing of it stays', async () => {
    const before = (await ask(at(`/api/jobs/${job}`))).body.drawings.length;
    const made = await ask(at(`/api/jobs/${job}/drawings?name=cut.pdf`), 'POST', leaflet.subarray(0, 40));
    expect([made.status, made.body.title]).toEqual([422, expect.stringContaining('The PDF is damaged')]);
    expect((await ask(at(`/api/jobs/${job}`))).body.drawings).toHaveLength(before);
  });
});
