import type {
  CheckSettings,
  Claims,
  IntakeDecisions,
  LedgerRow,
  PlannedStep,
  Proof,
  Review,
  Target,
  Verdict,
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

export interface DeliveryRow {
  id: string;
  drawingId: string;
  state: 'waiting' | 'working' | 'done' | 'failed' | 'cancelled';
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
