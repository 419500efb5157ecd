// npm run bench [entities]: reads, writes, cuts, checks and proves a generated DXF. Medians of three runs.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeBricks, makeFile, makePdf, makeSvg } from './bench-file.mjs';

const entities = Number(process.argv[2] ?? 300_000);
const folder = mkdtempSync(join(tmpdir(), 'scalaria-bench-'));
const dxf = join(folder, 'bench.dxf');
const task = fileURLToPath(new URL('./bench-task.mjs', import.meta.url));
makeFile(dxf, entities);
const mb = statSync(dxf).size / 1e6;
console.log(
  `${entities} entities, ${mb.toFixed(1)} MB, Node ${process.version}, ${cpus().length} × ${cpus()[0]?.model ?? '?'}\n`,
);

const drawing = join(folder, 'bench.svg');
makeSvg(drawing, Math.round((entities * 2) / 3));

const run = (name, file = dxf, ...more) => {
  const runs = [1, 2, 3].map(() =>
    JSON.parse(
      execFileSync(process.execPath, ['--max-old-space-size=8192', task, name, file, ...more], { encoding: 'utf8' }),
    ),
  );
  return runs.sort((a, b) => a.ms - b.ms)[1];
};
const row = (what, r, more = '') =>
  console.log(
    `${what.padEnd(34)} ${(r.ms / 1000).toFixed(2).padStart(6)} s  ${(r.size / 1e3 / r.ms).toFixed(0).padStart(5)} MB/s  peak ${((r.peak - r.idle) / 1e6).toFixed(0).padStart(5)} MB above idle  ${more}`,
  );
try {
  const walk = run('walk');
  row('look at every byte, count lines', walk);
  const find = run('find');
  row('find where every line lies', find);
  const lines = run('lines');
  row('take every line out as text', lines);
  const read = run('read');
  row(
    'read into the model',
    read,
    `${(read.ms / find.ms).toFixed(1)} × finding lines, ${(read.ms / walk.ms).toFixed(1)} × counting line ends, ${(read.ms / lines.ms).toFixed(2)} × taking lines, ${((read.peak - read.idle) / read.size).toFixed(1)} bytes per byte`,
  );
  const fine = join(folder, 'bench-17.dxf');
  makeFile(fine, entities, 17);
  row('read, coordinates of 17 digits', run('read', fine));
  row('write DXF 2010', run('write'));
  row('write SVG', run('write-svg'));
  row('write PDF', run('write-pdf'));
  const draft = run('draft');
  row('a rough first picture', draft, `${draft.chords} chords`);
  const scene = run('scene');
  row('cut for the viewport', scene, `${scene.chords} chords, ${scene.triangles} triangles`);
  row('gather the claims', run('claims'));
  row('run the checks', run('check'));
  row('compare two revisions', run('compare'));
  row('prove against itself', run('prove'));
  for (const version of ['2000', '2010']) {
    const dwg = join(folder, `bench-${version}.dwg`);
    const write = run(`write-dwg-${version}`, dxf, dwg);
    console.log(`\nDWG ${version}, ${(statSync(dwg).size / 1e6).toFixed(1)} MB`);
    row('write', write);
    const readDwg = run('read', dwg);
    const elsewhere = run('read-elsewhere', dwg);
    row('read into the model', readDwg, `${((readDwg.peak - readDwg.idle) / readDwg.size).toFixed(1)} bytes per byte`);
    row('an independent reader, to objects', elsewhere, `${(elsewhere.ms / readDwg.ms).toFixed(1)} × as long`);
  }
  // The shell command as a whole, in seconds of processor time and of waiting.
  const command = fileURLToPath(new URL('../cli/bin/scalaria.mjs', import.meta.url));
  const small = fileURLToPath(new URL('../core/test/files/closing-piece.svg', import.meta.url));
  console.log('\nThe shell command');
  const shell = (what, ...args) => {
    const script = `TIMEFORMAT='%U %S %R'; time ${[process.execPath, command, ...args].map((a) => `'${a}'`).join(' ')} > /dev/null`;
    const runs = [1, 2, 3].map(() =>
      spawnSync('bash', ['-c', script], { encoding: 'utf8' }).stderr.trim().split('\n').at(-1).split(' ').map(Number),
    );
    const [user, system, wall] = runs.sort((a, b) => a[0] - b[0])[1];
    console.log(
      `${what.padEnd(34)} ${(user + system).toFixed(2).padStart(6)} s of processor time, ${wall.toFixed(2)} s waited`,
    );
  };
  shell('one path of an SVG to DXF, proven', 'convert', small, join(folder, 'small.dxf'), '--overwrite');
  shell('inspect', 'inspect', fine);
  shell('inspect --no-checks', 'inspect', fine, '--no-checks');
  for (const id of ['dxf', 'svg', 'dwg'])
    shell(`to ${id.toUpperCase()}, proven`, 'convert', fine, join(folder, `out.${id}`), '--overwrite');
  console.log(`\nSVG, ${(statSync(drawing).size / 1e6).toFixed(1)} MB`);
  const parse = run('parse', drawing);
  row('one pass of the XML parser', parse);
  const svg = run('read', drawing);
  row(
    'read into the model',
    svg,
    `${(svg.ms / parse.ms).toFixed(1)} × the XML parser, ${((svg.peak - svg.idle) / svg.size).toFixed(1)} bytes per byte`,
  );
  const pdf = join(folder, 'bench.pdf');
  makePdf(pdf, 50, 2000);
  console.log(`\nPDF of 50 pages, ${(statSync(pdf).size / 1e6).toFixed(1)} MB`);
  const pages = run('pages', pdf);
  row('read every page', pages, `${pages.objects} objects`);
  row('read the first page', run('read-page', pdf));
  // Pictures: a panel with gradients, letters and clips, and the same traced back.
  const panel = fileURLToPath(new URL('../demo/files/kestrel-row-wayfinding-panel.svg', import.meta.url));
  console.log('\nPictures');
  const [large, ten] = [join(folder, 'large.png'), join(folder, 'ten.png')];
  for (const [what, task, out, pixels] of [
    ['as large as A0 at 300 to the inch', 'write-png', large, 9934],
    ['the same as JPEG', 'write-jpeg', '', 9934],
    ['ten million pixels', 'write-png', ten, 3820],
  ]) {
    const r = run(task, panel, out, String(pixels));
    row(what, r, `${r.megapixels.toFixed(1)} million pixels`);
  }
  const traced = run('trace', ten);
  row('trace ten million pixels', traced, `${traced.areas} areas`);
  // What each step takes beside reading, on objects of every kind and on closed outlines that nearly touch.
  const bricks = join(folder, 'bricks.dxf');
  makeBricks(bricks, Math.round(entities / 15));
  const steps = fileURLToPath(new URL('./bench-steps.mjs', import.meta.url));
  for (const file of [dxf, bricks]) {
    console.log(
      `\nSteps, ${file === dxf ? entities : Math.round(entities / 15)} ${file === dxf ? 'entities' : 'outlines'}`,
    );
    execFileSync(process.execPath, ['--max-old-space-size=8192', steps, file], { stdio: 'inherit' });
  }
} finally {
  rmSync(folder, { recursive: true });
}
