import { Gunzip } from 'fflate';
import { FORMAT_CATALOGUE, usualExtension } from './catalogue.js';
import { isCoordinates, isText, readCoordinates } from './coordinates/read.js';
import { arrangeCoordinates } from './coordinates/outlines.js';
import { writeCoordinates } from './coordinates/write.js';
import { isDwg, readDwg } from './dwg/read.js';
import { writeDwg } from './dwg/write.js';
import { readDxf } from './dxf/read.js';
import { isBinaryDxf } from './dxf/binary.js';
import { writeDxf } from './dxf/write.js';
import type { Format, ReadWork, Reading } from './format.js';
import { UnreadableFile } from './format.js';
import { arrangePages } from './pdf/arrange.js';
import { isPdf, readPdf } from './pdf/read.js';
import { writePdf } from './pdf/write.js';
import { arrangePicture } from './picture/frame.js';
import { isJpeg, isPng, readPicture } from './picture/read.js';
import { writeJpeg, writePng } from './picture/write.js';
import { readSvg } from './svg/read.js';
import { writeSvg } from './svg/write.js';

const headText = (bytes: Uint8Array, n: number): string => new TextDecoder('windows-1252').decode(bytes.subarray(0, n));

const dxf: Format = {
  ...FORMAT_CATALOGUE.dxf,
  sniff: (bytes) =>
    isBinaryDxf(bytes) ||
    /^\uFEFF?(?:ï»¿)?\s*(?:999\r?\n[^\n]*\n\s*)*0[ \t]*\r?\n?\r?\s*SECTION/i.test(headText(bytes, 4096)),
  read: readDxf,
  write: writeDxf,
};

const dwg: Format = {
  ...FORMAT_CATALOGUE.dwg,
  sniff: isDwg,
  read: readDwg,
  write: writeDwg,
};

const svg: Format = {
  ...FORMAT_CATALOGUE.svg,
  sniff: (bytes) => {
    const head = headText(bytes, 65536);
    return /<svg[\s>:]/.test(head) || /<\w+:svg[\s>]/.test(head) || /s\0v\0g\0/.test(head);
  },
  read: readSvg,
  write: writeSvg,
};

const pdf: Format = {
  ...FORMAT_CATALOGUE.pdf,
  sniff: isPdf,
  later: true,
  read: readPdf,
  write: writePdf,
  arrange: arrangePages,
};

const png: Format = {
  ...FORMAT_CATALOGUE.png,
  sniff: isPng,
  read: readPicture,
  write: writePng,
  arrange: arrangePicture,
};

const jpeg: Format = {
  ...FORMAT_CATALOGUE.jpeg,
  sniff: isJpeg,
  read: readPicture,
  write: writeJpeg,
  arrange: arrangePicture,
};

const coordinates: Format = {
  ...FORMAT_CATALOGUE.coordinates,
  sniff: isCoordinates,
  read: readCoordinates,
  write: writeCoordinates,
  arrange: arrangeCoordinates,
};

/** All formats, in the order in which bytes are asked whether they are one. A new one is a folder beside these and a line here. */
export const FORMATS: readonly Format[] = [dxf, dwg, svg, pdf, png, jpeg, coordinates];

export const formatById = (id: string): Format | undefined => FORMATS.find((f) => f.id === id);

/** The format for a file ending, with or without its dot. */
export const formatByExtension = (extension: string): Format | undefined =>
  FORMATS.find((f) => f.extension === usualExtension(extension));

/** First bytes of files that people drop by mistake, and what to do about them. */
const FOREIGN: [RegExp, string, string][] = [
  [/^PK\x03\x04/, 'This is a ZIP archive', 'Unpack it and drop the drawings inside.'],
];

/**
 * Finds the format by looking at the bytes and reads them. `name` only helps to say what was expected.
 * Throws `UnreadableFile` when no format knows the bytes.
 */
export async function readSource(bytes: Uint8Array, name: string, work?: ReadWork): Promise<Reading> {
  const { format, bytes: own } = recognised(bytes, name);
  return format.read(own, work);
}

/** The same at once, for formats whose parser has not to be waited for. Throws `TypeError` for a PDF. */
export function readDrawing(bytes: Uint8Array, name: string, work?: ReadWork): Reading {
  const { format, bytes: own } = recognised(bytes, name);
  if (format.later) throw new TypeError(`a ${format.title} has to be waited for`);
  return format.read(own, work) as Reading;
}

/** The format of bytes, and the bytes unpacked where they were packed. */
function recognised(bytes: Uint8Array, name: string): { format: Format; bytes: Uint8Array } {
  if (bytes.length === 0) throw new UnreadableFile('The file is empty', 'byte 0', 'Export it again.');
  if (bytes[0] === 0x1f && bytes[1] === 0x8b) return recognised(unzipped(bytes), name.replace(/z$|\.gz$/i, ''));
  const format = FORMATS.find((f) => f.sniff(bytes)) ?? guessByName(bytes, name);
  if (format) return { format, bytes };
  const head = headText(bytes, 64);
  const foreign = FOREIGN.find(([pattern]) => pattern.test(head));
  if (foreign) throw new UnreadableFile(foreign[1], 'its first bytes', foreign[2]);
  throw new UnreadableFile(
    'This is not a DXF, DWG, SVG or PDF file',
    'the first 64 kB',
    'If it should be one, it was damaged on the way: export it again.',
  );
}

/** How large a packed drawing may come out, in bytes and as a multiple of what was packed. */
const MOST_UNPACKED = 1 << 30;
const MOST_TIMES = 200;

/** The drawing inside a gzip file (such as SVGZ), in pieces so that one that unpacks without end is stopped. */
function unzipped(bytes: Uint8Array): Uint8Array {
  const most = Math.min(MOST_UNPACKED, Math.max(bytes.length * MOST_TIMES, 1 << 20));
  const pieces: Uint8Array[] = [];
  let size = 0;
  const fail = (found: string, remedy: string): never => {
    throw new UnreadableFile(found, 'the gzip file', remedy);
  };
  const gunzip = new Gunzip((piece) => {
    size += piece.length;
    if (size > most) fail('It unpacks to far more than a drawing holds', 'Unpack it yourself and drop what is inside.');
    pieces.push(piece);
  });
  try {
    const STEP = 1 << 16;
    for (let i = 0; i < bytes.length; i += STEP) gunzip.push(bytes.subarray(i, i + STEP), i + STEP >= bytes.length);
  } catch (e) {
    if (e instanceof UnreadableFile) throw e;
    fail('The packed file is damaged', 'Export it again, or unpack it and drop the drawing inside.');
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const p of pieces) {
    out.set(p, at);
    at += p.length;
  }
  if (out[0] === 0x1f && out[1] === 0x8b) fail('It is packed twice', 'Unpack it and drop the drawing inside.');
  return out;
}

/** A damaged start may hide a DXF from `sniff`, and words or a wrong line coordinates: the name decides whether to try all the same. */
function guessByName(bytes: Uint8Array, name: string): Format | undefined {
  const format = formatByExtension(/\.(\w+)$/.exec(name)?.[1] ?? '');
  if (format?.id === 'coordinates') return isText(bytes) ? format : undefined;
  return format?.id === 'dxf' && /\bSECTION\b/.test(headText(bytes, 1 << 20)) ? format : undefined;
}
