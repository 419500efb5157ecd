import type { Readable } from 'node:stream';

/** A stored blob is known by the SHA-256 of its bytes, in hex. */
export interface StoredBlob {
  hash: string;
  size: number;
}

export interface BlobStore {
  /** Stores a stream. Resolves only when the bytes are safe. Throws `TooLarge` beyond `limit` bytes. */
  put(source: Readable, limit: number): Promise<StoredBlob>;
  putBytes(bytes: Uint8Array): Promise<StoredBlob>;
  /** The bytes, checked against their hash. */
  get(hash: string): Promise<Uint8Array<ArrayBuffer>>;
}

export class TooLarge extends Error {
  override name = 'TooLarge';
  constructor(readonly limit: number) {
    super(`more than ${limit} bytes`);
  }
}
