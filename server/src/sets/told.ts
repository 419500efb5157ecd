import { createHash } from 'node:crypto';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { Manifest, ManifestFile, PageFont, ReportFile, ReportOf } from '@scalaria/core';
import { FORMAT_CATALOGUE, baseName, dataAddress, legalName, provenFacts, recipeText } from '@scalaria/core';
import { deliveries, drawings, jobs, revisions, sets } from '../database/schema.js';
import type { Context } from '../http/context.js';
import { notFound } from '../http/problem.js';
import { packaged } from '../shipped.js';
import type { SetRow } from './make.js';
import { companionsOf } from './companions.js';

type File = typeof deliveries.$inferSelect;
type Written = File & { revision: number; sourceFile: string; sourceBlob: string };

export async function findSet(c: Context, id: string): Promise<SetRow> {
  const [row] = await c.database.db.select().from(sets).where(eq(sets.id, id));
  if (!row) throw notFound('set');
  return row;
}

/** What jobs are called, by their ids. */
export async function jobNames(c: Context, list: readonly SetRow[]): Promise<Map<string, string>> {
  const ids = [...new Set(list.map((s) => s.jobId))];
  const rows = await c.database.db.select({ id: jobs.id, name: jobs.name }).from(jobs).where(inArray(jobs.id, ids));
  return new Map(rows.map((r) => [r.id, r.name]));
}

/** What a set is called where it stands as a folder or an archive: its job and its running number. */
export const folderName = (set: SetRow, names: ReadonlyMap<string, string>): string =>
  `${legalName(names.get(set.jobId) ?? 'set').replace(/ /g, '-')}-${String(set.number).padStart(2, '0')}`;

/** The files of a set with what they were made from, in their order; those of them in some states, where asked. */
export async function writtenIn(c: Context, setId: string): Promise<Written[]> {
  const rows = await c.database.db
    .select({
      file: deliveries,
      revision: revisions.number,
      sourceFile: revisions.fileName,
      sourceBlob: revisions.blob,
    })
    .from(deliveries)
    .innerJoin(revisions, eq(revisions.id, deliveries.revisionId))
    .where(and(eq(deliveries.setId, setId), isNull(deliveries.deletedAt)))
    .orderBy(deliveries.place);
  return rows.map(({ file, ...rest }) => ({ ...file, ...rest }));
}

/** What the picture beside a file is called. */
export const pictureName = (fileName: string): string => `${baseName(fileName)}.png`;

function manifestFile(f: Written): ManifestFile {
  const { inSet, record, target } = f;
  const beside = companionsOf(f.fileName!, f.beside);
  const own = inSet?.named && f.picture ? [pictureName(f.fileName!)] : [];
  const names = [...beside.filter((b) => b.named).map((b) => b.name), ...own];
  return {
    ...{ name: f.fileName!, sha256: f.blob!, bytes: f.size! },
    ...{ format: target.format, version: target.version },
    ...provenFacts(record!, f.proof!, f.ledger!),
    source: { name: f.sourceFile, sha256: f.sourceBlob, revision: f.revision },
    ...{ parts: f.parts, piece: inSet?.piece ?? null },
    ...{ material: inSet?.values.material ?? '', thickness: inSet?.values.thickness ?? '' },
    asked: inSet?.asked ?? null,
    ...(f.prepared !== null && { prepared: f.prepared }),
    unchanged: f.differs?.same ?? false,
    picture: f.picture ? { name: pictureName(f.fileName!), sha256: f.picture } : null,
    ...(beside.length > 0 && { beside: beside.map(({ name, sha256 }) => ({ name, sha256 })) }),
    ...(names.length > 0 && { names }),
  };
}

const isDone = (f: Written): boolean => f.state === 'done' && f.blob !== null && f.record !== null;

/** Names of the drawings of a set, by their ids. */
async function namesOf(c: Context, set: SetRow): Promise<Map<string, string>> {
  const rows = await c.database.db
    .select({ id: drawings.id, name: drawings.name })
    .from(drawings)
    .where(inArray(drawings.id, set.sources));
  return new Map(rows.map((r) => [r.id, r.name]));
}

/** What could not be written of a set, each with the drawing, what of it, and why. */
const failedOf = (set: SetRow, files: readonly Written[], names: ReadonlyMap<string, string>) => [
  ...set.stopped.map((s) => ({ source: called(names.get(s.source) ?? 'a drawing', s.piece), why: s.why })),
  ...files
    .filter((f) => !isDone(f))
    .map((f) => ({
      source: called(names.get(f.drawingId) ?? f.sourceFile, f.inSet?.piece ?? null),
      why: f.error ?? (f.state === 'cancelled' ? 'it was stopped' : 'it is not written yet'),
    })),
];
const called = (drawing: string, piece: string | null): string => (piece === null ? drawing : `${drawing}: ${piece}`);

/** The manifest of a set as it is now. */
export async function manifestOf(c: Context, set: SetRow): Promise<Manifest> {
  const files = await writtenIn(c, set.id);
  const names = await namesOf(c, set);
  const done = files.filter(isDone);
  const undone = files.filter((f) => !isDone(f));
  const failed = failedOf(set, files, names);
  const objects = (list: readonly { readonly objects?: number | null }[]): number =>
    list.reduce((n, l) => n + (l.objects ?? 0), 0);
  const parts = (list: readonly { readonly parts?: number }[]): number => list.reduce((n, l) => n + (l.parts ?? 0), 0);
  const partsIn = (list: readonly Written[]): number => list.reduce((n, f) => n + (f.parts?.length ?? 0), 0);
  const recipe = recipeText(set.recipe);
  return {
    manifest: 1,
    recipe: { title: set.recipe.title ?? 'Recipe', sha256: createHash('sha256').update(recipe).digest('hex') },
    files: done.map(manifestFile),
    failed,
    leftOut: set.leftOut.map((l) => ({ source: `${names.get(l.source) ?? 'a drawing'}: ${l.what}`, why: l.why })),
    expected: files.length + set.stopped.length,
    void: undone.flatMap((f) => Object.entries(f.inSet?.numbers ?? {}).map(([series, number]) => ({ series, number }))),
    ...(set.objects !== null && {
      objects: {
        prepared: set.objects,
        written: done.reduce((n, f) => n + (f.prepared ?? 0), 0),
        leftOut: objects(set.leftOut) + objects(set.stopped) + objects(undone.map((f) => f.inSet ?? {})),
      },
    }),
    ...(set.listed !== null && {
      parts: {
        listed: set.listed,
        inFiles: partsIn(done),
        leftOut: parts(set.leftOut) + parts(set.stopped) + partsIn(undone),
      },
    }),
  };
}

let faces: PageFont[] | null = null;
/** The letters of pages, held in them. */
export const pageFonts = (): PageFont[] =>
  (faces ??= (
    [
      ['Spline Sans', 400, 'spline-sans-latin-400-normal'],
      ['Spline Sans', 700, 'spline-sans-latin-700-normal'],
      ['Spline Sans Mono', 400, 'spline-sans-mono-latin-400-normal'],
    ] as const
  ).map(([family, weight, file]) => ({
    ...{ family, weight },
    address: dataAddress('font/woff2', packaged(`@scalaria/core/fonts/${file}.woff2`)),
  })));

function reportFile(f: Written): ReportFile {
  const { target } = f;
  return {
    ...{ name: f.fileName!, bytes: f.size!, sha256: f.blob! },
    format: `${FORMAT_CATALOGUE[target.format].title} ${target.version}`,
    source: { name: f.sourceFile, revision: f.revision, sha256: f.sourceBlob },
    ...{ proof: f.proof!, ledger: f.ledger!, record: f.record! },
  };
}

/** All that the report of a set shows. */
export async function reportOfSet(c: Context, set: SetRow): Promise<ReportOf> {
  const files = await writtenIn(c, set.id);
  const names = await namesOf(c, set);
  const [job] = await c.database.db.select({ name: jobs.name }).from(jobs).where(eq(jobs.id, set.jobId));
  const named = (l: { source: string }): string => names.get(l.source) ?? 'a drawing';
  return {
    ...{ title: `${set.title}, set ${set.number}`, job: job?.name ?? '', receiver: set.recipe.receiver ?? '' },
    date: set.date,
    recipe: { title: set.recipe.title ?? '', note: set.recipe.note ?? '' },
    files: files.filter(isDone).map(reportFile),
    failed: failedOf(set, files, names),
    leftOut: set.leftOut.map((l) => ({ ...l, source: named(l) })),
    waived: set.waived.map((w) => ({ ...w, source: named(w) })),
    fonts: pageFonts(),
  };
}

/** The report of one file by itself. `null` where it was written before reports were. */
export async function reportOfFile(c: Context, id: string): Promise<ReportOf | null> {
  const [row] = await c.database.db
    .select({
      file: deliveries,
      revision: revisions.number,
      sourceFile: revisions.fileName,
      sourceBlob: revisions.blob,
      job: jobs.name,
    })
    .from(deliveries)
    .innerJoin(revisions, eq(revisions.id, deliveries.revisionId))
    .innerJoin(drawings, eq(drawings.id, deliveries.drawingId))
    .innerJoin(jobs, eq(jobs.id, drawings.jobId))
    .where(eq(deliveries.id, id));
  if (!row) throw notFound('delivery');
  const { file, job, ...rest } = row;
  const written = { ...file, ...rest };
  if (!isDone(written)) return null;
  return {
    ...{ title: file.fileName!, job, receiver: '', date: file.createdAt.toISOString().slice(0, 10), recipe: null },
    ...{ files: [reportFile(written)], failed: [], leftOut: [], waived: [], fonts: pageFonts() },
  };
}
