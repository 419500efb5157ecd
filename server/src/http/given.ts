import { eq } from 'drizzle-orm';
import type { IntakeDecisions, PlannedStep } from '@scalaria/core';
import { takesReferencesIn } from '@scalaria/core';
import { gatheredFor } from './references.js';
import type { DeliveryFonts, DeliveryPicture, DeliveryReference } from '../database/schema.js';
import { jobs } from '../database/schema.js';
import type { Context } from './context.js';
import { referencesOf } from './references.js';
import { fontsOf } from './routes/fonts.js';
import { picturesOf } from './routes/pictures.js';

/** What a job gives to each of its drawings. */
export interface JobGives {
  readonly fonts: DeliveryFonts;
  readonly pictures: readonly DeliveryPicture[];
}

export async function jobGives(c: Context, jobId: string): Promise<JobGives> {
  const [job] = await c.database.db.select({ chart: jobs.fontChart }).from(jobs).where(eq(jobs.id, jobId));
  const files = (await fontsOf(c, jobId)).map(({ family, blob }) => ({ family, blob }));
  const pictures = (await picturesOf(c, jobId)).map(({ name, mediaType, blob }) => ({ name, mediaType, blob }));
  return { fonts: { chart: job?.chart ?? {}, files }, pictures };
}

/**
 * What a job gives to one of its drawings, as it is now: fonts and their chart, pictures that it names, drawings that it takes in.
 * `gives` is what the job gives to each of them, for whoever asks for many drawings at once.
 */
export async function givenTo(
  c: Context,
  drawing: { id: string; jobId: string; steps: PlannedStep[]; intake?: Partial<IntakeDecisions> },
  revision: { claims: { pictures?: string[]; references?: string[] } },
  gives?: JobGives,
): Promise<{ fonts: DeliveryFonts; pictures: DeliveryPicture[]; references: DeliveryReference[] }> {
  const { fonts, pictures: all } = gives ?? (await jobGives(c, drawing.jobId));
  // Only those that the drawing asks for.
  const under = drawing.intake?.under?.picture.toLowerCase();
  const named = revision.claims.pictures?.map((n) => n.toLowerCase());
  const pictures = all.filter(({ name }) => {
    const n = name.toLowerCase();
    return n === under || (named?.includes(n) ?? true);
  });
  const references = [
    ...(takesReferencesIn(drawing.steps) ? await referencesOf(c, drawing, revision) : []),
    ...(await gatheredFor(c, drawing)),
  ];
  return { fonts, pictures, references };
}
