import { createHash } from 'node:crypto';
import { and, eq, isNotNull } from 'drizzle-orm';
import type { Kept } from '@scalaria/core';
import { canonicalText } from '@scalaria/core';
import { DamagedBlob } from '../blobs/blob-store.js';
import { jobs, partBooks } from '../database/schema.js';
import { storable } from '../database/storable.js';
import type { Context } from './context.js';
import { givenTo } from './given.js';
import { findDrawing } from './routes/drawings.js';
import { givenFiles } from '../tasks/deliveries.js';
import { TookTooLong } from '../tasks/pool.js';

type Book = typeof partBooks.$inferSelect;

/** A list of parts, and whether it is of the drawing as it is now; while it is not, it is being found. */
export interface BookState {
  row: Book;
  isFresh: boolean;
}

/** Somebody decides something while parts are being found: so often it is begun anew. */
const MOST_TRIES = 4;

const running = new Map<string, Promise<void>>();

/** The list of a drawing's parts as it was found last; where the drawing or the rules are others by now, it begins to be found anew. */
export async function bookOf(c: Context, drawingId: string): Promise<BookState | null> {
  const [row] = await c.database.db.select().from(partBooks).where(eq(partBooks.drawingId, drawingId));
  if (!row?.listed) return null;
  const { print } = await sourcesOf(c, drawingId);
  const isFresh = row.foundFrom === print;
  if (!isFresh) void begin(c, drawingId, print).catch(() => {});
  return { row, isFresh };
}

/** The same, once it is of the drawing as it is now. */
export async function freshBookOf(c: Context, drawingId: string): Promise<Book | null> {
  for (let i = 0; i < MOST_TRIES; i++) {
    const state = await bookOf(c, drawingId);
    if (!state) return null;
    if (state.isFresh) return state.row;
    await begin(c, drawingId, (await sourcesOf(c, drawingId)).print);
  }
  throw new Error('the parts of a drawing were decided about again and again while they were being found');
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
