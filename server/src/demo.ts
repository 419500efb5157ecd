import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { count } from 'drizzle-orm';
import { NO_DECISIONS, pictureHead } from '@scalaria/core';
import { drawings, jobs, pictures, revisions } from './database/schema.js';
import { storable } from './database/storable.js';
import type { Context } from './http/context.js';

/** Puts the demo job into an empty database. Says whether it did. */
export async function loadDemo(c: Context, folder: string): Promise<boolean> {
  const { db } = c.database;
  const [{ n } = { n: 0 }] = await db.select({ n: count() }).from(jobs);
  if (n > 0) return false;
  const made: {
    fileName: string;
    blob: string;
    size: number;
    read: Extract<Awaited<ReturnType<Context['pool']['read']>>, { ok: true }>;
  }[] = [];
  const scans: Omit<typeof pictures.$inferInsert, 'jobId'>[] = [];
  for (const fileName of readdirSync(folder).sort()) {
    const bytes = new Uint8Array(readFileSync(join(folder, fileName)));
    const { hash, size } = await c.blobs.putBytes(bytes);
    const head = pictureHead(bytes);
    if (head) {
      const { media: mediaType, width, height, pxPerInch } = head;
      scans.push({ name: fileName, mediaType, width, height, pxPerInch, blob: hash, size });
      continue;
    }
    const read = await c.pool.read({ bytes, name: fileName });
    if (!read.ok) throw new Error(`${fileName}: ${read.found}`);
    made.push({ fileName, blob: hash, size, read });
  }
  await db.transaction(async (tx) => {
    const [job] = await tx.insert(jobs).values({ name: 'Kestrel Row tram stop' }).returning();
    for (const scan of scans) await tx.insert(pictures).values({ ...scan, jobId: job!.id });
    for (const { fileName, blob, size, read } of made) {
      const [drawing] = await tx
        .insert(drawings)
        .values({ jobId: job!.id, name: fileName, intake: NO_DECISIONS, steps: [] })
        .returning();
      const { claims, ledger, preview } = storable(read);
      await tx
        .insert(revisions)
        .values({ drawingId: drawing!.id, number: 1, fileName, blob, size, claims, ledger, preview });
    }
  });
  return true;
}
