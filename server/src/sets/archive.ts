import { Readable } from 'node:stream';
import { eq } from 'drizzle-orm';
import { ZipFile } from 'yazl';
import { manifestCsv, manifestJson, proofPage, tableForm } from '@scalaria/core';
import { deliveries } from '../database/schema.js';
import type { Context } from '../http/context.js';
import type { SetRow } from './make.js';
import type { Companion } from './companions.js';
import { companionsOf } from './companions.js';
import { manifestOf, reportOfSet } from './told.js';

/** What stands in an archive: a name, and how its bytes are got when their turn comes. */
export interface Entry {
  readonly name: string;
  bytes(): Promise<Uint8Array> | Uint8Array;
  /** It is packed already (a PNG is): packing it again would only take time. */
  readonly packed?: boolean;
}

/**
 * A stream of an archive (ZIP, with the larger form where it is needed: APPNOTE 6.3.10, 4.5.3). One file is in memory at a time. The
 * same entries and date make the same bytes: names in one order, flagged as UTF-8, the hour midnight.
 */
export function archive(entries: readonly Entry[], date: string): Readable {
  const zip = new ZipFile();
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  // The fields of an archive are a date on the wall, which this is wherever the clock stands.
  const mtime = new Date(year, month - 1, day);
  const options = { mtime, mode: 0o100644, forceDosTimestamp: true };
  const sorted = [...entries].sort((a, b) => (a.name < b.name ? -1 : 1));
  for (const entry of sorted)
    zip.addReadStreamLazy(entry.name, { ...options, compress: !entry.packed }, (give) => {
      Promise.resolve()
        .then(() => entry.bytes())
        .then(
          (bytes) => give(null, Readable.from([bytes])),
          (e: unknown) => give(e, null as never),
        );
    });
  zip.end();
  const out = zip.outputStream as Readable;
  zip.on('error', (e: unknown) => out.destroy(e as Error));
  return out;
}

/** All that a set delivers: its files, pictures beside them, manifest and report. Only what is written and proven is in it. */
export async function entriesOf(c: Context, set: SetRow): Promise<Entry[]> {
  const manifest = await manifestOf(c, set);
  const text = new TextEncoder();
  const report = set.recipe.beside?.['report'] !== false;
  const told = await besideIn(c, set.id);
  const files = manifest.files.flatMap((f): Entry[] => [
    { name: f.name, bytes: () => c.blobs.get(f.sha256) },
    ...(f.picture ? [{ name: f.picture.name, bytes: () => c.blobs.get(f.picture!.sha256), packed: true }] : []),
    ...(f.beside ?? []).map((b): Entry => ({
      name: b.name,
      bytes: () => told.get(b.name)!.bytes(c.blobs),
      packed: told.get(b.name)!.named,
    })),
  ]);
  // Several files may name one picture.
  const once = [...new Map(files.map((f) => [f.name, f])).values()];
  return [
    ...once,
    { name: 'manifest.json', bytes: () => text.encode(manifestJson(manifest)) },
    { name: 'manifest.csv', bytes: () => text.encode(manifestCsv(manifest, tableForm(set.recipe))) },
    ...(report ? [{ name: 'report.html', bytes: async () => text.encode(proofPage(await reportOfSet(c, set))) }] : []),
  ];
}

/** What lies beside the files of a set, by their names. */
async function besideIn(c: Context, setId: string): Promise<Map<string, Companion>> {
  const rows = await c.database.db
    .select({ name: deliveries.fileName, beside: deliveries.beside })
    .from(deliveries)
    .where(eq(deliveries.setId, setId));
  return new Map(rows.flatMap((r) => companionsOf(r.name ?? '', r.beside).map((b) => [b.name, b] as const)));
}

/** How many files of a set are in each state. */
export async function statesIn(c: Context, setId: string): Promise<Record<string, number>> {
  const rows = await c.database.db
    .select({ state: deliveries.state })
    .from(deliveries)
    .where(eq(deliveries.setId, setId));
  const out: Record<string, number> = {};
  for (const r of rows) out[r.state] = (out[r.state] ?? 0) + 1;
  return out;
}
