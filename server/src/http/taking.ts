import { eq } from 'drizzle-orm';
import type { StagedBlob, StoredBlob } from '../blobs/blob-store.js';
import { NoRoom, TooLarge } from '../blobs/blob-store.js';
import { jobs } from '../database/schema.js';
import type { Context } from './context.js';
import { Problem, notFound } from './problem.js';
import type { Ask } from './route.js';
import { isId } from './route.js';

const MEGABYTE = 1 << 20;

/** The job with an id; a problem of its own where there is none. */
export async function findJob(c: Context, id: string): Promise<typeof jobs.$inferSelect> {
  const [job] = await c.database.db.select().from(jobs).where(eq(jobs.id, id));
  if (!job) throw notFound('job');
  return job;
}

const tooLarge = (name: string, limit: number, remedy: string): Problem =>
  new Problem(413, `${name} is larger than ${Math.round(limit / MEGABYTE)} MB.`, { remedy });

/**
 * Receives the body of a request of at most `limit` bytes, not accepted yet; `remedy` is what to do with a larger one.
 * One that says beforehand that it is too large is refused before anything of it is read.
 */
export async function stageBody(
  c: Context,
  ask: Ask,
  name: string,
  limit: number,
  remedy: string,
): Promise<StagedBlob> {
  if (Number(ask.request.headers['content-length'] ?? 0) > limit) {
    ask.response.setHeader('Connection', 'close');
    throw tooLarge(name, limit, remedy);
  }
  try {
    return await c.blobs.stage(ask.request, limit);
  } catch (e) {
    if (e instanceof TooLarge) {
      ask.request.resume();
      throw tooLarge(name, e.limit, remedy);
    }
    if (e instanceof NoRoom) ask.request.resume();
    throw e;
  }
}

/** Receives a body, looks into it, and keeps its bytes only when that went well. */
export async function takeBody<T>(
  c: Context,
  ask: Ask,
  name: string,
  limit: number,
  remedy: string,
  look: (bytes: Uint8Array<ArrayBuffer>, stored: StoredBlob) => Promise<T>,
): Promise<T & StoredBlob> {
  const staged = await stageBody(c, ask, name, limit, remedy);
  try {
    const found = await look(await staged.bytes(), staged);
    const { hash, size } = await staged.keep();
    return { ...found, hash, size };
  } finally {
    await staged.drop();
  }
}

/** What the sender calls this request, where it does: the same sent again makes nothing twice. */
export function requestKey(ask: Ask): string | null {
  const key = ask.request.headers['idempotency-key'];
  if (key === undefined) return null;
  if (typeof key !== 'string' || !isId(key)) throw new Problem(400, 'An Idempotency-Key is a UUID.');
  return key.toLowerCase();
}
