import { pipeline } from 'node:stream/promises';
import { and, desc, eq, getTableColumns, inArray, isNull, sql } from 'drizzle-orm';
import type { ProofItem, Recipe } from '@scalaria/core';
import { FORMAT_CATALOGUE, manifestCsv, manifestJson, proofPage, sumFaults, tableForm, weigh } from '@scalaria/core';
import { deliveries, drawings, revisions, sets } from '../../database/schema.js';
import { archive, entriesOf } from '../../sets/archive.js';
import type { SetRow } from '../../sets/make.js';
import { makeSet } from '../../sets/make.js';
import { plannedSet } from '../../sets/plan.js';
import { allRecipes, findRecipe, soundRecipe, usedRecipe } from '../../sets/recipes.js';
import { newestRevisions } from '../../sets/newest.js';
import { findSet, folderName, jobNames, manifestOf, pictureName, reportOfFile, reportOfSet } from '../../sets/told.js';
import type { Context } from '../context.js';
import { Problem, notFound } from '../problem.js';
import type { Route } from '../route.js';
import { isId } from '../route.js';
import { setPlanShape, setRowShape, setShape, shapes } from '../shapes.js';
import { findJob, requestKey } from '../taking.js';
import { attached, sendFile, sendPage } from '../sending.js';

const ids = { type: 'array', minItems: 1, maxItems: 1000, items: { type: 'string' } };
const date = { type: 'string', pattern: '^\\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\\d|3[01])$' };
const asked = { recipeId: shapes.string, recipe: { type: 'object' }, drawings: ids, date };

interface Asked {
  recipeId?: string;
  recipe?: unknown;
  drawings: string[];
  date: string;
  title?: string;
  without?: Record<string, string>;
}

/** A file of a set without what is long. */
interface Listed {
  id: string;
  setId: string | null;
  drawingId: string;
  revision: number;
  state: (typeof deliveries.$inferSelect)['state'];
  progress: number;
  size: number | null;
  error: string | null;
  fileName: string | null;
  inSet: (typeof deliveries.$inferSelect)['inSet'];
  differs: (typeof deliveries.$inferSelect)['differs'];
  previousId: string | null;
  holds: boolean | null;
  items: ProofItem[] | null;
}

/** Sets of files: drawings by a recipe, planned, written and proven one by one, and sent as one. */
export function setRoutes(c: Context): Route[] {
  const { db } = c.database;

  const recipeOf = async ({ recipeId, recipe }: Asked): Promise<{ recipe: Recipe; recipeId: string | null }> => {
    if (recipe !== undefined) return { recipe: soundRecipe(recipe), recipeId: recipeId ?? null };
    if (recipeId === undefined || !isId(recipeId)) throw new Problem(400, 'Say which recipe.');
    await findRecipe(c, recipeId);
    return { recipe: usedRecipe(recipeId, (await allRecipes(c)).kept), recipeId };
  };

  /** Files of sets, in their order; ledgers, proofs and records stay where they are. */
  const listed = async (setIds: readonly string[]): Promise<Listed[]> => {
    if (setIds.length === 0) return [];
    const d = getTableColumns(deliveries);
    return db
      .select({
        ...{ id: d.id, setId: d.setId, drawingId: d.drawingId, state: d.state, progress: d.progress, size: d.size },
        ...{ error: d.error, fileName: d.fileName, inSet: d.inSet, differs: d.differs, previousId: d.previousId },
        revision: revisions.number,
        holds: sql<boolean | null>`(${d.proof} ->> 'holds')::boolean`,
        items: sql<
          ProofItem[] | null
        >`jsonb_path_query_array(${d.proof}, '$.items[*] ? (@.state == "lost" || @.about == "source")')`,
      })
      .from(deliveries)
      .innerJoin(revisions, eq(revisions.id, deliveries.revisionId))
      .where(and(inArray(deliveries.setId, [...setIds]), isNull(deliveries.deletedAt)))
      .orderBy(deliveries.place);
  };

  const present = async (list: readonly SetRow[]) => {
    const files = await listed(list.map((s) => s.id));
    const now = await newestRevisions(
      c,
      files.map((f) => f.drawingId),
    );
    const names = await jobNames(c, list);
    const bySet = new Map<string, Listed[]>(list.map((s) => [s.id, []]));
    for (const f of files) bySet.get(f.setId!)!.push(f);
    return list.map((set) => rowOf(set, bySet.get(set.id)!, now, names));
  };

  const rowOf = (
    set: SetRow,
    files: readonly Listed[],
    now: ReadonlyMap<string, number>,
    jobs: ReadonlyMap<string, string>,
  ) => {
    const of = (...states: Listed['state'][]): number => files.filter((f) => states.includes(f.state)).length;
    const verdicts = files.flatMap((f) => (f.state === 'done' ? [verdictIn(f)!] : []));
    const holds = verdicts.filter((v) => v.holds && v.lost === 0 && v.whole).length;
    const breaks = verdicts.filter((v) => !v.holds).length;
    const stale = files.filter((f) => (now.get(f.drawingId) ?? 0) > f.revision).map((f) => f.drawingId);
    return {
      ...{ id: set.id, jobId: set.jobId, number: set.number, title: set.title, recipeId: set.recipeId },
      ...{ recipeTitle: set.recipe.title ?? '', receiver: set.recipe.receiver ?? '', date: set.date },
      ...{ createdAt: set.createdAt, folder: folderName(set, jobs), previousId: set.previousId },
      state: of('waiting', 'working') > 0 ? 'working' : of('held') > 0 ? 'stopped' : 'done',
      counts: {
        ...{ files: files.length, waiting: of('waiting'), working: of('working'), held: of('held') },
        ...{ failed: of('failed', 'cancelled'), holds, breaks, exceptions: verdicts.length - holds - breaks },
        unchanged: files.filter((f) => f.differs?.same).length,
        ...{ stopped: set.stopped.length, leftOut: set.leftOut.length },
      },
      progress:
        files.length === 0
          ? 1
          : files.reduce((n, f) => n + (f.state === 'working' ? f.progress : of1(f)), 0) / files.length,
      stale: [...new Set(stale)],
    };
  };
  const of1 = (f: Listed): number => (f.state === 'waiting' || f.state === 'held' ? 0 : 1);
  const verdictIn = (f: Listed) => (f.holds === null ? null : weigh({ holds: f.holds, items: f.items ?? [] }));

  const whole = async (set: SetRow): Promise<unknown> => {
    const files = await listed([set.id]);
    const now = await newestRevisions(c, set.sources);
    const names = await db
      .select({ id: drawings.id, name: drawings.name })
      .from(drawings)
      .where(inArray(drawings.id, set.sources));
    const nameOf = new Map(names.map((n) => [n.id, n.name]));
    const ended = files.every((f) => ['done', 'failed', 'cancelled'].includes(f.state));
    const ending = set.recipe.target?.format ? `.${FORMAT_CATALOGUE[set.recipe.target.format].extension}` : '';
    return {
      ...rowOf(set, files, now, await jobNames(c, [set])),
      recipe: set.recipe,
      sources: set.sources.map((id) => ({
        ...{ id, name: nameOf.get(id) ?? 'a drawing that is gone' },
        revision: files.find((f) => f.drawingId === id)?.revision ?? null,
      })),
      ...{ leftOut: set.leftOut, stopped: set.stopped, waived: set.waived },
      files: files.map((f) => ({
        ...{ id: f.id, drawingId: f.drawingId, revision: f.revision, piece: f.inSet?.piece ?? null },
        ...{
          why: f.inSet?.why ?? '',
          name: f.fileName ?? `${f.inSet?.name ?? ''}${ending}`,
          asked: f.inSet?.asked ?? null,
        },
        ...{ state: f.state, progress: f.progress, size: f.size, error: f.error, verdict: verdictIn(f) },
        ...{ differs: f.differs, isNew: set.previousId !== null && f.previousId === null },
      })),
      sums: ended ? sumFaults(await manifestOf(c, set)) : [],
    };
  };

  return [
    {
      method: 'post',
      path: '/api/jobs/{job}/sets/plan',
      summary: 'What a set would be: its files and names, what is left out, what stands in the way; nothing is written',
      body: shapes.object(asked, ['recipeId', 'recipe']),
      answer: setPlanShape,
      handle: async ({ params, body }) => {
        const job = await findJob(c, params['job']!);
        const wanted = body as Asked;
        const { recipe } = await recipeOf(wanted);
        const { plan, sources, looking, ending } = await plannedSet(c, job, wanted.drawings, recipe, {
          date: wanted.date,
        });
        return {
          ...{ looking, ending, leftOut: plan.leftOut },
          files: plan.files.map(({ key, source, piece, why, objects, name, asked: wished, clashes, stop }) => ({
            ...{ key, source, piece, why, objects, name, asked: wished, clashes, stop },
          })),
          sources: sources.map(({ set, known }) => ({
            ...{ id: set.id, name: set.name, revision: set.revision, ready: known.ready },
            ...{ objects: known.facts.objects, layers: known.facts.layers, losses: known.losses },
            waived: known.facts.waived,
          })),
        };
      },
    },
    {
      method: 'get',
      path: '/api/jobs/{job}/sets',
      summary: 'The sets of a job, the newest first',
      answer: shapes.array(setRowShape),
      handle: async ({ params }) => {
        const job = await findJob(c, params['job']!);
        const rows = await db
          .select()
          .from(sets)
          .where(and(eq(sets.jobId, job.id), isNull(sets.deletedAt)))
          .orderBy(desc(sets.number))
          .limit(200);
        return present(rows);
      },
    },
    {
      method: 'post',
      path: '/api/jobs/{job}/sets',
      summary: 'Write a set: every file in the queue, each with its proof',
      body: shapes.object(
        {
          ...asked,
          title: { type: 'string', maxLength: 120 },
          without: { type: 'object', maxProperties: 5000, additionalProperties: { type: 'string', maxLength: 300 } },
        },
        ['recipeId', 'recipe', 'title', 'without'],
      ),
      answer: setShape,
      status: 202,
      handle: async (ask) => {
        const job = await findJob(c, ask.params['job']!);
        const request = requestKey(ask);
        const made = async (): Promise<SetRow | undefined> =>
          request ? (await db.select().from(sets).where(eq(sets.request, request)))[0] : undefined;
        const before = await made();
        if (before) return whole(before);
        const wanted = ask.body as Asked;
        const { recipe, recipeId } = await recipeOf(wanted);
        const set = await makeSet(c, job, {
          ...{ recipe, recipeId, drawings: wanted.drawings, date: wanted.date, request, previous: null },
          ...{ title: wanted.title?.trim() || (recipe.title ?? 'Set'), without: wanted.without ?? {} },
        });
        c.queue.enqueue();
        return whole(set);
      },
    },
    {
      method: 'get',
      path: '/api/sets/{set}',
      summary: 'A set with its files',
      answer: setShape,
      handle: async ({ params }) => whole(await findSet(c, params['set']!)),
    },
    {
      method: 'post',
      path: '/api/sets/{set}/again',
      summary: 'Do a set again from the drawings as they are now, with the same recipe, names and decisions',
      body: shapes.object({ date }),
      answer: setShape,
      status: 202,
      handle: async (ask) => {
        const set = await findSet(c, ask.params['set']!);
        const job = await findJob(c, set.jobId);
        // What was asked to be left out stays left out.
        const again = await makeSet(c, job, {
          ...{ recipe: set.recipe, recipeId: set.recipeId, drawings: set.sources, request: requestKey(ask) },
          ...{ date: (ask.body as { date: string }).date, title: set.title, without: set.without, previous: set },
        });
        c.queue.enqueue();
        return whole(again);
      },
    },
    {
      method: 'patch',
      path: '/api/sets/{set}',
      summary: 'Stop a set, go on with it, try again what failed, rename it, delete it or put it back',
      body: {
        ...shapes.object(
          {
            going: { enum: ['stop', 'on', 'again'] },
            title: { type: 'string', minLength: 1, maxLength: 120 },
            deleted: shapes.boolean,
          },
          ['going', 'title', 'deleted'],
        ),
        minProperties: 1,
      },
      answer: setShape,
      handle: async ({ params, body }) => {
        const set = await findSet(c, params['set']!);
        const b = body as { going?: 'stop' | 'on' | 'again'; title?: string; deleted?: boolean };
        if (b.going === 'stop' || b.deleted) await c.queue.hold(set.id);
        if (b.going === 'on' || b.going === 'again') await c.queue.goOn(set.id, b.going === 'again');
        if (b.title !== undefined || b.deleted !== undefined)
          await db
            .update(sets)
            .set({
              ...(b.title !== undefined && { title: b.title.trim() }),
              ...(b.deleted !== undefined && { deletedAt: b.deleted ? new Date() : null }),
            })
            .where(eq(sets.id, set.id));
        return whole(await findSet(c, set.id));
      },
    },
    {
      method: 'get',
      path: '/api/sets/{set}/archive',
      summary: 'A set as one archive: its files, manifest and report',
      answer: 'bytes',
      handle: async (ask) => {
        const set = await findSet(c, ask.params['set']!);
        const files = await listed([set.id]);
        if (files.some((f) => f.state === 'waiting' || f.state === 'working'))
          throw new Problem(409, 'The set is still being written.', { remedy: 'Wait for it, or stop it first.' });
        const entries = await entriesOf(c, set);
        attached(ask, `${folderName(set, await jobNames(c, [set]))}.zip`, 'application/zip');
        // Whoever asked may be gone before the end.
        await pipeline(archive(entries, set.date), ask.response).catch((e: unknown) => c.log.warn(e, 'archive'));
      },
    },
    ...(['json', 'csv'] as const).map((form): Route => ({
      method: 'get',
      path: `/api/sets/{set}/manifest-${form}`,
      summary: `The manifest of a set, as ${form === 'json' ? 'JSON' : 'a table'}`,
      answer: 'bytes',
      handle: async (ask) => {
        const set = await findSet(c, ask.params['set']!);
        const manifest = await manifestOf(c, set);
        const [type, text] =
          form === 'json'
            ? ['application/json', manifestJson(manifest)]
            : ['text/csv', manifestCsv(manifest, tableForm(set.recipe))];
        attached(ask, `manifest.${form}`, `${type}; charset=utf-8`);
        ask.response.end(text);
      },
    })),
    {
      method: 'get',
      path: '/api/sets/{set}/report',
      summary: 'The proof report of a set, as a page',
      answer: 'bytes',
      handle: async (ask) => sendPage(ask, proofPage(await reportOfSet(c, await findSet(c, ask.params['set']!)))),
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}/picture',
      summary: 'The picture beside a delivered file',
      answer: 'bytes',
      handle: async (ask) => {
        const [row] = await db
          .select({ picture: deliveries.picture, name: deliveries.fileName })
          .from(deliveries)
          .where(eq(deliveries.id, ask.params['delivery']!));
        if (!row?.picture) throw notFound('picture');
        sendFile(ask, await c.blobs.get(row.picture), pictureName(row.name ?? 'drawing'), 'image/png');
      },
    },
    {
      method: 'get',
      path: '/api/deliveries/{delivery}/report',
      summary: 'The proof report of one file, as a page',
      answer: 'bytes',
      handle: async (ask) => {
        const report = await reportOfFile(c, ask.params['delivery']!);
        if (!report)
          throw new Problem(
            409,
            'There is no report of this delivery: it is not written, or was before there were any.',
            {
              remedy: 'Write it again.',
            },
          );
        sendPage(ask, proofPage(report));
      },
    },
  ];
}
