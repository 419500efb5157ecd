import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const BIN = here('../bin/scalaria.mjs');
const demo = (name: string): string => here(`../../demo/files/${name}`);
const folder = mkdtempSync(join(tmpdir(), 'scalaria-cli-'));

function run(...args: string[]): { code: number | null; out: string } {
  const r = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', cwd: folder });
  return { code: r.status, out: r.stdout };
}

describe('pictures', () => {
  it('a drawing becomes one, with the files that say its place', () => {
    const { code, out } = run('convert', demo('kestrel-row-front-elevation.dxf'), 'front.png', '--pixels', '900');
    expect(code).toBe(0);
    expect(out).toContain('drawn as 900 × ');
    expect(out).toContain('The proof holds.');
    const world = readFileSync(join(folder, 'front.pgw'), 'utf8').trim().split('\n').map(Number);
    const said = JSON.parse(readFileSync(join(folder, 'front.png.json'), 'utf8')) as { unitsPerPixel: number };
    expect([world.length, world[0]]).toEqual([6, said.unitsPerPixel]);
    // The same drawing, the same bytes.
    const first = readFileSync(join(folder, 'front.png'));
    run('convert', demo('kestrel-row-front-elevation.dxf'), 'front.png', '--pixels', '900', '--overwrite');
    expect(Buffer.compare(first, readFileSync(join(folder, 'front.png')))).toBe(0);
  });

  it('one becomes a drawing by being traced', () => {
    const { code, out } = run('convert', demo('kestrel-row-sketch.png'), 'sketch.svg');
    expect([code, out.includes('The proof holds.')]).toEqual([0, true]);
    expect(out).toMatch(/traced as \d+ areas by \d+ curves/);
    const svg = readFileSync(join(folder, 'sketch.svg'), 'utf8');
    expect([svg.includes('<image'), /<path/.test(svg)]).toEqual([false, true]);
  });

  it('one that a drawing names goes along, and another of its name is never written over', () => {
    const place = ['--under-width', '720', '--under-height', '420', '--under-at', '0,0', '--under-right', '360,0'];
    const lay = (out: string, ...more: string[]) =>
      run(
        ...['convert', demo('kestrel-row-section.dxf'), out, '--picture-folder', demo('.')],
        ...['--under-picture', 'kestrel-row-sketch.png', ...place, '--under-up', '0,210', ...more],
      );
    expect(lay('seen.dxf').code).toBe(0);
    const beside = join(folder, 'kestrel-row-sketch.png');
    expect(existsSync(beside)).toBe(false);
    expect(lay('named.dxf', '--under-delivered').code).toBe(0);
    expect(readFileSync(join(folder, 'named.dxf'), 'latin1')).toMatch(/\n *1\r?\nkestrel-row-sketch\.png\r?\n/);
    expect(Buffer.compare(readFileSync(beside), readFileSync(demo('kestrel-row-sketch.png')))).toBe(0);
    // The same picture lies there already: nothing is in the way.
    expect(lay('again.dxf', '--under-delivered').code).toBe(0);
    writeFileSync(beside, 'another');
    const refused = lay('refused.dxf', '--under-delivered');
    expect(refused.code).not.toBe(0);
    expect(refused.out).toContain(
      'names the picture kestrel-row-sketch.png, and another one of that name lies beside it',
    );
    expect([readFileSync(beside, 'utf8'), existsSync(join(folder, 'refused.dxf'))]).toEqual(['another', false]);
  });

  it('one that drawings of a set name is in its folder once, in the manifest, and never another', () => {
    const sketch = demo('kestrel-row-sketch.png');
    const sources = [demo('kestrel-row-section.dxf'), demo('kestrel-row-mullion.dxf')];
    const recipe = (name: string, picture: string, beside: object): string => {
      const under = {
        ...{ picture, width: 720, height: 420, opacity: 60, delivered: true },
        ...{ at: { x: 0, y: 0 }, right: { x: 360, y: 0 }, up: { x: 0, y: 210 } },
      };
      const target = { format: 'dxf', version: '2010' };
      const own = { recipe: 2, target, intake: { unit: 'mm', under }, beside: { report: false, ...beside } };
      writeFileSync(join(folder, name), JSON.stringify(own));
      return name;
    };
    const plan = recipe('along.json', 'kestrel-row-sketch.png', {});
    const made = (...more: string[]) =>
      run('deliver', ...sources, '--recipe', plan, '--into', 'along', '--picture-folder', demo('.'), ...more);
    expect(made().code).toBe(0);
    const beside = join(folder, 'along', 'kestrel-row-sketch.png');
    const whole = (): boolean => readFileSync(beside).equals(readFileSync(sketch));
    expect(whole()).toBe(true);
    const { files } = JSON.parse(readFileSync(join(folder, 'along', 'manifest.json'), 'utf8')) as {
      files: { names: string[]; beside: { name: string }[] }[];
    };
    expect(files.map((f) => [f.names, f.beside.map((b) => b.name)])).toEqual(
      Array(2).fill([['kestrel-row-sketch.png'], ['kestrel-row-sketch.png']]),
    );
    expect(run('verify', 'along').code).toBe(0);
    // Another picture in its place is told, replaced where that is asked for, and else left as it is.
    writeFileSync(beside, 'another');
    expect(run('verify', 'along').out).toContain('kestrel-row-sketch.png');
    expect([made('--taken', 'replace').code, whole()]).toEqual([0, true]);
    writeFileSync(beside, 'another');
    expect(made().out).toContain('another one of that name lies beside it');
    expect(readFileSync(beside, 'utf8')).toBe('another');

    // The set makes a picture of that name itself.
    const pictures = mkdtempSync(join(tmpdir(), 'scalaria-pictures-'));
    copyFileSync(sketch, join(pictures, 'Kestrel-Row-Section.png'));
    const clash = recipe('clash.json', 'Kestrel-Row-Section.png', { pictures: true, pixels: 200 });
    const refused = run('deliver', sources[0]!, '--recipe', clash, '--into', 'clash', '--picture-folder', pictures);
    expect(refused.code).not.toBe(0);
    expect(refused.out).toContain(
      'names the picture Kestrel-Row-Section.png, and another one of that name is in the set',
    );
  });
});
