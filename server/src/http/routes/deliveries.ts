import { and, desc, eq, getTableColumns, isNull, sql } from 'drizzle-orm';
import type { SQL } from 'drizzle-orm';
import type { CameBack, ProofItem, Target, Verdict } from '@scalaria/core';
import {
  baseName,
  legalName,
  isDrafting,
  ledgerSchema,
  proofSchema,
  settleUnit,
  targetAskedSchema,
  targetFault,
  targetFor,
  templateOf,
  upgradedTarget,
  weigh,
} from '@scalaria/core';
import { deliveries, drawings, jobs, revisions } from '../../database/schema.js';
import type { Context } from '../context.js';
import { Problem, notFound } from '../problem.js';
import type { Ask, Route } from '../route.js';
import { isId } from '../route.js';
import { requestKey, stageBody } from '../taking.js';
import { deliveryRowShape, deliveryShape, returnedShape, shapes, stripShape, trialShape } from '../shapes.js';
import { givenFiles, templateFile } from '../../tasks/deliveries.js';
import { sendFile } from '../sending.js';
import { findDrawing, takeFile } from './drawings.js';
import { givenTo } from '../given.js';
import { partsAsked } from '../parts-asked.js';
import { companionsOf } from '../../sets/companions.js';

type Row = typeof deliveries.$inferSelect;

/** A delivery as it is told of, and what its proof comes to. */
type Told = Omit<Row, 'ledger' | 'proof' | 'record'> & { revision: number; verdict: Verdict | null };

const rowOf = (d: Told): Record<string, unknown> => ({
  id: d.id,
  drawingId: d.drawingId,
  state: d.state,
  progress: d.progress,
  target: upgradedTarget({ ...d.target }),
  fileName: d.fileName,
  size: d.size,
  error: d.error,
  createdAt: d.createdAt,
  finishedAt: d.finishedAt,
  verdict: d.verdict,
  revision: d.revision,
  parts: d.parts,
  beside: companionsOf(d.fileName ?? 'drawing', d.beside).map((b) => b.name),
});
const whole = (d: Row & { revision: number }): unknown => ({
  ...rowOf({ ...d, verdict: d.proof && weigh(d.proof) }),
  intake: d.intake,
  steps: d.steps,
  ledger: d.ledger,
  proof: d.proof,
});

const ENDED = new Set(['done', 'failed', 'cancelled']);

export function deliveryRoutes(c: Context): Route[] {
  const { db } = c.database;
  const { ledger, proof, record, ...columns } = getTableColumns(deliveries);
  const { number: revision } = revisions;
  /** Ledgers and proofs are long: a list needs no more of them than what a proof is weighed by. */
  const weighty = {
    holds: sql<boolean | null>`(${proof} ->> 'holds')::boolean`,
    items: sql<
      ProofItem[] | null
    >`jsonb_path_query_array(${proof}, '$.items[*] ? (@.state == "lost" || @.about == "source")')`,
  };
  const withRevision = eq(revisions.id, deliveries.revisionId);
  const one = async (which: SQL): Promise<(Row & { revision: number }) | undefined> => {
    const all = { ...columns, ledger, proof, record, revision };
    return (await db.select(all).from(deliveries).innerJoin(revisions, withRevision).where(which))[0];
  };
  const find = async (id: string): Promise<Row & { revision: number }> => {
    const row = await one(eq(deliveries.id, id));
    if (!row) throw notFound('delivery');
    return row;
  };

  /** What a delivery is made from, and as what, once it is sure that it can be. */
  const askedFor = async (id: string, asked: Target) => {
    const target = targetFor(asked.format, { ...asked });
    const template = templateOf(target);
    if (template !== null && !isId(template)) throw new Problem(400, 'The template is no drawing of this job.');
    const { drawing, revision } = await findDrawing(c, id);
    // A template is named by its drawing; what counts is the revision it has now.
    if (template !== null) {
      const given = await findDrawing(c, template);
      if (given.drawing.jobId !== drawing.jobId || !isDrafting(given.revision.claims)) {
        throw new Problem(400, 'The template is no DXF or DWG of this job.', { remedy: 'Choose another, or none.' });
      }
      target.options = { ...target.options, template: given.revision.id };
    }
    const fault = targetFault(target);
    if (fault) throw new Problem(400, `The file cannot be written so: ${fault}.`);
    if (!settleUnit(revision.claims as Parameters<typeof settleUnit>[0], drawing.intake)) {
      throw new Problem(409, 'The unit of this drawing is undecided, so its size is unknown.', {
        remedy: 'Decide the unit at station one.',
      });
    }
    target.name ??= target.parts?.length === 1 ? legalName(target.parts[0]!) : baseName(drawing.name);
    const { steps, parts } = await partsAsked(c, drawing, target);
    return { drawing, revision, target, steps, parts, given: await givenTo(c, drawing, revision) };
  };

  /** What is to be tried without being kept, until whoever asked goes away. */
  const tried = async ({ params, body, response }: Ask) => {
    const { drawing, revision, target, steps, given } = await askedFor(params['drawing']!, body as Target);
    const controller = new AbortController();
    response.once('close', () => controller.abort());
    const job = {
      bytes: await c.blobs.get(revision.blob),
      ...{ name: revision.fileName, intake: drawing.intake, steps, target },
      ...(await templateFile(c.database, c.blobs, target)),
      ...(await givenFiles(c.blobs, given)),
    };
    return { job, signal: controller.signal };
  };

  /** How a file was asked for is where this drawing begins the next time; its name and its template are its own affair. */
  const remember = async (drawing: string, job: string, asked: Target): Promise<void> => {
    const { name: _name, parts: _parts, options, ...rest } = targetFor(asked.format, { ...asked });
    const { template: _template, ...general } = options;
    await db
      .update(drawings)
      .set({ target: { ...rest, options } })
      .where(eq(drawings.id, drawing));
    await db
      .update(jobs)
      .set({ target: { ...rest, options: general } })
      .where(eq(jobs.id, job));
  };

  return [
    {
      method: 'get',
      path: '/api/drawings/{drawing}/deliveries',
      summary: 'The deliveries of a drawing, newest first',
      answer: shapes.array(deliveryRowShape),
      handle: async ({ params }) => {
        const rows = await db
          .select({ ...columns, ...weighty, revision })
          .from(deliveries)
          .innerJoin(revisions, withRevision)
          .where(and(eq(deliveries.drawingId, params['drawing']!), isNull(deliveries.deletedAt)))
          .orderBy(desc(deliveries.createdAt))
          .limit(200);
        return rows.map(({ holds, items, ...d }) =>
          rowOf({ ...d, verdict: holds === null ? null : weigh({ holds, items: items ?? [] }) }),
        );
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/deliveries',
      summary: 'Write the drawing as it is decided now, and prove the file',
      body: targetAskedSchema,
      answer: deliveryShape,
      status: 202,
      handle: async (ask) => {
        const { params, body } = ask;
        const request = requestKey(ask);
        const made = async (): ReturnType<typeof one> => (request ? one(eq(deliveries.request, request)) : undefined);
        const before = await made();
        if (before) return whole(before);
        const asked = body as Target;
        const { drawing, revision, target, steps, parts, given } = await askedFor(params['drawing']!, asked);
        const { intake } = drawing;
        const [row] = await db
          .insert(deliveries)
          .values({
            drawingId: drawing.id,
            revisionId: revision.id,
            target,
            intake,
            steps,
            parts,
            yardsticks: drawing.yardsticks,
            ...given,
            request,
          })
          .onConflictDoNothing()
          .returning();
        if (!row) return whole((await made())!);
        c.queue.enqueue();
        await remember(drawing.id, drawing.jobId, asked);
        return whole({ ...row, revision: revision.number });
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/forecast',
      summary: 'What would be lost, approximated and renamed, were the drawing written so; it is not written',
      body: targetAskedSchema,
      answer: shapes.object({ strip: stripShape, rows: ledgerSchema, bytes: shapes.integer }),
      handle: async (ask) => {
        const { job, signal } = await tried(ask);
        const result = await c.pool.forecast(job, signal);
        if (!result.ok) throw new Problem(422, result.message);
        return { strip: result.strip, rows: result.rows, bytes: result.bytes };
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/trial',
      summary: 'Write the drawing in one way, read it back and count; nothing of it is kept, no number is taken',
      body: targetAskedSchema,
      answer: trialShape,
      handle: async (ask) => {
        const { job, signal } = await tried(ask);
        const result = await c.pool.trial(job, signal);
        if (!result.ok) throw new Problem(422, result.message);
        const { trial, verdict, losses } = result;
        return { ...trial, verdict, losses };
      },
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}',
      summary: 'A delivery with its ledger and proof',
      answer: deliveryShape,
      handle: async ({ params }) => whole(await find(params['delivery']!)),
    },
    {
      method: 'patch',
      path: '/api/deliveries/{delivery}',
      summary: 'Delete a delivery, or put it back; its file is kept',
      body: shapes.object({ deleted: shapes.boolean }),
      answer: deliveryShape,
      handle: async ({ params, body }) => {
        const row = await find(params['delivery']!);
        const { deleted } = body as { deleted: boolean };
        if (deleted) await c.queue.cancel(row.id);
        await db
          .update(deliveries)
          .set({ deletedAt: deleted ? new Date() : null })
          .where(eq(deliveries.id, row.id));
        return whole(await find(row.id));
      },
    },
    {
      method: 'post',
      path: '/api/deliveries/{delivery}/cancel',
      summary: 'Stop a delivery that waits or runs',
      answer: deliveryShape,
      handle: async ({ params }) => {
        const row = await find(params['delivery']!);
        await c.queue.cancel(row.id);
        return whole(await find(row.id));
      },
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}/events',
      summary: 'Progress, as server-sent events, until the delivery has ended',
      answer: 'events',
      handle: async ({ params, response }) => {
        const id = params['delivery']!;
        const ask = async (): Promise<{ state: Row['state']; progress: number }> => {
          const [row] = await db
            .select({ state: deliveries.state, progress: deliveries.progress })
            .from(deliveries)
            .where(eq(deliveries.id, id));
          if (!row) throw notFound('delivery');
          return row;
        };
        let row = await ask();
        response.writeHead(200, {
          'Content-Type': 'text/event-stream',
          'Cache-Control': 'no-cache',
          Connection: 'keep-alive',
        });
        let open = true;
        response.once('close', () => (open = false));
        let last = '';
        // The row is the truth for every process that shares the database, so it is asked rather than one's own memory.
        while (open) {
          const data = JSON.stringify(row);
          if (data !== last) response.write(`data: ${data}\n\n`);
          last = data;
          if (ENDED.has(row.state)) break;
          await new Promise((resolve) => setTimeout(resolve, 250));
          row = await ask();
        }
        response.end();
      },
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}/file',
      summary: 'The delivered file',
      answer: 'bytes',
      handle: async (ask) => {
        const row = await find(ask.params['delivery']!);
        if (row.state !== 'done' || !row.blob) throw new Problem(409, 'This delivery has not been written (yet).');
        sendFile(
          ask,
          await c.blobs.get(row.blob),
          row.fileName ?? 'drawing',
          row.mediaType ?? 'application/octet-stream',
        );
      },
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}/beside/{number}',
      summary: 'A file that belongs beside the delivered one, by its place in the list of them',
      answer: 'bytes',
      handle: async (ask) => {
        const row = await find(ask.params['delivery']!);
        const own = companionsOf(row.fileName ?? 'drawing', row.beside)[Number(ask.params['number']) - 1];
        if (!own) throw notFound('file');
        sendFile(ask, await own.bytes(c.blobs), own.name, own.mediaType);
      },
    },
    {
      method: 'post',
      path: '/api/deliveries/{delivery}/returned',
      summary: 'Take in a file that came back: a drawing whose objects get the layers back that they left',
      query: { name: { type: 'string', maxLength: 1000 }, again: { enum: ['yes'] } },
      body: 'bytes',
      answer: returnedShape,
      status: 201,
      handle: async (ask) => {
        const row = await find(ask.params['delivery']!);
        if (row.state !== 'done' || !row.blob) throw new Problem(409, 'This delivery has not been written (yet).');
        const [revision] = await db.select().from(revisions).where(eq(revisions.id, row.revisionId));
        const [own] = await db.select({ jobId: drawings.jobId }).from(drawings).where(eq(drawings.id, row.drawingId));
        if (!revision || !own) throw notFound('revision');
        let told: Omit<CameBack, 'step'> | null = null;
        const drawing = await takeFile(c, ask, own.jobId, async (blob, fileName) => {
          const target = upgradedTarget({ ...row.target });
          const result = await c.pool.returned({
            bytes: await c.blobs.get(revision.blob),
            ...{ name: revision.fileName, intake: row.intake, steps: row.steps, target },
            ...(await templateFile(c.database, c.blobs, target)),
            ...(await givenFiles(c.blobs, row)),
            sent: { bytes: await c.blobs.get(row.blob!), name: row.fileName ?? 'drawing' },
            returned: { bytes: await c.blobs.get(blob), name: fileName },
          });
          if (!result.ok) throw new Problem(422, `What left could not be found in what came back: ${result.message}.`);
          const { step, ...counts } = result.came;
          told = counts;
          return step ? [step] : [];
        });
        return { drawing, came: told };
      },
    },
    {
      method: 'post',
      path: '/api/deliveries/{delivery}/proofs',
      summary: 'Hold another copy of the file against the drawing: the raw bytes as body',
      body: 'bytes',
      answer: proofSchema,
      handle: async (ask) => {
        const row = await find(ask.params['delivery']!);
        const [revision] = await db.select().from(revisions).where(eq(revisions.id, row.revisionId));
        if (!revision) throw notFound('revision');
        const remedy = 'Raise SCALARIA_UPLOAD_MB.';
        const staged = await stageBody(c, ask, 'The copy', c.limits.uploadBytes, remedy);
        // It is looked at once and never kept.
        const copy = await staged.bytes().finally(() => staged.drop());
        const controller = new AbortController();
        ask.response.once('close', () => controller.abort());
        const bytes = await c.blobs.get(revision.blob);
        const { intake, steps } = row;
        const target = upgradedTarget({ ...row.target });
        const template = await templateFile(c.database, c.blobs, target);
        const given = await givenFiles(c.blobs, row);
        return c.pool.prove(
          {
            bytes,
            name: revision.fileName,
            intake,
            steps,
            target,
            copy,
            ...template,
            ...given,
            yardsticks: row.yardsticks,
          },
          controller.signal,
        );
      },
    },
  ];
}
