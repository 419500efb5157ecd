// npm test: installs what the tests need, builds, and runs everything. The last line counts what passed and failed.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const run = (command, args, options = {}) => {
  console.log(`\n── ${[command, ...args].join(' ')}`);
  return (
    spawnSync(command, args, { cwd: root, stdio: 'inherit', shell: process.platform === 'win32', ...options })
      .status === 0
  );
};
const needs = (ok, what) => {
  if (ok) return;
  console.error(`\n${what} failed.`);
  process.exit(1);
};

if (!existsSync(join(root, 'node_modules', '.package-lock.json')))
  needs(run('npm', ['ci', '--no-audit', '--no-fund']), 'Installing packages');

// Debian packages: a browser for the tests in one, and independent readers of DXF, of PDF and of archives.
const chromium = process.env.CHROMIUM ?? '/usr/bin/chromium';
const hasReader = () => spawnSync('/usr/bin/python3', ['-c', 'import ezdxf'], { stdio: 'ignore' }).status === 0;
const hasPoppler = spawnSync('pdfinfo', ['-v'], { stdio: 'ignore' }).status === 0;
const hasUnzip = spawnSync('unzip', ['-v'], { stdio: 'ignore' }).status === 0;
const missing = [
  ...(existsSync(chromium) ? [] : ['chromium']),
  ...(hasReader() ? [] : ['python3-ezdxf']),
  ...(hasPoppler ? [] : ['poppler-utils']),
  ...(hasUnzip ? [] : ['unzip']),
];
if (missing.length > 0 && existsSync('/usr/bin/apt-get') && process.getuid?.() === 0) {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], { env });
}

needs(run('npm', ['run', 'build', '--silent']), 'Building');
needs(run('npm', ['run', 'typecheck', '--silent']), 'Checking types');
needs(run('npm', ['run', 'lint', '--silent']), 'Linting');

const results = join(root, 'test-results');
mkdirSync(results, { recursive: true });
const unit = join(results, 'unit.json');
const browser = join(root, 'e2e', 'test-results', 'report.json');
rmSync(unit, { force: true });
rmSync(browser, { force: true });
let good = run('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${unit}`]);
let passed = 0;
let failed = 0;
let skipped = 0;
if (existsSync(unit)) {
  const r = JSON.parse(readFileSync(unit, 'utf8'));
  passed += r.numPassedTests;
  failed += r.numFailedTests;
  skipped += r.numPendingTests;
}
if (existsSync(chromium)) {
  good = run('npx', ['playwright', 'test'], { cwd: join(root, 'e2e') }) && good;
  if (existsSync(browser)) {
    const { stats } = JSON.parse(readFileSync(browser, 'utf8'));
    passed += stats.expected + stats.flaky;
    failed += stats.unexpected;
    skipped += stats.skipped;
  }
} else {
  console.error('\nSKIPPED: there is no Chromium, so no test ran in a browser. On Debian: apt-get install chromium');
  skipped++;
}
console.log(`\n${passed} passed, ${failed} failed, ${skipped} skipped`);
process.exit(good && failed === 0 && passed > 0 ? 0 : 1);
