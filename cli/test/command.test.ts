import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv } from 'ajv';
import { describe, expect, it } from 'vitest';
import { outputSchema } from '../src/schema.js';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const BIN = here('../bin/scalaria.mjs');
const demo = (name: string): string => here(`../../demo/files/${name}`);
const folder = mkdtempSync(join(tmpdir(), 'scalaria-cli-'));

function run(...args: string[]): { code: number | null; out: string; err: string } {
  const r = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', cwd: folder });
  return { code: r.status, out: r.stdout, err: r.stderr };
}
const committed = JSON.parse(readFileSync(here('../schema/output.schema.json'), 'utf8')) as object;
const valid = new Ajv({ strict: false }).compile(committed);
/** The JSON a command printed, held against the committed schema. */
function json(out: string): {
  files: { ok: boolean; claims: { unit: unknown; entities: number }; proof: { holds: boolean } }[];
  ok: boolean;
  proof: { holds: boolean };
} {
  const data = JSON.parse(out) as ReturnType<typeof json>;
  expect(valid(data), JSON.stringify(valid.errors?.[0])).toBe(true);
  return data;
}

it('the committed schema is that of the code', () => {
  expect(committed).toEqual(JSON.parse(JSON.stringify(outputSchema)));
});

describe('parts', () => {
  const steps = [
    { id: 'a', step: 'clear-doubles', on: true, params: {} },
    { id: 'b', step: 'chain-outlines', on: true, params: {} },
    { id: 'c', step: 'recover-arcs', on: true, params: {} },
  ];
  const panels = demo('kestrel-row-screen-panels.dxf');
  const recipe = (name: string, parts: object): string => {
    writeFileSync(join(folder, name), JSON.stringify({ recipe: 1, steps, parts }));
    return name;
  };
  it('lists panels with their material, thickness and holes, in words, as JSON of the schema, and as CSV', () => {
    const plan = recipe('parts.json', { layerSays: '{material}-{thickness}', numbering: { prefix: 'S-' } });
    const { code, out } = run('parts', panels, '--recipe', plan);
    expect(code).toBe(0);
    expect(out).toMatch(/S-07 +1 × 600 × 400 mm, PLY 12, cut [\d.]+ mm, 13 × Ø 24, 14 × Ø 28, 13 × Ø 32/);
    // The outline of another panel does not close.
    expect(out).toMatch(/finding +polyline on PLY-18: belongs to no part/);
    const { files } = json(run('parts', panels, '--recipe', plan, '--json').out) as unknown as {
      files: {
        rows: { number: string; material: string; thickness: string; holes: { count: number }[]; quantity: number }[];
      }[];
    };
    const rows = files[0]!.rows;
    expect(new Set(rows.map((r) => r.number)).size).toBe(rows.length);
    const ply = rows.find((r) => r.material === 'PLY' && r.thickness === '12')!;
    expect(ply.holes.reduce((sum, h) => sum + h.count, 0)).toBe(40);
    const csv = run('parts', panels, '--recipe', plan, '--csv').out;
    expect(csv.split('\r\n')[0]).toContain('number,name,kind,material,thickness,grain,side,"length, mm"');
    expect(csv.trim().split('\r\n')).toHaveLength(rows.length + 1);
  });
  it('ends with 4 where several parts have one number, with 2 for a recipe or flags that are wrong', () => {
    const square = (x: number): string =>
      `0\nLWPOLYLINE\n8\nA\n90\n4\n70\n1\n${[x, 0, x + 9, 0, x + 9, 9 + x, x, 9 + x].map((v, i) => `${i % 2 ? 20 : 10}\n${v}`).join('\n')}\n`;
    const label = (x: number): string => `0\nTEXT\n8\nA\n10\n${x + 2}\n20\n2\n40\n2\n1\nNo 7\n`;
    const body = [0, 20].map((x) => square(x) + label(x)).join('');
    writeFileSync(join(folder, 'two.dxf'), `0\nSECTION\n2\nENTITIES\n${body}0\nENDSEC\n0\nEOF\n`);
    const plan = recipe('numbers.json', { labelSays: 'No {number}' });
    const made = run('parts', 'two.dxf', '--recipe', plan);
    expect(made.code).toBe(4);
    expect(made.out).toContain('several parts have the number 7');
    expect(run('parts', 'two.dxf', '--recipe', recipe('wrong.json', { colour: 1 })).code).toBe(2);
    expect(run('parts', 'two.dxf', '--csv', '--json').code).toBe(2);
    expect(run('parts', 'gone.dxf').code).toBe(3);
  });
});

describe('parts in a file', () => {
  const steps = [
    { id: 'a', step: 'clear-doubles', on: true, params: {} },
    { id: 'b', step: 'chain-outlines', on: true, params: {} },
    { id: 'c', step: 'recover-arcs', on: true, params: {} },
  ];
  const panels = demo('kestrel-row-screen-panels.dxf');
  const written = (name: string, target: object): ReturnType<typeof run> => {
    const recipe = { recipe: 1, steps, parts: { labelSays: 'P{number}' }, target: { format: 'dxf', ...target } };
    writeFileSync(join(folder, `${name}.json`), JSON.stringify(recipe));
    return run('convert', panels, `${name}.dxf`, '--recipe', `${name}.json`);
  };
  const count = (name: string, kind: string): number =>
    readFileSync(join(folder, `${name}.dxf`), 'utf8')
      .split(/\r?\n/)
      .filter((l) => l === kind).length;
  it('one part alone: its outline, its forty holes and its label, proven', () => {
    expect(written('one', { parts: ['1'] }).code).toBe(0);
    // The outline runs round corners, the holes are circles again.
    expect([count('one', 'LWPOLYLINE'), count('one', 'CIRCLE'), count('one', 'TEXT')]).toEqual([1, 40, 1]);
  });
  it('nothing is written where parts have no number, or the one that is asked for is not there', () => {
    const all = written('all', { numbered: true });
    expect([all.code, existsSync(join(folder, 'all.dxf'))]).toEqual([2, false]);
    expect(all.out + all.err).toContain('parts have no number');
    const lost = written('lost', { parts: ['77'] });
    expect(lost.out + lost.err).toContain('no part of this drawing has the number 77');
    expect(written('wrong', { parts: 7 }).err).toContain('"parts" is a list of numbers of parts');
  });
});

describe('a set', () => {
  const KR = [
    { what: 'text', text: 'KR-' },
    { what: 'number', series: 'KR', digits: 3, first: 14 },
    { what: 'text', text: '-' },
    { what: 'field', field: 'drawing', letters: 'small', spaces: 'hyphens' },
  ];
  const recipe = (name: string, more: object = {}): string => {
    const all = { recipe: 1, title: 'Shop', target: { format: 'dxf', unit: 'mm' }, naming: KR, ...more };
    writeFileSync(join(folder, `${name}.json`), JSON.stringify(all));
    return `${name}.json`;
  };
  const sources = ['kestrel-row-mullion.dxf', 'kestrel-row-section.dxf', 'kestrel-row-screen-panels.dxf'].map(demo);
  const at = (...path: string[]): string => join(folder, ...path);

  it('goes into a folder of its own with a manifest, and verifies until something of it is touched', () => {
    const made = run('deliver', ...sources, '--recipe', recipe('set'), '--into', 'set');
    expect(made.out).toContain('3 asked for = 3 written + 0 unchanged + 0 failed');
    expect(made.code).toBe(0);
    expect(readdirSync(at('set'))).toEqual([
      'KR-014-kestrel-row-mullion.dxf',
      'KR-015-kestrel-row-section.dxf',
      'KR-016-kestrel-row-screen-panels.dxf',
      'manifest.csv',
      'manifest.json',
      'report.html',
    ]);
    const manifest = JSON.parse(readFileSync(at('set', 'manifest.json'), 'utf8')) as {
      files: { name: string; sha256: string; bytes: number; source: { sha256: string } }[];
    };
    // Digests by another program.
    const foreign = (path: string): string => spawnSync('sha256sum', [path], { encoding: 'utf8' }).stdout.slice(0, 64);
    for (const [i, f] of manifest.files.entries()) {
      expect([f.sha256, f.bytes]).toEqual([foreign(at('set', f.name)), statSync(at('set', f.name)).size]);
      expect(f.source.sha256).toBe(foreign(sources[i]!));
    }
    expect(run('verify', 'set')).toMatchObject({ code: 0, out: expect.stringContaining('all 3 files are as') });
    writeFileSync(at('set', 'KR-015-kestrel-row-section.dxf'), 'touched');
    rmSync(at('set', 'KR-014-kestrel-row-mullion.dxf'));
    writeFileSync(at('set', 'note.txt'), 'x');
    const after = run('verify', 'set', '--json');
    expect(after.code).toBe(4);
    expect(json(after.out)).toMatchObject({
      ok: false,
      missing: ['KR-014-kestrel-row-mullion.dxf'],
      changed: ['KR-015-kestrel-row-section.dxf'],
      extra: ['note.txt'],
    });
    expect(run('verify', '.').code).toBe(2);
  }, 60_000);

  it('parted by sheets is a file for each sheet, with model space; a drawing without one is told, and no sum is made up', () => {
    const naming = [
      { what: 'field', field: 'drawing', letters: 'asIs', spaces: 'asIs' },
      { what: 'text', text: ' - ' },
      { what: 'field', field: 'paper', letters: 'capitals', spaces: 'underscores' },
    ];
    const plan = recipe('sheets', { recipe: 2, naming, split: { by: 'sheets' } });
    const made = run('deliver', ...sources.slice(0, 2), '--recipe', plan, '--into', 'sheets', '--json');
    expect(made.code, made.err).toBe(0);
    const manifest = JSON.parse(readFileSync(at('sheets', 'manifest.json'), 'utf8')) as Record<string, unknown>;
    expect((manifest['files'] as { name: string }[]).map((f) => f.name)).toEqual([
      'kestrel-row-section - SECTION_1-50.dxf',
    ]);
    expect(manifest['leftOut']).toEqual([
      { source: 'kestrel-row-mullion.dxf: the drawing', why: 'has no sheet of paper' },
    ]);
    expect(manifest).not.toHaveProperty('objects');
    const svg = recipe('no-sheets', { recipe: 2, target: { format: 'svg' }, split: { by: 'sheets' } });
    const refused = run('deliver', sources[1]!, '--recipe', svg, '--into', 'no-sheets');
    expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('sheets of paper go into a DXF or DWG')]);
  }, 60_000);

  it('parted by stock holds every part of the lists once, or tells it as left out, and the sum of it stands in the manifest', () => {
    const part = (layer: string, x: number, number: number): string =>
      `0\nLWPOLYLINE\n8\n${layer}\n90\n4\n70\n1\n${[x, 0, x + 9, 0, x + 9, 9, x, 9].map((v, i) => `${i % 2 ? 20 : 10}\n${v}`).join('\n')}\n` +
      `0\nTEXT\n8\n${layer}\n10\n${x + 2}\n20\n2\n40\n2\n1\nNo ${number}\n`;
    const body = part('PLY-12', 0, 1) + part('PLY-12', 20, 2) + part('ALU-3', 40, 3);
    writeFileSync(
      at('stock.dxf'),
      `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${body}0\nENDSEC\n0\nEOF\n`,
    );
    const by = (name: string, split: object): { files: { name: string; parts: string[] }[]; parts: object } => {
      const rules = { layerSays: '{material}-{thickness}', labelSays: 'No {number}' };
      const naming = ['material', 'thickness'].map((field) => ({
        what: 'field',
        field,
        letters: 'asIs',
        spaces: 'asIs',
      }));
      const plan = recipe(name, { recipe: 2, parts: rules, naming, split: { by: 'stock', ...split } });
      const made = run('deliver', 'stock.dxf', '--recipe', plan, '--into', name);
      expect(made.code, made.out + made.err).toBe(0);
      return JSON.parse(readFileSync(at(name, 'manifest.json'), 'utf8')) as never;
    };
    const all = by('stock-all', {});
    expect(all.files.map((f) => [f.name, f.parts])).toEqual([
      ['ALU3.dxf', ['3']],
      ['PLY12.dxf', ['1', '2']],
    ]);
    expect(all.parts).toEqual({ listed: 3, inFiles: 3, leftOut: 0 });
    // Two outlines in the one, one in the other, as the bytes say.
    const outlines = (file: string): number =>
      readFileSync(at('stock-all', file), 'utf8')
        .split(/\r?\n/)
        .filter((l) => l === 'LWPOLYLINE').length;
    expect([outlines('PLY12.dxf'), outlines('ALU3.dxf')]).toEqual([2, 1]);
    expect(by('stock-ply', { only: 'PLY*' }).parts).toEqual({ listed: 3, inFiles: 2, leftOut: 1 });
  }, 60_000);

  it('is not written over, nor twice: the same again is told, another is asked for', () => {
    const [mullion] = sources as [string];
    const plan = recipe('again');
    expect(run('deliver', mullion, '--recipe', plan, '--into', 'again').code).toBe(0);
    const before = readFileSync(at('again', 'manifest.json'), 'utf8');
    const same = run('deliver', mullion, '--recipe', plan, '--into', 'again', '--json');
    expect(json(same.out)).toMatchObject({ unchanged: ['KR-014-kestrel-row-mullion.dxf'], errors: [] });
    expect(readFileSync(at('again', 'manifest.json'), 'utf8')).toBe(before);
    const inches = recipe('inches', { target: { format: 'dxf', unit: 'in' } });
    const other = run('deliver', mullion, '--recipe', inches, '--into', 'again');
    expect([other.code, other.out.includes('is there already and holds something else')]).toEqual([2, true]);
    expect(run('deliver', mullion, '--recipe', inches, '--into', 'again', '--overwrite').code).toBe(0);
    writeFileSync(at('again', 'mine.txt'), 'x');
    expect(run('deliver', mullion, '--recipe', plan, '--into', 'again').err).toContain(
      'again holds something else: mine.txt',
    );
  }, 60_000);

  it('one that fails stops no other, and stands in the manifest', () => {
    writeFileSync(at('broken.dxf'), 'no drawing');
    const made = run('deliver', 'broken.dxf', sources[0]!, '--recipe', recipe('part'), '--into', 'part', '--json');
    expect(made.code).toBe(3);
    expect(json(made.out)).toMatchObject({
      errors: [{ file: 'broken.dxf' }],
      manifest: {
        expected: 2,
        failed: [{ source: 'broken.dxf' }],
        files: [{ name: 'KR-015-kestrel-row-mullion.dxf' }],
        void: [{ series: 'KR', number: 14 }],
      },
    });
    expect(run('verify', 'part').code).toBe(0);
    for (const wrong of [
      ['deliver', 'a.dxf'],
      ['deliver', 'a.dxf', '--recipe', 'x.json'],
      ['verify'],
      ['convert', 'a', 'b.dxf', '--into', 'c'],
    ])
      expect(run(...wrong).code, wrong.join(' ')).toBe(2);
  }, 60_000);

  const layers = { recipe: 2, title: 'Shop', target: { format: 'dxf', unit: 'mm' }, split: { by: 'layers' } };
  const kept = (name: string, data: object): string => {
    writeFileSync(at(`${name}.json`), JSON.stringify(data));
    return `${name}.json`;
  };
  interface Told {
    manifest: { files: { name: string; piece: string; prepared: number }[]; objects: object; leftOut: unknown[] };
  }
  it('cuts drawings into files by the recipe, and every object is in one of them', () => {
    const made = run('deliver', sources[0]!, '--recipe', kept('layers', layers), '--into', 'layers', '--json');
    expect(made.code, made.err).toBe(0);
    const { manifest } = json(made.out) as unknown as Told;
    expect(Object.fromEntries(manifest.files.map((f) => [f.piece, f.prepared]))).toEqual({
      ...{ AXES: 2, GASKET: 1, PORTS: 8, PROFILE: 3, TEXT: 1 },
    });
    expect(manifest.objects).toEqual({ prepared: 15, written: 15, leftOut: 0 });
    expect(run('verify', 'layers').code).toBe(0);
  }, 60_000);
  it('where a name is taken: adds a number, leaves it, or stops', () => {
    const plan = recipe('taken');
    const [mullion] = sources as [string];
    expect(run('deliver', mullion, '--recipe', plan, '--into', 'taken').code).toBe(0);
    const name = 'KR-014-kestrel-row-mullion.dxf';
    const other = recipe('taken-in', { target: { format: 'dxf', unit: 'in' } });
    const before = readFileSync(at('taken', name));
    const left = run('deliver', mullion, '--recipe', other, '--into', 'taken', '--taken', 'leave');
    expect([left.code, left.out.includes('was left as it is')]).toEqual([0, true]);
    expect(run('deliver', mullion, '--recipe', other, '--into', 'taken', '--taken', 'number').code).toBe(0);
    expect(readdirSync(at('taken'))).toContain('KR-014-kestrel-row-mullion-2.dxf');
    expect(readFileSync(at('taken', name)).equals(before)).toBe(true);
    expect(run('deliver', mullion, '--recipe', other, '--into', 'taken', '--taken', 'stop').code).toBe(2);
  }, 60_000);
  it('takes no drawing that is not as the recipe expects it, on convert too', () => {
    const strict = kept('strict', { ...layers, split: { by: 'drawing' }, expects: { checks: ['hidden-content'] } });
    const hidden = demo('kestrel-row-front-elevation.dxf');
    const made = run('deliver', hidden, sources[0]!, '--recipe', strict, '--into', 'strict', '--json');
    const { manifest } = json(made.out) as unknown as Told;
    expect(manifest.files.map((f) => f.name)).toContain('kestrel-row-mullion.dxf');
    const agreed = { layers: [{ name: 'ONE', colour: null, weight: null }], others: 'refuse', onto: '' };
    const refused = run('convert', sources[0]!, 'refused.dxf', '--recipe', kept('agreed', { recipe: 2, agreed }));
    expect([refused.code, existsSync(at('refused.dxf'))]).toEqual([2, false]);
    expect(refused.out + refused.err).toContain('not agreed');
  }, 60_000);
  it('measures the yardsticks of the recipe in every file, and ends with 4 where one fails', () => {
    const width = { id: 'w', title: 'Width', what: 'width', unit: 'mm', tolerance: 0.05, source: 'the order' };
    const plan = (expected: number) => ({
      ...{ recipe: 2, target: { format: 'dxf', unit: 'mm' }, yardsticks: [{ ...width, expected }] },
    });
    const wrong = run('deliver', sources[0]!, '--recipe', kept('wrong', plan(100)), '--into', 'wrong');
    expect(wrong.code).toBe(4);
    expect(readFileSync(at('wrong', 'report.html'), 'utf8')).toContain('0 proofs hold, 1 does not');
    const found = json(
      run('deliver', sources[0]!, '--recipe', 'wrong.json', '--into', 'wrong', '--json').out,
    ) as unknown as {
      manifest: { files: { width: number }[] };
    };
    const right = kept('right', plan(found.manifest.files[0]!.width));
    expect(run('deliver', sources[0]!, '--recipe', right, '--into', 'right').code).toBe(0);
  }, 60_000);
  it('finds the template beside the recipe, by its name and its very bytes', () => {
    const template = demo('kestrel-row-section.dxf');
    const sha256 = spawnSync('sha256sum', [template], { encoding: 'utf8' }).stdout.slice(0, 64);
    const plan = { recipe: 2, target: { format: 'dxf' }, template: { name: 'office.dxf', sha256 } };
    const file = kept('templated', plan);
    expect(run('deliver', sources[0]!, '--recipe', file, '--into', 'none').err).toContain('does not lie beside it');
    writeFileSync(at('office.dxf'), 'other');
    expect(run('deliver', sources[0]!, '--recipe', file, '--into', 'none').err).toContain('is another file');
    writeFileSync(at('office.dxf'), readFileSync(template));
    expect(run('deliver', sources[0]!, '--recipe', file, '--into', 'templated').code).toBe(0);
  }, 60_000);
  it('refuses by name what a recipe says that is not known, and what a later version made', () => {
    expect(run('deliver', 'a.dxf', '--recipe', kept('strange', { recipe: 2, nests: 1 }), '--into', 'x').err).toContain(
      '"nests"',
    );
    expect(run('deliver', 'a.dxf', '--recipe', kept('later', { recipe: 3 }), '--into', 'x').err).toContain(
      'later version',
    );
  });
  it('has a committed schema', () => {
    const printed = spawnSync('node', [here('../dist/print-schema.js'), 'recipe'], { encoding: 'utf8' }).stdout;
    expect(printed).toBe(readFileSync(here('../schema/recipe.schema.json'), 'utf8'));
  });
});

describe('inspect', () => {
  it('tells only what concerns the purpose, and says which purposes there are', () => {
    const file = demo('kestrel-row-section.dxf');
    const checks = (...more: string[]): string[] => [
      ...new Set(
        (
          JSON.parse(run('inspect', file, '--json', ...more).out) as { files: { findings: { check: string }[] }[] }
        ).files[0]!.findings.map((f) => f.check),
      ),
    ];
    expect(checks()).toContain('unshared-points');
    expect(checks('--purpose', 'print')).not.toContain('unshared-points');
    expect(checks('--purpose', 'print')).toContain('typed-over-dimensions');
    const wrong = run('inspect', file, '--purpose', 'carving');
    expect(wrong.code).toBe(2);
    expect(wrong.err).toContain('--purpose is one of any, drafting, cut, solid, motion, print');
  });

  it('tells what a file claims, to people and to programs', () => {
    const { code, out } = run('inspect', demo('kestrel-row-mullion.dxf'));
    expect(code).toBe(0);
    expect(out).toMatch(/unit +in\n/);
    expect(out).toMatch(/PORTS {2}8/);
    const data = json(
      run('inspect', demo('kestrel-row-mullion.dxf'), demo('kestrel-row-wayfinding-panel.svg'), '--json').out,
    );
    expect(data.files.map((f) => f.claims.unit)).toEqual([
      { unit: 'in', factor: 1 },
      { unit: 'mm', factor: 1 },
    ]);
  });
  it('ends with 3 for a file that cannot be read, and reads the others', () => {
    writeFileSync(join(folder, 'bad.dxf'), 'not a drawing');
    const { code, out } = run('inspect', 'bad.dxf', demo('kestrel-row-mullion.dxf'), '--json');
    expect(code).toBe(3);
    expect(json(out).files.map((f) => f.ok)).toEqual([false, true]);
    expect(run('inspect', 'missing.dxf').code).toBe(3);
  });
});

describe('convert', () => {
  it('writes, proves, and prints both', () => {
    const { code, out } = run('convert', demo('kestrel-row-mullion.dxf'), 'm.svg', '--unit', 'mm', '--style', 'inline');
    expect(code).toBe(0);
    expect(out).toMatch(/converted from in to mm/);
    expect(out).toMatch(/The proof holds/);
    // 5 in, and the lines on either side a quarter of a millimetre wide.
    expect(readFileSync(join(folder, 'm.svg'), 'utf8')).toMatch(/width="127.25mm"[^>]*>[\s\S]*style="/);
  });
  it('never writes over a file unasked', () => {
    writeFileSync(join(folder, 'there.svg'), 'mine');
    expect(run('convert', demo('kestrel-row-mullion.dxf'), 'there.svg').code).toBe(2);
    expect(readFileSync(join(folder, 'there.svg'), 'utf8')).toBe('mine');
    expect(run('convert', demo('kestrel-row-mullion.dxf'), 'there.svg', '--overwrite').code).toBe(0);
  });
  it.each([
    ['R12', []],
    ['R12', ['--binary']],
    ['2000', []],
    ['2018', ['--binary']],
  ])('DXF %s %s, proven', (version, form) => {
    const r = run('convert', demo('kestrel-row-section.dxf'), 'v.dxf', '--version', version, '--overwrite', ...form);
    expect(r.code, r.out + r.err).toBe(0);
    const head = readFileSync(join(folder, 'v.dxf')).subarray(0, 18).toString('latin1');
    expect(head.includes('Binary')).toBe(form.length > 0);
    expect(run('inspect', 'v.dxf').out).toContain(`DXF ${version}`);
  });
  it('the tables of a template, for DXF only', () => {
    const panel = demo('kestrel-row-wayfinding-panel.svg');
    const template = ['--template', demo('kestrel-row-section.dxf')];
    expect(run('convert', panel, 't.dxf', ...template).code).toBe(0);
    expect(readFileSync(join(folder, 't.dxf'), 'latin1')).toContain('CONCRETE-FILL');
    expect(run('convert', panel, 't.svg', ...template).code).toBe(2);
    expect(run('convert', panel, 't2.dxf', '--template', 'missing.dxf').code).toBe(3);
  });
  it('several files to a folder', () => {
    const out = mkdtempSync(join(tmpdir(), 'scalaria-cli-out-'));
    const { code, out: said } = run(
      'convert',
      demo('kestrel-row-mullion.dxf'),
      demo('kestrel-row-wayfinding-panel.svg'),
      out,
      '--to',
      'dxf',
      '--version',
      '2004',
      '--json',
    );
    expect(code).toBe(0);
    expect(json(said).files.map((f) => f.proof.holds)).toEqual([true, true]);
    expect(readFileSync(join(out, 'kestrel-row-wayfinding-panel.dxf'), 'latin1')).toContain('AC1018');
  });
  it('of illustrations: clips, patterns, gradients, layers by a rule, single lines, a chart of fonts and colours', () => {
    const panel = demo('kestrel-row-wayfinding-panel.svg');
    const fontFolder = mkdtempSync(join(tmpdir(), 'scalaria-cli-fonts-'));
    writeFileSync(
      join(fontFolder, 'serif.woff2'),
      readFileSync(fileURLToPath(import.meta.resolve('@scalaria/core/fonts/source-serif-4-latin-400-normal.woff2'))),
    );
    const lines = run(
      'convert',
      panel,
      'lines.svg',
      '--text',
      'fitted-lines',
      '--patterns',
      'colour',
      '--gradients',
      'first',
      '--layers-from',
      'class',
      '--colour',
      '#1f2a37=#ff0000',
      '--hairline',
      '0.1',
      '--version',
      '2',
      '--font-folder',
      fontFolder,
      '--font',
      'Harbour Narrow=Source Serif 4',
    );
    expect(lines.code, lines.out + lines.err).toBe(0);
    const text = readFileSync(join(folder, 'lines.svg'), 'utf8');
    expect(text).not.toMatch(/<text|Gradient|#1f2a37|version="1.1"/);
    expect(text).toMatch(/<title>class line<\/title>/);
    const arcs = run('convert', panel, 'arcs.dxf', '--curves', 'arcs', '--tolerance', '0.05', '--clips', 'whole');
    expect(arcs.code, arcs.out + arcs.err).toBe(0);
    expect(readFileSync(join(folder, 'arcs.dxf'), 'latin1')).not.toContain('\nSPLINE');
    expect(run('convert', panel, 'x.dxf', '--font-folder', 'nowhere').code).toBe(2);
    expect(run('convert', panel, 'x.dxf', '--colour', 'red').code).toBe(2);
    expect(run('convert', panel, 'x.dxf', '--hairline', '1').code).toBe(2);
  });
  it('takes in the drawings that a drawing refers to, where a folder has them and a recipe asks for it', () => {
    const plan = demo('kestrel-row-site-plan.dwg');
    const refs = mkdtempSync(join(tmpdir(), 'scalaria-refs-'));
    const kerb = '0\nLINE\n8\nKERB\n10\n0\n20\n-9000\n11\n50000\n21\n-9000\n';
    writeFileSync(join(refs, 'Kestrel-Row-Street.dxf'), `0\nSECTION\n2\nENTITIES\n${kerb}0\nENDSEC\n0\nEOF\n`);
    const steps = [{ id: 's', step: 'take-references-in', on: true, params: {} }];
    writeFileSync(join(folder, 'whole.json'), JSON.stringify({ recipe: 1, intake: { unit: 'mm' }, steps }));
    const alone = run('convert', plan, 'alone.dxf', '--recipe', 'whole.json');
    expect(alone.out).toContain('kestrel-row-street.dwg');
    const made = run('convert', plan, 'whole.dxf', '--recipe', 'whole.json', '--reference-folder', refs);
    expect(made.out).toContain('reference Kestrel-Row-Street.dxf taken in, with 1 objects');
    expect(readFileSync(join(folder, 'whole.dxf'), 'utf8')).toContain('Kestrel-Row-Street-KERB');
    expect(run('convert', plan, 'x.dxf', '--recipe', 'whole.json', '--reference-folder', 'nowhere').code).toBe(2);
  });
  it('holds the pictures that a drawing names, where a folder has them', () => {
    const study = demo('kestrel-row-sign-study.svg');
    expect(run('convert', study, 'bare.svg').code).toBe(0);
    expect(readFileSync(join(folder, 'bare.svg'), 'utf8')).not.toContain('<image');
    const made = run('convert', study, 'held.svg', '--picture-folder', dirname(study));
    expect(made.code, made.out + made.err).toBe(0);
    expect(made.out).toContain('pictures found among the files of the job');
    const address = readFileSync(demo('kestrel-row-sketch.png')).toString('base64');
    expect(readFileSync(join(folder, 'held.svg'), 'utf8').includes(address)).toBe(true);
    expect(run('convert', study, 'x.svg', '--picture-folder', 'nowhere').code).toBe(2);
  });
  it('needs a unit for a drawing that states none', () => {
    const unitless = readFileSync(demo('kestrel-row-mullion.dxf'), 'latin1').replace(
      / {2}9\r\n\$INSUNITS\r\n 70\r\n1\r\n/,
      '',
    );
    writeFileSync(join(folder, 'unitless.dxf'), unitless, 'latin1');
    const refused = run('convert', 'unitless.dxf', 'u.svg');
    expect(refused.code).toBe(2);
    expect(existsSync(join(folder, 'u.svg'))).toBe(false);
    expect(run('convert', 'unitless.dxf', 'u.svg', '--from-unit', 'in').code).toBe(0);
  });
  it('follows a recipe, and refuses one that makes no sense', () => {
    writeFileSync(
      join(folder, 'r.json'),
      JSON.stringify({
        recipe: 1,
        intake: { origin: { mode: 'lowerLeft', x: 0, y: 0 } },
        steps: [{ id: 's', step: 'set-true-size', on: true, params: { measured: 1, actual: 2 } }],
        target: { unit: 'in', options: { page: 'outlines' } },
      }),
    );
    expect(run('convert', demo('kestrel-row-mullion.dxf'), 'r.svg', '--recipe', 'r.json').code).toBe(0);
    expect(readFileSync(join(folder, 'r.svg'), 'utf8')).toContain('width="10in"');
    writeFileSync(join(folder, 'bad.json'), JSON.stringify({ recipe: 1, intake: { unit: 'furlong' } }));
    expect(run('convert', demo('kestrel-row-mullion.dxf'), 'x.svg', '--recipe', 'bad.json').err).toMatch(
      /intake › unit/,
    );
  });
});

describe('DWG', () => {
  it('a plan without a unit goes to DXF and to another version of DWG, and both are the same drawing', () => {
    const plan = demo('kestrel-row-site-plan.dwg');
    expect(run('inspect', plan).out).toMatch(/format +DWG 2004\n *unit +none stated/);
    expect(run('convert', plan, 'plan.dxf', '--from-unit', 'mm').code).toBe(0);
    for (const version of ['2000', '2018']) {
      const { code, out } = run('convert', plan, `plan-${version}.dwg`, '--version', version, '--from-unit', 'mm');
      expect(out).toContain('The proof holds, but 2 objects are lost.');
      expect(code).toBe(0);
      const letters = readFileSync(join(folder, `plan-${version}.dwg`), 'latin1').slice(0, 6);
      expect(letters).toBe(version === '2000' ? 'AC1015' : 'AC1032');
      expect(run('prove', 'plan.dxf', `plan-${version}.dwg`).code).toBe(0);
    }
    expect(run('convert', plan, 'plan-r12.dwg', '--version', 'R12').code).toBe(2);
  });
});

describe('prove', () => {
  it('holds for two files that draw the same, whatever their format', () => {
    copyFileSync(demo('kestrel-row-mullion.dxf'), join(folder, 'copy.dxf'));
    expect(run('prove', demo('kestrel-row-mullion.dxf'), 'copy.dxf').code).toBe(0);
    run('convert', demo('kestrel-row-mullion.dxf'), 'same.svg', '--unit', 'mm', '--overwrite');
    const { code, out } = run('prove', demo('kestrel-row-mullion.dxf'), 'same.svg', '--json');
    expect(json(out).proof.holds).toBe(true);
    expect(code).toBe(0);
  });
  it('ends with 4 when they differ', () => {
    const changed = readFileSync(demo('kestrel-row-mullion.dxf'), 'latin1').replace('KR-M2', 'KR-M3');
    writeFileSync(join(folder, 'changed.dxf'), changed, 'latin1');
    const { code, out } = run('prove', demo('kestrel-row-mullion.dxf'), 'changed.dxf', '--json');
    expect(code).toBe(4);
    expect(json(out).proof.holds).toBe(false);
  });
});

it('says how it is used', () => {
  expect(run('--help')).toMatchObject({ code: 0 });
  for (const args of [
    ['fly'],
    ['inspect'],
    ['convert', 'a.dxf'],
    ['convert', 'a.dxf', 'b.doc'],
    ['prove', 'a'],
    ['inspect', 'a', '--nonsense'],
    ['convert', 'a.dxf', 'b.svg', '--unit', 'furlong'],
  ]) {
    expect(run(...args).code, args.join(' ')).toBe(2);
  }
});
