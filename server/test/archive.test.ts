import { execFileSync } from 'node:child_process';
import { createWriteStream, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { buffer } from 'node:stream/consumers';
import { describe, expect, it } from 'vitest';
import type { Entry } from '../src/sets/archive.js';
import { archive } from '../src/sets/archive.js';

const text = (t: string): Uint8Array => new TextEncoder().encode(t);
const entry = (name: string, content: string, packed = false): Entry => ({ name, bytes: () => text(content), packed });

describe('an archive', () => {
  it('holds more files than the small form can count: 70,000, as unzip says', async () => {
    const path = join(mkdtempSync(join(tmpdir(), 'scalaria-archive-')), 'many.zip');
    const entries = Array.from({ length: 70_000 }, (_, i) => entry(`f/${i}.dxf`, `file ${i}`, true));
    await pipeline(archive(entries, '2026-03-14'), createWriteStream(path));
    const told = execFileSync('unzip', ['-Z', '-h', '-t', path], { encoding: 'utf8' });
    // Σ of the lengths of "file 0" … "file 69999": 70,000 × 5, and digits 10 + 180 + 2,700 + 36,000 + 300,000.
    expect(told).toContain('70000 files, 688890 bytes uncompressed');
    expect(execFileSync('unzip', ['-p', path, 'f/69999.dxf'], { encoding: 'utf8' })).toBe('file 69999');
  }, 120_000);

  it('is the same bytes whatever order its files came in, and whatever zone the clock stands in', async () => {
    const entries = [
      entry('b.dxf', 'two'),
      entry('a.dxf', 'one'),
      entry('Ü.svg', 'three'),
      entry('a.png', 'PNG', true),
    ];
    const first = await buffer(archive(entries, '2026-03-14'));
    const zone = process.env['TZ'];
    try {
      process.env['TZ'] = 'Pacific/Kiritimati';
      expect((await buffer(archive([...entries].reverse(), '2026-03-14'))).equals(first)).toBe(true);
      expect((await buffer(archive(entries, '2026-03-15'))).equals(first)).toBe(false);
    } finally {
      if (zone === undefined) delete process.env['TZ'];
      else process.env['TZ'] = zone;
    }
  });

  it('breaks off, instead of ending as if it were whole, where one of its files cannot be read', async () => {
    const gone: Entry = { name: 'b.dxf', bytes: () => Promise.reject(new Error('the file is gone')) };
    await expect(buffer(archive([entry('a.dxf', 'one'), gone, entry('c.dxf', 'three')], '2026-03-14'))).rejects.toThrow(
      'the file is gone',
    );
  });
});
