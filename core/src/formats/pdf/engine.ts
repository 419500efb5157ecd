import type { ReadWork } from '../format.js';
import { Stopped, UnreadableFile, checkStop } from '../format.js';

/*
 * The parser of PDF files is a library of its own (pdfjs-dist): it finds the objects of a file, however damaged, unpacks its streams and lists
 * the operators of a page with their operands. What they mean is read from that list (`read-page.ts`). It is loaded only when a PDF is
 * opened, runs where it is called, and is given nothing to fetch with: no address, no script, no attachment is ever followed.
 */

/** An operator of a page by its name, with its operands as the parser gives them. */
export interface PdfOperator {
  readonly name: string;
  readonly operands: readonly unknown[];
}

/** A page as the parser finds it. Lengths in points of 1/72 in, times `userUnit` (ISO 32000-2, 14.11.2). */
export interface PdfPage {
  readonly number: number;
  /** Lower left and upper right corner of what is shown of it. */
  readonly box: readonly [number, number, number, number];
  /** By how much it is turned clockwise when it is shown: 0, 90, 180 or 270. */
  readonly turned: number;
  readonly userUnit: number;
  readonly operators: readonly PdfOperator[];
  /** Fonts, pictures and shadings that operands name. */
  readonly named: ReadonlyMap<string, unknown>;
  /** Comments, stamps, fields and links that lie on the page beside its content. */
  readonly annotations: number;
}

/** A layer of a PDF: its name, and whether it is shown when the file is opened (ISO 32000-2, 8.11). */
export interface PdfLayer {
  readonly id: string;
  readonly name: string;
  readonly visible: boolean;
}

/** A PDF of which pages can be asked for, one after the other. */
export interface OpenedPdf {
  readonly version: string;
  readonly pages: number;
  readonly layers: readonly PdfLayer[];
  /** What it is made with, as it says itself. */
  readonly producer: string;
  page(number: number): Promise<PdfPage>;
  /** The name of an operator by the number that the parser has for it. */
  nameOf(code: unknown): string;
  close(): Promise<void>;
}

/** More pages, and more operators on one of them, are not looked at. */
export const MOST_PAGES = 5000;
const MOST_OPERATORS = 5_000_000;
/** Pictures of more pixels are left out by the parser. */
const MOST_PIXELS = 100_000_000;

let maps: ((name: string) => Promise<Uint8Array>) | null = null;

/**
 * Gives the parser what the maps from codes to characters are read from that fonts of a PDF only name (ISO 32000-2, 9.7.5.2); `read` is given such a
 * name and answers with the map as the parser's package ships it, packed.
 */
export function offerCharacterMaps(read: (name: string) => Promise<Uint8Array>): void {
  maps = read;
}

/** How maps of characters are called. */
export const CHARACTER_MAP = /^[A-Za-z0-9-]{1,40}$/;

/** Asked by the parser; a name from a file never becomes a way. */
class OfferedMaps {
  async fetch({ name }: { name: string }): Promise<{ cMapData: Uint8Array; isCompressed: true }> {
    if (!maps || !CHARACTER_MAP.test(name)) throw new Error('there is no such map of characters');
    return { cMapData: await maps(name), isCompressed: true };
  }
}

type Library = typeof import('pdfjs-dist/legacy/build/pdf.mjs');

let library: Promise<Library> | null = null;

/** The parser, loaded once. Its other half is put where it looks for it, so that it starts no thread by an address. */
async function loaded(): Promise<Library> {
  library ??= (async () => {
    const half = (await import('pdfjs-dist/legacy/build/pdf.worker.mjs')) as object;
    (globalThis as { pdfjsWorker?: object }).pdfjsWorker = half;
    return import('pdfjs-dist/legacy/build/pdf.mjs');
  })();
  return library;
}

/** Opens a PDF. Throws `UnreadableFile` for one that is locked by a password or damaged beyond reading, `Stopped` when it was stopped. */
export async function openPdf(bytes: Uint8Array, work?: ReadWork): Promise<OpenedPdf> {
  const pdf = await loaded();
  checkStop(work);
  const task = pdf.getDocument({
    // The parser takes the bytes over: it gets its own.
    data: new Uint8Array(bytes),
    isEvalSupported: false,
    enableXfa: false,
    useSystemFonts: false,
    useWorkerFetch: false,
    CMapReaderFactory: OfferedMaps,
    useWasm: false,
    disableFontFace: true,
    fontExtraProperties: true,
    isOffscreenCanvasSupported: false,
    isImageDecoderSupported: false,
    maxImageSize: MOST_PIXELS,
    verbosity: 0,
  });
  try {
    const document = await task.promise;
    const { info } = (await document.getMetadata()) as { info: { PDFFormatVersion?: string; Producer?: string } };
    if (document.numPages > MOST_PAGES)
      throw new UnreadableFile(
        `The PDF has ${document.numPages} pages; ${MOST_PAGES} are the most`,
        'its list of pages',
        'Part it, and drop what is needed of it.',
      );
    const groups = await document.getOptionalContentConfig({ intent: 'display' });
    const layers = [...groups].map(([id, group]: [string, { name?: string | null; visible: boolean }]) => ({
      id,
      name: group.name ?? '',
      visible: group.visible,
    }));
    const names = new Map(Object.entries(pdf.OPS).map(([name, code]) => [code, name]));
    return {
      version: info.PDFFormatVersion ?? '1.4',
      pages: document.numPages,
      layers,
      producer: info.Producer ?? '',
      page: (number) => pageOf(document, number, names, work),
      nameOf: (code) => names.get(Number(code)) ?? `operator ${String(code)}`,
      close: () => task.destroy(),
    };
  } catch (e) {
    await task.destroy();
    throw inWords(e);
  }
}

type Document = Awaited<ReturnType<Library['getDocument']>['promise']>;

async function pageOf(
  document: Document,
  number: number,
  names: ReadonlyMap<number, string>,
  work: ReadWork | undefined,
): Promise<PdfPage> {
  checkStop(work);
  try {
    const page = await document.getPage(number);
    const list = await page.getOperatorList({ annotationMode: 0 });
    checkStop(work);
    const count = list.fnArray.length;
    if (count > MOST_OPERATORS)
      throw new UnreadableFile(
        `Page ${number} has ${count} operators; ${MOST_OPERATORS} are the most`,
        `page ${number}`,
        'Ask for the drawing as DXF, DWG or SVG.',
      );
    const operators = list.fnArray.map((code, i): PdfOperator => ({
      name: names.get(code) ?? `operator ${code}`,
      operands: Array.isArray(list.argsArray[i]) ? (list.argsArray[i] as unknown[]) : [],
    }));
    await unpacked(page, operators);
    checkStop(work);
    const named = new Map<string, unknown>();
    for (const store of [page.objs, page.commonObjs] as Iterable<[string, unknown]>[])
      for (const [id, data] of store) named.set(id, data);
    const annotations = (await page.getAnnotations({ intent: 'display' })).length;
    const [x0, y0, x1, y1] = page.view as [number, number, number, number];
    const made: PdfPage = {
      number,
      box: [x0, y0, x1, y1],
      turned: page.rotate,
      userUnit: page.userUnit,
      operators,
      named,
      annotations,
    };
    page.cleanup();
    return made;
  } catch (e) {
    throw inWords(e, number);
  }
}

/** How long a page waits for its pictures at the most. What is not there by then is told as not unpacked. */
const LONGEST_WAIT_MS = 60_000;

/** Waits for the fonts and pictures that the operators of a page, and of tiles and letters in it, need: the parser unpacks them beside the list. */
async function unpacked(
  page: Awaited<ReturnType<Document['getPage']>>,
  operators: readonly PdfOperator[],
): Promise<void> {
  const ids = new Set(operators.flatMap((o) => (o.name === 'dependency' ? o.operands.map(String) : [])));
  const all = [...ids].map((id) => {
    // What several pages share is kept apart, under names of this beginning.
    const store = (id.startsWith('g_') ? page.commonObjs : page.objs) as {
      get(id: string, found: () => void): unknown;
    };
    return new Promise<void>((resolve) => void store.get(id, resolve));
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const limit = new Promise<void>((resolve) => (timer = setTimeout(resolve, LONGEST_WAIT_MS)));
  await Promise.race([Promise.all(all), limit]);
  clearTimeout(timer);
}

/** What the parser throws, in words for the person who dropped the file. */
function inWords(e: unknown, page?: number): Error {
  if (e instanceof UnreadableFile || e instanceof Stopped) return e;
  const { name, message } = e as Error;
  const where = page === undefined ? 'the PDF' : `page ${page}`;
  if (name === 'PasswordException')
    return new UnreadableFile(
      'The PDF is locked by a password',
      where,
      'Ask for one without a password, or take it off with the program that set it.',
    );
  return new UnreadableFile(
    `The PDF is damaged: ${message.replace(/\s+/g, ' ').slice(0, 200)}`,
    where,
    'Ask for it again, or for the drawing as DXF, DWG or SVG.',
  );
}
