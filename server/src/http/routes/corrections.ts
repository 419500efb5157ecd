import { and, asc, eq, inArray, isNull } from 'drizzle-orm';
import type { AskedOfAuthor, CorrectionState } from '@scalaria/core';
import { correctionsCsv, correctionsPage } from '@scalaria/core';
import { corrections, drawings, jobs } from '../../database/schema.js';
import { pageFonts } from '../../sets/told.js';
import type { Context } from '../context.js';
import { lookAt } from '../corrections.js';
import { Problem } from '../problem.js';
import type { Route } from '../route.js';
import { isId } from '../route.js';
import { attached, sendPage } from '../sending.js';
import { correctionChangeShape, correctionsShape } from '../shapes.js';
import { findJob } from '../taking.js';
import { findDrawing } from './drawings.js';

interface Asked {
  drawing: string;
  check: string;
  what: string;
  layer: string;
  at: { x: number; y: number } | null;
  across: number | null;
  measured: string;
  proposed: string;
}
interface Change {
  asked?: Asked[];
  changes?: { id: string; fields: { proposed?: string; answer?: string; state?: CorrectionState } }[];
  removed?: string[];
  back?: string[];
}

/** What is asked of the authors of a job's drawings, and what came of it. */
export function correctionRoutes(c: Context): Route[] {
  const { db } = c.database;

  const listOf = async (job: typeof jobs.$inferSelect): Promise<(AskedOfAuthor & { drawingId: string })[]> => {
    const rows = await db
      .select({ row: corrections, name: drawings.name })
      .from(corrections)
      .innerJoin(drawings, eq(drawings.id, corrections.drawingId))
      .where(and(eq(drawings.jobId, job.id), isNull(drawings.deletedAt), isNull(corrections.deletedAt)))
      .orderBy(asc(corrections.createdAt), asc(corrections.id));
    return rows.map(({ row: { check: _c, createdAt: _a, deletedAt: _d, ...row }, name }) => ({
      ...row,
      drawing: name,
    }));
  };

  /** Makes rows of what is asked, with a picture of each place. */
  const added = async (asked: readonly Asked[], jobId: string): Promise<void> => {
    const began = Date.now();
    let order = 0;
    for (const drawingId of new Set(asked.map((a) => a.drawing))) {
      const found = isId(drawingId) ? await findDrawing(c, drawingId) : null;
      if (found?.drawing.jobId !== jobId) throw new Problem(400, 'One of these drawings is not in this job.');
      const own = asked.filter((a) => a.drawing === drawingId);
      const placed = own.filter((a) => a.at !== null);
      const { result, revision } = await lookAt(
        c,
        drawingId,
        [],
        placed.map((a) => ({ ...a.at!, across: a.across })),
      );
      if (!result.ok) throw new Problem(422, `The drawing cannot be prepared: ${result.message}.`);
      await db.insert(corrections).values(
        own.map((a) => ({
          ...{ check: a.check, what: a.what, layer: a.layer, at: a.at, measured: a.measured, proposed: a.proposed },
          // What is asked at once stands in the order in which it was asked.
          createdAt: new Date(began + order++),
          ...{ drawingId, revision, seenIn: revision, unit: result.unit },
          picture: result.pictures[placed.indexOf(a)] ?? '',
        })),
      );
    }
  };

  return [
    {
      method: 'get',
      path: '/api/jobs/{job}/corrections',
      summary: 'What is asked of the authors of the drawings of a job',
      answer: correctionsShape,
      handle: async ({ params }) => listOf(await findJob(c, params['job']!)),
    },
    {
      method: 'patch',
      path: '/api/jobs/{job}/corrections',
      summary: 'Ask for corrections, keep what is proposed and answered, take them back',
      body: correctionChangeShape,
      answer: correctionsShape,
      handle: async ({ params, body }) => {
        const job = await findJob(c, params['job']!);
        const { asked = [], changes = [], removed = [], back = [] } = body as Change;
        await added(asked, job.id);
        const own = new Set(
          (
            await db
              .select({ id: corrections.id })
              .from(corrections)
              .innerJoin(drawings, eq(drawings.id, corrections.drawingId))
              .where(eq(drawings.jobId, job.id))
          ).map((r) => r.id),
        );
        if ([...changes.map((ch) => ch.id), ...removed, ...back].some((id) => !own.has(id)))
          throw new Problem(404, 'One of these corrections is not of this job.');
        await db.transaction(async (tx) => {
          for (const { id, fields } of changes) {
            // Only a revision mends; what a person says otherwise takes that back.
            const set =
              fields.state !== undefined && fields.state !== 'mended' ? { ...fields, mendedIn: null } : fields;
            await tx.update(corrections).set(set).where(eq(corrections.id, id));
          }
          if (removed.length > 0)
            await tx.update(corrections).set({ deletedAt: new Date() }).where(inArray(corrections.id, removed));
          if (back.length > 0)
            await tx.update(corrections).set({ deletedAt: null }).where(inArray(corrections.id, back));
        });
        return listOf(job);
      },
    },
    {
      method: 'get',
      path: '/api/jobs/{job}/corrections/page',
      summary: 'The corrections as one page, to be sent to the author',
      answer: 'bytes',
      handle: async (ask) => {
        const job = await findJob(c, ask.params['job']!);
        const date = new Date().toISOString().slice(0, 10);
        sendPage(ask, correctionsPage(job.name, date, await listOf(job), pageFonts()));
      },
    },
    {
      method: 'get',
      path: '/api/jobs/{job}/corrections/table',
      summary: 'The corrections as a table',
      answer: 'bytes',
      handle: async (ask) => {
        const job = await findJob(c, ask.params['job']!);
        attached(ask, 'corrections.csv', 'text/csv; charset=utf-8');
        ask.response.end(`\ufeff${correctionsCsv(await listOf(job))}`);
      },
    },
  ];
}
