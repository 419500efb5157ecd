import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { BlobStore, StoredBlob } from './blob-store.js';
import { TooLarge } from './blob-store.js';

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

  async put(source: Readable, limit: number): Promise<StoredBlob> {
    const temporary = join(this.incoming, randomUUID());
    const file = await open(temporary, 'wx');
    const digest = createHash('sha256');
    let size = 0;
    try {
      // The source is left open when this gives up, so that a sender can still be told why.
      for await (const chunk of source.iterator({ destroyOnReturn: false })) {
        const bytes = chunk as Buffer;
        size += bytes.length;
        if (size > limit) throw new TooLarge(limit);
        digest.update(bytes);
        await file.write(bytes);
      }
      await file.sync();
      await file.close();
      const hash = digest.digest('hex');
      const final = this.place(hash);
      mkdirSync(join(this.folder, hash.slice(0, 2)), { recursive: true });
      const known = await stat(final).catch(() => null);
      if (known?.size === size) await rm(temporary, { force: true });
      else await rename(temporary, final);
      return { hash, size };
    } catch (e) {
      await file.close().catch(() => {});
      await rm(temporary, { force: true });
      throw e;
    }
  }

  putBytes(bytes: Uint8Array): Promise<StoredBlob> {
    return this.put(Readable.from([Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)]), Infinity);
  }

  async get(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    const read = await readFile(this.place(hash));
    if (createHash('sha256').update(read).digest('hex') !== hash) {
      throw new Error(`the stored file ${hash.slice(0, 12)} was changed on disk and no longer matches its name`);
    }
    // A copy of its own, so that it can be handed to a worker thread without taking others along.
    const bytes = new Uint8Array(read.byteLength);
    bytes.set(read);
    return bytes;
  }
}
