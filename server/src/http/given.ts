import { eq } from 'drizzle-orm';
import type { PlannedStep } from '@scalaria/core';
import { takesReferencesIn } from '@scalaria/core';
import { gatheredFor } from './references.js';
import type { DeliveryFonts, DeliveryPicture, DeliveryReference } from '../database/schema.js';
import { jobs } from '../database/schema.js';
import type { Context } from './context.js';
import { referencesOf } from './references.js';
import { fontsOf } from './routes/fonts.js';
import { picturesOf } from './routes/pictures.js';

/** What a job gives to one of its drawings, as it is now: fonts and their chart, pictures that it names, drawings that it takes in. */
export async function givenTo(
  c: Context,
  drawing: { id: string; jobId: string; steps: PlannedStep[] },
  revision: { claims: { pictures?: string[]; references?: string[] } },
): Promise<{ fonts: DeliveryFonts; pictures: DeliveryPicture[]; references: DeliveryReference[] }> {
  const [job] = await c.database.db.select().from(jobs).where(eq(jobs.id, drawing.jobId));
  const files = (await fontsOf(c, drawing.jobId)).map(({ family, blob }) => ({ family, blob }));
  // Only those that the drawing asks for.
  const named = revision.claims.pictures?.map((n) => n.toLowerCase());
  const pictures = (await picturesOf(c, drawing.jobId))
    .filter((p) => named?.includes(p.name.toLowerCase()) ?? true)
    .map(({ name, mediaType, blob }) => ({ name, mediaType, blob }));
  const references = [
    ...(takesReferencesIn(drawing.steps) ? await referencesOf(c, drawing, revision) : []),
    ...(await gatheredFor(c, drawing)),
  ];
  return { fonts: { chart: job?.fontChart ?? {}, files }, pictures, references };
}
