import { and, eq, isNull } from 'drizzle-orm';
import { MAX_FONT_BYTES } from '@scalaria/core';
import { fonts, jobs } from '../../database/schema.js';
import { storable } from '../../database/storable.js';
import type { FontResult } from '../../tasks/worker.js';
import type { Context } from '../context.js';
import { Problem, notFound } from '../problem.js';
import type { Ask, Route } from '../route.js';
import { fontRowShape, jobFontsShape, shapes } from '../shapes.js';
import { findJob, takeBody } from '../taking.js';
import { sendFile } from '../sending.js';
import { displayName } from './drawings.js';

type Row = typeof fonts.$inferSelect;

const FONTS_PER_JOB = 200;

const rowOf = (f: Row): Record<string, unknown> => ({
  id: f.id,
  family: f.family,
  style: f.style,
  fileName: f.fileName,
  embedding: f.embedding,
  size: f.size,
  blob: f.blob,
});

/** The fonts that were given to a job, oldest first. */
export const fontsOf = (c: Context, jobId: string): Promise<Row[]> =>
  c.database.db
    .select()
    .from(fonts)
    .where(and(eq(fonts.jobId, jobId), isNull(fonts.deletedAt)))
    .orderBy(fonts.createdAt);

export function fontRoutes(c: Context): Route[] {
  const { db } = c.database;
  const whole = async (jobId: string): Promise<unknown> => {
    const job = await findJob(c, jobId);
    return { fonts: (await fontsOf(c, jobId)).map(rowOf), chart: job.fontChart };
  };

  return [
    {
      method: 'get',
      path: '/api/jobs/{job}/fonts',
      summary: 'The fonts given to a job, and its chart from asked-for name to family',
      answer: jobFontsShape,
      handle: ({ params }) => whole(params['job']!),
    },
    {
      method: 'put',
      path: '/api/jobs/{job}/font-chart',
      summary: 'Keep which family stands for which',
      body: {
        type: 'object',
        maxProperties: 2000,
        additionalProperties: { type: 'string', minLength: 1, maxLength: 200 },
      },
      answer: jobFontsShape,
      handle: async ({ params, body }) => {
        const job = await findJob(c, params['job']!);
        await db
          .update(jobs)
          .set({ fontChart: body as Record<string, string> })
          .where(eq(jobs.id, job.id));
        return whole(job.id);
      },
    },
    {
      method: 'post',
      path: '/api/jobs/{job}/fonts',
      summary: 'Add a font file to a job (TTF, OTF, WOFF, WOFF2, compiled stroke font): the raw bytes as body',
      query: { name: { type: 'string', maxLength: 1000 } },
      body: 'bytes',
      answer: fontRowShape,
      status: 201,
      handle: (ask) => takeFont(ask),
    },
    {
      method: 'patch',
      path: '/api/fonts/{font}',
      summary: 'Take a font out of its job, or put it back; deliveries made with it keep it',
      body: shapes.object({ deleted: shapes.boolean }),
      answer: fontRowShape,
      handle: async ({ params, body }) => {
        const { deleted } = body as { deleted: boolean };
        const [row] = await db
          .update(fonts)
          .set({ deletedAt: deleted ? new Date() : null })
          .where(eq(fonts.id, params['font']!))
          .returning();
        if (!row) throw notFound('font');
        return rowOf(row);
      },
    },
    {
      method: 'get',
      path: '/api/fonts/{font}/file',
      summary: 'The bytes of a font',
      answer: 'bytes',
      handle: async (ask) => {
        const [row] = await db.select().from(fonts).where(eq(fonts.id, ask.params['font']!));
        if (!row) throw notFound('font');
        sendFile(ask, await c.blobs.get(row.blob), row.fileName, 'application/octet-stream');
      },
    },
  ];

  async function takeFont(ask: Ask): Promise<unknown> {
    const job = await findJob(c, ask.params['job']!);
    const fileName = displayName(ask.query['name']);
    if ((await fontsOf(c, job.id)).length >= FONTS_PER_JOB)
      throw new Problem(409, `A job holds at most ${FONTS_PER_JOB} fonts.`, { remedy: 'Take some out first.' });
    const look = async (bytes: Uint8Array): Promise<Extract<FontResult, { ok: true }>> => {
      const told = await c.pool.font({ bytes, name: fileName });
      if (told.ok) return storable(told);
      throw new Problem(422, `${fileName}: ${told.message}.`, {
        remedy: 'Give a TTF, OTF, WOFF or WOFF2 file, or a compiled stroke font.',
      });
    };
    const remedy = 'Fonts of that size are not taken.';
    const { family, style, embedding, hash, size } = await takeBody(c, ask, fileName, MAX_FONT_BYTES, remedy, look);
    const [row] = await db
      .insert(fonts)
      .values({ jobId: job.id, family, style, embedding, fileName, blob: hash, size })
      .returning();
    return rowOf(row!);
  }
}
