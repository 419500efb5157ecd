import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
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
});
