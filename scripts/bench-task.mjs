// One measurement in a process of its own, so that its peak memory is its own. Prints JSON.
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import {
  NO_DECISIONS,
  SHIPPED_FONTS,
  buildScene,
  compareDrawings,
  claimsOf,
  deliver,
  eachPage,
  DEFAULT_TARGETS,
  targetFor,
  plannedStep,
  prepare,
  prove,
  readDrawing,
  readSource,
  runChecks,
  shippedBook,
  stepById,
} from '../core/dist/index.js';

const [, , task, file] = process.argv;
const fonts = shippedBook(SHIPPED_FONTS.map((f) => readFileSync(new URL(`../core/fonts/${f.file}`, import.meta.url))));
const peak = () => process.resourceUsage().maxRSS * 1024;

/** Looks at every byte and counts lines: what any reader has to do at the least. */
function walkLines(bytes) {
  let lines = 0;
  for (let i = 0; i < bytes.length; i++) if (bytes[i] === 10) lines++;
  return lines;
}
/** Finds where each line begins and ends, and passes both on: the bare walk over a file's lines. */
function findLines(bytes) {
  let sum = 0;
  let lines = 0;
  const each = (from, to) => {
    lines++;
    sum += to - from;
  };
  const n = bytes.length;
  for (let i = 0; i < n;) {
    const from = i;
    while (i < n && bytes[i] !== 10 && bytes[i] !== 13) i++;
    each(from, i);
    if (bytes[i] === 13 && bytes[i + 1] === 10) i++;
    i++;
  }
  return lines + sum;
}
/** Takes every line out as a string, which is what a reader that splits the text does before it understands anything. */
function takeLines(bytes) {
  const decoder = new TextDecoder('latin1');
  let at = 0;
  let sum = 0;
  for (;;) {
    const end = bytes.indexOf(10, at);
    if (end < 0) return sum;
    sum += decoder.decode(bytes.subarray(at, end)).length;
    at = end + 1;
  }
}

/** One pass of the XML parser over an SVG, counting elements: what any reader of it has to do at the least. */
function parseOnly(bytes) {
  const { SaxesParser } = createRequire(new URL('../core/package.json', import.meta.url))('saxes');
  const parser = new SaxesParser({ xmlns: true, position: true });
  let elements = 0;
  parser.on('opentag', () => elements++);
  const text = new TextDecoder().decode(bytes);
  for (let i = 0; i < text.length; i += 1 << 18) parser.write(text.slice(i, i + (1 << 18)));
  parser.close();
  return elements;
}

const idle = peak();
const time = (f) => {
  const t = performance.now();
  const value = f();
  return { ms: performance.now() - t, value };
};
const done = (o) => console.log(JSON.stringify({ idle, peak: peak(), ...o }));

const bytes = new Uint8Array(readFileSync(file));
const size = bytes.length;
if (task === 'walk') done({ size, ms: time(() => walkLines(bytes)).ms });
else if (task === 'find') done({ size, ms: time(() => findLines(bytes)).ms });
else if (task === 'lines') done({ size, ms: time(() => takeLines(bytes)).ms });
else if (task === 'parse') done({ size, ms: time(() => parseOnly(bytes)).ms });
else if (task === 'read-elsewhere') {
  // An independent reader with its conversion to objects; development only.
  const { LibreDwg } = await import('@mlightcad/libredwg-web');
  const main = createRequire(new URL('../core/package.json', import.meta.url)).resolve('@mlightcad/libredwg-web');
  const lib = await LibreDwg.create(join(dirname(dirname(main)), 'wasm/'));
  const r = time(() => lib.convert(lib.dwg_read_data(bytes, 0)));
  done({ size, ms: r.ms, entities: r.value.entities.length });
} else if (task === 'pages') {
  const t = performance.now();
  let objects = 0;
  await eachPage(bytes, 1, (page) => {
    objects += page.entities.length;
    return true;
  });
  done({ size, ms: performance.now() - t, objects });
} else if (task === 'read-page') {
  const t = performance.now();
  const { drawing } = await readSource(bytes, file);
  done({ size, ms: performance.now() - t, objects: drawing.entities.length });
} else if (task === 'read') {
  const r = time(() => readDrawing(bytes, file));
  done({ size, ms: r.ms, entities: r.value.drawing.entities.length });
} else {
  const { drawing } = readDrawing(bytes, file);
  const prepared = prepare(drawing, NO_DECISIONS, []);
  if (task === 'write') {
    const r = time(() => deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'bench.dxf', fonts));
    done({ size: r.value.bytes.length, ms: r.ms });
  } else if (task === 'write-svg') {
    const r = time(() => deliver(prepared.drawing, DEFAULT_TARGETS.svg, 'bench.dxf', fonts));
    done({ size: r.value.bytes.length, ms: r.ms });
  } else if (task === 'write-pdf') {
    const r = time(() => deliver(prepared.drawing, DEFAULT_TARGETS.pdf, 'bench.dxf', fonts));
    done({ size: r.value.bytes.length, ms: r.ms });
  } else if (task === 'write-png' || task === 'write-jpeg') {
    // As large as was asked for along the longer side.
    const options = { pixels: Number(process.argv[5]), margin: 0 };
    const target = { ...DEFAULT_TARGETS[task.slice(6)], options };
    const r = time(() => deliver(prepared.drawing, target, 'bench', fonts));
    if (process.argv[4]) writeFileSync(process.argv[4], r.value.bytes);
    const { width, height } = r.value.picture.frame;
    done({ size: r.value.bytes.length, ms: r.ms, megapixels: (width * height) / 1e6 });
  } else if (task === 'trace') {
    const step = plannedStep(stepById('trace-pictures'), 'trace', { by: 'colours' });
    const r = time(() => prepare(drawing, NO_DECISIONS, [step], { fonts }));
    done({ size, ms: r.ms, areas: r.value.drawing.entities.length });
  } else if (task.startsWith('write-dwg-')) {
    const target = targetFor('dwg', { version: task.slice(10) });
    const r = time(() => deliver(prepared.drawing, target, 'bench.dxf', fonts));
    if (process.argv[4]) writeFileSync(process.argv[4], r.value.bytes);
    done({ size: r.value.bytes.length, ms: r.ms });
  } else if (task === 'scene') {
    const r = time(() => buildScene(prepared.drawing, fonts));
    done({ size, ms: r.ms, chords: r.value.chords, triangles: r.value.triangles });
  } else if (task === 'draft') {
    const r = time(() => buildScene(prepared.drawing, fonts, { draft: true }));
    done({ size, ms: r.ms, chords: r.value.chords });
  } else if (task === 'compare') {
    const other = readDrawing(bytes, file).drawing;
    const r = time(() => compareDrawings(drawing, other));
    done({ size, ms: r.ms, same: r.value.same });
  } else if (task === 'claims') done({ size, ms: time(() => claimsOf(drawing)).ms });
  else if (task === 'check') done({ size, ms: time(() => runChecks(prepared.drawing, {}, { fonts })).ms });
  else if (task === 'prove') {
    const r = time(() => prove(prepared.drawing, drawing, { ledger: [], comparing: true, fonts }));
    done({ size, ms: r.ms, holds: r.value.holds });
  } else if (task === 'save')
    writeFileSync(process.argv[4], deliver(prepared.drawing, DEFAULT_TARGETS.dxf, 'bench.dxf', fonts).bytes);
}
