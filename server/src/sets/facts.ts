import { createHash } from 'node:crypto';
import { and, desc, eq, inArray, isNull } from 'drizzle-orm';
import type { IntakeDecisions, PlannedStep, Recipe, SourceFacts, Target } from '@scalaria/core';
import {
  EXPECT_FIELDS,
  NO_DECISIONS,
  canonicalText,
  settleUnit,
  sourceFactsNone,
  stepsUnder,
  targetFault,
  targetFor,
  valuesOf,
} from '@scalaria/core';
import type { Loss } from '../database/schema.js';
import { drawings, jobs, revisions, sourceFacts } from '../database/schema.js';
import { storable } from '../database/storable.js';
import type { Context } from '../http/context.js';
import { givenTo, jobGives } from '../http/given.js';
import { givenFiles } from '../tasks/deliveries.js';

type Found = Awaited<ReturnType<typeof foundOf>>[number];
type Row = typeof sourceFacts.$inferSelect;

/** A drawing under a recipe: what is done to it, and from what. */
export interface Under {
  readonly found: Found;
  readonly intake: IntakeDecisions;
  readonly steps: PlannedStep[];
  readonly given: Awaited<ReturnType<typeof givenTo>>;
}

/** Decisions of a drawing, and of a recipe where the drawing has left everything to what happens by itself. */
export function intakeUnder(recipe: Recipe, own: IntakeDecisions): IntakeDecisions {
  const out: Record<string, unknown> = { ...own };
  const none = NO_DECISIONS as unknown as Record<string, unknown>;
  for (const [field, value] of Object.entries(recipe.intake ?? {}))
    if (canonicalText(out[field] ?? null) === canonicalText(none[field] ?? null)) out[field] = value;
  return out as unknown as IntakeDecisions;
}

/** Drawings of a job under a recipe, in the order asked for; those that are not in the job are missing. */
export async function under(c: Context, jobId: string, ids: readonly string[], recipe: Recipe): Promise<Under[]> {
  const gives = await jobGives(c, jobId);
  const byId = new Map((await foundOf(c, jobId, ids)).map((f) => [f.drawing.id, f]));
  const out: Under[] = [];
  for (const id of ids) {
    const found = byId.get(id);
    if (!found) continue;
    const steps = stepsUnder(recipe, found.drawing.steps);
    const given = await givenTo(c, { ...found.drawing, steps }, found.revision, gives);
    out.push({ found, intake: intakeUnder(recipe, found.drawing.intake), steps, given });
  }
  return out;
}

/** Drawings with their newest revisions in one question, however many; previews and ledgers stay where they are. */
const foundOf = (c: Context, jobId: string, ids: readonly string[]) =>
  c.database.db
    .selectDistinctOn([drawings.id], {
      drawing: drawings,
      revision: {
        ...{ id: revisions.id, number: revisions.number, fileName: revisions.fileName, blob: revisions.blob },
        ...{ size: revisions.size, claims: revisions.claims },
      },
      job: { checkSettings: jobs.checkSettings },
    })
    .from(drawings)
    .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
    .innerJoin(jobs, eq(jobs.id, drawings.jobId))
    .where(and(eq(drawings.jobId, jobId), isNull(drawings.deletedAt), inArray(drawings.id, [...ids])))
    .orderBy(drawings.id, desc(revisions.number));

/** What files of a recipe are written as; `null` where it does not say. */
export const targetUnder = (recipe: Recipe): Target | null =>
  recipe.target?.format ? targetFor(recipe.target.format, { ...recipe.target }) : null;

/** What is known of a drawing; `facts` from what its file claims until its preparing has been looked at. */
export interface KnownFacts {
  readonly facts: SourceFacts;
  readonly losses: readonly Loss[];
  readonly fault: string | null;
  readonly ready: boolean;
}

/** Which facts are asked for: those that were found before more of them were asked for are found again. */
const FACTS = 2;

const running = new Map<string, Promise<void>>();

/** What is known of drawings under a recipe, in their order. Where that is not all, looking begins, and whoever asks again is told more. */
export async function factsOf(c: Context, all: readonly Under[], recipe: Recipe): Promise<KnownFacts[]> {
  const ids = all.map((u) => u.found.drawing.id);
  const rows = await c.database.db.select().from(sourceFacts).where(inArray(sourceFacts.drawingId, ids));
  const byId = new Map(rows.map((r) => [r.drawingId, r]));
  return all.map((u) => knownOf(c, u, recipe, byId.get(u.found.drawing.id)));
}

function knownOf(c: Context, u: Under, recipe: Recipe, row: Row | undefined): KnownFacts {
  const { drawing, revision } = u.found;
  const checks = valuesOf(EXPECT_FIELDS, recipe.expects ?? {}, null).checks as string[];
  const settings = u.found.job.checkSettings;
  const target = targetUnder(recipe);
  const { intake, steps, given } = u;
  const { review } = drawing;
  const text = canonicalText({
    asked: FACTS,
    blob: revision.blob,
    name: revision.fileName,
    intake,
    steps,
    given,
    checks,
    settings,
    review,
    target,
  });
  const print = createHash('sha256').update(text).digest('hex');
  const { db } = c.database;
  if (row?.foundFrom === print)
    return { facts: row.facts ?? claimed(u), losses: row.losses ?? [], fault: row.fault, ready: true };
  const key = `${drawing.id} ${print}`;
  if (!running.has(key)) {
    const run = look().finally(() => running.delete(key));
    running.set(key, run);
    run.catch((e: unknown) => c.log.error(e, 'facts of a drawing'));
  }
  return { facts: claimed(u), losses: [], fault: null, ready: false };

  async function look(): Promise<void> {
    const bytes = await c.blobs.get(revision.blob);
    const files = await givenFiles(c.blobs, given);
    // What cannot be written is told when it is asked for; here it would hide the rest.
    const writes = target && !targetFault(target) ? withoutTemplate(target) : null;
    const result = await c.pool
      .facts({ bytes, name: revision.fileName, intake, steps, ...files, checks, settings, review, target: writes })
      .catch((e: unknown) => {
        c.log.error(e, 'facts of a drawing');
        return { ok: false as const, message: 'it took too long, or more memory than is allowed' };
      });
    const told = storable(result);
    const set = told.ok
      ? { facts: told.facts, losses: told.losses, fault: null }
      : { facts: null, losses: null, fault: told.message };
    await db
      .insert(sourceFacts)
      .values({ drawingId: drawing.id, foundFrom: print, ...set })
      .onConflictDoUpdate({ target: sourceFacts.drawingId, set: { foundFrom: print, ...set } });
  }
}

/** A target that asks for no template; only drafting files know one. */
function withoutTemplate(target: Target): Target {
  const { template: _, ...options } = target.options;
  return { ...target, options };
}

/** What the file itself says, before its preparing has been looked at. */
function claimed({ found: { revision }, intake }: Under): SourceFacts {
  const { claims } = revision;
  return {
    ...sourceFactsNone(settleUnit(claims as Parameters<typeof settleUnit>[0], intake)?.unit ?? null),
    objects: claims.entities,
    layers: claims.layers.map((l) => ({ name: l.name, objects: l.count })),
    // What is drawn on them is counted when the drawing is looked at.
    sheets: claims.sheets.map((name) => ({ name, objects: 0 })),
  };
}
