import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const BIN = fileURLToPath(new URL('../bin/scalaria.mjs', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'scalaria-cli-'));
const write = (name: string, text: string): void => writeFileSync(join(folder, name), text);

function run(...args: string[]): { code: number | null; out: string } {
  const r = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', cwd: folder });
  return { code: r.status, out: r.stdout + r.stderr };
}

describe('coordinates', () => {
  it('become a drawing, and a drawing becomes coordinates, digit for digit', () => {
    write('fin.csv', 'x;y\n-3,5;10\n3;10\n3;190\n-3;190\n');
    const there = run('convert', 'fin.csv', 'fin.dxf', '--from-unit', 'mm');
    expect([there.code, there.out.includes('The proof holds.')], there.out).toEqual([0, true]);
    const back = run('convert', 'fin.dxf', 'back.txt');
    expect([back.code, back.out.includes('The proof holds.')], back.out).toEqual([0, true]);
    expect(readFileSync(join(folder, 'back.txt'), 'utf8')).toBe('# unit: mm\n-3.5\t10\n3\t10\n3\t190\n-3\t190\n');
  });
  it('that can be read in two ways end with 3, and with the flag that says which', () => {
    write('ring.txt', '0 0 1\n100 0 1\n');
    const open = run('convert', 'ring.txt', 'ring.svg', '--from-unit', 'mm');
    expect([open.code, open.out.includes('--third')]).toEqual([3, true]);
    expect(run('convert', 'ring.txt', 'ring.svg', '--from-unit', 'mm', '--third', 'bulge').code).toBe(0);
    // The circle is 100 across, and its line 0.25 wide.
    expect(readFileSync(join(folder, 'ring.svg'), 'utf8')).toMatch(/width="100.25mm" height="100.25mm"/);
  });
});
