import { eq } from 'drizzle-orm';
import { TooLarge } from '../blobs/blob-store.js';
import { jobs } from '../database/schema.js';
import type { Context } from './context.js';
import { Problem, notFound } from './problem.js';
import type { Ask } from './route.js';

const MEGABYTE = 1 << 20;

/** The job with an id; a problem of its own where there is none. */
export async function findJob(c: Context, id: string): Promise<typeof jobs.$inferSelect> {
  const [job] = await c.database.db.select().from(jobs).where(eq(jobs.id, id));
  if (!job) throw notFound('job');
  return job;
}

/** Stores the body of a request of at most `limit` bytes; `remedy` is what to do with a larger one. */
export async function storeBody(
  c: Context,
  ask: Ask,
  name: string,
  limit: number,
  remedy: string,
): Promise<{ hash: string; size: number }> {
  try {
    return await c.blobs.put(ask.request, limit);
  } catch (e) {
    if (!(e instanceof TooLarge)) throw e;
    ask.request.resume();
    throw new Problem(413, `${name} is larger than ${Math.round(e.limit / MEGABYTE)} MB.`, { remedy });
  }
}
