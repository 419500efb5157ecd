import type { SQL } from 'drizzle-orm';
import { and, count, eq, isNull, sql } from 'drizzle-orm';
import type { IntakeDecisions, PlannedStep } from '@scalaria/core';
import { readAs } from '@scalaria/core';
import { drawings, revisions } from '../database/schema.js';
import { storable } from '../database/storable.js';
import type { Context } from './context.js';
import { Problem } from './problem.js';

type Drawing = typeof drawings.$inferSelect;
type Revision = typeof revisions.$inferSelect;

/** Refuses another drawing where a job holds as many as it may. */
export async function roomFor(c: Context, jobId: string): Promise<void> {
  const [{ n } = { n: 0 }] = await c.database.db
    .select({ n: count() })
    .from(drawings)
    .where(and(eq(drawings.jobId, jobId), isNull(drawings.deletedAt)));
  if (n >= c.limits.drawingsPerJob)
    throw new Problem(409, `A job holds at most ${c.limits.drawingsPerJob} drawings.`, {
      remedy: 'Make another job, or delete drawings that are done with.',
    });
}

/** Makes a drawing of a file whose bytes are kept already. */
export async function drawingOfKept(
  c: Context,
  jobId: string,
  { fileName, blob, size }: { fileName: string; blob: string; size: number },
  made: { name: string; intake: IntakeDecisions; steps: PlannedStep[] },
): Promise<{ drawing: Drawing; revision: Revision }> {
  await roomFor(c, jobId);
  const result = await c.pool.read({ bytes: await c.blobs.get(blob), name: fileName, as: readAs(made.intake) });
  if (!result.ok) throw new Problem(422, `${fileName}: ${result.found}.`, result);
  const { claims, ledger, preview } = storable(result);
  return c.database.db.transaction(async (tx) => {
    const [drawing] = await tx
      .insert(drawings)
      .values({ jobId, ...made })
      .returning();
    const [revision] = await tx
      .insert(revisions)
      .values({ drawingId: drawing!.id, number: 1, ...{ fileName, blob, size, claims, ledger, preview } })
      .returning();
    return { drawing: drawing!, revision: revision! };
  });
}

/** Refuses a file, or a page of one, that a job holds already. */
export async function refuseSame(
  c: Context,
  jobId: string,
  hash: string,
  page: number | null,
  what: string,
): Promise<void> {
  const [same] = await c.database.db
    .select({ id: drawings.id, name: drawings.name, number: revisions.number })
    .from(revisions)
    .innerJoin(drawings, eq(drawings.id, revisions.drawingId))
    .where(and(eq(drawings.jobId, jobId), isNull(drawings.deletedAt), eq(revisions.blob, hash), ofPage(page)))
    .limit(1);
  if (same)
    throw new Problem(
      409,
      `${what} is byte for byte revision ${same.number} of “${same.name}”, which is here already.`,
      {
        remedy: 'Open that one, or take this in once more as a drawing of its own.',
        same: same.id,
      },
    );
}

/** Drawings of a page of their file; those that nobody chose a page for are of the first. */
const ofPage = (page: number | null): SQL => sql`coalesce((${drawings.intake}->>'fromPage')::int, 1) = ${page ?? 1}`;
