import { boolean, index, integer, jsonb, pgTable, real, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import type {
  Claims,
  IntakeDecisions,
  Kept,
  KeptNumbers,
  LedgerRow,
  PartsBook,
  PlannedStep,
  Proof,
  Review,
  Target,
} from '@scalaria/core';

const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

export const jobs = pgTable('jobs', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  archived: boolean('archived').notNull().default(false),
  /** Which family stands for which, by the name a drawing asks for. */
  fontChart: jsonb('font_chart').$type<Record<string, string>>().notNull().default({}),
  /** Thresholds of checks that differ from the standard ones, by check; lengths in millimetres. */
  checkSettings: jsonb('check_settings').$type<Record<string, Kept>>().notNull().default({}),
  /** How a file was asked for last in this job: where the next drawing begins. */
  target: jsonb('target').$type<Target>(),
  /** How its parts are found and numbered. */
  partRules: jsonb('part_rules').$type<Kept>().notNull().default({}),
  createdAt: moment('created_at').notNull().defaultNow(),
  deletedAt: moment('deleted_at'),
});

export const drawings = pgTable(
  'drawings',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    intake: jsonb('intake').$type<IntakeDecisions>().notNull(),
    steps: jsonb('steps').$type<PlannedStep[]>().notNull(),
    /** What was decided about its findings. */
    review: jsonb('review').$type<Review>().notNull().default({}),
    /** How a file is to be written, as it was chosen last at station four. */
    target: jsonb('target').$type<Target>(),
    /** Counts the changes to what is decided; `changes` says at which count each field was changed last. */
    version: integer('version').notNull().default(1),
    changes: jsonb('changes').$type<Record<string, number>>().notNull().default({}),
    /** What the sender called the request that made it: sent again, it makes nothing twice. */
    request: uuid('request'),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [index('drawings_by_job').on(t.jobId), uniqueIndex('drawings_by_request').on(t.request)],
);

/** The parts of a drawing, where its outlines are parts: what was decided about them, and the list as it was found last. */
export const partBooks = pgTable('part_books', {
  drawingId: uuid('drawing_id')
    .primaryKey()
    .references(() => drawings.id, { onDelete: 'cascade' }),
  /** Whether its outlines are parts now; what was decided stays when they are not. */
  listed: boolean('listed').notNull().default(true),
  kept: jsonb('kept').$type<KeptNumbers>().notNull().default({ given: [], retired: [] }),
  /** Counts the changes to what is decided. */
  version: integer('version').notNull().default(1),
  /** Print of everything that the list was found from. */
  foundFrom: text('found_from'),
  revision: integer('revision'),
  book: jsonb('book').$type<Omit<PartsBook, 'kept'>>(),
  /** Why its parts could not be found, in words. */
  fault: text('fault'),
});

/** One upload of a drawing. Its bytes never change. */
export const revisions = pgTable(
  'revisions',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    drawingId: uuid('drawing_id')
      .notNull()
      .references(() => drawings.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    fileName: text('file_name').notNull(),
    blob: text('blob').notNull(),
    size: integer('size').notNull(),
    claims: jsonb('claims').$type<Claims>().notNull(),
    ledger: jsonb('ledger').$type<LedgerRow[]>().notNull(),
    preview: text('preview').notNull(),
    request: uuid('request'),
    createdAt: moment('created_at').notNull().defaultNow(),
  },
  (t) => [index('revisions_by_drawing').on(t.drawingId), uniqueIndex('revisions_by_request').on(t.request)],
);

/** A font that was given to a job. */
export const fonts = pgTable(
  'fonts',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    family: text('family').notNull(),
    style: text('style').notNull(),
    fileName: text('file_name').notNull(),
    /** What its own tables allow: free, editable, viewing, forbidden; `strokes` for a compiled stroke font, which says nothing. */
    embedding: text('embedding').notNull(),
    blob: text('blob').notNull(),
    size: integer('size').notNull(),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [index('fonts_by_job').on(t.jobId)],
);

/** A picture that was given to a job, for the drawings that name it. */
export const pictures = pgTable(
  'pictures',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    mediaType: text('media_type').notNull(),
    /** In pixels, and pixels per inch along the width where the file says. */
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    pxPerInch: real('px_per_inch'),
    blob: text('blob').notNull(),
    size: integer('size').notNull(),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [index('pictures_by_job').on(t.jobId)],
);

/** A picture that a delivery was made with. */
/** A drawing of the job that another refers to, as it was when a delivery was asked for. */
export interface DeliveryReference {
  name: string;
  fileName: string;
  blob: string;
}

export interface DeliveryPicture {
  name: string;
  mediaType: string;
  blob: string;
}

/** The fonts and the chart that a delivery was made with. */
export interface DeliveryFonts {
  chart: Record<string, string>;
  files: { family: string; blob: string }[];
}

export const deliveries = pgTable(
  'deliveries',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    drawingId: uuid('drawing_id')
      .notNull()
      .references(() => drawings.id, { onDelete: 'cascade' }),
    revisionId: uuid('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    state: text('state').$type<DeliveryState>().notNull().default('waiting'),
    progress: real('progress').notNull().default(0),
    target: jsonb('target').$type<Target>().notNull(),
    intake: jsonb('intake').$type<IntakeDecisions>().notNull(),
    steps: jsonb('steps').$type<PlannedStep[]>().notNull(),
    fonts: jsonb('fonts').$type<DeliveryFonts>().notNull().default({ chart: {}, files: [] }),
    pictures: jsonb('pictures').$type<DeliveryPicture[]>().notNull().default([]),
    references: jsonb('references').$type<DeliveryReference[]>().notNull().default([]),
    /** The numbers of the parts that it holds, where they were asked for; else all that its drawing had. */
    parts: jsonb('parts').$type<string[]>(),
    fileName: text('file_name'),
    mediaType: text('media_type'),
    blob: text('blob'),
    size: integer('size'),
    ledger: jsonb('ledger').$type<LedgerRow[]>(),
    proof: jsonb('proof').$type<Proof>(),
    error: text('error'),
    /** How often it was begun. */
    attempts: integer('attempts').notNull().default(0),
    /** The process that works on it, and until when it may be taken to be alive. */
    worker: uuid('worker'),
    leaseUntil: moment('lease_until'),
    request: uuid('request'),
    createdAt: moment('created_at').notNull().defaultNow(),
    finishedAt: moment('finished_at'),
    deletedAt: moment('deleted_at'),
  },
  (t) => [
    index('deliveries_by_drawing').on(t.drawingId),
    index('deliveries_by_state').on(t.state, t.createdAt),
    uniqueIndex('deliveries_by_request').on(t.request),
  ],
);

export type DeliveryState = 'waiting' | 'working' | 'done' | 'failed' | 'cancelled';
