import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, ended, newFolder, start } from './running.js';

let server: Running;
let job: string;
const folder = newFolder();
const at = (path: string): string => server.url + path;
const TARGET = { format: 'dxf', version: '2010', unit: 'mm', options: {} };

beforeAll(async () => {
  server = await start(folder);
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row screens' })).body.id;
});
afterAll(() => server.stop());

/** All files below a folder of blobs. */
const blobsIn = (of: string): string[] =>
  readdirSync(join(of, 'blobs')).flatMap((d) =>
    d === 'incoming' ? [] : readdirSync(join(of, 'blobs', d)).map((f) => join(of, 'blobs', d, f)),
  );

/** A DXF in millimetres of plates: a label and a rectangle 20 high each, on layers that say what of. */
function plates(...list: { x: number; width: number; layer?: string; label?: string }[]): Uint8Array {
  const tags = list.flatMap(({ x, width, layer = 'PLY-12', label }): (string | number)[] => [
    ...[0, 'LWPOLYLINE', 8, layer, 90, 4, 70, 1],
    ...[10, x, 20, 0, 10, x + width, 20, 0, 10, x + width, 20, 20, 10, x, 20, 20],
    ...(label ? [0, 'TEXT', 8, layer, 10, x + 2, 20, 5, 40, 4, 1, label] : []),
  ]);
  const head = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'];
  return new TextEncoder().encode([...head, ...tags, 0, 'ENDSEC', 0, 'EOF'].join('\n') + '\n');
}

interface Row {
  key: string;
  number: string;
  material: string;
  length: number;
  leftOut: string | null;
  wentOut: { file: string; revision: number }[];
}
interface Listed {
  id: string;
  state: string;
  revision: number;
  rows: Row[];
  gone: string[];
  fault: string | null;
}

const take = async (bytes: Uint8Array, name: string): Promise<string> =>
  (await ask(at(`/api/jobs/${job}/drawings?name=${name}`), 'POST', bytes)).body.id;
/** The parts of the job's drawings, once they are found. */
async function listed(): Promise<Listed[]> {
  for (;;) {
    const { body } = await ask(at(`/api/jobs/${job}/parts`));
    const list = body.drawings as Listed[];
    if (list.every((d) => d.state !== 'working')) return list;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const rowsOf = async (drawing: string): Promise<Row[]> => (await listed()).find((d) => d.id === drawing)!.rows;
const decide = (...changes: { drawing: string; key: string; change: object }[]) =>
  ask(at(`/api/jobs/${job}/parts`), 'POST', { changes });
const deliver = (drawing: string, more: object) =>
  ask(at(`/api/drawings/${drawing}/deliveries`), 'POST', { ...TARGET, ...more });
const fileOf = async (delivery: string): Promise<string> => {
  expect((await ended(server.url, delivery)).state).toBe('done');
  return (await fetch(at(`/api/deliveries/${delivery}/file`))).text();
};
const count = (dxf: string, kind: string): number => dxf.split(/\r?\n/).filter((l) => l === kind).length;

describe('the parts of a job', () => {
  let screens: string;
  it('are those of the drawings that are ticked, found by rules that are kept with the job', async () => {
    screens = await take(plates({ x: 0, width: 30 }, { x: 50, width: 40 }, { x: 100, width: 50 }), 'screens.dxf');
    expect((await listed()).map((d) => d.state)).toEqual(['none']);
    expect((await ask(at(`/api/jobs/${job}`))).body.parts).toBeNull();
    expect((await ask(at(`/api/jobs/${job}/parts`), 'PATCH', { rules: { nothing: 1 } })).status).toBe(400);
    const set = { rules: { layerSays: '{material}-{thickness}' }, drawings: { [screens]: true } };
    expect((await ask(at(`/api/jobs/${job}/parts`), 'PATCH', set)).status).toBe(200);
    const rows = await rowsOf(screens);
    expect((await ask(at(`/api/jobs/${job}`))).body.parts).toBe(3);
    expect(rows.map((r) => [r.number, r.material, r.length])).toEqual([
      ['', 'PLY', 30],
      ['', 'PLY', 40],
      ['', 'PLY', 50],
    ]);
  });
  it('stop a delivery that needs numbers while one has none or two share one, and are in it once that is mended', async () => {
    const [a, b, c] = await rowsOf(screens);
    const number = (r: Row, n: string) => ({ drawing: screens, key: r.key, change: { number: n } });
    expect((await deliver(screens, { numbered: true })).body.title).toContain('3 parts have no number');
    await decide(number(a!, '01'), number(b!, '01'));
    expect((await deliver(screens, { numbered: true })).body.title).toContain('a part has no number: 50 × 20');
    await decide(number(c!, '03'));
    const refused = await deliver(screens, { numbered: true });
    expect([refused.status, refused.body.title]).toEqual([
      409,
      'It cannot be written: several parts have the number 01.',
    ]);
    await decide(number(b!, '02'));
    const { body } = await deliver(screens, { numbered: true });
    expect(body.parts).toEqual(['01', '02', '03']);
    expect(count(await fileOf(body.id), 'LWPOLYLINE')).toBe(3);
    expect((await rowsOf(screens)).map((r) => r.wentOut.map((w) => w.file))).toEqual(Array(3).fill(['screens.dxf']));
  });
  it('alone in a file, at its place and size; one that is left out is in none', async () => {
    const { body } = await deliver(screens, { parts: ['02'] });
    const dxf = await fileOf(body.id);
    expect(count(dxf, 'LWPOLYLINE')).toBe(1);
    // The plate from 50 to 90 stays there.
    expect(dxf).toMatch(/\n {0,2}10\r?\n50\.0\r?\n/);
    expect((await rowsOf(screens)).map((r) => r.wentOut[0]!.file)).toEqual(['screens.dxf', '02.dxf', 'screens.dxf']);
    expect((await deliver(screens, { parts: ['77'] })).body.title).toContain(
      'no part of this drawing has the number 77',
    );
    const [, , c] = await rowsOf(screens);
    await decide({ drawing: screens, key: c!.key, change: { leftOut: 'bought in' } });
    expect((await deliver(screens, { parts: ['03'] })).body.title).toContain('part 03 is left out (bought in)');
    const whole = await deliver(screens, { numbered: true });
    expect(whole.body.parts).toEqual(['01', '02']);
    expect(count(await fileOf(whole.body.id), 'LWPOLYLINE')).toBe(2);
    await decide({ drawing: screens, key: c!.key, change: { leftOut: null } });
  });
  it('keep their numbers over a revision and a restart: one new, one gone, one moved', async () => {
    const next = plates({ x: 300, width: 60 }, { x: 900, width: 50 }, { x: 0, width: 30 });
    await ask(at(`/api/drawings/${screens}/revisions?name=screens.dxf`), 'POST', next);
    const byWidth = async () => new Map((await rowsOf(screens)).map((r) => [r.length, r.number]));
    const expected = new Map([
      [30, '01'],
      [50, '03'],
      [60, ''],
    ]);
    expect(await byWidth()).toEqual(expected);
    expect((await listed())[0]).toMatchObject({ gone: ['02'], revision: 2 });
    await server.stop();
    server = await start(folder);
    expect(await byWidth()).toEqual(expected);
    expect((await listed())[0]!.rows.map((r) => r.wentOut.length > 0).filter(Boolean)).toHaveLength(2);
  });
  it('a number of another drawing stands in the way too', async () => {
    const other = await take(plates({ x: 0, width: 77, label: 'No 01' }), 'others.dxf');
    const set = { rules: { labelSays: 'No {number}' }, drawings: { [other]: true } };
    await ask(at(`/api/jobs/${job}/parts`), 'PATCH', set);
    expect((await rowsOf(other)).map((r) => r.number)).toEqual(['01']);
    expect((await deliver(other, { numbered: true })).body.title).toContain('several parts have the number 01');
    await ask(at(`/api/jobs/${job}/parts`), 'PATCH', { drawings: { [other]: false } });
    expect((await deliver(other, { numbered: true })).body.title).toContain('has no list of parts');
    expect((await listed()).map((d) => d.state)).toEqual(['ready', 'none']);
  });
  it('of a file that is damaged on the disk are told of, and found again once it is mended', async () => {
    const bytes = plates({ x: 0, width: 88 });
    const own = await take(bytes, 'damaged.dxf');
    const path = blobsIn(folder).find((f) => readFileSync(f).equals(Buffer.from(bytes)))!;
    writeFileSync(path, 'damaged');
    const list = async () =>
      ask(at(`/api/jobs/${job}/parts`), 'PATCH', { drawings: { [own]: true } }).then(() => listed());
    const before = (await list()).find((d) => d.id === own)!;
    expect([before.state, before.rows, before.fault]).toEqual([
      'failed',
      [],
      expect.stringContaining('Take the file in again'),
    ]);
    expect((await deliver(own, { numbered: true })).body.title).toContain('could not be found');
    writeFileSync(path, bytes);
    expect((await list()).find((d) => d.id === own)).toMatchObject({
      state: 'ready',
      fault: null,
      rows: [{ length: 88 }],
    });
    await ask(at(`/api/drawings/${own}`), 'PATCH', { deleted: true });
  });
  it('a part measured along another grain is as long as it is wide', async () => {
    const [row] = await rowsOf(screens);
    const size = async (): Promise<[number, number]> => {
      const [now] = (await rowsOf(screens)) as (Row & { width: number })[];
      return [Math.round(now!.length), Math.round(now!.width)];
    };
    const before = await size();
    await decide({ drawing: screens, key: row!.key, change: { words: { grain: '90' } } });
    expect(await size()).toEqual([before[1], before[0]]);
    await decide({ drawing: screens, key: row!.key, change: { words: { grain: '' } } });
    expect(await size()).toEqual(before);
  });
  it('are decided all or not at all, and only of the list as it is', async () => {
    const [row] = await rowsOf(screens);
    const bad = await decide(
      { drawing: screens, key: row!.key, change: { number: '99' } },
      { drawing: screens, key: 'nothing', change: { number: '98' } },
    );
    expect([bad.status, bad.body.remedy]).toEqual([409, expect.stringContaining('decide again')]);
    expect((await rowsOf(screens)).map((r) => r.number)).not.toContain('99');
    for (const change of [{ number: 5 }, { words: { quantity: '0' } }, { words: { colour: 'red' } }, { leftOut: '' }])
      expect((await decide({ drawing: screens, key: row!.key, change })).status, JSON.stringify(change)).toBe(400);
  });
});

it('a set by parts: every line of the list is in a file or told as left out, and the sum breaks where a file goes away', async () => {
  const own = (await ask(at('/api/jobs'), 'POST', { name: 'By parts' })).body.id as string;
  const bytes = plates(
    { x: 0, width: 30, label: 'P1' },
    { x: 50, width: 40, label: 'P2' },
    { x: 100, width: 50, label: 'P3' },
  );
  const drawing = (await ask(at(`/api/jobs/${own}/drawings?name=plates.dxf`), 'POST', bytes)).body.id as string;
  await ask(at(`/api/jobs/${own}/parts`), 'PATCH', {
    rules: { labelSays: 'P{number}' },
    drawings: { [drawing]: true },
  });
  const until = async <T>(
    path: string,
    method: 'GET' | 'POST',
    body: object | undefined,
    done: (b: T) => boolean,
  ): Promise<T> => {
    for (;;) {
      const answer = await ask(at(path), method, body);
      if (done(answer.body as T)) return answer.body as T;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  const { drawings } = await until<{ drawings: Listed[] }>(`/api/jobs/${own}/parts`, 'GET', undefined, (b) =>
    b.drawings.every((d) => d.state !== 'working'),
  );
  const third = drawings[0]!.rows.find((r) => r.number === '3')!;
  await ask(at(`/api/jobs/${own}/parts`), 'POST', {
    changes: [{ drawing, key: third.key, change: { leftOut: 'bought in' } }],
  });
  const recipe = { recipe: 2, target: { format: 'dxf', version: '2010' }, split: { by: 'parts' } };
  const asked = { recipe, drawings: [drawing], date: '2026-03-14' };
  const plan = await until<{ looking: number; files: object[]; leftOut: object[] }>(
    `/api/jobs/${own}/sets/plan`,
    'POST',
    asked,
    (b) => b.looking === 0,
  );
  expect([plan.files.length, plan.leftOut]).toEqual([
    2,
    [{ source: drawing, what: 'part 3', why: 'bought in', objects: 0, parts: 1 }],
  ]);
  const made = await ask(at(`/api/jobs/${own}/sets`), 'POST', asked);
  expect(made.status, JSON.stringify(made.body)).toBe(202);
  type Set = { state: string; sums: string[]; files: { id: string; name: string }[] };
  const set = await until<Set>(`/api/sets/${made.body.id}`, 'GET', undefined, (b) => b.state === 'done');
  expect([set.files.map((f) => f.name), set.sums]).toEqual([['1.dxf', '2.dxf'], []]);
  const manifest = async (): Promise<{ parts: object }> =>
    (await fetch(at(`/api/sets/${made.body.id}/manifest-json`))).json() as Promise<{ parts: object }>;
  expect((await manifest()).parts).toEqual({ listed: 3, inFiles: 2, leftOut: 1 });
  expect(count(await fileOf(set.files[1]!.id), 'LWPOLYLINE')).toBe(1);
  // A new revision with another part is no part of what went out.
  await ask(at(`/api/drawings/${drawing}/revisions?name=plates.dxf`), 'POST', plates({ x: 0, width: 30, label: 'P1' }));
  expect((await manifest()).parts).toEqual({ listed: 3, inFiles: 2, leftOut: 1 });
  await ask(at(`/api/deliveries/${set.files[0]!.id}`), 'PATCH', { deleted: true });
  const after = (await ask(at(`/api/sets/${made.body.id}`))).body as Set;
  expect(after.sums).toEqual(['3 parts are listed, but 1 are in files and 1 left out']);
});
