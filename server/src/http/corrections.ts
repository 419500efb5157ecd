import { and, eq, inArray, isNull, ne } from 'drizzle-orm';
import { isStillFound } from '@scalaria/core';
import { corrections } from '../database/schema.js';
import { storable } from '../database/storable.js';
import { givenFiles } from '../tasks/deliveries.js';
import type { LookResult } from '../tasks/worker.js';
import type { Context } from './context.js';
import { givenTo } from './given.js';
import { findDrawing } from './routes/drawings.js';

/** How far a place may move from one revision to the next and still be the same, as a part of the drawing's size. */
const NEAR = 1e-3;

/** What checks find in a drawing as it is now, and pictures of places of it. */
export async function lookAt(
  c: Context,
  drawingId: string,
  checks: readonly string[],
  places: readonly { x: number; y: number; across: number | null }[],
): Promise<{ result: LookResult; revision: number }> {
  const { drawing, revision, job } = await findDrawing(c, drawingId);
  const given = await givenTo(c, drawing, revision);
  const result = await c.pool.look({
    bytes: await c.blobs.get(revision.blob),
    ...{ name: revision.fileName, intake: drawing.intake, steps: drawing.steps },
    ...(await givenFiles(c.blobs, given)),
    ...{ checks: [...checks], settings: job.checkSettings, places: [...places] },
  });
  return { result: storable(result), revision: revision.number };
}

/** Holds what was asked of a drawing's author against a new revision: what is no longer found is ticked off. */
export async function recheck(c: Context, drawingId: string): Promise<void> {
  const { db } = c.database;
  const open = await db
    .select()
    .from(corrections)
    .where(
      and(
        eq(corrections.drawingId, drawingId),
        isNull(corrections.deletedAt),
        inArray(corrections.state, ['asked', 'answered']),
        ne(corrections.check, ''),
      ),
    );
  if (open.length === 0) return;
  const { result, revision } = await lookAt(c, drawingId, [...new Set(open.map((o) => o.check))], []);
  if (!result.ok) return;
  for (const o of open) {
    if (revision <= o.seenIn) continue;
    const there = isStillFound(o, result.found, result.size * NEAR);
    await db
      .update(corrections)
      .set(there ? { seenIn: revision } : { state: 'mended', mendedIn: revision })
      .where(and(eq(corrections.id, o.id), inArray(corrections.state, ['asked', 'answered'])));
  }
}
