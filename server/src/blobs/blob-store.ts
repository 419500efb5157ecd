import type { Readable } from 'node:stream';

/** A stored blob is known by the SHA-256 of its bytes, in hex. */
export interface StoredBlob {
  hash: string;
  size: number;
}

/** Bytes that were received whole and not yet accepted: kept or dropped by whoever looked into them. */
export interface StagedBlob extends StoredBlob {
  bytes(): Promise<Uint8Array<ArrayBuffer>>;
  /** Makes them a blob. Resolves only when they are safe under their hash. */
  keep(): Promise<StoredBlob>;
  /** Forgets them; after `keep` that does nothing. */
  drop(): Promise<void>;
}

export interface BlobStore {
  /** Receives a stream. Throws `TooLarge` beyond `limit` bytes and `NoRoom` when there is no room for it. */
  stage(source: Readable, limit: number): Promise<StagedBlob>;
  /** Stores bytes. Resolves only when they are safe. Throws `NoRoom`. */
  putBytes(bytes: Uint8Array): Promise<StoredBlob>;
  /** The bytes, checked against their hash. Throws `DamagedBlob` when they no longer match, or are gone. */
  get(hash: string): Promise<Uint8Array<ArrayBuffer>>;
}

export class TooLarge extends Error {
  override name = 'TooLarge';
  constructor(readonly limit: number) {
    super(`more than ${limit} bytes`);
  }
}

/** The store is full. What was being written is not there. */
export class NoRoom extends Error {
  override name = 'NoRoom';
}

/** What is stored under a hash is not what was stored; storing the sound bytes again mends it. */
export class DamagedBlob extends Error {
  override name = 'DamagedBlob';
}
