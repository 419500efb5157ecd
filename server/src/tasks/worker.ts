import type { MessagePort } from 'node:worker_threads';
import type {
  CarryOverSummary,
  CameBack,
  Claims,
  Drawing,
  FileRecord,
  FontBook,
  FoundAgain,
  GivenPicture,
  GivenReference,
  IntakeDecisions,
  Kept,
  KeptNumbers,
  LedgerRow,
  PartsBook,
  PlannedStep,
  Proof,
  Review,
  ReadAs,
  SourceFacts,
  Target,
  Trial,
  Verdict,
  Yardstick,
  Beside,
} from '@scalaria/core';
import {
  ALL_PAGES,
  CHECKS,
  NO_DECISIONS,
  UnreadableFile,
  UserError,
  boundsOf,
  bytesOfAddress,
  claimsOf,
  comingBack,
  compareDrawings,
  dataAddress,
  deliver,
  fileRecord,
  loadFont,
  objectsIn,
  partsBook,
  prepare,
  deliveredName,
  ownPicture,
  withOwnPicture,
  placePicture,
  previewSvg,
  proofOf,
  proveDelivery,
  runCheck,
  readAs,
  readBack,
  readSource,
  sentIn,
  sourceFacts,
  summarise,
  takeIn,
  trialFigures,
  trialOf,
  upright,
  weigh,
} from '@scalaria/core';
import { renderer, shippedFonts } from '../shipped.js';

/** What runs in a worker thread: the heavy work of the core, on plain data. */

/** What a thread says while it works: that it begins, and how much is done, from 0 to 1. */
export type Said = 'begun' | number;

type Say = (said: Said) => void;

/** A task as the pool calls it: it says that it begins before it does, from where its time is counted. */
const told =
  <J, R>(task: (job: J, say: Say) => R) =>
  async ({ port, ...job }: J & { port: MessagePort }): Promise<Awaited<R>> => {
    port.postMessage('begun' satisfies Said);
    try {
      return await task(job as J, (said) => port.postMessage(said));
    } finally {
      port.close();
    }
  };

/** The fonts a job gives beside those that ship, and which family stands for which. */
export interface GivenFonts {
  chart: Record<string, string>;
  files: { family: string; bytes: Uint8Array }[];
}

const fontsWith = (given: GivenFonts | undefined): FontBook =>
  given
    ? shippedFonts().with(
        given.chart,
        given.files.map((f) => loadFont(f.bytes, f.family)),
      )
    : shippedFonts();

export type FontResult =
  { ok: true; family: string; style: string; embedding: string } | { ok: false; message: string };

export interface FontJob {
  bytes: Uint8Array;
  name: string;
}

/** Reads a font and says what it is called and what it allows. */
export const font = told(({ bytes, name }: FontJob): FontResult => {
  try {
    const base = name.replace(/\.[A-Za-z0-9]+$/, '');
    const made = loadFont(bytes);
    if (made.kind === 'strokes') return { ok: true, family: base, style: 'single line', embedding: 'strokes' };
    const { family, weight, italic, embedding } = made.font;
    return { ok: true, family, style: `${weight}${italic ? ' italic' : ''}`, embedding };
  } catch (e) {
    if (e instanceof UserError) return { ok: false, message: e.message };
    throw e;
  }
});

export interface ReadJob {
  bytes: Uint8Array;
  name: string;
  /** How it is read, where that was decided. */
  as?: ReadAs;
}

export type ReadResult =
  | { ok: true; claims: Claims; preview: string; ledger: LedgerRow[] }
  | { ok: false; found: string; where: string; remedy: string };

/** Reads a file and says what it claims. What cannot be read comes back as a value: it is the user's to mend. */
export const read = told(async ({ bytes, name, as = {} }: ReadJob): Promise<ReadResult> => {
  try {
    const { drawing, ledger } = await readSource(bytes, name, as);
    const shown = takeIn(drawing, NO_DECISIONS).drawing;
    return { ok: true, claims: claimsOf(drawing), preview: previewSvg(shown), ledger };
  } catch (e) {
    if (e instanceof UnreadableFile) return { ok: false, found: e.found, where: e.where, remedy: e.remedy };
    throw e;
  }
});

/** A picture that a job gives to drawings that name it. */
export interface PictureFile {
  name: string;
  mediaType: string;
  bytes: Uint8Array;
}

/** A drawing of the job that the one at hand refers to. */
export interface ReferenceFile {
  name: string;
  fileName: string;
  bytes: Uint8Array;
  /** How it is prepared, where it is gathered rather than referred to. */
  prepared?: { intake: IntakeDecisions; steps: PlannedStep[] };
}

/** A drawing at hand: as it is, or prepared by its own decisions and steps where it is gathered. */
async function atHand({ bytes, fileName, prepared }: ReferenceFile, fonts?: FontBook): Promise<Drawing> {
  const { drawing } = await readSource(bytes, fileName, readAs(prepared?.intake));
  return prepared ? prepare(drawing, prepared.intake, prepared.steps, fonts ? { fonts } : {}).drawing : drawing;
}

async function filesOf(
  job: Pick<DeliverJob, 'pictures' | 'references' | 'fonts'>,
): Promise<{ pictures: GivenPicture[]; references: GivenReference[] }> {
  const references: GivenReference[] = [];
  for (const r of job.references ?? [])
    references.push({ name: r.name, drawing: await atHand(r, job.fonts && fontsWith(job.fonts)) });
  const pictures = (job.pictures ?? []).map((p) => ({ name: p.name, data: dataAddress(p.mediaType, p.bytes) }));
  return { pictures, references };
}

export interface DeliverJob {
  bytes: Uint8Array;
  name: string;
  intake: IntakeDecisions;
  steps: PlannedStep[];
  target: Target;
  /** The file that the target names as its template. */
  template?: { bytes: Uint8Array; name: string };
  fonts?: GivenFonts;
  pictures?: PictureFile[];
  references?: ReferenceFile[];
  yardsticks?: readonly Yardstick[];
  /** The file that it stands for in the set before: what differs is told. */
  before?: { bytes: Uint8Array; name: string };
  /** How long the longer side of a picture beside it is to be. */
  pixels?: number;
  /** The drawing names that picture. */
  named?: boolean;
}

async function templateOf({ template }: Pick<DeliverJob, 'template'>): Promise<{ template?: Drawing }> {
  return template ? { template: (await readSource(template.bytes, template.name)).drawing } : {};
}

export type DeliverResult =
  | {
      ok: true;
      fileName: string;
      mediaType: string;
      bytes: Uint8Array;
      ledger: LedgerRow[];
      proof: Proof;
      record: FileRecord;
      /** Objects of the prepared drawing. */
      prepared: number;
      differs: Differing | null;
      picture: Uint8Array | null;
      beside: Beside[];
      /** Pictures that it names. */
      along: { name: string; bytes: Uint8Array }[];
    }
  | { ok: false; message: string };

/** What differs between two files, by numbers of objects. */
export interface Differing {
  same: boolean;
  fresh: number;
  gone: number;
  moved: number;
  changed: number;
}

async function differingFrom(
  before: DeliverJob['before'],
  bytes: Uint8Array,
  back: Drawing | null,
): Promise<Differing | null> {
  if (!before) return null;
  if (Buffer.compare(before.bytes, bytes) === 0) return { same: true, fresh: 0, gone: 0, moved: 0, changed: 0 };
  if (!back) return null;
  const { differences } = compareDrawings(
    upright((await readSource(before.bytes, before.name, { page: ALL_PAGES })).drawing),
    back,
  );
  const count = (what: string): number => differences.filter((d) => d.what === what).length;
  return { same: false, fresh: count('new'), gone: count('gone'), moved: count('moved'), changed: count('changed') };
}

/** Prepares, writes and proves. */
async function deliverAndProve(job: DeliverJob, tell: Say): Promise<DeliverResult> {
  const say = (from: number, to: number) => (done: number) => tell(from + (to - from) * done);
  try {
    const fonts = fontsWith(job.fonts);
    const source = await readSource(job.bytes, job.name, {
      onProgress: say(0, 0.25),
      ...readAs(job.intake),
    });
    const plain = prepare(source.drawing, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    const { pixels } = job;
    const own = `${deliveredName(job.target, job.name)}.png`;
    const prepared = job.named && pixels !== undefined ? withOwnPicture(plain, own, pixels) : plain;
    say(0, 1)(0.35);
    const made = deliver(prepared.drawing, job.target, job.name, fonts, {
      work: { onProgress: say(0.35, 0.6) },
      ...(await templateOf(job)),
    });
    const witness = { renderer: await renderer(), source: job.bytes };
    const { yardsticks = [] } = job;
    const { proof, back } = proofOf(source, prepared, made, await readBack(made.bytes, made.name), fonts, {
      onProgress: say(0.6, 0.95),
      witness,
      yardsticks,
    });
    const ledger = [...source.ledger, ...prepared.ledger, ...made.ledger];
    return {
      ...{ ok: true, fileName: made.name, mediaType: made.mediaType, bytes: made.bytes, ledger, proof },
      beside: [...made.beside],
      along: made.along.flatMap((p) => {
        const held = bytesOfAddress(p.data);
        return held ? [{ name: p.name, bytes: held.bytes }] : [];
      }),
      record: fileRecord(made.written, back, proof, ledger, yardsticks, fonts),
      prepared: objectsIn(prepared.drawing),
      differs: await differingFrom(job.before, made.bytes, back),
      picture: pixels === undefined ? null : ownPicture(made.written, own, pixels, fonts, witness.renderer),
    };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
}

export type ForecastResult =
  { ok: true; strip: CarryOverSummary[]; rows: LedgerRow[]; bytes: number } | { ok: false; message: string };

/** What would become of a drawing, were it written so: all but the file and its proof. */
async function foretell(job: DeliverJob, tell: Say): Promise<ForecastResult> {
  try {
    const fonts = fontsWith(job.fonts);
    const source = await readSource(job.bytes, job.name, {
      onProgress: (done) => tell(0.4 * done),
      ...readAs(job.intake),
    });
    const prepared = prepare(source.drawing, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    tell(0.5);
    const made = deliver(prepared.drawing, job.target, job.name, fonts, {
      work: { onProgress: (done) => tell(0.5 + 0.5 * done) },
      ...(await templateOf(job)),
    });
    const rows = [...source.ledger, ...prepared.ledger, ...made.ledger];
    return { ok: true, strip: summarise(source.drawing, job.intake, rows), rows, bytes: made.bytes.length };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
}

export interface ProveJob extends DeliverJob {
  /** The copy that is held against what was to be written. */
  copy: Uint8Array;
}

/** Holds another copy of a delivered file against the drawing: what a receiver sent back, say. */
async function proveCopy(job: ProveJob): Promise<Proof> {
  const fonts = fontsWith(job.fonts);
  const source = await readSource(job.bytes, job.name, readAs(job.intake));
  const prepared = prepare(source.drawing, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
  const made = deliver(prepared.drawing, job.target, job.name, fonts, await templateOf(job));
  const witness = { renderer: await renderer(), source: job.bytes };
  return proveDelivery(source, prepared, made, await readBack(job.copy, made.name), fonts, {
    witness,
    yardsticks: job.yardsticks ?? [],
  });
}

export interface PartsJob extends Omit<DeliverJob, 'target' | 'template'> {
  rules: Kept;
  kept: KeptNumbers;
}

export type PartsResult = { ok: true; book: PartsBook } | { ok: false; message: string };

/** Finds and lists the parts of a drawing as it is prepared. */
export const parts = told(async (job: PartsJob, tell: Say): Promise<PartsResult> => {
  try {
    const source = await readSource(job.bytes, job.name, readAs(job.intake));
    tell(0.5);
    const prepared = prepare(source.drawing, job.intake, job.steps, {
      fonts: fontsWith(job.fonts),
      ...(await filesOf(job)),
    });
    return { ok: true, book: partsBook(prepared.drawing, job.rules, job.kept) };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
});

export interface FactsJob extends Omit<DeliverJob, 'target'> {
  checks: string[];
  settings: Record<string, Kept>;
  review: Review;
  /** What it would be written as, to say what would be lost; `null` where nobody has said it yet. */
  target: Target | null;
}

export type FactsResult =
  | { ok: true; facts: SourceFacts; losses: { action: 'dropped' | 'approximated'; reason: string; count: number }[] }
  | { ok: false; message: string };

/** What is dropped or only come near to, and was not asked for. */
const lossesIn = (rows: readonly LedgerRow[]): FactsLoss[] =>
  rows.flatMap((r) =>
    (r.action === 'dropped' || r.action === 'approximated') && !r.onPurpose
      ? [{ action: r.action, reason: r.reason, count: r.count }]
      : [],
  );

/** What has to be known of a drawing before a set is made of it, and what would be lost on writing it. */
export const facts = told(async (job: FactsJob, tell: Say): Promise<FactsResult> => {
  try {
    const fonts = fontsWith(job.fonts);
    const source = await readSource(job.bytes, job.name, readAs(job.intake));
    tell(0.3);
    const prepared = prepare(source.drawing, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    tell(0.5);
    const { checks, settings, review } = job;
    const facts = sourceFacts(prepared.drawing, checks, { settings, review, fonts });
    const rows = [...source.ledger, ...prepared.ledger];
    // A drawing without a unit cannot be written; that it has none is told by its facts.
    if (job.target && facts.unit !== null) {
      rows.push(...deliver(prepared.drawing, job.target, job.name, fonts, await templateOf(job)).ledger);
    }
    return { ok: true, facts, losses: lossesIn(rows) };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
});

export type TrialResult =
  { ok: true; trial: Trial; verdict: Verdict; losses: FactsLoss[] } | { ok: false; message: string };
type FactsLoss = { action: 'dropped' | 'approximated'; reason: string; count: number };

/** Writes a drawing in one way and reads it back; nothing of it is kept. */
export const trial = told(async (job: DeliverJob, tell: Say): Promise<TrialResult> => {
  try {
    const fonts = fontsWith(job.fonts);
    const source = await readSource(job.bytes, job.name, readAs(job.intake));
    tell(0.2);
    const prepared = prepare(source.drawing, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    const made = deliver(prepared.drawing, job.target, job.name, fonts, await templateOf(job));
    tell(0.5);
    const witness = { renderer: await renderer(), source: job.bytes };
    const { proof, back } = proofOf(source, prepared, made, await readBack(made.bytes, made.name), fonts, { witness });
    if (!back) return { ok: false, message: 'what was written could not be read back' };
    const ledger = [...source.ledger, ...prepared.ledger, ...made.ledger];
    const figures = trialFigures(made.written, back, made.bytes.length, proof, ledger);
    return { ok: true, trial: trialOf(back, figures), verdict: weigh(proof), losses: lossesIn(ledger) };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
});

export interface LookJob extends Omit<DeliverJob, 'target'> {
  checks: string[];
  settings: Record<string, Kept>;
  /** Places to be shown, so many units across. */
  places: { x: number; y: number; across: number | null }[];
}

export type LookResult =
  { ok: true; found: FoundAgain[]; pictures: string[]; unit: string; size: number } | { ok: false; message: string };

/** What checks find in a drawing as it is prepared, and pictures of places of it. */
export const look = told(async (job: LookJob): Promise<LookResult> => {
  try {
    const fonts = fontsWith(job.fonts);
    const { drawing: source } = await readSource(job.bytes, job.name, readAs(job.intake));
    const { drawing } = prepare(source, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    const size = boundsOf(drawing).diagonal;
    const found = CHECKS.filter((c) => job.checks.includes(c.id)).flatMap((c) =>
      runCheck(c, drawing, job.settings[c.id], { fonts }).map(({ check, message, at }) => ({ check, message, at })),
    );
    const pictures = job.places.map(({ x, y, across }) => placePicture(drawing, { x, y }, across ?? size / 12));
    return { ok: true, found, pictures, unit: drawing.unit?.unit ?? 'units', size };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
});

export interface ReturnedJob extends DeliverJob {
  /** The file as it was delivered, and as it came back. */
  sent: { bytes: Uint8Array; name: string };
  returned: { bytes: Uint8Array; name: string };
}

export type ReturnedResult = { ok: true; came: CameBack } | { ok: false; message: string };

/** Finds what left in what came back. How it left is worked out again from the very same drawing, decisions and steps. */
export const returned = told(async (job: ReturnedJob): Promise<ReturnedResult> => {
  try {
    const fonts = fontsWith(job.fonts);
    const { drawing: source } = await readSource(job.bytes, job.name, readAs(job.intake));
    const prepared = prepare(source, job.intake, job.steps, { fonts, ...(await filesOf(job)) });
    const made = deliver(prepared.drawing, job.target, job.name, fonts, await templateOf(job));
    const file = (await readSource(job.sent.bytes, job.sent.name)).drawing;
    const came = (await readSource(job.returned.bytes, job.returned.name)).drawing;
    const sent = sentIn(made.written, file, [...prepared.stages, ...made.stages]);
    return { ok: true, came: comingBack(source, sent, file, came) };
  } catch (e) {
    if (e instanceof UserError && e.code !== 'stopped') return { ok: false, message: e.message };
    throw e;
  }
});

const deliverTask = told(deliverAndProve);
const proveTask = told(proveCopy);
const forecastTask = told(foretell);
export { deliverTask as deliver, forecastTask as forecast, proveTask as prove };
