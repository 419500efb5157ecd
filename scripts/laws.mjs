// npm run laws -- [how many] [files...]: runs tests that state laws, each time with another seed. A law is trusted once it holds
// for all of them.
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const [times = '20', ...given] = process.argv.slice(2);
const stated = readdirSync(join(root, 'core/test'), { recursive: true })
  .map((f) => join('core/test', String(f)))
  .filter((f) => f.endsWith('.test.ts') && readFileSync(join(root, f), 'utf8').includes('fc.assert'));
const files = given.length > 0 ? given : stated;
let broken = 0;
for (let n = 0; n < Number(times); n++) {
  const seed = 20261128 + 7919 * n;
  const env = { ...process.env, LAW_SEED: String(seed) };
  const { status, stdout } = spawnSync('npx', ['vitest', 'run', '--reporter=dot', ...files], {
    cwd: root,
    env,
    encoding: 'utf8',
  });
  if (status === 0) continue;
  broken++;
  console.log(`seed ${seed}:\n${stdout.slice(-6000)}`);
}
console.log(
  `${files.length} files of laws, ${times} seeds: ${broken === 0 ? 'all hold' : `${broken} runs with a law that does not hold`}`,
);
process.exitCode = broken > 0 ? 1 : 0;
