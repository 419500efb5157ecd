import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PNG } from 'pngjs';
import { readDrawing } from '@scalaria/core';
import { DAY, layered, onServer, target } from './making-sets.js';
import type { Running } from './running.js';
import { ask, demoFile, newFolder, start } from './running.js';

let server: Running;
const { at, newJob, take, keep, planned, ended, unpacked } = onServer(() => server);
beforeAll(async () => {
  server = await start(newFolder());
});
afterAll(() => server.stop());

describe('formats of a set, and pictures that go along', () => {
  it('a picture of each file stands beside it under its name', async () => {
    const job = await newJob('Pictures');
    const drawing = await take(job, 'mullion.dxf', demoFile('kestrel-row-mullion.dxf'));
    const recipe = await keep('Pairs', { target, beside: { pictures: true, pixels: 400, report: false } });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    await ended(made.body.id);
    const { folder, names } = await unpacked(made.body.id);
    expect(names).toEqual(['manifest.csv', 'manifest.json', 'mullion.dxf', 'mullion.png']);
    const png = readFileSync(join(folder, 'mullion.png'));
    expect(Math.max(png.readUInt32BE(16), png.readUInt32BE(20))).toBe(400);
  });
  it.each(['svg', 'pdf', 'coordinates'])('files may be of a format that knows no template: %s', async (format) => {
    const job = await newJob(`As ${format}`);
    const drawing = await take(job, 'mullion.dxf', demoFile('kestrel-row-mullion.dxf'));
    const version = { svg: '1.1', pdf: '1.7', coordinates: '1' }[format];
    const recipe = await keep(`As ${format}`, { target: { format, version }, beside: { report: false } });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    expect(made.status, JSON.stringify(made.body)).toBe(202);
    const { counts } = await ended(made.body.id);
    // Coordinates hold no texts: the proof holds, and says what is lost.
    expect(counts.holds + counts.exceptions, JSON.stringify(counts)).toBe(1);
  });
  it('files may be pictures themselves, each with the files that say its place', async () => {
    const job = await newJob('As pictures');
    const drawing = await take(job, 'mullion.dxf', demoFile('kestrel-row-mullion.dxf'));
    const as = { format: 'png', version: '1', options: { pixels: 300 } };
    const recipe = await keep('As pictures', { target: as, beside: { report: false } });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    expect(made.status, JSON.stringify(made.body)).toBe(202);
    expect((await ended(made.body.id)).counts).toMatchObject({ holds: 1 });
    const { folder, names } = await unpacked(made.body.id);
    expect(names).toEqual(['manifest.csv', 'manifest.json', 'mullion.pgw', 'mullion.png', 'mullion.png.json']);
    const listed = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8'));
    const digest = (name: string): string =>
      createHash('sha256')
        .update(readFileSync(join(folder, name)))
        .digest('hex');
    expect(listed.files[0].beside).toEqual(
      ['mullion.pgw', 'mullion.png.json'].map((name) => ({ name, sha256: digest(name) })),
    );
  });
  const scan = demoFile('kestrel-row-sketch.png');
  /** Two drawings that lie over a scan, which is delivered with them. */
  const overScan = async (job: string, picture: string): Promise<string[]> => {
    await ask(at(`/jobs/${job}/pictures?name=${picture}`), 'POST', scan);
    const under = {
      ...{ picture, width: 720, height: 420, opacity: 60, delivered: true },
      ...{ at: { x: 0, y: 0 }, right: { x: 360, y: 0 }, up: { x: 0, y: 210 } },
    };
    const drawings: string[] = [];
    for (const name of ['a.dxf', 'b.dxf']) {
      const id = await take(job, name, layered(name === 'a.dxf' ? 2 : 3, 0));
      const { body } = await ask(at(`/drawings/${id}`));
      const set = await ask(at(`/drawings/${id}`), 'PATCH', { intake: { ...body.intake, under }, seen: body.seen });
      expect(set.status, JSON.stringify(set.body)).toBe(200);
      drawings.push(id);
    }
    return drawings;
  };

  it('a picture that a file names is not written over by one that the set makes', async () => {
    const job = await newJob('Clash');
    const drawings = await overScan(job, 'B.png');
    const recipe = await keep('Clash', { target, beside: { pictures: true, pixels: 300, report: false } });
    await planned(job, { recipeId: recipe.id, drawings });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings, date: DAY });
    const { counts, files } = await ended(made.body.id);
    expect(counts, JSON.stringify(files)).toMatchObject({ files: 2, failed: 2 });
    expect(JSON.stringify(files)).toContain('It names the picture B.png, and the set makes a picture of that name.');
  });

  it('pictures that its files name go with it, each once, and are what was given', async () => {
    const job = await newJob('Along');
    const drawings = await overScan(job, 'scan.png');
    const recipe = await keep('Along', { target, beside: { report: false } });
    await planned(job, { recipeId: recipe.id, drawings });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings, date: DAY });
    expect((await ended(made.body.id)).counts).toMatchObject({ files: 2, holds: 2 });
    const { folder, names } = await unpacked(made.body.id);
    expect(names).toEqual(['a.dxf', 'b.dxf', 'manifest.csv', 'manifest.json', 'scan.png']);
    expect(Buffer.compare(readFileSync(join(folder, 'scan.png')), Buffer.from(scan))).toBe(0);
    const sha256 = createHash('sha256').update(scan).digest('hex');
    const listed = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8'));
    for (const f of listed.files) expect([f.beside, f.names]).toEqual([[{ name: 'scan.png', sha256 }], ['scan.png']]);
    // One file by itself offers it too.
    const [file] = (await ask(at(`/sets/${made.body.id}`))).body.files;
    const row = (await ask(at(`/deliveries/${file.id}`))).body;
    expect(row.beside).toEqual(['scan.png']);
    const came = await fetch(at(`/deliveries/${file.id}/beside/1`));
    expect(came.headers.get('content-type')).toContain('image/png');
    expect(Buffer.compare(Buffer.from(await came.arrayBuffer()), Buffer.from(scan))).toBe(0);
    expect((await fetch(at(`/deliveries/${file.id}/beside/2`))).status).toBe(404);
  });
  it('the drawing names the picture beside it, at true size: its corners lie within half a pixel', async () => {
    const job = await newJob('Named');
    // A plate of 300 × 200 mm.
    const corners = ['50\n20\n70', '350\n20\n70', '350\n20\n270', '50\n20\n270'].map((c) => `10\n${c}\n`).join('');
    const plate = new TextEncoder().encode(
      `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nLWPOLYLINE\n8\nA\n90\n4\n70\n1\n${corners}0\nENDSEC\n0\nEOF\n`,
    );
    const drawing = await take(job, 'plate.dxf', plate);
    const recipe = await keep('Named', { target, beside: { pictures: true, pixels: 520, named: true, report: false } });
    await planned(job, { recipeId: recipe.id, drawings: [drawing] });
    const made = await ask(at(`/jobs/${job}/sets`), 'POST', { recipeId: recipe.id, drawings: [drawing], date: DAY });
    expect((await ended(made.body.id)).counts).toMatchObject({ holds: 1 });
    const { folder, names } = await unpacked(made.body.id);
    expect(names).toEqual(['manifest.csv', 'manifest.json', 'plate.dxf', 'plate.png']);
    const png = PNG.sync.read(readFileSync(join(folder, 'plate.png')));
    const back = readDrawing(readFileSync(join(folder, 'plate.dxf')), 'plate.dxf').drawing;
    const image = back.entities.find((e) => e.kind === 'image');
    if (image?.kind !== 'image') throw new Error('no picture in the drawing');
    expect([image.file, image.pixels]).toEqual(['plate.png', [png.width, png.height]]);
    // The first and last dark pixel of the picture against the corners of the plate, by the place that the DXF says.
    let [x0, x1, y0, y1] = [Infinity, -1, Infinity, -1];
    for (let y = 0; y < png.height; y++)
      for (let x = 0; x < png.width; x++)
        if (png.data[4 * (y * png.width + x)]! < 128) {
          [x0, x1, y0, y1] = [Math.min(x0, x), Math.max(x1, x), Math.min(y0, y), Math.max(y1, y)];
        }
    const across = (px: number): number => (image.at[0] + (px + 0.5) * image.u[0]) / image.u[0];
    const up = (px: number): number => (image.at[1] + (png.height - px - 0.5) * image.v[1]) / image.v[1];
    const per = image.u[0];
    for (const [found, want] of [
      [across(x0), 50 / per],
      [across(x1), 350 / per],
      [up(y1), 70 / per],
      [up(y0), 270 / per],
    ])
      expect(Math.abs(found! - want!)).toBeLessThanOrEqual(0.5);
  });
});
