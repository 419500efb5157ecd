import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Running } from './running.js';
import { ask, newFolder, start } from './running.js';

let server: Running;
let job: string;
const at = (path: string): string => server.url + path;
const demo = (name: string): Buffer =>
  readFileSync(fileURLToPath(new URL(`../../demo/files/${name}`, import.meta.url)));

beforeAll(async () => {
  server = await start(newFolder());
  job = (await ask(at('/api/jobs'), 'POST', { name: 'Kestrel Row pictures' })).body.id;
});
afterAll(() => server.stop());

/** A delivery once it has ended. */
async function written(drawing: string, target: object): Promise<Awaited<ReturnType<typeof ask>>['body']> {
  const { body } = await ask(at(`/api/drawings/${drawing}/deliveries`), 'POST', target);
  for (let i = 0; i < 600; i++) {
    const now = (await ask(at(`/api/deliveries/${body.id}`))).body;
    if (['done', 'failed'].includes(now.state)) return now;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('it does not end');
}
const bytesOf = async (path: string): Promise<Buffer> => Buffer.from(await (await fetch(at(path))).arrayBuffer());

describe('pictures out', () => {
  it('come with the files that say their place, and a proof', async () => {
    const made = await ask(
      at(`/api/jobs/${job}/drawings?name=front.dxf`),
      'POST',
      demo('kestrel-row-front-elevation.dxf'),
    );
    const target = { format: 'png', version: '1', unit: 'mm', options: { pixels: 800 } };
    const d = await written(made.body.id, target);
    expect([d.state, d.fileName, d.proof.holds]).toEqual(['done', 'front.png', true]);
    expect(d.beside).toEqual(['front.pgw', 'front.png.json']);
    const png = PNG.sync.read(await bytesOf(`/api/deliveries/${d.id}/file`));
    expect(png.width).toBe(800);
    const world = String(await bytesOf(`/api/deliveries/${d.id}/beside/1`))
      .trim()
      .split('\n');
    expect(world).toHaveLength(6);
    const said = JSON.parse(String(await bytesOf(`/api/deliveries/${d.id}/beside/2`)));
    expect([said.unit, said.pixels, said.unitsPerPixel]).toEqual(['mm', [800, png.height], Number(world[0])]);
    expect((await ask(at(`/api/deliveries/${d.id}/beside/3`))).status).toBe(404);
    // Looking ahead says how large it will be, to the byte.
    const foretold = await ask(at(`/api/drawings/${made.body.id}/forecast`), 'POST', target);
    expect(foretold.body.bytes).toBe(d.size);
    // Another copy is held against the drawing: a picture of something else is none.
    const other = new PNG({ width: 800, height: png.height });
    other.data.fill(255);
    const proof = await ask(at(`/api/deliveries/${d.id}/proofs`), 'POST', PNG.sync.write(other));
    expect(proof.body.holds).toBe(false);
  });

  it('that are too large fail in words before a pixel is drawn', async () => {
    const [first] = (await ask(at(`/api/jobs/${job}`))).body.drawings;
    const d = await written(first.id, {
      format: 'jpeg',
      version: '1.02',
      unit: 'mm',
      options: { size: 'resolution', perInch: 300 },
    });
    expect(d.state).toBe('failed');
    expect(d.error).toMatch(/Ask for up to [\d.]+ pixels per inch/);
  });
});

describe('a picture of the job', () => {
  it('becomes a drawing that traces it, once', async () => {
    const picture = await ask(at(`/api/jobs/${job}/pictures?name=sketch.png`), 'POST', demo('kestrel-row-sketch.png'));
    const made = await ask(at(`/api/pictures/${picture.body.id}/drawing`), 'POST', {});
    expect([made.status, made.body.name]).toEqual([201, 'sketch.png']);
    const { claims, steps } = (await ask(at(`/api/drawings/${made.body.id}`))).body;
    expect([claims.format, claims.kinds]).toEqual(['png', { image: 1 }]);
    expect(steps.map((s: { step: string }) => s.step)).toEqual(['trace-pictures']);
    const again = await ask(at(`/api/pictures/${picture.body.id}/drawing`), 'POST', {});
    expect([again.status, again.body.same]).toEqual([409, made.body.id]);
    const d = await written(made.body.id, { format: 'dxf', version: '2010', unit: 'mm', options: {} });
    expect([d.state, d.proof.holds]).toEqual(['done', true]);
    expect(d.ledger.find((r: { code?: string }) => r.code === 'traced-as').args.areas).toBeGreaterThan(5);
    // What is no whole picture is refused in words, as a drawing too.
    const broken = await ask(
      at(`/api/jobs/${job}/drawings?name=broken.png`),
      'POST',
      demo('kestrel-row-sketch.png').subarray(0, 20),
    );
    expect([broken.status, broken.body.title]).toEqual([422, expect.stringContaining('breaks off')]);
  });
});
