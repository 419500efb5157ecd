import {
  claimsSchema,
  intakeSchema,
  ledgerSchema,
  proofSchema,
  recipeSchema,
  reviewSchema,
  schemaParts,
  stepsSchema,
  CORRECTION_STATES,
  MOST_STATES,
  targetSchema,
  yardsticksSchema,
} from '@scalaria/core';

/** The JSON that goes over the wire. */
const { object, array, nullable, number, integer, string, boolean } = schemaParts;
const date = { type: 'string' };

export const jobShape = object({
  id: string,
  name: string,
  archived: boolean,
  deleted: boolean,
  createdAt: date,
  drawings: integer,
  /** The drawing whose picture stands for the job. */
  pictureOf: nullable(string),
});

const drawingRow = {
  id: string,
  jobId: string,
  name: string,
  createdAt: date,
  deleted: boolean,
  format: string,
  version: string,
  size: integer,
  entities: integer,
  unit: nullable(string),
  /** Its size in its own coordinates; nothing where nothing is drawn. */
  extent: nullable(object({ width: number, height: number })),
  revision: integer,
};
export const drawingRowShape = object(drawingRow);
/** `parts`: how many its drawings had when they were looked for last. */
export const jobWithDrawingsShape = object({
  job: jobShape,
  drawings: array(drawingRowShape),
  parts: nullable(integer),
  sets: integer,
});

/** Thresholds by check; lengths in millimetres. */
export const checkSettingsShape = {
  type: 'object',
  maxProperties: 200,
  additionalProperties: { type: 'object', maxProperties: 50, additionalProperties: { type: ['number', 'string'] } },
};

export const revisionShape = object({
  number: integer,
  fileName: string,
  size: integer,
  format: string,
  version: string,
  entities: integer,
  createdAt: date,
});

export const drawingShape = object({
  ...drawingRow,
  jobName: string,
  checks: checkSettingsShape,
  fileName: string,
  claims: claimsSchema,
  ledger: ledgerSchema,
  intake: intakeSchema,
  steps: stepsSchema,
  review: reviewSchema,
  /** Features of known size. */
  yardsticks: yardsticksSchema,
  /** How a file was asked for last, of this drawing or else in this job. */
  target: nullable(targetSchema),
  /** The version of what is decided: sent back with a change, it tells whether another window changed the same. */
  seen: integer,
});

export const fontRowShape = object({
  id: string,
  family: string,
  style: string,
  fileName: string,
  /** What its own tables allow. */
  embedding: { enum: ['free', 'editable', 'viewing', 'forbidden', 'strokes'] },
  size: integer,
  blob: string,
});
export const jobFontsShape = object({
  fonts: array(fontRowShape),
  chart: { type: 'object', additionalProperties: string },
});

export const pictureRowShape = object({
  id: string,
  name: string,
  mediaType: { enum: ['image/png', 'image/jpeg'] },
  /** In pixels. */
  width: integer,
  height: integer,
  pxPerInch: nullable(number),
  size: integer,
  blob: string,
});
export const jobPicturesShape = object({ pictures: array(pictureRowShape) });

const deliveryRow = {
  id: string,
  drawingId: string,
  state: { enum: ['waiting', 'held', 'working', 'done', 'failed', 'cancelled'] },
  progress: number,
  target: targetSchema,
  fileName: nullable(string),
  size: nullable(integer),
  error: nullable(string),
  createdAt: date,
  finishedAt: nullable(date),
  /** What the proof comes to. */
  verdict: nullable(object({ holds: boolean, lost: integer, whole: boolean })),
  /** The revision that it was written from. */
  revision: integer,
  /** The numbers of the parts in it, where they were asked for. */
  parts: nullable(array(string)),
  /** Names of the small files that belong beside it. */
  beside: array(string),
};
export const deliveryRowShape = object(deliveryRow);
export const deliveryShape = object({
  ...deliveryRow,
  intake: intakeSchema,
  steps: stepsSchema,
  ledger: nullable(ledgerSchema),
  proof: nullable(proofSchema),
});

export const shapes = { object, array, string, boolean, number, integer, nullable };

const shortText = (maxLength: number) => ({ type: 'string', maxLength });

/** The parts of a job by drawing; lengths and areas in the unit of each. */
export const jobPartsShape = object({
  rules: { type: 'object' },
  drawings: array(
    object({
      id: string,
      name: string,
      listed: boolean,
      state: { enum: ['none', 'working', 'failed', 'ready'] },
      revision: nullable(integer),
      unit: nullable(string),
      fault: nullable(string),
      rows: array(
        object({
          key: string,
          number: string,
          numbered: { enum: ['said', 'kept', 'none'] },
          name: string,
          kind: string,
          material: string,
          thickness: string,
          grain: string,
          side: string,
          quantity: integer,
          leftOut: nullable(string),
          byHand: array(string),
          said: { type: 'object' },
          members: integer,
          length: number,
          width: number,
          area: number,
          cutLength: number,
          holes: array(object({ diameter: nullable(number), count: integer, through: integer, blind: integer })),
          mirrored: integer,
          marks: integer,
          labels: array(string),
          wentOut: array(object({ file: string, revision: integer })),
        }),
      ),
      findings: array(
        object({ code: string, words: string, kind: string, layer: string, x: number, y: number, called: string }),
      ),
      /** Numbers of parts that are gone. */
      gone: array(string),
    }),
  ),
});

/** What is decided about parts. An empty number takes one back, an empty word leaves it to the drawing. */
export const partChangesShape = object({
  changes: {
    type: 'array',
    minItems: 1,
    maxItems: 20_000,
    items: object({
      drawing: string,
      key: shortText(32),
      change: object(
        {
          number: shortText(60),
          words: object(
            {
              name: shortText(200),
              kind: shortText(200),
              material: shortText(200),
              thickness: shortText(60),
              grain: shortText(20),
              side: shortText(60),
              quantity: { type: 'string', pattern: '^([1-9][0-9]{0,6})?$' },
            },
            ['name', 'kind', 'material', 'thickness', 'grain', 'side', 'quantity'],
          ),
          leftOut: nullable({ type: 'string', minLength: 1, maxLength: 300 }),
        },
        ['number', 'words', 'leftOut'],
      ),
    }),
  },
});

const gone = { id: string, name: string, deletedAt: date };
/** What was deleted and can be put back. */
export const binShape = object({
  drawings: array(object(gone)),
  deliveries: array(object({ ...gone, drawing: string })),
  fonts: array(object(gone)),
  pictures: array(object(gone)),
});

/** The states of the carry-overs, with their reasons. */
export const stripShape = array(object({ carryOver: string, state: string, reasons: array(string) }));

const anyValue = {};
const difference = object({ path: array(string), was: anyValue, is: anyValue, words: string }, ['was', 'is']);

/** A recipe of the workshop, and what it has otherwise than the one it is based on. */
export const recipeShape = object({
  id: string,
  title: string,
  /** As it is used; `null` where what it is based on is gone. */
  recipe: nullable(recipeSchema),
  fault: nullable(string),
  basedOn: nullable(object({ id: string, title: string, why: string })),
  differences: array(difference),
  /** What changed in the other since somebody looked: what this one follows, and what it has of its own. */
  under: object({ followed: array(difference), kept: array(difference) }),
  createdAt: date,
  changedAt: date,
  version: integer,
});

const loss = object({ action: { enum: ['dropped', 'approximated'] }, reason: string, count: integer });
const leftOutShape = array(
  object({ source: string, what: string, why: string, objects: integer, parts: integer }, ['parts']),
);

/** What a set would be. */
export const setPlanShape = object({
  looking: integer,
  ending: string,
  files: array(
    object({
      key: string,
      source: string,
      piece: nullable(string),
      why: string,
      objects: nullable(integer),
      name: string,
      asked: nullable(string),
      clashes: boolean,
      stop: nullable(string),
    }),
  ),
  leftOut: leftOutShape,
  sources: array(
    object({
      id: string,
      name: string,
      revision: integer,
      ready: boolean,
      objects: integer,
      layers: array(object({ name: string, objects: integer })),
      losses: array(loss),
      waived: array(object({ check: string, count: integer, why: string })),
    }),
  ),
});

const setRow = {
  id: string,
  jobId: string,
  number: integer,
  title: string,
  recipeId: nullable(string),
  recipeTitle: string,
  receiver: string,
  date: string,
  createdAt: date,
  folder: string,
  state: { enum: ['working', 'stopped', 'done'] },
  /** How many of its files are in each state, and how they are proven. */
  counts: object({
    files: integer,
    waiting: integer,
    working: integer,
    held: integer,
    failed: integer,
    holds: integer,
    exceptions: integer,
    breaks: integer,
    unchanged: integer,
    stopped: integer,
    leftOut: integer,
  }),
  progress: number,
  previousId: nullable(string),
  /** Drawings that have a newer revision than the one it was made from. */
  stale: array(string),
};
export const setRowShape = object(setRow);
export const setShape = object({
  ...setRow,
  recipe: recipeSchema,
  sources: array(object({ id: string, name: string, revision: nullable(integer) })),
  leftOut: leftOutShape,
  stopped: array(
    object({ source: string, piece: nullable(string), why: string, objects: integer, parts: integer }, ['parts']),
  ),
  waived: leftOutShape,
  files: array(
    object({
      id: string,
      drawingId: string,
      revision: integer,
      piece: nullable(string),
      why: string,
      name: string,
      asked: nullable(string),
      state: { enum: ['waiting', 'held', 'working', 'done', 'failed', 'cancelled'] },
      progress: number,
      size: nullable(integer),
      error: nullable(string),
      verdict: nullable(object({ holds: boolean, lost: integer, whole: boolean })),
      differs: nullable(object({ same: boolean, fresh: integer, gone: integer, moved: integer, changed: integer })),
      isNew: boolean,
    }),
  ),
  /** Figures that do not add up, in words. */
  sums: array(string),
});

const counts = Object.fromEntries(
  [
    ...['bytes', 'outlines', 'pieces', 'circles', 'arcs', 'splines', 'chords', 'texts', 'emptyTexts', 'points'],
    ...['coloursEqual', 'colours', 'layers', 'groups', 'losses'],
  ].map((name) => [name, integer]),
);
/** A way of writing, read back. */
export const trialShape = object({
  figures: object({ ...counts, holds: boolean }),
  svg: string,
  clicks: array(object({ d: string, words: string })),
  verdict: object({ holds: boolean, lost: integer, whole: boolean }),
  losses: array(loss),
});

const trackerTexts = Object.fromEntries(
  ['number', 'file', 'holds', 'receiver', 'material', 'thickness', 'thicknessTrue', 'state', 'who', 'note'].map((n) => [
    n,
    shortText(500),
  ]),
);
const trackerFields = {
  ...trackerTexts,
  boards: { type: 'integer', minimum: 0, maximum: 999_999 },
  priceCents: { type: 'integer', minimum: 0, maximum: 1e11 },
  when: { type: 'string', pattern: '^(\\d{4}-\\d{2}-\\d{2})?$' },
};
const someFields = object(trackerFields, Object.keys(trackerFields));

/** What became of the files of a job. */
export const trackerShape = object({
  states: array(string),
  rows: array(
    object({
      id: string,
      ...trackerFields,
      revision: nullable(integer),
      newest: nullable(integer),
      parts: array(string),
      drawingId: nullable(string),
      /** All drawings that are in it. */
      drawings: array(string),
      /** The file itself, where it is written. */
      fileId: nullable(string),
    }),
  ),
  /** Numbers of the parts that are to go out. */
  parts: array(string),
});
const upTo = (maxItems: number, items: object) => ({ type: 'array', maxItems, items });
export const trackerChangeShape = {
  ...object(
    {
      changes: upTo(5000, object({ id: string, fields: someFields })),
      added: upTo(1000, someFields),
      removed: upTo(1000, string),
      back: upTo(1000, string),
      states: { ...upTo(MOST_STATES, object({ name: shortText(40), was: nullable(shortText(40)) })), minItems: 1 },
    },
    ['changes', 'added', 'removed', 'back', 'states'],
  ),
  minProperties: 1,
};

/** What came back of a file that left; nothing where the same was taken in before. */
export const returnedShape = object({
  drawing: drawingRowShape,
  came: nullable(
    object({
      ...{ byPlace: integer, byHandle: integer, gone: integer, fresh: integer, charted: integer, beyond: integer },
      undecided: array(object({ layer: string, objects: integer, from: array(string) })),
    }),
  ),
});

const place = nullable(object({ x: number, y: number }));
const states = { enum: Object.keys(CORRECTION_STATES) };
/** What is asked of authors. */
export const correctionsShape = array(
  object({
    ...{ id: string, drawingId: string, drawing: string, revision: integer, seenIn: integer },
    ...{ mendedIn: nullable(integer), what: string, layer: string, at: place, unit: string },
    ...{ measured: string, proposed: string, answer: string, state: states, picture: string },
  }),
);
export const correctionChangeShape = {
  ...object(
    {
      asked: upTo(
        200,
        object({
          drawing: string,
          check: shortText(60),
          what: { ...shortText(1000), minLength: 1 },
          layer: shortText(255),
          at: place,
          across: nullable({ type: 'number', exclusiveMinimum: 0 }),
          measured: shortText(300),
          proposed: shortText(1000),
        }),
      ),
      changes: upTo(
        1000,
        object({
          id: string,
          fields: object({ proposed: shortText(1000), answer: shortText(1000), state: states }, [
            'proposed',
            'answer',
            'state',
          ]),
        }),
      ),
      removed: upTo(1000, string),
      back: upTo(1000, string),
    },
    ['asked', 'changes', 'removed', 'back'],
  ),
  minProperties: 1,
};
