import { and, desc, eq, inArray, isNull, ne } from 'drizzle-orm';
import type { PlannedStep } from '@scalaria/core';
import { gatheredBy, gatheredName, isDrafting, referencesAmong } from '@scalaria/core';
import type { DeliveryReference } from '../database/schema.js';
import { drawings, revisions } from '../database/schema.js';
import type { Context } from './context.js';
import { isId } from './route.js';

/** The drawings of a job that one of them refers to, and those that these refer to, each as it is now. */
export async function referencesOf(
  c: Context,
  drawing: { id: string; jobId: string },
  revision: { claims: { references?: string[] } },
): Promise<DeliveryReference[]> {
  const rows = await c.database.db
    .selectDistinctOn([drawings.createdAt, drawings.id], {
      name: drawings.name,
      fileName: revisions.fileName,
      blob: revisions.blob,
      claims: revisions.claims,
    })
    .from(drawings)
    .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
    .where(and(eq(drawings.jobId, drawing.jobId), isNull(drawings.deletedAt), ne(drawings.id, drawing.id)))
    .orderBy(drawings.createdAt, drawings.id, desc(revisions.number));
  // Drawings that were read before references were asked for do not say which they have: any may be meant.
  const files = rows.filter((r) => isDrafting(r.claims)).map((r) => ({ ...r, references: r.claims.references ?? [] }));
  const found = revision.claims.references ? referencesAmong(revision.claims.references, files) : files;
  return found.map(({ name, fileName, blob }) => ({ name, fileName, blob }));
}

/** The drawings of the same job that a plan gathers, each as it is now and as it is prepared by itself. */
export async function gatheredFor(
  c: Context,
  drawing: { id: string; jobId: string; steps: PlannedStep[] },
): Promise<DeliveryReference[]> {
  const ids = gatheredBy(drawing.steps).filter((id) => isId(id) && id !== drawing.id);
  if (ids.length === 0) return [];
  const rows = await c.database.db
    .selectDistinctOn([drawings.id], { drawing: drawings, fileName: revisions.fileName, blob: revisions.blob })
    .from(drawings)
    .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
    .where(and(eq(drawings.jobId, drawing.jobId), isNull(drawings.deletedAt), inArray(drawings.id, ids)))
    .orderBy(drawings.id, desc(revisions.number));
  return rows.map(({ drawing: d, fileName, blob }) => ({
    name: gatheredName(d.id),
    ...{ fileName, blob },
    // What it gathers itself stays with it.
    prepared: { intake: d.intake, steps: d.steps.filter((s) => gatheredBy([s]).length === 0) },
  }));
}
