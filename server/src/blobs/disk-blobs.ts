import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import type { FileHandle } from 'node:fs/promises';
import { open, readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { BlobStore, StagedBlob, StoredBlob } from './blob-store.js';
import { DamagedBlob, NoRoom, TooLarge } from './blob-store.js';

/** The system's words for a full disk, a full quota, and a file larger than the disk takes. */
const FULL = new Set(['ENOSPC', 'EDQUOT', 'EFBIG']);

const isFull = (e: unknown): boolean => FULL.has((e as NodeJS.ErrnoException).code ?? '');

/** Writes all of it: one call may write less than it was given, on a disk that is nearly full without any error. */
async function writeAll(file: FileHandle, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.length;) {
    const { bytesWritten } = await file.write(bytes, at);
    if (bytesWritten === 0) throw Object.assign(new Error('nothing more can be written'), { code: 'ENOSPC' });
    at += bytesWritten;
  }
}

const ownCopy = (read: Uint8Array): Uint8Array<ArrayBuffer> => {
  // A copy of its own, so that it can be handed to a worker thread without taking others along.
  const bytes = new Uint8Array(read.byteLength);
  bytes.set(read);
  return bytes;
};

/** Blobs as files named by their hash. Written under a temporary name, synced, then renamed. */
export class DiskBlobs implements BlobStore {
  private readonly incoming: string;

  constructor(private readonly folder: string) {
    this.incoming = join(folder, 'incoming');
    mkdirSync(this.incoming, { recursive: true });
    // What a killed process left half-written was never accepted.
    for (const f of readdirSync(this.incoming)) rmSync(join(this.incoming, f), { force: true });
  }

  private place(hash: string): string {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new RangeError('not a blob hash');
    return join(this.folder, hash.slice(0, 2), hash);
  }

  async stage(source: Readable, limit: number): Promise<StagedBlob> {
    const temporary = join(this.incoming, randomUUID());
    const digest = createHash('sha256');
    let size = 0;
    let file: FileHandle | null = null;
    try {
      file = await open(temporary, 'wx');
      // The source is left open when this gives up, so that a sender can still be told why.
      for await (const chunk of source.iterator({ destroyOnReturn: false })) {
        const bytes = chunk as Buffer;
        size += bytes.length;
        if (size > limit) throw new TooLarge(limit);
        digest.update(bytes);
        await writeAll(file, bytes);
      }
      await file.sync();
      const { size: written } = await file.stat();
      if (written !== size) throw Object.assign(new Error(`${written} of ${size} bytes`), { code: 'ENOSPC' });
      await file.close();
    } catch (e) {
      await file?.close().catch(() => {});
      await rm(temporary, { force: true }).catch(() => {});
      throw isFull(e) ? new NoRoom('the disk is full', { cause: e }) : e;
    }
    const hash = digest.digest('hex');
    let kept = false;
    return {
      hash,
      size,
      bytes: async () => ownCopy(await readFile(kept ? this.place(hash) : temporary)),
      keep: async () => {
        if (kept) return { hash, size };
        mkdirSync(join(this.folder, hash.slice(0, 2)), { recursive: true });
        // Over what is there already: the same bytes, or a damaged file that is mended by this.
        await rename(temporary, this.place(hash));
        kept = true;
        return { hash, size };
      },
      drop: async () => {
        if (!kept) await rm(temporary, { force: true });
      },
    };
  }

  async putBytes(bytes: Uint8Array): Promise<StoredBlob> {
    const view = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const staged = await this.stage(Readable.from([view]), Infinity);
    return staged.keep();
  }

  async get(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    const read = await readFile(this.place(hash)).catch((e: unknown) => {
      if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
      throw new DamagedBlob(`the stored file ${hash.slice(0, 12)} is gone from the disk`);
    });
    if (createHash('sha256').update(read).digest('hex') !== hash)
      throw new DamagedBlob(`the stored file ${hash.slice(0, 12)} was changed on disk and no longer matches its name`);
    return ownCopy(read);
  }
}
