import { randomUUID } from 'node:crypto';
import { and, eq, isNull } from 'drizzle-orm';
import type { PictureHead } from '@scalaria/core';
import {
  MAX_PICTURE_BYTES,
  MAX_PICTURE_PIXELS,
  MAX_PICTURE_SIDE,
  NO_DECISIONS,
  pictureHead,
  plannedStep,
  stepById,
} from '@scalaria/core';
import { pictures } from '../../database/schema.js';
import type { Context } from '../context.js';
import { Problem, notFound } from '../problem.js';
import type { Ask, Route } from '../route.js';
import { drawingRowShape, jobPicturesShape, pictureRowShape, shapes } from '../shapes.js';
import { findJob, takeBody } from '../taking.js';
import { sendFile } from '../sending.js';
import { drawingOfKept, refuseSame } from '../kept-files.js';
import { displayName, rowOf as rowOfDrawing } from './drawings.js';

type Row = typeof pictures.$inferSelect;

const PICTURES_PER_JOB = 500;

const rowOf = (p: Row): Record<string, unknown> => ({
  id: p.id,
  name: p.name,
  mediaType: p.mediaType,
  width: p.width,
  height: p.height,
  pxPerInch: p.pxPerInch,
  size: p.size,
  blob: p.blob,
});

/** The pictures that were given to a job, the newest first, so that a newer one of a name stands for it. */
export const picturesOf = async (c: Context, jobId: string): Promise<Row[]> =>
  (
    await c.database.db
      .select()
      .from(pictures)
      .where(and(eq(pictures.jobId, jobId), isNull(pictures.deletedAt)))
      .orderBy(pictures.createdAt)
  ).reverse();

export function pictureRoutes(c: Context): Route[] {
  const { db } = c.database;

  return [
    {
      method: 'get',
      path: '/api/jobs/{job}/pictures',
      summary: 'The pictures given to a job',
      answer: jobPicturesShape,
      handle: async ({ params }) => {
        const job = await findJob(c, params['job']!);
        return { pictures: (await picturesOf(c, job.id)).map(rowOf) };
      },
    },
    {
      method: 'post',
      path: '/api/jobs/{job}/pictures',
      summary: 'Give a picture (PNG, JPEG) to a job, for drawings that name it: the raw bytes as body',
      query: { name: { type: 'string', maxLength: 1000 } },
      body: 'bytes',
      answer: pictureRowShape,
      status: 201,
      handle: (ask) => takePicture(ask),
    },
    {
      method: 'patch',
      path: '/api/pictures/{picture}',
      summary: 'Take a picture out of its job, or put it back; deliveries made with it keep it',
      body: shapes.object({ deleted: shapes.boolean }),
      answer: pictureRowShape,
      handle: async ({ params, body }) => {
        const { deleted } = body as { deleted: boolean };
        const [row] = await db
          .update(pictures)
          .set({ deletedAt: deleted ? new Date() : null })
          .where(eq(pictures.id, params['picture']!))
          .returning();
        if (!row) throw notFound('picture');
        return rowOf(row);
      },
    },
    {
      method: 'post',
      path: '/api/pictures/{picture}/drawing',
      summary: 'Take a picture of the job in as a drawing, with a step that traces it',
      answer: drawingRowShape,
      status: 201,
      handle: async ({ params }) => {
        const [row] = await db.select().from(pictures).where(eq(pictures.id, params['picture']!));
        if (!row || row.deletedAt) throw notFound('picture');
        await refuseSame(c, row.jobId, row.blob, null, `“${row.name}”`);
        const steps = [plannedStep(stepById('trace-pictures')!, randomUUID())];
        const made = { name: row.name, intake: NO_DECISIONS, steps };
        const file = { fileName: row.name, blob: row.blob, size: row.size };
        const { drawing, revision } = await drawingOfKept(c, row.jobId, file, made);
        return rowOfDrawing(drawing, revision);
      },
    },
    {
      method: 'get',
      path: '/api/pictures/{picture}/file',
      summary: 'The bytes of a picture',
      answer: 'bytes',
      handle: async (ask) => {
        const [row] = await db.select().from(pictures).where(eq(pictures.id, ask.params['picture']!));
        if (!row) throw notFound('picture');
        sendFile(ask, await c.blobs.get(row.blob), row.name, row.mediaType);
      },
    },
  ];

  async function takePicture(ask: Ask): Promise<unknown> {
    const job = await findJob(c, ask.params['job']!);
    const name = displayName(ask.query['name']);
    if ((await picturesOf(c, job.id)).length >= PICTURES_PER_JOB)
      throw new Problem(409, `A job holds at most ${PICTURES_PER_JOB} pictures.`, { remedy: 'Take some out first.' });
    const look = async (bytes: Uint8Array): Promise<PictureHead> => {
      const head = pictureHead(bytes);
      if (!head)
        throw new Problem(422, `${name} is neither PNG nor JPEG, or its beginning is cut off.`, {
          remedy: 'Save it as PNG or JPEG and give it again.',
        });
      if (Math.max(head.width, head.height) > MAX_PICTURE_SIDE || head.width * head.height > MAX_PICTURE_PIXELS)
        throw new Problem(
          422,
          `${name} is ${head.width} × ${head.height} px; at most ${MAX_PICTURE_SIDE} px along a side and ${MAX_PICTURE_PIXELS / 1e6} million in all are shown.`,
          { remedy: 'Save it with fewer pixels.' },
        );
      return head;
    };
    const remedy = 'Save it with fewer pixels, or as a JPEG.';
    const taken = await takeBody(c, ask, name, MAX_PICTURE_BYTES, remedy, look);
    const { width, height, media: mediaType, pxPerInch, hash: blob, size } = taken;
    const [row] = await db
      .insert(pictures)
      .values({ jobId: job.id, name, mediaType, width, height, pxPerInch, blob, size })
      .returning();
    return rowOf(row!);
  }
}
