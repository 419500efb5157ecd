import type {
  AskedOfAuthor,
  CameBack,
  CheckSettings,
  Claims,
  IntakeDecisions,
  Kept,
  ListedPart,
  PartTold,
  LedgerRow,
  PlannedStep,
  Proof,
  Recipe,
  RecipeDifference,
  Review,
  Target,
  TrackerRow,
  Trial,
  Verdict,
  Yardstick,
} from '@scalaria/core';

/** What the server answers; see its OpenAPI document. */
export interface Job {
  id: string;
  name: string;
  archived: boolean;
  deleted: boolean;
  createdAt: string;
  drawings: number;
  pictureOf: string | null;
}

export interface DrawingRow {
  id: string;
  jobId: string;
  name: string;
  createdAt: string;
  deleted: boolean;
  format: string;
  version: string;
  size: number;
  entities: number;
  unit: string | null;
  /** Its size in its own coordinates. */
  extent: { width: number; height: number } | null;
  revision: number;
}

export interface JobWithDrawings {
  job: Job;
  drawings: DrawingRow[];
  /** How many parts its drawings had when they were looked for last; `null` where no drawing has any. */
  parts: number | null;
  /** How many sets went out of it. */
  sets: number;
}

export interface DrawingDetail extends DrawingRow {
  jobName: string;
  /** Thresholds of checks, kept with the job. */
  checks: CheckSettings;
  fileName: string;
  claims: Claims;
  ledger: LedgerRow[];
  intake: IntakeDecisions;
  steps: PlannedStep[];
  /** What was decided about its findings. */
  review: Review;
  /** Features of known size. */
  yardsticks: Yardstick[];
  /** How a file was asked for last, of this drawing or else in its job. */
  target: Target | null;
  /** The version of what is decided, sent back with a change. */
  seen: number;
}

/** One upload of a drawing. */
export interface RevisionRow {
  number: number;
  fileName: string;
  size: number;
  format: string;
  version: string;
  entities: number;
  createdAt: string;
}

/** A font given to a job. */
export interface FontRow {
  id: string;
  family: string;
  style: string;
  fileName: string;
  embedding: 'free' | 'editable' | 'viewing' | 'forbidden' | 'strokes';
  size: number;
  blob: string;
}

export interface JobFonts {
  fonts: FontRow[];
  /** From the name a drawing asks for to a family. */
  chart: Record<string, string>;
}

/** A picture given to a job. */
export interface PictureRow {
  id: string;
  name: string;
  mediaType: 'image/png' | 'image/jpeg';
  /** In pixels. */
  width: number;
  height: number;
  pxPerInch: number | null;
  size: number;
  blob: string;
}

export interface JobPictures {
  pictures: PictureRow[];
}

/** A part of a drawing of the job. Lengths and areas in the unit of its drawing. */
export interface JobPartRow extends ListedPart {
  /** How often it is drawn. */
  members: number;
  /** The files that it went out in, the newest first. */
  wentOut: { file: string; revision: number }[];
}

/** A drawing of a job with its parts, where it has some. */
export interface DrawingParts {
  id: string;
  name: string;
  /** Whether its outlines are parts. */
  listed: boolean;
  state: 'none' | 'working' | 'failed' | 'ready';
  revision: number | null;
  unit: string | null;
  fault: string | null;
  rows: JobPartRow[];
  findings: PartTold[];
  /** Numbers of parts that are gone. */
  gone: string[];
}

export interface JobParts {
  /** How parts are found and numbered (`PART_FIELDS`). */
  rules: Kept;
  drawings: DrawingParts[];
}

export interface DeliveryRow {
  id: string;
  drawingId: string;
  state: 'waiting' | 'held' | 'working' | 'done' | 'failed' | 'cancelled';
  progress: number;
  target: Target;
  fileName: string | null;
  size: number | null;
  error: string | null;
  createdAt: string;
  finishedAt: string | null;
  /** What the proof comes to. */
  verdict: Verdict | null;
  /** The revision that it was written from. */
  revision: number;
  /** The numbers of the parts in it, where they were asked for. */
  parts: string[] | null;
  /** Names of the small files that belong beside it. */
  beside: string[];
}

export interface DeliveryDetail extends DeliveryRow {
  intake: IntakeDecisions;
  steps: PlannedStep[];
  ledger: LedgerRow[] | null;
  proof: Proof | null;
}

/** Something that was deleted and can be put back. */
export interface Deleted {
  id: string;
  name: string;
  deletedAt: string;
}

export interface Bin {
  drawings: Deleted[];
  deliveries: (Deleted & { drawing: string })[];
  fonts: Deleted[];
  pictures: Deleted[];
}

/** A difference of a recipe, and where it stands, in words. */
export type ToldDifference = RecipeDifference & { words: string };

/** A recipe of the workshop. */
export interface RecipeRow {
  id: string;
  title: string;
  /** As it is used; `null` where what it is based on is gone. */
  recipe: Recipe | null;
  fault: string | null;
  basedOn: { id: string; title: string; why: string } | null;
  differences: ToldDifference[];
  under: { followed: ToldDifference[]; kept: ToldDifference[] };
  createdAt: string;
  changedAt: string;
  version: number;
}

export interface LeftOut {
  source: string;
  what: string;
  why: string;
  objects: number;
}

/** What a set would be. */
export interface SetPlanView {
  /** So many drawings are still being looked at. */
  looking: number;
  ending: string;
  files: {
    key: string;
    source: string;
    piece: string | null;
    why: string;
    objects: number | null;
    name: string;
    asked: string | null;
    clashes: boolean;
    stop: string | null;
  }[];
  leftOut: LeftOut[];
  sources: {
    id: string;
    name: string;
    revision: number;
    ready: boolean;
    objects: number;
    layers: { name: string; objects: number }[];
    losses: { action: 'dropped' | 'approximated'; reason: string; count: number }[];
    waived: { check: string; count: number; why: string }[];
  }[];
}

/** A set of files. */
export interface SetRow {
  id: string;
  jobId: string;
  number: number;
  title: string;
  recipeId: string | null;
  recipeTitle: string;
  receiver: string;
  date: string;
  createdAt: string;
  folder: string;
  state: 'working' | 'stopped' | 'done';
  counts: {
    files: number;
    waiting: number;
    working: number;
    held: number;
    failed: number;
    holds: number;
    exceptions: number;
    breaks: number;
    unchanged: number;
    stopped: number;
    leftOut: number;
  };
  progress: number;
  previousId: string | null;
  /** Drawings that have a newer revision. */
  stale: string[];
}

export interface SetFile {
  id: string;
  drawingId: string;
  revision: number;
  piece: string | null;
  why: string;
  name: string;
  asked: string | null;
  state: DeliveryRow['state'];
  progress: number;
  size: number | null;
  error: string | null;
  verdict: Verdict | null;
  differs: { same: boolean; fresh: number; gone: number; moved: number; changed: number } | null;
  isNew: boolean;
}

export interface SetDetail extends SetRow {
  recipe: Recipe;
  sources: { id: string; name: string; revision: number | null }[];
  leftOut: LeftOut[];
  stopped: { source: string; piece: string | null; why: string; objects: number }[];
  waived: LeftOut[];
  files: SetFile[];
  sums: string[];
}

/** A way of writing, read back. */
export type TrialView = Trial & {
  verdict: Verdict;
  losses: { action: 'dropped' | 'approximated'; reason: string; count: number }[];
};

/** A file of the tracker, or one that is only planned. */
export type TrackedFile = TrackerRow & { drawingId: string | null; drawings: string[]; fileId: string | null };

export interface JobTracker {
  states: string[];
  rows: TrackedFile[];
  /** Numbers of the parts that are to go out. */
  parts: string[];
}

/** A file that came back, taken in as a drawing. */
export interface ReturnedFile {
  drawing: DrawingRow;
  came: Omit<CameBack, 'step'> | null;
}

/** Something that was asked of the author of a drawing. */
export type CorrectionRow = AskedOfAuthor & { drawingId: string };
