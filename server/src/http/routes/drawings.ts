import { isDeepStrictEqual } from 'node:util';
import { and, desc, eq, isNull, max } from 'drizzle-orm';
import type { IntakeDecisions, Kept, PlannedStep, ReadAs, Target } from '@scalaria/core';
import {
  LATER_FIELDS,
  NO_DECISIONS,
  UNITS,
  intakeSchema,
  onNight,
  planFaults,
  readAs,
  reviewSchema,
  soundText,
  stepsSchema,
  targetAskedSchema,
  targetFor,
  upgradedPlan,
  yardsticksSchema,
} from '@scalaria/core';
import { drawings, jobs, revisions } from '../../database/schema.js';
import { storable } from '../../database/storable.js';
import type { Context } from '../context.js';
import { Problem, notFound } from '../problem.js';
import type { Ask, Route } from '../route.js';
import { drawingRowShape, drawingShape, revisionShape, shapes } from '../shapes.js';
import type { DrawingChange } from '../changes.js';
import { changed } from '../changes.js';
import { recheck } from '../corrections.js';
import { drawingOfKept, refuseSame, roomFor } from '../kept-files.js';
import { sendFile } from '../sending.js';
import { requestKey, takeBody } from '../taking.js';

type DrawingRow = typeof drawings.$inferSelect;
type RevisionRow = typeof revisions.$inferSelect;

interface Found {
  drawing: DrawingRow;
  revision: RevisionRow;
  job: { name: string; checkSettings: Record<string, Kept>; target: Target | null };
}

/** A drawing with its newest revision. Throws a 404 when either is missing. */
export async function findDrawing(c: Context, id: string): Promise<Found> {
  const [found] = await c.database.db
    .select({
      drawing: drawings,
      revision: revisions,
      job: { name: jobs.name, checkSettings: jobs.checkSettings, target: jobs.target },
    })
    .from(drawings)
    .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
    .innerJoin(jobs, eq(jobs.id, drawings.jobId))
    .where(eq(drawings.id, id))
    .orderBy(desc(revisions.number))
    .limit(1);
  if (!found) throw notFound('drawing');
  return found;
}

type ListedRevision = Pick<RevisionRow, 'claims' | 'size' | 'number'>;

export const rowOf = (d: DrawingRow, r: ListedRevision): Record<string, unknown> => ({
  id: d.id,
  jobId: d.jobId,
  name: d.name,
  createdAt: d.createdAt,
  deleted: d.deletedAt !== null,
  format: r.claims.format,
  version: r.claims.version,
  size: r.size,
  entities: r.claims.entities,
  extent: r.claims.bounds && {
    width: r.claims.bounds.maxX - r.claims.bounds.minX,
    height: r.claims.bounds.maxY - r.claims.bounds.minY,
  },
  unit: d.intake.unit ?? (r.claims.unit && r.claims.unit.unit !== 'px' ? r.claims.unit.unit : null),
  revision: r.number,
});

/** The drawings of a job that are not deleted, oldest first. Previews and ledgers stay where they are. */
export async function listDrawings(c: Context, jobId: string): Promise<unknown[]> {
  const rows = await c.database.db
    .selectDistinctOn([drawings.createdAt, drawings.id], {
      d: drawings,
      r: { claims: revisions.claims, size: revisions.size, number: revisions.number },
    })
    .from(drawings)
    .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
    .where(and(eq(drawings.jobId, jobId), isNull(drawings.deletedAt)))
    .orderBy(drawings.createdAt, drawings.id, desc(revisions.number));
  return rows.map(({ d, r }) => rowOf(d, r));
}

function present({ drawing: d, revision: r, job }: Found): unknown {
  return {
    ...rowOf(d, r),
    jobName: job.name,
    checks: job.checkSettings,
    fileName: r.fileName,
    claims: r.claims,
    ledger: r.ledger,
    intake: d.intake,
    steps: upgradedPlan(d.steps),
    review: d.review,
    yardsticks: d.yardsticks,
    target: d.target ?? job.target,
    seen: d.version,
  };
}

/** A file name for people: the last part of what was sent, without control characters. Never used as a path. */
export function displayName(sent: string | undefined): string {
  const name = (sent ?? '')
    .replace(/^.*[\\/]/, '')
    // Control characters, and marks that turn the direction of what follows, so that a name reads as it is.
    .replace(/[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '')
    .trim()
    .slice(0, 200);
  return name === '' || name === '.' || name === '..' ? 'drawing' : soundText(name);
}

export function drawingRoutes(c: Context): Route[] {
  const { db } = c.database;
  return [
    {
      method: 'post',
      path: '/api/jobs/{job}/drawings',
      summary: 'Take a file into a job: the raw bytes as body, its name in the query',
      query: {
        name: { type: 'string', maxLength: 1000 },
        again: { enum: ['yes'] },
        page: { type: 'string', pattern: '^[1-9][0-9]{0,3}$' },
        decimal: { enum: ['point', 'comma'] },
        third: { enum: ['bulge', 'height'] },
        unit: { enum: UNITS.map((u) => u.name) },
      },
      body: 'bytes',
      answer: drawingRowShape,
      status: 201,
      handle: (ask) => takeFile(c, ask),
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}',
      summary: 'What is known about a drawing, and what was decided',
      answer: drawingShape,
      handle: async ({ params }) => {
        return present(await findDrawing(c, params['drawing']!));
      },
    },
    {
      method: 'patch',
      path: '/api/drawings/{drawing}',
      summary: 'Keep decisions and steps, only those that changed; rename, delete or bring back',
      body: {
        ...shapes.object(
          {
            name: { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S' },
            intake: { ...intakeSchema, required: [] },
            unset: { type: 'array', items: { enum: LATER_FIELDS } },
            steps: stepsSchema,
            review: reviewSchema,
            yardsticks: yardsticksSchema,
            target: targetAskedSchema,
            deleted: shapes.boolean,
            /** The version of the drawing that the sender saw; without it nothing is a clash. */
            seen: shapes.integer,
          },
          ['name', 'intake', 'unset', 'steps', 'review', 'yardsticks', 'target', 'deleted', 'seen'],
        ),
        minProperties: 1,
      },
      answer: drawingShape,
      handle: async ({ params, body }) => {
        const change = body as DrawingChange;
        const [fault] = planFaults(change.steps ?? []);
        if (fault) throw new Problem(400, `${fault[0]!.toUpperCase()}${fault.slice(1)}.`);
        if (change.target) change.target = targetFor(change.target.format, { ...change.target });
        const found = await findDrawing(c, params['drawing']!);
        const before = readAs(found.drawing.intake);
        const drawing = await db.transaction(async (tx) => {
          // Two windows at once: one after the other, each seeing what the one before did.
          const [row] = await tx.select().from(drawings).where(eq(drawings.id, found.drawing.id)).for('update');
          if (!row) throw notFound('drawing');
          const set = changed(row, change);
          if (Object.keys(set).length === 0) return row;
          const [next] = await tx.update(drawings).set(set).where(eq(drawings.id, row.id)).returning();
          return next!;
        });
        // What the file claims depends on how it is read.
        const as = readAs(drawing.intake);
        const revision = isDeepStrictEqual(as, before) ? found.revision : await readAnew(c, found.revision, as);
        return present({ ...found, drawing, revision });
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/pages',
      summary: 'Take another page of the same file in as a drawing of its own',
      body: {
        type: 'object',
        properties: { page: { type: 'integer', minimum: 1, maximum: 9999 } },
        required: ['page'],
        additionalProperties: false,
      },
      answer: drawingRowShape,
      status: 201,
      handle: ({ params, body }) => takePage(c, params['drawing']!, (body as { page: number }).page),
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}/seen',
      summary:
        'The version of what is decided, and the newest revision: for a window that looks whether another changed it',
      answer: shapes.object({ seen: shapes.integer, revision: shapes.integer, deleted: shapes.boolean }),
      handle: async ({ params }) => {
        const [row] = await db
          .select({ seen: drawings.version, deletedAt: drawings.deletedAt, revision: max(revisions.number) })
          .from(drawings)
          .innerJoin(revisions, eq(revisions.drawingId, drawings.id))
          .where(eq(drawings.id, params['drawing']!))
          .groupBy(drawings.id);
        if (!row) throw notFound('drawing');
        return { seen: row.seen, revision: row.revision ?? 0, deleted: row.deletedAt !== null };
      },
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}/source',
      summary: 'The bytes of the newest revision, as they came',
      answer: 'bytes',
      handle: async (ask) => {
        const { revision } = await findDrawing(c, ask.params['drawing']!);
        sendFile(ask, await c.blobs.get(revision.blob), revision.fileName, 'application/octet-stream');
      },
    },
    {
      method: 'post',
      path: '/api/drawings/{drawing}/revisions',
      summary: 'Take a newer file of the same drawing: decisions and steps are taken over',
      query: { name: { type: 'string', maxLength: 1000 } },
      body: 'bytes',
      answer: drawingShape,
      status: 201,
      handle: (ask) => takeRevision(c, ask),
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}/revisions',
      summary: 'All revisions of a drawing, the newest first',
      answer: shapes.array(revisionShape),
      handle: async ({ params }) => {
        const { drawing } = await findDrawing(c, params['drawing']!);
        const rows = await db
          .select()
          .from(revisions)
          .where(eq(revisions.drawingId, drawing.id))
          .orderBy(desc(revisions.number));
        return rows.map(({ number, fileName, size, claims, createdAt }) => {
          const { format, version, entities } = claims;
          return { number, fileName, size, format, version, entities, createdAt };
        });
      },
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}/revisions/{number}/source',
      summary: 'The bytes of one revision, as they came',
      answer: 'bytes',
      handle: async (ask) => {
        const { drawing } = await findDrawing(c, ask.params['drawing']!);
        const number = Number(ask.params['number']);
        const [row] = await db
          .select()
          .from(revisions)
          .where(and(eq(revisions.drawingId, drawing.id), eq(revisions.number, number)));
        if (!row) throw notFound('revision');
        sendFile(ask, await c.blobs.get(row.blob), row.fileName, 'application/octet-stream');
      },
    },
    {
      method: 'get',
      path: '/api/drawings/{drawing}/picture',
      summary: 'A small picture of the newest revision, on paper or on night ground',
      query: { ground: { enum: ['paper', 'night'] } },
      answer: 'svg',
      handle: async (ask) => {
        const { revision } = await findDrawing(c, ask.params['drawing']!);
        ask.response.setHeader('Content-Type', 'image/svg+xml');
        ask.response.setHeader('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'");
        ask.response.setHeader('Cache-Control', 'private, max-age=60');
        ask.response.end(ask.query['ground'] === 'night' ? onNight(revision.preview) : revision.preview);
      },
    },
  ];
}

/** Reads a revision again in another way and keeps what it claims then. */
async function readAnew(c: Context, revision: RevisionRow, as: ReadAs): Promise<RevisionRow> {
  const { id, blob, fileName } = revision;
  const result = await c.pool.read({ bytes: await c.blobs.get(blob), name: fileName, as });
  if (!result.ok) throw new Problem(422, `${fileName}: ${result.found}.`, result);
  const { claims, ledger, preview } = storable(result);
  const { db } = c.database;
  const [read] = await db.update(revisions).set({ claims, ledger, preview }).where(eq(revisions.id, id)).returning();
  return read!;
}

/** Stores the bytes, reads them in a worker, and only then makes the rows: what is answered with 201 is safe. */
export async function takeFile(
  c: Context,
  ask: Ask,
  jobId = ask.params['job']!,
  /** What is done to it from the beginning, once its bytes are at hand. */
  stepsFor: (blob: string, fileName: string) => Promise<PlannedStep[]> = async () => [],
): Promise<unknown> {
  const { db } = c.database;
  const request = requestKey(ask);
  const [job] = await db
    .select()
    .from(jobs)
    .where(and(eq(jobs.id, jobId), isNull(jobs.deletedAt)));
  if (!job) throw notFound('job');
  const made = async (): Promise<unknown> => {
    if (!request) return undefined;
    const [known] = await db.select({ id: drawings.id }).from(drawings).where(eq(drawings.request, request));
    if (!known) return undefined;
    const { drawing, revision } = await findDrawing(c, known.id);
    return rowOf(drawing, revision);
  };
  const before = await made();
  if (before) {
    ask.request.resume();
    return before;
  }
  await roomFor(c, job.id);
  const again = ask.query['again'] === 'yes';
  const page = ask.query['page'] === undefined ? null : Number(ask.query['page']);
  const { decimal, third, unit } = ask.query as Partial<IntakeDecisions>;
  const said: Partial<IntakeDecisions> = {
    ...(page !== null && { fromPage: page }),
    ...(decimal && { decimal }),
    ...(third && { third }),
    ...(unit && { unit }),
  };
  const file = await readUpload(c, ask, readAs(said), async (hash, fileName) => {
    if (again) return;
    await refuseSame(c, job.id, hash, page, fileName);
  });
  const steps = await stepsFor(file.blob, file.fileName);
  return db.transaction(async (tx) => {
    const [drawing] = await tx
      .insert(drawings)
      .values({
        jobId: job.id,
        name: page === null ? file.fileName : `${file.fileName}, page ${page}`,
        intake: { ...NO_DECISIONS, ...said },
        steps,
        request,
      })
      .onConflictDoNothing()
      .returning();
    // The same request came twice at once: the other one made it.
    if (!drawing) return made();
    const [revision] = await tx
      .insert(revisions)
      .values({ drawingId: drawing.id, number: 1, ...file })
      .returning();
    return rowOf(drawing, revision!);
  });
}

/** Takes another page of a drawing's file in. */
async function takePage(c: Context, id: string, page: number): Promise<unknown> {
  const { drawing: of, revision } = await findDrawing(c, id);
  await refuseSame(c, of.jobId, revision.blob, page, `Page ${page}`);
  const intake = { ...NO_DECISIONS, fromPage: page };
  const made = { name: `${revision.fileName}, page ${page}`, intake, steps: [] };
  const { drawing, revision: first } = await drawingOfKept(c, of.jobId, revision, made);
  return rowOf(drawing, first);
}

/** Receives the bytes that are sent and reads them in a worker. Throws a `Problem` for what is too large or cannot be read. */
async function readUpload(
  c: Context,
  ask: Ask,
  as: ReadAs = {},
  known: (hash: string, fileName: string) => Promise<void> = async () => {},
): Promise<Omit<typeof revisions.$inferInsert, 'drawingId' | 'number'>> {
  const fileName = displayName(ask.query['name']);
  const controller = new AbortController();
  ask.request.once('aborted', () => controller.abort());
  ask.response.once('close', () => controller.abort());
  const remedy = 'Split the drawing, or raise SCALARIA_UPLOAD_MB.';
  const look = async (
    bytes: Uint8Array,
    { hash }: { hash: string },
  ): Promise<Pick<RevisionRow, 'claims' | 'ledger' | 'preview'>> => {
    await known(hash, fileName);
    const result = await c.pool.read({ bytes, name: fileName, as }, controller.signal);
    if (!result.ok)
      throw new Problem(422, `${fileName}: ${result.found}.`, { where: result.where, remedy: result.remedy });
    const { claims, ledger, preview } = storable(result);
    return { claims, ledger, preview };
  };
  const { hash, size, ...read } = await takeBody(c, ask, fileName, c.limits.uploadBytes, remedy, look);
  return { fileName, blob: hash, size, ...read };
}

/** Revisions beyond these are refused: each keeps its bytes. */
const MOST_REVISIONS = 500;

async function takeRevision(c: Context, ask: Ask): Promise<unknown> {
  const { db } = c.database;
  const id = ask.params['drawing']!;
  const found = await findDrawing(c, id);
  const request = requestKey(ask);
  const made = async (): Promise<RevisionRow | undefined> =>
    request ? (await db.select().from(revisions).where(eq(revisions.request, request)))[0] : undefined;
  const before = await made();
  if (before) {
    ask.request.resume();
    return present({ ...found, revision: before });
  }
  const file = await readUpload(c, ask, readAs(found.drawing.intake), async (hash, fileName) => {
    const [same] = await db
      .select({ number: revisions.number })
      .from(revisions)
      .where(and(eq(revisions.drawingId, id), eq(revisions.blob, hash)))
      .orderBy(desc(revisions.number))
      .limit(1);
    // An older file may come back as the newest revision; the newest itself is nothing new.
    if (same && same.number === found.revision.number)
      throw new Problem(
        409,
        `${fileName} is byte for byte the revision at hand (${same.number}): nothing was taken in.`,
        {
          remedy: 'Choose the newer file.',
        },
      );
  });
  const revision = await db.transaction(async (tx) => {
    // Two uploads at once must not take the same number.
    await tx.select({ id: drawings.id }).from(drawings).where(eq(drawings.id, id)).for('update');
    const [last] = await tx
      .select({ number: revisions.number })
      .from(revisions)
      .where(eq(revisions.drawingId, id))
      .orderBy(desc(revisions.number))
      .limit(1);
    const number = (last?.number ?? 0) + 1;
    if (number > MOST_REVISIONS)
      throw new Problem(409, `A drawing holds at most ${MOST_REVISIONS} revisions.`, {
        remedy: 'Take the file in as a drawing of its own.',
      });
    const [row] = await tx
      .insert(revisions)
      .values({ drawingId: id, number, ...file, request })
      .onConflictDoNothing()
      .returning();
    return row;
  });
  // What was asked of the author is looked for again; nobody waits for it.
  recheck(c, id).catch((e: unknown) => c.log.error(e, 'corrections'));
  // The answer is of the revision that this request made, whatever came after it.
  const now = await findDrawing(c, id);
  return present({ ...now, revision: revision ?? (await made()) ?? now.revision });
}
