import { and, desc, eq, inArray, isNull } from 'drizzle-orm';
import type { Kept, PartChange } from '@scalaria/core';
import { PART_FIELDS, faultOf, keptAfter, rowsAfter } from '@scalaria/core';
import { deliveries, drawings, jobs, partBooks, revisions } from '../../database/schema.js';
import { bookOf } from '../part-books.js';
import type { Context } from '../context.js';
import { Problem } from '../problem.js';
import type { Route } from '../route.js';
import { jobPartsShape, partChangesShape, shapes } from '../shapes.js';
import { findJob } from '../taking.js';

interface Changes {
  changes: { drawing: string; key: string; change: PartChange }[];
}

/** The parts of a job: which drawings have some, how they are found, what was decided about each. */
export function partRoutes(c: Context): Route[] {
  const { db } = c.database;

  /** The files of a drawing that hold parts, the newest first. */
  const filesOf = async (drawing: string) =>
    db
      .select({ name: deliveries.fileName, parts: deliveries.parts, revision: revisions.number })
      .from(deliveries)
      .innerJoin(revisions, eq(revisions.id, deliveries.revisionId))
      .where(and(eq(deliveries.drawingId, drawing), eq(deliveries.state, 'done'), isNull(deliveries.deletedAt)))
      .orderBy(desc(deliveries.createdAt))
      .limit(200);

  const listOf = async (d: { id: string; name: string }): Promise<unknown> => {
    const state = await bookOf(c, d.id);
    const { id, name } = d;
    if (!state)
      return {
        id,
        name,
        listed: false,
        state: 'none',
        revision: null,
        unit: null,
        fault: null,
        rows: [],
        findings: [],
        gone: [],
      };
    const { row, finding } = state;
    const files = await filesOf(id);
    return {
      id,
      name,
      listed: true,
      state: finding ? 'working' : row.fault !== null ? 'failed' : 'ready',
      revision: row.revision,
      unit: row.book?.unit ?? null,
      fault: row.fault,
      findings: row.book?.findings ?? [],
      gone: row.book?.gone ?? [],
      rows: (row.book?.rows ?? []).map(({ refs, ...r }) => ({
        ...r,
        members: refs.length,
        // A file that was asked for whole holds what its drawing had then.
        wentOut: files
          .filter((f) => (f.parts ? r.number !== '' && f.parts.includes(r.number) : f.revision === row.revision))
          .map((f) => ({ file: f.name ?? '', revision: f.revision })),
      })),
    };
  };

  const listJob = async (job: typeof jobs.$inferSelect): Promise<unknown> => {
    const list = await db
      .select({ id: drawings.id, name: drawings.name })
      .from(drawings)
      .where(and(eq(drawings.jobId, job.id), isNull(drawings.deletedAt)))
      .orderBy(drawings.createdAt, drawings.id);
    const out: unknown[] = [];
    for (const d of list) out.push(await listOf(d));
    return { rules: job.partRules, drawings: out };
  };

  return [
    {
      method: 'get',
      path: '/api/jobs/{job}/parts',
      summary:
        'The parts of a job: by drawing, with what was decided; lists of drawings that changed are being found anew',
      answer: jobPartsShape,
      handle: async ({ params }) => listJob(await findJob(c, params['job']!)),
    },
    {
      method: 'patch',
      path: '/api/jobs/{job}/parts',
      summary: 'How parts are found and numbered, and which drawings have some',
      body: {
        ...shapes.object(
          {
            rules: { type: 'object', maxProperties: 100 },
            drawings: { type: 'object', maxProperties: 10_000, additionalProperties: shapes.boolean },
          },
          ['rules', 'drawings'],
        ),
        minProperties: 1,
      },
      answer: jobPartsShape,
      handle: async ({ params, body }) => {
        const { rules, drawings: listed } = body as { rules?: Kept; drawings?: Record<string, boolean> };
        const fault = rules && faultOf(PART_FIELDS, rules);
        if (fault) throw new Problem(400, `The rules of parts are not understood: ${fault}.`);
        const job = await findJob(c, params['job']!);
        const ids = Object.keys(listed ?? {});
        const own = await db.select({ id: drawings.id }).from(drawings).where(eq(drawings.jobId, job.id));
        if (!ids.every((id) => own.some((d) => d.id === id)))
          throw new Problem(404, 'One of these is no drawing of this job.');
        await db.transaction(async (tx) => {
          if (rules) await tx.update(jobs).set({ partRules: rules }).where(eq(jobs.id, job.id));
          for (const drawingId of ids)
            await tx
              .insert(partBooks)
              .values({ drawingId, listed: listed![drawingId]! })
              .onConflictDoUpdate({
                target: partBooks.drawingId,
                set: { listed: listed![drawingId]!, foundFrom: null },
              });
        });
        return listJob(await findJob(c, job.id));
      },
    },
    {
      method: 'post',
      path: '/api/jobs/{job}/parts',
      summary: 'Decide about parts: numbers, what they are, what is left out; all of it or nothing',
      body: partChangesShape,
      answer: shapes.object({ changed: shapes.integer }),
      handle: async ({ params, body }) => {
        const { changes } = body as Changes;
        const job = await findJob(c, params['job']!);
        const byDrawing = new Map<string, Changes['changes']>();
        for (const one of changes) {
          const list = byDrawing.get(one.drawing);
          if (list) list.push(one);
          else byDrawing.set(one.drawing, [one]);
        }
        const ids = [...byDrawing.keys()];
        const own = await db
          .select({ id: drawings.id })
          .from(drawings)
          .where(and(eq(drawings.jobId, job.id), inArray(drawings.id, ids)));
        if (own.length !== ids.length) throw new Problem(404, 'One of these is no drawing of this job.');
        const stale = new Problem(409, 'The list of parts is another by now, so nothing was changed.', {
          remedy: 'Look at the list as it is, and decide again.',
        });
        for (const id of ids) if ((await bookOf(c, id))?.finding !== null) throw stale;
        await db.transaction(async (tx) => {
          // In one order, so that two that change the same drawings wait for each other and not both.
          for (const id of ids.sort()) {
            const [row] = await tx.select().from(partBooks).where(eq(partBooks.drawingId, id)).for('update');
            if (!row?.book) throw stale;
            const byKey = new Map(row.book.rows.map((r) => [r.key, r]));
            const made = byDrawing.get(id)!.map(({ key, change }) => {
              const part = byKey.get(key);
              if (!part) throw stale;
              return { refs: part.refs, change };
            });
            const kept = keptAfter(row.kept, made);
            const book = { ...row.book, rows: rowsAfter(row.book.rows, kept) };
            await tx
              .update(partBooks)
              .set({
                kept,
                book,
                version: row.version + 1,
                // Along another grain a part is measured anew.
                ...(made.some((m) => m.change.words?.grain !== undefined) && { foundFrom: null }),
              })
              .where(eq(partBooks.drawingId, id));
          }
        });
        return { changed: changes.length };
      },
    },
  ];
}
