// Runs one file through all that the application does with it: read, look, check, draw, write to each format, prove.
// Prints a line for each stage as it is done, so that whoever watches knows where it stopped. What is refused in words is fine.
//   node scripts/chain.mjs FILE [--quick]     quick: one DXF, one DWG and one SVG instead of all six
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import {
  CannotDeliver,
  targetFor,
  NO_DECISIONS,
  SHIPPED_FONTS,
  UnreadableFile,
  buildScene,
  claimsOf,
  deliver,
  prepare,
  previewSvg,
  proveDelivery,
  readDrawing,
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
];

const fonts = shippedBook(SHIPPED_FONTS.map((f) => readFileSync(new URL(`../core/fonts/${f.file}`, import.meta.url))));

/** `say(stage, ms, note)` is told of each stage once it is done, `begin(stage)` before. Throws what no person can mend. */
export function chain(bytes, name, say, begin, targets = TARGETS) {
  const stage = (what, work) => {
    begin?.(what);
    const started = process.cpuUsage();
    let note = '';
    let made;
    try {
      made = work();
    } catch (e) {
      if (!(e instanceof UnreadableFile || e instanceof CannotDeliver)) throw e;
      note = `refused: ${e.message}`;
    }
    const used = process.cpuUsage(started);
    say(what, (used.user + used.system) / 1000, note);
    return made;
  };
  const source = stage('read', () => readDrawing(bytes, name));
  if (!source) return;
  const taken = stage('taken in', () => takeIn(source.drawing, NO_DECISIONS).drawing);
  if (!taken) return;
  stage('claims', () => claimsOf(source.drawing));
  stage('preview', () => previewSvg(taken));
  stage('checks', () => runChecks(taken, {}, { fonts }));
  stage('scene', () => buildScene(taken, fonts));
  const unit =
    source.drawing.unit === null ? { unit: 'mm' } : source.drawing.unit.unit === 'px' ? { pxPerInch: 96 } : {};
  const intake = { ...NO_DECISIONS, ...unit };
  const prepared = stage('prepared', () => prepare(source.drawing, intake, [], { fonts }));
  if (!prepared) return;
  for (const t of targets) {
    const what = [t.format, t.version].filter(Boolean).join(' ');
    const made = stage(`write ${what}`, () => deliver(prepared.drawing, targetFor(t.format, t), name, fonts));
    if (made) stage(`prove ${what}`, () => proveDelivery(source.drawing, prepared, made, made.bytes, fonts));
  }
}

if (process.argv[1]?.endsWith('chain.mjs')) {
  const [, , file, quick] = process.argv;
  const targets =
    quick === '--quick'
      ? TARGETS.filter((t) => t.version !== 'R12' && t.version !== '2000' && t.version !== '2')
      : TARGETS;
  const say = (what, ms, note) => console.log(`${what.padEnd(16)} ${Math.round(ms)} ms ${note}`);
  chain(readFileSync(file), basename(file), say, undefined, targets);
}
