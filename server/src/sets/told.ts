import { createHash } from 'node:crypto';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { Manifest, ManifestFile, PageFont, ReportFile, ReportOf, Verdict } from '@scalaria/core';
import { FORMAT_CATALOGUE, actionsOf, dataAddress, legalName, recipeText, weigh } from '@scalaria/core';
import { deliveries, drawings, jobs, partBooks, revisions, sets } from '../database/schema.js';
import type { Context } from '../http/context.js';
import { notFound } from '../http/problem.js';
import { packaged } from '../shipped.js';
import type { SetRow } from './make.js';

type File = typeof deliveries.$inferSelect;
type Written = File & { revision: number; sourceFile: string; sourceBlob: string };

export async function findSet(c: Context, id: string): Promise<SetRow> {
  const [row] = await c.database.db.select().from(sets).where(eq(sets.id, id));
  if (!row) throw notFound('set');
  return row;
}

/** What a set is called where it stands as a folder or an archive: its job and its running number. */
export async function folderName(c: Context, set: SetRow): Promise<string> {
  const [job] = await c.database.db.select({ name: jobs.name }).from(jobs).where(eq(jobs.id, set.jobId));
  return `${legalName(job?.name ?? 'set').replace(/ /g, '-')}-${String(set.number).padStart(2, '0')}`;
}

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

/** What the proof of a file comes to, in the words of a manifest. */
export const proofWords = ({ holds, lost, whole }: Verdict): ManifestFile['proof'] =>
  !holds ? 'does not hold' : lost > 0 || !whole ? 'holds with exceptions' : 'holds';

const baseOf = (fileName: string): string => fileName.replace(/\.[^.]+$/, '');

function manifestFile(f: Written): ManifestFile {
  const { inSet, record, target } = f;
  const held = record?.yardsticks.map((y) => y.held.state) ?? [];
  const count = (state: string): number => held.filter((s) => s === state).length;
  return {
    ...{ name: f.fileName!, sha256: f.blob!, bytes: f.size! },
    ...{ format: target.format, version: target.version, ...record!.facts },
    source: { name: f.sourceFile, sha256: f.sourceBlob, revision: f.revision },
    ...{ parts: f.parts, piece: inSet?.piece ?? null },
    ...{ material: inSet?.values.material ?? '', thickness: inSet?.values.thickness ?? '' },
    ...{ proof: proofWords(weigh(f.proof!)), ledger: actionsOf(f.ledger!), asked: inSet?.asked ?? null },
    ...(f.prepared !== null && { prepared: f.prepared }),
    yardsticks: { holds: count('holds'), fails: count('fails'), undecided: count('undecided') },
    unchanged: f.differs?.same ?? false,
    picture: f.picture ? { name: `${baseOf(f.fileName!)}.png`, sha256: f.picture } : null,
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
    ...(await partsOf(c, set, done)),
  };
}

/** The sum of parts: listed, in files, left out; of sets whose files are by parts. */
async function partsOf(c: Context, set: SetRow, done: readonly Written[]): Promise<Pick<Manifest, 'parts'>> {
  const by = set.recipe.split?.['by'];
  if (by !== 'parts' && by !== 'stock') return {};
  const books = await c.database.db
    .select({ book: partBooks.book })
    .from(partBooks)
    .where(and(inArray(partBooks.drawingId, set.sources), eq(partBooks.listed, true)));
  const listed = books.flatMap((b) => b.book?.rows ?? []);
  const inFiles = new Set(done.flatMap((f) => (f.parts ?? []).map((p) => `${f.drawingId} ${p}`))).size;
  return { parts: { listed: listed.length, inFiles, leftOut: listed.length - inFiles } };
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
