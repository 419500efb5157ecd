import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { basename } from 'node:path';
import type {
  Claims,
  Drawing,
  Finding,
  FontBook,
  GivenPicture,
  IntakeDecisions,
  LedgerRow,
  PlannedStep,
  Proof,
  Target,
} from '@scalaria/core';
import {
  CannotDeliver,
  NO_DECISIONS,
  SHIPPED_FONTS,
  UnreadableFile,
  claimsOf,
  dataAddress,
  deliver,
  filesNamedBy,
  loadFont,
  pictureHead,
  prepare,
  prove,
  proveDelivery,
  readDrawing,
  runChecks,
  shippedBook,
  takeIn,
  upright,
} from '@scalaria/core';

/** What runs in a worker thread: one file each. What a person can mend comes back as a value. */

export interface Failure {
  ok: false;
  /** `unreadable` ends with 3, `usage` with 2. */
  kind: 'unreadable' | 'usage';
  message: string;
  where?: string;
  remedy?: string;
}

export type Inspected = { ok: true; claims: Claims; findings: Finding[]; ledger: LedgerRow[] } | Failure;
export type Converted = { ok: true; bytes: Uint8Array; ledger: LedgerRow[]; proof: Proof } | Failure;
export type Compared = { ok: true; proof: Proof } | Failure;

let book: FontBook | null = null;
function fonts(): FontBook {
  book ??= shippedBook(
    SHIPPED_FONTS.map(({ file }) => readFileSync(fileURLToPath(import.meta.resolve(`@scalaria/core/fonts/${file}`)))),
  );
  return book;
}

/** The fonts that ship, after those of a folder. A compiled stroke font is known by the name of its file. */
function fontsWith(given: ConvertJob['fonts']): FontBook {
  if (!given) return fonts();
  const more = given.files.map((f) => {
    try {
      return loadFont(bytesOf(f), /\.shx$/i.test(f) ? basename(f).replace(/\.\w+$/, '') : undefined);
    } catch (e) {
      if (e instanceof RangeError) throw new RangeError(`${f}: ${e.message}`);
      throw e;
    }
  });
  return fonts().with(given.chart, more);
}

function bytesOf(file: string): Uint8Array {
  try {
    return readFileSync(file);
  } catch (e) {
    const missing = (e as NodeJS.ErrnoException).code === 'ENOENT';
    throw new UnreadableFile(
      missing ? 'There is no such file' : `The file cannot be opened (${(e as Error).message})`,
      file,
      'Check its name and your rights.',
    );
  }
}

function guarded<T>(work: () => T): T | Failure {
  try {
    return work();
  } catch (e) {
    if (e instanceof UnreadableFile)
      return { ok: false, kind: 'unreadable', message: e.found, where: e.where, remedy: e.remedy };
    if (e instanceof CannotDeliver || e instanceof RangeError) return { ok: false, kind: 'usage', message: e.message };
    throw e;
  }
}

export function inspect({ file }: { file: string }): Inspected {
  return guarded((): Inspected => {
    const { drawing, ledger } = readDrawing(bytesOf(file), basename(file));
    const findings = runChecks(takeIn(drawing, NO_DECISIONS).drawing);
    return { ok: true, claims: claimsOf(drawing), findings, ledger };
  });
}

export interface ConvertJob {
  file: string;
  intake: IntakeDecisions;
  steps: PlannedStep[];
  target: Target;
  fonts?: { files: string[]; chart: Record<string, string> };
  /** Files of pictures that the drawing may name. */
  pictures?: string[];
}

/** Those of the given pictures that a drawing names. */
function picturesFor(drawing: Drawing, files: readonly string[]): GivenPicture[] {
  const asked = new Set(filesNamedBy(drawing).map((f) => f.name.toLowerCase()));
  return files.flatMap((file) => {
    const name = basename(file);
    if (!asked.has(name.toLowerCase())) return [];
    const bytes = bytesOf(file);
    const head = pictureHead(bytes);
    if (!head) throw new UnreadableFile('no picture that is known here', name, 'Save it as PNG or JPEG.');
    return [{ name, data: dataAddress(head.media, bytes) }];
  });
}

export function convert(job: ConvertJob): Converted {
  return guarded((): Converted => {
    const source = readDrawing(bytesOf(job.file), basename(job.file), { encoding: job.intake.encoding ?? null });
    const letters = fontsWith(job.fonts);
    const prepared = prepare(source.drawing, job.intake, job.steps, {
      fonts: letters,
      pictures: picturesFor(source.drawing, job.pictures ?? []),
    });
    const template = job.target.template;
    const given = template == null ? {} : { template: readDrawing(bytesOf(template), basename(template)).drawing };
    const made = deliver(prepared.drawing, job.target, basename(job.file), letters, given);
    const proof = proveDelivery(source.drawing, prepared, made, made.bytes, letters);
    return { ok: true, bytes: made.bytes, ledger: [...source.ledger, ...prepared.ledger, ...made.ledger], proof };
  });
}

export function compare({ a, b }: { a: string; b: string }): Compared {
  return guarded((): Compared => {
    const [p, q] = [a, b].map((f) => readDrawing(bytesOf(f), basename(f)).drawing);
    return { ok: true, proof: prove(upright(p!), q!, { ledger: [], comparing: true, fonts: fonts() }) };
  });
}
