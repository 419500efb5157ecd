import { createHash } from 'node:crypto';
import type { Beside } from '@scalaria/core';
import { besideName } from '@scalaria/core';
import type { BlobStore } from '../blobs/blob-store.js';

/** A picture that a delivered file names, as it is kept. */
export interface AlongBlob {
  readonly name: string;
  readonly blob: string;
  readonly size: number;
}

/** What belongs beside a delivered file. */
export interface Companion {
  readonly name: string;
  /** SHA-256 in hexadecimal, which blobs go by too. */
  readonly sha256: string;
  readonly mediaType: string;
  /** The file names it in itself. */
  readonly named: boolean;
  bytes(blobs: BlobStore): Promise<Uint8Array>;
}

const MEDIA: Readonly<Record<string, string>> = { png: 'image/png', jpg: 'image/jpeg', jpeg: 'image/jpeg' };

/** Small texts by the file's name with endings of their own, and pictures that it names, in the order they are kept. */
export const companionsOf = (fileName: string, beside: readonly (Beside | AlongBlob)[]): Companion[] =>
  beside.map((b): Companion =>
    'blob' in b
      ? {
          ...{ name: b.name, sha256: b.blob, named: true },
          mediaType: MEDIA[b.name.split('.').pop()!.toLowerCase()] ?? 'application/octet-stream',
          bytes: (blobs) => blobs.get(b.blob),
        }
      : {
          ...{ name: besideName(fileName, b.ending), named: false, mediaType: 'text/plain; charset=utf-8' },
          sha256: createHash('sha256').update(b.text).digest('hex'),
          bytes: () => Promise.resolve(Buffer.from(b.text)),
        },
  );
