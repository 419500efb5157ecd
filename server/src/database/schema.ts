import type { AlongBlob } from '../sets/companions.js';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type {
  Claims,
  CorrectionState,
  FileRecord,
  IntakeDecisions,
  Kept,
  KeptNumbers,
  LedgerRow,
  PartsBook,
  PlannedFile,
  PlannedStep,
  Proof,
  Recipe,
  RecipeDifference,
  Review,
  SourceFacts,
  Target,
  TrackerFields,
  Yardstick,
  Beside,
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
  /** The states that its tracker knows; `null` for those that every job begins with. */
  trackerStates: jsonb('tracker_states').$type<string[]>(),
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
    /** Features of known size, which are measured again in whatever is made of it. */
    yardsticks: jsonb('yardsticks').$type<Yardstick[]>().notNull().default([]),
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

/** A drawing of the job that another refers to, as it was when a delivery was asked for. */
export interface DeliveryReference {
  name: string;
  fileName: string;
  blob: string;
  /** How it is prepared, where it is gathered rather than referred to. */
  prepared?: { intake: IntakeDecisions; steps: PlannedStep[] };
}

/** A picture that a delivery was made with. */
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

/** What a file of a set is there. */
export type InSet = Pick<
  PlannedFile,
  'key' | 'piece' | 'why' | 'objects' | 'name' | 'asked' | 'clashes' | 'numbers' | 'values'
> & { readonly pixels?: number; readonly named?: boolean };

/** What differs between a file and the one that it stands for. */
export interface Differs {
  readonly same: boolean;
  readonly fresh: number;
  readonly gone: number;
  readonly moved: number;
  readonly changed: number;
}

/** A recipe of the workshop: whole, or by what it has otherwise than another. */
export const recipes = pgTable('recipes', {
  id: uuid('id').primaryKey().defaultRandom(),
  title: text('title').notNull(),
  whole: jsonb('whole').$type<Recipe>(),
  basedOn: uuid('based_on'),
  why: text('why'),
  differences: jsonb('differences').$type<RecipeDifference[]>(),
  /** What it is based on, as somebody saw it last: what changed since is told. */
  seenParent: jsonb('seen_parent').$type<Recipe>(),
  version: integer('version').notNull().default(1),
  createdAt: moment('created_at').notNull().defaultNow(),
  changedAt: moment('changed_at').notNull().defaultNow(),
  deletedAt: moment('deleted_at'),
});

/** The next running number of each series of a job: none is given twice. */
export const series = pgTable(
  'series',
  {
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    next: integer('next').notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.name] })],
);

/** What is known of a prepared drawing before anything of it is written, by the print of what it was found from. */
export const sourceFacts = pgTable('source_facts', {
  drawingId: uuid('drawing_id')
    .primaryKey()
    .references(() => drawings.id, { onDelete: 'cascade' }),
  foundFrom: text('found_from').notNull(),
  facts: jsonb('facts').$type<SourceFacts>(),
  /** What would be lost on writing it whole. */
  losses: jsonb('losses').$type<Loss[]>(),
  fault: text('fault'),
});

/** What writing would drop or only come near to, in words. */
export interface Loss {
  readonly action: 'dropped' | 'approximated';
  readonly reason: string;
  readonly count: number;
}

/** A set of files: drawings by one recipe, written and proven one by one. */
export const sets = pgTable(
  'sets',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    /** Counts the sets of a job. */
    number: integer('number').notNull(),
    title: text('title').notNull(),
    recipeId: uuid('recipe_id'),
    /** The recipe as it was then. */
    recipe: jsonb('recipe').$type<Recipe>().notNull(),
    /** The drawings that it was asked for. */
    sources: jsonb('sources').$type<string[]>().notNull(),
    /** Files that somebody left out, by their keys, and why. */
    without: jsonb('without').$type<Record<string, string>>().notNull().default({}),
    /** `YYYY-MM-DD`, for names and for the archive. */
    date: text('date').notNull(),
    leftOut: jsonb('left_out').$type<SetLeftOut[]>().notNull().default([]),
    /** Files that could not even be begun. */
    stopped: jsonb('stopped').$type<SetStopped[]>().notNull().default([]),
    waived: jsonb('waived').$type<SetLeftOut[]>().notNull().default([]),
    /** Objects of all prepared drawings; `null` where its files are by parts. */
    objects: integer('objects'),
    /** Lines of the parts lists; `null` where its files are not by parts. */
    listed: integer('listed'),
    /** The set that it does again. */
    previousId: uuid('previous_id'),
    request: uuid('request'),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [
    index('sets_by_job').on(t.jobId),
    uniqueIndex('sets_by_number').on(t.jobId, t.number),
    uniqueIndex('sets_by_request').on(t.request),
  ],
);

/** What people keep about a file of a job, or about one that is only planned. */
export const trackerRows = pgTable(
  'tracker_rows',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    /** The first of the files that stand for each other; nothing for what is only planned. */
    fileId: uuid('file_id'),
    /** Only what a person said. */
    fields: jsonb('fields').$type<Partial<TrackerFields>>().notNull().default({}),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [index('tracker_by_job').on(t.jobId), uniqueIndex('tracker_by_file').on(t.jobId, t.fileId)],
);

/** What only the author of a source can mend. */
export const corrections = pgTable(
  'corrections',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    drawingId: uuid('drawing_id')
      .notNull()
      .references(() => drawings.id, { onDelete: 'cascade' }),
    /** The check that found it; empty for what a person saw. */
    check: text('check').notNull().default(''),
    revision: integer('revision').notNull(),
    seenIn: integer('seen_in').notNull(),
    mendedIn: integer('mended_in'),
    what: text('what').notNull(),
    layer: text('layer').notNull().default(''),
    at: jsonb('at').$type<{ x: number; y: number }>(),
    unit: text('unit').notNull().default(''),
    measured: text('measured').notNull().default(''),
    proposed: text('proposed').notNull().default(''),
    answer: text('answer').notNull().default(''),
    state: text('state').$type<CorrectionState>().notNull().default('asked'),
    picture: text('picture').notNull().default(''),
    createdAt: moment('created_at').notNull().defaultNow(),
    deletedAt: moment('deleted_at'),
  },
  (t) => [index('corrections_by_drawing').on(t.drawingId)],
);

/** Something of a drawing that is in no file, or was let through, and why. */
export interface SetLeftOut {
  readonly source: string;
  readonly what: string;
  readonly why: string;
  readonly objects: number;
  /** Lines of a parts list. */
  readonly parts?: number;
}
export interface SetStopped {
  readonly source: string;
  readonly piece: string | null;
  readonly why: string;
  readonly objects: number;
  readonly parts?: number;
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
    /** The yardsticks that it is measured by. */
    yardsticks: jsonb('yardsticks').$type<Yardstick[]>().notNull().default([]),
    /** What a report shows of it. */
    record: jsonb('record').$type<FileRecord>(),
    /** Objects of the prepared drawing, before it was made ready for its format. */
    prepared: integer('prepared'),
    /** A picture of it, as PNG, where one was asked for. */
    picture: text('picture'),
    pictureSize: integer('picture_size'),
    /** What belongs beside it: small texts, and pictures that it names. */
    beside: jsonb('beside').$type<(Beside | AlongBlob)[]>().notNull().default([]),
    /** The set that it belongs to, and what it is there. */
    setId: uuid('set_id').references(() => sets.id, { onDelete: 'cascade' }),
    place: integer('place'),
    inSet: jsonb('in_set').$type<InSet>(),
    /** Print of all that it was made from: the same makes the same bytes. */
    madeFrom: text('made_from'),
    /** The file that it stands for in the set before, and what differs from that; `same` where its bytes are the same. */
    previousId: uuid('previous_id'),
    differs: jsonb('differs').$type<Differs>(),
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
    index('deliveries_by_set').on(t.setId, t.place),
    uniqueIndex('deliveries_by_request').on(t.request),
  ],
);

/** `held`: it belongs to a set that was stopped. */
export type DeliveryState = 'waiting' | 'held' | 'working' | 'done' | 'failed' | 'cancelled';
