import { and, asc, eq, isNull } from 'drizzle-orm';
import type { TrackerFields, TrackerRow } from '@scalaria/core';
import { FIRST_STATES, gatheredBy } from '@scalaria/core';
import { deliveries, drawings, jobs, partBooks, revisions, sets, trackerRows } from '../../database/schema.js';
import { newestRevisions } from '../../sets/newest.js';
import type { Context } from '../context.js';
import { Problem } from '../problem.js';
import type { Route } from '../route.js';
import { isId } from '../route.js';
import { trackerChangeShape, trackerShape } from '../shapes.js';
import { findJob } from '../taking.js';

type Job = typeof jobs.$inferSelect;

interface Change {
  changes?: { id: string; fields: Partial<TrackerFields> }[];
  added?: Partial<TrackerFields>[];
  removed?: string[];
  back?: string[];
  /** The list of states, each with the one that it was. */
  states?: { name: string; was: string | null }[];
}

const NONE: TrackerFields = {
  ...{ number: '', file: '', holds: '', receiver: '', material: '', thickness: '', thicknessTrue: '' },
  ...{ boards: 0, priceCents: 0, state: '', who: '', when: '', note: '' },
};

/** The tracker of a job: a row for each file that went out or is planned, found again for good. */
export function trackerRoutes(c: Context): Route[] {
  const { db } = c.database;
  const statesOf = (job: Job): readonly string[] => job.trackerStates ?? FIRST_STATES;

  /** The files of a job, the newest for each that stands for others, by the first of them. */
  const filesOf = async (job: Job) => {
    const rows = await db
      .select({
        ...{ id: deliveries.id, drawingId: deliveries.drawingId, state: deliveries.state, parts: deliveries.parts },
        steps: deliveries.steps,
        ...{ fileName: deliveries.fileName, inSet: deliveries.inSet, previousId: deliveries.previousId },
        ...{ revision: revisions.number, setId: deliveries.setId, recipe: sets.recipe },
      })
      .from(deliveries)
      .innerJoin(drawings, eq(drawings.id, deliveries.drawingId))
      .innerJoin(revisions, eq(revisions.id, deliveries.revisionId))
      .leftJoin(sets, eq(sets.id, deliveries.setId))
      .where(and(eq(drawings.jobId, job.id), isNull(deliveries.deletedAt), isNull(drawings.deletedAt)))
      .orderBy(asc(deliveries.createdAt), asc(deliveries.place), asc(deliveries.id));
    const first = new Map<string, string>();
    const alone = new Map<string, string>();
    const newest = new Map<string, (typeof rows)[number]>();
    for (const r of rows) {
      // What was written by hand under one name is one file, written again.
      const key = r.setId === null ? `${r.drawingId} ${r.fileName}` : null;
      if (key !== null && r.state !== 'done') continue;
      const root = (r.previousId && first.get(r.previousId)) ?? (key !== null ? alone.get(key) : undefined) ?? r.id;
      first.set(r.id, root);
      if (key !== null) alone.set(key, root);
      newest.set(root, r);
    }
    return newest;
  };

  const list = async (job: Job): Promise<unknown> => {
    const states = statesOf(job);
    const files = await filesOf(job);
    const kept = await db
      .select()
      .from(trackerRows)
      .where(and(eq(trackerRows.jobId, job.id), isNull(trackerRows.deletedAt)))
      .orderBy(asc(trackerRows.createdAt));
    const saidOf = new Map(kept.flatMap((k) => (k.fileId ? [[k.fileId, k.fields] as const] : [])));
    const now = await newestRevisions(
      c,
      [...files.values()].map((f) => f.drawingId),
    );
    const own = [...files].map(
      ([id, f]): TrackerRow & { drawingId: string | null; drawings: string[]; fileId: string | null } => {
        const { inSet, parts } = f;
        const ended = f.state === 'failed' || f.state === 'cancelled';
        return {
          ...NONE,
          number: Object.values(inSet?.numbers ?? {}).join(' '),
          file: f.fileName ?? inSet?.name ?? '',
          holds: parts ? parts.join(', ') : (inSet?.piece ?? ''),
          receiver: f.recipe?.receiver ?? '',
          ...{ material: inSet?.values.material ?? '', thickness: inSet?.values.thickness ?? '' },
          state: (ended ? states.find((s) => s.toLowerCase() === 'void') : states[1]) ?? states[0]!,
          ...saidOf.get(id),
          ...{ id, revision: f.revision, newest: now.get(f.drawingId) ?? f.revision, parts: parts ?? [] },
          drawings: [f.drawingId, ...gatheredBy(f.steps)],
          ...{ drawingId: f.drawingId, fileId: f.state === 'done' ? f.id : null },
        };
      },
    );
    const planned = kept
      .filter((k) => k.fileId === null)
      .map((k) => ({
        ...{ ...NONE, state: states[0]!, ...k.fields, id: k.id, revision: null, newest: null },
        // Parts that are only planned for are named in words.
        parts: (k.fields.holds ?? '').split(/[,;\s]+/).filter(Boolean),
        ...{ drawingId: null, drawings: [], fileId: null },
      }));
    const books = await db
      .select({ book: partBooks.book })
      .from(partBooks)
      .innerJoin(drawings, eq(drawings.id, partBooks.drawingId))
      .where(and(eq(drawings.jobId, job.id), isNull(drawings.deletedAt), eq(partBooks.listed, true)));
    const parts = books.flatMap((b) => b.book?.rows ?? []).filter((r) => r.leftOut === null && r.number !== '');
    return { states, rows: [...own, ...planned], parts: parts.map((r) => r.number) };
  };

  return [
    {
      method: 'get',
      path: '/api/jobs/{job}/tracker',
      summary: 'What became of each file of a job, and what is planned',
      answer: trackerShape,
      handle: async ({ params }) => list(await findJob(c, params['job']!)),
    },
    {
      method: 'patch',
      path: '/api/jobs/{job}/tracker',
      summary: 'Keep what is said about files, plan others, rename states: all or nothing',
      body: trackerChangeShape,
      answer: trackerShape,
      handle: async ({ params, body }) => {
        const job = await findJob(c, params['job']!);
        const { changes = [], added = [], removed = [], back = [], states } = body as Change;
        const files = await filesOf(job);
        const named = states?.map((s) => s.name.trim());
        if (named && (named.some((n) => n === '') || new Set(named.map((n) => n.toLowerCase())).size !== named.length))
          throw new Problem(400, 'Each state has a name of its own.');
        const known = new Set((named ?? statesOf(job)).map((s) => s.toLowerCase()));
        for (const { fields } of [...changes, ...added.map((fields) => ({ fields }))])
          if (fields.state !== undefined && !known.has(fields.state.toLowerCase()))
            throw new Problem(400, `“${fields.state}” is no state of this job.`);
        await db.transaction(async (tx) => {
          await tx.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, job.id)).for('update');
          const rows = await tx.select().from(trackerRows).where(eq(trackerRows.jobId, job.id));
          for (const { id, fields } of changes) {
            const row = rows.find((r) => r.fileId === id || r.id === id);
            if (row)
              await tx
                .update(trackerRows)
                .set({ fields: { ...row.fields, ...fields } })
                .where(eq(trackerRows.id, row.id));
            else if (files.has(id)) await tx.insert(trackerRows).values({ jobId: job.id, fileId: id, fields });
            else throw new Problem(404, 'One of these rows is not of this job (any more).');
          }
          // What is planned at once stands in the order in which it was planned.
          const now = Date.now();
          const fresh = added.map((fields, i) => ({ jobId: job.id, fields, createdAt: new Date(now + i) }));
          if (fresh.length > 0) await tx.insert(trackerRows).values(fresh);
          for (const [ids, at] of [
            [removed, new Date()],
            [back, null],
          ] as const)
            for (const id of ids.filter(isId))
              await tx
                .update(trackerRows)
                .set({ deletedAt: at })
                .where(and(eq(trackerRows.id, id), eq(trackerRows.jobId, job.id), isNull(trackerRows.fileId)));
          if (!states || !named) return;
          await tx.update(jobs).set({ trackerStates: named }).where(eq(jobs.id, job.id));
          // Rows go with a state that is called otherwise now; those of one that is gone go to the first.
          const became = new Map(states.flatMap((s) => (s.was === null ? [] : [[s.was, s.name.trim()] as const])));
          const after = await tx.select().from(trackerRows).where(eq(trackerRows.jobId, job.id));
          for (const r of after) {
            const { state } = r.fields;
            if (state === undefined || named.includes(state)) continue;
            const next = became.get(state) ?? named[0]!;
            await tx
              .update(trackerRows)
              .set({ fields: { ...r.fields, state: next } })
              .where(eq(trackerRows.id, r.id));
          }
        });
        return list(await findJob(c, job.id));
      },
    },
  ];
}
