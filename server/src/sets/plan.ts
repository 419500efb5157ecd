import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { Recipe, Series, SetAsked, SetPart, SetPlan, SetSource } from '@scalaria/core';
import { FORMAT_CATALOGUE, UserError, planSet } from '@scalaria/core';
import { drawings, jobs, partBooks, series } from '../database/schema.js';
import type { Context } from '../http/context.js';
import { Problem } from '../http/problem.js';
import { bookOf } from '../http/part-books.js';
import type { KnownFacts, Under } from './facts.js';
import { factsOf, targetUnder, under } from './facts.js';

/** A drawing of a set, with what is known of it. */
export interface Source {
  readonly u: Under;
  readonly known: KnownFacts;
  readonly set: SetSource;
}

export interface Planned {
  readonly sources: readonly Source[];
  readonly plan: SetPlan;
  /** How many drawings are still being looked at. */
  readonly looking: number;
  /** The ending of its files, with the point. */
  readonly ending: string;
}

/** What a set would be: its files with their names, what is left out, and what stands in the way. Nothing is written. */
export async function plannedSet(
  c: Context,
  job: typeof jobs.$inferSelect,
  ids: readonly string[],
  recipe: Recipe,
  asked: Pick<SetAsked, 'date' | 'series' | 'known'>,
): Promise<Planned> {
  const target = targetUnder(recipe);
  if (!target) throw new Problem(400, 'The recipe does not say what files are written as: give it a target.');
  await ofOneJob(c, job.id, ids);
  const sources: Source[] = [];
  for (const id of ids) {
    const u = await under(c, id, recipe);
    const known = await factsOf(c, u, recipe);
    const { drawing, revision } = u.found;
    const { rows, finding } = await partsOf(c, drawing.id);
    const facts = known.facts;
    const set = {
      id: drawing.id,
      name: drawing.name.replace(/\.[A-Za-z0-9]{1,5}$/, ''),
      revision: revision.number,
      facts,
      parts: rows,
    };
    sources.push({ u, known: finding ? { ...known, ready: false } : known, set });
  }
  try {
    const plan = planSet(
      sources.map((s) => s.set),
      recipe,
      { job: job.name, ...asked, series: asked.series ?? (await seriesOf(c, job.id)) },
    );
    const faults = new Map(sources.flatMap((s) => (s.known.fault ? [[s.set.id, s.known.fault] as const] : [])));
    const files = plan.files.map((f) => (faults.has(f.source) ? { ...f, stop: faults.get(f.source)! } : f));
    const looking = sources.filter((s) => !s.known.ready).length;
    return { sources, plan: { ...plan, files }, looking, ending: `.${FORMAT_CATALOGUE[target.format].extension}` };
  } catch (e) {
    if (!(e instanceof UserError)) throw e;
    throw new Problem(409, `No set can be made of these drawings: ${e.message}.`);
  }
}

/** The next number of each series of a job. */
export async function seriesOf(c: Context, jobId: string): Promise<Series> {
  const rows = await c.database.db.select().from(series).where(eq(series.jobId, jobId));
  return Object.fromEntries(rows.map((r) => [r.name, r.next]));
}

async function ofOneJob(c: Context, jobId: string, ids: readonly string[]): Promise<void> {
  const rows = await c.database.db
    .select({ id: drawings.id })
    .from(drawings)
    .where(and(inArray(drawings.id, [...ids]), eq(drawings.jobId, jobId), isNull(drawings.deletedAt)));
  if (rows.length !== new Set(ids).size || ids.length !== rows.length)
    throw new Problem(400, 'Not all of these drawings are in this job, or one is named twice.');
}

/** The parts of a drawing as they are listed, or `null` where it has no list. */
async function partsOf(c: Context, id: string): Promise<{ rows: SetPart[] | null; finding: boolean }> {
  const [listed] = await c.database.db
    .select({ id: partBooks.drawingId })
    .from(partBooks)
    .where(and(eq(partBooks.drawingId, id), eq(partBooks.listed, true)));
  const state = listed ? await bookOf(c, id) : null;
  if (!state) return { rows: null, finding: false };
  const rows = (state.row.book?.rows ?? []).map(({ number, name, kind, material, thickness, leftOut }): SetPart => ({
    ...{ number, name, kind, material, thickness, leftOut },
  }));
  return { rows, finding: state.finding !== null };
}
