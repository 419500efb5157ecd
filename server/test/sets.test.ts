import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { DAY, layered, onServer, target } from './making-sets.js';
import { ask, newFolder, start } from './running.js';

let server: Running;
const { at, newJob, take, keep, planned, ended, unpacked } = onServer(() => server);
const verifiedByOthers = (folder: string): void => {
  const { files } = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8'));
  for (const f of files) {
    const bytes = readFileSync(join(folder, f.name));
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(f.sha256);
    expect(bytes.length).toBe(f.bytes);
  }
};

beforeAll(async () => {
  server = await start(newFolder());
});
afterAll(() => server.stop());

describe('three drawings, a file for each filled layer', () => {
  let job: string;
  let drawings: string[];
  let recipe: { id: string };
  let set: { id: string };
  beforeAll(async () => {
    job = await newJob('Kestrel Row');
    drawings = [
      await take(job, 'plan.dxf', layered(4, 1)),
      await take(job, 'elevation.dxf', layered(2, 2)),
      await take(job, 'section.dxf', layered(3, 0)),
    ];
    recipe = await keep('Shop', { receiver: 'LS', split: { by: 'layers' }, target });
  });

  it('are listed before anything is written: nine files, what is left out, what would be lost', async () => {
    const plan = await planned(job, { recipeId: recipe.id, drawings });
    expect(plan.files).toHaveLength(9);
    expect(plan.files[0]).toMatchObject({ name: 'plan-F0', why: '1 object on layer F0', stop: null });
    expect(plan.leftOut.filter((l: { why: string }) => l.why === 'empty').length).toBeGreaterThanOrEqual(3);
    expect(plan.sources.map((s: { objects: number }) => s.objects)).toEqual([4, 2, 3]);
    expect((await ask(at(`/jobs/${job}/sets`))).body).toEqual([]);
  });
  it('become nine proven files, a manifest, a table and a report: twelve entries, as unzip and sums say', async () => {
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings, date: DAY });
    expect(made.status, JSON.stringify(made.body)).toBe(202);
    set = made.body;
    const done = await ended(set.id);
    expect(done).toMatchObject({ state: 'done', number: 1, folder: 'Kestrel-Row-01', sums: [] });
    expect(done.counts).toMatchObject({ files: 9, holds: 9, failed: 0 });
    const { folder, names } = await unpacked(set.id);
    expect(names).toHaveLength(12);
    expect(names).toContain('report.html');
    verifiedByOthers(folder);
    const manifest = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8'));
    expect(manifest.objects).toEqual({ prepared: 9, written: 9, leftOut: 0 });
    expect(readFileSync(join(folder, 'report.html'), 'utf8')).toContain('9 files: all proofs hold.');
    expect(readFileSync(join(folder, 'plan-F0.dxf'), 'utf8')).toContain('LINE');
  });
  it('make the same bytes when they are asked for again', async () => {
    const [a, b] = [await unpacked(set.id), await unpacked(set.id)];
    expect(a.bytes.equals(b.bytes)).toBe(true);
  });
  it('done again: what is made of the same is not written again, and a new revision says what differs', async () => {
    const revised = await ask(at(`/drawings/${drawings[1]}/revisions?name=elevation.dxf`), 'POST', layered(2, 2, 5));
    expect(revised.status).toBe(201);
    expect((await ask(at(`/sets/${set.id}`))).body.stale).toEqual([drawings[1]]);
    const again = async () => {
      for (;;) {
        const { status, body } = await ask(at(`/sets/${set.id}/again`), 'POST', { date: DAY });
        if (status === 202) return body;
        expect(status, JSON.stringify(body)).toBe(409);
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    };
    const second = await ended((await again()).id);
    expect(second).toMatchObject({ number: 2, previousId: set.id, sums: [] });
    expect(second.counts).toMatchObject({ files: 9, holds: 9, unchanged: 7 });
    const differs = Object.fromEntries(
      second.files.map((f: { name: string; differs: unknown }) => [f.name, f.differs]),
    );
    expect(differs['plan-F0.dxf']).toMatchObject({ same: true });
    expect(differs['elevation-F1.dxf']).toMatchObject({ same: false });
    const d = differs['elevation-F1.dxf'];
    expect(d.fresh + d.gone + d.changed + d.moved).toBeGreaterThan(0);
  });
  it('stop where a unit is unknown, and the rest is written all the same', async () => {
    const bare = new TextEncoder().encode(
      new TextDecoder().decode(layered(1, 0)).replace('$INSUNITS\n70\n4', '$INSUNITS\n70\n0'),
    );
    const strange = await take(job, 'bare.dxf', bare);
    const plan = await planned(job, { recipeId: recipe.id, drawings: [strange, drawings[2]!] });
    expect(plan.files[0].stop).toMatch(/its unit/);
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', {
      recipeId: recipe.id,
      drawings: [strange, drawings[2]!],
      date: DAY,
    });
    const done = await ended(made.body.id);
    expect(done.counts).toMatchObject({ files: 3, holds: 3, stopped: 1 });
    expect(done.sums).toEqual([]);
    const { folder } = await unpacked(made.body.id);
    expect(JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')).failed[0].why).toMatch(/its unit/);
  });
});

describe('recipes', () => {
  it('derive, follow their parent in what they have not changed, and say what changed under them', async () => {
    const parent = await keep('Office', { note: 'first', receiver: 'Office', target });
    const { recipe } = parent;
    const child = await keep(
      'Office, R12',
      { ...recipe, target: { format: 'dxf', version: 'R12' } },
      {
        basedOn: parent.id,
        why: 'their old machine',
      },
    );
    expect(child.differences.map((d: { words: string }) => d.words)).toEqual(['target › version']);
    expect(child.basedOn).toEqual({ id: parent.id, title: 'Office', why: 'their old machine' });
    await ask(at(`/recipes/${parent.id}`), 'PATCH', {
      recipe: { ...recipe, note: 'second', target: { ...target, version: '2000' } },
    });
    const list = (await ask(at('/recipes'))).body;
    const now = list.find((r: { id: string }) => r.id === child.id);
    expect(now.recipe).toMatchObject({ note: 'second', target: { version: 'R12' } });
    expect(now.under.followed.map((d: { words: string }) => d.words)).toEqual(['note']);
    expect(now.under.kept.map((d: { words: string }) => d.words)).toEqual(['target › version']);
    expect((await ask(at(`/recipes/${parent.id}`), 'PATCH', { deleted: true })).status).toBe(409);
    const noted = await ask(at(`/recipes/${child.id}`), 'PATCH', { noted: true });
    expect(noted.body.under).toEqual({ followed: [], kept: [] });
    const alone = await ask(at(`/recipes/${child.id}/alone`), 'POST', {});
    expect(alone.body).toMatchObject({ basedOn: null, recipe: { note: 'second' } });
  });
  it('need a word why, and refuse by name what is not known', async () => {
    const { id } = await keep('A', { target });
    expect((await ask(at('/recipes'), 'POST', { title: 'B', basedOn: id })).status).toBe(400);
    const strange = await ask(at('/recipes'), 'POST', { title: 'C', recipe: { recipe: 2, nests: 4 } });
    expect(strange.status).toBe(400);
    expect(strange.body.title).toContain('"nests"');
    const later = await ask(at('/recipes'), 'POST', { title: 'C', recipe: { recipe: 3 } });
    expect(later.body.title).toMatch(/later version/);
    const step = { id: 'x', step: 'fold', on: true, params: {} };
    expect(
      (await ask(at('/recipes'), 'POST', { title: 'C', recipe: { recipe: 2, steps: [step] } })).body.title,
    ).toContain('fold');
  });
  it('go out as a file and come back the same; a template goes by name and digest', async () => {
    const job = await newJob('Templates');
    const bytes = layered(1, 3);
    const template = await take(job, 'office.dxf', bytes);
    const made = await keep('With template', { target: { ...target, options: { template } } });
    const text = await (await fetch(at(`/recipes/${made.id}/file`))).text();
    const file = JSON.parse(text);
    expect(file.template).toEqual({ name: 'office.dxf', sha256: createHash('sha256').update(bytes).digest('hex') });
    expect(text).not.toContain(template);
    const back = await keep('Back', file);
    expect(back.recipe.target.options.template).toBe(template);
    expect(await (await fetch(at(`/recipes/${back.id}/file`))).text()).toBe(text.replace('With template', 'Back'));
    // The drawing has a newer revision now: the file that the recipe means is not the one that would be written with.
    expect((await ask(at(`/drawings/${template}/revisions?name=office.dxf`), 'POST', layered(3, 0, 7))).status).toBe(
      201,
    );
    const later = await ask(at('/recipes'), 'POST', { title: 'Later', recipe: JSON.parse(text) });
    expect(later.body.recipe.target.options).not.toHaveProperty('template');
    expect(later.body.recipe.template.name).toBe('office.dxf');
  });
  it('are made of what was done on a drawing', async () => {
    const job = await newJob('Made');
    const drawing = await take(job, 'a.dxf', layered(2, 0));
    const { body } = await ask(at(`/drawings/${drawing}`));
    const steps = [{ id: 's1', step: 'clear-doubles', on: true, params: {} }];
    await ask(at(`/drawings/${drawing}`), 'PATCH', {
      steps,
      target: { ...target, unit: null, options: {} },
      seen: body.seen,
    });
    const made = await ask(at(`/drawings/${drawing}/recipe`), 'POST', { title: 'From a drawing', keep: true });
    expect(made.body.behind).toEqual([]);
    expect(made.body.recipe).toMatchObject({ ownSteps: 'aside', target: { format: 'dxf' } });
    const plan = await planned(job, { recipeId: made.body.id, drawings: [drawing] });
    expect(plan.files.map((f: { name: string }) => f.name)).toEqual(['a']);
  });
});

describe('running numbers and parts', () => {
  it('go on over sets, also of two windows at once, and none is given twice', async () => {
    const job = await newJob('Numbers');
    const drawing = await take(job, 'a.dxf', layered(3, 0));
    const naming = [
      { what: 'text', text: 'KR-' },
      { what: 'number', series: 'shop', digits: 3, first: 14 },
    ];
    const recipe = await keep('Numbered', { target, split: { by: 'layers' }, naming });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const make = () => ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    const made = await Promise.all([make(), make(), make(), make()]);
    for (const m of made) expect(m.status, JSON.stringify(m.body)).toBe(202);
    const sets = await Promise.all(made.map((m) => ended(m.body.id)));
    const names = sets.flatMap((s) => s.files.map((f: { name: string }) => f.name)).sort();
    expect(names).toEqual([...Array(12).keys()].map((i) => `KR-0${14 + i}.dxf`));
    expect(sets.map((s) => s.number).sort()).toEqual([1, 2, 3, 4]);
  });
  it('the same request sent twice makes one set', async () => {
    const job = await newJob('Twice');
    const drawing = await take(job, 'a.dxf', layered(1, 0));
    const recipe = await keep('Once', { target });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const key = { 'Idempotency-Key': '11111111-2222-4333-8444-555555555555' };
    const body = { recipeId: recipe.id, drawings: [drawing], date: DAY };
    const [a, b] = [
      await ask(at(`/jobs/${job}/sets`), 'POST', body, key),
      await ask(at(`/jobs/${job}/sets`), 'POST', body, key),
    ];
    expect(a.body.id).toBe(b.body.id);
  });
});

it('stopped, a set holds what nobody has begun, and goes on to its end', async () => {
  const job = await newJob('Stopped');
  const drawing = await take(job, 'a.dxf', layered(30, 0));
  const recipe = await keep('Many', { target, split: { by: 'layers' } });
  await planned(job, { recipeId: recipe.id, drawings: [drawing] });
  const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
  const { body: held } = await ask(at(`/sets/${made.body.id}`), 'PATCH', { going: 'stop' });
  expect(held.counts.waiting).toBe(0);
  expect(held.counts.held).toBeGreaterThan(0);
  const stopped = await ended(made.body.id);
  expect(stopped.state).toBe('stopped');
  await ask(at(`/sets/${made.body.id}`), 'PATCH', { going: 'on' });
  expect((await ended(made.body.id)).counts).toMatchObject({ holds: 30 });
});

it(
  'killed in the middle twenty times, a set goes on: no number twice, no half file',
  { timeout: 300_000 },
  async () => {
    const folder = newFolder();
    let own = await start(folder);
    const job = (await ask(`${own.url}/api/jobs`, 'POST', { name: 'Torn' })).body.id;
    const url = `${own.url}/api/jobs/${job}/drawings?name=a.dxf`;
    const drawing = (await ask(url, 'POST', layered(150, 0))).body.id;
    const naming = [
      { what: 'number', series: 's', digits: 3, first: 1 },
      { what: 'text', text: '-' },
      { what: 'field', field: 'layer', letters: 'asIs', spaces: 'asIs' },
    ];
    const recipe = { recipe: 2, target, split: { by: 'layers' }, naming };
    const body = { recipe, drawings: [drawing], date: DAY };
    await planned(job, body, own.url);
    const made = await ask(`${own.url}/api/jobs/${job}/sets`, 'POST', body);
    expect(made.status, JSON.stringify(made.body)).toBe(202);
    let inTheMiddle = 0;
    for (let i = 0; inTheMiddle < 20 && i < 40; i++) {
      await new Promise((resolve) => setTimeout(resolve, 200 + ((i * 137) % 900)));
      const { state, counts } = (await ask(`${own.url}/api/sets/${made.body.id}`)).body;
      await own.stop('SIGKILL');
      if (state === 'working' && counts.working > 0) inTheMiddle++;
      own = await start(folder);
    }
    expect(inTheMiddle).toBe(20);
    // A file that was being written when the server went down three times is given up, told, and can be tried again.
    let done = await ended(made.body.id, own.url);
    if (done.counts.failed > 0) {
      await ask(`${own.url}/api/sets/${made.body.id}`, 'PATCH', { going: 'again' });
      done = await ended(made.body.id, own.url);
    }
    expect(done.counts).toMatchObject({ files: 150, holds: 150 });
    const { folder: out, names } = await unpacked(made.body.id, own.url);
    expect(names.filter((n) => n.endsWith('.dxf'))).toEqual(
      [...Array(150).keys()].map((i) => `${String(i + 1).padStart(3, '0')}-F${i}.dxf`).sort(),
    );
    verifiedByOthers(out);
    const next = await ask(`${own.url}/api/jobs/${job}/sets/plan`, 'POST', body);
    expect(next.body.files[0].name).toBe('151-F0');
    await own.stop();
  },
);

describe('the tracker', () => {
  it('has a row for each file, which stays its own over revisions, and rows that are only planned', async () => {
    const job = await newJob('Tracked');
    const drawing = await take(job, 'a.dxf', layered(2, 0));
    const recipe = await keep('Tracked', { receiver: 'LS', target, split: { by: 'layers' } });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    await ended(made.body.id);
    const path = at(`/jobs/${job}/tracker`);
    const { rows, states } = (await ask(path)).body;
    expect(states[0]).toBe('to draw');
    expect(rows.map((r: { file: string; receiver: string; state: string }) => [r.file, r.receiver, r.state])).toEqual([
      ['a-F0.dxf', 'LS', 'ready'],
      ['a-F1.dxf', 'LS', 'ready'],
    ]);
    const fields = { state: 'sent', boards: 3, priceCents: 8450, who: 'R.', when: '2026-03-14' };
    const said = await ask(path, 'PATCH', {
      changes: [{ id: rows[0].id, fields }],
      added: [{ file: 'next', holds: '07, 08' }],
    });
    expect(said.status, JSON.stringify(said.body)).toBe(200);
    expect(said.body.rows).toHaveLength(3);
    expect(said.body.rows[2]).toMatchObject({ file: 'next', state: 'to draw', parts: ['07', '08'], revision: null });
    expect(rows.map((r: { drawings: string[] }) => r.drawings)).toEqual([[drawing], [drawing]]);
    // A newer revision: the row is stale, and done again it is the same row with what was said about it.
    await ask(at(`/drawings/${drawing}/revisions?name=a.dxf`), 'POST', layered(2, 0, 5));
    expect((await ask(path)).body.rows[0]).toMatchObject({ revision: 1, newest: 2, ...fields });
    let again;
    do again = await ask(at(`/sets/${made.body.id}/again`), 'POST', { date: DAY });
    while (again.status === 409);
    await ended(again.body.id);
    const now = (await ask(path)).body.rows;
    expect(now).toHaveLength(3);
    expect(now.find((r: { id: string }) => r.id === rows[0].id)).toMatchObject({ revision: 2, newest: 2, ...fields });
    const renamed = states.map((s: string) => ({ name: s === 'sent' ? 'on its way' : s, was: s }));
    const after = await ask(path, 'PATCH', { states: renamed });
    expect(after.body.rows[0].state).toBe('on its way');
    expect((await ask(path, 'PATCH', { changes: [{ id: rows[0].id, fields: { state: 'sent' } }] })).status).toBe(400);
    const gone = await ask(path, 'PATCH', { removed: [said.body.rows[2].id] });
    expect(gone.body.rows).toHaveLength(2);
    expect((await ask(path, 'PATCH', { back: [said.body.rows[2].id] })).body.rows).toHaveLength(3);
  });
});

describe('a file that comes back', () => {
  it('is a drawing whose objects are on their own layers again; what is gone and new is counted', async () => {
    const job = await newJob('Returned');
    const drawing = await take(job, 'plan.dxf', layered(8, 0));
    const steps = [{ id: 'c', step: 'chart-layers', on: true, params: { chart: [{ from: '*', to: 'ALL' }] } }];
    const { body } = await ask(at(`/drawings/${drawing}`));
    await ask(at(`/drawings/${drawing}`), 'PATCH', { steps, seen: body.seen });
    const made = await ask(at(`/drawings/${drawing}/deliveries`), 'POST', { ...target, unit: null, options: {} });
    let done;
    do done = (await ask(at(`/deliveries/${made.body.id}`))).body;
    while (done.state !== 'done');
    const text = await (await fetch(at(`/deliveries/${made.body.id}/file`))).text();
    // One line was taken away there, and one was moved.
    const [head, ...lines] = text.split(/(?=  0\r?\nLINE\r?\n)/);
    expect(lines).toHaveLength(8);
    const moved = lines[1]!.replace(/( 20\r?\n)[\d.]+/, '$1444.0');
    const back = [head, lines[0], moved, ...lines.slice(3)].join('');
    const bytes = new TextEncoder().encode(back);
    const came = await ask(at(`/deliveries/${made.body.id}/returned?name=back.dxf`), 'POST', bytes);
    expect(came.status, JSON.stringify(came.body)).toBe(201);
    expect(came.body.came).toMatchObject({ byPlace: 6, byHandle: 1, gone: 1, fresh: 0 });
    const plan = await planned(job, {
      recipe: { recipe: 2, target, split: { by: 'layers' } },
      drawings: [came.body.drawing.id],
    });
    expect(plan.files.map((f: { piece: string }) => f.piece).sort()).toEqual([
      'F0',
      'F1',
      'F3',
      'F4',
      'F5',
      'F6',
      'F7',
    ]);
  });
});

it('several drawings become one file, each at its true size', async () => {
  const job = await newJob('Gathered');
  const inch = new TextEncoder().encode(
    new TextDecoder().decode(layered(2, 0)).replace('$INSUNITS\n70\n4', '$INSUNITS\n70\n1'),
  );
  const drawings = [await take(job, 'a.dxf', layered(1, 0)), await take(job, 'b.dxf', inch)];
  const recipe = await keep('One file', {
    target: { ...target, unit: 'mm' },
    split: { by: 'set', arrange: 'row', gap: 5 },
  });
  const plan = await planned(job, { recipeId: recipe.id, drawings });
  expect(plan.files).toHaveLength(1);
  const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings, date: DAY });
  const done = await ended(made.body.id);
  expect(done.counts, JSON.stringify(done.files)).toMatchObject({ files: 1, holds: 1 });
  expect(done.sums).toEqual([]);
  const { folder } = await unpacked(made.body.id);
  const [file] = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')).files;
  // 10 mm, 5 between, and 10 in = 254 mm.
  expect(file.width).toBeCloseTo(10 + 5 + 254, 6);
  expect(file.layers.map((l: { name: string }) => l.name)).toContain('b-F1');
});

it('what was asked of the author is ticked off by the revision that mends it, and not before', async () => {
  const job = await newJob('Corrections');
  // Two lines that lie on each other.
  const doubled = new TextEncoder().encode(
    new TextDecoder()
      .decode(layered(2, 0))
      .replace('0\nENDSEC\n0\nEOF', '0\nLINE\n8\nF0\n10\n0\n20\n0\n11\n10\n21\n0\n0\nENDSEC\n0\nEOF'),
  );
  const drawing = await take(job, 'a.dxf', doubled);
  const path = at(`/jobs/${job}/corrections`);
  const asked = {
    drawing,
    check: 'doubles',
    what: 'a line lies twice',
    layer: 'F0',
    at: { x: 5, y: 0 },
    across: 8,
    measured: '10',
    proposed: 'once',
  };
  const nowhere = { ...asked, check: '', what: 'the title is wrong <b>', at: null, across: null };
  const made = await ask(path, 'PATCH', { asked: [asked, nowhere] });
  expect(made.status, JSON.stringify(made.body)).toBe(200);
  const [first, second] = made.body;
  expect(first).toMatchObject({ state: 'asked', revision: 1, unit: 'mm', picture: expect.stringMatching(/^<svg/) });
  expect(second.picture).toBe('');
  const state = async (n: number, want: string) => {
    for (let i = 0; i < 100; i++) {
      const row = (await ask(path)).body[n];
      if (`${row.state} ${row.seenIn} ${row.mendedIn}` === want) return row;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    return (await ask(path)).body[n];
  };
  // A revision that moves something else does not mend it.
  const still = new TextEncoder().encode(
    new TextDecoder().decode(doubled).replace('11\n10\n21\n1\n', '11\n12\n21\n1\n'),
  );
  expect((await ask(at(`/drawings/${drawing}/revisions?name=a.dxf`), 'POST', still)).status).toBe(201);
  expect(await state(0, 'asked 2 null')).toMatchObject({ state: 'asked', seenIn: 2, mendedIn: null });
  expect((await ask(at(`/drawings/${drawing}/revisions?name=a.dxf`), 'POST', layered(2, 0))).status).toBe(201);
  expect(await state(0, 'mended 2 3')).toMatchObject({ state: 'mended', mendedIn: 3 });
  expect((await ask(path)).body[1].state).toBe('asked');
  const said = await ask(path, 'PATCH', { changes: [{ id: second.id, fields: { answer: 'yes', state: 'answered' } }] });
  expect(said.body[1]).toMatchObject({ answer: 'yes', state: 'answered' });
  const page = await (await fetch(`${path}/page`)).text();
  expect(page).toContain('mended in revision 3');
  expect(page).toContain('the title is wrong &lt;b&gt;');
  expect((await (await fetch(`${path}/table`)).text()).split('\n')[0]).toContain('proposed');
});
