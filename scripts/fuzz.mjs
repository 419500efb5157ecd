// npm run fuzz -- [--minutes N | --inputs N] [--seed N] [--seconds N] [--megabytes N] [--keep FOLDER]
// Damages the demo job's files and those that once broke something, and puts each through the whole chain: read, look, check,
// draw, write to each format, prove. What crashes, takes longer than the limit or needs more memory is kept and told, with the
// seed that makes it again. Ends with 1 when something was found.
import { fork } from 'node:child_process';
import { mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { damaged } from './mutations.mjs';

const path = (relative) => fileURLToPath(new URL(relative, import.meta.url));
const text = { type: 'string' };
const { values } = parseArgs({
  options: { minutes: text, inputs: text, seed: text, seconds: text, megabytes: text, keep: text },
});
const minutes = values.minutes ? Number(values.minutes) : Infinity;
const inputs = values.inputs ? Number(values.inputs) : values.minutes ? Infinity : 500;
const seconds = Number(values.seconds ?? 20);
const megabytes = Number(values.megabytes ?? 1500);
const first = Number(values.seed ?? 1);
const keep = values.keep ?? path('../fuzz-found');

const filesIn = (folder) => readdirSync(folder).map((f) => join(folder, f));
const files = [...filesIn(path('../demo/files')), ...filesIn(path('../core/test/files'))].filter((f) =>
  /\.(dxf|dwg|svg|pdf|png)$/.test(f),
);

const start = () =>
  new Promise((resolve) => {
    const child = fork(path('./fuzz-child.mjs'), {
      execArgv: [`--max-old-space-size=${megabytes}`],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    child.once('message', () => resolve(child));
  });

/** One input in a child; answers with what was found, and a fresh child where this one is gone. */
function run(child, file, seed) {
  return new Promise((resolve) => {
    let at = 'read';
    const end = (found, read, gone) => {
      clearTimeout(timer);
      child.removeAllListeners('message');
      child.removeAllListeners('exit');
      if (gone) child.kill('SIGKILL');
      resolve({ found, read, gone });
    };
    const timer = setTimeout(() => end([`longer than ${seconds} s in "${at}"`], false, true), seconds * 1000);
    child.on('message', (m) => {
      if (m.at) at = m.at;
      if (m.done) end(m.failed, m.read, false);
    });
    child.once('exit', (code, signal) => end([`the process ended (${signal ?? code}) in "${at}"`], false, true));
    child.send({ file, seed });
  });
}

const began = Date.now();
let [done, read, bad] = [0, 0, 0];
let child = await start();
for (let seed = first; done < inputs && Date.now() - began < minutes * 60_000; seed++) {
  const file = files[seed % files.length];
  const { found, read: wasRead, gone } = await run(child, file, seed);
  done++;
  if (wasRead) read++;
  if (found.length > 0) {
    bad++;
    mkdirSync(keep, { recursive: true });
    const kept = join(keep, `${seed}-${basename(file)}`);
    writeFileSync(kept, damaged(readFileSync(file), file, seed));
    writeFileSync(`${kept.slice(0, -extname(kept).length)}.txt`, found.join('\n'));
    console.log(`seed ${seed}, ${basename(file)}: ${found[0].slice(0, 400)}\n  kept as ${kept}`);
  }
  if (gone) child = await start();
}
child.kill();
const took = (Date.now() - began) / 1000;
console.log(
  `${done} damaged files in ${took.toFixed(0)} s (${(done / took).toFixed(1)}/s), ${read} read, ${bad} found wanting`,
);
process.exitCode = bad > 0 ? 1 : 0;
