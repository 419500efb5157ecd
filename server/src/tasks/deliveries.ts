import type { AlongBlob } from '../sets/companions.js';
import { randomUUID } from 'node:crypto';
import { and, eq, inArray, lt, ne, or, isNull, sql } from 'drizzle-orm';
import type { SQL } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Target } from '@scalaria/core';
import { templateOf, upgradedTarget } from '@scalaria/core';
import type { BlobStore } from '../blobs/blob-store.js';
import { DamagedBlob, NoRoom } from '../blobs/blob-store.js';
import type { Database } from '../database/open.js';
import type { DeliveryFonts, DeliveryPicture, DeliveryReference, DeliveryState } from '../database/schema.js';
import { deliveries, revisions } from '../database/schema.js';
import { storable } from '../database/storable.js';
import type { WorkerPool } from './pool.js';
import { TookTooLong } from './pool.js';
import type { GivenFonts, PictureFile, ReferenceFile } from './worker.js';

/** Something a person can do about; its words are shown. */
class Unfit extends Error {}

/** The bytes of the revision that a target takes its tables from. */
export async function templateFile(
  database: Database,
  blobs: BlobStore,
  target: Target,
): Promise<{ template?: { bytes: Uint8Array; name: string } }> {
  const template = templateOf(target);
  if (template === null) return {};
  const [given] = await database.db.select().from(revisions).where(eq(revisions.id, template));
  if (!given) throw new Unfit('The template is gone. Choose another, or none.');
  return { template: { bytes: await blobs.get(given.blob), name: given.fileName } };
}

/** The bytes of the fonts that a delivery was asked for with. */
async function givenFonts(blobs: BlobStore, fonts: DeliveryFonts): Promise<{ fonts: GivenFonts }> {
  const files = await Promise.all(fonts.files.map(async (f) => ({ family: f.family, bytes: await blobs.get(f.blob) })));
  return { fonts: { chart: fonts.chart, files } };
}

/** The bytes of the pictures that a delivery was asked for with. */
async function givenPictures(blobs: BlobStore, list: readonly DeliveryPicture[]): Promise<{ pictures: PictureFile[] }> {
  const read = ({ name, mediaType, blob }: DeliveryPicture): Promise<PictureFile> =>
    blobs.get(blob).then((bytes) => ({ name, mediaType, bytes }));
  return { pictures: await Promise.all(list.map(read)) };
}

/** The bytes of the reference drawings that a delivery was asked for with. */
async function givenReferences(
  blobs: BlobStore,
  list: readonly DeliveryReference[],
): Promise<{ references: ReferenceFile[] }> {
  const read = ({ blob, ...of }: DeliveryReference): Promise<ReferenceFile> =>
    blobs.get(blob).then((bytes) => ({ ...of, bytes }));
  return { references: await Promise.all(list.map(read)) };
}

/** All that a job gives to a delivery. */
export const givenFiles = async (
  blobs: BlobStore,
  row: { fonts: DeliveryFonts; pictures: readonly DeliveryPicture[]; references: readonly DeliveryReference[] },
): Promise<{ fonts: GivenFonts; pictures: PictureFile[]; references: ReferenceFile[] }> => ({
  ...(await givenFonts(blobs, row.fonts)),
  ...(await givenPictures(blobs, row.pictures)),
  ...(await givenReferences(blobs, row.references)),
});

/** How often a delivery is begun at most: one that stops its server each time must not do so for ever. */
export const MAX_ATTEMPTS = 3;
const GIVEN_UP = `It was begun ${MAX_ATTEMPTS} times, and each time the server stopped before it was done, so it is not tried again.`;
/** A process renews its claims this often, and they hold for so long. */
const BEAT_MS = 1000;
const LEASE_MS = 30_000;

type Row = typeof deliveries.$inferSelect;

/**
 * The queue of deliveries is their table: a row that waits is taken by whichever process has a thread free, the oldest
 * first, under a lease that the process renews while it lives. What a process that died was working on waits again.
 */
export class DeliveryQueue {
  private readonly process = randomUUID();
  private readonly running = new Map<string, AbortController>();
  private timer: NodeJS.Timeout | null = null;
  private pumping = false;
  /** What was begun before and has the threads to itself. */
  private suspect: string | null = null;
  private again = false;

  constructor(
    private readonly database: Database,
    private readonly blobs: BlobStore,
    private readonly pool: WorkerPool,
    private readonly log: Logger,
    /** How many are worked on at once. */
    private readonly threads: number,
  ) {}

  /** `alone`: no other process shares the database, so whatever is being worked on was left by one that died. */
  async start(alone: boolean): Promise<void> {
    await this.recover(alone ? undefined : this.expired());
    this.timer = setInterval(() => void this.beat().catch((e: unknown) => this.log.error(e, 'queue')), BEAT_MS);
    void this.pump();
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    const ids = [...this.running.keys()];
    for (const c of this.running.values()) c.abort();
    if (ids.length === 0) return;
    // Stopped on purpose, so that this attempt does not count.
    await this.database.db
      .update(deliveries)
      .set({ state: 'waiting', progress: 0, attempts: sql`${deliveries.attempts} - 1`, worker: null, leaseUntil: null })
      .where(and(inArray(deliveries.id, ids), eq(deliveries.state, 'working'), eq(deliveries.worker, this.process)));
  }

  /** Tells that a delivery waits. */
  enqueue(): void {
    void this.pump();
  }

  /** Stops a delivery that waits or runs. One that has ended stays as it is. */
  async cancel(id: string): Promise<void> {
    await this.database.db
      .update(deliveries)
      .set({ state: 'cancelled', finishedAt: new Date() })
      .where(and(eq(deliveries.id, id), inArray(deliveries.state, ['waiting', 'held', 'working'])));
    this.running.get(id)?.abort();
  }

  /** Holds the files of a set that nobody has begun; what is being written is written to its end. */
  async hold(setId: string): Promise<void> {
    await this.database.db
      .update(deliveries)
      .set({ state: 'held' })
      .where(and(eq(deliveries.setId, setId), eq(deliveries.state, 'waiting')));
  }

  /** Goes on with a set that was held; with `again`, also with what failed or was stopped by hand. */
  async goOn(setId: string, again: boolean): Promise<void> {
    const states: DeliveryState[] = again ? ['held', 'failed', 'cancelled'] : ['held'];
    await this.database.db
      .update(deliveries)
      .set({ state: 'waiting', progress: 0, attempts: 0, error: null, finishedAt: null })
      .where(and(eq(deliveries.setId, setId), inArray(deliveries.state, states)));
    void this.pump();
  }

  private expired(): SQL | undefined {
    return or(isNull(deliveries.leaseUntil), lt(deliveries.leaseUntil, new Date()));
  }

  /** What was being worked on by a process that is gone waits again, or is given up. */
  private async recover(which: SQL | undefined): Promise<void> {
    const left = and(
      eq(deliveries.state, 'working'),
      or(isNull(deliveries.worker), ne(deliveries.worker, this.process)),
      which,
    );
    const { db } = this.database;
    await db
      .update(deliveries)
      .set({ state: 'failed', error: GIVEN_UP, finishedAt: new Date() })
      .where(and(left, sql`${deliveries.attempts} >= ${MAX_ATTEMPTS}`));
    await db.update(deliveries).set({ state: 'waiting', progress: 0, worker: null, leaseUntil: null }).where(left);
  }

  private async beat(): Promise<void> {
    const { db } = this.database;
    const ids = [...this.running.keys()];
    if (ids.length > 0) {
      const mine = await db
        .update(deliveries)
        .set({ leaseUntil: new Date(Date.now() + LEASE_MS) })
        .where(and(inArray(deliveries.id, ids), eq(deliveries.state, 'working'), eq(deliveries.worker, this.process)))
        .returning({ id: deliveries.id });
      // What is no longer ours was stopped through another process.
      const still = new Set(mine.map((r) => r.id));
      for (const id of ids) if (!still.has(id)) this.running.get(id)?.abort();
    }
    await this.recover(this.expired());
    await this.pump();
  }

  /**
   * Takes what waits as long as there are threads for it. What a process died over is begun again by itself, with nothing beside it:
   * if it brings this one down too, nobody else is blamed for it.
   */
  private async pump(): Promise<void> {
    this.again = true;
    if (this.pumping) return;
    this.pumping = true;
    try {
      while (this.again) {
        this.again = false;
        while (this.timer && this.running.size < this.threads && !this.suspect) {
          const row = await this.take();
          if (!row) break;
          if (row.attempts > 1) this.suspect = row.id;
          const controller = new AbortController();
          this.running.set(row.id, controller);
          void this.work(row, controller.signal)
            .catch((e: unknown) => this.log.error(e, 'delivery'))
            .finally(() => {
              this.running.delete(row.id);
              if (this.suspect === row.id) this.suspect = null;
              void this.pump();
            });
        }
      }
    } catch (e) {
      this.log.error(e, 'queue');
    } finally {
      this.pumping = false;
    }
  }

  private async take(): Promise<Row | undefined> {
    // Whoever waits for one file waits before whole sets do.
    const next = sql`(select id from deliveries where state = 'waiting' order by set_id is not null, created_at, place, id limit 1 for update skip locked)`;
    const [row] = await this.database.db
      .update(deliveries)
      .set({
        state: 'working',
        progress: 0,
        attempts: sql`${deliveries.attempts} + 1`,
        worker: this.process,
        leaseUntil: new Date(Date.now() + LEASE_MS),
      })
      .where(and(eq(deliveries.id, next), this.running.size > 0 ? eq(deliveries.attempts, 0) : undefined))
      .returning();
    return row;
  }

  /** The file that one stands for in the set before. */
  private async fileBefore(row: Row): Promise<{ bytes: Uint8Array; name: string } | null> {
    if (row.previousId === null) return null;
    const [before] = await this.database.db
      .select({ blob: deliveries.blob, name: deliveries.fileName })
      .from(deliveries)
      .where(eq(deliveries.id, row.previousId));
    return before?.blob ? { bytes: await this.blobs.get(before.blob), name: before.name ?? 'drawing' } : null;
  }

  /** The first of the pictures that a file names which has the name of one that its set makes; `null` for none. */
  private async foreignAlong(row: Row, along: readonly { name: string }[]): Promise<string | null> {
    if (row.setId === null || row.inSet?.pixels === undefined || along.length === 0) return null;
    const rows = await this.database.db
      .select({ inSet: deliveries.inSet })
      .from(deliveries)
      .where(eq(deliveries.setId, row.setId));
    const made = new Set(rows.map((r) => `${r.inSet?.name ?? ''}.png`.toLowerCase()));
    return along.find((p) => made.has(p.name.toLowerCase()))?.name ?? null;
  }

  private async work(row: Row, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const ours = and(eq(deliveries.id, row.id), eq(deliveries.state, 'working'), eq(deliveries.worker, this.process));
    const fail = (error: string): Promise<unknown> =>
      db.update(deliveries).set({ state: 'failed', error, finishedAt: new Date() }).where(ours);
    try {
      const [revision] = await db.select().from(revisions).where(eq(revisions.id, row.revisionId));
      if (!revision) throw new Unfit('The revision is gone.');
      const bytes = await this.blobs.get(revision.blob);
      let said = 0;
      const onProgress = (done: number): void => {
        const now = Date.now();
        if (now - said < 200) return;
        said = now;
        void db
          .update(deliveries)
          .set({ progress: done })
          .where(ours)
          .catch(() => {});
      };
      const { intake, steps } = row;
      const target = upgradedTarget({ ...row.target });
      const template = await templateFile(this.database, this.blobs, target);
      const given = await givenFiles(this.blobs, row);
      const before = await this.fileBefore(row);
      const pixels = row.inSet?.pixels;
      const result = await this.pool.deliver(
        {
          ...{ bytes, name: revision.fileName, intake, steps, target, ...template, ...given },
          yardsticks: row.yardsticks,
          ...(before && { before }),
          ...(pixels !== undefined && { pixels }),
          ...(row.inSet?.named && { named: true }),
        },
        onProgress,
        signal,
      );
      if (!result.ok) return void (await fail(storable(result.message)));
      const foreign = await this.foreignAlong(row, result.along);
      if (foreign !== null)
        return void (await fail(
          `It names the picture ${foreign}, and the set makes a picture of that name. Give one of both another name.`,
        ));
      // The blob first: a row never names bytes that are not safe.
      const { hash, size } = await this.blobs.putBytes(result.bytes);
      const picture = result.picture && (await this.blobs.putBytes(result.picture));
      const along: AlongBlob[] = [];
      for (const p of result.along) {
        const { hash: blob, size: taken } = await this.blobs.putBytes(p.bytes);
        along.push({ name: storable(p.name), blob, size: taken });
      }
      const { bytes: _bytes, picture: _picture, along: _along, ...told } = result;
      const { fileName, mediaType, ledger, proof, record, prepared, differs, beside } = storable(told);
      await db
        .update(deliveries)
        .set({
          state: 'done',
          progress: 1,
          fileName,
          mediaType,
          blob: hash,
          size,
          ...{ ledger, proof, record, prepared, differs, beside: [...beside, ...along] },
          ...(picture && { picture: picture.hash, pictureSize: picture.size }),
          finishedAt: new Date(),
        })
        .where(ours);
    } catch (e) {
      if (signal.aborted) return;
      this.log.error(e, 'delivery failed');
      await fail(wordsFor(e));
    }
  }
}

/** What a person is told of a delivery that failed: our own words, never those of the database or the system. */
function wordsFor(e: unknown): string {
  if (e instanceof TookTooLong) return `It took longer than the ${e.seconds} s that are allowed, and was stopped.`;
  if (e instanceof NoRoom)
    return 'The disk of the server is full, so nothing was written. Make room and write it again.';
  if (e instanceof DamagedBlob) return `Of what it is made from, ${e.message}. Take the file in again: that mends it.`;
  if (e instanceof Unfit) return e.message;
  if ((e as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
    return 'It needed more memory than is allowed, and was stopped.';
  return 'Something went wrong on the server. It was written to its log.';
}
