import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { often } from './depth.js';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const CHAIN = here('../../scripts/chain.mjs');
const FUZZ = here('../../scripts/fuzz.mjs');
const built = existsSync(here('../dist/index.js'));
if (!built) console.warn('SKIPPED: the core is not built, so no file goes through the whole chain');

/** Puts a file through the whole chain in a process of its own; generous limits, so that only what is without end meets them. */
function chain(
  file: string,
  seconds = 60,
  megabytes = 1500,
  ...flags: string[]
): { stages: string[]; refused: string; error: string } {
  const r = spawnSync(process.execPath, [`--max-old-space-size=${megabytes}`, CHAIN, file, ...flags], {
    encoding: 'utf8',
    timeout: seconds * 1000,
    killSignal: 'SIGKILL',
  });
  const stages = r.stdout.split('\n').filter(Boolean);
  const error =
    r.status === 0 ? '' : `${r.signal ?? r.status} after ${stages.at(-1) ?? 'nothing'}: ${r.stderr.slice(0, 2000)}`;
  return { stages, refused: stages.find((s) => s.includes('refused:')) ?? '', error };
}

describe.skipIf(!built)('files that once hung, crashed or broke the writer', () => {
  it.each(readdirSync(here('./files')).sort())(
    '%s goes through the whole chain, or is refused in words',
    (name) => {
      const { error, stages } = chain(here(`./files/${name}`));
      expect(error).toBe('');
      expect(stages.length).toBeGreaterThan(0);
    },
    90_000,
  );

  it('a page of a size that cannot be is refused with its number and its place', () => {
    for (const [name, words] of [
      ['page-1e-308.svg', /height of the page is 1e-308.*line 1/],
      ['page-1e300.svg', /width of the page is 1e\+300/],
    ] as const)
      expect(chain(here(`./files/${name}`)).refused).toMatch(words);
  });
});

const line = (x0: number, y0: number, x1: number, y1: number, layer = 'A'): string =>
  `0\nLINE\n8\n${layer}\n10\n${x0}\n20\n${y0}\n11\n${x1}\n21\n${y1}\n`;
const dxf = (entities: string): string =>
  `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
const svg = (body: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">${body}</svg>`;
const many = <T>(n: number, make: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => make(i));
const star = (points: number): string =>
  many(points, (i) => {
    const a = ((i * Math.floor(points / 2 - 1)) % points) * ((2 * Math.PI) / points);
    return `${(50 + 49 * Math.cos(a)).toFixed(4)} ${(50 + 49 * Math.sin(a)).toFixed(4)}`;
  }).join('L');

/** What takes the square of its size, or worse, where it is done without thought. */
const LARGE: [string, () => string][] = [
  ['fan.dxf', () => dxf(many(8000, (i) => line(0, 0, 100 * Math.cos(i), 100 * Math.sin(i))).join(''))],
  ['same.dxf', () => dxf(line(0, 0, 1, 1).repeat(8000))],
  ['layers.dxf', () => dxf(many(10_000, (i) => line(i, 0, i + 1, 1, `L${i}`)).join(''))],
  ['words.dxf', () => dxf(`0\nMTEXT\n8\nA\n10\n0\n20\n0\n40\n1\n41\n1e9\n1\n${'word '.repeat(3000)}\n`)],
  ['calls.svg', () => svg(`<path transform="${'matrix('.repeat(50_000)}" d="M0 0L5 5" stroke="red"/>`)],
  ['variables.svg', () => svg(`<path style="stroke:${'var(--a,'.repeat(40_000)}red" d="M0 0L5 5"/>`)],
  [
    'stars.svg',
    () =>
      svg(
        `<clipPath id="c"><path d="M${star(3000)}Z"/></clipPath><path clip-path="url(#c)" d="M${star(2999)}Z" transform="translate(1 2)"/>`,
      ),
  ],
  [
    'knots.dxf',
    () => {
      const n = 20_000;
      return dxf(
        `0\nSPLINE\n8\nA\n70\n8\n71\n3\n72\n${n + 4}\n73\n${n}\n${[0, 0, 0, ...many(n - 2, (i) => i), n - 3, n - 3, n - 3].map((k) => `40\n${k}\n`).join('')}${many(n, (i) => `10\n${i}\n20\n${Math.sin(i).toFixed(3)}\n`).join('')}`,
      );
    },
  ],
  [
    'stacked.svg',
    () =>
      svg(
        many(
          2000,
          (i) => `<rect x="${(i * 7) % 83}" y="${(i * 13) % 83}" width="17" height="17" fill="#808080" opacity=".5"/>`,
        ).join(''),
      ),
  ],
  [
    'letters.svg',
    () =>
      svg(
        `<path id="p" d="M0 0C30 40 60 -40 100 0"/><text font-size="2"><textPath href="#p">${'letters '.repeat(1500)}</textPath></text>`,
      ),
  ],
];

describe.skipIf(!built)('large and awkward drawings', () => {
  it.each(LARGE)(
    '%s comes to an end',
    (name, make) => {
      const folder = mkdtempSync(join(tmpdir(), 'scalaria-large-'));
      writeFileSync(join(folder, name), make());
      expect(chain(join(folder, name), 170, 1500, '--quick').error).toBe('');
    },
    180_000,
  );

  it('entities that come to more than any drawing are refused in words', () => {
    const folder = mkdtempSync(join(tmpdir(), 'scalaria-large-'));
    const file = join(folder, 'entities.svg');
    writeFileSync(
      file,
      `<!DOCTYPE svg [<!ENTITY a "${'x'.repeat(60_000)}">]>${svg(`<text>${'&a;'.repeat(8000)}</text>`)}`,
    );
    expect(chain(file).refused).toMatch(/16 million characters where they are used.*line/);
  });
});

describe.skipIf(!built)('damaged files', () => {
  it('go through the whole chain within time and memory, or are refused in words', () => {
    const keep = mkdtempSync(join(tmpdir(), 'scalaria-fuzz-'));
    const inputs = String(often(45));
    const r = spawnSync(
      process.execPath,
      [FUZZ, '--inputs', inputs, '--seed', '20261128', '--seconds', '60', '--keep', keep],
      { encoding: 'utf8' },
    );
    expect(r.stdout + r.stderr).toMatch(new RegExp(`^${inputs} damaged files .* 0 found wanting`, 'm'));
    expect(readdirSync(keep)).toEqual([]);
    // Most of them are still drawings: damage that only ever breaks the first line would try nothing.
    expect(Number(/(\d+) read/.exec(r.stdout)![1])).toBeGreaterThan(Number(inputs) / 2);
  }, 600_000);

  it('the damage is the same for the same seed', async () => {
    const { damaged } = (await import('../../scripts/mutations.mjs' as string)) as {
      damaged: (b: Uint8Array, name: string, seed: number) => Uint8Array;
    };
    const bytes = readFileSync(here('./files/three-arcs.svg'));
    for (const seed of [1, 2, 77]) expect(damaged(bytes, 'a.svg', seed)).toEqual(damaged(bytes, 'a.svg', seed));
    expect(damaged(bytes, 'a.svg', 1)).not.toEqual(damaged(bytes, 'a.svg', 2));
  });
});
