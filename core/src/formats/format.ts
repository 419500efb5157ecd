import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import type { FormatEntry } from './catalogue.js';
import type { WriteOptions } from './write-options.js';

export type { WriteOptions } from './write-options.js';

/** Lets the host stop long work: polled, never awaited. */
export interface StopSignal {
  readonly aborted: boolean;
}

/** What every long computation may be given: a way to stop it and someone to tell how far it has come (0 to 1). */
export interface Work {
  signal?: StopSignal;
  onProgress?: (done: number) => void;
}

/** What a reader may be told beside. */
export interface ReadWork extends Work {
  /** The encoding of texts, whatever the file says of it (a name of `TEXT_ENCODINGS`); ignored by SVG. */
  encoding?: string | null;
}

/** Thrown when `Work.signal` was aborted. */
export class Stopped extends UserError {
  override name = 'Stopped';
  constructor() {
    super('stopped', 'stopped on request');
  }
}

export function checkStop(work: Work | undefined): void {
  if (work?.signal?.aborted) throw new Stopped();
}

/** A file that cannot be read: what was found, where, and what to do about it. */
export class UnreadableFile extends UserError {
  override name = 'UnreadableFile';
  constructor(
    readonly found: string,
    readonly where: string,
    readonly remedy: string,
  ) {
    super('unreadable-file', `${found} (${where}). ${remedy}`);
  }
}

export interface Reading {
  drawing: Drawing;
  ledger: LedgerRow[];
}

export interface Writing {
  bytes: Uint8Array;
  ledger: LedgerRow[];
}

/** A file format. `write` expects a prepared drawing: y upwards, one coordinate unit = `options.unit`. */
export interface Format extends FormatEntry {
  /** Whether the bytes look like this format, whatever the file is called. */
  sniff(bytes: Uint8Array): boolean;
  /** Throws `UnreadableFile` or `Stopped`. */
  read(bytes: Uint8Array, work?: ReadWork): Reading;
  write(drawing: Drawing, options: WriteOptions, work?: Work): Writing;
}
