// Runs one file through all that the application does with it: read, look, check, draw, write to each format, prove.
// Prints a line for each stage as it is done, so that whoever watches knows where it stopped. What is refused in words is fine.
//   node scripts/chain.mjs FILE [--quick]     quick: one DXF, one DWG, one SVG and one PDF instead of all seven
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import {
  targetFor,
  NO_DECISIONS,
  SHIPPED_FONTS,
  UserError,
  buildScene,
  claimsOf,
  deliver,
  prepare,
  previewSvg,
  proveDelivery,
  readBack,
  readSource,
  runChecks,
  shippedBook,
  takeIn,
} from '../core/dist/index.js';

/** What is written of each file, the decisions beside it. */
const TARGETS = [
  { format: 'dxf', version: '2010' },
  { format: 'dxf', version: 'R12' },
  { format: 'dwg', version: '2000' },
  { format: 'dwg', version: '2018' },
  { format: 'svg' },
  { format: 'svg', version: '2', style: 'sheet', blocks: 'shared', arcs: 'cubics', text: 'outlines' },
  { format: 'pdf' },
  { format: 'png', pixels: 300, ground: 'clear' },
  { format: 'jpeg', pixels: 300 },
];

const fonts = shippedBook(SHIPPED_FONTS.map((f) => readFileSync(new URL(`../core/fonts/${f.file}`, import.meta.url))));

/** `say(stage, ms, note)` is told of each stage once it is done, `begin(stage)` before. Throws what no person can mend. */
export async function chain(bytes, name, say, begin, targets = TARGETS) {
  const stage = async (what, work) => {
    begin?.(what);
    const started = process.cpuUsage();
    let note = '';
    let made;
    try {
      made = await work();
    } catch (e) {
      if (!(e instanceof UserError)) throw e;
      note = `refused: ${e.message}`;
    }
    const used = process.cpuUsage(started);
    say(what, (used.user + used.system) / 1000, note);
    return made;
  };
  const source = await stage('read', () => readSource(bytes, name));
  if (!source) return;
  const taken = await stage('taken in', () => takeIn(source.drawing, NO_DECISIONS).drawing);
  if (!taken) return;
  await stage('claims', () => claimsOf(source.drawing));
  await stage('preview', () => previewSvg(taken));
  await stage('checks', () => runChecks(taken, {}, { fonts }));
  await stage('scene', () => buildScene(taken, fonts));
  const unit =
    source.drawing.unit === null ? { unit: 'mm' } : source.drawing.unit.unit === 'px' ? { pxPerInch: 96 } : {};
  const intake = { ...NO_DECISIONS, ...unit };
  const prepared = await stage('prepared', () => prepare(source.drawing, intake, [], { fonts }));
  if (!prepared) return;
  for (const t of targets) {
    const what = [t.format, t.version].filter(Boolean).join(' ');
    const made = await stage(`write ${what}`, () => deliver(prepared.drawing, targetFor(t.format, t), name, fonts));
    if (!made) continue;
    await stage(`prove ${what}`, async () =>
      proveDelivery(source.drawing, prepared, made, await readBack(made.bytes, made.name), fonts),
    );
  }
}

if (process.argv[1]?.endsWith('chain.mjs')) {
  const [, , file, quick] = process.argv;
  const targets =
    quick === '--quick'
      ? TARGETS.filter((t) => t.version !== 'R12' && t.version !== '2000' && t.version !== '2')
      : TARGETS;
  const say = (what, ms, note) => console.log(`${what.padEnd(16)} ${Math.round(ms)} ms ${note}`);
  await chain(readFileSync(file), basename(file), say, undefined, targets);
}
