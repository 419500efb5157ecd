import { and, count, desc, eq, isNull, sql } from 'drizzle-orm';
import type { Kept } from '@scalaria/core';
import { CHECKS, faultOf } from '@scalaria/core';
import { drawings, jobs, sets } from '../../database/schema.js';
import type { Context } from '../context.js';
import { partsCount } from '../part-books.js';
import { Problem } from '../problem.js';
import type { Route } from '../route.js';
import { checkSettingsShape, jobShape, jobWithDrawingsShape, shapes } from '../shapes.js';
import { findJob } from '../taking.js';
import { listDrawings } from './drawings.js';

const name = { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S' };

export function jobRoutes(c: Context): Route[] {
  const { db } = c.database;

  /** Jobs as they are shown, with the number of their drawings and the one whose picture stands for each. */
  const presentAll = async (list: (typeof jobs.$inferSelect)[]): Promise<unknown[]> => {
    const counted = await db
      .select({
        jobId: drawings.jobId,
        n: count(),
        first: sql<string>`(array_agg(${drawings.id} order by ${drawings.createdAt}))[1]`,
      })
      .from(drawings)
      .where(and(list.length === 1 ? eq(drawings.jobId, list[0]!.id) : undefined, isNull(drawings.deletedAt)))
      .groupBy(drawings.jobId);
    const byJob = new Map(counted.map((r) => [r.jobId, r]));
    return list.map(({ id, name, archived, createdAt, deletedAt }) => {
      const own = byJob.get(id);
      return {
        id,
        name,
        archived,
        deleted: deletedAt !== null,
        createdAt,
        drawings: own?.n ?? 0,
        pictureOf: own?.first ?? null,
      };
    });
  };
  const present = async (job: typeof jobs.$inferSelect): Promise<unknown> => (await presentAll([job]))[0];

  const find = (id: string): ReturnType<typeof findJob> => findJob(c, id);

  return [
    {
      method: 'get',
      path: '/api/jobs',
      summary: 'All jobs that are not deleted, newest first',
      answer: shapes.array(jobShape),
      handle: async () => {
        const rows = await db.select().from(jobs).where(isNull(jobs.deletedAt)).orderBy(desc(jobs.createdAt));
        return presentAll(rows);
      },
    },
    {
      method: 'post',
      path: '/api/jobs',
      summary: 'Make a job',
      body: shapes.object({ name }),
      answer: jobShape,
      status: 201,
      handle: async ({ body }) => {
        const [{ n } = { n: 0 }] = await db.select({ n: count() }).from(jobs).where(isNull(jobs.deletedAt));
        if (n >= c.limits.jobs) throw new Problem(409, `There are ${n} jobs already. Delete one first.`);
        const [job] = await db
          .insert(jobs)
          .values({ name: (body as { name: string }).name.trim() })
          .returning();
        return present(job!);
      },
    },
    {
      method: 'get',
      path: '/api/jobs/{job}',
      summary: 'A job with its drawings',
      answer: jobWithDrawingsShape,
      handle: async ({ params }) => {
        const job = await find(params['job']!);
        const [{ n } = { n: 0 }] = await db
          .select({ n: count() })
          .from(sets)
          .where(and(eq(sets.jobId, job.id), isNull(sets.deletedAt)));
        return {
          ...{ job: await present(job), drawings: await listDrawings(c, job.id) },
          ...{ parts: await partsCount(c, job.id), sets: n },
        };
      },
    },
    {
      method: 'patch',
      path: '/api/jobs/{job}',
      summary: 'Rename, archive, delete or bring back a job; keep thresholds of its checks',
      body: {
        ...shapes.object({ name, archived: shapes.boolean, deleted: shapes.boolean, checks: checkSettingsShape }, [
          'name',
          'archived',
          'deleted',
          'checks',
        ]),
        minProperties: 1,
      },
      answer: jobShape,
      handle: async ({ params, body }) => {
        const b = body as { name?: string; archived?: boolean; deleted?: boolean; checks?: Record<string, Kept> };
        for (const [id, settings] of Object.entries(b.checks ?? {})) {
          const check = CHECKS.find((k) => k.id === id);
          if (!check) throw new Problem(400, `No check is called "${id}".`);
          const fault = faultOf(check.params, settings);
          if (fault) throw new Problem(400, `${check.title}: ${fault}.`);
        }
        const job = await find(params['job']!);
        const [changed] = await db
          .update(jobs)
          .set({
            ...(b.name !== undefined && { name: b.name.trim() }),
            ...(b.archived !== undefined && { archived: b.archived }),
            ...(b.checks && { checkSettings: b.checks }),
            ...(b.deleted !== undefined && { deletedAt: b.deleted ? new Date() : null }),
          })
          .where(eq(jobs.id, job.id))
          .returning();
        return present(changed!);
      },
    },
  ];
}
