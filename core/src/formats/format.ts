import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Affine } from '../geometry/affine.js';
import type { Box2 } from '../geometry/box.js';
import type { Entity } from '../drawing/entity.js';
import type { Ledger, LedgerEntry, LedgerRow } from '../drawing/ledger.js';
import type { Lineage } from '../drawing/lineage.js';
import type { FormatEntry } from './catalogue.js';
import type { DecimalSign, ThirdColumn } from './coordinates/parse.js';
import type { Beside, PictureMade } from './picture/shown.js';
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

/** Stands for every page of a PDF, side by side in one drawing. */
export const ALL_PAGES = 0;

/** What a reader may be told beside. */
export interface ReadWork extends Work {
  /** The encoding of texts, whatever the file says of it (a name of `TEXT_ENCODINGS`); ignored by SVG. */
  encoding?: string | null;
  /** Which page of a PDF, counted from 1, or `ALL_PAGES`; absent for the first. */
  page?: number | null;
  /** What letters of a PDF come as: text, or their outlines in the file. */
  letters?: 'text' | 'outlines' | null;
  /** What widths of lines of a PDF are: those of the paper, whatever the scale, or lengths of the drawing. */
  pens?: 'paper' | 'drawing' | null;
  /** Coordinates as text: what the sign before decimals is, and what a third number says, where the file leaves it open. */
  decimal?: DecimalSign | null;
  third?: ThirdColumn | null;
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
  /** Small texts that belong beside the file. */
  beside?: readonly Beside[];
}

/** What is made of a drawing before it is written, so that the format can hold it. */
export interface Reshaping {
  readonly title: string;
  run(from: Drawing, lineage: Lineage, ledger: Ledger): Drawing;
}

/** How a drawing is put on pages, or brought to what its format can hold, before it is written. */
export interface Arranged {
  /** What blocks and hatches become that the format has no word for. */
  readonly kinds?: { readonly blocks: 'break'; readonly hatches: 'outlines' };
  readonly reshape?: readonly Reshaping[];
  /** What the format has no way to hide, and is left out. */
  without(entity: Entity): boolean;
  /** Similarities that it is moved by, one after the other, and what each says of itself. */
  readonly moves: readonly { title: string; map: Affine; row: LedgerEntry }[];
  /** What each page shows of the drawing that was moved so, or composed. */
  readonly pages: readonly Box2[];
  /** The one page as pixels, where the format has such. */
  readonly picture?: PictureMade;
  /** Several views of the drawing side by side, where it is not one that all pages show. */
  readonly compose?: {
    readonly title: string;
    /** Sizes are not those that dimensions measure: they say what they said. */
    readonly scaled: boolean;
    readonly rows: readonly LedgerEntry[];
    run(from: Drawing, lineage: Lineage): { drawing: Drawing; pageOf: ReadonlyMap<number, number>; off: number };
  };
}

/** A file format. `write` expects a prepared drawing: y upwards, one coordinate unit = `options.unit`. */
export interface Format extends FormatEntry {
  /** Whether the bytes look like this format, whatever the file is called. */
  sniff(bytes: Uint8Array): boolean;
  /** Its parser has to be waited for. */
  later?: true;
  /** Throws `UnreadableFile` or `Stopped`; answers later where `later` says so. */
  read(bytes: Uint8Array, work?: ReadWork): Reading | Promise<Reading>;
  /** How the drawing is put on pages or reshaped, for formats that ask for it. */
  arrange?(drawing: Drawing, options: WriteOptions): Arranged;
  write(drawing: Drawing, options: WriteOptions, work?: Work): Writing;
}
