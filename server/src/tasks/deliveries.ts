import PgBoss from 'pg-boss';
import { and, eq, inArray } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Target } from '@scalaria/core';
import type { BlobStore } from '../blobs/blob-store.js';
import type { Database } from '../database/open.js';
import type { DeliveryFonts, DeliveryPicture } from '../database/schema.js';
import { deliveries, revisions } from '../database/schema.js';
import type { WorkerPool } from './pool.js';
import type { GivenFonts, PictureFile } from './worker.js';

const QUEUE = 'deliver';

/** The bytes of the revision that a target takes its tables from. */
export async function templateFile(
  database: Database,
  blobs: BlobStore,
  target: Target,
): Promise<{ template?: { bytes: Uint8Array; name: string } }> {
  if (!target.template) return {};
  const [given] = await database.db.select().from(revisions).where(eq(revisions.id, target.template));
  if (!given) throw new Error('The template is gone. Choose another, or none.');
  return { template: { bytes: await blobs.get(given.blob), name: given.fileName } };
}

/** The bytes of the fonts that a delivery was asked for with. */
export async function givenFonts(blobs: BlobStore, fonts: DeliveryFonts): Promise<{ fonts: GivenFonts }> {
  const files = await Promise.all(fonts.files.map(async (f) => ({ family: f.family, bytes: await blobs.get(f.blob) })));
  return { fonts: { chart: fonts.chart, files } };
}

/** The bytes of the pictures that a delivery was asked for with. */
export async function givenPictures(
  blobs: BlobStore,
  list: readonly DeliveryPicture[],
): Promise<{ pictures: PictureFile[] }> {
  const read = ({ name, mediaType, blob }: DeliveryPicture): Promise<PictureFile> =>
    blobs.get(blob).then((bytes) => ({ name, mediaType, bytes }));
  return { pictures: await Promise.all(list.map(read)) };
}

/** The queue of deliveries: rows in the database, worked off one at a time per process, taken up again after a crash. */
export class DeliveryQueue {
  private readonly boss: PgBoss;
  private readonly running = new Map<string, AbortController>();

  constructor(
    private readonly database: Database,
    private readonly blobs: BlobStore,
    private readonly pool: WorkerPool,
    private readonly log: Logger,
  ) {
    this.boss = new PgBoss({ db: { executeSql: database.executeSql }, supervise: true, schedule: false });
    this.boss.on('error', (e) => log.error(e, 'queue'));
  }

  async start(): Promise<void> {
    await this.boss.start();
    await this.boss.createQueue(QUEUE);
    // What a killed process was working on begins anew; nothing half-written was ever shown.
    const { db } = this.database;
    const open = await db
      .update(deliveries)
      .set({ state: 'waiting', progress: 0 })
      .where(inArray(deliveries.state, ['waiting', 'working']))
      .returning({ id: deliveries.id });
    for (const { id } of open) await this.enqueue(id);
    await this.boss.work<{ id: string }>(QUEUE, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
      if (job) await this.work(job.data.id);
    });
  }

  async stop(): Promise<void> {
    for (const c of this.running.values()) c.abort();
    await this.boss.stop({ graceful: false, wait: true, timeout: 2000 });
  }

  async enqueue(id: string): Promise<void> {
    await this.boss.send(QUEUE, { id }, { retryLimit: 2, expireInMinutes: 30 });
  }

  /** Stops a delivery that waits or runs. One that has ended stays as it is. */
  async cancel(id: string): Promise<void> {
    await this.database.db
      .update(deliveries)
      .set({ state: 'cancelled', finishedAt: new Date() })
      .where(and(eq(deliveries.id, id), inArray(deliveries.state, ['waiting', 'working'])));
    this.running.get(id)?.abort();
  }

  private async work(id: string): Promise<void> {
    const { db } = this.database;
    const [row] = await db
      .update(deliveries)
      .set({ state: 'working', progress: 0 })
      .where(and(eq(deliveries.id, id), eq(deliveries.state, 'waiting')))
      .returning();
    if (!row) return;
    const controller = new AbortController();
    this.running.set(id, controller);
    const stillOurs = and(eq(deliveries.id, id), eq(deliveries.state, 'working'));
    try {
      const [revision] = await db.select().from(revisions).where(eq(revisions.id, row.revisionId));
      if (!revision) throw new Error('the revision is gone');
      const bytes = await this.blobs.get(revision.blob);
      let said = 0;
      const onProgress = (done: number): void => {
        const now = Date.now();
        if (now - said < 200) return;
        said = now;
        void db
          .update(deliveries)
          .set({ progress: done })
          .where(stillOurs)
          .catch(() => {});
      };
      const { intake, steps, target } = row;
      const template = await templateFile(this.database, this.blobs, target);
      const given = {
        ...(await givenFonts(this.blobs, row.fonts)),
        ...(await givenPictures(this.blobs, row.pictures)),
      };
      const result = await this.pool.deliver(
        { bytes, name: revision.fileName, intake, steps, target, ...template, ...given },
        onProgress,
        controller.signal,
      );
      if (!result.ok) {
        await db
          .update(deliveries)
          .set({ state: 'failed', error: result.message, finishedAt: new Date() })
          .where(stillOurs);
        return;
      }
      // The blob first: a row never names bytes that are not safe.
      const { hash, size } = await this.blobs.putBytes(result.bytes);
      const { fileName, mediaType, ledger, proof } = result;
      await db
        .update(deliveries)
        .set({
          state: 'done',
          progress: 1,
          fileName,
          mediaType,
          blob: hash,
          size,
          ledger,
          proof,
          finishedAt: new Date(),
        })
        .where(stillOurs);
    } catch (e) {
      if (controller.signal.aborted) return;
      this.log.error(e, 'delivery failed');
      const message =
        e instanceof Error && e.name === 'AbortError'
          ? 'It took longer than is allowed.'
          : e instanceof Error
            ? e.message
            : String(e);
      await db.update(deliveries).set({ state: 'failed', error: message, finishedAt: new Date() }).where(stillOurs);
    } finally {
      this.running.delete(id);
    }
  }
}
