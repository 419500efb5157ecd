import { and, eq, isNull, ne } from 'drizzle-orm';
import type { PlannedStep, Target } from '@scalaria/core';
import { UserError, partsInFile } from '@scalaria/core';
import { drawings, jobs, partBooks } from '../database/schema.js';
import type { Context } from './context.js';
import { freshBookOf } from './part-books.js';
import { Problem } from './problem.js';

/**
 * The steps of a delivery that holds chosen parts alone, or whose parts must all have a number of their own in the job, and the numbers
 * of the parts in it. Throws a `Problem` that says what stands in the way.
 */
export async function partsAsked(
  c: Context,
  drawing: { id: string; jobId: string; steps: PlannedStep[] },
  target: Target,
): Promise<{ steps: PlannedStep[]; parts: string[] | null }> {
  if (!target.numbered && !target.parts) return { steps: drawing.steps, parts: null };
  const { db } = c.database;
  const row = await freshBookOf(c, drawing.id);
  if (row?.fault) throw new Problem(409, `The parts of this drawing could not be found: ${row.fault}`);
  if (!row?.book)
    throw new Problem(409, 'This drawing has no list of parts.', {
      remedy: 'Tick it on the page Parts of its job, or write it without asking for numbers.',
    });
  const others = await db
    .select({ book: partBooks.book })
    .from(partBooks)
    .innerJoin(drawings, eq(drawings.id, partBooks.drawingId))
    .where(
      and(
        eq(drawings.jobId, drawing.jobId),
        ne(drawings.id, drawing.id),
        isNull(drawings.deletedAt),
        eq(partBooks.listed, true),
      ),
    );
  const [job] = await db.select({ rules: jobs.partRules }).from(jobs).where(eq(jobs.id, drawing.jobId));
  try {
    const rows = others.flatMap((o) => o.book?.rows ?? []);
    const { step, numbers } = partsInFile(row.book.rows, job?.rules ?? {}, target, rows);
    return { steps: step ? [...drawing.steps, step] : drawing.steps, parts: numbers };
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new Problem(409, `It cannot be written: ${e.message}.`, {
      remedy: 'Give numbers on the page Parts of the job, or leave parts out there, with a word why.',
    });
  }
}
