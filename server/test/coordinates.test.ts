import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, newFolder, start } from './running.js';

let server: Running;
let job: string;
const at = (path: string): string => server.url + path;
const send = (name: string, text: string, more = '') =>
  ask(at(`/api/jobs/${job}/drawings?name=${name}${more}`), 'POST', Buffer.from(text));

beforeAll(async () => {
  server = await start(newFolder());
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row fins' })).body.id;
});
afterAll(() => server.stop());

describe('coordinates as text', () => {
  it('are refused with the numbers of their wrong lines, and nothing of them is kept', async () => {
    const bad = await send('fin.csv', '-3;10\n3;1o\n3;190\n-3;190\n');
    expect([bad.status, bad.body.title]).toEqual([422, expect.stringContaining('line 2: “1o” is no number')]);
    expect(bad.body.where).toBe('line 2');
    expect((await ask(at(`/api/jobs/${job}`))).body.drawings).toEqual([]);
  });
  it('are refused while a third number may be two things, and read as it is said', async () => {
    const open = await send('ring.txt', '0 0 1\n100 0 1\n');
    expect([open.status, open.body.remedy]).toEqual([422, expect.stringContaining('bulge or a height')]);
    const made = await send('ring.txt', '0 0 1\n100 0 1\n', '&third=bulge&unit=mm');
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    const { claims, intake } = (await ask(at(`/api/drawings/${made.body.id}`))).body;
    expect([claims.format, claims.kinds, intake.third, intake.unit]).toEqual([
      'coordinates',
      { polyline: 1 },
      'bulge',
      'mm',
    ]);
    // A whole circle: it reaches from −50 to 50.
    expect(claims.bounds.minY).toBeCloseTo(-50, 9);
    expect(claims.bounds.maxY).toBeCloseTo(50, 9);
    expect((await send('a.txt', '0 0\n1 0\n1 1\n', '&third=width')).status).toBe(400);
  });
  it('are read anew once another meaning is decided', async () => {
    const made = (await send('roof.txt', 'x y z\n0 0 1\n100 0 1\n100 50 0.5\n')).body;
    const path = at(`/api/drawings/${made.id}`);
    const { seen } = (await ask(path)).body;
    const now = await ask(path, 'PATCH', { intake: { third: 'bulge' }, seen });
    expect(now.status, JSON.stringify(now.body)).toBe(200);
    expect(now.body.claims.bounds.minY).toBeCloseTo(-50, 9);
  });
});
