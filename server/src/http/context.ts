import type { Logger } from 'pino';
import type { BlobStore } from '../blobs/blob-store.js';
import type { Database } from '../database/open.js';
import type { DeliveryQueue } from '../tasks/deliveries.js';
import type { WorkerPool } from '../tasks/pool.js';

/** What routes work with. */
export interface Context {
  database: Database;
  blobs: BlobStore;
  pool: WorkerPool;
  queue: DeliveryQueue;
  limits: Limits;
  log: Logger;
}

export interface Limits {
  /** Largest upload, in bytes. */
  uploadBytes: number;
  /** Most drawings in one job. */
  drawingsPerJob: number;
  jobs: number;
}
