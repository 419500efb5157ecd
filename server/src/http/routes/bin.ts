import { and, desc, eq, isNotNull, isNull } from 'drizzle-orm';
import { deliveries, drawings, fonts, jobs, pictures } from '../../database/schema.js';
import type { Context } from '../context.js';
import type { Route } from '../route.js';
import { binShape, jobShape, shapes } from '../shapes.js';
import { findJob } from '../taking.js';

/** So many of each kind are listed, the last deleted first. */
const MOST = 200;

/** What was deleted: nothing of it is gone, and each is put back where it was. */
export function binRoutes(c: Context): Route[] {
  const { db } = c.database;
  return [
    {
      method: 'get',
      path: '/api/bin',
      summary: 'The jobs that were deleted, the last first',
      answer: shapes.array(jobShape),
      handle: async () => {
        const rows = await db
          .select()
          .from(jobs)
          .where(isNotNull(jobs.deletedAt))
          .orderBy(desc(jobs.deletedAt))
          .limit(MOST);
        return rows.map(({ id, name, archived, createdAt }) => ({
          id,
          name,
          archived,
          deleted: true,
          createdAt,
          drawings: 0,
          pictureOf: null,
        }));
      },
    },
    {
      method: 'get',
      path: '/api/jobs/{job}/bin',
      summary: 'Drawings, deliveries, fonts and pictures of a job that were deleted, the last first',
      answer: binShape,
      handle: async ({ params }) => {
        const job = await findJob(c, params['job']!);
        const [drawn, written, given, pictured] = await Promise.all([
          db
            .select({ id: drawings.id, name: drawings.name, deletedAt: drawings.deletedAt })
            .from(drawings)
            .where(and(eq(drawings.jobId, job.id), isNotNull(drawings.deletedAt)))
            .orderBy(desc(drawings.deletedAt))
            .limit(MOST),
          db
            .select({
              id: deliveries.id,
              name: deliveries.fileName,
              drawing: drawings.name,
              deletedAt: deliveries.deletedAt,
            })
            .from(deliveries)
            .innerJoin(drawings, eq(drawings.id, deliveries.drawingId))
            .where(and(eq(drawings.jobId, job.id), isNull(drawings.deletedAt), isNotNull(deliveries.deletedAt)))
            .orderBy(desc(deliveries.deletedAt))
            .limit(MOST),
          db
            .select({ id: fonts.id, name: fonts.fileName, deletedAt: fonts.deletedAt })
            .from(fonts)
            .where(and(eq(fonts.jobId, job.id), isNotNull(fonts.deletedAt)))
            .orderBy(desc(fonts.deletedAt))
            .limit(MOST),
          db
            .select({ id: pictures.id, name: pictures.name, deletedAt: pictures.deletedAt })
            .from(pictures)
            .where(and(eq(pictures.jobId, job.id), isNotNull(pictures.deletedAt)))
            .orderBy(desc(pictures.deletedAt))
            .limit(MOST),
        ]);
        return {
          drawings: drawn,
          deliveries: written.map((d) => ({ ...d, name: d.name ?? 'not written' })),
          fonts: given,
          pictures: pictured,
        };
      },
    },
  ];
}
