import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { basename } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import type {
  Claims,
  FileRecord,
  Drawing,
  Finding,
  FontBook,
  GivenPicture,
  GivenReference,
  IntakeDecisions,
  Kept,
  LedgerRow,
  PartTold,
  PlainRow,
  PlannedStep,
  Purpose,
  Proof,
  Renderer,
  SetPart,
  SourceFacts,
  Target,
  Yardstick,
  Beside,
} from '@scalaria/core';
import {
  NO_DECISIONS,
  SHIPPED_FONTS,
  UnreadableFile,
  UserError,
  claimsOf,
  bytesOfAddress,
  dataAddress,
  deliver,
  fileRecord,
  filesNamedBy,
  foundAmong,
  gatheredName,
  loadFont,
  offerCharacterMaps,
  openRenderer,
  listParts,
  partsBook,
  partsInFile,
  partsTold,
  plainRow,
  objectsIn,
  pictureHead,
  ownPicture,
  withOwnPicture,
  Pipeline,
  prepare,
  prove,
  takesReferencesIn,
  proofOf,
  readAs,
  readBack,
  readSource,
  runChecks,
  seenInSource,
  settleUnit,
  sourceFacts,
  shippedBook,
  takeIn,
  upright,
  templateOf,
  tracingFirst,
  traitsOf,
} from '@scalaria/core';

/** What runs in a worker thread: one file each. What a person can mend comes back as a value. */

export interface Failure {
  ok: false;
  /** Decides what the command ends with. `givenUp`: by a limit, or by a mistake of this program. */
  kind: 'unreadable' | 'usage' | 'unwritten' | 'givenUp';
  message: string;
  where?: string;
  remedy?: string;
}

export type Inspected = { ok: true; claims: Claims; findings: Finding[]; ledger: LedgerRow[] } | Failure;
/** A picture that a file names. */
export interface AlongFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export type Converted =
  | {
      ok: true;
      bytes: Uint8Array;
      notes: Claims['notes'];
      ledger: LedgerRow[];
      proof: Proof;
      /** What is in the file, and what it was made from, where that was asked for. */
      told?: { record: FileRecord; source: string; version: string; prepared: number };
      picture: Uint8Array | null;
      beside: readonly Beside[];
      along: readonly AlongFile[];
    }
  | Failure;
export type Compared = { ok: true; proof: Proof } | Failure;

const packaged = (name: string): Uint8Array => readFileSync(fileURLToPath(import.meta.resolve(name)));
const fontFiles = SHIPPED_FONTS.map(
  ({ file }) =>
    () =>
      packaged(`@scalaria/core/fonts/${file}`),
);

let book: FontBook | null = null;
const fonts = (): FontBook => (book ??= shippedBook(fontFiles));

// Maps of characters that fonts of a PDF only name: the parser's package ships them.
offerCharacterMaps((name) => Promise.resolve(packaged(`pdfjs-dist/cmaps/${name}.bcmap`)));

/** The renderer that judges what our readers and writers make of an SVG. */
function renderer(): Promise<Renderer> {
  // For a few pictures its machine is not worth being made faster.
  setFlagsFromString('--no-wasm-tier-up');
  const machine = packaged('@resvg/resvg-wasm/index_bg.wasm');
  return openRenderer({ machine, fonts: () => fontFiles.map((read) => read()) });
}

/** The fonts that ship, after those of a folder. A compiled stroke font is known by the name of its file. */
function fontsWith(given: ConvertJob['fonts']): FontBook {
  if (!given) return fonts();
  const more = given.files.map((f) => {
    try {
      return loadFont(bytesOf(f), /\.shx$/i.test(f) ? basename(f).replace(/\.\w+$/, '') : undefined);
    } catch (e) {
      if (e instanceof UserError) throw new UserError(e.code, `${f}: ${e.message}`);
      throw e;
    }
  });
  return fonts().with(given.chart, more);
}

function bytesOf(file: string): Uint8Array {
  try {
    return readFileSync(file === '-' ? 0 : file);
  } catch (e) {
    const { code, message } = e as NodeJS.ErrnoException;
    const found = { ENOENT: 'There is no such file', EISDIR: 'This is a folder', EACCES: 'You may not read it' }[
      code ?? ''
    ];
    throw new UnreadableFile(
      found ?? `The file cannot be opened (${message})`,
      file,
      'Check its name and your rights.',
    );
  }
}

async function guarded<T>(work: () => T | Promise<T>): Promise<T | Failure> {
  try {
    return await work();
  } catch (e) {
    if (e instanceof UnreadableFile)
      return { ok: false, kind: 'unreadable', message: e.found, where: e.where, remedy: e.remedy };
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, kind: 'usage', message: e.message };
    throw e;
  }
}

export function inspect({
  file,
  checks,
  purpose,
}: {
  file: string;
  checks: boolean;
  purpose: Purpose;
}): Promise<Inspected> {
  return guarded(async (): Promise<Inspected> => {
    const bytes = bytesOf(file);
    const { drawing, ledger } = await readSource(bytes, nameOf(file));
    const seen =
      checks && traitsOf(drawing.format).hasRenderer ? seenInSource(bytes, drawing, await renderer(), fonts()) : null;
    const findings = checks ? runChecks(takeIn(drawing, NO_DECISIONS).drawing, {}, seen ? { seen } : {}, purpose) : [];
    return { ok: true, claims: claimsOf(drawing), findings, ledger };
  });
}

export interface PartsJob {
  file: string;
  intake: IntakeDecisions;
  steps: PlannedStep[];
  /** How parts are found and numbered, as a recipe says it. */
  rules: Kept;
}

export type Listed =
  | {
      ok: true;
      unit: string;
      rows: PlainRow[];
      findings: PartTold[];
      /** Numbers that several parts have. */
      twice: string[];
    }
  | Failure;

/** The parts of a drawing, after the decisions and steps of a recipe. */
export function parts(job: PartsJob): Promise<Listed> {
  return guarded(async (): Promise<Listed> => {
    const { drawing } = await readSource(bytesOf(job.file), nameOf(job.file), readAs(job.intake));
    const prepared = prepare(drawing, job.intake, job.steps, { fonts: fonts() }).drawing;
    const list = listParts(prepared, job.rules);
    return {
      ok: true,
      unit: prepared.unit?.unit ?? 'units',
      rows: list.rows.map(plainRow),
      findings: partsTold(list),
      twice: [...list.twice.keys()],
    };
  });
}

export interface ConvertJob {
  file: string;
  intake: IntakeDecisions;
  steps: PlannedStep[];
  target: Target;
  /** How parts are found, where the target asks for some. */
  rules: Kept;
  /** What is in the file is to be told. */
  telling?: boolean;
  /** Checks that must find nothing but notes, before anything is written. */
  expects?: readonly string[];
  yardsticks?: readonly Yardstick[];
  /** How long the longer side of a picture beside the file is to be. */
  pixels?: number;
  /** What that picture is called, where the drawing names it. */
  named?: string;
  fonts?: { files: string[]; chart: Record<string, string> };
  /** Files of pictures that the drawing may name. */
  pictures?: string[];
  /** Files of drawings that it may refer to. */
  references?: string[];
  /** Drawings that are gathered into it, by the ids that the step has for them. */
  gathered?: { id: string; file: string }[];
}

/** Those of the given pictures that a drawing names, or that are to lie under it. */
function picturesFor(drawing: Drawing, files: readonly string[], intake: Partial<IntakeDecisions>): GivenPicture[] {
  const asked = new Set(filesNamedBy(drawing).map((f) => f.name.toLowerCase()));
  if (intake.under) asked.add(intake.under.picture.toLowerCase());
  return files.flatMap((file) => {
    const name = basename(file);
    if (!asked.has(name.toLowerCase())) return [];
    const bytes = bytesOf(file);
    const head = pictureHead(bytes);
    if (!head) throw new UnreadableFile('no picture that is known here', name, 'Save it as PNG or JPEG.');
    return [{ name, data: dataAddress(head.media, bytes) }];
  });
}

/** Those of the given drawings that a drawing refers to, and what these refer to. */
async function referencesFor(drawing: Drawing, files: readonly string[]): Promise<GivenReference[]> {
  const read = new Map<string, GivenReference>();
  const look = async (of: Drawing): Promise<void> => {
    for (const f of filesNamedBy(of)) {
      if (f.kind !== 'drawing') continue;
      const file = foundAmong(
        f,
        files.map((path) => ({ path, name: basename(path) })),
      );
      if (!file || read.has(file.path)) continue;
      const made = { name: file.name, drawing: (await readSource(bytesOf(file.path), file.name)).drawing };
      read.set(file.path, made);
      await look(made.drawing);
    }
  };
  await look(drawing);
  return [...read.values()];
}

/** Drawings that are gathered into another, each taken in as that one is. */
async function gatheredFor({ gathered = [], intake }: ConvertJob, fonts: FontBook): Promise<GivenReference[]> {
  const made: GivenReference[] = [];
  for (const { id, file } of gathered) {
    const { drawing } = await readSource(bytesOf(file), nameOf(file), readAs(intake));
    made.push({ name: gatheredName(id), drawing: prepare(drawing, intake, [], { fonts }).drawing });
  }
  return made;
}

/** What is missing to know how large the drawing is, with the flag that says it; `null` when nothing is. */
function unitFault(source: Drawing, job: ConvertJob): Failure | null {
  if (settleUnit(source, job.intake)) return null;
  const usage = (message: string, remedy: string): Failure => ({ ok: false, kind: 'usage', message, remedy });
  if (source.unit?.unit === 'px')
    return usage(
      'It states its size in pixels only, so its true size is unknown',
      'Say how many make an inch with --px-per-inch N (96 in CSS, 72 in much print work).',
    );
  if (job.target.unitless) return null;
  const stay = !traitsOf(job.target.format).unitless ? '' : ', or leave it without one with --from-unit none';
  return usage(
    'It states no unit, so its true size is unknown',
    `Say it with --from-unit U (mm, cm, m, in, ft, …)${stay}.`,
  );
}

const expected = (message: string): Failure => ({
  ok: false,
  kind: 'usage',
  message: `The recipe expects otherwise: ${message}`,
  remedy: 'Mend the drawing, or take the check out of what the recipe expects.',
});

export interface FactsJob extends Omit<ConvertJob, 'target'> {
  /** Its parts are to be listed. */
  listing: boolean;
}

export type Known = { ok: true; facts: SourceFacts; parts: SetPart[] | null } | Failure;

/** What has to be known of a drawing before files are made of it. */
export function facts(job: FactsJob): Promise<Known> {
  return guarded(async (): Promise<Known> => {
    const source = await readSource(bytesOf(job.file), nameOf(job.file), readAs(job.intake));
    const letters = fontsWith(job.fonts);
    const given = {
      fonts: letters,
      pictures: picturesFor(source.drawing, job.pictures ?? [], job.intake),
      references: takesReferencesIn(job.steps) ? await referencesFor(source.drawing, job.references ?? []) : [],
    };
    const { drawing } = new Pipeline(source.drawing, given).run(job.intake, job.steps);
    const parts = job.listing
      ? partsBook(drawing, job.rules).rows.map(({ number, name, kind, material, thickness, leftOut }): SetPart => ({
          ...{ number, name, kind, material, thickness, leftOut },
        }))
      : null;
    return { ok: true, facts: sourceFacts(drawing, job.expects ?? [], { fonts: letters }), parts };
  });
}

/** What a file is called where it is read: standard input has no name. */
const nameOf = (file: string): string => (file === '-' ? 'standard input' : basename(file));

export function convert(job: ConvertJob): Promise<Converted> {
  return guarded(async (): Promise<Converted> => {
    const bytes = bytesOf(job.file);
    const source = await readSource(bytes, nameOf(job.file), readAs(job.intake));
    const undecided = unitFault(source.drawing, job);
    if (undecided) return undecided;
    const letters = fontsWith(job.fonts);
    const given = {
      fonts: letters,
      pictures: picturesFor(source.drawing, job.pictures ?? [], job.intake),
      references: [
        ...(takesReferencesIn(job.steps) ? await referencesFor(source.drawing, job.references ?? []) : []),
        ...(await gatheredFor(job, letters)),
      ],
    };
    const chain = new Pipeline(source.drawing, given);
    const steps = [...tracingFirst(source.drawing, job.steps, job.target.format)];
    let prepared = chain.run(job.intake, steps);
    if (job.target.numbered || job.target.parts) {
      const { rows } = partsBook(prepared.drawing, job.rules);
      const { step } = partsInFile(rows, job.rules, job.target);
      if (step) prepared = chain.run(job.intake, [...steps, step]);
    }
    if (job.named !== undefined && job.pixels !== undefined) prepared = withOwnPicture(prepared, job.named, job.pixels);
    const [found] = sourceFacts(prepared.drawing, job.expects ?? [], { fonts: letters }).found;
    if (found) return expected(`${found.title}: ${found.count} found (${found.first})`);
    const template = templateOf(job.target);
    const tables =
      template === null ? {} : { template: (await readSource(bytesOf(template), basename(template))).drawing };
    const made = deliver(prepared.drawing, job.target, nameOf(job.file), letters, tables);
    const witness = { renderer: await renderer(), source: bytes };
    const { yardsticks = [], pixels } = job;
    const file = await readBack(made.bytes, made.name);
    const { proof, back } = proofOf(source, prepared, made, file, letters, { witness, yardsticks });
    const ledger = [...source.ledger, ...prepared.ledger, ...made.ledger];
    const told = job.telling && {
      record: fileRecord(made.written, back, proof, ledger, yardsticks, letters),
      source: createHash('sha256').update(bytes).digest('hex'),
      version: job.target.version,
      prepared: objectsIn(prepared.drawing),
    };
    const picture =
      pixels === undefined ? null : ownPicture(made.written, job.named ?? '', pixels, letters, witness.renderer);
    const { notes } = source.drawing;
    const { beside } = made;
    const along = made.along.flatMap((p) => {
      const held = bytesOfAddress(p.data);
      return held ? [{ name: p.name, bytes: held.bytes }] : [];
    });
    return { ok: true, bytes: made.bytes, beside, along, notes, ledger, proof, picture, ...(told && { told }) };
  });
}

export function compare({ a, b }: { a: string; b: string }): Promise<Compared> {
  return guarded(async (): Promise<Compared> => {
    const { drawing: p } = await readSource(bytesOf(a), nameOf(a));
    const { drawing: q } = await readSource(bytesOf(b), nameOf(b));
    return { ok: true, proof: prove(upright(p), q, { ledger: [], comparing: true, fonts: fonts() }) };
  });
}
