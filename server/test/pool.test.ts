import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

/** Runs what was built in a process of its own, as its threads load what was built; answers with what `tell` was given. */
const outcome = (body: string): unknown =>
  JSON.parse(
    execFileSync(process.execPath, ['--input-type=module', '-e', `${SETTING}\n${body}\nprocess.exit(0);`], {
      cwd: fileURLToPath(new URL('..', import.meta.url)),
      env: { ...process.env, NODE_OPTIONS: '' },
      encoding: 'utf8',
    }),
  );
const SETTING = `
  import { WorkerPool } from './dist/tasks/pool.js';
  const lines = (n) => ({
    bytes: new TextEncoder().encode('0\\nSECTION\\n2\\nENTITIES\\n' + Array.from({ length: n }, (_, i) => '0\\nLINE\\n8\\nA\\n10\\n' + i + '\\n20\\n0\\n11\\n9\\n21\\n9\\n').join('') + '0\\nENDSEC\\n0\\nEOF\\n'),
    name: 'lines.dxf',
  });
  const tell = (what) => process.stdout.write(JSON.stringify(what));
`;

describe('a pool of one thread', () => {
  it('takes none of a task’s time while it waits for others, or for its thread to start', () => {
    const said = outcome(`
      const first = new WorkerPool(1, 1024, 60_000);
      await first.read(lines(1));
      const start = performance.now();
      await first.read(lines(20_000));
      const one = performance.now() - start;
      // The last of twelve waits for eleven: nearly three times as long as any may take.
      const pool = new WorkerPool(1, 1024, 4 * one + 200);
      tell(await Promise.all(Array.from({ length: 12 }, () => pool.read(lines(20_000)).then((r) => r.ok, String))));
    `);
    expect(said).toEqual(Array.from({ length: 12 }, () => true));
  });

  it('ends a task that takes longer once it began, and goes on with the next', () => {
    const said = outcome(`
      const pool = new WorkerPool(1, 2048, 800);
      const slow = await pool.read(lines(1_000_000)).then((r) => r.ok, String);
      tell([slow, (await pool.read(lines(1))).ok]);
    `);
    expect(said).toEqual(['TookTooLong: it took longer than the 0.8 s that are allowed', true]);
  });
});
