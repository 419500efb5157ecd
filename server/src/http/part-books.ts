import { createHash } from 'node:crypto';
import { and, count, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import type { Kept } from '@scalaria/core';
import { canonicalText } from '@scalaria/core';
import { DamagedBlob } from '../blobs/blob-store.js';
import { drawings, jobs, partBooks } from '../database/schema.js';
import { storable } from '../database/storable.js';
import type { Context } from './context.js';
import { givenTo } from './given.js';
import { findDrawing } from './routes/drawings.js';
import { givenFiles } from '../tasks/deliveries.js';
import { TookTooLong } from '../tasks/pool.js';

type Book = typeof partBooks.$inferSelect;

/** A list of parts as it was found last; `finding` while it is found anew, since the drawing or the rules are others by now. */
export interface BookState {
  row: Book;
  finding: Promise<void> | null;
}

/** Somebody decides something while parts are being found: so often it is begun anew. */
const MOST_TRIES = 4;

const running = new Map<string, Promise<void>>();

/** The list of a drawing's parts; `null` where it has none. */
export async function bookOf(c: Context, drawingId: string): Promise<BookState | null> {
  const [row] = await c.database.db
    .select()
    .from(partBooks)
    .where(and(eq(partBooks.drawingId, drawingId), eq(partBooks.listed, true)));
  if (!row) return null;
  const { print } = await sourcesOf(c, drawingId);
  if (row.foundFrom === print) return { row, finding: null };
  const finding = begin(c, drawingId, print);
  // Whoever waits for it is told; nobody need.
  finding.catch((e: unknown) => c.log.error(e, 'parts'));
  return { row, finding };
}

/** The same, once it is of the drawing as it is now. */
export async function freshBookOf(c: Context, drawingId: string): Promise<Book | null> {
  for (let i = 0; i < MOST_TRIES; i++) {
    const state = await bookOf(c, drawingId);
    if (!state?.finding) return state?.row ?? null;
    await state.finding;
  }
  throw new Error('the parts of a drawing were decided about again and again while they were being found');
}

/** How many parts the drawings of a job had when they were looked for last; `null` where none has any. */
export async function partsCount(c: Context, jobId: string): Promise<number | null> {
  const [row] = await c.database.db
    .select({
      lists: count(),
      parts: sql<number>`coalesce(sum((select sum((r ->> 'quantity')::int) from jsonb_array_elements(${partBooks.book} -> 'rows') r)), 0)::int`,
    })
    .from(partBooks)
    .innerJoin(drawings, eq(drawings.id, partBooks.drawingId))
    .where(and(eq(drawings.jobId, jobId), isNull(drawings.deletedAt), eq(partBooks.listed, true)));
  return row && row.lists > 0 ? row.parts : null;
}

/** All that a list is found from, and its print. */
async function sourcesOf(c: Context, drawingId: string) {
  const { drawing, revision } = await findDrawing(c, drawingId);
  const given = await givenTo(c, drawing, revision);
  const [job] = await c.database.db.select({ rules: jobs.partRules }).from(jobs).where(eq(jobs.id, drawing.jobId));
  const rules: Kept = job?.rules ?? {};
  const { intake, steps } = drawing;
  const { blob, fileName, number } = revision;
  const text = canonicalText({ blob, fileName, intake, steps, rules, given });
  const print = createHash('sha256').update(text).digest('hex');
  return { print, blob, fileName, number, intake, steps, rules, given };
}

/** Finds the parts of a drawing, once however many ask for it. */
function begin(c: Context, drawingId: string, print: string): Promise<void> {
  const key = `${drawingId} ${print}`;
  let run = running.get(key);
  if (!run) {
    run = find(c, drawingId).finally(() => running.delete(key));
    running.set(key, run);
  }
  return run;
}

async function find(c: Context, drawingId: string): Promise<void> {
  const { db } = c.database;
  for (let i = 0; i < MOST_TRIES; i++) {
    const [row] = await db.select().from(partBooks).where(eq(partBooks.drawingId, drawingId));
    if (!row) return;
    const { print, blob, fileName, number, intake, steps, rules, given } = await sourcesOf(c, drawingId);
    const found = async (): Promise<Partial<typeof partBooks.$inferInsert>> => {
      const bytes = await c.blobs.get(blob);
      const files = await givenFiles(c.blobs, given);
      const result = await c.pool.parts({ bytes, name: fileName, intake, steps, rules, kept: row.kept, ...files });
      if (!result.ok) return { fault: storable(result.message), book: null };
      const { kept, ...book } = storable(result.book);
      return { fault: null, book, kept };
    };
    const set = await found().catch((e: unknown) => {
      c.log.error(e, 'parts');
      return { fault: wordsFor(e), book: null };
    });
    const [done] = await db
      .update(partBooks)
      .set({ ...set, foundFrom: print, revision: number })
      .where(and(eq(partBooks.drawingId, drawingId), eq(partBooks.version, row.version)))
      .returning({ id: partBooks.drawingId });
    if (done) return;
  }
}

/** What could not be found before is looked for anew after a start: it may have been the stop that stood in the way. */
export async function retryFaults(c: Context): Promise<void> {
  await c.database.db.update(partBooks).set({ foundFrom: null }).where(isNotNull(partBooks.fault));
}

/** What a person is told: our own words. */
function wordsFor(e: unknown): string {
  if (e instanceof TookTooLong)
    return `Finding its parts took longer than the ${e.seconds} s that are allowed, and was stopped.`;
  if (e instanceof DamagedBlob) return `Of what it is made from, ${e.message}. Take the file in again: that mends it.`;
  if ((e as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
    return 'Finding its parts needed more memory than is allowed, and was stopped.';
  return 'Its parts could not be found: something went wrong on the server.';
}
