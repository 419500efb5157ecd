import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import type { UnitName } from '../drawing/units.js';
import type { FontBook } from '../text/fonts.js';
import type { FormatEntry } from './catalogue.js';

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

export interface WriteOptions {
  /** Version of the format, such as `2010` for DXF and DWG or `1.1` for SVG. */
  version?: string;
  /** The binary form of a format that has one. */
  binary?: boolean;
  /** How SVG states style. */
  style?: 'inline' | 'plain' | 'sheet';
  /** Unit of the coordinates in the file; the drawing is in `unit` already. */
  unit: UnitName;
  /** DXF and DWG: the file does not say what its unit is. */
  unitless?: boolean;
  /** DXF: paths that drafting has no word for become one exact spline, a polyline of arcs, or a group of pieces. */
  curves?: 'spline' | 'arcs' | 'pieces';
  /** How far arcs may lie from a curve, in the unit of the file. */
  tolerance?: number;
  /** Elliptical arcs of SVG paths as arcs, or as cubic Béziers for receivers that have no others. */
  arcs?: 'arcs' | 'cubics';
  /** Blocks in SVG: everything expanded, or inserts that look alike drawn once and referred to. */
  blocks?: 'expanded' | 'shared';
  /** One width for all lines of an SVG, in mm; absent for their own. */
  hairline?: number | null;
  /** Colours of an SVG replaced by others, such as a machine's operations: `#rrggbb` → `#rrggbb`. */
  colours?: Readonly<Record<string, string>>;
  /** Digits after the point in SVG coordinates. */
  decimals?: number;
  /** Names that go into the file for a person to read. */
  title?: string;
  fonts: FontBook;
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
