import type { FormatId } from '../drawing/format-traits.js';
import { WRITABLE_DWG } from './dwg/versions.js';
import type { ParameterSet } from '../parameters/parameter.js';
import { WRITABLE_VERSIONS } from './drafting/versions.js';
import {
  COORDINATES_OPTIONS,
  DWG_OPTIONS,
  DXF_OPTIONS,
  JPEG_OPTIONS,
  PDF_OPTIONS,
  PNG_OPTIONS,
  SVG_OPTIONS,
} from './write-options.js';

/** What is known of a format without its reader and writer: enough to name, choose and check it. */
export interface FormatEntry {
  id: FormatId;
  title: string;
  extension: string;
  mediaType: string;
  /** The versions that can be written, the oldest first. */
  versions: readonly string[];
  /** The version that is written unless another is asked for. */
  standard: string;
  /** What can be asked of its writer. */
  options: ParameterSet;
}

/** Names of versions by their letters: an object lists those that look like numbers before all others. */
const oldestFirst = (versions: Record<string, string>): string[] =>
  Object.keys(versions).sort((a, b) => (versions[a]! < versions[b]! ? -1 : 1));

/** All formats, without their machines. */
export const FORMAT_CATALOGUE = {
  dxf: {
    id: 'dxf',
    title: 'DXF',
    extension: 'dxf',
    mediaType: 'image/vnd.dxf',
    versions: oldestFirst(WRITABLE_VERSIONS),
    standard: '2010',
    options: DXF_OPTIONS,
  },
  dwg: {
    id: 'dwg',
    title: 'DWG',
    extension: 'dwg',
    mediaType: 'image/vnd.dwg',
    versions: oldestFirst(WRITABLE_DWG),
    standard: '2010',
    options: DWG_OPTIONS,
  },
  svg: {
    id: 'svg',
    title: 'SVG',
    extension: 'svg',
    mediaType: 'image/svg+xml',
    versions: ['1.1', '2'],
    standard: '1.1',
    options: SVG_OPTIONS,
  },
  pdf: {
    id: 'pdf',
    title: 'PDF',
    extension: 'pdf',
    mediaType: 'application/pdf',
    versions: ['1.7'],
    standard: '1.7',
    options: PDF_OPTIONS,
  },
  png: {
    id: 'png',
    title: 'PNG',
    extension: 'png',
    mediaType: 'image/png',
    versions: ['1'],
    standard: '1',
    options: PNG_OPTIONS,
  },
  jpeg: {
    id: 'jpeg',
    title: 'JPEG',
    extension: 'jpg',
    mediaType: 'image/jpeg',
    versions: ['1.02'],
    standard: '1.02',
    options: JPEG_OPTIONS,
  },
  coordinates: {
    id: 'coordinates',
    title: 'Coordinates',
    extension: 'txt',
    mediaType: 'text/plain',
    versions: ['1'],
    standard: '1',
    options: COORDINATES_OPTIONS,
  },
} as const satisfies Record<FormatEntry['id'], FormatEntry>;

/** The entry with an id, or `undefined`. */
export const formatEntry = (id: string): FormatEntry | undefined =>
  Object.values(FORMAT_CATALOGUE).find((f) => f.id === id);

/** The entry for a file ending, with or without its dot. */
export const entryByExtension = (extension: string): FormatEntry | undefined =>
  Object.values(FORMAT_CATALOGUE).find((f) => f.extension === usualExtension(extension));

/** Endings that text with coordinates in it goes by. */
const TEXTS = /^(csv|tsv|xy|xyz|asc|dat)$/;

/** A file ending as the formats have it: some go by several. */
export const usualExtension = (extension: string): string =>
  extension
    .replace(/^\./, '')
    .toLowerCase()
    .replace(/^jpeg$/, 'jpg')
    .replace(TEXTS, 'txt');
