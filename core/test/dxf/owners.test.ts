import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { parseRaw } from '../../src/formats/drafting/raw-tags.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { bytesOf, fonts } from '../helpers.js';

type Tag = readonly [number, string];
const tagsOf = (text: string): Tag[] => parseRaw(text) as unknown as Tag[];
const whole = readFileSync(new URL('../files/every-kind.dxf', import.meta.url), 'latin1');

/** The records of the section of objects, each with its owner outside of groups (330 before the first mark), if it says one. */
function objects(text: string): { type: string; handle: string; owner: string | null; at: number }[] {
  const tags = tagsOf(text);
  const start = tags.findIndex(
    ([c, v], i) => c === 2 && v.trim() === 'OBJECTS' && tags[i - 1]![1].trim() === 'SECTION',
  );
  const out: ReturnType<typeof objects> = [];
  let within = 0;
  let open = false;
  for (let i = start + 1; i < tags.length; i++) {
    const [code, value] = tags[i]!;
    const last = out[out.length - 1];
    if (code === 0) {
      if (value.trim() === 'ENDSEC') break;
      out.push({ type: value.trim(), handle: '', owner: null, at: -1 });
      [open, within] = [true, 0];
    } else if (!open || !last) continue;
    else if (code === 100) open = false;
    else if (code === 5) last.handle = value.trim();
    else if (code === 102) within += value.trim().startsWith('{') ? 1 : -1;
    else if (code === 330 && within === 0) [last.owner, last.at] = [value.trim(), i];
  }
  return out;
}

/** The file as a small program might have written it: no object says which object owns it. */
function ownerless(): string {
  const all = objects(whole);
  const known = new Set(all.map((o) => o.handle));
  const away = new Set(all.filter((o) => o.owner !== null && known.has(o.owner)).map((o) => o.at));
  return tagsOf(whole)
    .filter((_, i) => !away.has(i))
    .map(([c, v]) => `${c}\n${v}\n`)
    .join('');
}

describe('objects that say nothing of what owns them', () => {
  const source = readDrawing(bytesOf(ownerless()), 'a.dxf').drawing;
  const write = (version: string) => {
    const all = { ...NO_DECISIONS, layers: { mode: 'all' as const, names: [] } };
    return deliver(prepare(source, all, []).drawing, targetFor('dxf', { unit: 'mm', version }), 'a', fonts());
  };
  const before = new Map(objects(whole).map((o) => [o.handle, o.owner]));

  it.each(['2000', '2018'])('say it in a file of %s: the dictionary that lists them', (version) => {
    const { bytes, ledger } = write(version);
    const made = objects(new TextDecoder().decode(bytes));
    const kept = made.filter((o) => before.has(o.handle) && before.get(o.handle) !== '0');
    expect(kept.length).toBeGreaterThan(20);
    // As the whole file had it, which an independent program made; what nobody lists stays without.
    expect(kept.filter((o) => o.owner !== before.get(o.handle)).map((o) => [o.type, o.owner])).toEqual([]);
    expect(ledger.find((r) => r.code === 'owners-put')?.count).toBeGreaterThan(5);
  });

  it('leave nothing to mend for an independent program', () => {
    if (!hasEzdxf('nobody else looks for owners')) return;
    const file = join(mkdtempSync(join(tmpdir(), 'owners-')), 'a.dxf');
    writeFileSync(file, write('2018').bytes);
    const [seen] = JSON.parse(runEzdxf('see.py', file)) as { errors: string[]; fixes: string[] }[];
    expect(seen).toMatchObject({ errors: [], fixes: [] });
  });

  it('are left as they are where they say it', () => {
    const { drawing } = readDrawing(bytesOf(whole), 'a.dxf');
    const { ledger } = deliver(drawing, targetFor('dxf', { unit: 'mm', version: '2018' }), 'a', fonts());
    expect(ledger.some((r) => r.code === 'owners-put')).toBe(false);
  });
});
