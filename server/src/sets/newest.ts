import { inArray, max } from 'drizzle-orm';
import { revisions } from '../database/schema.js';
import type { Context } from '../http/context.js';

/** The number of the newest revision of each drawing. */
export async function newestRevisions(c: Context, drawingIds: Iterable<string>): Promise<Map<string, number>> {
  const ids = [...new Set(drawingIds)];
  if (ids.length === 0) return new Map();
  const rows = await c.database.db
    .select({ id: revisions.drawingId, number: max(revisions.number) })
    .from(revisions)
    .where(inArray(revisions.drawingId, ids))
    .groupBy(revisions.drawingId);
  return new Map(rows.map((r) => [r.id, r.number ?? 0]));
}
