import { createHash } from 'node:crypto';
import { and, asc, eq, isNull, max, sql } from 'drizzle-orm';
import type { PlannedFile, PlannedName, Recipe, Target, Yardstick } from '@scalaria/core';
import {
  BESIDE_FIELDS,
  canonicalText,
  isDrafting,
  settleUnit,
  targetFault,
  templateOf,
  valuesOf,
  traitsOf,
} from '@scalaria/core';
import type { SetLeftOut, SetStopped } from '../database/schema.js';
import { deliveries, jobs, series, sets } from '../database/schema.js';
import type { Context } from '../http/context.js';
import { givenTo } from '../http/given.js';
import { partsAsked } from '../http/parts-asked.js';
import { Problem } from '../http/problem.js';
import { isId } from '../http/route.js';
import { findDrawing } from '../http/routes/drawings.js';
import { program } from '../program.js';
import { targetUnder } from './facts.js';
import type { Planned, Source } from './plan.js';
import { plannedSet, seriesOf } from './plan.js';

type Job = typeof jobs.$inferSelect;
type File = typeof deliveries.$inferSelect;
type NewFile = typeof deliveries.$inferInsert;
export type SetRow = typeof sets.$inferSelect;

/** What is asked for. */
export interface SetWanted {
  readonly recipe: Recipe;
  readonly recipeId: string | null;
  readonly drawings: readonly string[];
  /** `YYYY-MM-DD`. */
  readonly date: string;
  readonly title: string;
  /** Files that are not to be written, by their keys, and why. */
  readonly without: Readonly<Record<string, string>>;
  /** The set that this one does again. */
  readonly previous: SetRow | null;
  readonly request: string | null;
}

/** Somebody else takes numbers meanwhile: so often it is begun anew. */
const MOST_TRIES = 5;

/**
 * Makes a set: its row, its files, their names and running numbers, all or nothing. What would be made of exactly what the file before
 * was made of is not written again. Throws a `Problem` where drawings are still being looked at or nothing can be written.
 */
export async function makeSet(c: Context, job: Job, wanted: SetWanted): Promise<SetRow> {
  const before = wanted.previous ? await filesOf(c, wanted.previous.id) : [];
  const known = new Map<string, PlannedName>(before.flatMap((f) => (f.inSet ? [[f.inSet.key, f.inSet]] : [])));
  const template = await templateRevision(c, wanted.recipe);
  for (let i = 0; i < MOST_TRIES; i++) {
    const taken = await seriesOf(c, job.id);
    const planned = await plannedSet(c, job, wanted.drawings, wanted.recipe, {
      date: wanted.date,
      known,
      series: taken,
    });
    if (planned.looking > 0)
      throw new Problem(409, `${planned.looking} of its drawings are still being looked at.`, {
        remedy: 'Wait until the list is whole.',
        later: true,
      });
    const rows = await rowsOf(c, planned, wanted, template);
    const set = await inserted(c, job.id, wanted, planned, rows, before, taken);
    if (set) return set;
  }
  throw new Problem(409, 'Other sets of this job took running numbers again and again. Try once more.');
}

/** The files of a set that are not deleted, in their order. */
export const filesOf = (c: Context, setId: string): Promise<File[]> =>
  c.database.db
    .select()
    .from(deliveries)
    .where(and(eq(deliveries.setId, setId), isNull(deliveries.deletedAt)))
    .orderBy(asc(deliveries.place));

/** The revision of the template that a recipe names, whatever the job: recipes are of the workshop. */
async function templateRevision(c: Context, recipe: Recipe): Promise<string | null> {
  const target = targetUnder(recipe);
  const named = target && templateOf(target);
  if (!named) {
    if (recipe.template)
      throw new Problem(409, `The recipe asks for the template “${recipe.template.name}”, which is not here.`, {
        remedy: 'Take that very file in, in any job, and choose the recipe again.',
      });
    return null;
  }
  const found = isId(named) ? await findDrawing(c, named).catch(() => null) : null;
  if (!found || !isDrafting(found.revision.claims))
    throw new Problem(409, 'The template of the recipe is gone.', { remedy: 'Choose another in the recipe, or none.' });
  return found.revision.id;
}

interface Rows {
  readonly files: NewFile[];
  readonly stopped: SetStopped[];
  readonly leftOut: SetLeftOut[];
}

async function rowsOf(
  c: Context,
  { plan, sources }: Planned,
  wanted: SetWanted,
  template: string | null,
): Promise<Rows> {
  const out: Rows = { files: [], stopped: [], leftOut: plan.leftOut.map((l) => ({ ...l })) };
  const sourceOf = new Map(sources.map((s) => [s.set.id, s]));
  for (const file of plan.files) {
    const { source, piece } = file;
    const why = wanted.without[file.key];
    const held = { objects: file.objects ?? 0, ...(file.parts && { parts: file.parts.length }) };
    if (why !== undefined) out.leftOut.push({ source, what: piece ?? 'the whole drawing', why, ...held });
    else if (file.stop !== null) out.stopped.push({ source, piece, why: file.stop, ...held });
    else
      try {
        out.files.push(await fileRow(c, file, sourceOf.get(source)!, wanted.recipe, template));
      } catch (e) {
        if (!(e instanceof Problem)) throw e;
        out.stopped.push({ source, piece, why: e.message, ...held });
      }
  }
  if (out.files.length === 0)
    throw new Problem(409, `None of these files can be written${out.stopped[0] ? `: ${out.stopped[0].why}` : ''}.`);
  return out;
}

async function fileRow(
  c: Context,
  file: PlannedFile,
  { u }: Source,
  recipe: Recipe,
  template: string | null,
): Promise<NewFile> {
  const { drawing, revision } = u.found;
  const asked: Target = { ...targetUnder(recipe)!, name: file.name };
  if (template !== null) asked.options = { ...asked.options, template };
  if (file.parts) asked.parts = file.parts;
  const fault = targetFault(asked);
  if (fault) throw new Problem(400, `it cannot be written so: ${fault}`);
  if (!settleUnit(revision.claims as Parameters<typeof settleUnit>[0], u.intake))
    throw new Problem(409, 'nobody has said its unit: decide it at station one');
  // Parts were found on the drawing as its own steps leave it; the recipe's come after what is chosen of them.
  const before = recipe.ownSteps === 'aside' ? [] : drawing.steps;
  const { steps: own, parts } = await partsAsked(c, { ...drawing, steps: before }, asked);
  const steps = [...own, ...file.before, ...u.steps.slice(before.length), ...file.steps];
  const beside = valuesOf(BESIDE_FIELDS, recipe.beside ?? {}, null);
  const yardsticks: Yardstick[] = [
    // What is bound to places, and what counts whole drawings, is known of the whole drawing alone.
    ...(file.piece === null ? drawing.yardsticks : []),
    ...(recipe.yardsticks ?? []).map((y) => ({ ...y, places: [] })),
  ];
  const { key, piece, why, objects, name, asked: wished, clashes, numbers, values } = file;
  // What is a picture itself needs none beside it.
  const pixels = beside.pictures && !traitsOf(asked.format).pixels ? beside.pixels : undefined;
  // Only drafting files name pictures.
  const named = pixels !== undefined && beside.named && isDrafting(asked);
  const inSet = {
    ...{ key, piece, why, objects, name, asked: wished, clashes, numbers, values },
    ...(pixels && { pixels }),
    ...(named && { named }),
  };
  const { intake } = u;
  const given = file.before.length > 0 ? await givenTo(c, { ...drawing, steps }, revision) : u.given;
  const made = {
    revision: revision.id,
    intake,
    steps,
    target: asked,
    given,
    yardsticks,
    pixels,
    named,
    program: program(),
  };
  return {
    ...{ drawingId: drawing.id, revisionId: revision.id, target: asked, intake, steps, parts, yardsticks, inSet },
    ...given,
    madeFrom: createHash('sha256').update(canonicalText(made)).digest('hex'),
  };
}

/** What a file takes over from the one that it stands for; all of it where both are made of the same. */
function standingFor(file: NewFile, before: File | undefined): Partial<NewFile> {
  if (!before) return {};
  if (before.madeFrom !== file.madeFrom || before.state !== 'done' || !before.blob) return { previousId: before.id };
  const { fileName, mediaType, blob, size, ledger, proof, record, prepared, picture, pictureSize, beside } = before;
  return {
    ...{ fileName, mediaType, blob, size, ledger, proof, record, prepared, picture, pictureSize, beside },
    ...{ state: 'done', progress: 1, finishedAt: new Date(), previousId: before.id },
    differs: { same: true, fresh: 0, gone: 0, moved: 0, changed: 0 },
  };
}

/** Puts a set into the database; `null` where somebody took running numbers since they were looked at. */
function inserted(
  c: Context,
  jobId: string,
  wanted: SetWanted,
  { plan, sources }: Planned,
  rows: Rows,
  before: readonly File[],
  taken: Readonly<Record<string, number>>,
): Promise<SetRow | null> {
  const byKey = new Map(before.map((f) => [f.inSet?.key ?? '', f]));
  const counted = plan.files.every((f) => f.objects !== null);
  const byParts = plan.files.some((f) => f.parts !== null);
  return c.database.db.transaction(async (tx) => {
    // Two windows at once: one after the other, so that no number is given twice.
    await tx.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, jobId)).for('update');
    const now = await tx.select().from(series).where(eq(series.jobId, jobId));
    if (canonicalText(Object.fromEntries(now.map((r) => [r.name, r.next]))) !== canonicalText(taken)) return null;
    const [last] = await tx
      .select({ number: max(sets.number) })
      .from(sets)
      .where(eq(sets.jobId, jobId));
    const [set] = await tx
      .insert(sets)
      .values({
        ...{ jobId, number: (last?.number ?? 0) + 1, title: wanted.title, recipeId: wanted.recipeId },
        ...{ recipe: wanted.recipe, sources: [...wanted.drawings], date: wanted.date, request: wanted.request },
        ...{ leftOut: rows.leftOut, stopped: rows.stopped, waived: waivedOf(sources), without: wanted.without },
        listed: byParts ? sources.reduce((n, s) => n + (s.set.parts?.length ?? 0), 0) : null,
        objects: counted ? sources.reduce((n, s) => n + s.known.facts.objects, 0) : null,
        previousId: wanted.previous?.id ?? null,
      })
      .returning();
    const files = rows.files.map((f, place) => ({
      ...f,
      ...standingFor(f, byKey.get(f.inSet!.key)),
      ...{ setId: set!.id, place },
    }));
    for (let i = 0; i < files.length; i += 50) await tx.insert(deliveries).values(files.slice(i, i + 50));
    for (const [name, next] of Object.entries(plan.series))
      await tx
        .insert(series)
        .values({ jobId, name, next })
        .onConflictDoUpdate({ target: [series.jobId, series.name], set: { next: sql`excluded.next` } });
    return set!;
  });
}

const waivedOf = (sources: readonly Source[]): SetLeftOut[] =>
  sources.flatMap(({ set, known }) =>
    known.facts.waived.map((w) => ({ source: set.id, what: `${w.check} (${w.count})`, why: w.why, objects: 0 })),
  );
