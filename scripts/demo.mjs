// npm run demo: installs if needed, builds if needed, starts with the demo job and prints the address.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
if (Number(process.versions.node.split('.')[0]) < 20) {
  console.error(`Scalaria needs Node 20 or newer; this is ${process.version}.`);
  process.exit(1);
}

function run(command, args) {
  const done = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    shell: process.platform === 'win32',
  });
  if (done.status !== 0) {
    console.error(`"${command} ${args.join(' ')}" failed; what it said stands above.`);
    process.exit(1);
  }
}
const timeOf = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);
function newest(folder) {
  let most = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    most = Math.max(most, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return most;
}

const installed = join(root, 'node_modules', '.package-lock.json');
if (timeOf(installed) < timeOf(join(root, 'package-lock.json'))) {
  console.log('Installing packages …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
}
const stamp = join(root, 'node_modules', '.cache', 'scalaria-built');
const sources = [
  'core/src',
  'core/fonts',
  'server/src',
  'server/migrations',
  'web/src',
  'web/public',
  'cli/src',
  'demo/src',
];
if (
  timeOf(stamp) < Math.max(timeOf(installed), ...sources.map((s) => newest(join(root, s)))) ||
  !existsSync(join(root, 'web/dist/index.html'))
) {
  console.log('Building …');
  run('npm', ['run', 'build', '--silent']);
  mkdirSync(join(root, 'node_modules', '.cache'), { recursive: true });
  writeFileSync(stamp, '');
}

const env = {
  ...process.env,
  SCALARIA_DEMO: join(root, 'demo', 'files'),
  SCALARIA_DATA: process.env.SCALARIA_DATA || join(root, 'data'),
};
const server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], { env, stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
