import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const demo = (name: string): string => here(`../../demo/files/${name}`);
const MULLION = demo('kestrel-row-mullion.dxf');

function run(cwd: string, args: string[], input?: Uint8Array): { code: number | null; out: string; err: string } {
  const r = spawnSync(process.execPath, [here('../bin/scalaria.mjs'), ...args], {
    encoding: 'utf8',
    cwd,
    ...(input && { input }),
  });
  return { code: r.status, out: r.stdout, err: r.stderr };
}
const newFolder = (): string => mkdtempSync(join(tmpdir(), 'scalaria-limits-'));
const tags = (...list: (string | number)[]): string =>
  [0, 'SECTION', 2, 'ENTITIES', ...list, 0, 'ENDSEC', 0, 'EOF', ''].join('\n');
const line = (layer: string): (string | number)[] => [0, 'LINE', 8, layer, 10, 0, 20, 0, 11, 9, 21, 9];
/** So many letters along a curve that setting them takes longer than any limit of these tests. */
const ENDLESS = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><path id="p" d="M0 0C30 40 60 -40 100 0"/><text font-size=".001"><textPath href="#p">${Array.from({ length: 20_000 }, (_, i) => `kestrel${i}`).join(' ')}</textPath></text></svg>`;

describe('a batch', () => {
  it('goes on past files that cannot be read, written or finished; each has its line', () => {
    const folder = newFolder();
    const out = join(folder, 'out');
    mkdirSync(out);
    // A folder stands where one file is to go.
    mkdirSync(join(out, 'kestrel-row-mullion.svg'));
    writeFileSync(join(folder, 'none.dxf'), 'not a drawing');
    writeFileSync(join(folder, 'endless.svg'), ENDLESS);
    writeFileSync(join(folder, 'vague.dxf'), tags(...line('A')));
    const section = demo('kestrel-row-section.dxf');
    const files = ['none.dxf', MULLION, 'endless.svg', 'vague.dxf', section];
    const { code, out: said } = run(folder, [
      'convert',
      ...files,
      out,
      '--to',
      'svg',
      '--overwrite',
      '--time-limit',
      '6',
    ]);
    expect(code).toBe(3);
    const told = said.split('\n\n');
    expect(told[0]).toMatch(/^none\.dxf: This is not a DXF, DWG, SVG or PDF file/);
    expect(told[1]).toMatch(/mullion\.svg cannot be written: a folder of that name is there/);
    expect(told[2]).toMatch(/^endless\.svg: It took longer than 6 s and was stopped/);
    expect(told[3]).toMatch(/^vague\.dxf: It states no unit.*--from-unit/);
    expect(told[4]).toMatch(/section\.dxf → .*\n[\s\S]*The proof holds/);
    expect(readdirSync(out).sort()).toEqual(['kestrel-row-mullion.svg', 'kestrel-row-section.svg']);
  });

  it('ends with 5 when only writing failed, with 6 when only a limit was met, and leaves nothing half-written', () => {
    const folder = newFolder();
    mkdirSync(join(folder, 'taken.svg'));
    expect(run(folder, ['convert', MULLION, join(folder, 'nowhere', 'a.svg')])).toMatchObject({ code: 5 });
    writeFileSync(join(folder, 'endless.svg'), ENDLESS);
    expect(run(folder, ['convert', 'endless.svg', 'endless.dxf', '--time-limit', '1']).code).toBe(6);
    expect(readdirSync(folder).sort()).toEqual(['endless.svg', 'taken.svg']);
  });

  it('a file that needs more memory than it may is given up in words', () => {
    const folder = newFolder();
    const many = tags(`0\n${Array.from({ length: 120_000 }, () => line('A').join('\n')).join('\n')}`.slice(2));
    writeFileSync(join(folder, 'many.dxf'), many);
    const { code, out } = run(folder, ['inspect', 'many.dxf', MULLION, '--memory-limit', '24']);
    expect(code).toBe(6);
    expect(out).toMatch(/many\.dxf: It needed more than 24 MB of memory/);
    expect(out).toMatch(/PORTS {2}8/);
  });
});

describe('what goes in and what is shown', () => {
  it('- is standard input', () => {
    const folder = newFolder();
    const bytes = readFileSync(MULLION);
    expect(run(folder, ['inspect', '-'], bytes).out).toMatch(/format +DXF 2000/);
    expect(run(folder, ['convert', '-', 'in.svg'], bytes)).toMatchObject({ code: 0 });
    expect(readFileSync(join(folder, 'in.svg'), 'utf8')).toMatch(/<svg/);
    expect(run(folder, ['convert', '-', '-', 'x.svg']).err).toMatch(/can be read once only/);
    expect(run(folder, ['convert', '-', folder, '--to', 'svg'], bytes).err).toMatch(/has no name/);
  });

  it('names cannot steer the terminal', () => {
    const folder = newFolder();
    writeFileSync(
      join(folder, 'escape.dxf'),
      tags(...line('L\u001b]0;title\u0007\u001b[31mred'), ...line('turned\u202etxt')),
    );
    for (const args of [
      ['inspect', 'escape.dxf'],
      ['convert', 'escape.dxf', 'e.dxf', '--from-unit', 'mm'],
      ['convert', 'escape.dxf', 'e.svg', '--from-unit', 'mm'],
    ]) {
      const { out, err } = run(folder, args);
      expect(out + err).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202a-\u202e]/);
      expect(out).toMatch(/escape/);
    }
    expect(run(folder, ['inspect', 'escape.dxf']).out).toContain('\\u001b]0;title\\u0007');
  });

  it('without a unit, a drawing is told how to state it, or stays without one from DXF to DXF and DWG', () => {
    const folder = newFolder();
    writeFileSync(join(folder, 'vague.dxf'), tags(...line('A')));
    expect(run(folder, ['convert', 'vague.dxf', 'a.dxf'])).toMatchObject({ code: 2 });
    for (const out of ['a.dxf', 'a.dwg', 'r12.dxf']) {
      const version = out === 'r12.dxf' ? ['--version', 'R12'] : [];
      const { code, out: said } = run(folder, ['convert', 'vague.dxf', out, '--from-unit', 'none', ...version]);
      expect(code, said).toBe(0);
      expect(said).toMatch(/no unit is stated, as in the source/);
      expect(said).not.toMatch(/\bmm\b/);
      expect(run(folder, ['inspect', out]).out).toMatch(/unit +none stated/);
      expect(run(folder, ['inspect', out]).out).toMatch(/size +9 × 9/);
    }
    expect(run(folder, ['convert', 'vague.dxf', 'a.svg', '--from-unit', 'none']).err).toMatch(
      /other files state their size/,
    );
    expect(run(folder, ['convert', 'vague.dxf', 'b.dxf', '--from-unit', 'none', '--unit', 'in']).err).toMatch(/--unit/);
    writeFileSync(
      join(folder, 'px.svg'),
      '<svg xmlns="http://www.w3.org/2000/svg" width="10px" height="10px"><path d="M0 0L5 5" stroke="red"/></svg>',
    );
    expect(run(folder, ['convert', 'px.svg', 'px.dxf']).out).toMatch(/--px-per-inch/);
    expect(run(folder, ['convert', 'px.svg', 'px.dxf', '--px-per-inch', '96']).code).toBe(0);
  });

  it('what the reader had to say is printed, and checks can be left out', () => {
    const folder = newFolder();
    writeFileSync(
      join(folder, 'cut.dxf'),
      `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n${tags(...line('A')).replace(/\n0\nENDSEC[\s\S]*/, '\n0\nLINE\n8\nA\n10\n')}`,
    );
    const { out } = run(folder, ['convert', 'cut.dxf', 'cut.svg']);
    expect(out).toMatch(/note +the file ends/);
    expect(run(folder, ['inspect', 'cut.dxf']).out).toMatch(/ledger\n.*cut off/);
    writeFileSync(join(folder, 'gap.dxf'), tags(...line('A'), ...line('A')));
    expect(run(folder, ['inspect', 'gap.dxf']).out).toMatch(/lie on each other/);
    expect(run(folder, ['inspect', 'gap.dxf', '--no-checks']).out).not.toMatch(/finding/);
  });
});
