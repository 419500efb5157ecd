import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';

const dist = fileURLToPath(new URL('../dist', import.meta.url));
const built = existsSync(join(dist, 'index.html'));
if (!built) console.warn('SKIPPED: the page is not built, so what it loads first is not weighed');

/** What the address of the application loads before anybody goes anywhere: scripts and styles that the page names. */
const first = (): string[] => {
  const html = readFileSync(join(dist, 'index.html'), 'utf8');
  return [...html.matchAll(/(?:src|href)="\/?(assets\/[^"]+\.(?:js|css))"/g)].map((m) => m[1]!);
};

describe.skipIf(!built)('the built page', () => {
  it('loads less than 250 kB packed at first', () => {
    const files = first();
    expect(files.some((f) => f.endsWith('.js'))).toBe(true);
    const packed = files.reduce((n, f) => n + gzipSync(readFileSync(join(dist, f))).length, 0);
    expect(packed).toBeLessThan(250_000);
  });
  it('holds no writer of drawings: those are the worker’s, the server’s and the shell’s', () => {
    for (const f of readdirSync(join(dist, 'assets')).filter(
      (name) => name.endsWith('.js') && !name.includes('worker'),
    ))
      expect({ f, writer: readFileSync(join(dist, 'assets', f), 'utf8').includes('AcDbBlockReference') }).toEqual({
        f,
        writer: false,
      });
  });
});
