import { and, eq, inArray } from 'drizzle-orm';
import type { Recipe, Series, SetAsked, SetPart, SetPlan, SetSource } from '@scalaria/core';
import { FORMAT_CATALOGUE, UserError, planSet } from '@scalaria/core';
import type { jobs } from '../database/schema.js';
import { partBooks, series } from '../database/schema.js';
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
  const all = await under(c, job.id, ids, recipe);
  if (all.length !== new Set(ids).size || ids.length !== all.length)
    throw new Problem(400, 'Not all of these drawings are in this job, or one is named twice.');
  const facts = await factsOf(c, all, recipe);
  const listed = await listedOf(c, ids);
  const sources: Source[] = [];
  for (const [i, u] of all.entries()) {
    const { drawing, revision } = u.found;
    const known = facts[i]!;
    const { rows, finding } = listed.has(drawing.id) ? await partsOf(c, drawing.id) : NO_PARTS;
    const name = drawing.name.replace(/\.[A-Za-z0-9]{1,5}$/, '');
    const set = { id: drawing.id, name, revision: revision.number, facts: known.facts, parts: rows };
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

const NO_PARTS: { rows: SetPart[] | null; finding: boolean } = { rows: null, finding: false };

/** Which of these drawings have a list of parts. */
async function listedOf(c: Context, ids: readonly string[]): Promise<Set<string>> {
  const rows = await c.database.db
    .select({ id: partBooks.drawingId })
    .from(partBooks)
    .where(and(inArray(partBooks.drawingId, [...ids]), eq(partBooks.listed, true)));
  return new Set(rows.map((r) => r.id));
}

/** The parts of a drawing as they are listed. */
async function partsOf(c: Context, id: string): Promise<typeof NO_PARTS> {
  const state = await bookOf(c, id);
  if (!state) return NO_PARTS;
  const rows = (state.row.book?.rows ?? []).map(({ number, name, kind, material, thickness, leftOut }): SetPart => ({
    ...{ number, name, kind, material, thickness, leftOut },
  }));
  return { rows, finding: state.finding !== null };
}
